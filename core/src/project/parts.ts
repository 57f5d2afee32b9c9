import { START_DRAWING } from './document/drawing-schema.ts';
import type { SurfaceRecipe, SurfaceRow } from './document/surface-schema.ts';
import { newDocument, type ProjectDocument } from './document.ts';
import { withEdits } from './edits.ts';
import { ranksOf, type Ranks } from './ranks.ts';
import { upgradeDocument } from './upgrade.ts';

// A document in parts: each is written, kept and sent by itself, so that a change costs what it touches and not what
// the project holds. Parts of a list stand by their ranks; nothing depends on the order in which parts are kept.

/** Parts of which a document has one, several in an order of their own, or several by name. */
const SINGLE = ['settings', 'basis', 'codes', 'register', 'drawing'] as const;
const RANKED = [
  'intake',
  'surface',
  'surface-row',
  'comparison',
  'point-set',
  'hand-volume',
  'series',
  'picture',
  'plot',
] as const;
const NAMED = ['edit', 'decision', 'accepted', 'hand-line', 'layer', 'label'] as const;
export const PART_KINDS = [...SINGLE, ...RANKED, ...NAMED] as const;
export type PartKind = (typeof PART_KINDS)[number];

export interface Part {
  kind: PartKind;
  /** Which of its kind; empty where there is one. A row of a recipe: `surface/row`. */
  key: string;
  /** Where it stands among its kind, of a recipe's rows within their surface; null where order says nothing. */
  rank: number | null;
  /** Null where the part is gone. */
  value: unknown;
}

/** A document with the ranks of what stands in it in order, by `kind/key`. */
export interface RankedDocument {
  document: ProjectDocument;
  ranks: Ranks;
}

const at = (kind: PartKind, key: string): string => `${kind}/${key}`;
const byId = <T extends { id: string }>(list: readonly T[]): [string, T][] => list.map((one) => [one.id, one]);
const rowKey = (surface: string, row: string): string => `${surface}/${row}`;

interface Lists {
  intake: ProjectDocument['intakes'];
  comparison: ProjectDocument['comparisons'];
  'point-set': ProjectDocument['pointSets'];
  'hand-volume': ProjectDocument['handVolumes'];
  series: ProjectDocument['series'];
  picture: ProjectDocument['pictures'];
  plot: ProjectDocument['drawing']['plots'];
}
const listsOf = (doc: ProjectDocument): Lists => ({
  intake: doc.intakes,
  comparison: doc.comparisons,
  'point-set': doc.pointSets,
  'hand-volume': doc.handVolumes,
  series: doc.series,
  picture: doc.pictures,
  plot: doc.drawing.plots,
});

/** A surface without its rows, which are parts of their own; the same for the same surface. */
const heads = new WeakMap<SurfaceRecipe, Omit<SurfaceRecipe, 'rows'>>();
function headOf(surface: SurfaceRecipe): Omit<SurfaceRecipe, 'rows'> {
  let head = heads.get(surface);
  if (!head) {
    const { rows: _, ...rest } = surface;
    heads.set(surface, (head = rest));
  }
  return head;
}

function singlesOf({ settings, basis, codeList, register, drawing }: ProjectDocument): [PartKind, unknown][] {
  const { layers: _, moved: __, plots: ___, ...look } = drawing;
  return [['settings', settings], ['basis', basis], ['codes', codeList], ['register', register], ['drawing', look]]; // prettier-ignore
}

const namedOf = (doc: ProjectDocument): [PartKind, Record<string, unknown>][] => [
  ['decision', doc.decisions],
  ['accepted', doc.accepted],
  ['hand-line', doc.handLines],
  ['layer', doc.drawing.layers],
  ['label', doc.drawing.moved],
];

