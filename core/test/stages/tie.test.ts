import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runChain, type ChainResult } from '#core/chain';
import { DRAWN_WORDS, readPoints, rowsOfFile } from '#core/exchange';
import { elevationsBetween } from '#core/linework';
import { applyChange, newDocument, plainIntake, type Change, type Intake, type ProjectDocument } from '#core/project';
import { looseLines, tieLines, type TieRules, type Ties } from '#core/stages';

// LN8: lines of a drawing are tied to the points of a survey, and follow them.

const SHOTS = ['1,100,200,5.1,GR', '2,110,200,5.2,GR', '3,110,208,5.3,GR', '4,130,200,6,GR'];
const poly = (layer: string, z: number | null, ...v: [number, number][]) => [
  ...[0, 'POLYLINE', 8, layer, 66, 1, 70, z === null ? 0 : 8, 10, 0, 20, 0, 30, 0],
  ...v.flatMap(([x, y]) => [0, 'VERTEX', 8, layer, 10, x, 20, y, 30, z ?? 0, 70, z === null ? 0 : 32]),
  ...[0, 'SEQEND'],
];
const LAYOUT: Intake['layout'] = { separator: '\t', decimal: '.', skipRows: 1, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm', lines: true }; // prettier-ignore

function drawingRows(entities: (string | number)[]): string {
  const text = [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 6, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF', ''].join('\n'); // prettier-ignore
  const rows = rowsOfFile(new TextEncoder().encode(text), { lines: true });
  if (!rows.ok) throw new Error(rows.reason);
  return rows.text;
}

/** A survey and a drawing over it. */
function project(entities: (string | number)[]) {
  const drawn = drawingRows(entities);
  const doc = newDocument();
  doc.intakes.push(plainIntake('survey', { layout: { ...LAYOUT, separator: ',', skipRows: 0, lines: undefined } }));
  doc.intakes.push(plainIntake('drawing', { layout: LAYOUT, light: true, words: DRAWN_WORDS }));
  const run = (d: ProjectDocument, shots = SHOTS): ChainResult =>
    runChain(d, (intake) => readPoints(intake.id === 'survey' ? shots.join('\n') : drawn, intake.layout)!);
  return { doc, run };
}

const RULES: TieRules = { reach: 0.05, elevations: 'points', several: 'none' };

function tied(given: ReturnType<typeof project>, rules: Partial<TieRules> = {}, shots = SHOTS) {
  const { points, linework } = given.run(given.doc, shots);
  return tieLines(given.doc, points, (row) => points.number[row], linework.lines, { ...RULES, ...rules });
}

function made({ doc, run }: ReturnType<typeof project>, { set }: Ties, shots = SHOTS) {
  const change: Change = { op: 'lines.hand', set, what: 'tie lines' };
  const done = applyChange(doc, change);
  if (!done.ok) throw new Error(done.reason);
  const result = run(done.document, shots);
  const [line] = result.linework.lines;
  return { document: done.document, inverse: done.inverse, result, line, z: elevationsBetween(line, (row) => result.points.z[row]) }; // prettier-ignore
}

const KERB = poly('KT', 4.9, [100.01, 200], [110, 200.02], [110.03, 208], [120, 208.5]);

describe('a loose line that is tied to points', () => {
  it('lies on them, and follows when the survey is read anew', () => {
    const given = project(KERB);
    const ties = tied(given);
    expect([ties.lines, ties.vertices, ties.tied]).toEqual([1, 4, 3]);
    expect(ties.farthest).toBeCloseTo(0.03, 6);
    expect(ties.doubts).toEqual([expect.objectContaining({ vertex: 3, why: 'no point', tied: false })]);
    const first = made(given, ties);
    expect([first.line.x, first.line.y, first.z]).toEqual([[100, 110, 110, 120], [200, 200, 208, 208.5], [5.1, 5.2, 5.3, 4.9]]); // prettier-ignore
    const moved = made(given, ties, ['1,100.4,200,5.1,GR', '2,110,200.5,7,GR', ...SHOTS.slice(2)]);
    expect([moved.line.x, moved.line.y, moved.z]).toEqual([[100.4, 110, 110, 120], [200, 200.5, 208, 208.5], [5.1, 7, 5.3, 4.9]]); // prettier-ignore
    // The tie goes as it came.
    expect(applyChange(first.document, first.inverse)).toMatchObject({ ok: true, document: given.doc });
  });

  it('keeps elevations of its own, takes them where it has none, or has none, as is wanted', () => {
    const flat = project(poly('KT', null, [100.01, 200], [110, 200.02]));
    expect(made(flat, tied(flat)).z).toEqual([5.1, 5.2]);
    expect(made(flat, tied(flat, { elevations: 'missing' })).z).toEqual([5.1, 5.2]);
    expect(made(flat, tied(flat, { elevations: 'own' })).z).toEqual([NaN, NaN]);
    const spatial = project(KERB);
    expect(made(spatial, tied(spatial, { elevations: 'missing' })).z).toEqual([4.9, 4.9, 4.9, 4.9]);
    expect(made(spatial, tied(spatial)).z).toEqual([5.1, 5.2, 5.3, 4.9]);
  });

  it('with several points in reach is asked about, or goes to the nearest', () => {
    const given = project(KERB);
    const shots = [...SHOTS, '9,100.03,200,5.5,GR'];
    expect(tied(given, {}, shots)).toMatchObject({ tied: 2, doubts: [{ vertex: 0, why: 'several points', tied: false }, { vertex: 3 }] }); // prettier-ignore
    const nearest = tied(given, { several: 'nearest' }, shots);
    expect(nearest.tied).toBe(3);
    expect(nearest.set.KT1.vertices[0].point).toBe('survey:1');
  });

  it('gives a point to the nearest of its vertices alone', () => {
    const given = project(poly('KT', 5, [100.04, 200], [100.01, 200], [110, 200]));
    const ties = tied(given);
    expect(ties.doubts).toEqual([expect.objectContaining({ vertex: 0, why: 'point taken', tied: false })]);
    expect(ties.set.KT1.vertices.map((v) => v.point)).toEqual(['drawing:2', 'survey:1', 'survey:2']);
  });

  it('passes points by that have no number, that are not used, and lines that follow points already', () => {
    const given = project(KERB);
    expect(tied(given, {}, SHOTS.map((s) => s.replace(/^\d/, ''))).tied).toBe(0); // prettier-ignore
    const { points, linework } = given.run(given.doc);
    const numbered = (row: number): string => points.number[row] || 'x';
    expect(looseLines(given.doc, linework.lines, numbered)).toEqual([]);
    const again = made(given, tied(given));
    const rest = tieLines(again.document, again.result.points, (row) => again.result.points.number[row], again.result.linework.lines, RULES); // prettier-ignore
    expect([rest.lines, rest.vertices, rest.tied]).toEqual([1, 1, 0]);
  });

  it('stays a line of its drawing: the surface that was made of it keeps it, with elevations of the points', () => {
    const given = project(KERB);
    given.doc.surfaces[0] = { ...given.doc.surfaces[0], role: 'design', rows: [{ id: 'd', kind: 'file', intake: 'drawing', on: true }, { id: 'l', kind: 'lines', codes: null, on: true }] }; // prettier-ignore
    given.doc.codeList.codes = given.doc.codeList.codes.map((c) => (c.code === 'KT' ? { ...c, breakline: true } : c));
    const { result } = made(given, tied(given));
    const surface = [...result.surfaces.values()][0].surface;
    const at = (x: number, y: number): number => surface.z[[...surface.x].findIndex((v, i) => Math.abs(v - x) < 1e-9 && Math.abs(surface.y[i] - y) < 1e-9)]; // prettier-ignore
    expect([at(100, 200), at(110, 208)]).toEqual([5.1, 5.3]);
    // The vertices that it was drawn with do not lie beside them; one that was not tied stays.
    expect([at(100.01, 200), at(120, 208.5)]).toEqual([undefined, 4.9]);
    expect([...surface.x]).toHaveLength(4);
  });

  it('finds exactly the points that it was drawn through, in whatever order the survey stands (property)', () => {
    const places = fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: 12 }), fc.integer({ min: 0, max: 12 })), { minLength: 4, maxLength: 20, selector: ([x, y]) => 100 * x + y }); // prettier-ignore
    const drawn = fc.array(fc.record({ at: fc.nat(), by: fc.constantFrom(-0.02, 0, 0.02), off: fc.boolean() }), { minLength: 2, maxLength: 8 }); // prettier-ignore
    fc.assert(
      fc.property(places, drawn, fc.integer(), (grid, vertices, order) => {
        const used = new Set<number>();
        const line = vertices.flatMap(({ at, by, off }): { x: number; y: number; point: number | null }[] => {
          const k = at % grid.length;
          if (used.has(k)) return [];
          used.add(k);
          const [x, y] = [1000 + grid[k][0], 2000 + grid[k][1]];
          // Half a metre off it stands on nothing.
          return [{ x: x + (off ? 0.5 : by), y: y + (off ? 0.5 : 0), point: off ? null : k }];
        });
        fc.pre(line.length >= 2);
        const shots = grid.map(([x, y], k) => `N${k},${1000 + x},${2000 + y},${5 + k},GR`);
        const turned = [...shots].sort((a, b) => ((a.length * 7 + order) % 5) - ((b.length * 7 + order) % 5) || (a < b === order % 2 > 0 ? 1 : -1)); // prettier-ignore
        const given = project(poly('KT', 4, ...line.map((v): [number, number] => [v.x, v.y])));
        const meant = line.map((v) => (v.point === null ? null : `N${v.point}`));
        for (const survey of [shots, turned]) {
          const { points, linework } = given.run(given.doc, survey);
          const ties = tieLines(given.doc, points, (row) => points.number[row], linework.lines, RULES);
          const numberOf = (key: string | null): string | null => (key?.startsWith('survey:') ? points.number[Number(key.slice(7)) - 1] : null); // prettier-ignore
          const [hand] = Object.values(ties.set);
          expect(hand ? hand.vertices.map((v) => numberOf(v.point)) : meant.map(() => null)).toEqual(meant);
          expect([ties.tied, ties.doubts.length]).toEqual([meant.filter(Boolean).length, meant.filter((m) => m === null).length]); // prettier-ignore
        }
      }),
      { numRuns: 60 },
    );
  });
});
