import { describe, expect, it } from 'vitest';
import {
  applyChange,
  changeSchema,
  proposedRecipe,
  type Change,
  type Comparison,
  type PadRow,
  type ProjectDocument,
} from '#core/project';
import { surveyOf } from './survey-of.ts';

const apply = (doc: ProjectDocument, ...changes: Change[]): ProjectDocument =>
  changes.reduce((d, change) => {
    const applied = applyChange(d, change);
    if (!applied.ok) throw new Error(applied.reason);
    return applied.document;
  }, doc);

// Level ground at 10 m, 80 m square; a pad of 20 × 10 m in its middle.
const GROUND = Array.from({ length: 25 }, (_, i) => `${i + 1},${(i % 5) * 20},${Math.floor(i / 5) * 20},10,GR`);
const PAD: Omit<PadRow, 'id' | 'on' | 'kind'> = { surface: 'ground', ring: [30, 35, 50, 35, 50, 45, 30, 45], level: 13, levelAt: 'centre', gradient: 0, direction: 0, cutSlope: 1.5, fillSlope: 2, corners: 'mitred', sagitta: 0.01, batter: 'square' }; // prettier-ignore
const COMPARED: Comparison = { id: 'c', name: 'Pad', surface: 'ground', against: { surface: 'pad' }, within: null };
/** A pad 3 m up, with batters of 1 : 2: a prismatoid. */
const FILL = 200 * 3 + (60 * 2 * 9) / 2 + (4 * 4 * 27) / 3;

const laid = (pad: Partial<typeof PAD> = {}, rows = GROUND) => {
  const { doc, run } = surveyOf(rows);
  const with_ = apply(doc, { op: 'surface.add', surface: proposedRecipe({ id: 'pad', name: 'Pad' }, { kind: 'pad', ...PAD, ...pad }) }, { op: 'comparison.set', comparison: COMPARED }); // prettier-ignore
  return { doc: with_, run };
};
const figures = (run: ReturnType<typeof laid>['run'], doc: ProjectDocument) => {
  const [c] = run(doc).comparisons;
  if (!c.ok) throw new Error(c.reason);
  return c;
};

const figuresReason = (run: ReturnType<typeof laid>['run'], doc: ProjectDocument): string | null => {
  const [c] = run(doc).comparisons;
  return c.ok ? null : c.reason;
};

describe('a surface that is a pad', () => {
  it('is laid into its ground, and compared with it exactly', () => {
    const { doc, run } = laid();
    const { volume, deepest, byHand } = figures(run, doc);
    expect(volume.fill).toBeCloseTo(FILL, 6);
    expect([volume.cut, deepest.cut]).toEqual([expect.closeTo(0, 9), null]);
    expect(deepest.fill!.depth).toBeCloseTo(3, 9);
    // With a section where it bends the prismoidal formula is exact.
    const methods = byHand.ok && Object.fromEntries(byHand.methods.map((m) => [m.method, m.fill]));
    expect(methods && methods.prismoidal / FILL).toBeCloseTo(1, 2);
  });

  it('follows the ground when it is surveyed anew, and its own level', () => {
    const { doc, run } = laid();
    const raised = apply(doc, { op: 'points.edit', edits: Object.fromEntries(GROUND.map((_, i) => [`f0:${i + 1}`, { set: { z: 11 }, undo: [] }])) }); // prettier-ignore
    expect(figures(run, raised).volume.fill).toBeCloseTo(200 * 2 + (60 * 2 * 4) / 2 + (4 * 4 * 8) / 3, 6);
    const row = doc.surfaces.find((s) => s.id === 'pad')!.rows[0] as PadRow;
    const higher = apply(doc, { op: 'surface.row', surface: 'pad', row: { ...row, level: 12 } });
    expect(figures(run, higher).volume.fill).toBeCloseTo(200 * 2 + (60 * 2 * 4) / 2 + (4 * 4 * 8) / 3, 6);
  });

  it('of several pads is all of them, in their order', () => {
    const { doc, run } = laid();
    const row = doc.surfaces.find((s) => s.id === 'pad')!.rows[0] as PadRow;
    const far = apply(doc, { op: 'surface.row', surface: 'pad', row: { ...row, id: 'second', level: 11, ring: [5, 5, 15, 5, 15, 15, 5, 15] } }); // prettier-ignore
    expect(figures(run, far).volume.fill).toBeCloseTo(FILL + 100 + (40 * 2) / 2 + (4 * 4) / 3, 6);
  });

  it('whose batters run off the survey is asked about, with the place', () => {
    const { doc, run } = laid({ level: 40 });
    const [query] = run(doc).queries.filter((q) => q.kind === 'pad-off-survey');
    expect(query).toMatchObject({ stage: 'quantities', weight: 'look' });
    expect(query.text).toContain('run off the survey before they meet the ground');
    expect(query.place).not.toBeNull();
  });

  it('that cannot be made has no triangles, and says why', () => {
    const { doc, run } = laid({ ring: [900, 900, 910, 900, 910, 910] });
    expect(run(doc).surfaces.find((s) => s.id === 'pad')!.account.proposed).toMatchObject([{ ok: false, reason: 'There is no ground under the pad.' }]); // prettier-ignore
    expect(run(doc).queries.some((q) => q.kind === 'recipe-source-gone' && q.text.includes('A pad of “Pad”'))).toBe(
      true,
    );
    expect(run(doc).comparisons[0].ok).toBe(false);
  });
});

