import type { DxfSink } from './content.ts';
import type { EntityFields } from './entity-fields.ts';

const VERTICES = 92;
const FACES = 93;
const EDGES = 94;
const ITEM = 90;

/**
 * A MESH as it is drawn, before it is smoothed: its vertices, then a list in which each face says how many corners it has and
 * which (DXF reference). Faces of more than four corners are cut into triangles from their first.
 */
export function readMesh(of: EntityFields, sink: DxfSink): void {
  const { record } = of;
  const place = of.placesInOrder(10);
  const list: number[] = [];
  let part = 0;
  for (let i = 0; i < record.count; i++) {
    const code = record.codes[i];
    if (code >= VERTICES && code <= EDGES + 1) part = code;
    else if (part === FACES && code === ITEM) list.push(of.at(i));
  }
  if (of.spoilt) return;
  const faces: number[][] = [];
  for (let i = 0; i < list.length;) {
    const corners = list[i];
    const named = list.slice(i + 1, i + 1 + corners);
    const lost = !(corners >= 3) || named.length < corners ? corners : named.find((v) => !Number.isInteger(v) || v < 0 || 3 * v + 2 >= place.length); // prettier-ignore
    if (lost !== undefined) return void of.spoil(`a MESH of ${Math.floor(place.length / 3)} vertices has a face that it does not say whole, by ${lost}`); // prettier-ignore
    faces.push(named);
    i += corners + 1;
  }
  const at = (v: number): number[] => place.slice(3 * v, 3 * v + 3);
  for (const named of faces) {
    const parts = named.length <= 4 ? [named] : named.slice(2).map((v, k) => [named[0], named[k + 1], v]);
    for (const [a, b, c, d = c] of parts)
      sink.face({ layer: of.layer, corners: [a, b, c, d].flatMap(at), kind: of.kind });
  }
}
