import { describe, expect, it } from 'vitest';
import { applyChange, type Change, type ProjectDocument, type SurfaceRow } from '#core/project';
import { StageMemory } from '#core/stages';
import { elevationIn, triangleWalk, type Surface } from '#core/terrain';
import { surveyOf } from './survey-of.ts';

const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};
const withRow = (doc: ProjectDocument, row: SurfaceRow, surface = 'ground'): ProjectDocument =>
  apply(doc, { op: 'surface.row', surface, row });
const GRID = Array.from({ length: 25 }, (_, i) => `${i + 1},${(i % 5) * 5},${Math.floor(i / 5) * 5},${10 + (i % 5)},GR`); // prettier-ignore
const square = (low: number, high: number): number[] => [low, low, high, low, high, high, low, high];
const height = (s: Surface, x: number, y: number): number => {
  const t = triangleWalk(s)(x, y);
  return t < 0 ? NaN : elevationIn(s, t, x, y);
};
const other = (doc: ProjectDocument, id: string, rows: SurfaceRow[]): ProjectDocument =>
  apply(doc, { op: 'surface.add', surface: { ...doc.surfaces[0], id, name: id, role: 'other', rows } });
/** A pad 14 m up over the middle, of four spot heights. */
const PAD: SurfaceRow[] = square(6, 14).flatMap((v, i, all): SurfaceRow[] =>
  i % 2 ? [] : [{ id: `s${i}`, on: true, kind: 'spot', x: v, y: all[i + 1], z: 14 }],
);

describe('points of a surface by hand', () => {
  it('stand elsewhere, higher, or not at all, by their records', () => {
    const { doc, run } = surveyOf(GRID);
    // Row 13 of the file is the middle one, at 10, 10.
    const moved = withRow(doc, { id: 'm', on: true, kind: 'move', points: ['f0:13'], by: { x: 1, y: -0.5, z: 2 } });
    const { surface, account } = run(moved).surfaces[0];
    expect(account.rows.m).toBe(1);
    expect(height(surface, 11, 9.5)).toBe(14);
    expect([...surface.x].filter((x, v) => x === 10 && surface.y[v] === 10)).toEqual([]);
    // Its record, and what else is made of it, stays.
    expect(run(moved).points.z[12]).toBe(12);
    const omitted = withRow(doc, { id: 'o', on: true, kind: 'omit', points: ['f0:13', 'f0:14'] });
    const without = run(omitted).surfaces[0];
    expect([without.surface.x.length, without.account.rows.o]).toEqual([23, 2]);
    expect(without.account.leftOut).toMatchObject([{ why: 'deleted by hand from this surface', count: 2 }]);
  });

  it('follow the record when the survey gives it another place', () => {
    const { doc, run } = surveyOf(GRID);
    const moved = withRow(doc, { id: 'm', on: true, kind: 'move', points: ['f0:13'], by: { x: 0, y: 0, z: 2 } });
    const edited = apply(moved, { op: 'points.edit', edits: { 'f0:13': { set: { z: 20 }, undo: [] } } });
    expect(height(run(edited).surfaces[0].surface, 10, 10)).toBe(22);
  });

  it('are asked about when their records are gone', () => {
    const { doc, run } = surveyOf(GRID);
    const lost = run(withRow(doc, { id: 'm', on: true, kind: 'move', points: ['f9:1'], by: { x: 1, y: 0, z: 0 } }));
    expect(lost.surfaces[0].account.rows.m).toBeNull();
    expect(lost.queries.filter((q) => q.kind === 'recipe-source-gone').map((q) => q.text)).toEqual([
      'Points of “Ground” were moved by hand, and are no longer in the project. Delete the row.',
    ]);
  });
});

describe('breaklines of a surface', () => {
  it('drawn on it are sides of its triangles at their elevations', () => {
    const { doc, run } = surveyOf(GRID);
    const course = [{ x: 1, y: 7, z: 30 }, { x: 11, y: 8, z: 32 }, { x: 19, y: 7, z: 30 }]; // prettier-ignore
    const { surface, account } = run(withRow(doc, { id: 'b', on: true, kind: 'breakline', course })).surfaces[0];
    expect(account.rows.b).toBe(3);
    expect(height(surface, 6, 7.5)).toBeCloseTo(31, 9);
    expect(surface.breakSides.some((b) => b === 1)).toBe(true);
  });
});

