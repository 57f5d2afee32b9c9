import './grid.css';
import { Box } from '@chakra-ui/react';
import { useEffect, useMemo, useRef, useState, type ClipboardEvent, type KeyboardEvent, type MouseEvent } from 'react';
import type { Editing } from './cell-editor.tsx';
import type { ColumnChoice } from '#contract';
import { useColumnChoices } from './choice.ts';
import { useLatest } from '../latest.ts';
import { nameOf, type Column, type Sort } from './column.ts';
import { ColumnsButton } from './columns-panel.tsx';
import { GridRow, type Place, type RowActs } from './grid-row.tsx';
import { useStepping } from './stepping.ts';
import { templateOf, useGridTable, type Laid } from './table.ts';
import { measureWidths } from './widths.ts';
import { useWindow } from './window.ts';

interface GridProps {
  /** Which table it is, for what a person chose of its columns. */
  table: string;
  label: string;
  columns: Column[];
  /** Rows in the order shown; null for 0 … count − 1. */
  order: Uint32Array | null;
  count: number;
  selected: number | null;
  onSelect: (row: number) => void;
  sort?: Sort;
  onSort?: (sort: Sort) => void;
  /** What is typed over each column to see only some rows; the fields are shown while this is given. */
  filters?: Readonly<Record<string, string>>;
  onFilter?: (id: string, typed: string) => void;
  /** Rows marked to be changed together: shift and arrows, shift and click, control and click. */
  marked?: ReadonlySet<number>;
  onMark?: (rows: ReadonlySet<number>) => void;
  /** Takes what was pasted from a spreadsheet: rows as shown, the columns that its fields stand for, and its cells. */
  onPaste?: (rows: number[], columns: string[], cells: string[][]) => void;
  /** Draws a row quietly: left out, or waiting. */
  quiet?: (row: number) => boolean;
  /** A row that only heads others: steps pass over it. */
  heads?: (row: number) => boolean;
}

