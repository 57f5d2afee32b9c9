import fc from 'fast-check';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { decodeText, linesIn, readDxf, type DxfContent } from '#core/exchange';
import { offCourse, saidOutside } from './near-course.ts';

// Entities that are easily misread, held against what ezdxf (Debian python3-ezdxf) says of the same file.

const folder = mkdtempSync(join(tmpdir(), 'dunrik-dxf-'));
afterAll(() => rmSync(folder, { recursive: true }));

interface Truth {
  mirrored: number[][];
  tilted: number[][];
  inserts: number[][];
  texts: number[][];
  faces: Record<string, number[][][]>;
  modelPoints: number;
  arcs: Record<string, { closed: boolean; places: number[][] }>;
}
function drawn(version: string): { truth: Truth; read: DxfContent } {
  const file = join(folder, `${version}.dxf`);
  const truth = saidOutside<Truth>('drawing_kinds.py', file, version);
  const text = decodeText(readFileSync(file));
  if (!text.ok) throw new Error(text.reason);
  return { truth, read: readDxf(text.text) };
}
const on = <T extends { layer: string }>(list: readonly T[], layer: string): T[] => list.filter((e) => e.layer.toUpperCase() === layer.toUpperCase()); // prettier-ignore
const near = (got: readonly number[], wanted: readonly number[]): void => wanted.forEach((v, i) => expect(got[i]).toBeCloseTo(v, 6)); // prettier-ignore

describe.each(['R12', 'R2000', 'R2010', 'R2018'])('a drawing of %s', (version) => {
  const { truth, read } = drawn(version);

  it('counts layers by their names, whatever those are', () => {
    const counts = Object.fromEntries(Object.entries(read.layers).map(([k, v]) => [k.toLowerCase(), v]));
    expect(counts.constructor).toBe(2);
    expect(counts.tostring).toBe(1);
    expect(Object.entries(read.layers).find(([k]) => k.toLowerCase() === '__proto__')?.[1]).toBe(1);
  });

  it('holds what is in model space; what is on paper is counted apart', () => {
    expect(read.points).toHaveLength(truth.modelPoints);
    expect(on(read.polylines, 'PAPER')).toEqual([]);
    expect(read.onPaper).toBeGreaterThanOrEqual(2);
  });

  it('puts what is seen from below where it is, its arcs turned with it', () => {
    const [line] = on(read.polylines, 'MIRRORED');
    truth.mirrored.forEach(([x, y, z], i) => near([line.x[i], line.y[i], line.z[i]], [x, y, z]));
    expect(line.bulge).toEqual([-0.5, 0, 0.25, 0].map((v) => expect.closeTo(v, 9) as number));
    near(Object.values(read.inserts[0]).slice(2, 5) as number[], truth.inserts[0]);
    near([read.texts[0].x, read.texts[0].y, read.texts[0].z], truth.texts[0]);
  });

  it('puts what lies in a tilted plane into space', () => {
    const [line] = on(read.polylines, 'TILTED');
    expect(line.spatial).toBe(true);
    truth.tilted.forEach(([x, y, z], i) => near([line.x[i], line.y[i], line.z[i]], [x, y, z]));
  });

  it('reads arcs and circles as lines with arcs, wherever their plane lies', () => {
    const lines = linesIn({ kind: 'dxf', content: read, unit: 'm' });
    for (const [layer, { closed, places }] of Object.entries(truth.arcs)) {
      const line = lines.find((l) => l.code === layer)!;
      expect(line.closed).toBe(closed);
      const own = line.x.map((x, i) => [x, line.y[i], Number.isNaN(line.z[i]) ? 0 : line.z[i]]);
      const ring = closed ? [...own, own[0]] : own;
      for (const p of places) expect(offCourse(p, ring)).toBeLessThan(0.008);
      for (const p of own) expect(offCourse(p, places)).toBeLessThan(0.001);
      if (closed) continue;
      // An arc that is seen from below begins where the other ends.
      near(own[0], places[0]);
      near(own.at(-1)!, places.at(-1)!);
    }
  });

  it('reads meshes as faces, none of their records as a vertex of a line', () => {
    for (const [layer, faces] of Object.entries(truth.faces)) {
      expect(on(read.polylines, layer)).toEqual([]);
      const got = on(read.faces, layer).map(({ corners }) => [0, 3, 6, 9].map((k) => corners.slice(k, k + 3)));
      expect(got).toHaveLength(faces.length);
      for (const face of faces) {
        const key = (list: readonly (readonly number[])[]): string => [...new Set(list.map((p) => p.map((v) => v.toFixed(6)).join(' ')))].sort().join(' | '); // prettier-ignore
        expect(got.map(key)).toContain(key(face));
      }
    }
    expect(on(read.polylines, '0')).toHaveLength(1);
    expect(read.problems).toEqual([]);
  });
});

const file = (...entities: string[]): string => ['0', 'SECTION', '2', 'ENTITIES', ...entities.flatMap((e) => e.split(' ')), '0', 'ENDSEC', '0', 'EOF', ''].join('\n'); // prettier-ignore

