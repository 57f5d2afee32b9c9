import type { Line } from '#core/linework';
import { checkContours, type ContourFault } from '#core/terrain';
import type { SurfaceAccount } from './account.ts';

/** A line that comes in as a contour: the row of the recipe that names its code, and the elevation it has here, m. */
export interface ContourLine {
  row: string;
  line: Line;
  elevation: number;
}

/** So many are told one by one. */
const MOST = 500;

/** What is wrong with the contours of a surface among themselves. */
export function faultsOfContours(list: readonly ContourLine[]): SurfaceAccount['contourFaults'] {
  if (list.length === 0) return [];
  const { faults } = checkContours(list.map(({ line: { x, y, closed }, elevation }) => ({ x, y, closed, elevation })));
  return faults.slice(0, MOST).map((f) => {
    const { row, line, elevation } = list[f.contour];
    return {
      kind: f.kind,
      row,
      key: line.key,
      elevation,
      x: f.x,
      y: f.y,
      others: othersOf(f).map((k) => ({ key: list[k].line.key, elevation: list[k].elevation })),
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

const endOf = ({ x, y }: Line, end: 'first' | 'last'): [number, number] => {
  const at = end === 'first' ? 0 : x.length - 1;
  return [x[at], y[at]];
};
