import { expect, test } from 'vitest';
import { volumeBetween, volumeToLevel } from '#core/quantities';
import { buildSurface, clipToRing, type Surface } from '#core/terrain';
import { LiveEdit } from '../../src/work/live-edit.ts';

const surfaceOf = (points: [number, number, number][]): Surface =>
  buildSurface({
    x: Float64Array.from(points, (p) => p[0]),
    y: Float64Array.from(points, (p) => p[1]),
    z: Float64Array.from(points, (p) => p[2]),
    segments: new Uint32Array(),
    longestSide: null,
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
    const change = edit.move(vertex, to[0], to[1], to[2])!;
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
  expect(edit.move(corner, 2, 2, 10)).toBeNull();
  expect(edit.move(inner, 99, 15, 10)).toBeNull();
  const back = edit.move(inner, 16, 15, 10)!;
  expect(back.contours).toEqual([]);
  expect(back.made.length).toBeGreaterThan(0);
});
