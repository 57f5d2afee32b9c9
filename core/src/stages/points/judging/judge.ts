import { makeAnew, type Keep } from '#core/kernel';
import type { ProjectDocument } from '#core/project';
import { STATE, type PointTable } from '../points.ts';
import { controlByName, namedPairs, relationToControl } from './control-relation.ts';
import type { Doubt } from './doubt.ts';
import { farPoints, zeroElevations } from './single-points.ts';
import { farFromOthers, heightsLacking, outsideArea, swappedColumns, systemLacking } from './whole-files.ts';

/**
 * Which points cannot be used as they are until somebody decides, and why. What is asked about them is made of these
 * doubts elsewhere; here alone it is decided who waits.
 */
export function judgePoints(
  doc: ProjectDocument,
  table: PointTable,
  keep: Keep = makeAnew,
): { state: Uint8Array; doubts: Doubt[] } {
  const judging = new Judging(doc, table, rowsByFile(doc, table, keep), keep);
  judging.files();
  judging.places();
  judging.take(zeroElevations(doc, judging.points));
  return { state: judging.points.state, doubts: judging.doubts };
}

/** Rows of the table file by file, in the order of the document. */
export const rowsByFile = (doc: ProjectDocument, { intake }: Pick<PointTable, 'intake'>, keep: Keep): number[][] =>
  keep('rows by file', [intake, doc.intakes.length], () => {
    const rows: number[][] = doc.intakes.map(() => []);
    for (let row = 0; row < intake.length; row++) rows[intake[row]].push(row);
    return rows;
  });

/** Rows of a file whose number control has, which few have. */
export const namedAsControl = (
  doc: ProjectDocument,
  index: number,
  points: PointTable,
  rows: readonly number[],
  control: ReadonlyMap<string, number>,
  keep: Keep,
): number[] =>
  keep(`common ${doc.intakes[index].id}`, [points.number, points.intake, index, [...control.keys()]], () =>
    rows.filter((row) => control.has(points.number[row])),
  );

class Judging {
  readonly doubts: Doubt[] = [];

  constructor(
    private readonly doc: ProjectDocument,
    public points: PointTable,
    private readonly rowsOf: readonly number[][],
    private readonly keep: Keep,
  ) {}

  /** What was found stands; unless it is accepted, what it is about waits. */
  take(found: readonly (Doubt | null)[]): void {
    const open = found.filter((f): f is Doubt => f !== null);
    if (open.length === 0) return;
    this.doubts.push(...open);
    // A column of its own, so that what was seen of the one before stands.
    const state = this.points.state.slice();
    for (const f of open) {
      if (f.accepted) continue;
      for (const row of 'row' in f ? [f.row] : this.rowsOf[f.intake])
        if (state[row] === STATE.used) state[row] = STATE.waits;
    }
    this.points = { ...this.points, state };
  }

  files(): void {
    const control = controlByName(this.doc, this.points, this.rowsOf);
    this.doc.intakes.forEach((intake, index) => {
      if (!intake.on) return;
      this.take([systemLacking(this.doc, index), heightsLacking(this.doc, index)]);
      this.take([this.where(index, control)]);
    });
  }

  /** Where a file lies. What common points say is more than where the numbers lie, and comes with a remedy. */
  private where(index: number, control: ReadonlyMap<string, number>): Doubt | null {
    const { doc, points, rowsOf, keep } = this;
    const rows = rowsOf[index];
    const isControl = doc.intakes[index].purpose === 'control';
    const common = isControl ? [] : namedAsControl(doc, index, points, rows, control, keep);
    const found =
      relationToControl(doc, index, namedPairs(points, common, control)) ?? outsideArea(doc, index, points, rows);
    if (found || isControl) return found;
    const { x, y, state, intake } = points;
    return keep(`far ${doc.intakes[index].id}`, [doc.intakes, doc.accepted, intake, x, y, state], () =>
      farFromOthers(doc, index, points, rowsOf),
    );
  }

  /** What places in plan say of files and points: no elevation changes it. */
  places(): void {
    const kept = (what: string, find: () => Doubt[]): Doubt[] => {
      const { x, y, intake, fileRow, number, description, state } = this.points;
      const { accepted, intakes } = this.doc;
      return this.keep(what, [accepted, intakes, intake, fileRow, number, description, x, y, state], find);
    };
    this.take(kept('swapped columns', () => swappedColumns(this.doc, this.points, this.rowsOf)));
    this.take(kept('far points', () => farPoints(this.doc, this.points)));
  }
}
