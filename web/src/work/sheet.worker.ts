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
  surfaceIndex(surface: Surface): ArrayBuffer | null {
    const index = triangleIndex(surface);
    return index ? give(index) : null;
  },
};

const give = (index: Flatbush): ArrayBuffer => transfer(index.data as ArrayBuffer, [index.data as ArrayBuffer]);

export type SheetWork = typeof work;
expose(work);
