// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { act } from 'react';
import { beforeEach, describe, expect, it } from 'vitest';
import { type Comparison } from '#core/project';
import { useProject } from '../../../src/project-state/store.ts';
import { Quantities } from '../../../src/stages/quantities/quantities.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

// A ramp of 20 m from 49 to 51 m: against 50 m half is cut and half fill, 100 m³ each. A fence closes round its east half.
const given = projectOf({ points: [['1', 0, 0, 49], ['2', 20, 0, 51], ['3', 0, 20, 49], ['4', 20, 20, 51]] }); // prettier-ignore
const RAMP: Comparison = { id: 'c', name: 'To 50', surface: 'ground', against: { level: 50 }, within: null };
const EAST = [10, 0, 20, 0, 20, 20, 10, 20];
const WEST = [0, 0, 10, 0, 10, 20, 0, 20];
const CODE = given.doc.codeList.codes.find((c) => c.kind === 'line')!.code;
const vertex = (x: number, y: number) => ({ point: null, x, y, z: null, bulge: 0, side: 0 });
const corners = (ring: number[]) => [0, 2, 4, 6].map((i) => vertex(ring[i], ring[i + 1]));

let page: ReturnType<typeof opened>;
function shown(comparison: Comparison, more = {}): void {
  const line = { code: CODE, lineNumber: '', closed: true, vertices: corners(EAST), replaces: null };
  const doc = { ...given.doc, comparisons: [comparison], handLines: { [`${CODE}~1`]: line } };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) }, more);
  draw(<Quantities />);
}
const thin = (text: string | null): string => (text ?? '').replace(/[\u2009\u00a0]/g, ' ');
const rows = (table: string): string[] => within(screen.getByRole('table', { name: table })).getAllByRole('row').slice(1).map((r) => thin(r.textContent)); // prettier-ignore

describe('zones of a comparison', () => {
  beforeEach(() => localStorage.clear());

  it('are drawn, or taken from a closed line by its code, and stand with what lies in them', async () => {
    shown(RAMP);
    await userEvent.click(screen.getByRole('button', { name: 'Draw a zone' }));
    act(() => useProject.getState().traced!.finish(WEST));
    await userEvent.selectOptions(screen.getByLabelText('a closed line as a zone'), `${CODE}~1`);
    expect(written(page)).toEqual([
      { op: 'comparison.set', comparison: { ...RAMP, zones: [{ name: 'Zone 1', ring: WEST }] } },
      { op: 'comparison.set', comparison: { ...RAMP, zones: [{ name: CODE, ring: EAST }] } },
    ]);
  });

  it('say what lies in none, and are named, given factors and deleted one by one', async () => {
    shown({ ...RAMP, zones: [{ name: 'Rock', ring: EAST }], factors: { cut: 1.3, fill: 1.1 } });
    const table = screen.getByRole('table', { name: 'volumes by zone' });
    expect(thin(table.querySelectorAll('tr')[1].textContent)).toMatch(/100\.00\.0100\.0200\.0 m²/);
    expect(thin(screen.getByText(/^In no zone:/).textContent)).toBe('In no zone: cut 0.0, fill 100.0 m³ on 200.0 m².');
    const name = screen.getByLabelText('name of Rock');
    await userEvent.clear(name);
    await userEvent.type(name, 'Clay');
    const factor = screen.getByLabelText('factor of cut in Rock');
    expect((factor as HTMLInputElement).value).toBe('1.3');
    await userEvent.clear(factor);
    await userEvent.type(factor, '1,6');
    await userEvent.click(screen.getByRole('button', { name: 'delete Rock' }));
    const zones = written(page).map((c) => (c.op === 'comparison.set' ? c.comparison.zones : 'none'));
    expect(zones).toEqual([
      [{ name: 'Clay', ring: EAST }],
      [{ name: 'Rock', ring: EAST, factors: { cut: 1.6, fill: 1.1 } }],
      undefined,
    ]);
  });

  it('over each other say that they do not add up', () => {
    const zone = { name: 'A', ring: EAST };
    shown({ ...RAMP, zones: [zone, { name: 'B', ring: WEST }, { ...zone, name: 'C' }] });
    expect(thin(screen.getByText(/^Zones lie over each other/).textContent)).toContain('by 200.0 m² at least');
  });

  it('are read by whoever may only read', () => {
    shown({ ...RAMP, zones: [{ name: 'Rock', ring: EAST }] }, { role: 'viewer' });
    expect(rows('volumes by zone')).toHaveLength(1);
    expect(screen.queryByLabelText('name of Rock')).toBeNull();
    expect(screen.queryByRole('button', { name: 'Draw a zone' })).toBeNull();
  });
});

