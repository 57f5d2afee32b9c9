import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { DRAWN_WORDS, rowsOfFile, type ReadPoints } from '#core/exchange';
import { newDocument, plainIntake, type Intake } from '#core/project';
import { readByPlan, readingPlan } from '#core/sources';

// Lines of a drawing come in as coded points: the lines that are built of them are those that were drawn.

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const dxf = (entities: (string | number)[]): Uint8Array =>
  bytes([0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 6, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF', ''].join('\n')); // prettier-ignore
const line = (layer: string, ...p: number[]) => [0, 'LINE', 8, layer, 10, p[0], 20, p[1], 30, p[2], 11, p[3], 21, p[4], 31, p[5]]; // prettier-ignore
const plan = (layer: string, closed: boolean, ...v: [x: number, y: number, bulge: number][]) => [0, 'LWPOLYLINE', 8, layer, 90, v.length, 70, closed ? 1 : 0, ...v.flatMap(([x, y, b]) => [10, x, 20, y, ...(b ? [42, b] : [])])]; // prettier-ignore

async function built(file: Uint8Array) {
  const rows = rowsOfFile(file, { lines: true });
  if (!rows.ok) throw new Error(rows.reason);
  const intake: Intake = plainIntake('d', {
    light: true,
    words: DRAWN_WORDS,
    layout: { separator: '\t', decimal: '.', skipRows: 1, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm', lines: true },
  });
  const doc = { ...newDocument(), intakes: [intake] };
  const reading = await readByPlan(file, readingPlan(doc.basis, intake), {});
  if (!reading?.ok) throw new Error(reading?.reason);
  const read: ReadPoints = reading.read;
  return { rows, read, result: runChain(doc, () => read) };
}

describe('lines of a drawing', () => {
  it('are built as they were drawn: open and closed, in space and in plan, several of one layer apart', async () => {
    const code = newDocument().codeList.codes.find((c) => c.kind === 'line')!.code;
    const { result, rows } = await built(dxf([...line(code, 0, 0, 5, 10, 0, 6), ...line(code, 0, 2, 5, 10, 2, 6), ...plan(code, true, [20, 0, 0], [30, 0, 0], [30, 5, 0])])); // prettier-ignore
    expect(rows).toMatchObject({ lines: { count: 3, taken: true }, hasPoints: false });
    const { lines } = result.linework;
    expect(lines.map((l) => [l.code, l.closed, l.x.length])).toEqual([[code, false, 2], [code, false, 2], [code, true, 3]]); // prettier-ignore
    expect([...lines[0].x, ...lines[0].y]).toEqual([0, 10, 0, 0]);
    expect(result.points.z.subarray(0, 2)).toEqual(Float64Array.from([5, 6]));
    // A line in plan has no elevation, and is not in the ground.
    expect([...result.points.z.subarray(4)].every(Number.isNaN)).toBe(true);
    expect(result.queries.filter((q) => q.kind === 'unknown-code')).toEqual([]);
  });

  it('keep their arcs to 5 mm: a half circle of 10 m by its bulge', async () => {
    const { read } = await built(dxf(plan('ARC', false, [0, 0, 1], [20, 0, 0])));
    const [x, y] = [read.x, read.y];
    for (let i = 0; i < x.length; i++) expect(Math.hypot(x[i] - 10, y[i])).toBeCloseTo(10, 9);
    let length = 0;
    for (let i = 1; i < x.length; i++) length += Math.hypot(x[i] - x[i - 1], y[i] - y[i - 1]);
    expect(10 * Math.PI - length).toBeLessThan(0.02);
    // A bulge > 0 goes to the left of the way from the first to the second: below, going east.
    expect(Math.min(...y)).toBeLessThan(-9.9);
  });

  it('are chorded by the unit that the drawing is read in, where it says none', () => {
    const arc = dxf(plan('ARC', false, [0, 0, 1], [20_000, 0, 0]));
    const unsaid = new TextEncoder().encode(
      new TextDecoder().decode(arc).replace('$INSUNITS\n70\n6', '$INSUNITS\n70\n0'),
    );
    const count = (unit: 'm' | 'mm'): number => {
      const rows = rowsOfFile(unsaid, { lines: true, unit });
      return rows.ok ? rows.text.split('\n').length : NaN;
    };
    // Half a circle of 10 m, 5 mm from its chords: 64 of them (2 arccos(1 − s/r) each, halved until it is enough).
    expect(count('mm')).toBe(66);
    expect(count('m')).toBeGreaterThan(200);
  });

  it('of layers that the list does not know are asked about by their layer, whatever it is called', async () => {
    const { result, read } = await built(dxf([...line('Kerb face/new "A"', 0, 0, 5, 10, 0, 6), ...line('12', 0, 4, 5, 10, 4, 6)])); // prettier-ignore
    expect(read.description).toEqual(['KERB_FACE_NEW_A_1 BEG', 'KERB_FACE_NEW_A_1 END', 'L12_2 BEG', 'L12_2 END']);
    expect(result.queries.filter((q) => q.kind === 'unknown-code')).toHaveLength(2);
  });

  it('of GeoJSON and of LandXML come the same way', async () => {
    const geo = bytes(JSON.stringify({ type: 'FeatureCollection', system: 'local, metres: east, north, elevation', features: [{ type: 'Feature', geometry: { type: 'LineString', coordinates: [[0, 0, 5], [9, 0, 5]] }, properties: { code: 'kb' } }] })); // prettier-ignore
    expect((await built(geo)).read.description).toEqual(['KB1 BEG', 'KB1 END']);
    const xml = bytes('<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Metric linearUnit="meter"/></Units><Surfaces><Surface name="S"><SourceData><Breaklines><Breakline name="DT"><PntList3D>0 0 1 0 9 1 5 9 1 0 0 1</PntList3D></Breakline></Breaklines></SourceData></Surface></Surfaces></LandXML>'); // prettier-ignore
    expect((await built(xml)).read.description).toEqual(['DT1 BEG', 'DT1', `DT1 ${DRAWN_WORDS.close}`]); // prettier-ignore
  });
});