describe('proposed ground of several parts', () => {
  const account = (doc: ProjectDocument, run: ReturnType<typeof laid>['run']) => run(doc).surfaces.find((s) => s.id === 'pad')!.account.proposed!; // prettier-ignore
  const pad = (doc: ProjectDocument): PadRow => doc.surfaces.find((s) => s.id === 'pad')!.rows[0] as PadRow;
  const SLOPES = { cutSlope: 1.5, fillSlope: 2, corners: 'mitred', sagitta: 0.01 } as const;

  it('has benches in its batters where they are asked for', () => {
    const { doc, run } = laid({ benches: { every: 1, width: 1.5 } });
    // Layers of 1 m, each 3.5 m farther out; Simpson's rule is exact.
    const area = (out: number): number => (20 + 2 * out) * (10 + 2 * out);
    const layer = (from: number): number => (area(from) + 4 * area(from + 1) + area(from + 2)) / 6;
    expect(figures(run, doc).volume.fill).toBeCloseTo(layer(0) + layer(3.5) + layer(7), 6);
  });

  it('a plane through points follows them when they are measured anew', () => {
    const { doc, run } = laid({ through: ['f0:1', 'f0:5', 'f0:21'] });
    // In the ground's own plane, until one of its points is 8 m higher.
    expect(account(doc, run)).toMatchObject([{ ok: true, through: { level: 10, gradient: 0, points: 3, off: 0 } }]);
    const raised = apply(doc, { op: 'points.edit', edits: { 'f0:5': { set: { z: 18 }, undo: [] } } });
    const [told] = account(raised, run);
    expect(told).toMatchObject({ ok: true, through: { gradient: expect.closeTo(0.1, 9), direction: expect.closeTo(Math.PI / 2, 9), level: expect.closeTo(14, 9) } }); // prettier-ignore
    const without = apply(doc, { op: 'points.edit', edits: { 'f0:5': { set: { off: true }, undo: [] } } });
    expect(run(without).queries.some((q) => q.text.includes('A pad of “Pad”') || q.text.includes('cannot be made'))).toBe(account(without, run)[0].ok === false); // prettier-ignore
  });

  it('through points that are gone, or in one line, is not made and says why', () => {
    for (const through of [
      ['f0:1', 'f0:2', 'f0:99'],
      ['f0:1', 'f0:2', 'f0:3'],
    ]) {
      const { doc, run } = laid({ through });
      expect(account(doc, run)).toMatchObject([{ ok: false, reason: expect.stringContaining('points') }]);
      expect(figuresReason(run, doc)).not.toBeNull();
    }
  });

  it('a ditch along a line takes its section all along it, beside a pad', () => {
    const { doc, run } = laid();
    const ditch = { id: 'ditch', on: true, kind: 'strip' as const, surface: 'ground', course: [{ x: 10, y: 8, z: 9 }, { x: 40, y: 8, z: 9 }], template: [{ offset: -0.5, height: 0 }, { offset: 0.5, height: 0 }], ...SLOPES }; // prettier-ignore
    const both = apply(doc, { op: 'surface.row', surface: 'pad', row: ditch });
    const { volume } = figures(run, both);
    expect(volume.fill).toBeCloseTo(FILL, 6);
    expect(volume.cut).toBeCloseTo(30 + (62 * 1.5) / 2 + (4 * 2.25) / 3, 6);
  });

  it('what comes later is laid into what comes before it', () => {
    const { doc, run } = laid();
    // Topsoil off everywhere, then the pad: laid into ground that is 0.5 m lower.
    const lower = apply(doc, { op: 'surface.row', surface: 'pad', row: { id: 'soil', on: true, kind: 'offset', surface: 'ground', ring: null, by: -0.5 }, at: 0 }); // prettier-ignore
    const { volume } = figures(run, lower);
    const h = 3.5;
    // Above the old ground the pad is as before; below it, all that it does not cover is cut by 0.5 m.
    expect(volume.fill).toBeCloseTo(FILL, 4);
    const top = (d: number): number => 200 + 60 * 2 * d + 4 * 4 * d * d;
    const below = ((top(3) + top(h) + 4 * top(3.25)) / 6) * 0.5;
    expect(volume.cut).toBeCloseTo(6400 * 0.5 - below, 4);
    expect(run(lower).queries.filter((q) => q.kind === 'recipe-source-gone')).toEqual([]);
    // The other way round there is nothing left of the pad.
    const last = apply(lower, { op: 'surface.row', surface: 'pad', row: lower.surfaces.find((s) => s.id === 'pad')!.rows[0], at: 1 }); // prettier-ignore
    expect(figures(run, last).volume.cut).toBeGreaterThan(volume.cut);
  });

  it('is refused where it makes no sense, with nothing changed', () => {
    const { doc } = laid();
    const refused = (row: object): boolean => !changeSchema.safeParse({ op: 'surface.row', surface: 'pad', row: { ...pad(doc), ...row } }).success; // prettier-ignore
    expect(refused({ benches: { every: 0, width: 2 } })).toBe(true);
    expect(refused({ benches: { every: 2, width: -1 } })).toBe(true);
    expect(refused({ through: ['f0:1', 'f0:2'] })).toBe(true);
    expect(refused({ kind: 'strip', course: [{ x: 0, y: 0, z: 0 }], template: [] })).toBe(true);
    // Made from itself.
    expect(applyChange(doc, { op: 'surface.row', surface: 'pad', row: { id: 'o', on: true, kind: 'offset', surface: 'pad', ring: null, by: 1 } }).ok).toBe(false); // prettier-ignore
  });
});

