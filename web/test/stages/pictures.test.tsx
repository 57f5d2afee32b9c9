// @vitest-environment jsdom
import { act, fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ProjectState } from '#contract';
import { placeOf, type Projective } from '#core/pictures';
import type { Change, Picture } from '#core/project';
import { usePictureDraft } from '../../src/project-state/picture-draft.ts';
import type { Snapped } from '../../src/project-state/snap.ts';
import { useProject } from '../../src/project-state/store.ts';
import { Pictures } from '../../src/stages/basis/pictures.tsx';
import { draw } from '../drawn.tsx';
import { projectOf, tablesOf } from '../tables.ts';

const picture = (id: string, said: Partial<Picture> = {}): Picture => ({ id, name: id, fileId: id, fileName: `${id}.png`, sha256: id.repeat(64).slice(0, 64), width: 1000, height: 800, matrix: [0.1, 0, 0, 0, -0.1, 80, 0, 0, 1], placed: { by: 'view' }, opacity: 1, brightness: 0, hidden: false, ...said }); // prettier-ignore
const given = projectOf({ points: [['1', 10, 20, 5], ['2', 60, 20, 5], ['3', 60, 70, 5]] }); // prettier-ignore
const tables = tablesOf(given.doc, given.readOf);
const make = vi.fn((_: Change) => Promise.resolve(true));

function open(pictures: Picture[], role = 'surveyor', at = ''): void {
  make.mockClear();
  useProject.setState({ id: 'p', state: { document: { ...given.doc, pictures }, project: { id: 'p', role } } as unknown as ProjectState, tables, busy: false, traced: null, sketch: null, make }); // prettier-ignore
  draw(
    <MemoryRouter initialEntries={[`/p/p/basis/pictures${at && `?at=${at}`}`]}>
      <Pictures onTakeIn={() => undefined} />
    </MemoryRouter>,
  );
}
/** What is asked for on the drawing is pointed at. */
const point = (...places: Partial<Snapped>[]): void =>
  act(() => {
    const { traced } = useProject.getState();
    useProject.setState({ traced: null });
    traced!.course!.finish(places.map((p) => ({ x: 0, y: 0, by: 'free', row: -1, ...p })));
  });
const addMark = async (column: number, row: number, to: Partial<Snapped>): Promise<void> => {
  const { matrix } = usePictureDraft.getState().draft!;
  await userEvent.click(screen.getByRole('button', { name: 'Add a mark' }));
  point(placeOf(matrix as Projective, column, row));
  point(to);
};
const figures = (): string[][] =>
  screen.getAllByRole('row').slice(1).map((r) => [...r.querySelectorAll('td')].map((c) => c.textContent)); // prettier-ignore

beforeEach(() => usePictureDraft.setState({ draft: null, file: null, missing: [] }));

describe('pictures under the drawing', () => {
  it('stand with the uppermost first, each with where its place comes from', () => {
    open([picture('low'), picture('high', { placed: { by: 'file', name: 'high.pgw' } })]);
    const [first, second] = screen.getAllByRole('listitem');
    expect(first.textContent).toContain('placed by high.pgw; a pixel is 0.100 m');
    expect(second.textContent).toContain('not to scale: nobody has said where it is');
  });

  it('are raised, hidden and deleted by changes', async () => {
    open([picture('low'), picture('high')]);
    await userEvent.click(screen.getByRole('button', { name: 'raise low' }));
    expect(make.mock.lastCall![0]).toMatchObject({ op: 'picture.set', id: 'low', at: 1 });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'raise high' }).disabled).toBe(true);
    await userEvent.click(screen.getAllByRole('checkbox', { name: 'hidden' })[0]);
    expect(make.mock.lastCall![0]).toMatchObject({ id: 'high', picture: { hidden: true } });
    await userEvent.click(screen.getByRole('button', { name: 'delete high' }));
    expect(make.mock.lastCall![0]).toEqual({ op: 'picture.set', id: 'high', picture: null });
  });

  it('are seen as a slider moves, and kept when it is let go', () => {
    open([picture('scan')]);
    const slider = screen.getByRole('slider', { name: 'transparency of scan' });
    fireEvent.change(slider, { target: { value: '40' } });
    expect(usePictureDraft.getState().draft).toMatchObject({ id: 'scan', opacity: 0.6 });
    expect(make).not.toHaveBeenCalled();
    fireEvent.pointerUp(slider);
    expect(make.mock.calls).toMatchObject([[{ op: 'picture.set', picture: { opacity: 0.6 } }]]);
    expect(usePictureDraft.getState().draft).toBeNull();
  });

  it('offer nothing that is refused to whoever may only look', () => {
    open([picture('scan')], 'viewer');
    expect(screen.queryByRole('button', { name: /delete|raise|fit/ })).toBeNull();
    expect(screen.getByRole('button', { name: 'show all of scan' })).toBeTruthy();
  });

  it('that cannot be shown say so', () => {
    usePictureDraft.setState({ missing: ['scan'] });
    open([picture('scan')]);
    expect(screen.getByRole('alert').textContent).toContain('scan.png cannot be shown here');
  });
});

