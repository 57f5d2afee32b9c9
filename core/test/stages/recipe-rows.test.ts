import { describe, expect, it } from 'vitest';
import {
  applyChange,
  newDocument,
  upgradeDocument,
  type Change,
  type ProjectDocument,
  type SurfaceRow,
} from '#core/project';
import { groundFinder } from '#core/terrain';
import { surveyOf } from './survey-of.ts';

const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};
const withRow = (doc: ProjectDocument, row: SurfaceRow): ProjectDocument =>
  apply(doc, { op: 'surface.row', surface: 'ground', row });
const GRID = Array.from({ length: 25 }, (_, i) => `${i + 1},${(i % 5) * 5},${Math.floor(i / 5) * 5},${10 + (i % 5)},GR`); // prettier-ignore
const inner = (low: number, high: number): number[] => [low, low, high, low, high, high, low, high];

describe('points by a rule', () => {
  it('are excluded from the surface, counted by their row, and back when it is off', () => {
    const { doc, run } = surveyOf(GRID);
    const row: SurfaceRow = { id: 'r', on: true, kind: 'exclude-points', rule: { elevations: [12.5, 20] } };
    const without = run(withRow(doc, row)).surfaces[0];
    expect(without.surface.x.length).toBe(15);
    expect(without.account.rows.r).toBe(10);
    expect(without.account.leftOut).toMatchObject([{ why: 'excluded by a rule of the recipe', count: 10 }]);
    expect(run(withRow(doc, { ...row, on: false })).surfaces[0].surface.x.length).toBe(25);
  });

  it('follow an edited elevation that takes a point over the limit', () => {
    const { doc, run } = surveyOf(GRID);
    const limited = withRow(doc, { id: 'r', on: true, kind: 'exclude-points', rule: { elevations: [12.5, 20] } });
    const edited = apply(limited, { op: 'points.edit', edits: { 'f0:1': { set: { z: 15 }, undo: [] } } });
    expect(run(edited).surfaces[0].account.rows.r).toBe(11);
  });

  it('with no part in it mean none', () => {
    const { doc, run } = surveyOf(GRID);
    expect(run(withRow(doc, { id: 'r', on: true, kind: 'exclude-points', rule: {} })).surfaces[0].surface.x.length).toBe(25); // prettier-ignore
  });

  it('make a surface of their own', () => {
    const { doc, run } = surveyOf(GRID);
    const row: SurfaceRow = { id: 'r', on: true, kind: 'points', rule: { area: inner(-1, 11) } };
    const part = { ...doc.surfaces[0], id: 'part', name: 'Part', role: 'other' as const, rows: [row] };
    const made = run(apply(doc, { op: 'surface.add', surface: part })).surfaces[1];
    expect([made.surface.x.length, made.account.rows.r]).toEqual([9, 9]);
  });
});

describe('voids and islands', () => {
  it('take their area out of the surface and give an island back', () => {
    const { doc, run } = surveyOf(GRID);
    const area = (d: ProjectDocument): number => run(d).summary.surfaces[0].planArea;
    const holed = withRow(doc, { id: 'v', on: true, kind: 'void', ring: inner(4, 16) });
    expect(area(holed)).toBeCloseTo(400 - 144, 6);
    const island = withRow(holed, { id: 'i', on: true, kind: 'island', ring: inner(8, 12) });
    expect(area(island)).toBeCloseTo(400 - 144 + 16, 6);
    expect(area(withRow(holed, { id: 'v2', on: true, kind: 'void', ring: inner(17, 19) }))).toBeCloseTo(400 - 144 - 4, 6); // prettier-ignore
    // Outside the surface a void takes nothing.
    expect(area(withRow(doc, { id: 'v', on: true, kind: 'void', ring: inner(40, 50) }))).toBeCloseTo(400, 6);
  });
});

// Two kerbs that cross at 5, 5: one at elevation 10, the other at 12.
const CROSSING = ['1,0,0,10,KT1 BEG', '2,10,10,10,KT1 END', '3,0,10,12,ED1 BEG', '4,10,0,12,ED1 END'];

