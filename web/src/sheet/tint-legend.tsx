import { Box, chakra, Flex } from '@chakra-ui/react';
import { formatFixed, formatLength, rangeNames, UNIT_SIGN } from '#core/measure';
import type { ColourName } from '../frame/colours.ts';
import { Num } from '../frame/controls.tsx';
import { useParts } from '../project-state/store.ts';
import {
  ASPECT_TINTS,
  ASPECTS,
  ELEVATION_TINTS,
  SLOPE_STEPS,
  SLOPE_TINTS,
  useGroundLook,
  type TintedBy,
} from './ground-look.ts';
import { useSurfacesShown } from './surfaces-shown.tsx';

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
    const names = rangeNames(SLOPE_STEPS, (v) => formatFixed(v * 100, 0));
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

/** The legend of the tints on the drawing, of the first surface that is drawn. */
export function TintLegend() {
  const { state, tables } = useParts('state', 'tables');
  const view = useSurfacesShown();
  const { look } = useGroundLook();
  const measured = tables?.summary.surfaces.find((s) => s.id === view?.shown[0]);
  if (!state || !measured || measured.triangles === 0) return null;
  const { head, entries } = legendOf(look.tintedBy, measured.lowest, measured.highest, state.document.settings.unit);
  return (
    <Box
      role="group"
      aria-label={`legend: ${head}`}
      position="absolute"
      right="14px"
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
