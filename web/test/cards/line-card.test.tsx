// @vitest-environment jsdom
import { act, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { placeVertex } from '#core/linework';
import type { Change, HandLine, ProjectDocument } from '#core/project';
import { LineCard } from '../../src/cards/line-card.tsx';
import { useProject } from '../../src/project-state/store.ts';
import { draw } from '../drawn.tsx';
import { opened, written } from '../opened.ts';
import { projectOf, tablesOf } from '../tables.ts';

// KT1 goes 10 m east and 10 m north; KT2 stands beside it.
const given = projectOf({
  points: [['1', 0, 0, 50, 'KT1 BEG'], ['2', 10, 0, 51, 'KT1'], ['3', 10, 10, 52, 'KT1 END'], ['4', 30, 0, 50, 'KT2 BEG'], ['5', 30, 10, 50, 'KT2 END']], // prettier-ignore
});
let page: ReturnType<typeof opened>;
function card(name = 'KT1', part: Partial<ProjectDocument> = {}, role: 'surveyor' | 'viewer' = 'surveyor'): void {
  const doc = { ...given.doc, ...part };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) }, { role });
  draw(<LineCard name={name} side={{ right: '12px' }} />);
}
const click = (name: string) => userEvent.click(screen.getByRole('button', { name }));
const points = () => within(screen.getByRole('list', { name: 'points of the line' })).getAllByRole('listitem').map((li) => li.textContent.replace(/[\u2009\u00a0]/g, ' ')); // prettier-ignore
/** The hand lines that the last proposal would set. */
const hands = (): Record<string, HandLine | null> => {
  const change: Change = page.propose.mock.calls.at(-1)![1];
  return change.op === 'lines.hand' ? change.set : {};
};
const course = (key = 'KT1') => hands()[key]!.vertices.map((v) => v.point ?? [v.x, v.y]);
/** Points at a place of the drawing, as the hand does. */
const pointAt = (x: number, y: number, row = -1): void =>
  act(() => {
    const { traced } = useProject.getState();
    useProject.setState({ traced: null });
    traced!.course!.finish([{ x, y, row, by: row < 0 ? 'free' : 'point' }]);
  });