describe('a surface made from another', () => {
  it('has its points and breaklines, of all of it or inside a ring', () => {
    const { doc, run } = surveyOf(GRID);
    const copy = (ring: number[] | null): number =>
      run(other(doc, 'copy', [{ id: 'g', on: true, kind: 'surface', surface: 'ground', ring }])).surfaces[1].surface.x.length; // prettier-ignore
    expect(copy(null)).toBe(25);
    expect(copy(square(-1, 11))).toBe(9);
  });

  it('follows it', () => {
    const { doc, run } = surveyOf(GRID);
    const two = other(doc, 'copy', [{ id: 'g', on: true, kind: 'surface', surface: 'ground', ring: null }]);
    const edited = apply(two, { op: 'points.edit', edits: { 'f0:13': { set: { z: 20 }, undo: [] } } });
    expect(height(run(edited).surfaces[1].surface, 10, 10)).toBe(20);
  });

  it('takes its place inside a boundary, with a closed seam', () => {
    const { doc, run } = surveyOf(GRID);
    const padded = withRow(other(doc, 'pad', PAD), { id: 'l', on: true, kind: 'lay-in', surface: 'pad', ring: null });
    const result = run(padded);
    const { surface, account } = result.surfaces[0];
    expect(account.rows.l).toBe(2);
    expect([height(surface, 8, 9), height(surface, 0, 0), height(surface, 20, 20)]).toEqual([14, 10, 14]);
    expect(result.summary.surfaces[0].planArea).toBeCloseTo(400, 9);
    // It stands in front of what it is laid into, wherever the document has it.
    const first = { ...padded, surfaces: [...padded.surfaces].reverse() };
    expect(height(run(first).surfaces[1].surface, 8, 9)).toBe(14);
  });

  it('is never made from itself', () => {
    const { doc } = surveyOf(GRID);
    const two = other(doc, 'a', [{ id: 'g', on: true, kind: 'surface', surface: 'ground', ring: null }]);
    const three = other(two, 'b', [{ id: 'a', on: false, kind: 'lay-in', surface: 'a', ring: null }]);
    const round = (surface: string): Change => ({ op: 'surface.row', surface: 'ground', row: { id: 'r', on: true, kind: 'surface', surface, ring: null } }); // prettier-ignore
    for (const change of [round('ground'), round('a'), round('b')])
      expect(applyChange(three, change)).toMatchObject({ ok: false, reason: expect.stringMatching(/itself/) });
  });

  it('is asked about when the other is deleted', () => {
    const { doc, run } = surveyOf(GRID);
    const padded = withRow(other(doc, 'pad', PAD), { id: 'l', on: true, kind: 'lay-in', surface: 'pad', ring: null });
    const gone = run(apply(padded, { op: 'surface.remove', id: 'pad' }));
    expect(gone.surfaces[0].account.rows.l).toBeNull();
    expect(gone.queries.some((q) => q.kind === 'recipe-source-gone' && q.text.includes('laid into “Ground”'))).toBe(
      true,
    );
  });
});

describe('a boundary that is found', () => {
  it('opens the surface where sides at the rim are long', () => {
    // Without the last row but its ends, the far side is 20 m long.
    const { doc, run } = surveyOf(GRID.filter((_, i) => i < 20 || i === 20 || i === 24));
    const { account } = run(withRow(doc, { id: 'f', on: true, kind: 'found-boundary', longest: 12 })).surfaces[0];
    expect(account.rows.f).toBeGreaterThan(0);
  });
});

describe('what is asked of a surface', () => {
  const checked = [...GRID, ...Array.from({ length: 21 }, (_, i) => `C${i},${1 + (i % 7) * 2.5},${2 + Math.floor(i / 7) * 6},${(10.3 + (1 + (i % 7) * 2.5) / 5).toFixed(3)},CK`)]; // prettier-ignore
  const row = (within: number | null): SurfaceRow => ({ id: 'c', on: true, kind: 'checks', rule: { codes: ['CK'] }, within }); // prettier-ignore
  const asked = (queries: { kind: string }[]): number => queries.filter((q) => q.kind === 'check-shots').length;

  it('follows the class that is wanted, though no triangle moves', () => {
    const { doc, run } = surveyOf(checked);
    const memory = new StageMemory();
    expect(asked(run(withRow(doc, row(null)), memory).queries)).toBe(0);
    expect(asked(run(withRow(doc, row(0.1)), memory).queries)).toBe(1);
    expect(asked(run(withRow(doc, row(1)), memory).queries)).toBe(0);
  });

  it('follows the contour interval, by which a lone top is told', () => {
    const top = GRID.map((r, i) => (i === 12 ? '13,10,10,13.6,GR' : r));
    const { doc, run } = surveyOf(top);
    const memory = new StageMemory();
    const peaks = (interval: number): number => {
      const set = apply(doc, { op: 'settings.set', settings: { spike: 3 } });
      const edited = apply(set, { op: 'surface.edit', id: 'ground', set: { interval } });
      return run(edited, memory).queries.filter((q) => q.kind === 'lone-peak').length;
    };
    expect([peaks(1), peaks(0.1)]).toEqual([0, 1]);
  });
});

