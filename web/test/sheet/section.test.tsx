// @vitest-environment jsdom
import { fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { useProject } from '../../src/project-state/store.ts';
import { SectionPanel, readAt } from '../../src/sheet/section/section-panel.tsx';
import { besideCourse, lengthOf, movedCourse, placeAlong, underHand, useSection } from '../../src/sheet/section/section-store.ts'; // prettier-ignore
import { draw } from '../drawn.tsx';
import { projectOf } from '../tables.ts';

const metres = fc.integer({ min: -5000, max: 5000 }).map((mm) => mm / 100);
const course = fc.array(fc.tuple(metres, metres), { minLength: 2, maxLength: 6 }).map((p) => p.flat());

describe('the line of a section', () => {
  it('has its corners at the lengths up to them', () => {
    fc.assert(
      fc.property(course, (line) => {
        for (let k = 1; k < line.length / 2; k++) {
          const at = placeAlong(line, lengthOf(line.slice(0, 2 * k + 2)));
          expect(at.x).toBeCloseTo(line[2 * k], 6);
          expect(at.y).toBeCloseTo(line[2 * k + 1], 6);
        }
      }),
    );
  });

  it('keeps its length where it is moved as a whole, and all other corners where one is', () => {
    fc.assert(
      fc.property(course, metres, metres, (line, dx, dy) => {
        expect(lengthOf(movedCourse(line, null, dx, dy))).toBeCloseTo(lengthOf(line), 6);
        const one = movedCourse(line, 1, dx, dy);
        expect(one.filter((_, i) => i >> 1 !== 1)).toEqual(line.filter((_, i) => i >> 1 !== 1));
        expect([one[2], one[3]]).toEqual([line[2] + dx, line[3] + dy]);
      }),
    );
  });

  it('moves to the right of its direction by so much', () => {
    expect(besideCourse([0, 0, 0, 10], 2)).toEqual([2, 0, 2, 10].map((v) => expect.closeTo(v, 9)));
    expect(besideCourse([0, 0, 10, 0], -2)).toEqual([0, 2, 10, 2].map((v) => expect.closeTo(v, 9)));
  });

  it('is taken at the nearest corner, else as a whole, else not at all', () => {
    const corners = [{ x: 0, y: 0 }, { x: 100, y: 0 }, { x: 100, y: 50 }]; // prettier-ignore
    expect(underHand(corners, 97, 4, 9)).toBe(1);
    expect(underHand(corners, 50, 6, 9)).toBeNull();
    expect(underHand(corners, 50, 30, 9)).toBeUndefined();
  });
});

it('tells elevation and gradient at a chainage, and nothing between two runs', () => {
  const runs = [{ at: [0, 10], z: [5, 6] }, { at: [20, 30, 40], z: [8, 8, 4] }]; // prettier-ignore
  expect(readAt(runs, 5)).toEqual({ z: 5.5, gradient: 0.1 });
  expect(readAt(runs, 35)).toEqual({ z: 6, gradient: -0.4 });
  expect(readAt(runs, 15)).toBeNull();
});

describe('the panel of the section', () => {
  beforeEach(() => {
    const { doc, tables } = projectOf({
      points: [
        ['1', 100, 100, 10],
        ['2', 120, 100, 10],
        ['3', 120, 120, 14],
        ['4', 100, 120, 14],
      ],
    });
    useProject.setState({ id: 'p', state: { document: doc, project: { id: 'p', role: 'surveyor' } } as never, tables });
    useSection.setState({ courses: { p: [110, 90, 110, 130] }, at: null });
  });

  it('cuts the surface that is drawn, and reads it under the cursor', () => {
    draw(<SectionPanel shown={['ground']} />);
    expect(screen.getByText('40.00 m')).toBeTruthy();
    const chart = screen.getByRole('img', { name: /section of/ });
    expect(chart.querySelectorAll('path[d*="L"]')).toHaveLength(1);
    // jsdom measures nothing: the chart is as wide as it is until it is measured, its middle at chainage 20.
    fireEvent(chart, new MouseEvent('pointermove', { bubbles: true, clientX: (58 + 600 - 14) / 2, clientY: 50 }));
    expect(screen.getByText(/at 20\.00 m elev 12\.00 \(\+20\.0 %\)/)).toBeTruthy();
    fireEvent.pointerLeave(chart);
    expect(screen.queryByText(/at 20/)).toBeNull();
  });

  it('moves its line by a key, says where it crosses nothing, and closes', async () => {
    draw(<SectionPanel shown={['ground']} />);
    await userEvent.click(screen.getByRole('button', { name: 'move the section line 1 m to the right' }));
    expect(useSection.getState().courses.p).toEqual([111, 90, 111, 130]);
    await userEvent.click(screen.getByRole('button', { name: 'Close' }));
    expect(useSection.getState().courses).toEqual({});
  });

  it('off every surface says so', () => {
    useSection.setState({ courses: { p: [0, 0, 10, 0] } });
    draw(<SectionPanel shown={['ground']} />);
    expect(screen.getByText('The line crosses no surface that is drawn.')).toBeTruthy();
  });
});
