// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ProjectState } from '#contract';
import { WGS84 } from '#core/basis';
import type { Basis, Change } from '#core/project';
import { api } from '../../src/frame/api.ts';
import { PictureIntake } from '../../src/intake/picture-intake.tsx';
import { usePictureDraft } from '../../src/project-state/picture-draft.ts';
import { useProject } from '../../src/project-state/store.ts';
import { NO_PLACE, type OpenedPicture } from '../../src/work/picture/opened.ts';
import { draw } from '../drawn.tsx';
import { projectOf } from '../tables.ts';

let answer: OpenedPicture | { problem: string };
const ended = vi.fn();
vi.mock('../../src/work/workers.ts', () => ({
  startPictureWork: () => ({ work: { open: () => Promise.resolve(answer) }, end: ended }),
}));

const make = vi.fn((_: Change) => Promise.resolve(true));
const close = vi.fn();
const GRID = { ...WGS84, kind: 'projected', code: 'EPSG:32735', unit: 'm' } as Basis['system'];
const TIFF: OpenedPicture = { kind: 'TIFF', sizes: [{ width: 200, height: 100 }], pages: 1, matrix: [0.5, 0, 1000, 0, -0.5, 2000, 0, 0, 1], isUnitSaid: true, system: null, remark: null }; // prettier-ignore
const PLACED = [0.5, 0, 1000, 0, -0.5, 2000, 0, 0, 1];

function open(of: typeof answer, { system, beside = null }: { system?: Basis['system']; beside?: File | null } = {}) {
  answer = of;
  const { doc } = projectOf({ points: [['1', 0, 0, 5]] });
  const document = system ? { ...doc, basis: { ...doc.basis, system } } : doc;
  useProject.setState({ id: 'p', state: { document, project: { id: 'p', role: 'surveyor' } } as unknown as ProjectState, make }); // prettier-ignore
  draw(
    <MemoryRouter>
      <PictureIntake file={new File(['bytes'], 'site.tif')} beside={beside} onClose={close} />
    </MemoryRouter>,
  );
}
/** jsdom's files have no text to read. */
const worldFile = (name: string, text: string): File => Object.assign(new File([text], name), { text: () => Promise.resolve(text) }); // prettier-ignore
const shownMatrix = () => usePictureDraft.getState().draft?.matrix;

beforeEach(() => {
  for (const mock of [make, close, ended]) mock.mockClear();
  usePictureDraft.setState({ draft: null });
});

describe('a picture before it is imported', () => {
  it('that says where it is is shown there, imported with its checksum, and gone from the draft', async () => {
    vi.spyOn(api, 'upload').mockResolvedValue({ id: 'f1', sha256: 'a'.repeat(64) });
    open(TIFF);
    expect(await screen.findByText('Its place comes from site.tif.')).toBeTruthy();
    await vi.waitFor(() => expect(shownMatrix()).toEqual(PLACED));
    await userEvent.click(screen.getByRole('button', { name: 'Import the picture' }));
    const change = make.mock.lastCall![0] as Extract<Change, { op: 'picture.set' }>;
    expect(change.picture).toMatchObject({ name: 'site', fileId: 'f1', sha256: 'a'.repeat(64), width: 200, height: 100, matrix: PLACED, placed: { by: 'file', name: 'site.tif' } }); // prettier-ignore
    expect(close).toHaveBeenCalled();
  });

  it('whose tags name no unit is read in one that can be chosen', async () => {
    open({ ...TIFF, isUnitSaid: false });
    expect(await screen.findByText(/its tags name no unit/)).toBeTruthy();
    await userEvent.selectOptions(screen.getByLabelText('unit of the picture’s place'), 'ft');
    expect(await screen.findByText('Its place comes from site.tif.')).toBeTruthy();
    await vi.waitFor(() => expect(shownMatrix()).toEqual(PLACED.map((v, i) => (i < 6 ? v * 0.3048 : v))));
  });

  it('in another system than the project is not placed by its numbers; one in the same is', async () => {
    open({ ...TIFF, system: 'EPSG:32633' }, { system: GRID });
    expect(await screen.findByText(/It is in EPSG:32633, the project in EPSG:32735/)).toBeTruthy();
    await vi.waitFor(() => expect(usePictureDraft.getState().draft?.placed).toEqual({ by: 'view' }));
    open({ ...TIFF, system: 'EPSG:32735' }, { system: GRID });
    expect(await screen.findByText('Its place comes from site.tif.')).toBeTruthy();
  });

  it('takes the place of the world file that came with it, or says why not', async () => {
    open({ ...TIFF, ...NO_PLACE }, { beside: worldFile('site.tfw', '2 0 0 -2 501 799') });
    expect(await screen.findByText('Its place comes from site.tfw.')).toBeTruthy();
    await vi.waitFor(() => expect(shownMatrix()).toEqual([2, 0, 500, 0, -2, 800, 0, 0, 1]));
    open({ ...TIFF, ...NO_PLACE }, { beside: worldFile('short.tfw', '2 0 0') });
    expect((await screen.findByRole('alert')).textContent).toContain('short.tfw: A world file has six lines');
  });

  it('that cannot be read says so, and offers nothing to import; its thread ends with it', async () => {
    open({ problem: 'The PNG is damaged: it cannot be unpacked.' });
    expect((await screen.findByRole('alert')).textContent).toBe('site.tif: The PNG is damaged: it cannot be unpacked.');
    expect(screen.queryByRole('button', { name: 'Import the picture' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(close).toHaveBeenCalled();
  });
});
