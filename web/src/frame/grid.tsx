import './grid.css';
import { Box, chakra } from '@chakra-ui/react';
import {
  useEffect,
  useRef,
  useState,
  type ClipboardEvent,
  type KeyboardEvent,
  type MouseEvent,
  type ReactNode,
} from 'react';
import { useWindow } from './window.ts';

export interface Column {
  id: string;
  head: ReactNode;
  /** Grid template width, e.g. `80px` or `minmax(90px, 1fr)`. */
  width: string;
  numeric?: boolean;
  /** Words rather than figures: set in the text face. */
  words?: boolean;
  /** Value as text; also what editing begins with. */
  text: (row: number) => string;
  cell?: (row: number) => ReactNode;
  /** Takes a typed value; gives a sentence when it cannot be read. */
  edit?: (row: number, typed: string) => string | null;
  sortable?: boolean;
  /** Stays in sight while the rest scrolls sideways: how far from the left edge, px. */
  frozen?: number;
  /** What it is sorted and compared by, in the unit shown; its text where there is none. */
  value?: (row: number) => number;
}

interface GridProps {
  label: string;
  columns: Column[];
  /** Rows in the order shown; null for 0 … count − 1. */
  order: Uint32Array | null;
  count: number;
  selected: number | null;
  onSelect: (row: number) => void;
  sort?: Sort;
  onSort?: (id: string) => void;
  /** What is typed over each column to see only some rows; the fields are shown while this is given. */
  filters?: Readonly<Record<string, string>>;
  onFilter?: (id: string, typed: string) => void;
  /** Rows marked to be changed together: shift and arrows, shift and click, control and click. */
  marked?: ReadonlySet<number>;
  onMark?: (rows: ReadonlySet<number>) => void;
  /** Takes what was pasted from a spreadsheet, beginning at a row and a column; rows are those shown, in order. */
  onPaste?: (rows: number[], column: string, cells: string[][]) => void;
  /** Draws a row quietly: left out, or waiting. */
  quiet?: (row: number) => boolean;
}

const ROW = 28;
export type Sort = { id: string; down: boolean } | null;

/** A heading pressed again turns its order round, and a third time lets it be. */
export const nextSort = (sort: Sort, id: string): Sort =>
  sort?.id !== id ? { id, down: false } : sort.down ? null : { id, down: true };

const HEAD_ROW = 30;
/** Rows taken from the clipboard at once. */
const MOST_PASTED = 20_000;
const NOTHING: ReadonlySet<number> = new Set();
const CellInput = chakra('input', {
  base: {
    width: '100%',
    height: '26px',
    px: '7px',
    bg: 'leaf',
    color: 'ink',
    border: '1px solid',
    borderColor: 'pine',
    fontFamily: 'mono',
    fontSize: '13px',
  },
});

