import { describe, expect, it } from 'vitest';
import { strToU8, zipSync, unzipSync } from 'fflate';
import { gather, openZip } from '../../src/intake/delivery/gather.ts';
import {
  earlierOf,
  laterVersion,
  remarksOf,
  type Checked,
  type ProjectFacts,
} from '../../src/intake/delivery/check.ts';
import { choicesOf, inOrder, purposeOf, treatmentOf, type Treatment } from '../../src/intake/delivery/sort.ts';
import type { Opened, Tried } from '../../src/work/intake.worker.ts';

const opened = (more: Partial<Opened> = {}): Opened =>
  ({
    ok: true,
    kind: 'text',
    surface: null,
    claims: { unit: null, system: null, geoid: null },
    guess: {
      layout: { unit: 'm' },
      said: { unit: true, order: true },
      control: false,
      why: { order: 'the project’s order; the file does not say' },
    },
    sha256: 'one',
    ...more,
  }) as Opened;
const tried = (x: number[], y: number[]): Tried => ({ placed: true, x: Float64Array.from(x), y: Float64Array.from(y) }) as Tried; // prettier-ignore
const file = (path: string, more: Partial<Checked> = {}): Checked => ({ path, opened: opened(), tried: null, treatment: { as: 'survey' }, rows: new Uint32Array(), ...more }); // prettier-ignore
const facts: ProjectFacts = {
  unit: 'm',
  system: 'local ground',
  code: null,
  control: [
    { x: 1000, y: 5000 },
    { x: 1100, y: 5100 },
    { x: 1050, y: 5020 },
  ],
  known: new Map([['kept', 'monday.csv']]),
};
const said = (f: Checked, all: Checked[] = [f]): string[] => remarksOf(f, all, facts).map((r) => `${r.warning ? '!' : ''}${r.text}`); // prettier-ignore

describe('what a delivery is sorted into', () => {
  it('control, books, points and designs by what they hold and how they are called, in the order in which they build on each other', () => {
    const of = (name: string, o: Opened | null): Treatment['as'] => treatmentOf(name, o).as;
    expect(of('control-yard.csv', opened())).toBe('control');
    expect(of('day.csv', opened({ guess: { ...opened().guess, control: true } }))).toBe('control');
    expect(of('day.book', opened({ kind: 'book' }))).toBe('book');
    expect(of('day.csv', opened({ readings: { likely: true } as Opened['readings'] }))).toBe('book');
    expect(of('day.csv', opened())).toBe('survey');
    expect(of('bank.jpg', null)).toBe('original');
    expect(purposeOf('lower-pad.csv', opened())).toEqual({ as: 'design', surface: 'lower pad' });
    expect(purposeOf('x.xml', opened({ surface: 'Proposed' }))).toEqual({ as: 'design', surface: 'Proposed' });
    const all = (['original', 'survey', 'book', 'replace', 'design', 'nothing', 'control'] as const).map((as, i) => ({ path: `${9 - i}`, treatment: { as, intake: 'x' } as Treatment })); // prettier-ignore
    expect(inOrder(all).map((f) => f.treatment.as)).toEqual(['replace', 'control', 'book', 'survey', 'design', 'original', 'nothing']); // prettier-ignore
  });

  it('drawings under the drawing, or by their layers as an earlier issue was ticked; LandXML by what it holds', () => {
    const drawn = opened({ kind: 'dxf' });
    const again = opened({ kind: 'dxf', tickedAs: { id: 'a', name: 'design-a.dxf' } });
    expect(treatmentOf('design-b.dxf', drawn, drawn).as).toBe('underlay');
    expect(treatmentOf('design-b.dxf', drawn, again).as).toBe('layers');
    expect(treatmentOf('mesh.dxf', opened({ kind: 'dxf', surface: 'TIN' }), drawn).as).toBe('design');
    expect(treatmentOf('day.xml', opened({ kind: 'landxml' }), opened({ kind: 'landxml' })).as).toBe('survey');
    expect(choicesOf(drawn, false, true).slice(0, 2)).toEqual(['layers', 'underlay']);
    expect(choicesOf(opened())).not.toContain('layers');
  });

  it('never as what cannot be read of it', () => {
    expect(choicesOf(null)).toEqual(['original', 'nothing']);
    expect(choicesOf(opened())).not.toContain('book');
    expect(choicesOf(opened({ kind: 'book' }))).not.toContain('survey');
  });
});

