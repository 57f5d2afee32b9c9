import { editsOf, type PointEdit, type ProjectDocument } from '#core/project';
import { RecordRows } from '#core/stages';
import type { Tables } from '../../project-state/tables.ts';
import { recordValues, type BookColumns } from '../../work/book-columns.ts';

/** One line of the ledger: a record of a book, or the head of a fold that has no record of its own. */
export interface Item {
  intake: string;
  book: BookColumns;
  /** Index of the record; of a head without one, of the first record under it. */
  at: number;
  /** Of a line or an hour: what is folded, and how many records. */
  head: { key: string; title: string; count: number } | null;
}

export type FoldBy = 'setup' | 'line' | 'time' | 'none';
export const FOLD_BY: Record<FoldBy, string> = {
  setup: 'by setup',
  line: 'by line',
  time: 'by the hour',
  none: 'not folded',
};

export type Shown = 'all' | 'known' | 'changed' | 'off';
export const SHOWN: Record<Shown, string> = {
  all: 'every record',
  known: 'setups, backsights and checks',
  changed: 'changed by hand',
  off: 'excluded or deleted',
};

/** The records that are shown, in the order observed or line by line, without what stands in closed folds. */
export function recordItems(
  doc: ProjectDocument,
  tables: Pick<Tables, 'books' | 'linework' | 'points'>,
  how: { fold: FoldBy; shown: Shown; find: string; closed: ReadonlySet<string> },
): Item[] {
  const all = plainItems(tables.books, how.shown, how.find, doc);
  if (how.fold === 'setup') return underSetups(all, how.closed);
  if (how.fold === 'line') return underHeads(byLine(doc, tables, all), how.closed);
  if (how.fold === 'time') return underHeads(byHour(all), how.closed);
  return all;
}

/** Keys of all folds there are. */
export function foldKeys(doc: ProjectDocument, tables: Pick<Tables, 'books' | 'linework' | 'points'>, fold: FoldBy) {
  const all = plainItems(tables.books, 'all', '', doc);
  if (fold === 'setup') return all.filter((it) => it.book.kind(it.at) === 'setup').map(keyOfItem);
  if (fold === 'line') return byLine(doc, tables, all).map((g) => g.key);
  return fold === 'time' ? byHour(all).map((g) => g.key) : [];
}

export const keyOfItem = ({ intake, book, at }: Pick<Item, 'intake' | 'book' | 'at'>): string =>
  `${intake}:${book.row[at]}`;

function plainItems(
  books: ReadonlyMap<string, BookColumns>,
  shown: Shown,
  find: string,
  doc: Pick<ProjectDocument, 'edits'>,
): Item[] {
  const sought = find.trim().toUpperCase();
  const out: Item[] = [];
  for (const [intake, book] of books) {
    const edited = editsOf(doc, intake);
    for (let at = 0; at < book.count; at++) {
      const edit = edited[book.row[at]];
      if (!isShown(book, at, edit, shown)) continue;
      if (sought) {
        const number = (edit?.number ?? book.number.get(at)).toUpperCase();
        const code = (edit?.description ?? book.code.get(at)).toUpperCase();
        if (!number.includes(sought) && !code.includes(sought)) continue;
      }
      out.push({ intake, book, at, head: null });
    }
  }
  return out;
}

function isShown(book: BookColumns, at: number, edit: PointEdit | undefined, shown: Shown): boolean {
  if (shown === 'all') return true;
  if (shown === 'changed') return edit !== undefined;
  if (shown === 'off') return edit?.off ?? book.deleted[at] === 1;
  const { kind, role } = recordValues(book, at, edit);
  return kind === 'setup' || (kind === 'sighting' && (role === 'back' || role === 'check'));
}

/** A closed setup hides what was seen from it. */
function underSetups(all: Item[], closed: ReadonlySet<string>): Item[] {
  if (closed.size === 0) return all;
  return all.filter(({ intake, book, at }) => {
    const setup = book.setup[at];
    return setup < 0 || setup === at || !closed.has(`${intake}:${book.row[setup]}`);
  });
}

interface Group {
  key: string;
  title: string;
  items: Item[];
}

function underHeads(groups: Group[], closed: ReadonlySet<string>): Item[] {
  const out: Item[] = [];
  for (const { key, title, items } of groups) {
    if (items.length === 0) continue;
    out.push({ ...items[0], head: { key, title, count: items.length } });
    if (!closed.has(key)) for (const item of items) out.push(item);
  }
  return out;
}

/** Line by line, in the order of each line's course; what is in no line stands last. */
function byLine(doc: ProjectDocument, { linework, points }: Pick<Tables, 'linework' | 'points'>, all: Item[]): Group[] {
  const rows = Float64Array.from(all, (it) => it.book.row[it.at]);
  const at = new RecordRows(rows, (i) => all[i].intake);
  const inLines = new Uint8Array(all.length);
  const groups = linework.lines.map((line): Group => {
    const items = line.rows.flatMap((row) => {
      if (row < 0) return [];
      const intake = doc.intakes[points.intake[row]] as { id: string } | undefined;
      const found = intake && at.get(intake.id, points.fileRow[row]);
      if (found === undefined) return [];
      inLines[found] = 1;
      return [all[found]];
    });
    return { key: `line ${line.key}`, title: `line ${line.key}`, items };
  });
  const rest = all.filter((_, i) => inLines[i] === 0);
  return [...groups, { key: 'line none', title: 'in no line', items: rest }];
}

/** By the hour; a record that says no time belongs to the hour of the one before it. */
function byHour(all: Item[]): Group[] {
  const groups: Group[] = [];
  let last = '';
  for (const item of all) {
    const time = item.book.time.get(item.at);
    const hour = /^(\d{4}-\d{2}-\d{2})[T ](\d{2})/.exec(time);
    const key = hour ? `${hour[1]} ${hour[2]} h` : time ? time.slice(0, 13) : '';
    const title = key || last || 'no time stated';
    if (groups.at(-1)?.title !== title) groups.push({ key: `time ${groups.length} ${title}`, title, items: [] });
    groups.at(-1)!.items.push(item);
    last = title;
  }
  return groups;
}
