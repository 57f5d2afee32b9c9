import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import { orientation } from '#core/kernel';
import { linkNeighbours, type Surface } from '#core/terrain';
import type { LandXmlTin } from './content.ts';

/** A surface received ready-made, kept as received: its faces are turned counter-clockwise, nothing is triangulated again. */
export function surfaceFromTin(tin: LandXmlTin, unit: FileUnit): Surface {
  const factor = METRES_IN_FILE[unit];
  const x = tin.x.map((v) => v * factor);
  const y = tin.y.map((v) => v * factor);
  const z = tin.z.map((v) => v * factor);
  const triangles = new Uint32Array(tin.faces.length);
  let used = 0;
  for (let t = 0; t + 2 < tin.faces.length; t += 3) {
    const [a, b, c] = [tin.faces[t], tin.faces[t + 1], tin.faces[t + 2]];
    const turn = orientation(x[a], y[a], x[b], y[b], x[c], y[c]);
    if (turn === 0) continue;
    triangles.set(turn > 0 ? [a, b, c] : [a, c, b], used);
    used += 3;
  }
  const list = triangles.slice(0, used);
  return {
    x,
    y,
    z,
    triangles: list,
    neighbours: linkNeighbours(list),
    breakSides: new Uint8Array(list.length),
    // A surface that is kept as a file has its points at its vertices.
    point: Uint32Array.from(x, (_, i) => i),
  };
}