describe('a picture fitted by marks', () => {
  it('follows each mark, and is kept with them and the points that they are', async () => {
    open([picture('scan')], 'surveyor', 'scan');
    await addMark(100, 700, { x: 10, y: 20, by: 'point', row: 0 });
    expect(screen.getByText(/need 2 marks; 1 take part/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Apply' }).disabled).toBe(true);
    await addMark(600, 700, { x: 60, y: 20, by: 'point', row: 1 });
    expect(screen.getByText(/No redundancy: one mark more/)).toBeTruthy();
    expect(figures()[0].slice(0, 4)).toEqual(['1', '', '0.000', '0.000']);
    await addMark(600, 200, { x: 60.04, y: 70 });
    expect(screen.getByText(/redundancy 2/)).toBeTruthy();
    const { draft } = usePictureDraft.getState();
    // The other two put the third 0.04 m off; it takes three quarters of itself (1/3 + r²/Σr², least squares), a quarter is left.
    expect(figures()[2]).toEqual(['place 3', '', '−0.010', '0.000', '0.040', '×']);
    await userEvent.click(screen.getByRole('button', { name: 'Apply' }));
    const change = make.mock.lastCall![0] as Extract<Change, { op: 'picture.set' }>;
    expect(change.picture!.placed).toMatchObject({ by: 'marks', kind: 'similarity', marks: [{ column: 100, row: 700, x: 10, y: 20, on: true, point: { key: 'day:1', number: '1' } }, { point: { number: '2' } }, { x: 60.04, point: null }] }); // prettier-ignore
    expect(change.picture!.matrix).toEqual(draft!.matrix);
  });

  it('keeps what is being fitted in view while its look is changed, and asks for nothing once it is closed', async () => {
    open([picture('scan')], 'surveyor', 'scan');
    await addMark(100, 700, { x: 10, y: 20 });
    await addMark(600, 700, { x: 110, y: 20 });
    const slider = screen.getByRole('slider', { name: 'brightness of scan' });
    fireEvent.change(slider, { target: { value: '30' } });
    expect(usePictureDraft.getState().draft!.matrix[0]).toBeCloseTo(0.2, 9);
    fireEvent.pointerUp(slider);
    expect(usePictureDraft.getState().draft!.matrix[0]).toBeCloseTo(0.2, 9);
    expect(make.mock.lastCall![0]).toMatchObject({ picture: { brightness: 0.3, placed: { by: 'view' } } });
    await userEvent.click(screen.getByRole('button', { name: 'Add a mark' }));
    expect(useProject.getState().traced).not.toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Cancel' }));
    expect(useProject.getState().traced).toBeNull();
  });

  it('takes no mark beside the picture', async () => {
    open([picture('scan')], 'surveyor', 'scan');
    await userEvent.click(screen.getByRole('button', { name: 'Add a mark' }));
    point({ x: -50, y: 20 });
    expect(useProject.getState().notice).toMatch(/beside the picture/);
    expect(useProject.getState().traced).toBeNull();
  });

  it('says which of its points have moved since, and takes them as they are', async () => {
    const marks = [
      { column: 0, row: 0, x: 10, y: 20.5, on: true, point: { key: 'day:1', number: '1' } },
      { column: 1000, row: 0, x: 60, y: 20, on: true, point: { key: 'day:2', number: '2' } },
      { column: 1000, row: 500, x: 60, y: 70, on: true, point: { key: 'gone:3', number: '3' } },
    ];
    open([picture('scan', { placed: { by: 'marks', kind: 'affine', marks, sigma: null } })], 'surveyor', 'scan');
    expect(screen.getByText(/Moved since it was fitted: 1 by 0\.500 m, 3 is gone\./)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Take its points as they are now' }));
    expect(screen.queryByRole('button', { name: 'Take its points as they are now' })).toBeNull();
    expect(usePictureDraft.getState().draft!.placed).toMatchObject({ marks: [{ x: 10, y: 20 }, { x: 60 }, { x: 60 }] });
  });

  it('is without a mark that is switched off or deleted', async () => {
    const marks = [[0, 0, 0, 80], [1000, 0, 100, 80], [1000, 800, 100, 5]].map(([column, row, x, y]) => ({ column, row, x, y, on: true, point: null })); // prettier-ignore
    open([picture('scan', { placed: { by: 'marks', kind: 'similarity', marks, sigma: 1 } })], 'surveyor', 'scan');
    expect(figures()[2][4]).toBe('5.000');
    await userEvent.click(screen.getByRole('checkbox', { name: 'mark 3 takes part' }));
    expect(figures().map((r) => r[2])).toEqual(['0.000', '0.000', '0.000']);
    expect(figures()[2][3]).toBe('−5.000');
    await userEvent.click(screen.getByRole('button', { name: 'delete mark 3' }));
    expect(figures()).toHaveLength(2);
  });

  it('is brought to scale by a known length, typed in any unit', async () => {
    open([picture('scan')], 'surveyor', 'scan');
    await userEvent.click(screen.getByRole('button', { name: 'Point at its ends' }));
    point({ x: 10, y: 40 }, { x: 60, y: 40 });
    const length = screen.getByLabelText('known length m');
    await userEvent.type(length, '0');
    await userEvent.click(screen.getByRole('button', { name: 'Bring to scale' }));
    expect(useProject.getState().notice).toMatch(/more than 0/);
    await userEvent.clear(length);
    await userEvent.type(length, '82.021ft');
    await userEvent.click(screen.getByRole('button', { name: 'Bring to scale' }));
    await userEvent.click(screen.getByRole('button', { name: 'Apply' }));
    const change = make.mock.lastCall![0] as Extract<Change, { op: 'picture.set' }>;
    // 500 pixels are 25 m, about their middle at 35, 40.
    expect(change.picture!.matrix[0]).toBeCloseTo(0.05, 6);
    expect(placeOf(change.picture!.matrix as Projective, 350, 400).x).toBeCloseTo(35, 9);
    expect(change.picture!.placed).toMatchObject({ by: 'length', from: [100, 400], to: [600, 400] });
  });
});