describe('a heap in the ground', () => {
  it('is found, and measured down to the base that is chosen', () => {
    const cone = Array.from({ length: 12 }, (_, k) => `t${k},${40 + 8 * Math.cos((k * Math.PI) / 6)},${40 + 8 * Math.sin((k * Math.PI) / 6)},10,GR`); // prettier-ignore
    const { doc, run } = surveyOf([...GROUND.filter((_, i) => i !== 12), ...cone, 'top,40,40,15,GR']);
    const body = (6 * 64 * Math.sin(Math.PI / 6) * 5) / 3;
    for (const base of ['lowest', 'mean', 'plane', 'toe'] as const) {
      const heap = figures(run, apply(doc, { op: 'comparison.set', comparison: { ...COMPARED, against: { base } } }));
      expect(heap.volume.cut).toBeCloseTo(body, 6);
      expect(heap.heap!.toe).toHaveLength(12);
    }
    const drawn = { ...COMPARED, against: { base: 'toe' as const }, within: [31, 31, 49, 31, 49, 49, 31, 49] };
    const { volume, sd } = figures(run, apply(doc, { op: 'comparison.set', comparison: { ...drawn, sd: { plan: 0, height: 0.02 } } })); // prettier-ignore
    expect(volume.cut).toBeCloseTo(body, 6);
    expect(sd!.cut).toBeGreaterThan(0.1);
  });
});

