import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ChainResult } from '#core/chain';
import { NO_ELEVATION, readDxf, writeDxf, writeLandXml, type Drawing, type DxfSettings, type LandXmlContent } from '#core/exchange'; // prettier-ignore
import { makePackage, PackageRefused, packageSpecSchema, readBackDxf, readBackLandXml, type Manifest } from '#core/handover'; // prettier-ignore
import type { ProjectDocument } from '#core/project';
import { demoProject } from '#demo';
import { computed } from '../../../demo/test/demo-results.ts';

const folder = mkdtempSync(join(tmpdir(), 'dunrik-words-'));
afterAll(() => rmSync(folder, { recursive: true }));

const drawing: Drawing = {
  points: [
    { layer: 'Żuraw', x: 1, y: 2, z: 3, label: 'Ž 1' },
    { layer: 'TREE', x: 4, y: 5, z: NaN, label: 'Привет 😀' },
  ],
  texts: [{ layer: 'TEXT', x: 1, y: 1, height: 0.9, text: 'Łódź' }],
  inserts: [{ block: 'TR', layer: 'TREE', x: 7, y: 8, z: NaN, size: 1, rotation: 0, attributes: { number: '7', kind: 'Ürün' } }], // prettier-ignore
  blocks: [{ name: 'TR', strokes: [], attributes: ['number', 'kind'] }],
  lines: [{ layer: 'KERB', closed: false, spatial: [0, 0, 1, 1, 1, 1], plan: [0, 0, 0, 1, 1, 0] }],
  contours: [],
  surface: null,
  colours: {},
};
const settings = (version: 'R12' | '2000'): DxfSettings => ({ version, unit: 'm', decimals: 3, textHeight: 0.5 });

describe('reading a drawing back compares what people read', () => {
  it.each(['R12', '2000'] as const)('in %s: every letter is there, or it does not pass', (version) => {
    const text = writeDxf(drawing, settings(version));
    const back = readBackDxf(text, drawing, settings(version));
    expect(back.problems).toEqual([]);
    expect(back.counts.words).toBeGreaterThan(8);
    const altered: [string, RegExp][] = [
      [text.replace('\\U+0141', 'L'), /text Łódź: “Łódź” came back as “L/],
      [text.replace('Ž 1', '?1').replace('\\U+017D 1', '?1'), /text Ž 1/],
      [text.replaceAll('\\U+00DCr\\U+00FCn', 'Urun'), /symbol TR: kind: “Ürün” came back as “Urun”/],
      [text.replace(/(POINT\n(?:.*\n){0,8}?\s+8\n)[^\n]+/, '$1OTHER'), /its layer/],
      [text.replace(/(POLYLINE\n(?:.*\n){0,8}?\s+8\n)KERB/, '$1WALL'), /its layer/],
    ];
    for (const [wrong, says] of altered) {
      expect(wrong).not.toBe(text);
      expect(readBackDxf(wrong, drawing, settings(version)).problems.join()).toMatch(says);
    }
  });

  it('says what has no elevation, what an old reader makes of letters, and how layers are called in R12', () => {
    const { notes } = readBackDxf(writeDxf(drawing, settings('R12')), drawing, settings('R12'));
    expect(notes).toEqual([
      expect.stringMatching(/^4 texts have letters beyond ASCII, .* a reader that does not know it shows the number$/),
      `2 points have no elevation; they are drawn at 0 on layers that end in ${NO_ELEVATION}`,
      'layers in letters that R12 has: Żuraw is ZURAW',
    ]);
    const read = readDxf(writeDxf(drawing, settings('2000')));
    expect(read.points.map((p) => p.layer)).toEqual(['ŻURAW', `TREE${NO_ELEVATION}`]);
    expect(read.inserts[0].layer).toBe(`TREE${NO_ELEVATION}`);
  });

  it.each(['R12', '2000'] as const)(
    'in %s the texts, layers and heights are what ezdxf finds (Debian python3-ezdxf)',
    (version) => {
      const file = join(folder, `${version}.dxf`);
      writeFileSync(file, writeDxf(drawing, settings(version)));
      // 203: its audit takes the \\U+ of a layer’s name as it stands; its recovering reader turns it back.
      const script = 'import ezdxf,sys,json\nfrom ezdxf.lldxf.encoding import decode_dxf_unicode as u\nd=ezdxf.readfile(sys.argv[1])\nprint(json.dumps([[u(e.dxf.text),u(e.dxf.layer),e.dxf.height] for e in d.modelspace().query("TEXT")]+[[u(a.dxf.text),"",0] for i in d.modelspace().query("INSERT") for a in i.attribs]+[[str(len([e for e in d.audit().errors if e.code != 203])),"",0]]))'; // prettier-ignore
      const { stdout, stderr } = spawnSync('/usr/bin/python3', ['-c', script, file], { encoding: 'utf8' });
      expect(stderr).not.toContain('Error');
      const seen = JSON.parse(stdout) as [string, string, number][];
      expect(seen.slice(0, 3)).toEqual([['Ž 1', 'POINT-NUMBER', 0.5], ['Привет 😀', 'POINT-NUMBER', 0.5], ['Łódź', 'TEXT', 0.9]]); // prettier-ignore
      expect(seen.slice(3).map(([t]) => t)).toEqual(['7', 'Ürün', '0']);
    },
  );
});