describe('lines of a surface', () => {
  // A kerb of four shots through the grid, 0.2 m above it.
  const kerb = [...GRID, ...[2, 7, 12, 17].map((x, i) => `K${i},${x},7.5,${(10.2 + x / 5).toFixed(3)},KT1${i === 0 ? ' BEG' : i === 3 ? ' END' : ''}`)]; // prettier-ignore

  it('are raised with all their points, in this surface alone', () => {
    const { doc, run } = surveyOf(kerb);
    const plain = run(doc);
    expect(height(plain.surfaces[0].surface, 9.5, 7.5)).toBeCloseTo(10.2 + 9.5 / 5, 9);
    const raised = run(withRow(doc, { id: 'r', on: true, kind: 'raise-lines', lines: ['KT1'], by: 0.15 }));
    expect(raised.surfaces[0].account.rows.r).toBe(1);
    expect(height(raised.surfaces[0].surface, 9.5, 7.5)).toBeCloseTo(10.35 + 9.5 / 5, 9);
    expect([...raised.points.z]).toEqual([...plain.points.z]);
    const lost = run(withRow(doc, { id: 'r', on: true, kind: 'raise-lines', lines: ['XX9'], by: 0.15 }));
    expect(lost.queries.find((q) => q.kind === 'recipe-source-gone')?.text).toBe('XX9 was raised in “Ground”, and is no longer there. Delete the row.'); // prettier-ignore
  });

  it('bring their points alone where the row says so: no side is held', () => {
    const { doc, run } = surveyOf(kerb);
    const sides = (pointsOnly: boolean): number => {
      const row: SurfaceRow = {
        id: 'lines',
        on: true,
        kind: 'lines',
        codes: null,
        ...(pointsOnly ? { pointsOnly } : {}),
      };
      return run(withRow(doc, row)).surfaces[0].surface.breakSides.reduce((sum, b) => sum + b, 0);
    };
    expect(sides(false)).toBeGreaterThan(0);
    expect(sides(true)).toBe(0);
  });

  it('that are drawn are asked about where they cross others, and the remedy deletes the drawn one', () => {
    const { doc, run } = surveyOf(kerb);
    const course = [{ x: 9, y: 3, z: 20 }, { x: 9, y: 12, z: 20 }]; // prettier-ignore
    const asked = run(withRow(doc, { id: 'b', on: true, kind: 'breakline', course })).queries.find((q) => q.kind === 'meeting-breaklines' && q.text.includes('drawn')); // prettier-ignore
    expect(asked?.text).toMatch(
      /KT1 at \d+\.\d+ and a drawn breakline at 20\.000 cross|a drawn breakline at 20\.000 and KT1/,
    );
    const deletes = asked!.remedies.find((r) => r.label === 'Delete the drawn breakline')!;
    expect(deletes.change).toEqual({ op: 'surface.rowRemove', surface: 'ground', id: 'b' });
  });

  it('come in as contours where they are level; one that is not is left out and asked about', () => {
    const level = [3, 9, 15].map((x, i) => `${200 + i},${x},17.5,15,BT5${i === 0 ? ' BEG' : ''}`);
    const uneven = [3, 9, 15].map((x, i) => `${300 + i},${x},2.5,${11 + i / 10},BT7${i === 0 ? ' BEG' : ''}`);
    const { doc, run } = surveyOf([...GRID, ...level, ...uneven]);
    const off: SurfaceRow = { id: 'lines', on: false, kind: 'lines', codes: null };
    const made = run(withRow(withRow(doc, off), { id: 'c', on: true, kind: 'contours', codes: ['BT'] }));
    const { surface, account } = made.surfaces[0];
    expect([account.rows.c, account.lines]).toEqual([1, 1]);
    // Between its points the level one runs at its elevation, over what the ground beside it would give.
    expect(height(surface, 6, 17.5)).toBe(15);
    expect(surface.breakSides.some((b, e) => b === 1 && surface.y[surface.triangles[e]] === 2.5)).toBe(false);
    expect(made.queries.filter((q) => q.kind === 'contour-uneven').map((q) => [q.text, q.lines])).toEqual([
      ['Line BT7 is to be a contour of “Ground”, and runs from 11.000 to 11.200 m. It is left out; correct its elevations, or bring it in as a breakline.', ['BT7']], // prettier-ignore
    ]);
  });
});

