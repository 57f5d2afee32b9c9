import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { DRAWN_WORDS, rowsOfFile, sidesOfRows, type FilePart } from '#core/exchange';
import { distance } from '#core/kernel';
import { circleOf, drawnPieces, type Line } from '#core/linework';
import { newDocument, plainIntake } from '#core/project';
import { readByPlan, readingPlan } from '#core/sources';

// Arcs of a drawing stay arcs: the line that is built of its rows is the one that was drawn.

type Vertex = [x: number, y: number, bulge: number];
const dxf = (...entities: (string | number)[]): Uint8Array =>
  new TextEncoder().encode([0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF', ''].join('\n'));
const polyline = (closed: boolean, ...v: Vertex[]): (string | number)[] => [0, 'LWPOLYLINE', 8, 'KT', 90, v.length, 70, closed ? 1 : 0, 38, 5, ...v.flatMap(([x, y, b]) => [10, x, 20, y, 42, b])]; // prettier-ignore

async function built(file: Uint8Array, part: FilePart = { lines: true, arcs: true }) {
  const layout = { separator: '\t', decimal: '.', skipRows: 1, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm', ...part } as never; // prettier-ignore
  const intake = plainIntake('d', { light: true, words: DRAWN_WORDS, layout });
  const doc = { ...newDocument(), intakes: [intake] };
  const reading = await readByPlan(file, readingPlan(doc.basis, intake), {});
  if (!reading?.ok) throw new Error(reading?.reason);
  const result = runChain(doc, () => reading.read);
  return { read: reading.read, lines: result.linework.lines, queries: result.queries };
}

/** Bulges of a line's sides, two of an arc joined again: what a drawing has of it. */
function arcsOf(line: Line): { at: [number, number]; bulge: number }[] {
  const out: { at: [number, number]; bulge: number }[] = [];
  const n = line.x.length;
  for (let i = 0; i < (line.closed ? n : n - 1); i++) {
    const half = line.bulges[i];
    if (half === 0) out.push({ at: [line.x[i], line.y[i]], bulge: 0 });
    else {
      // tan 2a of a = atan(half): the arc of two halves.
      out.push({ at: [line.x[i], line.y[i]], bulge: (2 * half) / (1 - half * half) });
      i++;
    }
  }
  return out;
}

describe('arcs of a drawing', () => {
  it('are arcs of the line, whatever lies before and behind them, open and closed', async () => {
    // Vertices round a circle, so that no two are in one place; bulges as drawn or none.
    const bulge = fc.oneof(fc.constant(0), fc.double({ min: 0.02, max: 0.95, noNaN: true }), fc.double({ min: -0.95, max: -0.02, noNaN: true })); // prettier-ignore
    await fc.assert(
      fc.asyncProperty(fc.array(bulge, { minLength: 3, maxLength: 9 }), fc.boolean(), async (bulges, closed) => {
        const drawn = bulges.map((b, i): Vertex => {
          const angle = (2 * Math.PI * i) / bulges.length;
          return [1000 + 40 * Math.cos(angle), 2000 + 40 * Math.sin(angle), b];
        });
        const { lines, queries } = await built(dxf(...polyline(closed, ...drawn)));
        expect(lines).toHaveLength(1);
        expect(lines[0].closed).toBe(closed);
        const wanted = closed ? drawn : drawn.slice(0, -1);
        const found = arcsOf(lines[0]);
        expect(found).toHaveLength(wanted.length);
        // A closed line may begin elsewhere.
        const start = wanted.findIndex(([x, y]) => distance(x - found[0].at[0], y - found[0].at[1]) < 1e-6);
        expect(start).toBeGreaterThanOrEqual(0);
        found.forEach(({ at, bulge: b }, i) => {
          const [x, y, meant] = wanted[(start + i) % wanted.length];
          expect(distance(x - at[0], y - at[1])).toBeLessThan(1e-6);
          expect(b).toBeCloseTo(meant, 6);
        });
        expect(queries.filter((q) => /curve|arc|shape/.test(q.kind))).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });

  it('of a circle are its circle, closed, of four vertices', async () => {
    const { lines } = await built(dxf(0, 'CIRCLE', 8, 'KT', 10, 1000, 20, 2000, 30, 5, 40, 12.5));
    const [line] = lines;
    expect([line.closed, line.x.length]).toEqual([true, 4]);
    for (let i = 0; i < 4; i++) {
      const j = (i + 1) % 4;
      const { x, y } = circleOf({ x: line.x[i], y: line.y[i] }, { x: line.x[j], y: line.y[j] }, line.bulges[i]);
      expect(distance(x - 1000, y - 2000)).toBeLessThan(1e-9);
    }
  });

  it('have few points, where chords have many; their elevation runs on, and what rises by less than 0.1 mm is straight', async () => {
    const arc = polyline(false, [0, 0, 1], [200, 0, 0]);
    const [arcs, chords] = [await built(dxf(...arc)), await built(dxf(...arc), { lines: true })];
    expect([...arcs.read.z]).toEqual([5, 5, 5]);
    expect(chords.read.x.length).toBeGreaterThan(60);
    const flat = await built(dxf(...polyline(false, [0, 0, 0.000_001], [100, 0, 0])));
    expect(flat.read.x).toHaveLength(2);
  });

  it('are drawn as arcs before they are imported', async () => {
    const file = dxf(...polyline(true, [0, 0, 0.4], [30, 0, 0], [30, 20, -0.3], [0, 20, 0.6]), ...polyline(true, [100, 0, 1], [120, 0, 1])); // prettier-ignore
    const { read, lines } = await built(file);
    const sides = sidesOfRows(read, 0, 1000);
    const length = (places: ArrayLike<number>, step: number): number => {
      let sum = 0;
      for (let i = 0; i + step + 1 < places.length; i += step === 2 ? 4 : step) sum += distance(places[i + step] - places[i], places[i + step + 1] - places[i + 1]); // prettier-ignore
      return sum;
    };
    const meant = lines.flatMap((l) => drawnPieces(l, l.x.map(() => 0), 0.0005)).reduce((sum, { places, closed }) => sum + length(closed ? [...places, ...places.slice(0, 3)] : places, 3), 0); // prettier-ignore
    // Chords of 5 mm are shorter than finer ones, by little.
    expect(meant - length(sides, 2)).toBeGreaterThan(0);
    expect(meant - length(sides, 2)).toBeLessThan(0.05);
  });

  it('of LandXML are arcs too, and chords for whoever took them so before', async () => {
    const xml = new TextEncoder().encode(`<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Metric linearUnit="meter"/></Units><PlanFeatures><PlanFeature name="KT1"><CoordGeom>
      <Line><Start>2000 1000</Start><End>2000 1010</End></Line><Curve rot="ccw"><Start>2000 1010</Start><Center>2010 1010</Center><End>2010 1020</End></Curve><Line><Start>2010 1020</Start><End>2030 1020</End></Line>
      </CoordGeom></PlanFeature></PlanFeatures></LandXML>`); // prettier-ignore
    const taken = [{ layer: 'KT', kind: 'PlanFeature', as: 'lines' as const }];
    const { lines } = await built(xml, { taken, arcs: true });
    expect(lines[0].x).toHaveLength(5);
    expect(arcsOf(lines[0]).map((a) => a.bulge)).toEqual([0, expect.closeTo(Math.tan(Math.PI / 8), 9), 0]);
    const before = await built(xml, { taken });
    const rows = rowsOfFile(xml, { lines: true });
    expect(before.read.x.length).toBeGreaterThan(10);
    expect(rows.ok && rows.text.split('\n')).toHaveLength(before.read.x.length + 1);
  });
});
