import type { Surface } from '#core/terrain';
import { withoutBand } from '../band.ts';
import { DeepestFinder, type Deepest } from '../deepest.ts';
import { addSlices, depthSlices, type DepthSlice } from '../parts/depth-slices.ts';
import { slopeAreas, type SlopeAreas } from '../slope-areas.ts';
import { Tally, type Volume } from '../tally.ts';
import { addZones, outsideOf, volumesInZones, type Zone, type ZoneVolume, type ZoneVolumes } from '../parts/zones.ts';
import type { Difference } from './difference.ts';
import { Gathering, type DifferencePieces } from './gathered.ts';

/** Pieces beyond which none are kept: they are worked off by so many at a time, so that memory does not grow with them. */
export const MOST_KEPT = 1_000_000;

export interface FiguresAsked {
  /** The compared surface as it lies, for areas along it. */
  surface: Surface;
  /** m; no deeper counts as neither cut nor fill. */
  band?: number;
  zones?: readonly Zone[];
  /** m */
  slice?: number;
  most?: number;
}

export interface DifferenceFigures {
  volume: Volume;
  deepest: { cut: Deepest | null; fill: Deepest | null };
  slope: SlopeAreas;
  /** Null where no zone was asked for. */
  zones: ZoneVolumes | null;
  /** Null where nobody asked, the reason where there are too many. */
  slices: DepthSlice[] | { reason: string } | null;
  /** All pieces, without those that count as neither; null where they are more than are kept. */
  pieces: DifferencePieces | null;
}

/** Whether something is asked that is worked off of the pieces themselves. */
export const needsPieces = ({ band, zones, slice }: FiguresAsked): boolean =>
  Boolean(band) || Boolean(zones?.length) || slice !== undefined;

/** All that is told of a difference, exactly, however many its pieces are. */
export function figuresOf(difference: Difference, asked: FiguresAsked): DifferenceFigures {
  const { most = MOST_KEPT } = asked;
  const tally = new Tally();
  const sums = new Sums(asked);
  const deepest = new DeepestFinder(asked.band);
  let handedOn = false;
  const gathering = new Gathering(most, (pieces) => {
    handedOn = true;
    if (sums.needsPieces) sums.take(pieces);
  });
  difference((piece, corners, steep, ox, oy) => {
    tally.addPiece(piece, corners, steep);
    deepest.see(piece, corners, ox, oy);
    // Once they are too many to keep, they are gathered for what is worked off of them alone.
    if (!handedOn || sums.needsPieces) gathering.addPiece(piece, corners, ox, oy);
  });
  const rest = sums.take(gathering.rest());
  const whole = tally.result();
  const slope = { cut: tally.cutSlope.value(), fill: tally.fillSlope.value() };
  const of = asked.band ? { volume: { ...sums.banded, area: whole.area }, slope: sums.slope } : { volume: whole, slope }; // prettier-ignore
  return {
    ...of,
    deepest: deepest.result(),
    zones: sums.zones && { zones: sums.zones, outside: outsideOf(of.volume, sums.zones) },
    slices: sums.slices,
    pieces: handedOn ? null : asked.band ? rest : rest.slice(),
  };
}

/** What adds up from one chunk of pieces to the next. */
class Sums {
  banded = { cut: 0, fill: 0, cutArea: 0, fillArea: 0 };
  slope: SlopeAreas = { cut: 0, fill: 0 };
  zones: ZoneVolume[] | null = null;
  slices: DifferenceFigures['slices'] = null;

  readonly needsPieces: boolean;

  constructor(private readonly asked: FiguresAsked) {
    this.needsPieces = needsPieces(asked);
  }

  /** The pieces that count: those that do not lie in the band. */
  take(all: DifferencePieces): DifferencePieces {
    const { band, zones, slice, surface } = this.asked;
    const counted = band ? withoutBand({ pieces: all, area: 0 }, band) : null;
    const pieces = counted?.pieces ?? all;
    if (counted) {
      for (const key of ['cut', 'fill', 'cutArea', 'fillArea'] as const) this.banded[key] += counted[key];
      const along = slopeAreas(pieces, surface);
      this.slope = { cut: this.slope.cut + along.cut, fill: this.slope.fill + along.fill };
    }
    if (zones?.length) this.zones = addZones(this.zones, volumesInZones(pieces, zones));
    if (slice !== undefined) this.addSlices(pieces, slice);
    return pieces;
  }

  private addSlices(pieces: DifferencePieces, slice: number): void {
    if (this.slices && 'reason' in this.slices) return;
    try {
      this.slices = addSlices(this.slices ?? [], depthSlices(pieces, slice));
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.slices = { reason: error.message };
    }
  }
}
