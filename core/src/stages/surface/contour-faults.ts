import { checkContours, type ContourFault } from '#core/terrain';
import type { SurfaceAccount } from './account.ts';

/** A contour that comes in: the row of the recipe that brings it, its course, and the elevation it has here, m. */
export interface ContourLine {
  row: string;
  key: string;
  line: { x: ArrayLike<number>; y: ArrayLike<number>; closed: boolean };
  elevation: number;
}

/** So many are told one by one. */
const MOST = 500;

/** What is wrong with the contours of a surface among themselves. `traced`: m by which one that is traced twice differs from itself. */
export function faultsOfContours(list: readonly ContourLine[], traced: number): SurfaceAccount['contourFaults'] {
  if (list.length === 0) return [];
  const { faults } = checkContours(
    list.map(({ line: { x, y, closed }, elevation }) => ({ x, y, closed, elevation })),
    traced || undefined,
  );
  return faults.slice(0, MOST).map((f) => {
    const { row, key, line, elevation } = list[f.contour];
    return {
      kind: f.kind,
      row,
      key,
      elevation,
      x: f.x,
      y: f.y,
      others: othersOf(f).map((k) => ({ key: list[k].key, elevation: list[k].elevation })),
      fits: f.kind === 'elevation' ? f.fits : null,
      bridge: f.kind === 'gap' ? [...endOf(line, f.end), ...endOf(list[f.other].line, f.otherEnd)] : [],
    };
  });
}

function othersOf(f: ContourFault): readonly number[] {
  switch (f.kind) {
    case 'double':
    case 'gap':
      return [f.other];
    case 'closing-side':
      return f.cuts;
    case 'cross':
      return f.others;
    case 'elevation':
      return f.neighbours;
    case 'open':
      return [];
  }
}

const endOf = ({ x, y }: ContourLine['line'], end: 'first' | 'last'): [number, number] => {
  const at = end === 'first' ? 0 : x.length - 1;
  return [x[at], y[at]];
};
