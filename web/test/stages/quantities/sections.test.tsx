// @vitest-environment jsdom
import { fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Comparison } from '#core/project';
import { useProject } from '../../../src/project-state/store.ts';
import type { ComparisonFigures } from '../../../src/stages/quantities/comparison-figures.ts';
import { Sections } from '../../../src/stages/quantities/sections.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

// Ground that rises 1 in 10 to the north, 20 m square, compared with a level through its middle.
const given = projectOf({ points: [['1', 0, 0, 49], ['2', 20, 0, 49], ['3', 20, 20, 51], ['4', 0, 20, 51]] }); // prettier-ignore
const DOWN: Comparison = { id: 'c', name: 'Down', surface: 'ground', against: { level: 50 }, within: null, along: [0, 10, 20, 10] }; // prettier-ignore

function shown(comparison: Comparison): void {
  const [ground] = given.doc.surfaces;
  const doc = { ...given.doc, comparisons: [comparison], surfaces: [ground, { ...ground, id: 'was', name: 'Earlier', role: 'other' as const }] }; // prettier-ignore
  const tables = tablesOf(doc, given.readOf);
  // Level − ground over the square: two triangles.
  const pieces = new Map([['c', Float64Array.of(0, 0, 1, 20, 0, 1, 20, 20, -1, 0, 0, 1, 20, 20, -1, 0, 20, -1)]]);
  opened({ doc, tables: { ...tables, pieces } });
  const figures = tables.summary.comparisons.find((c) => c.id === 'c') as ComparisonFigures;
  draw(<Sections comparison={comparison} figures={figures} />);
}
const thin = (text: string | null): string => (text ?? '').replaceAll('\u2009', ' ');

describe('sections of a comparison', () => {
  beforeEach(() => shown(DOWN));
  afterEach(() => useProject.setState({ sketch: null }));
  const open = () => userEvent.click(screen.getByRole('button', { name: 'Sections …' }));
  const type = async (label: string, text: string): Promise<void> => {
    await userEvent.clear(screen.getByLabelText(label));
    await userEvent.type(screen.getByLabelText(label), `${text}{Tab}`);
  };

  it('stand one at a time on a chart, and where they do on the drawing', async () => {
    await open();
    await type('distance between sections m', '5');
    expect(screen.getByText('section 1 of 5')).toBeTruthy();
    // 10 m of a triangle 1 m high at its end, to either side.
    expect(thin(screen.getByText(/^cut/).textContent)).toBe('cut 5.0 m², fill 5.0 m²');
    await userEvent.click(screen.getByRole('button', { name: 'next section' }));
    expect(screen.getByText('section 2 of 5')).toBeTruthy();
    const [line, across] = useProject.getState().sketch!.courses!;
    expect(line).toEqual([0, 10, 20, 10]);
    expect(across).toEqual([5, 20, 5, 0].map((v) => expect.closeTo(v, 9)));
    await userEvent.click(screen.getByRole('button', { name: 'section before' }));
    await userEvent.click(screen.getByRole('button', { name: 'section before' }));
    expect(screen.getByText('section 5 of 5')).toBeTruthy();
  });

  it('reach as far as is typed, and count what is compared alone', async () => {
    await open();
    await type('reach to the right m', '2');
    expect(thin(screen.getByText(/^cut/).textContent)).toBe('cut 5.0 m², fill 0.2 m²');
    await type('distance between sections m', '0.01');
    expect(screen.queryByText(/more than 2000/) ?? screen.getByText(/section 1 of/)).toBeTruthy();
  });

  it('have a cursor that walks on the drawing too', async () => {
    await open();
    const chart = screen.getByRole('img', { name: /section through Ground and level/ });
    chart.getBoundingClientRect = () => ({ left: 0, width: 510 }) as DOMRect;
    // The middle of the chart is the line itself.
    fireEvent(chart, new MouseEvent('pointermove', { bubbles: true, clientX: 52 + (510 - 64) / 2 }));
    expect(screen.getByText(/^offset/).textContent).toMatch(/offset 0\.00, Ground 50\.00, level 50\.00/);
    expect(Array.from(useProject.getState().sketch!.places)).toEqual([0, 10].map((v) => expect.closeTo(v, 6)));
    fireEvent.pointerLeave(chart);
  });

  it('leave the drawing when they are hidden', async () => {
    await open();
    expect(useProject.getState().sketch).not.toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Hide the sections' }));
    expect(useProject.getState().sketch).toBeNull();
  });

  it('show the points near them, and go through one more surface, in their files too', async () => {
    await open();
    await type('how near points are that are shown m', '0.5');
    const chart = screen.getByRole('img', { name: /section through/ });
    expect(chart.querySelectorAll('title')).toHaveLength(2);
    expect(chart.querySelector('title')!.textContent).toBe('4, 0.00 m beyond the section');
    await userEvent.selectOptions(screen.getByLabelText('one more surface in the sections'), 'Earlier');
    expect(screen.getByRole('img', { name: 'section through Ground and level and Earlier' })).toBeTruthy();
    expect(screen.getByText(/Earlier dotted/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'without Earlier' }));
    expect(screen.queryByRole('img', { name: /Earlier/ })).toBeNull();
  });
});
