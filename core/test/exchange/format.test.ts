import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { writeGtx } from '#core/basis';
import {
  decodeText,
  FORMATS,
  formatOf,
  formatOfEnding,
  guessLayout,
  readPoints,
  rowsOfFile,
  sampleRows,
  writeGeoJson,
  type FormatName,
  type ReadPoints,
} from '#core/exchange';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const formatOfText = (text: string): FormatName => formatOf(bytes(text), text)!.name;
const dxf = (entities: string[], units = 6): string =>
  ['0', 'SECTION', '2', 'HEADER', '9', '$INSUNITS', '70', String(units), '0', 'ENDSEC', '0', 'SECTION', '2', 'ENTITIES', ...entities, '0', 'ENDSEC', '0', 'EOF', ''].join('\n'); // prettier-ignore
const point = (layer: string, x: number, y: number, z: number): string[] => ['0', 'POINT', '8', layer, '10', String(x), '20', String(y), '30', String(z)]; // prettier-ignore
const line = ['0', 'LINE', '8', 'KERB', '10', '0', '20', '0', '30', '5', '11', '9', '21', '9', '31', '5'];

/** What the page and the server make of a file of points. */
function imported(text: string): { read: ReadPoints; besides: string | null; degrees: boolean; unit: string } {
  const rows = rowsOfFile(bytes(text));
  if (!rows.ok) throw new Error(rows.reason);
  const context = { fileName: 'f', unit: 'm' as const, near: [], order: 'EN' as const, knownCodes: new Set<string>(), unitSaid: rows.claims.unit }; // prettier-ignore
  const { layout } = guessLayout(sampleRows(rows.text), context);
  return { read: readPoints(rows.text, layout)!, besides: rows.besides ?? null, degrees: layout.degrees ?? false, unit: layout.unit }; // prettier-ignore
}

describe('the register of formats', () => {
  it('says of grids, clouds and pictures what they are and where they go, and reads no rows of them', () => {
    const gtx = writeGtx({ south: 50, west: 10, latitudeStep: 1, longitudeStep: 1, rows: 3, columns: 4, values: new Float32Array(12) }); // prettier-ignore
    const of: [Uint8Array, FormatName, string][] = [
      [gtx, 'gtx', 'geoid grid (GTX). Import it under Basis'],
      [bytes('NUM_OREC\u000b\u0000\u0000\u0000'), 'ntv2', 'datum grid (NTv2). Import it under Basis'],
      [Uint8Array.from([0x49, 0x49, 42, 0, 8, 0, 0, 0]), 'tiff', 'GeoTIFF grid. Import it under Basis'],
      [bytes('LASF\u0000\u0000'), 'las', 'point cloud (LAS). Point clouds are not read yet'],
      [Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10]), 'picture', 'picture. It lies under the drawing'],
      [Uint8Array.from([0xff, 0xd8, 0xff, 0xe0]), 'picture', 'picture'],
    ];
    for (const [file, name, said] of of) {
      expect(formatOf(file, null)?.name).toBe(name);
      const rows = rowsOfFile(file);
      expect(rows.ok ? '' : rows.reason).toContain(`This is a ${said}`);
    }
    // A grid that is cut short has no sign; text that begins as one does is read as what it is.
    expect(formatOf(gtx.subarray(0, 60), null)).toBeNull();
    expect(rowsOfFile(bytes('LAS,1,2,3\n')).ok).toBe(true);
  });

  it('knows each format by what it holds, whatever the file is called', () => {
    const xml =
      '<?xml version="1.0"?>\n<!-- a comment -->\n<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2">';
    const of: [string, FormatName][] = [
      ['book 1\nunit m\nend\n', 'book'],
      [`${xml}<CgPoints/></LandXML>`, 'landxml'],
      [`${xml}<Survey></Survey></LandXML>`, 'survey'],
      [dxf([]), 'dxf'],
      [`999\na remark\n${dxf([])}`, 'dxf'],
      [dxf([]).replaceAll('\n', '\r\n'), 'dxf'],
      ['  {"type": "FeatureCollection", "features": []}', 'geojson'],
      ['{"some": "other", "json": true}', 'text'],
      ['1,2,3\n', 'text'],
      ['0\n1\n2\n', 'text'],
    ];
    for (const [text, name] of of) expect([text.slice(0, 40), formatOfText(text)]).toEqual([text.slice(0, 40), name]);
    expect(formatOf(bytes('PK\u0003\u0004 … xl/workbook.xml'), null)!.name).toBe('spreadsheet');
    expect(formatOf(Uint8Array.of(1, 2, 3), null)).toBeNull();
  });

  it('goes by endings where a command names a file, and has each ending once', () => {
    expect(['a.DXF', 'b.geojson', 'c.xml', 'd.csv', 'e.xlsx', 'f'].map((f) => formatOfEnding(f).name)).toEqual(['dxf', 'geojson', 'landxml', 'text', 'spreadsheet', 'text']); // prettier-ignore
    const endings = FORMATS.flatMap((f) => f.endings);
    expect(new Set(endings).size).toBe(endings.length);
  });

  it('takes any bytes without an exception, and in a moment', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), fc.constantFrom('', '{"type":"Feature"', '0\nSECTION\n', '<LandXML '), (noise, head) => {
        const all = new Uint8Array([...bytes(head), ...noise]);
        const decoded = decodeText(all);
        formatOf(all, decoded.ok ? decoded.text : null);
        rowsOfFile(all);
      }), // prettier-ignore
    );
    // Beginnings that a careless pattern would try again and again.
    for (const text of ['999\n'.repeat(50_000), `{${' '.repeat(100_000)}`, `${' \n'.repeat(50_000)}0\nSECTION`])
      expect(FORMATS.map((f) => f.name)).toContain(formatOfText(text));
  });
});

