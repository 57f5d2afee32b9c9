import { volumeBetween, volumeToLevel, type Volume } from '#core/quantities';
import { clipToRing, contours, liveSurface, ofTriangles, type Contour, type ContourSettings, type LiveSurface, type Surface } from '#core/terrain'; // prettier-ignore

/** A comparison that the surface under the hand has part in. */
export interface Compared {
  name: string;
  /** Whether it is the surface that is compared, not what it is compared with. */
  ground: boolean;
  against: { level: number } | { surface: Surface };
  within: number[] | null;
}

/** What moving a vertex changes, of the whole surface since it was taken. */
export interface LiveChange {
  /** Triangles that are others now: x, y, z of three corners each, m. */
  made: Float64Array;
  contours: Contour[];
  /** By how much there is more under the surface, m³. */
  volume: number;
  compared: { name: string; cut: number; fill: number }[];
}

/** Of larger surfaces it takes too long to compare while the hand moves. */
const MOST_COMPARED = 60_000;

/** A surface while a vertex of it is dragged. */
export class LiveEdit {
  private live: LiveSurface;

  constructor(
    private readonly surface: Surface,
    private readonly settings: ContourSettings | null,
    private readonly compared: readonly Compared[],
  ) {
    this.live = liveSurface(surface);
  }

  move(v: number, x: number, y: number, z: number): LiveChange | null {
    if (!this.live.move(v, x, y, z)) {
      this.live = liveSurface(this.surface);
      return null;
    }
    const { gone, made } = this.live.patch();
    const [before, after] = [ofTriangles(gone), ofTriangles(made)];
    return {
      made,
      contours: this.settings ? contours(after, this.settings) : [],
      volume: volumeUnder(made) - volumeUnder(gone),
      compared: this.compared.flatMap((c) => {
        if ('surface' in c.against && c.against.surface.triangles.length / 3 > MOST_COMPARED) return [];
        const [was, is] = [quantities(before, c), quantities(after, c)];
        const { cut, fill } = { cut: is.cut - was.cut, fill: is.fill - was.fill };
        return [{ name: c.name, cut: c.ground ? cut : fill, fill: c.ground ? fill : cut }];
      }),
    };
  }
}

/** Quantities over a part of the surface under the hand, as if it were what is compared. */
function quantities(part: Surface, { against, within }: Compared): Volume {
  const inside = within ? clipToRing(part, Float64Array.from(within)) : part;
  return 'level' in against ? volumeToLevel(inside, against.level) : volumeBetween(inside, against.surface);
}

/** Volume between triangles and elevation zero, m³. */
function volumeUnder(p: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < p.length; i += 9) {
    const area = ((p[i + 3] - p[i]) * (p[i + 7] - p[i + 1]) - (p[i + 6] - p[i]) * (p[i + 4] - p[i + 1])) / 2;
    sum += (area * (p[i + 2] + p[i + 5] + p[i + 8])) / 3;
  }
  return sum;
}
