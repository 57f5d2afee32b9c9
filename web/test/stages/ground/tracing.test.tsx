// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { beforeEach, describe, expect, it } from 'vitest';
import { tracedRecipe, type Picture, type SurfaceRow, type TracedRow } from '#core/project';
import { addPlace } from '../../../src/sheet/trace-bar.tsx';
import { useProject } from '../../../src/project-state/store.ts';
import { Tracing } from '../../../src/stages/ground/tracing/tracing.tsx';
import { closedCourse, flatTop, outerRing } from '../../../src/stages/ground/tracing/traced-rows.ts';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 50], ['2', 20, 0, 51], ['3', 0, 20, 52]] }); // prettier-ignore
const picture = (placed: Picture['placed']): Picture => ({ id: 'air', name: 'From the air', fileId: 'f', fileName: 'air.png', sha256: '0'.repeat(64), width: 400, height: 300, matrix: [0.1, 0, 0, 0, -0.1, 30, 0, 0, 1], placed, opacity: 1, brightness: 0, hidden: false }); // prettier-ignore
const KNOWN: Picture['placed'] = { by: 'length', from: [0, 0], to: [300, 400], length: 50 };
const line = (part: Partial<TracedRow>): TracedRow => ({ id: 'l', on: true, kind: 'traced', as: 'contour', picture: 'air', closed: true, course: [{ x: 1, y: 1, z: 5 }, { x: 9, y: 1, z: 5 }, { x: 9, y: 9, z: 5 }], ...part }); // prettier-ignore

let page: ReturnType<typeof opened>;
function tracing(rows: SurfaceRow[] = [], placed = KNOWN) {
  const made = tracedRecipe({ id: 't', name: 'Traced' });
  const recipe = { ...made, rows: [...made.rows, ...rows] };
  const doc = { ...given.doc, pictures: [picture(placed)], surfaces: [...given.doc.surfaces, recipe] };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) }, { trace: (traced) => useProject.setState({ traced }) });
  const { unmount } = draw(
    <MemoryRouter>
      <Tracing doc={doc} recipe={recipe} onDone={() => {}} />
    </MemoryRouter>,
  );
  return unmount;
}
const trace = () => screen.getByRole<HTMLButtonElement>('button', { name: 'Trace' });
const click = (x: number, y: number): void => addPlace(useProject.getState().traced!, { x, y, by: 'free', row: -1 }); // prettier-ignore
const typeInto = async (name: string, text: string): Promise<void> => {
  await userEvent.clear(screen.getByLabelText(name));
  await userEvent.type(screen.getByLabelText(name), `${text}{Enter}`);
};
const rowsWritten = () => written(page).flatMap((c) => (c.op === 'surface.row' ? [c.row] : []));
beforeEach(() => useProject.setState({ traced: null, sketch: null }));