describe('contours that do not go with the others', () => {
  // Contours a metre apart, 4 m from one another.
  const contour = (i: number, z: number): string[] => [0, 4, 8, 12, 16, 20].map((x, k) => `${100 * i + k},${x},${4 * i},${z},BT${i}${k === 0 ? ' BEG' : k === 5 ? ' END' : ''}`); // prettier-ignore
  const slope = (wrong = 23): string[] => [21, 22, wrong, 24, 25, 26].flatMap((z, i) => contour(i + 1, z));
  const contoured = (rows: string[]) => {
    const { doc, run } = surveyOf(rows);
    const asContours: SurfaceRow = { id: 'c', on: true, kind: 'contours', codes: ['BT'] };
    return { doc: withRow(withRow(doc, { id: 'lines', on: false, kind: 'lines', codes: null }), asContours), run };
  };
  const faults = ({ queries }: ReturnType<ReturnType<typeof contoured>['run']>) => queries.filter((q) => q.kind === 'contour-fault'); // prettier-ignore

  it('by a wrong elevation are asked about, and set to the one that fits in this surface alone', () => {
    const { doc, run } = contoured(slope(32));
    const asked = faults(run(doc));
    expect(asked.map((q) => q.text)).toEqual([
      'Contour BT3 at 32.000 m does not fit between its neighbours: BT2 at 22.000 m, BT4 at 24.000 m. 23.000 m would. It is in “Ground” as it is.',
    ]);
    expect(asked[0].lines).toEqual(['BT3', 'BT2', 'BT4']);
    const [set, exclude] = asked[0].remedies;
    expect(set.label).toBe('Set it to 23.000 m in this surface');
    const mended = run(apply(doc, set.change));
    expect(faults(mended)).toEqual([]);
    expect(height(mended.surfaces[0].surface, 10, 12)).toBe(23);
    expect(mended.points.z[12]).toBe(32);
    const without = run(apply(doc, exclude.change));
    expect(faults(without)).toEqual([]);
  });

  it('by a gap are bridged by a breakline at their elevation', () => {
    const all = Array.from({ length: 9 }, (_, i) => contour(i + 1, 21 + i))
      .flat()
      .filter((r) => !r.startsWith('502,'));
    // BT5 without its third point: it ends before, and BT0 begins behind.
    const cut = all.map((r) => r.startsWith('501,') ? `${r} END` : r.startsWith('503,') ? r.replace('BT5', 'BT0 BEG') : r.replace(/^(50[45],.*)BT5/, '$1BT0')); // prettier-ignore
    const { doc, run } = contoured(cut);
    const [gap, ...others] = faults(run(doc)).filter((q) => q.text.includes('gap'));
    expect(others).toEqual([]);
    expect(gap.remedies[0].change).toMatchObject({ row: { kind: 'breakline', course: expect.arrayContaining([{ x: 4, y: 20, z: 25 }, { x: 12, y: 20, z: 25 }]) as unknown } }); // prettier-ignore
    expect(faults(run(apply(doc, gap.remedies[0].change)))).toEqual([]);
  });

  it('nothing is said of an even slope, and what is said follows the elevations', () => {
    const { doc, run } = contoured(slope());
    expect(faults(run(doc))).toEqual([]);
    // What is kept from one time to the next knows that an elevation is another.
    const wrong = contoured(slope(32));
    const memory = new StageMemory();
    expect(faults(wrong.run(wrong.doc, memory))).toHaveLength(1);
    const edits = Object.fromEntries(
      [13, 14, 15, 16, 17, 18].map((row) => [`f0:${row}`, { set: { z: 23 }, undo: [] }]),
    );
    const corrected = apply(wrong.doc, { op: 'points.edit', edits });
    expect(faults(wrong.run(corrected, memory))).toEqual([]);
  });
});

describe('voids, islands and boundaries', () => {
  const rows: SurfaceRow[] = [
    { id: 'v', on: true, kind: 'void', ring: square(6, 14) },
    { id: 'i', on: true, kind: 'island', ring: square(9, 11) },
    { id: 'b', on: true, kind: 'boundary', ring: square(1, 19) },
    { id: 'f', on: true, kind: 'found-boundary', longest: 6 },
  ];

  it('go in and out without a triangle made anew, and give what a rebuild gives', () => {
    const { doc, run } = surveyOf(GRID);
    const memory = new StageMemory();
    const first = run(doc, memory).surfaces[0].surface;
    const made = memory.computed['triangles made'];
    let now = doc;
    for (const row of rows) {
      now = withRow(now, row);
      const kept = run(now, memory).surfaces[0].surface;
      expect(kept).toEqual(run(now).surfaces[0].surface);
      expect(kept.triangles).not.toEqual(first.triangles);
    }
    for (const { id } of rows) now = apply(now, { op: 'surface.rowRemove', surface: 'ground', id });
    expect(run(now, memory).surfaces[0].surface).toEqual(first);
    expect(memory.computed['triangles made']).toBe(made);
  });
});
