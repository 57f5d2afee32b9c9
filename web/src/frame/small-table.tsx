import { chakra, type HTMLChakraProps, type SystemStyleObject } from '@chakra-ui/react';
import {
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type SortingState,
} from '@tanstack/react-table';
import { Fragment, memo, useCallback, useEffect, useState, type ReactNode } from 'react';
import { afterPaint } from './after-paint.ts';
import { Cut } from './controls.tsx';

type Style = HTMLChakraProps<'td'>;

/** A column of a small table: what it is called, what stands in it, what it sorts by. */
export interface SmallColumn<T> {
  id: string;
  head: ReactNode;
  /** Said of the heading, where its word is short. */
  title?: string;
  cell: (row: T) => ReactNode;
  /** Its heading sorts the rows by this; undefined and NaN come last. Without it the column does not sort. */
  by?: (row: T) => number | string | undefined;
  /** Words, set left; figures are set right. The first column holds words. */
  words?: boolean;
  /** Set in the face of figures. */
  mono?: boolean;
  style?: Style | ((row: T) => Style);
  /** How many columns a cell covers, where a sentence takes the place of figures. */
  spans?: (row: T) => number;
}

interface SmallTableShape<T> {
  label?: string;
  columns: readonly SmallColumn<T>[];
  rows: readonly T[];
  /** Tells a row from the others; its place where nothing does. */
  rowKey?: (row: T) => string;
  rowStyle?: (row: T) => HTMLChakraProps<'tr'>;
  onRow?: (row: T) => void;
  /** What stands in full width below a row; null for nothing. */
  below?: (row: T) => ReactNode;
  /** Of every cell. */
  cellStyle?: SystemStyleObject;
  headless?: boolean;
  /** How many are drawn, the first of the order in force; how many more there are is said below them. */
  most?: number;
  /** Of rows with much in them, so many are drawn at once: more come after each painting, until all are there. */
  atOnce?: number;
}

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel() });
const byNumberInText = new Intl.Collator(undefined, { numeric: true });

/** Numbers by size, texts as numbers within them go. */
function compare(a: unknown, b: unknown): number {
  return typeof a === 'number' && typeof b === 'number' ? a - b : byNumberInText.compare(String(a), String(b));
}

/** Cells are plain ones under one rule: some hundreds of styled ones would hold the page up. */
const RULES: SystemStyleObject = {
  width: '100%',
  borderCollapse: 'collapse',
  '& th': {
    px: '8px',
    height: '28px',
    fontSize: '12px',
    fontWeight: 600,
    color: 'slate',
    textAlign: 'right',
    borderBottom: '1px solid',
    borderColor: 'ink',
    whiteSpace: 'nowrap',
  },
  '& td': { px: '8px', height: '28px', textAlign: 'right', borderBottom: '1px solid', borderColor: 'rule' },
  '& [data-words]': { textAlign: 'left' },
  '& td[data-mono]': { fontFamily: 'mono' },
};

/** Headings keep to the room at the sides that cells have. */
const rulesWith = (cell: SystemStyleObject = {}): SystemStyleObject => ({
  ...RULES,
  '& th': { ...(RULES['& th'] as object), ...('px' in cell ? { px: cell.px } : {}) },
  '& td': { ...(RULES['& td'] as object), ...cell },
});

const SortButton = chakra('button', {
  base: { bg: 'transparent', border: 0, p: 0, font: 'inherit', color: 'inherit', cursor: 'pointer', _hover: { textDecoration: 'underline' } }, // prettier-ignore
});

/**
 * A table of the rows that stand in a leaf: some tens, each drawn. What runs into thousands is a grid. Headings with
 * something to sort by sort up, down, and back to the order that was given.
 */
