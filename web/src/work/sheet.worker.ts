import Flatbush from 'flatbush';
import { expose, transfer } from 'comlink';
import { triangleIndex, type Surface } from '#core/terrain';

// Indexes for picking and for the elevation under the cursor, made beside the page.

const work = {
  pointIndex(x: Float64Array, y: Float64Array): ArrayBuffer | null {
    if (x.length === 0) return null;
    const index = new Flatbush(x.length);
    for (let i = 0; i < x.length; i++) index.add(x[i], y[i], x[i], y[i]);
    index.finish();
    return give(index);
  },
  /** What drawing and picking need of a surface: an index of its triangles, and each side once as a pair of vertices. */
  surface(surface: Surface): { index: ArrayBuffer | null; sides: Uint32Array } {
    const index = triangleIndex(surface);
    const sides = sidesOf(surface);
    const data = index ? (index.data as ArrayBuffer) : null;
    return transfer({ index: data, sides }, data ? [data, sides.buffer] : [sides.buffer]);
  },
};

/** Where there is a neighbour, the half-edge with the lower number stands for the side. */
function sidesOf({ triangles, neighbours }: Surface): Uint32Array<ArrayBuffer> {
  const sides = new Uint32Array(triangles.length * 2);
  let used = 0;
  for (let e = 0; e < triangles.length; e++) {
    if (neighbours[e] >= 0 && neighbours[e] < e) continue;
    sides[used++] = triangles[e];
    sides[used++] = triangles[e % 3 === 2 ? e - 2 : e + 1];
  }
  return sides.slice(0, used);
}

const give = (index: Flatbush): ArrayBuffer => transfer(index.data as ArrayBuffer, [index.data as ArrayBuffer]);

export type SheetWork = typeof work;
expose(work);