describe('tracing over a picture', () => {
  it('says how well a place is read and how good the scale is', () => {
    tracing();
    expect(screen.getByText(/^A place is read to 0\.100 m, the scale of the picture is good to 0\.28 %/)).toBeTruthy();
  });

  it('waits for the scale of a picture that has none', async () => {
    tracing([], { by: 'view' });
    await typeInto('elevation of the contour m', '5');
    expect(trace().disabled).toBe(true);
    expect(screen.getByText(/has no scale yet/)).toBeTruthy();
  });

  it('goes from contour to contour by the step, each closed where it began', async () => {
    tracing();
    expect(trace().disabled).toBe(true);
    await typeInto('elevation of the contour m', '60');
    await typeInto('step to the next contour m', '0.5');
    await userEvent.click(trace());
    for (const [x, y] of [[0, 0], [10, 0], [10, 10], [0, 10], [0, 0]]) click(x, y); // prettier-ignore
    await waitFor(() => expect(useProject.getState().traced?.places).toEqual([]));
    for (const [x, y] of [[2, 2], [8, 2], [8, 8]]) click(x, y); // prettier-ignore
    useProject.getState().traced!.course!.finish(useProject.getState().traced!.places);
    await waitFor(() => expect(rowsWritten()).toHaveLength(2));
    expect(rowsWritten()).toMatchObject([
      { kind: 'traced', as: 'contour', closed: true, picture: 'air', course: [{ x: 0, y: 0, z: 60 }, { x: 10, z: 60 }, { z: 60 }, { z: 60 }] }, // prettier-ignore
      { kind: 'traced', as: 'contour', closed: false, course: [{ x: 2, z: 60.5 }, { z: 60.5 }, { z: 60.5 }] },
    ]);
  });

  it('asks for the elevations of a breakline, knows those that were traced, and leaves the rest to be solved', async () => {
    tracing([line({})]);
    await userEvent.selectOptions(screen.getByLabelText('what is traced'), 'breakline');
    await userEvent.click(trace());
    expect(useProject.getState().traced!.course!.also!()).toEqual([1, 1, 9, 1, 9, 9]);
    for (const [x, y] of [[1, 1], [4, 4], [7, 7]]) click(x, y); // prettier-ignore
    useProject.getState().traced!.course!.finish(useProject.getState().traced!.places);
    const field = (i: number) => screen.findByLabelText<HTMLInputElement>(`elevation ${i} m`);
    expect((await field(1)).value).toBe('5.000');
    await userEvent.type(await field(3), '8,5{Enter}');
    expect(rowsWritten()).toMatchObject([{ as: 'breakline', course: [{ z: 5 }, { x: 4, y: 4, z: null }, { z: 8.5 }] }]);
  });

  it('keeps nothing of a breakline without any elevation, or with one that is none', async () => {
    tracing();
    await userEvent.selectOptions(screen.getByLabelText('what is traced'), 'breakline');
    await userEvent.click(trace());
    for (const [x, y] of [[1, 1], [4, 4]]) click(x, y); // prettier-ignore
    useProject.getState().traced!.course!.finish(useProject.getState().traced!.places);
    await userEvent.click(await screen.findByRole('button', { name: 'Add' }));
    expect(page.tell).toHaveBeenLastCalledWith(expect.stringContaining('one elevation at least'));
    await userEvent.type(screen.getByLabelText('elevation 1 m'), 'high{Enter}');
    expect(page.tell).toHaveBeenLastCalledWith(expect.stringMatching(/^Elevation 1: /));
    expect(rowsWritten()).toEqual([]);
  });

  it('measures what was traced inside its outermost line, as precise as picture and step allow', async () => {
    const inner = line({ id: 'in', course: [{ x: 7, y: 2, z: 6 }, { x: 8, y: 2, z: 6 }, { x: 8, y: 4, z: 6 }] }); // prettier-ignore
    tracing([line({}), inner]);
    expect(screen.getByText(/Nothing is higher than the contour at 6\.00 m/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Measure as a heap' }));
    expect(written(page)).toMatchObject([
      { op: 'comparison.set', comparison: { against: { base: 'toe' }, within: [1, 1, 9, 1, 9, 9], sd: { plan: expect.closeTo(0.1, 9) as number, height: expect.closeTo(0.304, 3) as number, scale: expect.closeTo(Math.SQRT2 / 500, 9) as number } } }, // prettier-ignore
    ]);
  });

  it('asks for the first vertex of a closed breakline once', async () => {
    tracing();
    await userEvent.selectOptions(screen.getByLabelText('what is traced'), 'breakline');
    await userEvent.click(trace());
    for (const [x, y] of [[1, 1], [4, 1], [4, 4], [1, 1]]) click(x, y); // prettier-ignore
    const third = await screen.findByLabelText('elevation 3 m');
    expect(screen.queryByLabelText('elevation 4 m')).toBeNull();
    await userEvent.type(third, '8.5{Enter}');
    expect(rowsWritten()).toMatchObject([{ as: 'breakline', closed: true, course: [{ x: 1, z: null }, { z: null }, { z: 8.5 }] }]); // prettier-ignore
  });

  it('is as precise where contours fall from one to the next', async () => {
    tracing([line({}), line({ id: 'in', course: [{ x: 7, y: 2, z: 4 }, { x: 8, y: 2, z: 4 }, { x: 8, y: 4, z: 4 }] })]); // prettier-ignore
    await typeInto('step to the next contour m', '-1');
    await userEvent.click(screen.getByRole('button', { name: 'Measure as a heap' }));
    expect(written(page)).toMatchObject([{ comparison: { sd: { height: expect.closeTo(0.304, 3) as number } } }]);
  });

  it('draws what was traced, and no more once it is done', () => {
    const unmount = tracing([line({})]);
    expect(useProject.getState().sketch?.courses).toEqual([[1, 1, 9, 1, 9, 9, 1, 1]]);
    expect(useProject.getState().tracing).toBe(true);
    unmount();
    expect([useProject.getState().sketch, useProject.getState().tracing]).toEqual([null, false]);
  });
});

describe('what was traced', () => {
  const P = (x: number, y: number) => ({ x, y });

  it('is closed where it came back to its first place, and not for two places', () => {
    expect(closedCourse([P(0, 0), P(1, 0), P(1, 1), P(0, 0)])).toEqual({ places: [P(0, 0), P(1, 0), P(1, 1)], closed: true }); // prettier-ignore
    expect(closedCourse([P(0, 0), P(1, 0), P(0, 0)]).closed).toBe(false);
  });

  it('has no outermost line where something lies outside of all', () => {
    expect(outerRing({ rows: [line({})] })).toEqual([1, 1, 9, 1, 9, 9]);
    expect(outerRing({ rows: [line({}), { id: 's', on: true, kind: 'spot', x: 20, y: 20, z: 4 }] })).toBeNull();
    expect(outerRing({ rows: [line({ closed: false })] })).toBeNull();
  });

  it('has a flat top until something is higher than its highest contour; a row that is off does not count', () => {
    const spot: SurfaceRow = { id: 's', on: true, kind: 'spot', x: 8, y: 2, z: 7 };
    expect(flatTop({ rows: [line({})] })).toBe(5);
    expect(flatTop({ rows: [line({}), spot] })).toBeNull();
    expect(flatTop({ rows: [line({}), { ...spot, on: false }] })).toBe(5);
  });
});