export function SmallTable<T>(props: SmallTableShape<T>) {
  const { label, columns, rows, rowKey, cellStyle, headless, most = Infinity, atOnce } = props;
  const drawn = useGrowing(Math.min(rows.length, most), atOnce);
  const [sorting, setSorting] = useState<SortingState>([]);
  const defs = columns.map((c): ColumnDef<typeof features, { of: T }> => ({
    id: c.id,
    accessorFn: ({ of }) => {
      const by = c.by?.(of);
      return Number.isNaN(by) || by === '' ? undefined : by;
    },
    enableSorting: c.by !== undefined,
    sortUndefined: 'last',
    sortFn: (a, b, id) => compare(a.getValue(id), b.getValue(id)),
  }));
  const table = useTable({
    features,
    columns: defs,
    data: rows.map((of) => ({ of })),
    getRowId: ({ of }, index) => rowKey?.(of) ?? String(index),
    state: { sorting },
    onSortingChange: setSorting,
    sortDescFirst: false,
    enableMultiSort: false,
  });
  const wordsIn = useCallback((i: number): boolean => i === 0 || (columns[i].words ?? false), [columns]);
  return (
    <chakra.table css={rulesWith(cellStyle)} aria-label={label}>
      {headless ? null : (
        <thead>
          <tr>
            {columns.map((c, i) => (
              <Heading
                key={c.id}
                column={c}
                words={wordsIn(i)}
                sorted={table.getColumn(c.id)?.getIsSorted() || null}
                sort={() => table.getColumn(c.id)?.toggleSorting()}
              />
            ))}
          </tr>
        </thead>
      )}
      <tbody>
        {table
          .getRowModel()
          .rows.slice(0, drawn)
          .map(({ id, original: { of } }) => (
            <Row key={id} row={of} wordsIn={wordsIn} {...props} />
          ))}
        {rows.length > most ? (
          <tr>
            <td colSpan={columns.length} data-words>
              and {rows.length - most} more
            </td>
          </tr>
        ) : null}
      </tbody>
    </chakra.table>
  );
}

/** How many of so many are drawn now: all, or with each painting so many more. */
function useGrowing(all: number, atOnce = Infinity): number {
  const [most, setMost] = useState(atOnce);
  useEffect(() => (most < all ? afterPaint(() => setMost(most + atOnce)) : undefined), [most, all, atOnce]);
  return Math.min(most, all);
}

interface HeadingShape<T> {
  column: SmallColumn<T>;
  words: boolean;
  sorted: 'asc' | 'desc' | null;
  sort: () => void;
}

function Heading<T>({ column: c, words, sorted, sort }: HeadingShape<T>) {
  return (
    <th
      scope="col"
      title={c.title}
      data-words={words || undefined}
      aria-sort={sorted === null ? undefined : sorted === 'desc' ? 'descending' : 'ascending'}
    >
      {c.by ? (
        <SortButton type="button" onClick={sort}>
          {c.head}
          {sorted === null ? '' : sorted === 'desc' ? ' ↓' : ' ↑'}
        </SortButton>
      ) : (
        c.head
      )}
    </th>
  );
}

interface SmallRowShape<T> extends SmallTableShape<T> {
  row: T;
  wordsIn: (column: number) => boolean;
}

function SmallRow<T>({ row, columns, wordsIn, rowStyle, onRow, below }: SmallRowShape<T>) {
  const beneath = below?.(row) ?? null;
  let covered = 0;
  return (
    <Fragment>
      <chakra.tr cursor={onRow ? 'pointer' : undefined} onClick={onRow && (() => onRow(row))} {...rowStyle?.(row)}>
        {columns.map((c, i) => {
          if (covered > 0) {
            covered--;
            return null;
          }
          const span = c.spans?.(row) ?? 1;
          covered = span - 1;
          const style = typeof c.style === 'function' ? c.style(row) : c.style;
          const plain = {
            colSpan: span > 1 ? span : undefined,
            'data-words': wordsIn(i) || undefined,
            'data-mono': c.mono || undefined,
          };
          return style ? (
            <chakra.td key={c.id} {...plain} {...style}>
              {c.cell(row)}
            </chakra.td>
          ) : (
            <td key={c.id} {...plain}>
              {c.cell(row)}
            </td>
          );
        })}
      </chakra.tr>
      {beneath === null ? null : (
        <tr>
          <td colSpan={columns.length} data-words>
            {beneath}
          </td>
        </tr>
      )}
    </Fragment>
  );
}

/** Rows that are drawn already are not drawn again while others come. */
const Row = memo(SmallRow) as typeof SmallRow;

/** The name of a row that can be chosen, as a button: the one that is chosen stands out. */
export const RowName = ({ on, children }: { on: boolean; children: string }) => (
  <chakra.button
    type="button"
    aria-pressed={on}
    bg="transparent"
    border="0"
    p="0"
    width="100%"
    textAlign="left"
    cursor="pointer"
    display="flex"
  >
    <Cut fontWeight={on ? '700' : '400'}>{children}</Cut>
  </chakra.button>
);
