import type { FileContent } from './content.ts';
import type { DxfContent } from './dxf/content.ts';

/** A surface that comes ready-made, in its file's own unit. */
export interface ReceivedTin {
  /** Its own in the file: of several of one name, the later ones carry their number. */
  name: string;
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  z: ArrayLike<number>;
  /** Indices of vertices, three a face. */
  faces: Uint32Array;
}

/** Surfaces of a file: those that LandXML names, and the faces of a drawing, layer by layer. */
export function tinsIn(file: FileContent): ReceivedTin[] {
  const tins =
    file.kind === 'landxml'
      ? file.content.surfaces
      : file.kind === 'dxf'
        ? [...(file.surfaces ?? []), ...tinsOfFaces(file.content)]
        : [];
  const seen = new Map<string, number>();
  return tins
    .filter((t) => t.faces.length >= 3)
    .map((t) => {
      const plain = t.name.trim().slice(0, 180) || 'unnamed';
      const n = (seen.get(plain) ?? 0) + 1;
      seen.set(plain, n);
      return { ...t, name: n === 1 ? plain : `${plain} (${n})` };
    });
}

function tinsOfFaces({ faces }: DxfContent): ReceivedTin[] {
  const layers = new Map<string, FaceVertices>();
  for (const { layer, corners } of faces) {
    let of = layers.get(layer);
    if (!of) layers.set(layer, (of = new FaceVertices()));
    of.add(corners);
  }
  return [...layers].map(([name, { x, y, z, faces: list }]) => ({ name, x, y, z, faces: Uint32Array.from(list) }));
}

/** Corners of faces that are the same place are one vertex. */
class FaceVertices {
  readonly x: number[] = [];
  readonly y: number[] = [];
  readonly z: number[] = [];
  readonly faces: number[] = [];
  private readonly at = new Map<string, number>();

  /** Four corners, x y z of each; a triangle says its third one twice. */
  add(corners: readonly number[]): void {
    const [a, b, c, d] = [0, 3, 6, 9].map((k) => this.vertex(corners[k], corners[k + 1], corners[k + 2]));
    this.triangle(a, b, c);
    if (d !== c) this.triangle(a, c, d);
  }

  private triangle(a: number, b: number, c: number): void {
    if (a !== b && b !== c && a !== c) this.faces.push(a, b, c);
  }

  private vertex(x: number, y: number, z: number): number {
    const key = `${x} ${y} ${z}`;
    let at = this.at.get(key);
    if (at === undefined) {
      this.at.set(key, (at = this.x.length));
      this.x.push(x);
      this.y.push(y);
      this.z.push(z);
    }
    return at;
  }
}