/** What differs between a document and the one before it, as parts to be written. Parts that both share cost a look. */
export function partsBetween(before: RankedDocument, after: ProjectDocument): Part[] {
  const was = before.document;
  const out: Part[] = [];
  const then = new Map(singlesOf(was));
  for (const [kind, value] of singlesOf(after))
    if (!isSame(value, then.get(kind))) out.push({ kind, key: '', rank: null, value });
  const lists = listsOf(after);
  const old = listsOf(was);
  for (const kind of Object.keys(lists) as (keyof Lists)[])
    out.push(...listed(kind, byId<{ id: string }>(old[kind]), byId<{ id: string }>(lists[kind]), before.ranks));
  out.push(...surfaces(was.surfaces, after.surfaces, before.ranks));
  const maps = new Map(namedOf(was));
  for (const [kind, map] of namedOf(after)) out.push(...named(kind, maps.get(kind)!, map));
  for (const intake of new Set([...Object.keys(was.edits), ...Object.keys(after.edits)]))
    out.push(...named('edit', was.edits[intake] ?? {}, after.edits[intake] ?? {}, `${intake}:`)); // prettier-ignore
  return out;
}

/** The settings of drawing are put together anew each time: they are the same when they hold the same. */
const isSame = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

function named(kind: PartKind, was: Record<string, unknown>, now: Record<string, unknown>, before = ''): Part[] {
  if (was === now) return [];
  const out: Part[] = [];
  for (const key in now) if (now[key] !== was[key]) out.push({ kind, key: before + key, rank: null, value: now[key] });
  for (const key in was) if (!Object.hasOwn(now, key)) out.push({ kind, key: before + key, rank: null, value: null });
  return out;
}

function listed(
  kind: PartKind,
  was: readonly (readonly [string, unknown])[],
  now: readonly (readonly [string, unknown])[],
  ranks: Ranks,
): Part[] {
  const values = new Map(was);
  const rankAt = ranksOf(now.map(([key]) => ranks.get(at(kind, key)) ?? null));
  const out: Part[] = [];
  now.forEach(([key, value], i) => {
    const rank = rankAt[i];
    if (values.get(key) !== value || ranks.get(at(kind, key)) !== rank) out.push({ kind, key, rank, value });
  });
  const left = new Set(now.map(([key]) => key));
  for (const [key] of was) if (!left.has(key)) out.push({ kind, key, rank: null, value: null });
  return out;
}

function surfaces(was: readonly SurfaceRecipe[], now: readonly SurfaceRecipe[], ranks: Ranks): Part[] {
  if (was === now) return [];
  const old = new Map(was.map((s) => [s.id, s]));
  const keep = (s: SurfaceRecipe): unknown => {
    const before = old.get(s.id);
    return before && isSame(headOf(before), headOf(s)) ? headOf(before) : headOf(s);
  };
  const rowsOf = (s: SurfaceRecipe | undefined): [string, SurfaceRow][] =>
    s?.rows.map((row) => [rowKey(s.id, row.id), row]) ?? [];
  const left = new Set(now.map((s) => s.id));
  return [
    ...listed('surface', was.map((s) => [s.id, headOf(s)]), now.map((s) => [s.id, keep(s)]), ranks), // prettier-ignore
    ...now.flatMap((s) => (old.get(s.id)?.rows === s.rows ? [] : listed('surface-row', rowsOf(old.get(s.id)), rowsOf(s), ranks))), // prettier-ignore
    ...was.filter((s) => !left.has(s.id)).flatMap((s) => listed('surface-row', rowsOf(s), [], ranks)),
  ];
}

/** A document without anything in it: what parts are laid on. */
const bare = (): RankedDocument => ({
  document: {
    ...newDocument(),
    surfaces: [],
    drawing: { ...START_DRAWING, layers: {}, moved: {}, plots: [] },
  },
  ranks: new Map(),
});

/** All parts of a document. */
export const partsOf = (document: ProjectDocument): Part[] => {
  const none = { ...bare().document, settings: null, basis: null, codeList: null, register: null, drawing: { layers: {}, moved: {}, plots: [] } } as unknown as ProjectDocument; // prettier-ignore
  return partsBetween({ document: none, ranks: new Map() }, document);
};

/**
 * The document of some parts, which may be those that one change asks for; what it lacks stands at its start. Parts that
 * an earlier version wrote are read as this one has them.
 */
export function documentOf(parts: readonly Part[]): RankedDocument {
  const { document, ranks } = layParts(bare(), parts);
  return { document: upgradeDocument(document), ranks };
}

/**
 * A document with parts laid over it; the one before stays as it was, and both share what is the same. Rows come after
 * their surface or with it, in any order.
 */