const ROW = 28;
const HEAD_ROW = 30;
/** Room behind the last column for the button at the end of the headings. */
const SPARE = 28;
/** Rows taken from the clipboard at once. */
const MOST_PASTED = 20_000;
const NOTHING: ReadonlySet<number> = new Set();
/** A table of any number of rows: arrows step, Enter or F2 edits, Tab goes to the next cell that can be edited. */
export function Grid({
  table: tableName,
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
  heads,
}: GridProps) {
  const HEAD = filters ? HEAD_ROW + 32 : HEAD_ROW;
  const anchor = useRef(-1);
  const scroller = useRef<HTMLDivElement>(null);
  // The column where pasting begins: the one pointed at last.
  const [column, setColumn] = useState<string | null>(null);
  const [editing, setEditing] = useState<Editing | null>(null);
  const ended = useRef<Editing | null>(null);
  const rows = useWindow(scroller, count, ROW, HEAD);
  const rowAt = (i: number): number => (order ? order[i] : i);
  // Measured again with other rows, headings or figures; a row scrolled into sight changes no width.
  const probe = `${columns.map((c) => nameOf(c) + (count ? c.text(rowAt(0)).length : 0)).join('|')}`;
  // eslint-disable-next-line react-hooks/exhaustive-deps -- columns are made anew at every drawing; `probe` says whether they hold something else
  const widths = useMemo(() => measureWidths(columns, count, rowAt, sort?.id ?? null), [probe, count, sort?.id]);
  const inSight = useMemo(
    () => Array.from({ length: rows.to - rows.from }, (_, k) => (order ? order[rows.from + k] : rows.from + k)),
    [rows.from, rows.to, order],
  );
  const { laid, rows: drawn } = useGridTable({ name: tableName, columns, widths, rows: inSight, sort, onSort });
  const chosen = useColumnChoices((s) => s.choices[tableName]) as ColumnChoice | undefined;
  const template = `${templateOf(laid, chosen?.widths)} ${SPARE}px`;
  const layout = laid.map((l) => `${l.column.id} ${l.stays}`).join('|');
  const places = useMemo(
    () => laid.map(({ column, stays }): Place => ({ column, stays })),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- all that a place holds but its column is in `layout`
    [columns, layout],
  );
  const shown = laid.map((l) => l.column);
  const editable = shown.filter((c) => c.edit);
  const { current, step, settle } = useStepping(selected, onSelect);
  const currentAt = useRef(-1);

  const indexOf = (row: number | null): number => {
    if (row === null) return -1;
    if (!order) return row < count ? row : -1;
    if (order[currentAt.current] === row) return currentAt.current;
    return order.indexOf(row);
  };
  useEffect(() => {
    const at = indexOf(current);
    currentAt.current = at;
    if (at >= 0) rows.scrollTo(at);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- scrolls when one stands on another row or the order is another, not whenever rows are drawn
  }, [current, order]);

  /** Where a step ends: on the row itself or the next that one can stand on; where there is none, where one stood. */
  const standing = (wanted: number, by: 1 | -1, at: number): number => {
    let to = Math.min(count - 1, Math.max(0, wanted));
    while (to >= 0 && to < count && heads?.(rowAt(to))) to += by;
    return to >= 0 && to < count ? to : at;
  };

  /** Marks everything between the row where marking began and this one. */
  const markTo = (to: number): void => {
    if (!onMark) return;
    if (anchor.current < 0) anchor.current = Math.max(0, indexOf(current));
    const [a, b] = [Math.min(anchor.current, to), Math.max(anchor.current, to)];
    onMark(new Set(Array.from({ length: b - a + 1 }, (_, i) => rowAt(a + i))));
  };
  const unmark = (): void => {
    anchor.current = -1;
    if (marked.size) onMark?.(NOTHING);
  };
  const click = (e: MouseEvent, at: number): void => {
    settle();
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
    // Giving the focus back leaves the cell once more, which is then ended already.
    if (!editing || ended.current === editing) return;
    ended.current = editing;
    const column = columns.find((c) => c.id === editing.column)!;
    // What stands in a cell may be rounded: left as it stands, it is no edit.
    const problem = editing.text === column.text(editing.row) ? null : column.edit!(editing.row, editing.text);
    if (problem) return setEditing({ ...editing, problem });
    setEditing(null);
    if (then === 'next') begin(editing.row, editable[editable.indexOf(column) + 1]);
    scroller.current?.focus();
  };
  const acts = useLatest<RowActs>({ click, point: setColumn, begin, change: setEditing, finish });
  const onKeyDown = (e: KeyboardEvent): void => {
    if (editing || count === 0) return;
    // Buttons and lists in headings and cells answer to these keys themselves.
    if (e.target !== e.currentTarget && (e.key === 'Enter' || e.key === ' ')) return;
    const at = indexOf(current);
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / ROW) - 2);
    const steps: Record<string, readonly [to: number, by: 1 | -1]> = {
      ArrowDown: [at + 1, 1],
      ArrowUp: [at - 1, -1],
      PageDown: [at + page, 1],
      PageUp: [at - page, -1],
      Home: [0, 1],
      End: [count - 1, -1],
    };
    if (e.key in steps) {
      e.preventDefault();
      const to = standing(...steps[e.key], at);
      if (to < 0) return;
      if (e.shiftKey) markTo(to);
      else unmark();
      step(rowAt(to));
      return;
    }
    settle();
    if (e.key === 'a' && (e.ctrlKey || e.metaKey) && onMark) {
      e.preventDefault();
      onMark(new Set(Array.from({ length: count }, (_, i) => rowAt(i))));
    } else if (e.key === 'Escape' && marked.size) {
      e.preventDefault();
      e.stopPropagation();
      unmark();
    } else if (onPaste && (e.key === 'ArrowLeft' || e.key === 'ArrowRight')) {
      e.preventDefault();
      const now = shown.findIndex((c) => c.id === column);
      setColumn(shown[Math.max(0, Math.min(shown.length - 1, now + (e.key === 'ArrowLeft' ? -1 : 1)))].id);
    } else if ((e.key === 'Enter' || e.key === 'F2') && current !== null && editable.length) {
      e.preventDefault();
      begin(current, editable.find((c) => c.id === 'description') ?? editable[0]);
    } else if (e.key === 'c' && (e.ctrlKey || e.metaKey) && current !== null) {
      const rows = marked.size
        ? Array.from({ length: count }, (_, i) => rowAt(i)).filter((r) => marked.has(r))
        : [current];
      void navigator.clipboard?.writeText(rows.map((r) => shown.map((c) => c.text(r)).join('\t')).join('\n'));
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
    const whole = cells.every((c) => c.length === shown.length);
    const from = whole ? 0 : Math.max(0, shown.findIndex((c) => c.id === column)); // prettier-ignore
    onPaste(rows, shown.slice(from).map((c) => c.id), cells); // prettier-ignore
  };

  return (
    <Box position="relative" height="100%">
      <Box
        ref={scroller}
        overflow="auto"
        height="100%"
        tabIndex={0}
        role="grid"
        aria-label={label}
        aria-rowcount={count}
        aria-multiselectable={onMark !== undefined}
        aria-activedescendant={current !== null ? `row-${current}` : undefined}
        onKeyDown={onKeyDown}
        onBlur={settle}
        onPaste={paste}
      >
        <Box position="relative" minWidth="fit-content" style={{ height: rows.total }}>
          <div className="grid-head" role="row" style={{ gridTemplateColumns: template }}>
            {laid.map((l) => (
              <Heading key={l.column.id} laid={l} sort={sort} onSort={onSort} />
            ))}
          </div>
          {filters ? (
            <div className="grid-filters" role="row" style={{ gridTemplateColumns: template }}>
              {laid.map(({ column: c, stays }) => (
                <div
                  key={c.id}
                  role="gridcell"
                  className={stays === undefined ? 'grid-filter' : 'grid-filter stays'}
                  style={stays === undefined ? undefined : { left: stays }}
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
          {drawn.map((row, k) => (
            <GridRow
              key={rows.from + k}
              row={row}
              at={rows.from + k}
              top={HEAD + (rows.from + k) * ROW}
              places={places}
              template={template}
              selected={row === current}
              marked={marked.has(row)}
              quiet={quiet?.(row) ?? false}
              editing={editing?.row === row ? editing : null}
              here={onPaste && row === current ? column : null}
              acts={acts}
            />
          ))}
        </Box>
      </Box>
      <ColumnsButton table={tableName} label={label} columns={columns} widths={widths} />
    </Box>
  );
}

/** A heading: pressed it sorts, first one way, then the other, then not; its right edge is dragged to widen the column. */
function Heading({
  laid,
  sort,
  onSort,
}: {
  laid: Laid;
  sort: Sort | undefined;
  onSort: ((sort: Sort) => void) | undefined;
}) {
  const { column: c, stays } = laid;
  const down = sort?.id === c.id ? sort.down : null;
  return (
    <div
      className={`grid-cell${c.numeric ? ' numeric' : ''}${stays === undefined ? '' : ' stays'}`}
      style={stays === undefined ? undefined : { left: stays }}
      role="columnheader"
      aria-sort={down === null ? undefined : down ? 'descending' : 'ascending'}
    >
      {c.sortable && onSort ? (
        <button type="button" className="grid-sort" onClick={() => laid.toggleSort()}>
          {c.head}
          {down === null ? '' : down ? ' ↓' : ' ↑'}
        </button>
      ) : (
        c.head
      )}
      <span
        className={`grid-resize${laid.resizing ? ' going' : ''}`}
        aria-hidden
        onMouseDown={laid.resize}
        onTouchStart={laid.resize}
      />
    </div>
  );
}
