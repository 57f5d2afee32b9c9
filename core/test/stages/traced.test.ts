import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChange, changeSchema, tracedRecipe, type Change, type ProjectDocument, type SurfaceRecipe, type SurfaceRow, type TracedRow } from '#core/project'; // prettier-ignore
import { sinCos } from '#core/kernel';
import { surveyOf } from './survey-of.ts';

const on = (id: string) => ({ id, on: true as const });
const square = (half: number): { x: number; y: number }[] => [[-half, -half], [half, -half], [half, half], [-half, half]].map(([x, y]) => ({ x: 500 + x, y: 700 + y })); // prettier-ignore
const contour = (id: string, half: number, z: number): TracedRow => ({ ...on(id), kind: 'traced', as: 'contour', picture: 'p', closed: true, course: square(half).map((p) => ({ ...p, z })) }); // prettier-ignore
const recipe = (rows: SurfaceRow[]): SurfaceRecipe => {
  const made = tracedRecipe({ id: 't', name: 'Traced' });
  return { ...made, rows: [...made.rows, ...rows] };
};

/** A heap whose toe is the largest square. */
const computed = (rows: SurfaceRow[], sd?: { plan: number; height: number; scale?: number }, half = 10) => {
  const { doc, run } = surveyOf([]);
  const changes: Change[] = [
    { op: 'surface.add', surface: recipe(rows) },
    { op: 'comparison.set', comparison: { id: 'c', name: 'c', surface: 't', against: { base: 'lowest' }, within: square(half).flatMap(({ x, y }) => [x, y]), sd } }, // prettier-ignore
  ];
  const made = changes.reduce<ProjectDocument>((d, change) => {
    const applied = applyChange(d, changeSchema.parse(change));
    if (!applied.ok) throw new Error(applied.reason);
    return applied.document;
  }, doc);
  const result = run(made);
  const [c] = result.comparisons;
  if (!c.ok) throw new Error(c.reason);
  return { c, queries: result.queries };
};