export function layParts(before: RankedDocument, parts: readonly Part[]): RankedDocument {
  if (parts.length === 0) return before;
  const document: ProjectDocument = { ...before.document, drawing: { ...before.document.drawing } };
  const ranks = new Map(before.ranks);
  const by = new Map<PartKind, Part[]>();
  for (const part of parts) {
    const own = by.get(part.kind);
    if (own) own.push(part);
    else by.set(part.kind, [part]);
  }
  const of = (kind: PartKind): Part[] => by.get(kind) ?? [];
  const single = <T>(kind: PartKind, now: T): T => (of(kind)[0]?.value as T | undefined) ?? now;
  const map = <T>(kind: PartKind, now: Record<string, T>): Record<string, T> =>
    of(kind).length ? laidOn(now, of(kind)) : now;
  const list = <T extends { id: string }>(kind: PartKind, now: T[]): T[] =>
    of(kind).length ? inOrder(kind, laidOn(Object.fromEntries(byId(now)), of(kind)), ranks) : now;
  for (const kind of RANKED)
    for (const { key, rank, value } of of(kind))
      if (value === null || rank === null) ranks.delete(at(kind, key));
      else ranks.set(at(kind, key), rank);
  document.settings = single('settings', document.settings);
  document.basis = single('basis', document.basis);
  document.codeList = single('codes', document.codeList);
  document.register = single('register', document.register);
  const { layers, moved, plots } = document.drawing;
  document.drawing = {
    ...single('drawing', document.drawing),
    layers: map('layer', layers),
    moved: map('label', moved),
    plots: list('plot', plots),
  };
  document.intakes = list('intake', document.intakes);
  document.comparisons = list('comparison', document.comparisons);
  document.pointSets = list('point-set', document.pointSets);
  document.handVolumes = list('hand-volume', document.handVolumes);
  document.series = list('series', document.series);
  document.pictures = list('picture', document.pictures);
  document.decisions = map('decision', document.decisions);
  document.accepted = map('accepted', document.accepted);
  document.handLines = map('hand-line', document.handLines);
  if (of('edit').length)
    document.edits = withEdits(document.edits, of('edit').map((p) => [p.key, p.value as never])); // prettier-ignore
  document.surfaces = laySurfaces(document.surfaces, of('surface'), of('surface-row'), ranks);
  return { document, ranks };
}

function laidOn<T>(now: Record<string, T>, parts: readonly Part[]): Record<string, T> {
  const out = { ...now };
  for (const { key, value } of parts)
    if (value === null) delete out[key];
    else out[key] = value as T;
  return out;
}

/** By rank; two of one rank, which nothing writes, by their keys. */
function inOrder<T extends { id: string }>(kind: PartKind, all: Record<string, T>, ranks: Ranks, under = ''): T[] {
  const rankOf = (one: T): number => ranks.get(at(kind, under + one.id)) ?? Infinity;
  return Object.values(all).sort((a, b) => rankOf(a) - rankOf(b) || (a.id < b.id ? -1 : 1));
}

function laySurfaces(
  now: SurfaceRecipe[],
  headParts: readonly Part[],
  rowParts: readonly Part[],
  ranks: Ranks,
): SurfaceRecipe[] {
  if (headParts.length === 0 && rowParts.length === 0) return now;
  const all: Record<string, SurfaceRecipe> = Object.fromEntries(byId(now));
  for (const { key, value } of headParts)
    if (value === null) delete all[key];
    else all[key] = { ...(value as SurfaceRecipe), rows: all[key]?.rows ?? [] };
  const rowsOf = new Map<string, Part[]>();
  for (const part of rowParts) {
    const surface = part.key.slice(0, part.key.indexOf('/'));
    rowsOf.set(surface, [...(rowsOf.get(surface) ?? []), part]);
  }
  for (const [surface, parts] of rowsOf) {
    const recipe = Object.hasOwn(all, surface) ? all[surface] : undefined;
    if (!recipe) continue;
    const own = parts.map((p) => ({ ...p, key: p.key.slice(surface.length + 1) }));
    const rows = laidOn<SurfaceRow>(Object.fromEntries(byId(recipe.rows)), own);
    all[surface] = { ...recipe, rows: inOrder('surface-row', rows, ranks, `${surface}/`) };
  }
  return inOrder('surface', all, ranks);
}
