import { Flex } from '@chakra-ui/react';
import type { GridFacts } from '#core/exchange';
import { formatFixed, UNIT_SIGN, type FileUnit } from '#core/measure';
import { Aside, Pick } from '../frame/controls.tsx';

const figure = (n: number): string => formatFixed(n, 0);

/** A grid of elevations: how large it is, and how close its nodes are taken. */
export function GridNodes({
  grid,
  unit,
  onChange,
}: {
  grid: GridFacts;
  unit: FileUnit;
  onChange: (step: number) => void;
}) {
  const { columns, rows, spacing, step, steps, taken, empty, degrees } = grid;
  const apart = (by: number): string => {
    const [a, b] = spacing.map((v) => (v * by).toFixed(degrees ? 0 : 2));
    return `${degrees ? 'about ' : ''}${a === b ? a : `${a} × ${b}`} ${degrees ? 'm' : UNIT_SIGN[unit]}`;
  };
  return (
    <Flex gap="8px" align="center" mb="10px" wrap="wrap">
      An elevation grid of {figure(columns)} × {figure(rows)} nodes. Take
      <Pick
        aria-label="nodes of the grid that are taken"
        value={step}
        onChange={(e) => onChange(Number(e.target.value))}
      >
        {steps.map((s) => (
          <option key={s} value={s}>
            {s === 1 ? 'every node' : `every ${ordinal(s)} node`}, {apart(s)} apart
          </option>
        ))}
      </Pick>
      <Aside>
        {figure(taken)} ground points without numbers,{' '}
        {degrees ? 'in degrees, elevations in metres' : 'elevations in the unit of the plan'}
        {empty ? `; ${figure(empty)} nodes have no elevation` : ''}
      </Aside>
    </Flex>
  );
}

/** 2nd, 3rd, 21st … */
function ordinal(n: number): string {
  const tens = n % 100;
  const end = tens > 10 && tens < 14 ? 'th' : (['th', 'st', 'nd', 'rd'][n % 10] ?? 'th');
  return `${n}${end}`;
}
