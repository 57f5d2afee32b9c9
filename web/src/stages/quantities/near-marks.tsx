import { chakra } from '@chakra-ui/react';
import { formatLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import type { NearSection } from '#core/quantities';
import { useParts } from '../../project-state/store.ts';

/** px; names nearer to each other would lie over each other. */
const APART = 12;
const LONGEST = 16;

interface NearMarksProps {
  near: readonly NearSection[];
  /** Where an offset and an elevation, m, lie on the chart. */
  x: (offset: number) => number;
  y: (z: number) => number;
  /** m; what has no elevation stands there. */
  low: number;
}

/** Points near a section as crosses, lines through it as rings, with their names where there is room. */
export function NearMarks({ near, x, y, low }: NearMarksProps) {
  const { unit } = useParts('state').state!.document.settings;
  const named = roomFor(near.map((o) => x(o.offset)));
  return near.map(({ kind, name, offset, z, ahead }, i) => {
    const [px, py] = [x(offset), y(z ?? low)];
    return (
      <g key={`${kind} ${i}`} aria-label={name}>
        <title>{titleOf({ kind, name, z, ahead }, unit)}</title>
        {kind === 'point' ? (
          <chakra.path d={`M${px - 3} ${py}h6M${px} ${py - 3}v6`} stroke="ink" strokeWidth="1" />
        ) : (
          <chakra.circle cx={px} cy={py} r="3" fill="none" stroke="pine" strokeWidth="1.4" />
        )}
        {named[i] ? (
          <g transform={`translate(${px + 3} ${py - 6}) rotate(-90)`}>
            <chakra.text fontSize="9px" fill="ink">
              {name.slice(0, LONGEST)}
            </chakra.text>
          </g>
        ) : null}
      </g>
    );
  });
}

/** Which of places from left to right have room for a name. */
function roomFor(places: readonly number[]): boolean[] {
  let last = -Infinity;
  return places.map((at) => {
    if (at - last < APART) return false;
    last = at;
    return true;
  });
}

function titleOf(
  { kind, name, z, ahead }: Pick<NearSection, 'kind' | 'name' | 'z' | 'ahead'>,
  unit: LengthUnit,
): string {
  if (kind === 'line') return z === null ? `${name}, without an elevation` : name;
  return `${name}, ${formatLength(Math.abs(ahead), unit, 2)} ${UNIT_SIGN[unit]} ${ahead < 0 ? 'before' : 'beyond'} the section`;
}
