import { readFileSync, writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';

import { applyChange, groundOf, newDocument, type ProjectDocument } from '#core/project';
import { readByPlan, readingPlan } from '#core/sources';
import type { ReadPoints } from '#core/exchange';
import { hashBytes } from '#core/kernel';
import { demoProject, kessaProject, selmarProject, tarnProject } from '#demo';

// Every figure of the four demo projects as it was when it was last looked at: whatever is rebuilt below, they stay.
// UPDATE_FIGURES=1 writes them anew, to be read before they are committed.

const FILE = new URL('./figures.json', import.meta.url);
const PROJECTS = { ostrel: demoProject, tarn: tarnProject, kessa: kessaProject, selmar: selmarProject };

const round = (value: unknown): unknown =>
  JSON.parse(JSON.stringify(value, (_, v: unknown) => (typeof v === 'number' ? Math.round(v * 1e6) / 1e6 : v)));
const sum = (column: ArrayLike<number>): number => {
  let total = 0;
  for (let i = 0; i < column.length; i++) if (!Number.isNaN(column[i])) total += column[i];
  return total;
};

async function figuresOf({ changes, files }: ReturnType<typeof demoProject>): Promise<unknown> {
  let doc: ProjectDocument = newDocument();
  for (const change of changes) {
    const applied = applyChange(doc, change);
    if (!applied.ok) throw new Error(applied.reason);
    doc = applied.document;
  }
  const grids = Object.fromEntries(files.map((f) => [hashBytes(f.bytes), f.bytes]));
  const reads = new Map<string, ReadPoints>();
  for (const intake of doc.intakes) {
    const { bytes } = files.find((f) => f.id === intake.fileId)!;
    const reading = await readByPlan(bytes, readingPlan(doc.basis, intake), grids);
    if (!reading?.ok) throw new Error(intake.fileName);
    reads.set(intake.id, reading.read);
  }
  const result = runChain(doc, (intake) => reads.get(intake.id)!);
  const { queries, surfaces, ...summary } = result.summary;
  const { x, y, z, state } = result.points;
  const ground = groundOf(doc).id;
  const { contours, contourProblem } = surfaces.find((s) => s.id === ground)!;
  return round({
    ...summary,
    contours,
    contourProblem,
    places: { x: sum(x), y: sum(y), z: sum(z), states: [0, 1, 2, 3].map((s) => state.filter((v) => v === s).length) },
    lengths: result.linework.lines.map((l) => [l.key, l.x.length, sum(l.x), sum(l.y)]),
    surfaces: surfaces.map(({ account, id: _i, role: _r, contours: _c, contourProblem: _p, ...s }) => ({
      ...s,
      leftOut: account.leftOut.map((l) => [l.why, l.count]),
    })),
    contourLines: result.contours.get(ground)!.list.map((c) => [c.elevation, c.closed, c.line.length, sum(c.line)]),
    queries: queries.map((q) => [q.key, q.weight, q.text]),
  });
}

describe('the demo projects', () => {
  for (const [name, make] of Object.entries(PROJECTS))
    it(`${name}: points, lines, surfaces, contours, comparisons and queries are as they were`, async () => {
      const figures = await figuresOf(make());
      if (process.env.UPDATE_FIGURES) {
        const all = JSON.parse(readFileSync(FILE, { encoding: 'utf8', flag: 'a+' }) || '{}') as Record<string, unknown>;
        writeFileSync(FILE, JSON.stringify({ ...all, [name]: figures }, null, 1) + '\n');
      }
      const kept = JSON.parse(readFileSync(FILE, 'utf8')) as Record<string, unknown>;
      expect(figures).toEqual(kept[name]);
    });
});
