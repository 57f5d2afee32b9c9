import fc from 'fast-check';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { asPolyline, DxfReader, DxfTally, linesIn, placedBlocks, readDxf, type DxfContent } from '#core/exchange';
import { apart, offCourse, saidOutside, type Place } from './near-course.ts';

// Curves, blocks, meshes, hatches: held against what ezdxf (Debian python3-ezdxf) says of the same file.

const folder = mkdtempSync(join(tmpdir(), 'dunrik-dxf-blocks-'));
afterAll(() => rmSync(folder, { recursive: true }));

interface Truth {
  curves: Record<string, number[][]>;
  placed: { kind: string; layer: string; of: string; places: number[][] }[];
  texts: Record<string, string>;
  faces: Record<string, number[][][]>;
  hatches: Record<string, number[][][]>;
}
const SAGITTA = 0.001;
const places = ({ x, y, z }: Record<'x' | 'y' | 'z', number[]>): Place[] => x.map((v, i) => [v, y[i], z[i]]);
/** A line with its arcs followed and its first place again where it is closed. */
function course(line: DxfContent['polylines'][number]): Place[] {
  const content = { ...readDxf(''), polylines: [line] };
  const [one] = linesIn({ kind: 'dxf', content, unit: 'm' });
  const all = places({ ...one, z: one.z.map((v) => (Number.isNaN(v) ? 0 : v)) });
  return line.closed ? [...all, all[0]] : all;
}

