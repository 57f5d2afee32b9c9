import type { SavedLayout } from '#contract';
import type { KeptChoice } from '#core/exchange';
import type { Intake, ProjectDocument } from '#core/project';
import { STATE } from '#core/stages';
import type { Tables } from '../project-state/tables.ts';

// What the project knows that a file is held against before it is imported.

type Points = Pick<Tables, 'points'>;
type Files = Pick<ProjectDocument, 'intakes'>;

/** Numbers beyond these are compared by the account afterwards. */
const MOST_NUMBERS = 300_000;

const isControl = ({ intakes }: Files, { points }: Points, row: number): boolean =>
  intakes[points.intake[row]].purpose === 'control';

/** Numbers of all points that are no control. */
export function numbersOf(doc: Files, tables: Points): string[] {
  const { points } = tables;
  const out: string[] = [];
  for (let row = 0; row < Math.min(points.x.length, MOST_NUMBERS); row++)
    if (!isControl(doc, tables, row)) out.push(points.number.get(row));
  return out;
}

/** Control points that are used. */
export function controlOf(doc: Files, tables: Points): { number: string; x: number; y: number; z: number }[] {
  const { points } = tables;
  const out: ReturnType<typeof controlOf> = [];
  for (let row = 0; row < points.x.length; row++)
    if (isControl(doc, tables, row) && points.state[row] === STATE.used)
      out.push({ number: points.number.get(row), x: points.x[row], y: points.y[row], z: points.z[row] });
  return out;
}

/** Where the project lies: its control, or some hundreds of its points where it has none. */
export function placesOf(doc: Files, tables: Points): { x: number; y: number }[] {
  const { points } = tables;
  const control: { x: number; y: number }[] = [];
  const others: { x: number; y: number }[] = [];
  const step = Math.max(1, Math.floor(points.x.length / 500));
  for (let row = 0; row < points.x.length; row++) {
    if (isControl(doc, tables, row)) control.push({ x: points.x[row], y: points.y[row] });
    else if (row % step === 0 && points.state[row] === STATE.used) others.push({ x: points.x[row], y: points.y[row] });
  }
  return control.length ? control : others;
}

/** What was ticked of drawings in this project, the last one first. */
export const keptChoices = (intakes: readonly Intake[]): KeptChoice[] =>
  intakes
    .flatMap(({ id, fileName: name, layout: { taken } }) => (taken?.length ? [{ id, name, taken }] : []))
    .reverse();

/** What was ticked of drawings and saved under a name, in whatever project. */
export const savedChoices = (layouts: readonly SavedLayout[]): KeptChoice[] =>
  layouts.flatMap(({ id, name, layout }) =>
    'taken' in layout && layout.taken?.length ? [{ id: `layout ${id}`, name, taken: layout.taken }] : [],
  );
