import { api, problemText } from '../../frame/api.ts';
import type { Code } from '#core/codes';
import { canBeTaken, codesOfDrawing, DRAWN_WORDS, keyOfTaken, MOST_TAKEN } from '#core/exchange';
import type { IntoSurface } from '#core/project';
import { useProject } from '../../project-state/store.ts';
import { chainWork } from '../../work/workers.ts';
import { standingOf } from '../stands.ts';
import { intakeCame, takeInFile, type IntakePart } from '../take-in.ts';
import { makesSurface } from '../drawing-purpose.tsx';
import { intoOf } from '../purpose-pick.tsx';
import type { Read } from './read.ts';
import type { Treatment } from './sort.ts';

/** What became of a file. */
export type Outcome = { done: true; said: string } | { done: false; why: string };

/** Brings one file of a delivery in as it is to be treated, and waits until the project has it. */
export async function bringIn(r: Read, tell: (share: number) => void, signal: AbortSignal): Promise<Outcome> {
  const { treatment, file } = r;
  const { id } = useProject.getState();
  try {
    if (treatment.as === 'nothing' || !file) return { done: true, said: 'not imported' };
    if (treatment.as === 'original') {
      await api.upload(id, file, tell, signal);
      return { done: true, said: 'kept among the originals' };
    }
    if (treatment.as === 'picture') return await layUnder(r, tell, signal);
    if (treatment.as === 'replace') return await replace(r, treatment, tell, signal);
    const { part, ...more } = asked(r, treatment);
    const { intake, job } = await takeInFile(id, file, part, more, tell, signal);
    const came = await intakeCame(intake, job);
    return came.ok ? { done: true, said: 'imported' } : { done: false, why: came.reason };
  } catch (error) {
    return { done: false, why: problemText(error) };
  }
}

/** A picture under the drawing, once. */
async function layUnder({ file, picture }: Read, tell: (share: number) => void, signal: AbortSignal): Promise<Outcome> {
  const { id, make } = useProject.getState();
  const received = await api.upload(id, file!, tell, signal);
  const { state } = useProject.getState();
  if (state!.document.pictures.some((p) => p.sha256 === received.sha256)) return { done: true, said: 'is in the project already' }; // prettier-ignore
  const { said: _, ...placed } = picture!;
  const key = crypto.randomUUID().slice(0, 13);
  const name = file!.name.replace(/\.[^.]*$/, '');
  const made = await make({ op: 'picture.set', id: key, picture: { id: key, name, fileId: received.id, fileName: file!.name, sha256: received.sha256, ...placed, opacity: 1, brightness: 0, hidden: false } }); // prettier-ignore
  return made ? { done: true, said: 'imported' } : { done: false, why: useProject.getState().problem ?? 'refused' };
}

/** What is asked for of a file, into which surface, with which codes of its own. */
function asked(
  r: Read,
  treatment: Exclude<Treatment, { as: 'nothing' | 'original' | 'picture' | 'replace' }>,
): { part: IntakePart; into?: IntoSurface; codes?: readonly Code[] } {
  if (treatment.as === 'book') return { part: bookPart(r) };
  if (treatment.as === 'layers' || treatment.as === 'underlay') return byLayers(r, treatment.as);
  const part = pointsPart(r, treatment.as);
  return treatment.as === 'design' ? { part, into: newSurface(treatment.surface ?? '') } : { part };
}

const newSurface = (name: string): IntoSurface | undefined => intoOf({ purpose: 'design', surface: null, name });

/** A drawing by its layers, with the codes that the list lacks; or all of it under the drawing. */
function byLayers({ ticked, basis, file }: Read, as: 'layers' | 'underlay'): ReturnType<typeof asked> {
  const { drawing, guess } = ticked!;
  const rows = drawing!.rows.filter(canBeTaken).map(({ layer, kind }) => ({ layer, kind, as: 'underlay' as const }));
  const everything = [...new Map(rows.map((r) => [keyOfTaken(r), r])).values()].slice(0, MOST_TAKEN);
  const taken = as === 'underlay' ? everything : guess.layout.taken!;
  const part: IntakePart = {
    layout: { ...guess.layout, taken },
    purpose: 'design',
    words: DRAWN_WORDS,
    numbers: { all: 'both', each: {} },
    ...standingOf(ticked!, basis, null),
  };
  const codes = codesOfDrawing(drawing!.rows, taken, useProject.getState().state!.document.codeList.codes);
  return makesSurface(taken) ? { part, codes, into: newSurface(file!.name.replace(/\.[^.]*$/, '')) } : { part, codes };
}

const bookPart = ({ opened, bookLayout }: Read): IntakePart => ({
  layout: opened!.guess.layout,
  form: 'book',
  ...(bookLayout ? { bookLayout } : {}),
  purpose: 'survey',
  numbers: { all: 'both', each: {} },
});

function pointsPart({ opened, layout, basis }: Read, purpose: IntakePart['purpose']): IntakePart {
  const { lines, surface, grid } = opened!;
  return {
    layout: layout!,
    purpose,
    ...(surface === null && !lines.taken && !grid ? {} : { light: true }),
    ...(lines.taken ? { words: DRAWN_WORDS } : {}),
    numbers: { all: 'both', each: {} },
    ...standingOf(opened!, basis, null),
  };
}

/** A later export in the place of its earlier one: edits, decisions and accepted queries follow their records. */
async function replace(
  { file }: Read,
  { intake, remaining }: Extract<Treatment, { as: 'replace' }>,
  tell: (share: number) => void,
  signal: AbortSignal,
): Promise<Outcome> {
  const { id, state, tables, make } = useProject.getState();
  const received = await api.upload(id, file!, tell, signal);
  const to = { fileId: received.id, fileName: file!.name, sha256: received.sha256 };
  const bytes = new Uint8Array(await file!.arrayBuffer());
  const source = { project: id, hashes: tables!.stages.reads };
  const m = await chainWork().matchFile(state!.revision, intake, bytes, to, source, remaining);
  if (!(await make(m.change))) return { done: false, why: useProject.getState().problem ?? 'refused' };
  const lost = m.lost ? `; ${m.lost} manual edits or decisions have no record any more` : '';
  return { done: true, said: `${m.fresh} new records, ${goneText(m.gone, remaining.length)}, ${m.kept} manual edits and decisions kept${lost}` }; // prettier-ignore
}

const goneText = (gone: number, remaining: number): string =>
  remaining ? `${gone} no longer there, of which ${remaining} remain in use` : `${gone} no longer there`;
