import { readFileSync, readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { strToU8, zipSync } from 'fflate';
import { writeGeoTiff } from '#core/exchange';
import { binaryDrawing, DRAWING } from './drawings.ts';
import { geoPackage } from './geopackage.ts';
import { shapefile } from './shapefile.ts';
import { seeded } from '../../demo/src/random.ts';

// Damaged files, each by its number alone: a good file, cut, doubled, mixed with another, its digits and signs changed.

const DEMO = fileURLToPath(new URL('../../demo/', import.meta.url));
const text = new TextEncoder();

const SMALL: string[] = [
  'book 1\nunit m\nangle dms\nsetup A hi=1.5\nback B circle=10-20-30 zenith=90-0-0 dist=10 th=1.5\nshot 1 circle=1-2-3 zenith=89-0-0 dist=5 th=1.5 code="KT1 BEG"\ngnss G 1 2 3 sp=0.01 sh=0.02 fix=fixed\nlevel back A reading=1.2 dist=10\nend\n',
  '  0\nSECTION\n  2\nHEADER\n  9\n$INSUNITS\n 70\n6\n  0\nENDSEC\n  0\nSECTION\n  2\nENTITIES\n  0\nPOLYLINE\n  8\nA\n 66\n1\n 70\n9\n  0\nVERTEX\n 10\n1.0\n 20\n2.0\n 30\n3.0\n  0\nSEQEND\n  0\nLWPOLYLINE\n 90\n2\n 10\n0\n 20\n0\n 42\n0.5\n 10\n1\n 20\n1\n  0\n3DFACE\n 10\n0\n 20\n0\n 30\n0\n  0\nENDSEC\n  0\nEOF\n',
  '<?xml version="1.0"?><!-- a --><LandXML><Units><Metric linearUnit="meter"/></Units><CgPoints><CgPoint name="1" code="GR">1 2 3</CgPoint></CgPoints><Surfaces><Surface name="S"><Definition surfType="TIN"><Pnts><P id="1">0 0 1</P><P id="2">0 1 1</P><P id="3">1 1 1</P></Pnts><Faces><F>1 2 3</F></Faces></Definition></Surface></Surfaces><Survey><InstrumentSetup id="s" stationName="A" instrumentHeight="1.5"><RawObservation horizAngle="10" zenithAngle="90" slopeDistance="5" targetHeight="1.5"><TargetPoint name="2">1 1</TargetPoint></RawObservation></InstrumentSetup></Survey></LandXML>',
  '<LandXML><Units><Metric linearUnit="meter"/></Units><Alignments><Alignment name="A" staStart="1000"><StaEquation staBack="1040" staAhead="2000"/><CoordGeom><Line><Start>0 0</Start><End>0 50</End></Line><Spiral length="20" radiusStart="INF" radiusEnd="100" rot="ccw" spiType="clothoid"><Start>0 50</Start><PI>0 63</PI><End>0.666 69.98</End></Spiral><Curve rot="ccw"><Start>0.666 69.98</Start><Center>100.17 60</Center><End>20 120</End></Curve></CoordGeom><Profile><ProfAlign name="d"><PVI>1000 5</PVI><ParaCurve length="20">1040 7</ParaCurve><CircCurve radius="300" length="9">1070 6</CircCurve><PVI>1100 9</PVI></ProfAlign><ProfSurf name="g"><PntList2D>1000 4 1090 5</PntList2D></ProfSurf></Profile><CrossSects><CrossSect sta="1020"><CrossSectSurf name="g"><PntList2D>-5 4 5 4.5</PntList2D></CrossSectSurf></CrossSect></CrossSects></Alignment></Alignments><PipeNetworks><PipeNetwork name="S"><Structs><Struct name="M1" elevRim="5"><Center>0 0</Center><Invert elev="3" refPipe="P"/></Struct><Struct name="M2"><Center>0 9 5</Center></Struct></Structs><Pipes><Pipe name="P" refStart="M1" refEnd="M2"/></Pipes></PipeNetwork></PipeNetworks></LandXML>',
  'ncols 3\nnrows 2\nxllcorner 4200\nyllcorner 7700\ncellsize 10\nNODATA_value -9999\n61 62.5 63\n60 -9999 64\n',
  '{"type":"FeatureCollection","features":[{"type":"Feature","properties":{},"geometry":{"type":"Polygon","coordinates":[[[0,0,1],[1,0,1],[1,1,1],[0,0,1]]]}}]}',
  'code;name;kind;layer;attributes;offsets\nKT;kerb top;line;KERB;height:number!;KF 0.1 -0.12\nTR;tree;point;TREE;;\n',
  'Punkt;Rechtswert;Hochwert;Höhe;Bemerkung\n;[m];[m];[m];\n1;4312,5;7741,2;61,8;"GR\nalt"\n2;4313,5;7742,2;61,9;TR\n',
];
const sheet = zipSync({
  'xl/workbook.xml': strToU8('<workbook xmlns:r="x"><sheets><sheet name="P" r:id="rId1"/></sheets></workbook>'),
  'xl/_rels/workbook.xml.rels': strToU8('<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.xml"/></Relationships>'), // prettier-ignore
  'xl/sharedStrings.xml': strToU8('<sst><si><t>GR</t></si></sst>'),
  'xl/worksheets/sheet1.xml': strToU8('<worksheet><sheetData><row r="1"><c r="A1"><v>1</v></c><c r="B1" t="s"><v>0</v></c></row></sheetData></worksheet>'), // prettier-ignore
});
const gtx = (): Uint8Array => {
  const bytes = new Uint8Array(40 + 4 * 16);
  const view = new DataView(bytes.buffer);
  [50, 10, 0.5, 0.5].forEach((v, i) => view.setFloat64(8 * i, v));
  view.setInt32(32, 4);
  view.setInt32(36, 4);
  for (let i = 0; i < 16; i++) view.setFloat32(40 + 4 * i, 40 + i);
  return bytes;
};

/** Good files of every kind, none larger than some ten thousand bytes. */
export const CORPUS: readonly Uint8Array[] = [
  ...SMALL.map((s) => text.encode(s)),
  text.encode(DRAWING),
  binaryDrawing(),
  shapefile(),
  geoPackage(),
  writeGeoTiff({ west: 4200, north: 7800, cell: 10, columns: 3, rows: 2, values: Float32Array.of(61, 62.5, 63, 60, NaN, 64.25) }, 32735), // prettier-ignore
  sheet,
  gtx(),
  ...['ostrel-landing', 'kessa-bank', 'tarn-hollow'].flatMap((folder) => {
    try {
      return readdirSync(DEMO + folder).filter((f) => /\.(txt|csv|book|raw|json)$/.test(f)).map((f) => new Uint8Array(readFileSync(`${DEMO}${folder}/${f}`)).slice(0, 12_000)); // prettier-ignore
    } catch {
      return [];
    }
  }),
];

const BITS = ['NaN', 'Infinity', '-1', '1e308', '1e-308', '0x10', '4294967296', '99999999999999999999', '"', "'", '\n', '\r', '\0', '=', '<', '>', '</', '<!--', '<![CDATA[', '<!DOCTYPE a [', '&amp;', '&#0;', ']]>', '{', '}', '[', ',', ';', '\t', '|', ' ', '°', '€', '\ufeff', '\ud800', 'end\n', 'setup A hi=1\n', '  0\nEOF\n']; // prettier-ignore

/** The damaged file of a number: always the same bytes. */
export function damaged(seed: number): Uint8Array {
  const random = seeded(seed);
  const whole = (n: number): number => Math.min(n - 1, Math.floor(random.next() * n));
  let bytes = CORPUS[whole(CORPUS.length)];
  const turns = 1 + whole(6);
  for (let k = 0; k < turns; k++) {
    const at = whole(bytes.length + 1);
    const put = (piece: Uint8Array, over = 0): void => {
      bytes = Uint8Array.from([
        ...bytes.subarray(0, at),
        ...piece,
        ...bytes.subarray(Math.min(bytes.length, at + over)),
      ]);
    };
    switch (whole(8)) {
      case 0:
        bytes = bytes.slice(0, at);
        break;
      case 1:
        bytes = bytes.slice();
        if (at < bytes.length) bytes[at] ^= 1 << whole(8);
        break;
      case 2:
        put(text.encode(BITS[whole(BITS.length)]), whole(4));
        break;
      case 3:
        put(text.encode(BITS[whole(BITS.length)].repeat(1 + whole(2000))));
        break;
      case 4:
        put(bytes.slice(at, at + 1 + whole(400)));
        break;
      case 5:
        put(new Uint8Array(0), 1 + whole(200));
        break;
      case 6: {
        const other = CORPUS[whole(CORPUS.length)];
        const from = whole(other.length);
        put(other.slice(from, from + 1 + whole(600)), whole(200));
        break;
      }
      default: {
        // Digits become others: numbers stay numbers, and say something else.
        bytes = bytes.slice();
        for (let i = at; i < Math.min(bytes.length, at + 60); i++)
          if (bytes[i] >= 48 && bytes[i] <= 57) bytes[i] = 48 + whole(10);
      }
    }
    if (bytes.length > 200_000) bytes = bytes.slice(0, 200_000);
  }
  return bytes;
}
