import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import { drawingUnit } from './content.ts';
import { Gathered, type DxfPolyline } from './dxf/content.ts';
import { isBinaryDxf } from './dxf/binary.ts';
import { DxfReader, isDxf, isPlainFile } from './dxf/read.ts';

/** A first look at a large drawing, while the rest of it is read. */
export interface FirstLines {
  /** Sides of lines, x, y of both ends; m. Arcs as their chords. */
  sides: Float64Array<ArrayBuffer>;
  /** Points, m. */
  x: Float64Array<ArrayBuffer>;
  y: Float64Array<ArrayBuffer>;
}

/** A drawing smaller than this is read whole as quickly. */
const LARGE = 8 << 20;
/** So much of a drawing is looked at. */
const LOOKED_AT = 12 << 20;
const PIECE = 1 << 18;
const MOST_SIDES = 60_000;

/**
 * The first lines and points that a large drawing draws itself; null of one that is small, of another kind, or that draws
 * nothing before so much of it is read. `unit` is taken where the drawing says none.
 */
export function firstLines(bytes: Uint8Array, unit: FileUnit): FirstLines | null {
  if (bytes.length < LARGE || isBinaryDxf(bytes) || !isDxf(bytes) || !isPlainFile(bytes)) return null;
  const seen = new FirstSeen();
  const reader = new DxfReader(seen);
  for (let at = 0; at < LOOKED_AT && seen.sides.length < 4 * MOST_SIDES; at += PIECE)
    if (!reader.feed(bytes.subarray(at, at + PIECE))) break;
  if (seen.sides.length === 0 && seen.points.length === 0) return null;
  const metres = METRES_IN_FILE[drawingUnit(reader.facts.units) ?? unit];
  return {
    sides: Float64Array.from(seen.sides, (v) => v * metres),
    x: Float64Array.from(seen.points, (p) => p.x * metres),
    y: Float64Array.from(seen.points, (p) => p.y * metres),
  };
}

/** Keeps points, and of lines their sides alone. */
class FirstSeen extends Gathered {
  readonly sides: number[] = [];

  override polyline({ x, y, closed }: DxfPolyline): void {
    for (let i = closed ? 0 : 1; i < x.length; i++) {
      const j = i === 0 ? x.length - 1 : i - 1;
      this.sides.push(x[j], y[j], x[i], y[i]);
    }
  }
}