describe('depths of a comparison', () => {
  it('stand in slices of the thickness that is typed', async () => {
    shown({ ...RAMP, slice: 0.5 });
    // Deeper than 0.5 m: a wedge of 5 × 0.5 × 20 / 2.
    expect(rows('volumes by depth')).toEqual([
      '0.00 to 0.5075.0200.0 m²75.0200.0 m²',
      '0.50 to 1.0025.0100.0 m²25.0100.0 m²',
    ]);
    const field = screen.getByLabelText('thickness of slices by depth m');
    await userEvent.clear(field);
    await userEvent.tab();
    expect(written(page)).toEqual([{ op: 'comparison.set', comparison: { ...RAMP, slice: undefined } }]);
  });

  it('too many say so', () => {
    shown({ ...RAMP, slice: 0.001 });
    expect(screen.getByText(/more than 500 slices/)).toBeTruthy();
  });
});

describe('the boundary and the zero line', () => {
  it('the boundary is a closed line of the project', async () => {
    shown(RAMP);
    await userEvent.selectOptions(screen.getByLabelText('a closed line as a boundary'), `${CODE}~1`);
    expect(written(page)).toEqual([{ op: 'comparison.set', comparison: { ...RAMP, within: EAST } }]);
  });

  it('the line between cut and fill is kept with the elevations of the ground', async () => {
    shown(RAMP);
    const pieces = new Map([['c', Float64Array.of(0, 0, 1, 20, 0, -1, 20, 20, -1, 0, 0, 1, 20, 20, -1, 0, 20, 1)]]);
    act(() => useProject.setState({ tables: { ...useProject.getState().tables!, pieces } }));
    await userEvent.selectOptions(screen.getByLabelText('code of the zero line'), CODE);
    await userEvent.click(screen.getByRole('button', { name: 'Keep the zero line' }));
    const [, change] = page.propose.mock.calls[0];
    const set = change.op === 'lines.hand' ? change.set : {};
    expect(Object.keys(set)).toEqual([`${CODE}~2`]);
    const { closed, vertices } = set[`${CODE}~2`]!;
    expect(closed).toBe(false);
    expect(vertices.map((v) => v.x)).toEqual([10, 10, 10]);
    for (const v of vertices) expect(v.z).toBeCloseTo(50, 9);
  });

  it('where all is cut there is none to keep', async () => {
    shown({ ...RAMP, against: { level: 40 } });
    await userEvent.click(screen.getByRole('button', { name: 'Keep the zero line' }));
    expect(page.tell).toHaveBeenCalledWith(expect.stringMatching(/all of it lies on one side/));
  });

  it('sections stand square across a line that is drawn, and run north again', async () => {
    shown({ ...RAMP, along: [0, 0, 20, 20] });
    await userEvent.click(screen.getByRole('button', { name: 'Run them north' }));
    await userEvent.click(screen.getByRole('button', { name: 'Draw the line again' }));
    const { course } = useProject.getState().traced!;
    act(() => course!.finish([{ x: 0, y: 5, by: 'free' }, { x: 20, y: 5, by: 'free' }] as Parameters<NonNullable<typeof course>['finish']>[0])); // prettier-ignore
    expect(written(page).map((c) => (c.op === 'comparison.set' ? c.comparison.along : null))).toEqual([undefined, [0, 5, 20, 5]]); // prettier-ignore
  });
});