describe('the card of a line', () => {
  it('says its length, its layer, and each point with its chainage and why it is in it', async () => {
    card();
    expect(screen.getByLabelText('selected line').textContent).toContain('20.00');
    expect(points()).toHaveLength(3);
    expect(points()[1]).toMatch(/^2.*10\.00/);
    await userEvent.click(screen.getByRole('button', { name: '2' }));
    expect(useProject.getState().selection).toEqual({ kind: 'point', row: 1 });
  });

  it('takes it out of the ground and back', async () => {
    card();
    await click('Exclude it from the ground');
    expect(written(page)).toEqual([{ op: 'line.ground', key: 'KT1', used: false }]);
  });

  it('is read by a viewer', () => {
    card('KT1', {}, 'viewer');
    expect(points()).toHaveLength(3);
    expect(screen.queryByRole('button', { name: 'Reverse' })).toBeNull();
  });

  it('offers no edits of a line on a locked layer, and says that it is locked', () => {
    const layer = given.doc.codeList.codes.find((c) => c.code === 'KT')!.layer;
    card('KT1', { drawing: { ...given.doc.drawing, layers: { [layer]: { locked: true } } } });
    expect(screen.getByText(`${layer}, locked`)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Reverse' })).toBeNull();
  });
});

describe('a line by hand', () => {
  it('is reversed and closed', async () => {
    card();
    await click('Reverse');
    expect(course()).toEqual(['day:3', 'day:2', 'day:1']);
    await click('Close');
    expect(hands()).toMatchObject({ KT1: { closed: true, replaces: { key: 'KT1' } } });
  });

  it('gets the point that is pointed at, in its place between two', async () => {
    card();
    await click('Add a point');
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Reverse' }).disabled).toBe(true);
    pointAt(5, 0.4);
    expect(course()).toEqual(['day:1', [5, 0.4], 'day:2', 'day:3']);
  });

  it('loses the vertex that is nearest to the hand', async () => {
    card();
    await click('Remove a point');
    pointAt(9.6, 0.3);
    expect(course()).toEqual(['day:1', 'day:3']);
  });

  it('is split in two that share the point', async () => {
    card();
    await click('Split');
    pointAt(10, 0.2);
    expect(Object.entries(hands()).map(([key, hand]) => [key, hand!.vertices.map((v) => v.point)])).toEqual([
      ['KT1', ['day:1', 'day:2']],
      ['KT1~1', ['day:2', 'day:3']],
    ]);
  });

  it('goes on over points that are clicked', async () => {
    card();
    await click('Continue');
    const end = useProject.getState().traced!.places[0];
    expect(end).toMatchObject({ x: 10, y: 10, row: 2 });
    act(() => useProject.getState().traced!.course!.finish([end, { x: 30, y: 10, row: 4, by: 'point' }]));
    expect(course()).toEqual(['day:1', 'day:2', 'day:3', 'day:5']);
  });

  it('is joined to another, which goes', async () => {
    card();
    await click('Join');
    pointAt(30, 5);
    expect(hands().KT2).toMatchObject({ vertices: [] });
    expect(course()).toHaveLength(5);
  });

  it('gets a rounded corner of a radius that is typed in the project’s unit', async () => {
    card('KT1', { settings: { ...given.doc.settings, unit: 'ft' } });
    await click('Round a corner');
    await userEvent.type(screen.getByLabelText('radius ft'), '10{Enter}');
    pointAt(10, 0);
    const { vertices } = hands().KT1!;
    expect(vertices).toHaveLength(4);
    // The tangents of a right angle are as long as the radius.
    expect(vertices[1]).toMatchObject({ x: expect.closeTo(10 - 3.048, 9) as number, y: 0 });
  });

  it('does not round by what cannot be read or does not fit, and says so', async () => {
    card();
    await click('Round a corner');
    await userEvent.type(screen.getByLabelText('radius m'), 'small{Enter}');
    await userEvent.clear(screen.getByLabelText('radius m'));
    await userEvent.type(screen.getByLabelText('radius m'), '40{Enter}');
    pointAt(10, 0);
    expect(page.tell.mock.calls.map(([said]) => said!.length > 10)).toEqual([true, true]);
    expect(page.propose).not.toHaveBeenCalled();
  });

  it('has a line beside it, to the right and higher', async () => {
    card();
    await click('Offset line');
    await userEvent.type(screen.getByLabelText('to the right m'), '2');
    await userEvent.type(screen.getByLabelText('higher m'), '0,12{Enter}');
    const [, beside] = Object.entries(hands())[0];
    // Right of eastwards is south; right of northwards is east: the corner goes to 12, −2.
    expect(beside!.vertices.map((v) => [v.x, v.y, v.z])).toEqual([
      [expect.closeTo(0, 9), expect.closeTo(-2, 9), expect.closeTo(50.12, 9)],
      [expect.closeTo(12, 9), expect.closeTo(-2, 9), expect.closeTo(51.12, 9)],
      [expect.closeTo(12, 9), expect.closeTo(10, 9), expect.closeTo(52.12, 9)],
    ]);
  });

  it('gets another code', async () => {
    card();
    await click('Change code');
    await userEvent.selectOptions(screen.getByLabelText('other code'), 'RG');
    expect(hands()).toMatchObject({ KT1: { code: 'RG' } });
  });

  it('goes back to its codes where it was drawn otherwise', async () => {
    const hand = { code: 'KT', lineNumber: '1', closed: false, vertices: [placeVertex(0, 0, 50), placeVertex(50, 0, 50)], replaces: { key: 'KT1', course: '' } } as unknown as HandLine; // prettier-ignore
    card('KT1', { handLines: { KT1: hand } });
    expect(screen.getByText('by hand; drawn so now')).toBeTruthy();
    await click('Redraw from its codes');
    expect(hands()).toEqual({ KT1: null });
  });
});