describe('a heap above what was there before it', () => {
  const cone = Array.from({ length: 12 }, (_, k) => `t${k},${40 + 8 * Math.cos((k * Math.PI) / 6)},${40 + 8 * Math.sin((k * Math.PI) / 6)},10,GR`); // prettier-ignore
  const HEAP: Comparison = { ...COMPARED, against: { base: 'toe' }, earlier: 'before' };
  // A level pad at 9 m stands for the ground of last month: under all of the heap, or under its western half.
  const with_ = (ring: number[], comparison = HEAP) => {
    const { doc, run } = surveyOf([...GROUND.filter((_, i) => i !== 12), ...cone, 'top,40,40,15,GR']);
    const before = proposedRecipe({ id: 'before', name: 'October' }, { ...PAD, kind: 'pad', level: 9, ring, cutSlope: 0.01 }); // prettier-ignore
    return { doc: apply(doc, { op: 'surface.add', surface: before }, { op: 'comparison.set', comparison }), run };
  };
  const body = (6 * 64 * Math.sin(Math.PI / 6) * 5) / 3;
  const toeArea = 6 * 64 * Math.sin(Math.PI / 6);

  it('is told beside its bases, and is the volume once it is chosen', () => {
    const { doc, run } = with_([20, 20, 60, 20, 60, 60, 20, 60]);
    const beside = figures(run, doc);
    expect(beside.volume.cut).toBeCloseTo(body, 6);
    expect(beside.heap!.earlier).toMatchObject({ surface: 'before', volume: { above: expect.closeTo(body + toeArea, 6), below: 0 }, area: expect.closeTo(toeArea, 6) }); // prettier-ignore
    const chosen = figures(run, apply(doc, { op: 'comparison.set', comparison: { ...HEAP, against: { surface: 'before', heap: true } } })); // prettier-ignore
    expect(chosen.volume.cut).toBeCloseTo(body + toeArea, 6);
    expect(chosen.heap!.toe).toHaveLength(12);
  });

  it('says how much of the heap it lies under, and nothing where that is none', () => {
    const half = with_([20, 20, 40, 20, 40, 60, 20, 60]);
    const { earlier } = figures(half.run, half.doc).heap!;
    expect(earlier!.area).toBeGreaterThan(0.49 * toeArea);
    expect(earlier!.area).toBeLessThan(0.55 * toeArea);
    const away = with_([2, 2, 8, 2, 8, 8, 2, 8]);
    expect(figures(away.run, away.doc).heap!.earlier).toMatchObject({ volume: null, area: 0 });
  });
});

describe('the cut by materials of a comparison', () => {
  const { doc, run } = surveyOf(GROUND);
  // 2 m of cut on 200 m²; depths count from the ground as surveyed.
  const down: Comparison = { ...COMPARED, against: { level: 8 }, within: [10, 10, 30, 10, 30, 20, 10, 20] };
  const soilAndRock: Comparison['materials'] = [
    { name: 'soil', top: { depth: 0 } },
    { name: 'rock', top: { depth: 1.5 } },
  ];
  const of = (over: Partial<Comparison>) => figures(run, apply(doc, { op: 'comparison.set', comparison: { ...down, ...over } })); // prettier-ignore
  const cuts = (over: Partial<Comparison>): number[] => {
    const { materials } = of({ materials: soilAndRock, ...over });
    if (!materials || 'reason' in materials) throw new Error(materials?.reason ?? 'none');
    return materials.materials.map((m) => m.cut);
  };

  it('is below topsoil that goes first, and without what counts as neither', () => {
    expect(cuts({})).toEqual([expect.closeTo(300, 9), expect.closeTo(100, 9)]);
    expect(cuts({ strip: 0.3 })).toEqual([expect.closeTo(240, 9), expect.closeTo(100, 9)]);
    expect(cuts({ neither: 2.5 })).toEqual([0, 0]);
  });

  it('says why not, where a top has nothing in it', () => {
    const materials: Comparison['materials'] = [{ name: 'rock', top: { surface: 'nowhere' } }];
    expect(of({ materials }).materials).toMatchObject({ reason: expect.stringContaining('no longer in the project') });
  });
});

describe('what a comparison takes off', () => {
  const down: Comparison = { ...COMPARED, against: { level: 8 }, within: [10, 10, 30, 10, 30, 20, 10, 20] };
  const of = (over: Partial<Comparison>) => {
    const { doc, run } = surveyOf(GROUND);
    return figures(run, apply(doc, { op: 'comparison.set', comparison: { ...down, ...over } }));
  };

  it('weighs every point: all of them a metre too high are all of the area', () => {
    const { weighty, volume } = of({ within: null });
    expect(weighty).toHaveLength(10);
    expect(weighty[0].row).toBeGreaterThanOrEqual(0);
    expect(Math.abs(weighty[0].byMetre)).toBeGreaterThanOrEqual(Math.abs(weighty[9].byMetre));
    expect(weighty.reduce((sum, p) => sum + p.byMetre, 0)).toBeLessThan(volume.area);
  });

  it('topsoil first, over all that is compared', () => {
    const { volume, stripped } = of({ strip: 0.3 });
    expect([stripped, volume.cut]).toEqual([expect.closeTo(60, 9), expect.closeTo(340, 9)]);
  });

  it('voids, and what is no deeper than a band', () => {
    expect(of({ voids: [[12, 12, 22, 12, 22, 18, 12, 18]] }).volume.cut).toBeCloseTo(400 - 60 * 2, 9);
    const { volume, neither, byHand } = of({ neither: 2.5 });
    expect([volume.cut, volume.area, neither]).toEqual([0, expect.closeTo(200, 9), expect.closeTo(200, 9)]);
    expect(byHand).toMatchObject({ ok: false, reason: expect.stringContaining('neither') });
  });
});
