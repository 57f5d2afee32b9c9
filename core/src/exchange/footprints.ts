import Flatbush from 'flatbush';
import { pointInRing } from '#core/kernel';
import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import { chords, SAGITTA } from './chords.ts';
import { joinedEnds } from './clean/joined.ts';
import type { DxfPolyline, DxfText } from './dxf/content.ts';

// The plan of each building as one closed line, named after what is written in it or in the lot around it.

/** What became of lines that are taken as footprints. */
export interface Footprints {
  closed: number;
  /** Named by the one text inside them; by the one text of the smallest area around them; not named. */
  inside: number;
  around: number;
  unnamed: number;
  /** Where lines end that do not close, the first of them; drawing units. */
  open: { layer: string; x: number; y: number }[];
  openCount: number;
}

/** m; ends that are no farther apart are one corner. */
const SAME_CORNER = 0.01;
const SHOWN = 20;
const LONGEST_NAME = 20;
/** A number with decimals is a level, and no name. */
const LEVEL = /^[^\d]*\d+[.,]\d+\s*m?$/i;

/**
 * Lines joined to closed ones, each with its name; what does not close stays a line as it was drawn.
 * @param around closed lines that are no footprints: lots, plots
 */
export function footprintsOf(
  lines: readonly DxfPolyline[],
  texts: readonly DxfText[],
  around: readonly DxfPolyline[],
  unit: FileUnit,
): { lines: DxfPolyline[]; told: Footprints } {
  const metre = METRES_IN_FILE[unit];
  const { lines: whole } = joinedEnds(lines, SAME_CORNER / metre);
  const sagitta = SAGITTA / metre;
  const rings = whole.filter(isClosed).map((line) => ringOf(line, sagitta));
  const open = whole.filter((l) => !isClosed(l));
  const lots = around.filter(isClosed).map((line) => ringOf(line, sagitta));
  const names = texts.flatMap((t) => nameIn(t) ?? []);
  const within = insideFinder(names);
  const inBuilding = new Set(rings.flatMap((r) => within(r)));
  const told: Footprints = { closed: rings.length, inside: 0, around: 0, unnamed: 0, open: [], openCount: open.length };
  told.open = open.slice(0, SHOWN).map(({ layer, x, y }) => ({ layer, x: x.at(-1)!, y: y.at(-1)! }));
  const used = new Map<string, number>();
  const named = rings.map((r): DxfPolyline => {
    const own = onlyOne(within(r));
    const lot = own ? null : smallestAround(r, lots);
    const name = own ?? (lot && onlyOne(within(lot).filter((n) => !inBuilding.has(n))));
    if (!name) {
      told.unnamed++;
      return r.line;
    }
    told[own ? 'inside' : 'around']++;
    const times = (used.get(name.text) ?? 0) + 1;
    used.set(name.text, times);
    return { ...r.line, name: times === 1 ? name.text : `${name.text}.${times}` };
  });
  return { lines: [...named, ...open], told };
}

interface Ring {
  line: DxfPolyline;
  /** x, y, x, y …, its arcs as chords. */
  places: Float64Array;
  box: [number, number, number, number];
  area: number;
}

interface Name {
  text: string;
  x: number;
  y: number;
}

/** A closed line of three sides, or of two where one is an arc. */
const isClosed = ({ closed, x, bulge }: DxfPolyline): boolean =>
  closed && (x.length > 2 || (x.length === 2 && bulge.some((b) => b !== 0)));

function ringOf(line: DxfPolyline, sagitta: number): Ring {
  const { x, y, bulge } = line;
  const places: number[] = [];
  const box: Ring['box'] = [Infinity, Infinity, -Infinity, -Infinity];
  let twice = 0;
  x.forEach((_, i) => {
    const k = (i + 1) % x.length;
    places.push(x[i], y[i]);
    if (bulge[i]) for (const { at } of chords(x[i], y[i], x[k], y[k], bulge[i], sagitta)) places.push(...at);
  });
  const [x0, y0] = places;
  for (let i = 0; i < places.length; i += 2) {
    const k = (i + 2) % places.length;
    twice += (places[i] - x0) * (places[k + 1] - y0) - (places[k] - x0) * (places[i + 1] - y0);
    box[0] = Math.min(box[0], places[i]);
    box[1] = Math.min(box[1], places[i + 1]);
    box[2] = Math.max(box[2], places[i]);
    box[3] = Math.max(box[3], places[i + 1]);
  }
  return { line, places: Float64Array.from(places), box, area: Math.abs(twice) / 2 };
}

/** What a text may name, in the middle of its letters: in one word, as numbers of points are. */
function nameIn({ text, line, x, y }: DxfText): Name | null {
  const plain = text.trim();
  const name = plain.replace(/[\s"]+/g, '_').slice(0, LONGEST_NAME);
  if (name === '' || LEVEL.test(plain)) return null;
  return line ? { text: name, x: (line.from[0] + line.to[0]) / 2, y: (line.from[1] + line.to[1]) / 2 } : { text: name, x, y }; // prettier-ignore
}

/** Finds the names inside a ring. */
function insideFinder(names: readonly Name[]): (ring: Ring) => Name[] {
  if (names.length === 0) return () => [];
  const index = new Flatbush(names.length);
  for (const { x, y } of names) index.add(x, y);
  index.finish();
  return ({ places, box }) =>
    index
      .search(...box)
      .sort((a, b) => a - b)
      .flatMap((i) => (pointInRing(places, names[i].x, names[i].y) ? [names[i]] : []));
}

/** Of several names none is taken: nothing says which is meant. */
const onlyOne = (names: readonly Name[]): Name | null =>
  new Set(names.map((n) => n.text)).size === 1 ? names[0] : null;

/** The smallest ring that a footprint lies in with all of its corners. */
function smallestAround({ line, area }: Ring, rings: readonly Ring[]): Ring | null {
  let best: Ring | null = null;
  for (const r of rings)
    if (r.area > area && (!best || r.area < best.area) && line.x.every((x, i) => pointInRing(r.places, x, line.y[i])))
      best = r;
  return best;
}