describe('points of a drawing', () => {
  it('are imported in its unit, with their layers as codes, and what else it holds is said', () => {
    const { read, besides, unit } = imported(
      dxf([...point('TREE', 10, 20, 1.5), ...point('GR', 11, 21, 2), ...line], 2),
    );
    expect(unit).toBe('ft');
    expect(read.description).toEqual(['TREE', 'GR']);
    // ft: 0.3048 m (NIST, Federal Register 1959).
    expect([...read.x, ...read.z]).toEqual([10 * 0.3048, 11 * 0.3048, 1.5 * 0.3048, 2 * 0.3048]);
    expect(besides).toBe('1 line');
  });

  it('that cannot be read are named by their lines; a drawing without any says what it holds', () => {
    const { read } = imported(dxf([...point('A', 1, 2, 3), '0', 'POINT', '8', 'B', '10', '0x1F', '20', '2']));
    expect(read.x.length).toBe(1);
    const rows = rowsOfFile(bytes(dxf([...point('A', 1, 2, 3), '0', 'POINT', '8', 'B', '10', '0x1F', '20', '2'])));
    expect(rows.ok && rows.lost.list[0]).toMatchObject({ row: expect.any(Number) as number, reason: expect.stringContaining('0x1F') as string }); // prettier-ignore
    const texts = ['0', 'TEXT', '8', 'A', '1', 'hello', '10', '1', '20', '2', '30', '0'];
    expect(rowsOfFile(bytes(dxf(texts)))).toMatchObject({ ok: false, reason: 'This drawing holds no points (POINT). It holds 1 text, which are not imported as points.' }); // prettier-ignore
    // Of one that holds lines alone, the lines are read.
    expect(rowsOfFile(bytes(dxf(line)))).toMatchObject({
      ok: true,
      lines: { count: 1, taken: true },
      hasPoints: false,
    });
    const cut = rowsOfFile(bytes(dxf(point('A', 1, 2, 3)).replace(/0\nENDSEC\n0\nEOF\n$/, '')));
    expect(cut).toMatchObject({ ok: false, reason: expect.stringContaining('cut short') as string });
  });

  it('in binary form that breaks off are refused with the reason', () => {
    expect(rowsOfFile(bytes('Some Binary DXF\r\n and so on'))).toMatchObject({ ok: false, reason: expect.stringMatching(/^DXF, line/) as string }); // prettier-ignore
  });
});

describe('points of GeoJSON', () => {
  const feature = (x: number, y: number) => ({ kind: 'Point' as const, coordinates: [x, y, 5], properties: { number: 7, description: 'GR' } }); // prettier-ignore

  it('that the program wrote come back as they went, in metres', () => {
    const { read, degrees, unit } = imported(writeGeoJson([feature(4000.125, 7000.5), feature(4001, 7001)]));
    expect([degrees, unit]).toEqual([false, 'm']);
    expect([read.x[0], read.y[0], read.z[0], read.number[0], read.description[0]]).toEqual([4000.125, 7000.5, 5, '7', 'GR']); // prettier-ignore
  });

  it('are longitude and latitude where nothing else is said (RFC 7946), and in the system that is', () => {
    expect(imported(writeGeoJson([feature(24.5, 59.25)], null)).degrees).toBe(true);
    const said = rowsOfFile(bytes(writeGeoJson([feature(500_000, 6_500_000)], { name: 'x', code: 'EPSG:25835' })));
    expect(said.ok && said.claims.system).toBe('EPSG:25835');
    // Nobody said so, and it cannot be: lengths, whose unit is asked.
    const unsaid = rowsOfFile(bytes(writeGeoJson([feature(500_000, 6_500_000)], null)));
    expect(unsaid.ok && [unsaid.text.split('\n')[0], unsaid.claims.unit]).toEqual(['number\teast\tnorth\televation\tcode', null]); // prettier-ignore
  });
});