describe('a heap that was traced', () => {
  it('is the frustums between its squares and the pyramid of its top, exactly', () => {
    const half = fc.double({ min: 0.5, max: 5, noNaN: true });
    const rise = fc.double({ min: 0.1, max: 4, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(half, rise), { minLength: 1, maxLength: 5 }), rise, (steps, top) => {
        // From the top down, each square larger than the one above it.
        let [at, z] = [0, 100];
        const squares = steps.map(([grow, fall]) => ({ half: (at += grow), z: (z -= fall) }));
        const volume = squares.slice(1).reduce(
          (sum, s, i) => {
            const [a, b] = [4 * squares[i].half ** 2, 4 * s.half ** 2];
            return sum + ((squares[i].z - s.z) / 3) * (a + b + Math.sqrt(a * b));
          },
          (4 * squares[0].half ** 2 * top) / 3,
        );
        const rows = [...squares.map((s, i) => contour(`c${i}`, s.half, s.z)), { ...on('top'), kind: 'spot' as const, x: 500, y: 700, z: 100 - steps[0][1] + top }]; // prettier-ignore
        const { c } = computed(rows, undefined, at);
        expect(c.volume.cut).toBeCloseTo(volume, 6);
        expect(c.volume.area).toBeCloseTo(4 * squares.at(-1)!.half ** 2, 6);
      }),
      { numRuns: 40 },
    );
  });

  it('follows a breakline whose elevations are known at its ends alone', () => {
    const ridge: TracedRow = { ...on('ridge'), kind: 'traced', as: 'breakline', picture: null, closed: false, course: [-6, -2, 4, 6].map((x, i) => ({ x: 500 + x, y: 700, z: [12, null, null, 15][i] })) }; // prettier-ignore
    const { c } = computed([contour('toe', 10, 10), ridge]);
    const level: TracedRow = { ...ridge, course: ridge.course.map((p) => ({ ...p, z: 12 + (3 * (p.x - 494)) / 12 })) };
    expect(c.volume.cut).toBeCloseTo(computed([contour('toe', 10, 10), level]).c.volume.cut, 9);
  });

  it('that has two contours across each other is asked about, by what they are', () => {
    const across: TracedRow = { ...contour('b', 10, 11), course: square(10).map((p) => ({ x: p.x + 5, y: p.y + 5, z: 11 })) }; // prettier-ignore
    const { queries } = computed([contour('a', 10, 10), across]);
    const asked = queries.filter((q) => q.kind === 'meeting-breaklines');
    expect(asked.length).toBeGreaterThan(0);
    expect(asked[0].text).toContain('a traced contour');
  });

  /** Squares of 10, 9 … 5 m at 10, 11 … 15 m. */
  const pyramid = (): TracedRow[] => [0, 1, 2, 3, 4, 5].map((k) => contour(`c${k}`, 10 - k, 10 + k));
  const faults = (rows: SurfaceRow[]) =>
    computed(rows, undefined, 40).queries.filter((q) => q.kind === 'contour-fault');

  it('asks nothing of contours that go with each other', () => {
    expect(faults(pyramid())).toEqual([]);
  });

  it('asks about a contour of a wrong elevation, and what would fit', () => {
    const rows = pyramid();
    rows[3] = contour('c3', 7, 31);
    const [asked, ...more] = faults(rows);
    expect(more).toEqual([]);
    expect(asked.text).toMatch(/^The traced contour at 31\.000 m does not fit between its neighbours: a traced contour at 12\.000 m, a traced contour at 14\.000 m\. 13\.000 m would\./); // prettier-ignore
    expect(asked.lines).toEqual([]);
    const [set, away] = asked.remedies;
    expect(set).toEqual({ label: 'Set it to 13.000 m in this surface', change: { op: 'surface.row', surface: 't', row: contour('c3', 7, 13) } }); // prettier-ignore
    expect(away.change).toEqual({ op: 'surface.rowRemove', surface: 't', id: 'c3' });
  });

  it('asks about a contour traced twice, and one with a gap', () => {
    expect(faults([...pyramid(), contour('again', 7, 13)]).map((q) => q.text)).toEqual([expect.stringMatching(/^The traced contour at 13\.000 m runs over a traced contour at 13\.000 m all along/)]); // prettier-ignore
    // Rings of 5° sides round a cone; of the third one side is missing, and its two pieces meet on the other side.
    const ring = (id: string, k: number, from = 0, to = 72): TracedRow => ({
      ...contour(id, 1, 10 + k),
      closed: to - from === 72,
      course: Array.from({ length: to - from + (to - from === 72 ? 0 : 1) }, (_, i) => {
        const [sin, cos] = sinCos(((from + i) * Math.PI) / 36);
        return { x: 500 + (40 - 4 * k) * cos, y: 700 + (40 - 4 * k) * sin, z: 10 + k };
      }),
    });
    const whole = [0, 1, 3, 4, 5].map((k) => ring(`c${k}`, k));
    const asked = faults([...whole, ring('north', 2, 1, 36), ring('south', 2, 36, 72)]);
    expect(asked.map((q) => q.text)).toEqual([expect.stringMatching(/has a gap; both ends line up/)]);
    expect(asked[0].remedies[0].change).toMatchObject({ op: 'surface.row', row: { kind: 'breakline' } });
  });

  it('is as unsure as its scale twice over, beside its points', () => {
    const rows = [contour('a', 10, 10), contour('b', 4, 13)];
    const { c } = computed(rows, { plan: 0, height: 0, scale: 0.01 });
    expect(c.sd!.net).toBeCloseTo(0.02 * c.volume.cut, 6);
    const [points, both] = [{ plan: 0.1, height: 0.2 }, { plan: 0.1, height: 0.2, scale: 0.01 }].map((sd) => computed(rows, sd).c.sd!.net); // prettier-ignore
    expect(both).toBeCloseTo(Math.hypot(points, c.sd!.net), 6);
  });

  it('knows one elevation at least', () => {
    const none = { ...contour('a', 10, 10), course: square(10).map((p) => ({ ...p, z: null })) };
    expect(changeSchema.safeParse({ op: 'surface.row', surface: 't', row: none }).success).toBe(false);
  });
});
