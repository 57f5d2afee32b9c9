// @vitest-environment jsdom
import { act, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import { proposedRecipe, proposedRows, type PadRow, type ProposedRow, type StripRow } from '#core/project';
import { useProject } from '../../../../src/project-state/store.ts';
import { evenlyGraded } from '../../../../src/stages/quantities/proposed/propose.tsx';
import { ProposedRows } from '../../../../src/stages/quantities/proposed/proposed-rows.tsx';
import { draw } from '../../../drawn.tsx';
import { opened, written } from '../../../opened.ts';
import { projectOf, tablesOf } from '../../../tables.ts';

const given = projectOf({ points: Array.from({ length: 16 }, (_, i) => [String(i + 1), 20 * (i % 4), 20 * Math.floor(i / 4), 50]) }); // prettier-ignore
const BATTERS = { cutSlope: 2, fillSlope: 2, corners: 'mitred', sagitta: 0.01 } as const;
const PAD = { kind: 'pad' as const, surface: 'ground', ring: [25, 25, 35, 25, 35, 35, 25, 35], level: 51, levelAt: 'centre' as const, gradient: 0, direction: 0, ...BATTERS, batter: 'square' as const }; // prettier-ignore
const STRIP: StripRow = { id: 'ditch', on: true, kind: 'strip', surface: 'ground', course: [{ x: 5, y: 10, z: 49 }, { x: 25, y: 10, z: 48 }, { x: 45, y: 10, z: 49 }], template: [{ offset: -0.25, height: 0 }, { offset: 0.25, height: 0 }], ...BATTERS }; // prettier-ignore

let page: ReturnType<typeof opened>;
function shown(...more: ProposedRow[]): void {
  const recipe = proposedRecipe({ id: 'pad', name: 'Pad' }, PAD);
  const surface = { ...recipe, rows: [...recipe.rows, ...more] };
  const doc = { ...given.doc, surfaces: [...given.doc.surfaces, surface] };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) });
  draw(<ProposedRows surface="pad" rows={proposedRows(surface)} />);
}
const rows = (): ProposedRow[] => written(page).flatMap((c) => (c.op === 'surface.row' ? [c.row as ProposedRow] : []));
const type = async (label: string | RegExp, text: string): Promise<void> => {
  await userEvent.clear(screen.getByLabelText(label));
  await userEvent.type(screen.getByLabelText(label), `${text}{Tab}`);
};

