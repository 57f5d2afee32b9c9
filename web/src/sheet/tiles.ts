import * as THREE from 'three';

/** With fewer segments than this all of them are drawn at once. */
const LEAST_SEGMENTS = 2000;
/** Tiles along each side of what is drawn. */
const ALONG = 8;
/** Where more tiles than this are in view all is drawn at once: every tile takes a call of its own. */
const MOST_IN_VIEW = 16;

/** Segments of one tile: where they begin in the new order, how many, and how far they reach. */
export interface Tile {
  from: number;
  count: number;
  box: THREE.Box3;
}

/**
 * Segments (x, y, z of both ends one after another, m) put in order by where their middles lie; `order` says which
 * segment stands in each place. Within a tile they keep their order. Null where there are too few to part.
 */
export function tilesOf(place: Float32Array): { order: Uint32Array; tiles: Tile[] } | null {
  const n = place.length / 6;
  if (n < LEAST_SEGMENTS) return null;
  const tileOf = tileOfEach(place, n);
  const starts = new Uint32Array(ALONG * ALONG + 1);
  for (let i = 0; i < n; i++) starts[tileOf[i] + 1]++;
  for (let t = 0; t < ALONG * ALONG; t++) starts[t + 1] += starts[t];
  const order = new Uint32Array(n);
  const next = starts.slice();
  for (let i = 0; i < n; i++) order[next[tileOf[i]]++] = i;
  const tiles: Tile[] = [];
  for (let t = 0; t < ALONG * ALONG; t++) {
    const [from, count] = [starts[t], starts[t + 1] - starts[t]];
    if (count > 0) tiles.push({ from, count, box: boxOf(place, order, from, count) });
  }
  return { order, tiles };
}

/** The tile of each segment, by its middle: of tens of thousands in one task, so that no object is made of each. */
function tileOfEach(place: Float32Array, n: number): Uint8Array {
  // Twice the middles serve as well.
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let at = 0; at < 6 * n; at += 6) {
    const x = place[at] + place[at + 3];
    const y = place[at + 1] + place[at + 4];
    if (x < minX) minX = x;
    if (x > maxX) maxX = x;
    if (y < minY) minY = y;
    if (y > maxY) maxY = y;
  }
  const [across, up] = [maxX > minX ? ALONG / (maxX - minX) : 0, maxY > minY ? ALONG / (maxY - minY) : 0];
  const tileOf = new Uint8Array(n);
  for (let i = 0, at = 0; i < n; i++, at += 6) {
    const column = Math.min(ALONG - 1, Math.floor((place[at] + place[at + 3] - minX) * across));
    const row = Math.min(ALONG - 1, Math.floor((place[at + 1] + place[at + 4] - minY) * up));
    tileOf[i] = row * ALONG + column;
  }
  return tileOf;
}

function boxOf(place: Float32Array, order: Uint32Array, from: number, count: number): THREE.Box3 {
  let [minX, minY, minZ, maxX, maxY, maxZ] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (let k = from; k < from + count; k++)
    for (let at = 6 * order[k]; at < 6 * order[k] + 6; at += 3) {
      const [x, y, z] = [place[at], place[at + 1], place[at + 2]];
      if (x < minX) minX = x;
      if (x > maxX) maxX = x;
      if (y < minY) minY = y;
      if (y > maxY) maxY = y;
      if (z < minZ) minZ = z;
      if (z > maxZ) maxZ = z;
    }
  return new THREE.Box3(new THREE.Vector3(minX, minY, minZ), new THREE.Vector3(maxX, maxY, maxZ));
}

/** Values of each segment in the order of tiles. */
export function inOrder(values: Float32Array, order: Uint32Array): Float32Array {
  const each = values.length / order.length;
  const out = new Float32Array(values.length);
  for (let to = 0, at = 0; to < order.length; to++)
    for (let from = each * order[to], end = from + each; from < end;) out[at++] = values[from++];
  return out;
}

/** What is drawn as a whole, or tile by tile where few of its tiles are in view. */
export class Tiled extends THREE.Group {
  constructor(
    private readonly whole: THREE.Object3D,
    private readonly tiles: readonly { box: THREE.Box3; object: THREE.Object3D }[],
  ) {
    super();
    this.add(whole, ...tiles.map((t) => t.object));
  }

  /** Shows what lies in view; what a view takes in is said in the coordinates of the segments. */
  showIn(view: THREE.Frustum): void {
    let seen = 0;
    for (const { box, object } of this.tiles) if ((object.visible = view.intersectsBox(box))) seen++;
    this.whole.visible = seen > MOST_IN_VIEW;
    if (this.whole.visible) for (const { object } of this.tiles) object.visible = false;
  }
}
