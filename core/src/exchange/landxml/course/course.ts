import { atan2, distance, sinCos } from '#core/kernel';
import { chords } from '../../chords.ts';
import { lastAtMost } from './lookup.ts';
import type { ArcInLine, Piece, Place, Pose } from './piece.ts';
import { clothoid } from './spiral.ts';

/** What stands in a CoordGeom, piece after piece. */
export class Course {
  private readonly pieces: Piece[] = [];
  /** How far along the course each piece starts. */
  private readonly starts: number[] = [];
  /** Along all of it. */
  length = 0;

  /** @param sagitta how far a chord may be from its curve, in the file's unit */
  constructor(readonly sagitta: number) {}

  straight(start: Place, end: Place): void {
    const length = distance(end[0] - start[0], end[1] - start[1]);
    const ahead: [number, number] = length > 0 ? [(end[0] - start[0]) / length, (end[1] - start[1]) / length] : [1, 0];
    const pose = (s: number): Pose => ({ at: [start[0] + s * ahead[0], start[1] + s * ahead[1]], ahead });
    this.add({ start, end, length, inner: [], pose });
  }

  /** An arc about a centre; counter-clockwise or clockwise. */
  curve(start: Place, end: Place, centre: Place, rot: 'cw' | 'ccw'): void {
    const bulge = bulgeOf(start, end, centre, rot);
    if (bulge === 0) return this.straight(start, end);
    const radius = distance(start[0] - centre[0], start[1] - centre[1]);
    const angle = 4 * atan2(bulge, 1);
    const from = atan2(start[1] - centre[1], start[0] - centre[0]);
    const side = rot === 'ccw' ? 1 : -1;
    this.add({
      start,
      end,
      length: radius * Math.abs(angle),
      bulge,
      inner: chords(start[0], start[1], end[0], end[1], bulge, this.sagitta),
      pose: (s) => {
        const [sin, cos] = sinCos(from + (side * s) / radius);
        return { at: [centre[0] + radius * cos, centre[1] + radius * sin], ahead: [-side * sin, side * cos] };
      },
    });
  }

  /** A clothoid between two curvatures, 1 / radius, > 0 to the left; false where it does not lead from start to end. */
  spiral(start: Place, end: Place, length: number, k0: number, k1: number): boolean {
    const piece = clothoid(start, end, length, k0, k1, this.sagitta);
    if (piece) this.add(piece);
    return piece !== null;
  }

  /** A list of places, x, y, z … */
  list(places: readonly number[]): void {
    for (let i = 3; i < places.length; i += 3)
      this.straight([places[i - 3], places[i - 2], places[i - 1]], [places[i], places[i + 1], places[i + 2]]);
  }

  /** Its lines, x, y, z …, and where they are arcs: one goes on while each piece begins where the last one ended. */
  lines(): { spatial: number[]; arcs: ArcInLine[] }[] {
    const out: { spatial: number[]; arcs: ArcInLine[] }[] = [];
    let at: number[] = [];
    for (const { start, end, inner, bulge } of this.pieces) {
      const n = at.length;
      if (!n || at[n - 3] !== start[0] || at[n - 2] !== start[1]) out.push({ spatial: (at = [...start]), arcs: [] });
      const from = at.length / 3 - 1;
      for (const { at: place, share } of inner) at.push(place[0], place[1], start[2] + share * (end[2] - start[2]));
      at.push(...end);
      if (bulge) out.at(-1)!.arcs.push({ from, to: at.length / 3 - 1, bulge });
    }
    return out;
  }

  /** Where one is after some way along it; null before its start and behind its end. */
  poseAt(along: number): Pose | null {
    if (!(along >= 0) || along > this.length + END || this.pieces.length === 0) return null;
    const i = lastAtMost(this.starts, along);
    return this.pieces[i].pose(Math.min(along - this.starts[i], this.pieces[i].length));
  }

  /** Ways along it at which it is drawn: ends of its pieces, and places on its curves. */
  drawnAt(): number[] {
    const within = this.pieces.flatMap(({ length, inner }, i) => inner.map(({ share }) => this.starts[i] + share * length)); // prettier-ignore
    return [...this.starts, ...within, this.length];
  }

  private add(piece: Piece): void {
    this.starts.push(this.length);
    this.pieces.push(piece);
    this.length += piece.length;
  }
}

/** As much behind the end of a course, in its unit, is its end: chainages are written with few decimals. */
const END = 0.01;

/**
 * The bulge (DXF reference: tangent of a quarter of the angle, > 0 counter-clockwise) of an arc by its centre: how far it
 * rises over half its chord. A centre to the left of the way is that of the shorter arc counter-clockwise.
 */
function bulgeOf([ax, ay]: Place, [bx, by]: Place, [cx, cy]: Place, rot: 'cw' | 'ccw'): number {
  const half = distance(bx - ax, by - ay) / 2;
  if (!(half > 0)) return 0;
  const radius = distance(cx - ax, cy - ay);
  const toChord = Math.sqrt(Math.max(0, radius * radius - half * half));
  const isLeft = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) > 0;
  const rise = radius + (isLeft === (rot === 'ccw') ? -toChord : toChord);
  return ((rot === 'ccw' ? 1 : -1) * rise) / half;
}
