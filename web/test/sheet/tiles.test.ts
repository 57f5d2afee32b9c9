// @vitest-environment jsdom
import fc from 'fast-check';
import * as THREE from 'three';
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js';
import { describe, expect, it } from 'vitest';
import { thinLines, wideLines } from '../../src/sheet/segments.ts';
import { Tiled, inOrder, tilesOf } from '../../src/sheet/tiles.ts';

/** So many short segments over a square of 1,000 m, and some that run across it. */
function site(n: number, seed: number): Float32Array {
  let state = seed >>> 0;
  const random = (): number => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  const place = new Float32Array(6 * n);
  for (let i = 0; i < n; i++) {
    const long = i % 500 === 0;
    const [x, y, z] = [random() * 1000, random() * 1000, random() * 20];
    place.set([x, y, z, long ? random() * 1000 : x + random() * 5, long ? random() * 1000 : y + random() * 5, z + 1], 6 * i); // prettier-ignore
  }
  return place;
}

const viewOf = (minX: number, minY: number, maxX: number, maxY: number): THREE.Frustum => {
  const camera = new THREE.OrthographicCamera(minX, maxX, maxY, minY, -1e6, 1e6);
  camera.updateProjectionMatrix();
  camera.updateMatrixWorld();
  return new THREE.Frustum().setFromProjectionMatrix(
    new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
  );
};

/** Segments that an object draws: both ends, as read from its buffers. */
function drawnBy(object: THREE.Object3D): string[] {
  const out: string[] = [];
  object.traverseVisible((o) => {
    if (o instanceof LineSegments2) {
      const { instanceStart, instanceEnd } = o.geometry.attributes as Record<string, THREE.InterleavedBufferAttribute>;
      for (let i = 0; i < (o.geometry as THREE.InstancedBufferGeometry).instanceCount; i++)
        out.push([instanceStart, instanceEnd].flatMap((a) => [a.getX(i), a.getY(i), a.getZ(i)]).join());
    } else if (o instanceof THREE.LineSegments) {
      const { position } = o.geometry.attributes;
      const { start, count } = o.geometry.drawRange as { start: number; count: number };
      for (let i = start; i < Math.min(position.count, start + count); i += 2)
        out.push([i, i + 1].flatMap((k) => [position.getX(k), position.getY(k), position.getZ(k)]).join());
    }
  });
  return out;
}

// Colours depend on the system’s, which jsdom does not tell.
globalThis.matchMedia ??= (() => ({ matches: false })) as never;

describe('segments in tiles', () => {
  it('has every segment once, with what belongs to it, and within its tile’s box', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2000, max: 4000 }), fc.integer(), (n, seed) => {
        const place = site(n, seed);
        const { order, tiles } = tilesOf(place)!;
        expect([...order].sort((a, b) => a - b)).toEqual(Array.from({ length: n }, (_, i) => i));
        expect(tiles.reduce((sum, t) => sum + t.count, 0)).toBe(n);
        const sorted = inOrder(place, order);
        for (const { from, count, box } of tiles)
          for (let i = 2 * from; i < 2 * (from + count); i++)
            expect(box.containsPoint(new THREE.Vector3().fromArray(sorted, 3 * i))).toBe(true);
      }),
      { numRuns: 5 },
    );
  });

  it.each([
    ['wide', (place: Float32Array) => wideLines(place, 'ink', 2, 'dashed')],
    ['thin', (place: Float32Array) => thinLines(place, 'brass', 0.5)],
  ])(
    'draws of %s lines all that lie in view, few of the others, and all of them once where much is in view',
    (_, of) => {
      const place = site(6000, 7);
      const lines = of(place) as Tiled;
      expect(lines).toBeInstanceOf(Tiled);
      const all = Array.from({ length: 6000 }, (_, i) => place.subarray(6 * i, 6 * i + 6));
      lines.showIn(viewOf(300, 300, 400, 380));
      const near = drawnBy(lines);
      const inView = all.filter(([x, y]) => x > 300 && x < 400 && y > 300 && y < 380).map((s) => s.join());
      expect(inView.length).toBeGreaterThan(10);
      expect(near).toEqual(expect.arrayContaining(inView));
      expect(near.length).toBeLessThan(2000);
      lines.showIn(viewOf(-10, -10, 1010, 1010));
      expect(drawnBy(lines).sort()).toEqual(all.map((s) => s.join()).sort());
      lines.showIn(viewOf(2000, 2000, 2100, 2100));
      expect(drawnBy(lines)).toEqual([]);
    },
  );

  it('lets dashes run on along a line whose segments come into other tiles', () => {
    const n = 3000;
    const place = new Float32Array(6 * n);
    for (let i = 0; i < n; i++) place.set([i, 0, 0, i + 1, 0, 0], 6 * i);
    const lines = wideLines(place, 'ink', 2, 'dashed');
    for (const { geometry } of lines.children as LineSegments2[]) {
      const { instanceStart: at, instanceDistanceStart: along } = geometry.attributes;
      for (let i = 0; i < geometry.instanceCount; i += 97) expect(along.getX(i)).toBe(at.getX(i));
    }
  });

  it('leaves a few segments, and ones that all lie in one place, as they are', () => {
    expect(tilesOf(site(1999, 1))).toBeNull();
    expect(tilesOf(new Float32Array(6 * 2000))!.tiles).toHaveLength(1);
  });
});
