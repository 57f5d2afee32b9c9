// @vitest-environment jsdom
import { describe, expect, it } from 'vitest';
import { sidesOf } from '../../src/sheet/sides.ts';
import { drawSelection, NO_MARKS, type Shown } from '../../src/sheet/selection-marks.ts';

globalThis.matchMedia ??= (query) => ({ matches: false, media: query }) as MediaQueryList;

/** A canvas that tells what was drawn on it. */
function canvasTelling(): { canvas: HTMLCanvasElement; drawn: string[] } {
  const drawn: string[] = [];
  const tell =
    (name: string) =>
    (...at: number[]): void =>
      void drawn.push([name, ...at.map((v) => Math.round(v * 10) / 10)].join(' '));
  const context = Object.fromEntries(['setTransform', 'clearRect', 'beginPath', 'moveTo', 'lineTo', 'stroke', 'arc', 'save', 'restore', 'rect', 'clip', 'translate'].map((n) => [n, ['moveTo', 'lineTo', 'arc', 'clearRect', 'translate'].includes(n) ? tell(n) : () => {}])); // prettier-ignore
  const canvas = document.createElement('canvas');
  Object.assign(canvas, { width: 100, height: 50, getContext: () => context });
  return { canvas, drawn };
}
/** North up, a pixel a metre, the origin below on the left; what lies lower than zero is behind. */
const shown: Shown = {
  origin: { x: 0, y: 0, z: 10 },
  meanElevation: 5,
  sides: [{ left: 0, width: 100 }],
  toScreen: ({ x, y, z }) => ({ x, y: 50 - y, behind: z < 0 }),
};

describe('what is selected', () => {
  it('is ringed where it stands and drawn along its course', () => {
    const { canvas, drawn } = canvasTelling();
    drawSelection(canvas, shown, { courses: [{ places: [1, 2, 0, 3, 4, 0, 5, 6, 0], ink: 'pole', width: 3 }], rings: [20, 30] }); // prettier-ignore
    expect(drawn).toEqual([
      'clearRect 0 0 100 50',
      'translate 0 0',
      'moveTo 1 48',
      'lineTo 3 46',
      'lineTo 5 44',
      'arc 20 20 7.5 0 6.3',
    ]);
  });

  it('is broken where a course passes behind who looks at it', () => {
    const { canvas, drawn } = canvasTelling();
    drawSelection(canvas, shown, { courses: [{ places: [1, 2, 0, 3, 4, -1, 5, 6, 0, 7, 8, 0], ink: 'pine', width: 1 }], rings: [] }); // prettier-ignore
    expect(drawn.slice(2)).toEqual(['moveTo 1 48', 'moveTo 5 44', 'lineTo 7 42']);
  });

  it('is drawn on both sides of a drawing that is parted', () => {
    const { canvas, drawn } = canvasTelling();
    const sides = sidesOf(100, true);
    drawSelection(canvas, { ...shown, sides }, { courses: [], rings: [20, 30] });
    expect(drawn.filter((d) => !d.startsWith('clear'))).toEqual(['translate 0 0', 'arc 20 20 7.5 0 6.3', 'translate 51 0', 'arc 20 20 7.5 0 6.3']); // prettier-ignore
  });

  it('goes without a trace', () => {
    const { canvas, drawn } = canvasTelling();
    drawSelection(canvas, shown, NO_MARKS);
    expect(drawn).toEqual(['clearRect 0 0 100 50', 'translate 0 0']);
  });
});
