import { Box, chakra, Flex } from '@chakra-ui/react';
import { ASPECTS, TINTED_SLOPES } from '#core/drawing';
import { formatFixed, formatLength, rangeNames, UNIT_SIGN } from '#core/measure';
import type { ColourName } from '../frame/colours.ts';
import { Num } from '../frame/controls.tsx';
import { useParts } from '../project-state/store.ts';
import type { Tables } from '../project-state/tables.ts';
import { ASPECT_TINTS, ELEVATION_TINTS, SLOPE_TINTS, type GroundLook, type TintedBy } from './ground-look.ts';

interface Entry {
  ink: ColourName;
  text: string;
}

/** What each tint means; elevations from low to high in m are told in the project's unit. */
export function legendOf(
  tintedBy: TintedBy,
  lowest: number,
  highest: number,
  unit: Parameters<typeof formatLength>[1],
): { head: string; entries: Entry[] } {
  if (tintedBy === 'slope') {
    const names = rangeNames(TINTED_SLOPES, (v) => formatFixed(v * 100, 0));
    return { head: 'slope %', entries: SLOPE_TINTS.map((ink, i) => ({ ink, text: names[i] })).reverse() };
  }
  if (tintedBy === 'aspect')
    return {
      head: 'falls to',
      entries: [...ASPECT_TINTS.map((ink, i) => ({ ink, text: ASPECTS[i] })), { ink: 'leaf', text: 'level' }],
    };
  const decimals = highest - lowest < 4 ? 2 : 1;
  const at = (i: number): number => lowest + ((highest - lowest) * i) / (ELEVATION_TINTS.length - 1);
  return {
    head: `elevation ${UNIT_SIGN[unit]}`,
    entries: ELEVATION_TINTS.map((ink, i) => ({ ink, text: formatLength(at(i), unit, decimals) })).reverse(),
  };
}

/** Lowest and highest elevation of surfaces, m: one scale for all that are drawn together; null where none has a triangle. */
export function rangeOfTints(
  { surfaces }: Pick<Tables['summary'], 'surfaces'>,
  ids: readonly string[],
): { lowest: number; highest: number } | null {
  const some = surfaces.filter((s) => ids.includes(s.id) && s.triangles > 0);
  if (some.length === 0) return null;
  return { lowest: Math.min(...some.map((s) => s.lowest)), highest: Math.max(...some.map((s) => s.highest)) };
}

/** The legend of the tints of surfaces on the drawing. */
export function TintLegend({
  surfaces,
  look,
  right = '14px',
}: {
  /** All that are drawn: their tints mean the same. */
  surfaces: readonly string[];
  look: Pick<GroundLook, 'tintedBy'>;
  right?: string;
}) {
  const { state, tables } = useParts('state', 'tables');
  const range = tables ? rangeOfTints(tables.summary, surfaces) : null;
  if (!state || !range) return null;
  const { head, entries } = legendOf(look.tintedBy, range.lowest, range.highest, state.document.settings.unit);
  return (
    <Box
      role="group"
      aria-label={`legend: ${head}`}
      position="absolute"
      right={right}
      bottom="14px"
      p="5px 9px 6px"
      bg="leaf"
      border="1px solid"
      borderColor="rule"
      borderRadius="4px"
      fontSize="12px"
      pointerEvents="none"
    >
      <Box color="slate">{head}</Box>
      <chakra.ul m="0" p="0" listStyleType="none">
        {entries.map(({ ink, text }) => (
          <Flex as="li" key={ink} align="center" gap="7px" height="17px">
            <Box width="18px" height="100%" bg={ink} border="1px solid" borderColor="rule" aria-hidden="true" />
            <Num>{text}</Num>
          </Flex>
        ))}
      </chakra.ul>
    </Box>
  );
}
