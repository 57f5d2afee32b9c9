import type { Change } from './change/schema.ts';
import type { HandLine, PointEdit, ProjectDocument } from './document.ts';
import { editsOf } from './edits.ts';
import { recordOfKey } from './record-key.ts';
import { severalChanges } from './files-in-surfaces.ts';

/** A received file in the place of another. */
export interface NewFile {
  fileId: string;
  fileName: string;
  sha256: string;
}

/**
 * What of the earlier export stays although the later one has it no more: the earlier file under an id of its own, in which
 * only `rows` are used and `others` are excluded.
 */
export interface Remaining {
  as: string;
  rows: ReadonlySet<number>;
  others: readonly number[];
}

/** How much of what a person did finds its record again, and how much has none any more. */
export interface Carried {
  kept: number;
  lost: number;
}

/**
 * The change that puts a later export of the same job in the place of a file: edits, decisions, lines by hand, moved
 * labels, point sets and accepted queries follow their records to the rows that these have now. What has no record any more
 * goes, and comes back when the change is undone; records that are to remain do so in the earlier file.
 */
export function replaceFile(
  doc: ProjectDocument,
  id: string,
  file: NewFile,
  rows: ReadonlyMap<number, number>,
  remaining: Remaining | null = null,
): Carried & { change: Change } {
  const carried: Carried = { kept: 0, lost: 0 };
  const count = <T>(moved: T | null): T | null => {
    if (moved === null) carried.lost++;
    else carried.kept++;
    return moved;
  };
  /** A key of this file as it is now, null where its record is gone; undefined of another file. */
  const keyNow = (key: string): string | null | undefined => {
    const at = recordOfKey(key);
    if (at?.intake !== id) return undefined;
    if (remaining?.rows.has(at.row)) return `${remaining.as}:${at.row}`;
    const row = rows.get(at.row);
    return row === undefined ? null : `${id}:${row}`;
  };
  const changes: Change[] = [
    { op: 'intake.file', id, ...file },
    ...(remaining ? earlierBeside(doc, id, remaining) : []),
    ...editsMoved(doc, id, keyNow, count),
    ...(remaining ? othersExcluded(remaining) : []),
    ...decisionsMoved(doc, keyNow, count),
    ...linesMoved(doc, keyNow, count),
    ...labelsMoved(doc, keyNow, count),
    ...setsMoved(doc, keyNow),
    ...surfaceRowsMoved(doc, keyNow, count),
    ...queriesMoved(doc, id, rows, count),
  ];
  return { ...carried, change: severalChanges(changes, `replaced a file by ${file.fileName}`) };
}

type Count = <T>(moved: T | null) => T | null;
type KeyNow = (key: string) => string | null | undefined;

/** The earlier file again, before the later one, in every surface that names it. */
function earlierBeside(doc: ProjectDocument, id: string, { as }: Remaining): Change[] {
  const at = doc.intakes.findIndex((i) => i.id === id);
  const rows = doc.surfaces.flatMap((s) =>
    s.rows.flatMap((row, k): Change[] =>
      row.kind === 'file' && row.intake === id
        ? [{ op: 'surface.row', surface: s.id, row: { ...row, id: `${row.id}-${as}`.slice(0, 40), intake: as }, at: k }]
        : [],
    ),
  );
  return [{ op: 'intake.add', intake: { ...doc.intakes[at], id: as }, at }, ...rows];
}

const othersExcluded = ({ as, others }: Remaining): Change[] =>
  others.length
    ? [{ op: 'points.edit', edits: Object.fromEntries(others.map((row) => [`${as}:${row}`, { set: { off: true }, undo: [] }])) }] // prettier-ignore
    : [];

function editsMoved(doc: ProjectDocument, id: string, keyNow: KeyNow, count: Count): Change[] {
  const edits: Extract<Change, { op: 'points.edit' }>['edits'] = {};
  const fields = (edit: PointEdit): (keyof PointEdit)[] => Object.keys(edit) as (keyof PointEdit)[];
  const own = Object.entries(editsOf(doc, id)) as [string, PointEdit][];
  for (const [row, edit] of own) edits[`${id}:${row}`] = { set: {}, undo: fields(edit) };
  for (const [row, edit] of own) {
    const key = count(keyNow(`${id}:${row}`)!);
    if (key === null) continue;
    const before = edits[key]?.undo ?? [];
    edits[key] = { set: edit, undo: before.filter((f) => edit[f] === undefined) };
  }
  return own.length ? [{ op: 'points.edit', edits }] : [];
}

function decisionsMoved(doc: ProjectDocument, keyNow: KeyNow, count: Count): Change[] {
  const own = Object.entries(doc.decisions).filter(([key]) => keyNow(key) !== undefined);
  const moved = own.flatMap(([key, decision]) => {
    const now = count(keyNow(key)!);
    return now === null ? [] : [[now, decision] as const];
  });
  const stays = new Set(moved.map(([key]) => key));
  return [
    ...own.filter(([key]) => !stays.has(key)).map(([key]): Change => ({ op: 'record.decide', key, decision: null })),
    ...moved.map(([key, decision]): Change => ({ op: 'record.decide', key, decision })),
  ];
}

