import { groundOf, padRecipe, type Comparison, type ProjectDocument } from '#core/project';
import { Act } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';

/** Horizontal to 1 vertical; what earth stands at without more being known of it. */
const USUAL_SLOPE = 2;
/** m; chords of rounded corners. */
const SAGITTA = 0.01;

/** A pad inside a boundary that is drawn, at the mean of the ground at its corners, with what it is compared with. */
export function NewPad() {
  const { state, tables, make, select, trace, traced, tell } = useParts(
    'state',
    'tables',
    'make',
    'select',
    'trace',
    'traced',
    'tell',
  );
  const doc = state!.document;
  const add = async (ring: number[]): Promise<void> => {
    const ground = groundOf(doc);
    const corners = ring.flatMap((x, i) =>
      i % 2 ? [] : [tables!.finders.get(ground.id)?.at(x, ring[i + 1])?.elevation ?? NaN],
    );
    const known = corners.filter((z) => !Number.isNaN(z));
    if (known.length === 0) return tell('No corner of the pad lies on the ground. Draw it where there is ground.');
    // To the centimetre: it is to be typed over.
    const level = Math.round((100 * known.reduce((a, b) => a + b, 0)) / known.length) / 100;
    const id = crypto.randomUUID().slice(0, 8);
    const name = freeName(doc);
    const surface = padRecipe({ id: `pad-${id}`, name }, { surface: ground.id, ring, level, levelAt: 'centre', gradient: 0, direction: 0, cutSlope: USUAL_SLOPE, fillSlope: USUAL_SLOPE, corners: 'mitred', sagitta: SAGITTA, batter: 'square' }); // prettier-ignore
    const comparison: Comparison = { id, name, surface: ground.id, against: { surface: surface.id }, within: null };
    const changes = [
      { op: 'surface.add' as const, surface },
      { op: 'comparison.set' as const, comparison },
    ];
    if (await make({ op: 'several', changes, what: `laid “${name}” into ${ground.name}` }))
      select({ kind: 'comparison', id });
  };
  return (
    <Act
      disabled={traced !== null}
      title="a level or sloping area with batters to the ground"
      onClick={() => trace({ purpose: 'the pad', places: [], finish: (ring) => void add(ring) })}
    >
      Lay a pad …
    </Act>
  );
}

function freeName({ surfaces }: Pick<ProjectDocument, 'surfaces'>): string {
  const taken = new Set(surfaces.map((s) => s.name));
  let n = 1;
  while (taken.has(`Pad ${n}`)) n++;
  return `Pad ${n}`;
}
