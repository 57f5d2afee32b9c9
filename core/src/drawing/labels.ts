import type { Ink } from '#core/codes';
import type { LABEL_CORNERS } from '#core/project';
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

interface Box {
  left: number;
  bottom: number;
  right: number;
  top: number;
}

/** Boxes by cells, for asking whether a place is free. */
class Taken {
  private readonly cells = new Map<number, Box[]>();
  constructor(private readonly cell: number) {}

  private each(b: Box, act: (key: number) => boolean): boolean {
    for (let i = Math.floor(b.left / this.cell); i <= Math.floor(b.right / this.cell); i++)
      for (let k = Math.floor(b.bottom / this.cell); k <= Math.floor(b.top / this.cell); k++)
        if (act(i * 65_536 + k)) return true;
    return false;
  }

  isFree(b: Box): boolean {
    return !this.each(
      b,
      (key) =>
      (this.cells.get(key) ?? []).some((o) => o.left < b.right && b.left < o.right && o.bottom < b.top && b.bottom < o.top), // prettier-ignore
    );
  }

  add(b: Box): void {
    this.each(b, (key) => {
      const list = this.cells.get(key);
      if (list) list.push(b);
      else this.cells.set(key, [b]);
      return false;
    });
  }
}

/**
 * Gives labels places that keep clear of each other and of symbols: those moved by hand stay where they were put, the
 * others take their own corner or the next free one; what finds none is left away. In the order given.
 */
export function placeLabels(
  wanted: readonly WantedLabel[],
  symbols: readonly { x: number; y: number; radius: number }[],
): { placed: PlacedLabel[]; leftAway: number } {
  const taken = new Taken(8);
  for (const s of symbols) taken.add({ left: s.x - s.radius, right: s.x + s.radius, bottom: s.y - s.radius, top: s.y + s.radius }); // prettier-ignore
  const placed: PlacedLabel[] = [];
  let leftAway = 0;
  for (const label of wanted) {
    if (!label.moved) continue;
    const at = { textX: label.x + label.moved[0], textY: label.y + label.moved[1] };
    taken.add(boxAt(label, at.textX, at.textY));
    const far = Math.abs(label.moved[0]) > 3 * label.size || Math.abs(label.moved[1]) > 3 * label.size;
    placed.push({ ...label, ...at, led: far });
  }
  for (const label of wanted) {
    if (label.moved) continue;
    const first = ORDER.indexOf(label.corner);
    let found = false;
    for (let i = 0; i < 4 && !found; i++) {
      const [textX, textY] = cornerAt(label, ORDER[(first + i) % 4]);
      const box = boxAt(label, textX, textY);
      if (!taken.isFree(box)) continue;
      taken.add(box);
      placed.push({ ...label, textX, textY, led: false });
      found = true;
    }
    if (!found) leftAway++;
  }
  return { placed, leftAway };
}

const widthOf = (label: WantedLabel): number => label.text.length * LETTER_WIDTH * label.size;

function boxAt(label: WantedLabel, x: number, y: number): Box {
  return { left: x - 0.1, right: x + widthOf(label) + 0.1, bottom: y - 0.25 * label.size, top: y + label.size };
}

function cornerAt(label: WantedLabel, corner: Corner): [number, number] {
  const right = corner.endsWith('right');
  const up = corner.startsWith('up');
  const off = GAP + label.size * 0.45;
  return [right ? label.x + off : label.x - off - widthOf(label), up ? label.y + off * 0.6 : label.y - off - label.size * 0.6]; // prettier-ignore
}
