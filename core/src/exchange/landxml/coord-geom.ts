import { distance } from '#core/kernel';
import { chords } from '../chords.ts';

/** A place, east, north, elevation; the last is NaN where none is said. */
export type Place = readonly [east: number, north: number, elevation: number];

/** Ends, centre and intersection of the element at hand. */
export interface Ends {
  Start?: Place;
  End?: Place;
  Center?: Place;
}

/** The parts of one CoordGeom, one after another: a line goes on while each begins where the last one ended. */
export class CoordGeom {
  private at: number[] = [];
  private readonly done: number[][] = [];

  /** @param sagitta how far a chord may be from its curve, in the file's unit */
  constructor(private readonly sagitta: number) {}

  straight(a: Place, b: Place): void {
    this.begin(a);
    this.at.push(...b);
  }

  /** An arc about a centre; counter-clockwise or clockwise. */
  curve(a: Place, b: Place, centre: Place, rot: 'cw' | 'ccw'): void {
    this.begin(a);
    const bulge = bulgeOf(a, b, centre, rot);
    for (const { at, share } of chords(a[0], a[1], b[0], b[1], bulge, this.sagitta))
      this.at.push(at[0], at[1], a[2] + share * (b[2] - a[2]));
    this.at.push(...b);
  }

  course(places: readonly number[]): void {
    if (places.length < 6) return;
    this.begin([places[0], places[1], places[2]]);
    for (let i = 3; i < places.length; i++) this.at.push(places[i]);
  }

  /** Its lines, x, y, z …, each as long as it goes on. */
  lines(): number[][] {
    this.finish();
    return this.done;
  }

  private begin([x, y, z]: Place): void {
    const n = this.at.length;
    if (n && this.at[n - 3] === x && this.at[n - 2] === y) return;
    this.finish();
    this.at = [x, y, z];
  }

  private finish(): void {
    if (this.at.length >= 6) this.done.push(this.at);
    this.at = [];
  }
}

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