describe.each(['R12', 'R2000', 'R2007', 'R2018'])('a drawing of %s', (version) => {
  const file = join(folder, `${version}.dxf`);
  const truth = saidOutside<Truth>('drawing_blocks.py', file, version);
  const bytes = new Uint8Array(readFileSync(file));
  const read = readDxf(bytes);

  it('says its version and unit, and is the same in binary', () => {
    expect(read.version).toMatch(/^AC10/);
    expect(read.units).toBe(version === 'R12' ? null : 6);
    const binary = readDxf(new Uint8Array(readFileSync(`${file}.bin`)));
    const told = ({ problems, ...rest }: DxfContent) => ({ ...rest, problems: problems.map((p) => p.what) });
    expect(told(binary)).toEqual(told(read));
  });

  it('follows ellipses and splines within a stated sagitta', () => {
    for (const [layer, said] of Object.entries(truth.curves)) {
      const [curve] = read.curves.filter((c) => c.layer === layer);
      const own = places(asPolyline(curve, SAGITTA));
      expect(apart(curve.closed ? [...own, own[0]] : own, said), layer).toBeLessThan(2 * SAGITTA);
    }
    // One says only the places that it goes through: what is drawn of it is held against ezdxf in fit-spline.test.ts.
    expect(read.curves.map((c) => c.layer).sort()).toEqual(
      [...Object.keys(truth.curves), ...(version === 'R12' ? [] : ['THROUGH'])].sort(),
    );
  });

  it('draws blocks where they are put: nested, mirrored, tilted, in rows and columns', () => {
    const { entities, problems } = placedBlocks(read);
    const curves = entities.curves.map((c) => asPolyline(c, SAGITTA));
    const points = entities.points.map((p) => ({ ...p, x: [p.x], y: [p.y], z: [p.z] }));
    const gathered = [
      ...[...entities.polylines, ...curves].map((l) => ({ layer: l.layer, places: course(l) })),
      ...points.map((p) => ({ layer: p.layer, places: places(p) })),
    ];
    const got = gathered.map((g) => ({ ...g, box: [Math.min, Math.max].map((of) => [0, 1].map((k) => of(...g.places.map((p) => p[k])))) })); // prettier-ignore
    for (const { kind, layer, of, places: said } of truth.placed) {
      // Unevenly scaled, a line with an arc is a straight and a part of an ellipse there: both lie on ours.
      const isPart = of === 'UNEVEN' && (kind === 'LINE' || kind === 'ELLIPSE');
      // What is elsewhere altogether is not looked at place by place.
      const [low, high] = [Math.min, Math.max].map((of) => [0, 1].map((k) => of(...said.map((p) => p[k])))); // prettier-ignore
      const covers = ({ box }: { box: number[][] }): boolean => [0, 1].every((k) => box[0][k] < low[k] + 0.1 && box[1][k] > high[k] - 0.1); // prettier-ignore
      const off = (own: readonly Place[]): number => (isPart ? Math.max(...said.map((p) => offCourse(p, own))) : apart(own, said)); // prettier-ignore
      const [near] = got
        .filter(covers)
        .map((g) => ({ ...g, off: off(g.places) }))
        .sort((a, b) => a.off - b.off);
      // Chords of ours are within 5 mm of an arc, in a tilted plane or unevenly scaled within 3° of it.
      expect(near.off, `${kind} of ${of}`).toBeLessThan(0.015);
      // What lies on layer 0 of a block is on the layer that it is put on, whatever that is.
      expect([layer, 'SECOND']).toContain(near.layer);
    }
    expect(got).toHaveLength(truth.placed.length + 1);
    // 2 east of its base, rotated by 30°, moved 5 east, then twice as wide and half as high, from 250 / 200 on.
    const sheared = [250 + 2 * (5 + 2 * Math.cos(Math.PI / 6)), 200 + 0.5 * 2 * Math.sin(Math.PI / 6), 10];
    expect(Math.min(...got.filter((g) => g.layer === 'UNEVEN').map((g) => offCourse(sheared, g.places)))).toBeLessThan(
      1e-9,
    );
    expect(got.filter((g) => g.layer === 'SECOND')).toHaveLength(12);
    expect(problems).toEqual([{ block: 'NEXT-SITE', what: expect.stringContaining('next site.dwg') as string }]);
  });

  it('reads what texts say, without what says how they look', () => {
    for (const [layer, text] of Object.entries(truth.texts))
      expect(read.texts.filter((t) => t.layer === layer).map((t) => t.text)).toEqual([text]);
  });

  it('reads meshes as faces and filled areas as their rims', () => {
    for (const [layer, faces] of Object.entries(truth.faces)) {
      const got = read.faces.filter((f) => f.layer === layer).map((f) => [0, 3, 6, 9].map((k) => f.corners.slice(k, k + 3).map((v) => v + 0))); // prettier-ignore
      const [third] = [2];
      expect(got).toEqual(faces.map((f) => (f.length === 3 ? [...f, f[third]] : f)));
    }
    for (const [layer, rings] of Object.entries(truth.hatches)) {
      const [hatch] = read.hatches.filter((h) => h.layer === layer);
      expect(hatch.rings).toHaveLength(rings.length);
      hatch.rings.forEach((ring, i) => expect(apart(course(ring), rings[i]), `${layer} ${i}`).toBeLessThan(0.01));
    }
  });

  it('is told layer by layer and kind by kind, without keeping it', () => {
    const tally = new DxfTally();
    const reader = new DxfReader(tally);
    // In pieces that end anywhere.
    for (let at = 0; at < bytes.length; at += 777) reader.feed(bytes.subarray(at, at + 777));
    reader.feed(new Uint8Array(0), true);
    const { rows } = tally.table(reader.facts);
    const row = (layer: string) => rows.filter((r) => r.layer === layer);
    expect(['HIDDEN', 'FROZEN', 'SHOWN'].map((l) => row(l)[0].hidden)).toEqual([true, true, false]);
    expect(tally.puts.get('OUTER')).toBe(12);
    expect(row('TILTED')).toMatchObject([{ kind: 'INSERT', count: 1, flat: 0 }]);
    if (version !== 'R12') expect(row('PART')).toMatchObject([{ kind: 'ELLIPSE', count: 1, lowest: 3, highest: 3 }]);
    expect(reader.facts.kinds).toEqual(read.kinds);
  });
});

const file = (...lines: string[]): string => [...lines.flatMap((l) => l.split(' ')), '0', 'EOF', ''].join('\n');
const blocks = (list: string[], entities: string[]): string =>
  file('0 SECTION 2 BLOCKS', ...list, '0 ENDSEC', '0 SECTION 2 ENTITIES', ...entities, '0 ENDSEC');