/** A vertex whose point is gone stays where the point was. */
function linesMoved(doc: ProjectDocument, keyNow: KeyNow, count: Count): Change[] {
  const set: Record<string, HandLine> = {};
  const stillThere = (key: string): string[] => {
    const now = keyNow(key);
    return now === undefined ? [key] : now === null ? [] : [now];
  };
  for (const [key, line] of Object.entries(doc.handLines)) {
    const speaksOf = [...line.vertices.map((v) => v.point), ...(line.insteadOf ?? [])];
    if (!speaksOf.some((point) => point !== null && keyNow(point) !== undefined)) continue;
    set[key] = {
      ...line,
      vertices: line.vertices.map((v) => {
        const now = v.point === null ? undefined : keyNow(v.point);
        return now === undefined ? v : { ...v, point: count(now) };
      }),
      ...(line.insteadOf ? { insteadOf: line.insteadOf.flatMap((key) => stillThere(key)) } : {}),
    };
  }
  return Object.keys(set).length ? [{ op: 'lines.hand', set, what: 'followed the points of a replaced file' }] : [];
}

function labelsMoved(doc: ProjectDocument, keyNow: KeyNow, count: Count): Change[] {
  const own = Object.entries(doc.drawing.moved).flatMap(([label, to]) => {
    const [key, ...part] = label.split('/');
    const now = keyNow(key);
    return now === undefined ? [] : [{ label, to, now: now === null ? null : [now, ...part].join('/') }];
  });
  const stays = new Set(own.flatMap(({ now }) => (count(now) === null ? [] : [now])));
  return [
    ...own.filter(({ label }) => !stays.has(label)).map(({ label }): Change => ({ op: 'drawing.label', key: label, to: null })), // prettier-ignore
    ...own.flatMap(({ now, to }): Change[] => (now === null ? [] : [{ op: 'drawing.label', key: now, to }])),
  ];
}

function setsMoved(doc: ProjectDocument, keyNow: KeyNow): Change[] {
  return doc.pointSets.flatMap((set): Change[] => {
    const follow = (keys: readonly string[]): string[] =>
      keys.flatMap((key) => {
        const now = keyNow(key);
        return now === undefined ? [key] : now === null ? [] : [now];
      });
    if (![...set.more, ...set.without].some((key) => keyNow(key) !== undefined)) return [];
    return [{ op: 'points.set', id: set.id, set: { ...set, more: follow(set.more), without: follow(set.without) } }];
  });
}

/** Rows of surfaces that name points: moved, deleted, or those that a pad goes through. */
function surfaceRowsMoved(doc: ProjectDocument, keyNow: KeyNow, count: Count): Change[] {
  return doc.surfaces.flatMap((s) =>
    s.rows.flatMap((row): Change[] => {
      const keys = 'points' in row ? row.points : row.kind === 'pad' ? row.through : null;
      if (!keys?.some((key) => keyNow(key) !== undefined)) return [];
      const now = keys.flatMap((key) => {
        const to = keyNow(key);
        return to === undefined ? [key] : (count(to) ?? []);
      });
      // Of a plane that has lost its points none is made: it says so, rather than lying elsewhere.
      if (row.kind === 'pad') return now.length < 3 ? [] : [{ op: 'surface.row', surface: s.id, row: { ...row, through: now } }]; // prettier-ignore
      if (row.kind !== 'move' && row.kind !== 'omit') return [];
      return [now.length ? { op: 'surface.row', surface: s.id, row: { ...row, points: now } } : { op: 'surface.rowRemove', surface: s.id, id: row.id }]; // prettier-ignore
    }),
  );
}

/** A query speaks of records by `file:row`, of a run of them by `file:first:last`. It holds while its evidence stays. */
function queriesMoved(doc: ProjectDocument, id: string, rows: ReadonlyMap<number, number>, count: Count): Change[] {
  const to: Record<string, string | null> = {};
  for (const key of Object.keys(doc.accepted)) {
    const now = queryNow(key, id, rows);
    if (now === key) continue;
    to[key] = count(now);
  }
  return Object.keys(to).length ? [{ op: 'query.follow', to }] : [];
}

function queryNow(key: string, id: string, rows: ReadonlyMap<number, number>): string | null {
  let gone = false;
  const parts = key.split(':');
  const now = parts.map((part, at) => {
    const speaksOf = parts[at - 1] === id || (parts[at - 2] === id && /^\d/.test(parts[at - 1]));
    if (!speaksOf || !/^\d+(\.\d+)?$/.test(part)) return part;
    const row = rows.get(Number(part));
    gone ||= row === undefined;
    return String(row);
  });
  return gone ? null : now.join(':');
}
