import { Box, chakra } from '@chakra-ui/react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';

export interface Column {
  id: string;
  head: ReactNode;
  /** Grid template width, e.g. `80px` or `minmax(90px, 1fr)`. */
  width: string;
  numeric?: boolean;
  /** Value as text; also what editing begins with. */
  text: (row: number) => string;
  cell?: (row: number) => ReactNode;
  /** Takes a typed value; gives a sentence when it cannot be read. */
  edit?: (row: number, typed: string) => string | null;
  sortable?: boolean;
}

interface GridProps {
  label: string;
  columns: Column[];
  /** Rows in the order shown; null for 0 … count − 1. */
  order: Uint32Array | null;
  count: number;
  selected: number | null;
  onSelect: (row: number) => void;
  sort?: { id: string; down: boolean } | null;
  onSort?: (id: string) => void;
  /** Draws a row quietly: left out, or waiting. */
  quiet?: (row: number) => boolean;
}

const ROW = 28;
const Head = chakra('div', {
  base: {
    display: 'grid',
    position: 'sticky',
    top: 0,
    zIndex: 1,
    bg: 'leaf',
    borderBottom: '1px solid',
    borderColor: 'ink',
    fontSize: '12px',
    fontWeight: 600,
    color: 'slate',
    height: '30px',
    alignItems: 'center',
  },
});
const Row = chakra('div', {
  base: {
    display: 'grid',
    position: 'absolute',
    left: 0,
    right: 0,
    height: '28px',
    alignItems: 'center',
    borderBottom: '1px solid',
    borderColor: 'rule',
    fontFamily: 'mono',
    fontSize: '13px',
    fontVariantNumeric: 'tabular-nums',
    cursor: 'default',
  },
});
const Cell = chakra('div', {
  base: {
    px: '8px',
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
    minWidth: 0,
    lineHeight: '28px',
  },
});
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
const Sort = chakra('button', {
  base: {
    bg: 'transparent',
    border: 0,
    p: 0,
    fontWeight: 600,
    color: 'inherit',
    fontSize: 'inherit',
    cursor: 'pointer',
    _hover: { textDecoration: 'underline' },
  },
});

/** A table of any number of rows: arrows step, Enter or F2 edits, Tab goes to the next cell that can be edited. */
export function Grid({ label, columns, order, count, selected, onSelect, sort, onSort, quiet }: GridProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const [editing, setEditing] = useState<{ row: number; column: string; text: string; problem: string | null } | null>(
    null,
  );
  const rows = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    paddingStart: 30,
  });
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
    if (at >= 0) rows.scrollToIndex(at, { align: 'auto' });
  }, [selected, order]);

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
      onSelect(rowAt(Math.min(count - 1, Math.max(0, steps[e.key]))));
    } else if ((e.key === 'Enter' || e.key === 'F2') && selected !== null && editable.length) {
      e.preventDefault();
      begin(selected, editable.find((c) => c.id === 'description') ?? editable[0]);
    } else if (e.key === 'c' && (e.ctrlKey || e.metaKey) && selected !== null) {
      void navigator.clipboard?.writeText(columns.map((c) => c.text(selected)).join('\t'));
    }
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
      aria-activedescendant={selected !== null ? `row-${selected}` : undefined}
      onKeyDown={onKeyDown}
      position="relative"
    >
      <Box position="relative" minWidth="fit-content" style={{ height: rows.getTotalSize() }}>
        <Head role="row" style={{ gridTemplateColumns: template }}>
          {columns.map((c) => (
            <Cell
              key={c.id}
              role="columnheader"
              textAlign={c.numeric ? 'right' : 'left'}
              aria-sort={sort?.id === c.id ? (sort.down ? 'descending' : 'ascending') : undefined}
            >
              {c.sortable && onSort ? (
                <Sort onClick={() => onSort(c.id)}>
                  {c.head}
                  {sort?.id === c.id ? (sort.down ? ' ↓' : ' ↑') : ''}
                </Sort>
              ) : (
                c.head
              )}
            </Cell>
          ))}
        </Head>
        {rows.getVirtualItems().map((item) => {
          const row = rowAt(item.index);
          const isSelected = row === selected;
          return (
            <Row
              key={item.key}
              id={`row-${row}`}
              role="row"
              aria-rowindex={item.index + 1}
              aria-selected={isSelected}
              style={{ top: item.start, gridTemplateColumns: template }}
              bg={isSelected ? 'mark' : undefined}
              color={quiet?.(row) ? 'slate' : undefined}
              boxShadow={isSelected ? 'inset 4px 0 0 var(--chakra-colors-pole)' : undefined}
              onClick={() => onSelect(row)}
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
                  <Cell
                    key={c.id}
                    role="gridcell"
                    textAlign={c.numeric ? 'right' : 'left'}
                    title={c.text(row)}
                    onDoubleClick={() => begin(row, c)}
                  >
                    {c.cell ? c.cell(row) : c.text(row)}
                  </Cell>
                ),
              )}
            </Row>
          );
        })}
      </Box>
    </Box>
  );
}
