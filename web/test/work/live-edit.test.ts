import { expect, test } from 'vitest';
import { volumeBetween, volumeToLevel } from '#core/quantities';
import { buildSurface, clipToRing, evenOut, raiseArea, tiltOnto, type Surface } from '#core/terrain';
import { LiveEdit } from '../../src/work/live-edit.ts';

const surfaceOf = (points: [number, number, number][], longestSide: number | null = null): Surface =>
  buildSurface({
    x: Float64Array.from(points, (p) => p[0]),
    y: Float64Array.from(points, (p) => p[1]),
    z: Float64Array.from(points, (p) => p[2]),
    segments: new Uint32Array(),
    longestSide,
    coincidence: 0,
  }).surface;
const GRID = Array.from({ length: 49 }, (_, i): [number, number, number] => [(i % 7) * 5, Math.floor(i / 7) * 5, 10 + (i % 5)]); // prettier-ignore
const FLAT = surfaceOf([
  [-5, -5, 11.2],
  [40, -5, 11.2],
  [40, 40, 11.2],
  [-5, 40, 11.2],
]);
const RING = [3, 3, 21, 3, 21, 27, 3, 27];

const moveTo = (edit: LiveEdit, s: Surface, v: number, [x, y, z]: readonly [number, number, number]) =>
  edit.change({ kind: 'move', vertices: [v], by: { x: x - s.x[v], y: y - s.y[v], z: z - s.z[v] } });

test('volumes that follow the hand are those of the whole surface, before and after', () => {
  const ground = surfaceOf(GRID);
  const vertex = ground.x.findIndex((x, v) => x === 15 && ground.y[v] === 15);
  const edit = new LiveEdit(ground, { interval: 0.5, indexEvery: 5 }, [
    { name: 'to a level', ground: true, against: { level: 12 }, within: null },
    { name: 'to the flat', ground: true, against: { surface: FLAT }, within: RING },
    { name: 'from the flat', ground: false, against: { surface: FLAT }, within: null },
  ]);
  for (const to of [
    [16.2, 13.9, 17.5],
    [14, 16, 8],
    [15, 15, 20],
  ] as const) {
    // prettier-ignore
    const change = moveTo(edit, ground, vertex, to)!;
    const moved = surfaceOf(GRID.map((p) => (p[0] === 15 && p[1] === 15 ? [to[0], to[1], to[2]] : p)));
    const [was, is] = [ground, moved].map((s) => volumeToLevel(s, 12));
    expect(change.compared[0].cut).toBeCloseTo(is.cut - was.cut, 8);
    expect(change.compared[0].fill).toBeCloseTo(is.fill - was.fill, 8);
    const [inside, insideNow] = [ground, moved].map((s) => volumeBetween(clipToRing(s, Float64Array.from(RING)), FLAT));
    expect(change.compared[1].cut).toBeCloseTo(insideNow.cut - inside.cut, 8);
    const [flat, flatNow] = [ground, moved].map((s) => volumeBetween(FLAT, s));
    expect(change.compared[2].cut).toBeCloseTo(flatNow.cut - flat.cut, 8);
    expect(change.compared[2].fill).toBeCloseTo(flatNow.fill - flat.fill, 8);
    expect(change.volume).toBeCloseTo(-volumeToLevel(moved, 0).fill + volumeToLevel(ground, 0).fill + volumeToLevel(moved, 0).cut - volumeToLevel(ground, 0).cut, 8); // prettier-ignore
    for (const c of change.contours) expect(c.elevation % 0.5).toBe(0);
  }
});

test('where the rim is touched nothing is shown, and the hand may come back', () => {
  const ground = surfaceOf(GRID);
  const edit = new LiveEdit(ground, null, []);
  const corner = ground.x.findIndex((x, v) => x === 0 && ground.y[v] === 0);
  const inner = ground.x.findIndex((x, v) => x === 15 && ground.y[v] === 15);
  expect(moveTo(edit, ground, corner, [2, 2, 10])).toBeNull();
  expect(moveTo(edit, ground, inner, [99, 15, 10])).toBeNull();
  const back = moveTo(edit, ground, inner, [16, 15, 10])!;
  expect(back.contours).toEqual([]);
  expect(back.made.length).toBeGreaterThan(0);
});

