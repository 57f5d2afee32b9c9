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
  const middles = new THREE.Box2();
  const middle = new THREE.Vector2();
  const at = (i: number): THREE.Vector2 =>
    middle.set((place[6 * i] + place[6 * i + 3]) / 2, (place[6 * i + 1] + place[6 * i + 4]) / 2);
  for (let i = 0; i < n; i++) middles.expandByPoint(at(i));
  const { min, max } = middles;
  const along = (v: number, from: number, to: number): number =>
    to > from ? Math.min(ALONG - 1, Math.floor(((v - from) / (to - from)) * ALONG)) : 0;
  const tileOf = new Uint8Array(n);
  const starts = new Uint32Array(ALONG * ALONG + 1);
  for (let i = 0; i < n; i++) {
    const { x, y } = at(i);
    tileOf[i] = along(y, min.y, max.y) * ALONG + along(x, min.x, max.x);
    starts[tileOf[i] + 1]++;
  }
  for (let t = 0; t < ALONG * ALONG; t++) starts[t + 1] += starts[t];
  const order = new Uint32Array(n);
  const next = starts.slice();
  for (let i = 0; i < n; i++) order[next[tileOf[i]]++] = i;
  const tiles: Tile[] = [];
  for (let t = 0; t < ALONG * ALONG; t++) {
    const [from, count] = [starts[t], starts[t + 1] - starts[t]];
    if (count > 0) tiles.push({ from, count, box: boxOf(place, order.subarray(from, from + count)) });
  }
  return { order, tiles };
}

function boxOf(place: Float32Array, segments: Uint32Array): THREE.Box3 {
  const box = new THREE.Box3();
  const end = new THREE.Vector3();
  for (const i of segments) for (let k = 0; k < 6; k += 3) box.expandByPoint(end.fromArray(place, 6 * i + k));
  return box;
}

/** Values of each segment in the order of tiles. */
export function inOrder(values: Float32Array, order: Uint32Array): Float32Array {
  const each = values.length / order.length;
  const out = new Float32Array(values.length);
  order.forEach((i, to) => out.set(values.subarray(each * i, each * (i + 1)), each * to));
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
