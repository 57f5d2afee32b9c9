import { groundFinder, type GroundFinder } from '#core/terrain';
import { volumeBetween, volumeToLevel, type DifferencePieces } from '../volume.ts';
import { Gathering } from '../difference/gathered.ts';
import { baseOver, stagesOf, type SplitBase, type SplitCause, type SplitSide } from './split-stages.ts';

/**
 * Where one cause of two parties' difference acts: of a step from state to state by how much it raises or lowers the surface
 * (of a base, the base), m; of an area that one of them alone measures, what they measure there, drawn to about a sixteenth of a
 * triangle's side where the area that both measure cuts it.
 */
export function paintedCause(
  ours: SplitSide,
  theirs: SplitSide,
  within: number,
  cause: SplitCause,
): DifferencePieces | { reason: string } {
  const all = stagesOf(ours, theirs, within);
  if ('reason' in all) return all;
  const { region, stages } = all;
  if (cause === 'our-area') return outside(measuredOf(ours), groundFinder(region));
  if (cause === 'their-area') return outside(measuredOf(theirs), groundFinder(region));
  const at = stages.findIndex((s) => s.cause === cause);
  const [before, after] = [stages[at - 1], stages[at]];
  if (cause === 'base') return volumeBetween(before.base, after.base).pieces;
  return volumeBetween(baseOver(region, { surface: before.surface }), after.surface).pieces;
}

const measuredOf = ({ part, base }: { part: SplitSide['part']; base: SplitBase }): DifferencePieces => ('level' in base ? volumeToLevel(part, base.level) : volumeBetween(part, base.surface)).pieces; // prettier-ignore

/** Halvings of a triangle that lies partly in a region. */
const HALVINGS = 4;

/** What of pieces lies outside a region. */
function outside(pieces: DifferencePieces, region: GroundFinder): DifferencePieces {
  const out = new Gathering();
  const isIn = (x: number, y: number): boolean => region.at(x, y) !== null;
  type Corner = [x: number, y: number, d: number];
  const middle = (a: Corner, b: Corner): Corner => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
  const look = (a: Corner, b: Corner, c: Corner, left: number): void => {
    const [x, y] = [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3];
    // Corners stand on the rim of the region where it is cut there: a little inside the triangle it is plain.
    const near = ([px, py]: Corner): boolean => isIn(px + (x - px) * 1e-3, py + (y - py) * 1e-3);
    const inside = [near(a), near(b), near(c), isIn(x, y)];
    if (inside.every((i) => i)) return;
    if (left === 0 || inside.every((i) => !i)) {
      if (!inside[3]) out.add(...a, ...b, ...c);
      return;
    }
    const [ab, bc, ca] = [middle(a, b), middle(b, c), middle(c, a)];
    for (const [p, q, r] of [[a, ab, ca], [ab, b, bc], [ca, bc, c], [ab, bc, ca]] as const) look(p, q, r, left - 1); // prettier-ignore
  };
  for (let i = 0; i < pieces.length; i += 9) {
    const at = (k: number): Corner => [pieces[i + k], pieces[i + k + 1], pieces[i + k + 2]];
    look(at(0), at(3), at(6), HALVINGS);
  }
  return out.rest().slice();
}