test('a point of the rim under the hand: the whole is made anew, and volumes are those of the surface that it will be', () => {
  const ground = surfaceOf(GRID);
  const edit = new LiveEdit(ground, { interval: 0.5, indexEvery: 5 }, [{ name: 'to a level', ground: true, against: { level: 12 }, within: null }], { longestSide: 9, coincidence: 0, rounding: 0 }); // prettier-ignore
  const corner = ground.x.findIndex((x, v) => x === 0 && ground.y[v] === 0);
  // Inwards, outwards along the rim, and so far out that the longest side leaves it behind.
  for (const to of [
    [2, 1.5, 13],
    [-3, -2, 10],
    [-40, -40, 10],
  ] as const) {
    const change = moveTo(edit, ground, corner, to)!;
    const moved = surfaceOf(
      GRID.map((p) => (p[0] === 0 && p[1] === 0 ? [...to] : p)),
      9,
    );
    expect(change.volume).toBeCloseTo(under(moved) - under(ground), 7);
    expect(change.compared[0].cut).toBeCloseTo(volumeToLevel(moved, 12).cut - volumeToLevel(ground, 12).cut, 7);
  }
  const row = Array.from(ground.x, (_, v) => v).filter((v) => ground.y[v] === 30);
  const change = edit.change({ kind: 'move', vertices: row, by: { x: 0, y: 1.5, z: 0.25 } })!;
  const moved = surfaceOf(
    GRID.map(([x, y, z]) => (y === 30 ? [x, y + 1.5, z + 0.25] : [x, y, z])),
    9,
  );
  expect(change.volume).toBeCloseTo(under(moved) - under(ground), 7);
});

/** What stands under a surface, m³. */
const under = (s: Surface): number => volumeToLevel(s, 0).cut - volumeToLevel(s, 0).fill;
const shiftedGrid = (inside: (x: number, y: number) => boolean, by: { x: number; y: number; z: number }): Surface =>
  surfaceOf(GRID.map(([x, y, z]) => (inside(x, y) ? [x + by.x, y + by.y, z + by.z] : [x, y, z])));
const verticesIn = (s: Surface, inside: (x: number, y: number) => boolean): number[] =>
  Array.from(s.x, (_, v) => v).filter((v) => inside(s.x[v], s.y[v]));

test('several points under the hand give what the surface of the moved points has', () => {
  const ground = surfaceOf(GRID);
  const inside = (x: number, y: number): boolean => x >= 10 && x <= 20 && y >= 10 && y <= 20;
  const edit = new LiveEdit(ground, { interval: 0.5, indexEvery: 5 }, []);
  for (const by of [
    { x: 1.3, y: -0.7, z: 0.4 },
    { x: -5, y: 0, z: 0 },
    { x: 0.6, y: 0.2, z: -1 },
  ]) {
    // prettier-ignore
    const change = edit.change({ kind: 'move', vertices: verticesIn(ground, inside), by });
    // Five metres west they would stand on others.
    if (by.x === -5) expect(change).toBeNull();
    else expect(change!.volume).toBeCloseTo(under(shiftedGrid(inside, by)) - under(ground), 8);
  }
});

test('points at the rim go up and down under the hand too', () => {
  const ground = surfaceOf(GRID);
  const all = verticesIn(ground, (x) => x <= 5);
  const change = new LiveEdit(ground, null, []).change({ kind: 'move', vertices: all, by: { x: 0, y: 0, z: 2 } })!;
  expect(change.volume).toBeCloseTo(under(shiftedGrid((x) => x <= 5, { x: 0, y: 0, z: 2 })) - under(ground), 8);
});

test('an area is raised, tilted and evened out under the hand as its row does it', () => {
  const ground = surfaceOf(GRID);
  const edit = new LiveEdit(ground, null, []);
  const ring = [7, 7, 23, 7, 23, 23, 7, 23];
  const area = Float64Array.from(ring);
  const onto = [{ x: 8, y: 8, z: 14 }, { x: 22, y: 8, z: 15 }, { x: 8, y: 22, z: 13 }]; // prettier-ignore
  const rows = [
    [{ kind: 'raise', ring, by: -0.8 }, raiseArea(ground, area, () => -0.8)],
    [{ kind: 'tilt', ring, onto }, raiseArea(ground, area, tiltOnto(ground, onto)!)],
    [{ kind: 'even-out', ring, strength: 0.5, rounds: 3 }, evenOut(ground, area, 0.5, 3)],
  ] as const;
  for (const [asked, made] of rows)
    expect(edit.change(asked)!.volume).toBeCloseTo(under(made!.surface) - under(ground), 8);
  expect(edit.change({ kind: 'raise', ring: [90, 90, 91, 90, 91, 91], by: 1 })).toBeNull();
});