describe('what is known of a file before it comes in', () => {
  it('is nothing where unit, order and place agree', () => {
    expect(said(file('day.csv', { tried: tried([1010, 1020], [5010, 5015]) }))).toEqual([]);
  });

  it('its unit and order, said or taken', () => {
    const { guess } = opened();
    const layout = { ...guess.layout, unit: 'usft' as const };
    expect(said(file('a', { opened: opened({ guess: { ...guess, layout } }) }))).toEqual(['in US survey feet, as it says; the project has metres']); // prettier-ignore
    expect(said(file('a', { opened: opened({ guess: { ...guess, layout, said: { unit: false, order: true } } }) }))[0]).toMatch(/^!taken to be in usft/); // prettier-ignore
    expect(said(file('a', { opened: opened({ guess: { ...guess, said: { unit: false, order: false } } }) }))).toEqual([
      'says no unit: taken to be in metres, as the project',
      'says no order: the project’s order; the file does not say',
    ]);
  });

  it('that it lies far from control, and whether swapped it would not', () => {
    expect(said(file('a', { tried: tried([5010, 5020], [1010, 1015]) }))[0]).toMatch(/^!5.6\d\d m from control; with east and north swapped it lies within it$/); // prettier-ignore
    expect(said(file('a', { tried: tried([90_000], [90_000]) }))[0]).toMatch(/m from control$/);
    expect(said(file('a', { treatment: { as: 'control' }, tried: tried([90_000], [90_000]) }))).toEqual([]);
  });

  it('that its system is another, that the project or the delivery has it already', () => {
    expect(said(file('a', { opened: opened({ claims: { unit: null, system: 'EPSG:9999', geoid: null } }) }))[0]).toContain('says its system is EPSG:9999; the project has local ground'); // prettier-ignore
    expect(said(file('a', { opened: opened({ sha256: 'kept' }) }))).toEqual(['!the project has these bytes already, as monday.csv']); // prettier-ignore
    const [a, b] = [file('a.csv'), file('b.csv')];
    expect(said(b, [a, b])).toEqual(['!the same bytes as a.csv']);
    expect(said(a, [a, b])).toEqual([]);
  });

  it('that a longer version of it is there; two like-sized files of one place are no versions of each other', () => {
    const rows = Uint32Array.from({ length: 50 }, (_, i) => i * 7919);
    const early = file('noon.book', { rows: rows.slice(0, 40) });
    const late = file('evening.book', { rows });
    const other = file('other.book', { rows: rows.map((r) => r + 1) });
    expect(laterVersion(early, [early, late, other])).toBe(late);
    expect(laterVersion(late, [early, late, other])).toBeNull();
    expect(laterVersion(other, [early, late, other])).toBeNull();
    expect(laterVersion(file('empty'), [late])).toBeNull();
  });
});