describe('a drawing by another reader (ogrinfo, Debian gdal-bin)', () => {
  it.each(['R12', '2000'] as const)('in %s: layers, texts and where they stand', (version) => {
    const file = join(folder, `ogr-${version}.dxf`);
    writeFileSync(file, writeDxf(drawing, settings(version)));
    const { stdout } = spawnSync('ogrinfo', ['-q', '-al', '-where', "SubClasses LIKE '%AcDbText%' OR Text IS NOT NULL", file], { encoding: 'utf8' }); // prettier-ignore
    const texts = [...stdout.matchAll(/Text \(String\) = (.*)/g)].map((m) => m[1]);
    // It is one of those that show the number: the letters are in it.
    const letters = texts.map((t) => t.replace(/\\U\+([0-9A-F]{4})/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)))); // prettier-ignore
    expect(letters).toEqual(['Ž 1', 'Привет 😀', 'Łódź', '7', 'Ürün']);
    expect([...stdout.matchAll(/s:([\d.]+)g/g)].map((m) => Number(m[1])).slice(0, 3)).toEqual([0.5, 0.5, 0.9]);
    expect(stdout).toMatch(/POINT (Z )?\(1 1/);
  });
});

describe('reading LandXML back', () => {
  const content: LandXmlContent = {
    project: 'P',
    made: '2026-11-28T08:00:00Z',
    points: [
      { number: 'Ž1', x: 1, y: 2, z: 3, description: 'KT1 <BEG> & "so" 😀' },
      { number: 'Ž1', x: 3, y: 4, z: NaN, description: 'GR' },
    ],
    breaklines: [{ name: 'KT1', code: 'KT', closed: false, spatial: [0, 0, 1, 1, 1, 1] }],
    surfaces: [],
  };

  it('compares names, codes and lines, and says which numbers had to change', () => {
    const text = writeLandXml(content, 'm', 4);
    const back = readBackLandXml(text, content, 'm', 4);
    expect(back.problems).toEqual([]);
    expect(back.notes[0]).toMatch(/^1 point has a number that is used already/);
    const wrong = (from: string, to: string): string => readBackLandXml(text.replace(from, to), content, 'm', 4).problems.join(); // prettier-ignore
    expect(wrong('code="GR"', 'code="GX"')).toContain('its code: “GR” came back as “GX”');
    expect(wrong('name="Ž1"', 'name="?1"')).toContain('its number');
    expect(wrong('desc="KT"', 'desc="KF"')).toContain('line KT1: its code');
    expect(wrong('Ž1_2', 'Ž1')).toContain('is another point’s');
  });
});