describe('breaklines that meet at two elevations', () => {
  const { doc, run } = surveyOf(CROSSING);
  const asked = (d: ProjectDocument) => run(d).queries.filter((q) => q.kind === 'meeting-breaklines');
  const heightAt = (d: ProjectDocument): number => {
    const { x, y, z } = run(d).surfaces[0].surface;
    return z[x.findIndex((v, i) => v === 5 && y[i] === 5)];
  };

  it('are asked about once, with both elevations, the mean and each line as remedies', () => {
    const [query, ...more] = asked(doc);
    expect(more).toEqual([]);
    expect(query.text).toBe('Breaklines KT1 at 10.000 and ED1 at 12.000 cross at E 5.00 N 5.00, 2.000 m apart. The surface has 10.000 there. Which is right?'); // prettier-ignore
    expect(query.remedies.map((r) => r.label)).toEqual([
      'Use KT1’s 10.000',
      'Use ED1’s 12.000',
      'Use the mean, 11.000',
      'Exclude ED1 from the ground',
      'Exclude KT1 from the ground',
    ]);
  });

  it('have the elevation that a remedy chooses, are asked about no more, and again when it is undone', () => {
    const [query] = asked(doc);
    const chosen = [10, 12, 11].map((z, i) => ({ z, change: query.remedies[i].change }));
    for (const { z, change } of chosen) {
      const done = apply(doc, change);
      expect([heightAt(done), asked(done)]).toEqual([z, []]);
      const applied = applyChange(doc, change);
      if (applied.ok) expect(apply(done, applied.inverse)).toEqual(doc);
    }
    expect(asked(apply(doc, query.remedies[3].change))).toEqual([]);
  });

  it('follow the rule of the surface: mean, highest, lowest, or the code that is listed first', () => {
    const by = (meeting: 'mean' | 'highest' | 'lowest' | 'code') =>
      heightAt(apply(doc, { op: 'surface.edit', id: 'ground', set: { meeting } }));
    expect([by('mean'), by('highest'), by('lowest')]).toEqual([11, 12, 10]);
    // In the list that ships, ED stands before KT.
    expect(by('code')).toBe(12);
  });

  it('keep a decision that lost its meeting as a query, not in silence', () => {
    const chosen = apply(doc, asked(doc)[0].remedies[2].change);
    const moved = apply(chosen, { op: 'points.edit', edits: { 'f0:4': { set: { x: 10, y: 9 }, undo: [] } } });
    const lost = run(moved).queries.filter((q) => q.kind === 'recipe-source-gone');
    expect(lost).toHaveLength(1);
    expect(lost[0].text).toContain('where KT1 and ED1 meet');
  });
});

describe('coincident points', () => {
  const rows = [...GRID, '30,10.004,10,9,GR'];

  it.each([
    ['first', 12],
    ['last', 9],
    ['highest', 12],
    ['lowest', 9],
    ['mean', 10.5],
  ] as const)('are one by the rule “%s”', (keep, z) => {
    const { doc, run } = surveyOf(rows);
    const { surface } = run(apply(doc, { op: 'surface.edit', id: 'ground', set: { keep } })).surfaces[0];
    expect(surface.x.length).toBe(25);
    const at = surface.x.findIndex((x, i) => Math.abs(x - 10) < 0.01 && Math.abs(surface.y[i] - 10) < 0.01);
    expect(surface.z[at]).toBe(z);
  });
});

