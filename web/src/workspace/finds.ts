import type { ProjectDocument, Stage } from '#core/project';
import { goToQuery } from '../cards/queries.tsx';
import type { LeafName } from '../frame/leaves.tsx';
import { STAGES } from '../frame/stage-names.ts';
import { useProject } from '../project-state/store.ts';
import type { Tables } from '../project-state/tables.ts';
import { sheetHandle } from '../sheet/handle.ts';
import { shownSurfaces, useShownStore } from '../sheet/surfaces-shown.tsx';
import { BASIS_LEAVES } from '../stages/basis/basis.tsx';
import { BOOK_LEAVES } from '../stages/book/book.tsx';
import { GROUND_LEAVES } from '../stages/ground/ground.tsx';
import { LINES_LEAVES } from '../stages/lines/lines.tsx';

/** Something that can be done from the keyboard, by name or by its key. */
export interface Doing {
  name: string;
  key?: string;
  run: () => void;
  enabled?: boolean;
}

/** Something that was found: what it is, and what going there does. */
export interface Found {
  kind: string;
  name: string;
  /** What else is known of it; searched as well. */
  about: string;
  run: () => void;
}

/** Where a person is brought: a stage's leaf, and what is chosen there. */
export type Go = (stage: Stage, leaf?: string, at?: string) => void;

const SLICE = 20_000;
/** So many of a kind are listed. */
const MOST = 6;
/** And so many of all. */
const MOST_IN_ALL = 24;

/** Whether every word typed stands somewhere in a text. */
export const holds = (text: string, words: readonly string[]): boolean => {
  const lower = text.toLowerCase();
  return words.every((w) => lower.includes(w));
};

/** The best first: a name that is what was typed, one that begins with it, one that holds it, one known by something else. */
function rankOf(f: Found, typed: string, words: readonly string[]): number {
  const name = f.name.toLowerCase();
  return name === typed ? 0 : name.startsWith(typed) ? 1 : holds(name, words) ? 2 : 3;
}

/**
 * Rows of points by number or by any word of their description, those first whose number is or begins with what was
 * typed; a slice at a time, so that the page answers meanwhile.
 */
export async function findPoints(tables: Tables, typed: string, wanted: () => boolean): Promise<number[]> {
  const words = wordsOf(typed);
  if (words.length === 0) return [];
  const { number, description } = tables.points;
  const lists: number[][] = [[], [], []];
  for (let row = 0; row < number.length && wanted(); row++) {
    const n = number.get(row).toLowerCase();
    const list = n === words[0] ? lists[0] : n.startsWith(words[0]) ? lists[1] : lists[2];
    if (list.length < MOST && holds(`${n} ${description.get(row)}`, words)) list.push(row);
    if (lists[0].length >= MOST) break;
    if (row % SLICE === SLICE - 1) await new Promise((r) => setTimeout(r));
  }
  return lists.flat().slice(0, MOST);
}

export const wordsOf = (typed: string): string[] => typed.toLowerCase().split(/\s+/).filter(Boolean);

/** Everything inside a project that a word may mean, except its points: lines, codes, files, plots, queries, surfaces, comparisons, leaves, commands. */
export function findsOf(
  doc: ProjectDocument,
  tables: Tables,
  doings: readonly Doing[],
  go: Go,
  typed: string,
): Found[] {
  const words = wordsOf(typed);
  const text = words.join(' ');
  const commands = doings.filter((d) => d.enabled !== false).map((d): Found => ({ kind: d.key ?? '', name: d.name, about: '', run: d.run })); // prettier-ignore
  if (words.length === 0) return commands.slice(0, 12);
  const kinds = [lines(doc, tables), codes(doc, go), files(doc, go), plots(doc, go), queries(tables, go), surfaces(doc, go), comparisons(doc, go), leavesOf(go), commands]; // prettier-ignore
  return kinds
    .flatMap((all) =>
      all
        .filter((f) => holds(`${f.kind} ${f.name} ${f.about}`, words))
        .map((f) => ({ f, rank: rankOf(f, text, words) }))
        .sort((a, b) => a.rank - b.rank)
        .slice(0, MOST),
    )
    .sort((a, b) => a.rank - b.rank)
    .slice(0, MOST_IN_ALL)
    .map(({ f }) => f);
}

function lines(doc: ProjectDocument, tables: Tables): Found[] {
  const names = new Map(doc.codeList.codes.map((c) => [c.code.toUpperCase(), c.name]));
  return tables.linework.lines.map((l) => ({
    kind: 'line',
    name: l.key,
    about: `${names.get(l.code) ?? 'unknown code'}, ${l.rows.length} points`,
    run: () => {
      useProject.getState().select({ kind: 'line', key: l.key });
      sheetHandle.current?.fitTo(l.x, l.y);
    },
  }));
}

const codes = (doc: ProjectDocument, go: Go): Found[] =>
  doc.codeList.codes.map((c) => ({
    kind: 'code',
    name: c.code,
    about: [c.name, c.group, c.layer].filter(Boolean).join(', '),
    run: () => go('lines', 'codes', c.code),
  }));

const files = (doc: ProjectDocument, go: Go): Found[] =>
  doc.intakes.map((i) => ({
    kind: 'file',
    name: i.fileName,
    about: `${i.purpose}${i.given?.by ? `, from ${i.given.by}` : ''}`,
    run: () => go('basis', 'originals', i.id),
  }));

const plots = (doc: ProjectDocument, go: Go): Found[] =>
  doc.drawing.plots.map((p) => ({
    kind: 'plot',
    name: p.title,
    about: `${p.paper}, 1:${p.scale}${p.number ? `, number ${p.number}` : ''}`,
    run: () => go('lines', 'plots', p.id),
  }));

const queries = (tables: Tables, go: Go): Found[] =>
  tables.summary.queries.map((q) => ({
    kind: q.accepted ? 'accepted query' : 'query',
    name: q.text,
    about: q.stage,
    run: () => {
      go(q.stage);
      goToQuery(q);
    },
  }));

const surfaces = (doc: ProjectDocument, go: Go): Found[] =>
  doc.surfaces.map((s) => ({
    kind: 'surface',
    name: s.name,
    about: s.role,
    run: () => {
      go('ground');
      const { id } = useProject.getState();
      const { shown, show, stand } = useShownStore.getState();
      stand(id, s.id);
      show(id, [...new Set([...shownSurfaces(doc, shown[id]), s.id])]);
    },
  }));

const comparisons = (doc: ProjectDocument, go: Go): Found[] =>
  doc.comparisons.map((c) => ({
    kind: 'comparison',
    name: c.name,
    about: '',
    run: () => {
      go('quantities');
      useProject.getState().select({ kind: 'comparison', id: c.id });
    },
  }));

const LEAVES: [Stage, readonly LeafName[]][] = [
  ['basis', BASIS_LEAVES],
  ['book', BOOK_LEAVES],
  ['lines', LINES_LEAVES],
  ['ground', GROUND_LEAVES],
];
const leavesOf = (go: Go): Found[] =>
  LEAVES.flatMap(([stage, leaves]) =>
    leaves.map(({ leaf, name }) => ({
      kind: STAGES.find((s) => s.stage === stage)!.name,
      name,
      about: '',
      run: () => go(stage, leaf),
    })),
  );