describe('what is in a drop', () => {
  const names = async (files: File[]): Promise<string[]> => (await gather(files)).map((g) => `${g.path}${g.why ? `: ${g.why}` : ''}`); // prettier-ignore
  const of = (name: string, text = 'x'): File => new File([text], name);

  it('is listed whole; locks, empty files and what is too much with why', async () => {
    expect(await names([of('day.csv'), of('~$day.xlsx'), of('.DS_Store'), of('day.csv.part'), of('empty.csv', '')])).toEqual([
      'day.csv',
      '~$day.xlsx: left behind by another program; it holds no survey',
      '.DS_Store: left behind by another program; it holds no survey',
      'day.csv.part: left behind by another program; it holds no survey',
      'empty.csv: empty',
    ]); // prettier-ignore
    expect(await names([of('day.csv'), of('day.csv')])).toEqual(['day.csv', 'day.csv (2)']);
    const many = await names(Array.from({ length: 302 }, (_, i) => of(`${i}.csv`)));
    expect(many[299]).toBe('299.csv');
    expect(many[300]).toBe('300.csv: more than 300 files in one delivery');
  });

  it('the files of a Shapefile are one file, in a zip too; what belongs to none stays apart', async () => {
    const shp = new Uint8Array([0, 0, 0x27, 0x0a, ...new Array<number>(96).fill(0)]);
    const bytes = (name: string, b: Uint8Array): File => new File([b.slice()], name);
    const out = await gather([bytes('lots.shp', shp), of('lots.dbf'), of('lots.prj'), of('lots.shx'), of('lots.shp.xml'), of('other.dbf')]); // prettier-ignore
    expect(out.map((g) => g.path)).toEqual(['lots.shp', 'other.dbf']);
    expect(Object.keys(unzipSync(new Uint8Array(await out[0].file!.arrayBuffer()))).sort()).toEqual(['lots.dbf', 'lots.prj', 'lots.shp']); // prettier-ignore
    const zip = bytes(
      'gis.zip',
      zipSync({ 'a/lots.shp': shp, 'a/lots.dbf': strToU8('x'), 'b/lots.dbf': strToU8('x') }),
    );
    expect((await gather([zip])).map((g) => g.path)).toEqual(['gis.zip/a/lots.shp', 'gis.zip/b/lots.dbf']);
  });

  it('a zip is opened, its paths are names and no places', async () => {
    const zip = zipSync({ 'friday/day.csv': strToU8('1,2,3'), '../../up.csv': strToU8('1,2,3'), 'friday/~$x': strToU8('x'), 'friday/none.csv': strToU8('') }); // prettier-ignore
    const out = await openZip(zip, 'friday.zip');
    expect(out.map((g) => [g.path, g.file?.name ?? null, g.why])).toEqual([
      ['friday.zip/friday/day.csv', 'day.csv', null],
      ['friday.zip/../../up.csv', 'up.csv', null],
      ['friday.zip/friday/~$x', null, 'left behind by another program; it holds no survey'],
      ['friday.zip/friday/none.csv', null, 'empty'],
    ]);
    expect(await out[0].file!.text()).toBe('1,2,3');
  });

  it('a broken or empty zip says so, and one that unpacks to more than may be is not unpacked', async () => {
    expect((await openZip(strToU8('PK no zip'), 'a.zip'))[0].why).toMatch(/^this zip cannot be opened/);
    expect((await openZip(zipSync({}), 'a.zip'))[0].why).toBe('the zip holds no files');
    // Its directory says 4 GB; the bytes are few.
    const zip = zipSync({ 'a.csv': strToU8('1,2,3') });
    const at = zip.findIndex((_, i) => zip[i] === 0x50 && zip[i + 1] === 0x4b && zip[i + 2] === 1 && zip[i + 3] === 2);
    new DataView(zip.buffer, zip.byteOffset).setUint32(at + 24, 0xfffffff0, true);
    const [bomb] = await openZip(zip, 'bomb.zip');
    expect(bomb.file).toBeNull();
    expect(bomb.why).toContain('1 GB');
  });
});

describe('files that another may be a later export of', () => {
  const kept = [
    { sha256: 'a', purpose: 'control' as const },
    { sha256: 'b', purpose: 'survey' as const },
    { sha256: 'c', purpose: 'survey' as const, form: 'book' as const },
    { sha256: 'd', purpose: 'design' as const },
  ];
  const of = (as: 'control' | 'survey' | 'book' | 'design' | 'original', sha = 'new'): string[] => earlierOf({ as }, sha, kept).map((i) => i.sha256); // prettier-ignore

  it('are those of its kind: control never takes the place of survey points, nor points that of a book', () => {
    expect([of('control'), of('survey'), of('book')]).toEqual([['a'], ['b'], ['c']]);
  });

  it('are none of a design, of what is only kept, and of the same bytes', () => {
    expect([of('design'), of('original'), of('survey', 'b')]).toEqual([[], [], []]);
  });
});