describe('edits by hand', () => {
  const { doc, run } = surveyOf(GRID);
  const surfaceOf = (d: ProjectDocument) => run(d).surfaces[0];
  const elevation = (d: ProjectDocument, x: number, y: number): number =>
    groundFinder(surfaceOf(d).surface).at(x, y)!.elevation;
  const lost = (d: ProjectDocument): string[] =>
    run(d).queries.flatMap((q) => (q.kind === 'recipe-source-gone' ? [q.text] : []));

  it('raise an area, tilt one onto three heights, even one out, add a spot height', () => {
    const raised = withRow(doc, { id: 'a', on: true, kind: 'raise', ring: inner(4, 11), by: 0.5 });
    expect(elevation(raised, 5, 5)).toBeCloseTo(11.5, 9);
    expect(elevation(raised, 15, 15)).toBeCloseTo(13, 9);
    expect(surfaceOf(raised).account.rows.a).toBe(4);
    const onto = [{ x: 1, y: 1, z: 20 }, { x: 19, y: 1, z: 20 }, { x: 10, y: 19, z: 22 }]; // prettier-ignore
    const tilted = withRow(doc, { id: 'a', on: true, kind: 'tilt', ring: inner(-1, 21), onto });
    for (const p of onto) expect(elevation(tilted, p.x, p.y)).toBeCloseTo(p.z, 9);
    const bump = withRow(doc, { id: 's', on: true, kind: 'spot', x: 7.5, y: 7.5, z: 30 });
    expect([elevation(bump, 7.5, 7.5), surfaceOf(bump).surface.x.length]).toEqual([30, 26]);
    const evened = withRow(bump, { id: 'e', on: true, kind: 'even-out', ring: inner(7, 8), strength: 1, rounds: 1 });
    // Four corners at 11 and 12 lie evenly around it.
    expect(elevation(evened, 7.5, 7.5)).toBeCloseTo(11.5, 9);
  });

  it('swap a side and delete a triangle', () => {
    const uneven = apply(doc, { op: 'points.edit', edits: { 'f0:1': { set: { z: 14 }, undo: [] } } });
    const before = elevation(uneven, 2.5, 2.5);
    // One of the two diagonals of the first square is a side; the other is not.
    const [ends, other] = [[0, 0, 5, 5], [5, 0, 0, 5]]; // prettier-ignore
    const swap = (e: number[]): ProjectDocument => withRow(uneven, { id: 'w', on: true, kind: 'swap', ends: e });
    const which = lost(swap(ends)).length === 0 ? ends : other;
    expect(elevation(swap(which), 2.5, 2.5)).not.toBeCloseTo(before, 3);
    expect(lost(swap(which === ends ? other : ends))[0]).toContain('was swapped by hand');
    const holed = withRow(doc, { id: 'd', on: true, kind: 'delete-triangles', places: [12, 11] });
    expect(run(holed).summary.surfaces[0].planArea).toBeCloseTo(400 - 12.5, 9);
    expect(groundFinder(surfaceOf(holed).surface).at(12, 11)).toBeNull();
  });

  it('hold when the survey changes, in their order, and come undone one by one', () => {
    const raise = { op: 'surface.row', surface: 'ground', row: { id: 'a', on: true, kind: 'raise', ring: inner(4, 11), by: 1 } } as const; // prettier-ignore
    const void_ = { op: 'surface.row', surface: 'ground', row: { id: 'v', on: true, kind: 'void', ring: inner(12, 18) } } as const; // prettier-ignore
    const both = [raise, void_].reduce<ProjectDocument>((d, c) => apply(d, { ...c, row: { ...c.row, ring: [...c.row.ring] } }), doc); // prettier-ignore
    const edited = apply(both, { op: 'points.edit', edits: { 'f0:7': { set: { z: 50 }, undo: [] } } });
    expect(elevation(edited, 5, 5)).toBeCloseTo(51, 9);
    const undone = apply(edited, { op: 'surface.rowRemove', surface: 'ground', id: 'a' });
    expect(elevation(undone, 5, 5)).toBeCloseTo(50, 9);
    expect(groundFinder(surfaceOf(undone).surface).at(15, 15)).toBeNull();
  });

  it('that find their place no more are queries, and change nothing', () => {
    const nowhere = withRow(doc, { id: 'a', on: true, kind: 'raise', ring: inner(40, 50), by: 1 });
    expect(lost(nowhere)).toEqual(['A manual edit of “Ground” no longer finds anything at its place. Delete the row, or edit there again.']); // prettier-ignore
    expect(surfaceOf(nowhere).surface.z).toEqual(surfaceOf(doc).surface.z);
    expect(lost(withRow(doc, { id: 'a', on: false, kind: 'raise', ring: inner(40, 50), by: 1 }))).toEqual([]);
  });

  it('thin to a stated height, and say which points they left out', () => {
    const thin = withRow(doc, { id: 't', on: true, kind: 'thin', error: 0.01 });
    const { surface, account } = surfaceOf(thin);
    expect(surface.x.length).toBeLessThan(25);
    expect(account.rows.t).toBe(25 - surface.x.length);
    expect(account.leftOut.at(-1)).toMatchObject({ count: 25 - surface.x.length });
    for (const [x, y] of [[5, 5], [10, 15], [15, 10]]) expect(elevation(thin, x, y)).toBeCloseTo(10 + x / 5, 9); // prettier-ignore
  });
});

describe('a document from before', () => {
  it('has surfaces that keep the first, as it was', () => {
    const old = newDocument();
    const { keep: _, meeting: __, smooth: ___, ...recipe } = old.surfaces[0];
    const upgraded = upgradeDocument({ ...old, surfaces: [recipe as (typeof old.surfaces)[0]] });
    expect(upgraded.surfaces[0]).toMatchObject({ keep: null, meeting: null, smooth: null });
    expect(upgradeDocument(upgraded)).toEqual(upgraded);
  });
});
