import type { Ink } from '#core/codes';
import type { LABEL_CORNERS } from '#core/project';
import { Obstacles, type Box } from './obstacles.ts';
import { EM } from './paper.ts';

type Corner = (typeof LABEL_CORNERS)[number];

/** A label that wants a place, in millimetres on paper. */
export interface WantedLabel {
  /** Point key and part: what a place by hand is kept under. */
  key: string;
  text: string;
  layer: string;
  ink: Ink;
  /** Where its point lies, y up. */
  x: number;
  y: number;
  /** Height of letters. */
  size: number;
  corner: Corner;
  /** Moved by hand: from its point to the beginning of its line of letters. */
  moved: readonly [number, number] | null;
}

export interface PlacedLabel extends WantedLabel {
  /** Where its line of letters begins. */
  textX: number;
  textY: number;
  /** Stands so far off that a thin line leads back to its point. */
  led: boolean;
}

/** How far letters of the monospaced face stand apart, against the height of its capitals. */
const LETTER_WIDTH = 0.6 * EM.mono;
const GAP = 0.5;
const ORDER: Corner[] = ['up-right', 'down-right', 'up-left', 'down-left'];

/** How far off its point a label may stand when a thin line leads back to it, in heights of its letters. */
const LED = 2.4;

/**
 * Gives labels places that keep clear of each other, of symbols and of what else is there: those moved by hand stay where they
 * were put, the others take their own corner, the next free one, a side, or a place a little off with a thin line back; what
 * finds none is left away. In the order given. With a frame, no label goes over its rim; without `far`, none needs a line.
 */
export function placeLabels(
  wanted: readonly WantedLabel[],
  symbols: readonly { x: number; y: number; radius: number }[],
  { taken = new Obstacles(), frame = null, far = true }: { taken?: Obstacles; frame?: Box | null; far?: boolean } = {},
): { placed: PlacedLabel[]; leftAway: number } {
  for (const s of symbols) taken.addBox({ left: s.x - s.radius, right: s.x + s.radius, bottom: s.y - s.radius, top: s.y + s.radius }); // prettier-ignore
  const placed: PlacedLabel[] = [];
  const free: WantedLabel[] = [];
  for (const label of wanted) {
    const at = label.moved && ([label.x + label.moved[0], label.y + label.moved[1]] as const);
    if (!at || !isInside(boxAt(label, ...at), frame)) {
      free.push(label);
      continue;
    }
    taken.addBox(boxAt(label, ...at));
    const far = Math.abs(label.moved![0]) > 3 * label.size || Math.abs(label.moved![1]) > 3 * label.size;
    placed.push({ ...label, textX: at[0], textY: at[1], led: far });
  }
  let leftAway = 0;
  for (const label of free) {
    const found = placeFor(label, far, (box) => isInside(box, frame) && taken.isFree(box));
    if (!found) {
      leftAway++;
      continue;
    }
    taken.addBox(found.box);
    placed.push({ ...label, textX: found.x, textY: found.y, led: found.led });
  }
  return { placed, leftAway };
}

const isInside = (box: Box, frame: Box | null): boolean =>
  !frame || (box.left >= frame.left && box.right <= frame.right && box.bottom >= frame.bottom && box.top <= frame.top);

const letterWidth = (label: WantedLabel): number => label.text.length * LETTER_WIDTH * label.size;

export function boxAt(label: WantedLabel, x: number, y: number): Box {
  return { left: x - 0.1, right: x + letterWidth(label) + 0.1, bottom: y - 0.25 * label.size, top: y + label.size };
}

const WAYS = new Map(
  ORDER.map((own, first) => {
    const corners = ORDER.map((_, i) => ORDER[(first + i) % 4]).map((c) => [c.endsWith('right') ? 1 : -1, c.startsWith('up') ? 1 : -1]); // prettier-ignore
    return [own, [...corners, [1, 0], [-1, 0], [0, 1], [0, -1]]];
  }),
);

interface Place {
  x: number;
  y: number;
  box: Box;
  led: boolean;
}

/** The first place where a label may stand: corners from its own on, sides, then all of them farther off. */
function placeFor(label: WantedLabel, far: boolean, isFree: (box: Box) => boolean): Place | null {
  const width = letterWidth(label);
  const { size } = label;
  for (const out of far ? [0, LED] : [0]) {
    const off = GAP + size * (0.45 + out);
    for (const [right, up] of WAYS.get(label.corner)!) {
      const x = label.x + (right > 0 ? off : right < 0 ? -off - width : -width / 2);
      const y = label.y + (up > 0 ? off * (out ? 1 : 0.6) : up < 0 ? -off - size * 0.6 : -size / 2);
      const box = boxAt(label, x, y);
      if (isFree(box)) return { x, y, box, led: out > 0 };
    }
  }
  return null;
}