describe('blocks that are no honest ones', () => {
  it('do not spill into model space: what stands between them, or in one without an end', () => {
    const stray = '0 POINT 8 S 10 1 20 1';
    const open =
      '0 BLOCK 2 OPEN 70 0 10 0 20 0 0 POLYLINE 8 P 66 1 70 8 0 VERTEX 8 P 10 0 20 0 30 1 0 VERTEX 8 P 10 1 20 0 30 1';
    const good = '0 BLOCK 2 GOOD 70 0 10 0 20 0 0 POINT 8 0 10 1 20 2 0 ENDBLK';
    const read = readDxf(
      blocks([stray, open, good, stray], ['0 POINT 8 M 10 5 20 5', '0 INSERT 8 L 2 OPEN 10 0 20 0']),
    );
    expect(read.points.map((p) => p.layer)).toEqual(['M']);
    expect(read.polylines).toEqual([]);
    expect(read.problems.map((p) => p.what).join()).toContain('SEQEND before the next block');
    expect(placedBlocks(read).entities.polylines.map((l) => l.x)).toEqual([[0, 1]]);
  });

  it('that contain themselves, or one another, are named; the others are drawn', () => {
    const loop = (name: string, of: string): string => `0 BLOCK 2 ${name} 70 0 10 0 20 0 0 INSERT 8 0 2 ${of} 10 0 20 0 0 ENDBLK`; // prettier-ignore
    const good = '0 BLOCK 2 GOOD 70 0 10 0 20 0 0 POINT 8 0 10 1 20 2 0 ENDBLK';
    const read = readDxf(blocks([loop('A', 'B'), loop('B', 'A'), loop('SELF', 'SELF'), good], ['0 INSERT 8 L 2 A 10 0 20 0', '0 INSERT 8 L 2 SELF 10 0 20 0', '0 INSERT 8 L 2 GOOD 10 5 20 5', '0 INSERT 8 L 2 NONE 10 5 20 5'])); // prettier-ignore
    const { entities, problems } = placedBlocks(read);
    expect(entities.points).toEqual([{ layer: 'L', kind: 'POINT', x: 6, y: 7, z: 0 }]);
    expect(problems.map((p) => p.block)).toEqual(['A', 'SELF', 'NONE']);
  });

  it('that would be more than can be drawn are named before they are', () => {
    const lines = ['0 BLOCK 2 B0 70 0 10 0 20 0 0 POINT 8 0 10 0 20 0 0 ENDBLK'];
    for (let i = 1; i < 20; i++) lines.push(`0 BLOCK 2 B${i} 70 0 10 0 20 0 0 INSERT 8 0 2 B${i - 1} 10 0 20 0 70 1000 71 1000 0 ENDBLK`); // prettier-ignore
    const rows = '0 INSERT 8 L 2 B0 10 0 20 0 70 1000000000 71 1000000000 44 1 45 1';
    const read = readDxf(blocks(lines, ['0 INSERT 8 L 2 B19 10 0 20 0', rows, '0 INSERT 8 L 2 B0 10 3 20 4']));
    const { entities, problems } = placedBlocks(read);
    expect(entities.points).toHaveLength(1);
    expect(problems.map((p) => p.block).sort()).toEqual(['B0', 'B19']);
  });
});

describe('a drawing that comes in pieces', () => {
  it('is what it is in one, wherever they end', () => {
    const text = blocks(['0 BLOCK 2 B 70 0 10 0 20 0 0 POINT 8 0 10 0 20 0 0 ENDBLK'], ['0 LINE 8 é 10 0 20 0 30 1 11 5 21 6 31 2', '0 POLYLINE 8 P 66 1 70 8', '0 VERTEX 8 P 10 1 20 2 30 3', '0 VERTEX 8 P 10 4 20 5 30 x', '0 SEQEND', '0 INSERT 8 L 2 B 10 1 20 1 66 1', '0 ATTRIB 8 L 2 N 1 t 10 0 20 0', '0 SEQEND', '0 POINT 8 A 10 1 20 1']); // prettier-ignore
    const bytes = new TextEncoder().encode(text);
    const whole = readDxf(bytes);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 1, maxLength: 20 }), (sizes) => {
        const tally = new DxfTally();
        const reader = new DxfReader(tally);
        for (let at = 0, i = 0; at < bytes.length; at += sizes[i++ % sizes.length])
          reader.feed(bytes.subarray(at, at + sizes[i % sizes.length]));
        reader.feed(new Uint8Array(0), true);
        expect(reader.facts.kinds).toEqual(whole.kinds);
        expect(reader.facts.problems).toEqual(whole.problems);
      }),
      { numRuns: 200 },
    );
  });
});
