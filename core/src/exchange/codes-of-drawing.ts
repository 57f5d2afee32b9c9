import type { Code, Ink } from '#core/codes';
import { BY_LAYER, codeOfTaken, comesAsPoints, keyOfTaken, TRUE_COLOUR, type TakenRow } from './taken.ts';
import type { LayerKind } from './dxf/tally.ts';

/** Letters of a layer, and of the name of a code, at the most. */
const [LAYER_LENGTH, NAME_LENGTH] = [31, 80];
/** Of drawings with a layer for everything, so many become codes at once. */
const MOST_CODES = 500;

/**
 * Codes for what is ticked of a drawing that a code list does not know: named after their layers, drawn on them in the ink
 * that is nearest to their colour, breaklines and of the ground where they are taken so. Of rows with one code, the first
 * says what it is, any of them that it is a breakline. Symbols that have their block's name get none.
 */
export function codesOfDrawing(
  rows: readonly LayerKind[],
  taken: readonly TakenRow[],
  known: readonly Pick<Code, 'code'>[],
): Code[] {
  const there = new Set(known.map((c) => c.code.toUpperCase()));
  const colours = new Map(rows.map((r) => [keyOfTaken(r), r.drawnIn === undefined || r.drawnIn === BY_LAYER ? r.colour : r.drawnIn])); // prettier-ignore
  const made = new Map<string, Code>();
  for (const t of taken) {
    const code = t.as ? codeOfTaken(t) : null;
    if (code === null || there.has(code)) continue;
    const of = made.get(code) ?? newCode(code, t, colours.get(keyOfTaken(t)) ?? null);
    made.set(code, { ...of, breakline: of.breakline || t.as === 'breaklines', ground: of.ground || IN_GROUND.has(t.as!) }); // prettier-ignore
  }
  return [...made.values()].slice(0, MOST_CODES);
}

const IN_GROUND = new Set<NonNullable<TakenRow['as']>>(['ground points', 'breaklines', 'contours']);

function newCode(code: string, { layer, kind }: TakenRow, colour: number | null): Code {
  const isPoint = comesAsPoints(kind);
  return {
    code,
    name: layer.trim().slice(0, NAME_LENGTH),
    kind: isPoint ? 'point' : 'line',
    layer: layer.trim().slice(0, LAYER_LENGTH).trim() || code,
    ink: inkOfColour(colour),
    symbol: 'dot',
    style: 'solid',
    breakline: false,
    ground: false,
  };
}

/** Inks along the colour circle, each up to its hue in degrees. */
const HUES: readonly (readonly [upTo: number, ink: Ink])[] = [[20, 'pole'], [70, 'brass'], [100, 'moss'], [165, 'pine'], [260, 'lake'], [335, 'plum'], [360, 'pole']]; // prettier-ignore
/** Of the first colours, red yellow green cyan blue magenta, the same. */
const FIRST: readonly Ink[] = ['ink', 'pole', 'brass', 'pine', 'lake', 'lake', 'plum', 'ink', 'slate', 'slate'];

/**
 * The ink nearest to a colour: an index (DXF reference: 1 to 9 by name, 10 to 249 by hue in steps of 15°, 250 to 255 grey),
 * or red, green and blue.
 */
export function inkOfColour(index: number | null): Ink {
  if (index !== null && index >= TRUE_COLOUR) return inkOfMixed(index - TRUE_COLOUR);
  if (index === null || index < 1 || index > 255) return 'slate';
  if (index < 10) return FIRST[index];
  if (index >= 250) return 'slate';
  return inkOfHue((Math.floor(index / 10) - 1) * 15);
}

const inkOfHue = (hue: number): Ink => HUES.find(([upTo]) => hue < upTo)![1];

/** Of red, green and blue of eight bits each: by hue (hexcone model, Smith 1978), grey where they hardly differ. */
function inkOfMixed(rgb: number): Ink {
  const [r, g, b] = [rgb >> 16, (rgb >> 8) & 255, rgb & 255];
  const [most, least] = [Math.max(r, g, b), Math.min(r, g, b)];
  const range = most - least;
  if (range < 32) return most < 64 ? 'ink' : 'slate';
  const sixth = most === r ? (g - b) / range : most === g ? 2 + (b - r) / range : 4 + (r - g) / range;
  return inkOfHue((sixth * 60 + 360) % 360);
}
