// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { UNDER, type Underlay } from '#core/exchange';
import { SheetBar } from '../../src/sheet/sheet-bar.tsx';
import { draw } from '../drawn.tsx';
import { opened } from '../opened.ts';
import { projectOf } from '../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 1]] });
const UNDERLAY: Underlay = { x: Float64Array.of(0), y: Float64Array.of(0), z: Float64Array.of(NaN), starts: Uint32Array.of(0, 1), kinds: Uint8Array.of(UNDER.point), names: ['TREE'] }; // prettier-ignore
const drawnSaid = (project: typeof given): string => {
  opened(project);
  draw(<SheetBar stage="ground" spatial={false} scale={0.1} unit="m" reading="" held={null} ellipseTimes={0} />);
  return screen.getByRole('button', { name: /^drawn:/ }).textContent;
};

describe('what is said to be drawn', () => {
  it('names no underlay where there is none', () => {
    expect(drawnSaid(given)).toBe('drawn: lines · triangles · contours …');
  });

  it('names the underlay where a file has one', () => {
    expect(drawnSaid({ ...given, tables: { ...given.tables, underlays: new Map([['day', UNDERLAY]]) } })).toBe('drawn: lines · underlay · triangles …'); // prettier-ignore
  });
});
