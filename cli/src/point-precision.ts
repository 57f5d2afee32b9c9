import Flatbush from 'flatbush';
import type { Surface } from '#core/terrain';
import { load, type TextOptions } from './load.ts';
import { CannotDo } from './problems.ts';

/** m in plan within which a point of the file is a vertex of the surface. */
const ON_VERTEX = 0.001;

/** The standard deviation of each vertex from a file of points with a column S, m; NaN where it has none. */
export function precisionAt({ x, y }: Surface, file: string, options: TextOptions): Float64Array {
  const loaded = load(file, options);
  if (loaded.kind !== 'points' || !loaded.read.sdHeight)
    throw new CannotDo(`${file} has no column S. Give its order with one, for example --order PENZS.`);
  const { read } = loaded;
  const sd = new Float64Array(x.length).fill(NaN);
  if (read.x.length === 0) return sd;
  const index = new Flatbush(read.x.length);
  for (let i = 0; i < read.x.length; i++) index.add(read.x[i], read.y[i]);
  index.finish();
  for (let v = 0; v < sd.length; v++) {
    const at = index.neighbors(x[v], y[v], 1, ON_VERTEX)[0] as number | undefined;
    if (at !== undefined) sd[v] = read.sdHeight![at];
  }
  return sd;
}
