import { groundOf, proposedRecipe, proposedRows, type Change, type Comparison, type ProjectDocument, type ProposedRow } from '#core/project'; // prettier-ignore
import { Pick } from '../../../frame/controls.tsx';
import type { GroundFinder } from '#core/terrain';
import { useParts } from '../../../project-state/store.ts';

/** Horizontal to 1 vertical; what earth stands at without more being known of it. */
const USUAL_SLOPE = 2;
/** m; chords of rounded corners. */
const SAGITTA = 0.01;
/** m; a ditch before more is said of it. */
const DITCH = { depth: 1, half: 0.25 };
/** m; topsoil before more is said of it. */
const LOWER = -0.2;

const BATTERS = { cutSlope: USUAL_SLOPE, fillSlope: USUAL_SLOPE, corners: 'mitred', sagitta: SAGITTA } as const;
type Kind = ProposedRow['kind'];
type Without<R> = R extends unknown ? Omit<R, 'id' | 'on'> : never;
const NAME: Record<Kind, string> = { pad: 'Pad', strip: 'Bank or ditch', offset: 'Offset' };

/** Proposes ground: a pad, a bank or ditch along a line, an offset; as a surface of its own with what it is compared with, or as a further part of one. */
export function Propose({ into }: { into?: string }) {
  const { state, tables, make, select, trace, traced, tell } = useParts('state', 'tables', 'make', 'select', 'trace', 'traced', 'tell'); // prettier-ignore
  const doc = state!.document;
  const add = async (first: Without<ProposedRow>): Promise<void> => {
    if (into) {
      await make({ op: 'surface.row', surface: into, row: { id: crypto.randomUUID().slice(0, 13), on: true, ...first } }); // prettier-ignore
      return;
    }
    const id = crypto.randomUUID().slice(0, 8);
    const name = freeName(doc, NAME[first.kind]);
    const surface = proposedRecipe({ id: `pad-${id}`, name }, first);
    const comparison: Comparison = { id, name, surface: first.surface, against: { surface: surface.id }, within: null };
    const changes: Change[] = [
      { op: 'surface.add', surface },
      { op: 'comparison.set', comparison },
    ];
    const ground = doc.surfaces.find((s) => s.id === first.surface)?.name ?? '';
    if (await make({ op: 'several', changes, what: `laid “${name}” into ${ground}` })) select({ kind: 'comparison', id }); // prettier-ignore
  };
  const own = doc.surfaces.find((s) => s.id === into);
  const ground = (own && proposedRows(own)[0]?.surface) ?? groundOf(doc).id;
  const at = tables!.finders.get(ground);
  const pad = (ring: number[]): void => {
    const level = meanElevation(at, ring);
    if (level === null) return tell('No corner of the pad lies on the ground. Draw it where there is ground.');
    void add({ kind: 'pad', surface: ground, ring, level, levelAt: 'centre', gradient: 0, direction: 0, ...BATTERS, batter: 'square' }); // prettier-ignore
  };
  const strip = (places: readonly { x: number; y: number }[]): void => {
    const [from, to] = [places[0], places.at(-1)!].map(({ x, y }) => at?.at(x, y)?.elevation);
    if (from === undefined || to === undefined) return tell('An end of the line is not on the ground. Draw it where there is ground.'); // prettier-ignore
    const course = evenlyGraded(places, cents(from - DITCH.depth), cents(to - DITCH.depth));
    void add({ kind: 'strip', surface: ground, course, template: [{ offset: -DITCH.half, height: 0 }, { offset: DITCH.half, height: 0 }], ...BATTERS }); // prettier-ignore
  };
  const begin = (kind: Kind): void => {
    if (kind === 'offset') return void add({ kind, surface: ground, ring: null, by: LOWER });
    if (kind === 'pad') return trace({ purpose: 'the pad', places: [], finish: pad });
    trace({ purpose: 'the line of the bank or ditch', places: [], finish: () => {}, course: { most: null, free: true, finish: strip } }); // prettier-ignore
  };
  return (
    <Pick
      aria-label={into ? 'propose further ground' : 'propose ground'}
      title="what is to be built, laid into the ground with batters"
      disabled={traced !== null}
      value=""
      width="112px"
      onChange={(e) => begin(e.target.value as Kind)}
    >
      <option value="">{into ? 'Add …' : 'Propose …'}</option>
      <option value="pad">a pad</option>
      <option value="strip">a bank or ditch along a line</option>
      <option value="offset">the ground, higher or lower</option>
    </Pick>
  );
}

/** To the centimetre: it is to be typed over. */
const cents = (z: number): number => Math.round(100 * z) / 100;

function meanElevation(at: GroundFinder | undefined, ring: readonly number[]): number | null {
  const known = ring.flatMap((x, i) => (i % 2 ? [] : [at?.at(x, ring[i + 1])?.elevation ?? NaN])).filter((z) => !Number.isNaN(z)); // prettier-ignore
  return known.length ? cents(known.reduce((a, b) => a + b, 0) / known.length) : null;
}

/** Places of a line at elevations that change evenly along it. */
export function evenlyGraded(
  places: readonly { x: number; y: number }[],
  from: number,
  to: number,
): { x: number; y: number; z: number }[] {
  // prettier-ignore
  const along = [0];
  places.forEach(({ x, y }, i) => {
    if (i > 0) along.push(along[i - 1] + Math.hypot(x - places[i - 1].x, y - places[i - 1].y));
  });
  const length = along.at(-1)! || 1;
  return places.map(({ x, y }, i) => ({ x, y, z: i === places.length - 1 ? to : from + ((to - from) * along[i]) / length })); // prettier-ignore
}

function freeName({ surfaces }: Pick<ProjectDocument, 'surfaces'>, kind: string): string {
  const taken = new Set(surfaces.map((s) => s.name));
  let n = 1;
  while (taken.has(`${kind} ${n}`)) n++;
  return `${kind} ${n}`;
}
