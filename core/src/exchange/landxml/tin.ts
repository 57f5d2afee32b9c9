import type { LandXmlTin } from './content.ts';

/** As many places as there are numbers up to here are kept for numbered vertices; larger numbers go by their text. */
const MOST_NUMBERED = 1 << 26;

/** Vertices and faces of a surface as they come. */
export class TinBuilder {
  vertices = 0;
  corners = 0;
  private x = new Float64Array(256);
  private y = new Float64Array(256);
  private z = new Float64Array(256);
  private faces = new Uint32Array(1024);
  /** Index + 1 of the vertex with a whole number as its id, 0 where there is none; of the others by their text. */
  private numbered = new Uint32Array(256);
  private readonly named = new Map<string, number>();

  constructor(private readonly name: string) {}

  /** Makes room for so many more, so that nothing is copied as they come. */
  expectVertices(count: number): void {
    const size = this.vertices + count;
    if (size <= this.x.length) return;
    this.x = wider(this.x, size);
    this.y = wider(this.y, size);
    this.z = wider(this.z, size);
  }

  expectFaces(count: number): void {
    const size = this.corners + 3 * count;
    if (size > this.faces.length) this.faces = wider(this.faces, size);
  }

  /** @param id a whole number, or a text that is none */
  vertex(id: number | string, x: number, y: number, z: number): void {
    const v = this.vertices++;
    if (v === this.x.length) {
      this.x = wider(this.x);
      this.y = wider(this.y);
      this.z = wider(this.z);
    }
    this.x[v] = x;
    this.y[v] = y;
    this.z[v] = z;
    if (typeof id === 'string' || id >= MOST_NUMBERED) return void this.named.set(String(id), v);
    while (id >= this.numbered.length) this.numbered = wider(this.numbered);
    this.numbered[id] = v + 1;
  }

  /** The vertex of an id, -1 where there is none. */
  vertexOf(id: number | string): number {
    if (typeof id === 'string' || id >= MOST_NUMBERED) return this.named.get(String(id)) ?? -1;
    return id < this.numbered.length ? this.numbered[id] - 1 : -1;
  }

  face(a: number, b: number, c: number): void {
    if (this.corners + 3 > this.faces.length) this.faces = wider(this.faces);
    this.faces[this.corners] = a;
    this.faces[this.corners + 1] = b;
    this.faces[this.corners + 2] = c;
    this.corners += 3;
  }

  tin(): LandXmlTin {
    const { name, vertices: n } = this;
    return { name, x: cut(this.x, n), y: cut(this.y, n), z: cut(this.z, n), faces: cut(this.faces, this.corners) };
  }
}

function wider<T extends Float64Array | Uint32Array>(list: T, size = list.length * 2): T {
  const out = new (list.constructor as new (size: number) => T)(size);
  out.set(list);
  return out;
}

/** The first of a list, without room behind them. */
const cut = <T extends Float64Array | Uint32Array>(list: T, size: number): T => list.length === size ? list : (list.slice(0, size) as T); // prettier-ignore

const WHOLE = /^(?:0|[1-9]\d{0,8})$/;

/** An id as a number where it is a whole one written plainly: 7 and 07 are two. */
export const idOf = (text: string): number | string => (WHOLE.test(text) ? Number(text) : text);