describe('what is proposed', () => {
  beforeEach(() => useProject.setState({ traced: null }));

  it('has benches in its batters once a height is typed, and none once it is empty', async () => {
    shown();
    expect(screen.queryByLabelText('width of the benches m')).toBeNull();
    await type('height between benches m', '5');
    expect(rows()).toEqual([expect.objectContaining({ kind: 'pad', benches: { every: 5, width: 3 } })]);
    await type('height between benches m', '0.01');
    expect(rows()).toHaveLength(1);
  });

  it('a pad goes through points that are typed by number, each one point', async () => {
    shown();
    await userEvent.click(screen.getByRole('button', { name: 'Through points …' }));
    const label = 'numbers of the points that the pad goes through';
    for (const [typed, why] of [
      ['1 2', 'three points or more'],
      ['1 2 77', 'There is no point 77.'],
    ]) {
      await userEvent.clear(screen.getByLabelText(label));
      await userEvent.type(screen.getByLabelText(label), `${typed}{Enter}`);
      expect(screen.getByText(new RegExp(why))).toBeTruthy();
    }
    await userEvent.clear(screen.getByLabelText(label));
    await userEvent.type(screen.getByLabelText(label), '1, 4, 13{Enter}');
    const [row] = rows() as PadRow[];
    expect(row.through).toHaveLength(3);
    expect(new Set(row.through)).toEqual(new Set([1, 4, 13].map((r) => `${given.doc.intakes[0].id}:${r}`)));
  });

  it('through points says what plane that is, and offers no level to balance', () => {
    const keys = [1, 4, 13].map((r) => `${given.doc.intakes[0].id}:${r}`);
    const recipe = proposedRecipe({ id: 'pad', name: 'Pad' }, { ...PAD, through: keys });
    const doc = { ...given.doc, surfaces: [...given.doc.surfaces, recipe] };
    page = opened({ doc, tables: tablesOf(doc, given.readOf) });
    draw(<ProposedRows surface="pad" rows={proposedRows(recipe)} />);
    expect(screen.getByText(/Pad at 50.000 m in its middle, rising 0.00 %/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Balance' })).toBeNull();
  });

  it('a ditch is graded evenly between the elevations of its ends, and has the template that is typed', async () => {
    shown(STRIP);
    expect(screen.getByText(/elevations of its own between/)).toBeTruthy();
    await type('elevation where the line ends m', '47');
    expect(rows().at(-1)).toMatchObject({ id: 'ditch', course: [{ z: 49 }, { z: 48 }, { z: 47 }] });
    await type(/^template:/, '-1 0; 0 -0.2; 1 0');
    expect(rows().at(-1)).toMatchObject({ template: [{ offset: -1, height: 0 }, { offset: 0, height: -0.2 }, { offset: 1, height: 0 }] }); // prettier-ignore
    const before = rows().length;
    await type(/^template:/, '1 0; -1 0');
    expect(rows()).toHaveLength(before);
    expect(screen.getByText(/not farther to the right/)).toBeTruthy();
  });

  it('of several parts are laid one after the other, moved and deleted; what has a level is balanced', async () => {
    shown(STRIP, { id: 'soil', on: true, kind: 'offset', surface: 'ground', ring: null, by: -0.2 });
    expect(screen.getAllByRole('button', { name: 'Balance' })).toHaveLength(2);
    await userEvent.click(screen.getByRole('button', { name: 'earlier: part 3' }));
    expect(written(page).at(-1)).toMatchObject({ op: 'surface.row', row: { id: 'soil' }, at: 1 });
    await userEvent.click(screen.getByRole('button', { name: 'delete part 2' }));
    expect(written(page).at(-1)).toMatchObject({ op: 'surface.rowRemove', surface: 'pad', id: 'ditch' });
    await type('offset, up is positive m', '-0.35');
    expect(rows().at(-1)).toMatchObject({ kind: 'offset', by: -0.35 });
  });

  it('is added to along a line that is drawn, a metre below the ground at its ends', async () => {
    shown();
    await userEvent.selectOptions(screen.getByLabelText('propose further ground'), 'strip');
    const places = [{ x: 5, y: 5 }, { x: 35, y: 5 }, { x: 35, y: 25 }]; // prettier-ignore
    await act(async () => useProject.getState().traced!.course!.finish(places as never));
    expect(rows().at(-1)).toMatchObject({ kind: 'strip', surface: 'ground', course: [{ z: 49 }, { z: 49 }, { z: 49 }] }); // prettier-ignore
    await userEvent.selectOptions(screen.getByLabelText('propose further ground'), 'strip');
    await act(async () => useProject.getState().traced!.course!.finish([{ x: 5, y: 5 }, { x: 900, y: 5 }] as never)); // prettier-ignore
    expect(page.tell).toHaveBeenCalledWith(expect.stringContaining('not on the ground'));
  });

  it('says why a part cannot be made', () => {
    shown({
      ...STRIP,
      course: [
        { x: 900, y: 0, z: 0 },
        { x: 950, y: 0, z: 0 },
      ],
    });
    expect(screen.getByText('There is no ground under the strip.')).toBeTruthy();
  });
});

describe('an even gradient', () => {
  it('is by the length along the line, with both ends as typed', () => {
    const graded = evenlyGraded([{ x: 0, y: 0 }, { x: 30, y: 0 }, { x: 30, y: 10 }], 10, 12); // prettier-ignore
    expect(graded.map((p) => p.z)).toEqual([10, expect.closeTo(11.5, 12), 12]);
  });
});