describe('a package', () => {
  let doc: ProjectDocument;
  let result: ChainResult;
  beforeAll(async () => {
    ({ doc, result } = await computed(demoProject()));
  });
  const csv = { kind: 'csv', order: ['P', 'E', 'N', 'Z', 'D'], decimals: 3, separator: ',', headings: true, control: true }; // prettier-ignore
  const dxf = { kind: 'dxf', version: 'R12', decimals: 3, textHeight: 0.5, parts: { points: true, lines: true, contours: false, surface: false } }; // prettier-ignore
  const nothing = { ...dxf, parts: { points: false, lines: false, contours: false, surface: false } };
  const made = (files: unknown[], more: object = {}): { manifest: Manifest; zip: Uint8Array } =>
    makePackage(doc, result, packageSpecSchema.parse({ name: 'Łódź', unit: 'm', files, ...more }), { project: 'H/10 Ürün', revision: 1, at: '2026-11-28T08:00:00.000Z', by: 'Ina' }); // prettier-ignore

  it('names its unresolved stop queries with their sentences', () => {
    const stops = result.queries.filter((q) => q.weight === 'stop' && !q.accepted).map((q) => q.text);
    expect(stops.length).toBeGreaterThan(0);
    const { manifest, zip } = made([csv]);
    expect(manifest.stopQueries).toEqual(stops);
    const written = JSON.parse(new TextDecoder().decode(unzipSync(zip)['manifest.json'])) as Manifest;
    expect(written.stopQueries).toEqual(stops);
  });

  it('says which file cannot be made, and is made without it only where that is wanted', () => {
    expect(() => made([csv, nothing])).toThrow(/^Drawing: The drawing would be empty.* Nothing was made\.$/);
    try {
      made([csv, nothing]);
    } catch (error) {
      expect((error as PackageRefused).couldBe).toEqual(['points']);
    }
    const { manifest } = made([csv, nothing], { partial: true });
    expect(manifest.files.map((f) => f.what)).toEqual(['points']);
    expect(manifest.notMade).toEqual([{ what: 'Drawing', why: expect.stringContaining('would be empty') as string }]);
    expect(() => made([nothing], { partial: true })).toThrow('would be empty');
    expect(() => made([{ ...csv, decimal: ',' }])).toThrow('A comma cannot be both');
  });

  it('has file names that keep their letters and never meet', () => {
    const { manifest } = made([csv, { ...csv, separator: ';' }, dxf, { ...dxf, textHeight: 0 }]);
    const names = manifest.files.map((f) => f.name);
    expect(new Set(names).size).toBe(4);
    expect(names[0]).toBe('H-10-Ürün-points-2026-11-28-r1.csv');
  });

  it('writes texts as high as on paper at the plot scale where that is chosen', () => {
    const at = { ...doc, settings: { ...doc.settings, plotScale: 480, unit: 'ft' as const } };
    const spec = packageSpecSchema.parse({ name: 'P', unit: 'ft', files: [{ ...dxf, textMm: 2.5 }] });
    const { zip, manifest } = makePackage(at, result, spec, { project: 'P', revision: 1, at: '2026-11-28T08:00:00.000Z', by: 'I' }); // prettier-ignore
    const text = new TextDecoder().decode(unzipSync(zip)[manifest.files[0].name]);
    // 2.5 mm at 1 in = 40 ft is 1.2 m, 3.937 ft.
    const heights = [...text.matchAll(/\n {2}0\nTEXT\n(?:.*\n)*? 40\n([\d.]+)\n/g)].map((m) => m[1]);
    expect(heights.length).toBeGreaterThan(100);
    expect(new Set(heights)).toEqual(new Set(['3.937']));
  });
});