/** A table of any number of rows: arrows step, Enter or F2 edits, Tab goes to the next cell that can be edited. */
export function Grid({
  label,
  columns,
  order,
  count,
  selected,
  onSelect,
  sort,
  onSort,
  filters,
  onFilter,
  marked = NOTHING,
  onMark,
  onPaste,
  quiet,
}: GridProps) {
  const HEAD = filters ? HEAD_ROW + 32 : HEAD_ROW;
  const anchor = useRef(-1);
  const scroller = useRef<HTMLDivElement>(null);
  // The column where pasting begins: the one pointed at last.
  const [column, setColumn] = useState<string | null>(null);
  const [editing, setEditing] = useState<{ row: number; column: string; text: string; problem: string | null } | null>(
    null,
  );
  const rows = useWindow(scroller, count, ROW, HEAD);
  const template = columns.map((c) => c.width).join(' ');
  const rowAt = (i: number): number => (order ? order[i] : i);
  const editable = columns.filter((c) => c.edit);
  const selectedAt = useRef(-1);

  const indexOf = (row: number | null): number => {
    if (row === null) return -1;
    if (!order) return row < count ? row : -1;
    if (order[selectedAt.current] === row) return selectedAt.current;
    return order.indexOf(row);
  };
  useEffect(() => {
    const at = indexOf(selected);
    selectedAt.current = at;
    if (at >= 0) rows.scrollTo(at);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- scrolls when another row is selected or the order is another, not whenever rows are drawn
  }, [selected, order]);

  /** Marks everything between the row where marking began and this one. */
  const markTo = (to: number): void => {
    if (!onMark) return;
    if (anchor.current < 0) anchor.current = Math.max(0, indexOf(selected));
    const [a, b] = [Math.min(anchor.current, to), Math.max(anchor.current, to)];
    onMark(new Set(Array.from({ length: b - a + 1 }, (_, i) => rowAt(a + i))));
  };
  const unmark = (): void => {
    anchor.current = -1;
    if (marked.size) onMark?.(NOTHING);
  };
  const click = (e: MouseEvent, at: number): void => {
    const row = rowAt(at);
    if (onMark && e.shiftKey) markTo(at);
    else if (onMark && (e.ctrlKey || e.metaKey)) {
      const next = new Set(marked.size ? marked : selected === null ? [] : [selected]);
      if (!next.delete(row)) next.add(row);
      onMark(next);
      anchor.current = at;
    } else unmark();
    onSelect(row);
  };

  const begin = (row: number, column: Column | undefined): void => {
    if (column?.edit) setEditing({ row, column: column.id, text: column.text(row), problem: null });
  };
  const finish = (then: 'stay' | 'next'): void => {
    if (!editing) return;
    const column = columns.find((c) => c.id === editing.column)!;
    const problem = column.edit!(editing.row, editing.text);
    if (problem) return setEditing({ ...editing, problem });
    setEditing(null);
    if (then === 'next') begin(editing.row, editable[editable.indexOf(column) + 1]);
    scroller.current?.focus();
  };
  const onKeyDown = (e: KeyboardEvent): void => {
    if (editing || count === 0) return;
    const at = indexOf(selected);
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / ROW) - 2);
    const steps: Record<string, number> = {
      ArrowDown: at + 1,
      ArrowUp: at - 1,
      PageDown: at + page,
      PageUp: at - page,
      Home: 0,
      End: count - 1,
    };
    if (e.key in steps) {
      e.preventDefault();
      const to = Math.min(count - 1, Math.max(0, steps[e.key]));
      if (e.shiftKey) markTo(to);
      else unmark();
      onSelect(rowAt(to));
    } else if (e.key === 'a' && (e.ctrlKey || e.metaKey) && onMark) {
      e.preventDefault();
      onMark(new Set(Array.from({ length: count }, (_, i) => rowAt(i))));
    } else if (e.key === 'Escape' && marked.size) {
      e.preventDefault();
      e.stopPropagation();
      unmark();
    } else if (onPaste && (e.key === 'ArrowLeft' || e.key === 'ArrowRight')) {
      e.preventDefault();
      const now = columns.findIndex((c) => c.id === column);
      setColumn(columns[Math.max(0, Math.min(columns.length - 1, now + (e.key === 'ArrowLeft' ? -1 : 1)))].id);
    } else if ((e.key === 'Enter' || e.key === 'F2') && selected !== null && editable.length) {
      e.preventDefault();
      begin(selected, editable.find((c) => c.id === 'description') ?? editable[0]);
    } else if (e.key === 'c' && (e.ctrlKey || e.metaKey) && selected !== null) {
      const rows = marked.size
        ? Array.from({ length: count }, (_, i) => rowAt(i)).filter((r) => marked.has(r))
        : [selected];
      void navigator.clipboard?.writeText(rows.map((r) => columns.map((c) => c.text(r)).join('\t')).join('\n'));
    }
  };

  const paste = (e: ClipboardEvent): void => {
    if (!onPaste || editing || selected === null) return;
    const text = e.clipboardData.getData('text/plain');
    if (!text) return;
    e.preventDefault();
    const cells = text
      .replace(/\r?\n$/, '')
      .split(/\r?\n/)
      .slice(0, MOST_PASTED)
      .map((line) => line.split('\t'));
    const at = indexOf(selected);
    const rows = cells.flatMap((_, i) => (at + i < count ? [rowAt(at + i)] : []));
    // As many fields as columns: a copy of whole rows.
    const whole = cells.every((c) => c.length === columns.length);
    onPaste(rows, whole ? columns[0].id : (column ?? columns[0].id), cells);
  };

  return (
    <Box
      ref={scroller}
      overflow="auto"
      height="100%"
      tabIndex={0}
      role="grid"
      aria-label={label}
      aria-rowcount={count}
      aria-multiselectable={onMark !== undefined}
      aria-activedescendant={selected !== null ? `row-${selected}` : undefined}
      onKeyDown={onKeyDown}
      onPaste={paste}
      position="relative"
    >
      <Box position="relative" minWidth="fit-content" style={{ height: rows.total }}>
        <div className="grid-head" role="row" style={{ gridTemplateColumns: template }}>
          {columns.map((c) => (
            <div
              key={c.id}
              className={`grid-cell${c.numeric ? ' numeric' : ''}${c.frozen === undefined ? '' : ' frozen'}`}
              style={c.frozen === undefined ? undefined : { left: c.frozen }}
              role="columnheader"
              aria-sort={sort?.id === c.id ? (sort.down ? 'descending' : 'ascending') : undefined}
            >
              {c.sortable && onSort ? (
                <button type="button" className="grid-sort" onClick={() => onSort(c.id)}>
                  {c.head}
                  {sort?.id === c.id ? (sort.down ? ' ↓' : ' ↑') : ''}
                </button>
              ) : (
                c.head
              )}
            </div>
          ))}
        </div>
        {filters ? (
          <div className="grid-filters" role="row" style={{ gridTemplateColumns: template }}>
            {columns.map((c) => (
              <div
                key={c.id}
                role="gridcell"
                className={c.frozen === undefined ? 'grid-filter' : 'grid-filter frozen'}
                style={c.frozen === undefined ? undefined : { left: c.frozen }}
              >
                <input
                  aria-label={`only where ${c.id} is`}
                  placeholder={c.value ? '> < = …' : 'has'}
                  value={filters[c.id] ?? ''}
                  onChange={(e) => onFilter?.(c.id, e.target.value)}
                  onKeyDown={(e) => e.stopPropagation()}
                />
              </div>
            ))}
          </div>
        ) : null}
        {Array.from({ length: rows.to - rows.from }, (_, k) => {
          const at = rows.from + k;
          const row = rowAt(at);
          const isSelected = row === selected;
          return (
            <div
              className={`grid-row${quiet?.(row) ? ' quiet' : ''}${marked.has(row) ? ' marked' : ''}`}
              key={at}
              id={`row-${row}`}
              role="row"
              aria-rowindex={at + 1}
              aria-selected={isSelected || marked.has(row)}
              style={{ top: HEAD + at * ROW, gridTemplateColumns: template }}
              onClick={(e) => click(e, at)}
            >
              {columns.map((c) =>
                editing?.row === row && editing.column === c.id ? (
                  <Box key={c.id} position="relative">
                    <CellInput
                      autoFocus
                      aria-label={`${c.id} of row`}
                      aria-invalid={editing.problem !== null}
                      textAlign={c.numeric ? 'right' : 'left'}
                      value={editing.text}
                      onFocus={(e) => e.target.select()}
                      onChange={(e) => setEditing({ ...editing, text: e.target.value, problem: null })}
                      onBlur={() => !editing.problem && finish('stay')}
                      onKeyDown={(e) => {
                        e.stopPropagation();
                        if (e.key === 'Enter') finish('stay');
                        if (e.key === 'Escape') setEditing(null);
                        if (e.key === 'Tab') {
                          e.preventDefault();
                          finish('next');
                        }
                      }}
                    />
                    {editing.problem ? (
                      <Box
                        role="alert"
                        position="absolute"
                        top="28px"
                        right="0"
                        zIndex="5"
                        bg="leaf"
                        color="pole"
                        border="1px solid"
                        borderColor="pole"
                        p="6px 8px"
                        width="240px"
                        whiteSpace="normal"
                        fontFamily="body"
                        fontSize="12px"
                      >
                        {editing.problem}
                      </Box>
                    ) : null}
                  </Box>
                ) : (
                  <div
                    key={c.id}
                    className={`grid-cell${c.numeric ? ' numeric' : c.words ? ' words' : ''}${c.frozen === undefined ? '' : ' frozen'}${onPaste && isSelected && column === c.id ? ' here' : ''}`}
                    style={c.frozen === undefined ? undefined : { left: c.frozen }}
                    role="gridcell"
                    title={c.text(row)}
                    onMouseDown={() => setColumn(c.id)}
                    onDoubleClick={() => begin(row, c)}
                  >
                    {c.cell ? c.cell(row) : c.text(row)}
                  </div>
                ),
              )}
            </div>
          );
        })}
      </Box>
    </Box>
  );
}
