import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';

import { decodeText, readPoints, type ReadPoints } from '#core/exchange';
import {
  applyChange,
  changeSchema,
  documentSchema,
  upgradeChange,
  upgradeDocument,
  type Change,
  type Intake,
  type ProjectDocument,
} from '#core/project';
import { demoProject } from '#demo';

// What an earlier version kept: a document in which a file's target named its surface, and the boundary and the lines
// taken out of the ground were the project's; changes with their inverses; and the figures that version computed, but for
// what breaklines that cross make of them: they meet at a vertex since; and for slivers without area along sides that the
// boundary crosses, which broke contours and are none of the surface since.
const kept = JSON.parse(readFileSync(new URL('./kept-before-recipes.json', import.meta.url), 'utf8')) as {
  document: ProjectDocument;
  changes: { change: Change; inverse: Change }[];
  figures: { surfaces: [string, number, number, number][]; comparisons: unknown; contours: number };
};
const demo = demoProject();
const readOf = (intake: Intake): ReadPoints => {
  const decoded = decodeText(demo.files.find((f) => f.id === intake.fileId)!.bytes);
  if (!decoded.ok) throw new Error(decoded.reason);
  return readPoints(decoded.text, intake.layout)!;
};
const now = upgradeDocument(kept.document);
const applied = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const done = applyChange(doc, upgradeChange(change, doc));
  if (!done.ok) throw new Error(done.reason);
  return done.document;
};

describe('a document from before surfaces were recipes', () => {
  it('is one of this version, and stays it when it is read again', () => {
    expect(documentSchema.parse(now)).toEqual(now);
    expect(upgradeDocument(JSON.parse(JSON.stringify(now)) as ProjectDocument)).toEqual(now);
    expect(now.intakes.map((i) => i.purpose)).toEqual(['control', 'survey', 'survey', 'survey', 'design']);
    expect(now.surfaces.map((s) => [s.name, s.role, s.rows.map((r) => r.kind)])).toEqual([
      ['Ground', 'ground', ['survey', 'exclude-codes', 'lines', 'exclude-lines', 'boundary']],
      ['Boat park pad', 'design', ['file', 'lines']],
    ]);
  });

  it('gives every figure that it gave', () => {
    const result = runChain(now, readOf);
    const s = result.summary;
    // Sums in another order differ in their last bits.
    const rounded = (v: unknown): unknown => JSON.parse(JSON.stringify(v), (_, n: unknown) => (typeof n === 'number' ? Number(n.toPrecision(10)) : n)) as unknown; // prettier-ignore
    expect(rounded(s.surfaces.map((g) => [g.name, g.points, g.triangles, g.planArea]))).toEqual(rounded(kept.figures.surfaces)); // prettier-ignore
    // What more is told of a comparison by now is not held against what was.
    expect(rounded(s.comparisons)).toMatchObject(rounded(kept.figures.comparisons) as object);
    expect(s.surfaces[0].contours).toBe(kept.figures.contours);
    // What somebody accepted stays in the document; that a side was excluded is another question than which elevation counts.
    expect(Object.keys(now.accepted)).toEqual(['crossing-breaklines:ground:HM1:RG1:510,509']);
    expect(s.queries.filter((q) => q.kind === 'meeting-breaklines').map((q) => [q.lines, q.accepted])).toEqual([[['HM1', 'RG1'], null]]); // prettier-ignore
  });

  it('has changes that are undone and made again as they were meant', () => {
    for (const { change, inverse } of kept.changes)
      for (const c of [change, inverse]) expect(changeSchema.safeParse(upgradeChange(c, now)).success).toBe(true);
    const of = (op: string): { change: Change; inverse: Change } => kept.changes.find((k) => (k.change.op as string) === op)!; // prettier-ignore
    const [line, ring, file] = [of('line.ground'), of('boundary.set'), of('intake.target')];
    const without = applied(applied(now, ring.inverse), line.inverse);
    expect(without.surfaces[0].rows.map((r) => r.kind)).toEqual(['survey', 'exclude-codes', 'lines']);
    expect(applied(applied(without, line.change), ring.change).surfaces).toEqual(now.surfaces);
    // To a design of another name and back: the file is in one surface each time.
    const moved = applied(now, file.change);
    const holding = (d: ProjectDocument): string[] =>
      d.surfaces.filter((s) => s.rows.some((r) => r.kind === 'file')).map((s) => s.name);
    expect(holding(moved)).toEqual(['Pad as sent']);
    expect(holding(applied(moved, file.inverse))).toEqual(['Boat park pad']);
    const comparison = of('comparison.set').change;
    expect(applied({ ...now, comparisons: [] }, comparison).comparisons[0].surface).toBe('ground');
  });
});
