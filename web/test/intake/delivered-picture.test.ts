// @vitest-environment jsdom
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { WGS84 } from '#core/basis';
import type { ProjectDocument } from '#core/project';
import { api } from '../../src/frame/api.ts';
import { bringIn } from '../../src/intake/delivery/bring-in.ts';
import { pictureOfWorldFile, placeOfDelivered, worldFileFor, type DeliveredPicture } from '../../src/intake/delivery/delivered-picture.ts'; // prettier-ignore
import type { Gathered } from '../../src/intake/delivery/gather.ts';
import type { Read } from '../../src/intake/delivery/read.ts';
import { choicesOf, inOrder, type Treatment } from '../../src/intake/delivery/sort.ts';
import { NO_PLACE, type OpenedPicture } from '../../src/work/picture/opened.ts';
import { opened, stateOf, written } from '../opened.ts';
import { projectOf } from '../tables.ts';

const { doc, tables } = projectOf({ points: [['1', 0, 0, 5]] }); // prettier-ignore
const withUnit = (unit: 'm' | 'ft'): ProjectDocument => ({ ...doc, settings: { ...doc.settings, unit } });
const onGrid = (code: string): ProjectDocument => ({ ...doc, basis: { ...doc.basis, system: { ...WGS84, kind: 'projected', code, unit: 'usft' } as ProjectDocument['basis']['system'] } }); // prettier-ignore
const PNG: OpenedPicture = { kind: 'PNG', sizes: [{ width: 200, height: 100 }], pages: 1, ...NO_PLACE };
const TIFF: OpenedPicture = { ...PNG, kind: 'TIFF', matrix: [0.5, 0, 1000, 0, -0.5, 2000, 0, 0, 1] };
/** jsdom's files have no text to read. */
const worldFile = (text: string): File => Object.assign(new File([text], 'site.pgw'), { text: () => Promise.resolve(text) }); // prettier-ignore
const LINES = '0.5\n0\n0\n-0.5\n1000.25\n1999.75\n';
const place = async (of: OpenedPicture, world: File | null, document = doc) => {
  const got = await placeOfDelivered('site.tif', of, world, document);
  return 'why' in got ? got.why : [got.matrix.slice(0, 6), got.said];
};
const g = (path: string): Gathered => ({ path, file: new File([''], path), why: null });

describe('where a picture of a delivery lies', () => {
  it('is where its world file says, its numbers in the project’s unit', async () => {
    expect(await place(PNG, worldFile(LINES))).toEqual([[0.5, 0, 1000, 0, -0.5, 2000], 'PNG, 200 × 100 pixels; placed by site.pgw, read in metres']); // prettier-ignore
    const [matrix, said] = (await place(PNG, worldFile(LINES), withUnit('ft'))) as [number[], string];
    expect(matrix[2]).toBeCloseTo(304.8, 9);
    expect(said).toMatch(/read in (international )?feet/);
  });

  it('is where the file itself says, in metres or in the unit of the grid where it says none', async () => {
    expect(await place(TIFF, null)).toEqual([[0.5, 0, 1000, 0, -0.5, 2000], 'TIFF, 200 × 100 pixels; placed as it says itself']); // prettier-ignore
    const [matrix] = (await place({ ...TIFF, isUnitSaid: false }, null, onGrid('EPSG:1'))) as [number[]];
    expect(matrix[2]).toBeCloseTo((1000 * 1200) / 3937, 9);
  });

  it('is nowhere where nobody says, in another system, or by a world file that cannot be read', async () => {
    expect(await place(PNG, null)).toBe('a photograph');
    expect(await place({ ...TIFF, system: 'EPSG:2' }, null, onGrid('EPSG:1'))).toBe('a picture in EPSG:2, the project is in EPSG:1'); // prettier-ignore
    expect(await place(PNG, worldFile('0.5\n0\n0\nno\n1\n2'))).toMatch(/^a picture; site\.pgw: Line 4/);
  });

  it('is said by the world file of its own folder and name, whatever the letters', () => {
    const all = [g('a/site.PNG'), g('a/SITE.pgw'), g('b/site.pgw'), g('a/other.pgw'), g('a/day.csv')];
    expect(worldFileFor('a/site.PNG', all)?.path).toBe('a/SITE.pgw');
    const two = [g('a/site.wld'), g('a/site.pgw')];
    expect([two, [...two].reverse()].map((list) => worldFileFor('a/site.png', list)?.path)).toEqual(['a/site.pgw', 'a/site.pgw']); // prettier-ignore
    expect(all.map((f) => pictureOfWorldFile(f, all)?.path)).toEqual([undefined, 'a/site.PNG', undefined, undefined, undefined]); // prettier-ignore
  });
});

describe('a picture that is brought in with a delivery', () => {
  const PICTURE: DeliveredPicture = { width: 200, height: 100, matrix: [0.5, 0, 1000, 0, -0.5, 2000, 0, 0, 1], placed: { by: 'file', name: 'site.pgw' }, said: '' }; // prettier-ignore
  const read = (treatment: Treatment): Read => ({ path: 'a/site.png', file: new File([''], 'site.png'), treatment, picture: PICTURE }) as unknown as Read; // prettier-ignore
  const bring = (treatment: Treatment = { as: 'picture' }) => bringIn(read(treatment), () => undefined, new AbortController().signal); // prettier-ignore
  beforeEach(() => {
    vi.spyOn(api, 'upload').mockResolvedValue({ id: 'f', sha256: 'abc' } as never);
  });

  it('lies under the drawing, where it was said to be', async () => {
    const page = opened({ doc, tables });
    expect(await bring()).toEqual({ done: true, said: 'imported' });
    const { said: _, ...placed } = PICTURE;
    expect(written(page)).toMatchObject([{ op: 'picture.set', picture: { name: 'site', fileId: 'f', fileName: 'site.png', sha256: 'abc', ...placed, opacity: 1, hidden: false } }]); // prettier-ignore
  });

  it('comes in once, and not where somebody only keeps it', async () => {
    const pictures = [{ sha256: 'abc' }] as ProjectDocument['pictures'];
    const page = opened({ doc, tables }, { state: stateOf({ ...doc, pictures }) });
    expect(await bring()).toEqual({ done: true, said: 'is in the project already' });
    expect(await bring({ as: 'original' })).toEqual({ done: true, said: 'kept among the originals' });
    expect(written(page)).toEqual([]);
  });

  it('that is refused says why', async () => {
    opened({ doc, tables }, { problem: 'A picture has no more than 40,000 pixels a side.' }).make.mockResolvedValue(
      false,
    );
    expect(await bring()).toEqual({ done: false, why: 'A picture has no more than 40,000 pixels a side.' });
  });

  it('is offered as that only where it has a place, and comes after what is measured', () => {
    expect([choicesOf(null, true), choicesOf(null)]).toEqual([['picture', 'original', 'nothing'], ['original', 'nothing']]); // prettier-ignore
    const of = (as: Treatment['as']) => ({ path: as, treatment: { as } as Treatment });
    expect(inOrder(['original', 'picture', 'survey'].map((as) => of(as as 'survey'))).map((f) => f.path)).toEqual(['survey', 'picture', 'original']); // prettier-ignore
  });
});