describe('a drawing that was written carelessly', () => {
  it('is read with blanks before and behind its codes and words', () => {
    const padded = file('0 POINT 8 A 10 1 20 2 30 3').split('\n').map((l) => (l ? `  ${l}  ` : l)).join('\n'); // prettier-ignore
    const read = readDxf(padded);
    expect(read.points).toEqual([{ layer: 'A', x: 1, y: 2, z: 3, kind: 'POINT' }]);
    expect(read.whole).toBe(true);
    expect(read.problems).toEqual([]);
  });

  it('keeps a polyline that is still open where its section or the next entity begins, and says so', () => {
    const open = '0 POLYLINE 8 A 66 1 70 8 0 VERTEX 8 A 10 0 20 0 30 1 70 32 0 VERTEX 8 A 10 5 20 0 30 2 70 32';
    for (const text of [file(open), file(open, '0 POINT 8 B 10 1 20 1 30 1')]) {
      const read = readDxf(text);
      expect(read.polylines).toEqual([{ layer: 'A', closed: false, spatial: true, x: [0, 5], y: [0, 0], z: [1, 2], bulge: [0, 0], kind: 'POLYLINE' }]); // prettier-ignore
      expect(read.problems.map((p) => p.what).join()).toContain('SEQEND');
    }
    expect(readDxf(file(open, '0 POINT 8 B 10 1 20 1 30 1')).points).toHaveLength(1);
  });

  it('says that a face of a mesh names a vertex that it has not, and keeps the others', () => {
    const vertices = [[0, 0], [4, 0], [0, 4]].map(([x, y]) => `0 VERTEX 8 M 10 ${x} 20 ${y} 30 0 70 192`); // prettier-ignore
    const read = readDxf(file('0 POLYLINE 8 M 66 1 70 64', ...vertices, '0 VERTEX 8 M 10 0 20 0 30 0 70 128 71 1 72 -2 73 3', '0 VERTEX 8 M 10 0 20 0 30 0 70 128 71 1 72 2 73 9', '0 SEQEND 8 M')); // prettier-ignore
    expect(read.faces).toHaveLength(1);
    expect(read.faces[0].corners.slice(0, 9)).toEqual([0, 0, 0, 4, 0, 0, 0, 4, 0]);
    expect(read.problems.map((p) => p.what).join()).toContain('vertex 9');
  });
});

describe('elevations of lines', () => {
  const lines = (...entities: string[]) => linesIn({ kind: 'dxf', content: readDxf(file(...entities)), unit: 'm' });

  it('are what is said; a line drawn in plan says 0 where it says nothing', () => {
    const [contour, plan, line, level, old] = lines(
      '0 LWPOLYLINE 8 C 90 2 70 0 38 12.5 10 0 20 0 10 5 20 0',
      '0 LWPOLYLINE 8 P 90 2 70 0 10 0 20 0 10 5 20 0',
      '0 LINE 8 L 10 0 20 0 30 0.0 11 5 21 0 31 0.0',
      '0 LINE 8 S 10 0 20 0 30 0.0 11 5 21 0 31 2.0',
      '0 POLYLINE 8 O 66 1 70 0 10 0 20 0 30 7.25 0 VERTEX 8 O 10 0 20 0 0 VERTEX 8 O 10 5 20 0 0 SEQEND 8 O',
    );
    expect(contour.z).toEqual([12.5, 12.5]);
    expect(plan.z).toEqual([NaN, NaN]);
    expect(line.z).toEqual([NaN, NaN]);
    expect(level.z).toEqual([0, 2]);
    expect(old.z).toEqual([7.25, 7.25]);
  });
});

describe('an entity in a plane of its own', () => {
  const part = fc.integer({ min: -1000, max: 1000 }).map((v) => v / 1000);
  const normal = fc.tuple(part, part, part).filter((n) => n.some((v) => Math.abs(v) > 0.01));
  const pair = (code: number, v: number): string => `${code} ${v}`;
  const texts = (at: readonly number[], n: readonly number[]): string =>
    `0 TEXT 8 A 1 t ${at.map((v, k) => pair(10 + 10 * k, v)).join(' ')} ${n.map((v, k) => pair(210 + 10 * k, v)).join(' ')}`;

  it('keeps lengths and angles, and the side that its normal points to', () => {
    fc.assert(
      fc.property(normal, fc.array(fc.tuple(part, part, part), { minLength: 4, maxLength: 4 }), (n, places) => {
        const got = readDxf(file(...places.map((p) => texts(p, n)))).texts.map((t) => [t.x, t.y, t.z]);
        const less = (a: readonly number[], b: readonly number[]): number[] => a.map((v, k) => v - b[k]);
        const dot = (a: readonly number[], b: readonly number[]): number => a.reduce((s, v, k) => s + v * b[k], 0);
        const sides = (list: readonly (readonly number[])[]): number[][] => list.slice(1).map((p) => less(p, list[0]));
        const [before, after] = [sides(places), sides(got)];
        for (let i = 0; i < 3; i++)
          for (let k = 0; k < 3; k++) expect(dot(after[i], after[k])).toBeCloseTo(dot(before[i], before[k]), 9);
        const size = Math.sqrt(dot(n, n));
        got.forEach((p, i) => expect(dot(p, n) / size).toBeCloseTo(places[i][2], 9));
      }),
      { numRuns: 100 },
    );
  });

  it('lies on the ground where its normal has no length', () => {
    const [t] = readDxf(file(texts([1, 2, 3], [0, 0, 0]))).texts;
    expect([t.x, t.y, t.z]).toEqual([1, 2, 3]);
  });
});
