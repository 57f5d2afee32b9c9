import { Box, chakra, Flex } from '@chakra-ui/react';
import type { Ref } from 'react';
import { formatFixed, fromMetres, UNIT_SIGN } from '#core/measure';
import { Num } from '../frame/controls.tsx';
import { HereMark } from '../frame/here-mark.tsx';
import { useProject } from '../project-state/store.ts';

/** Where the drawing says what the hand does, and how to go on: in the middle of its lower edge. */
export const AT_BOTTOM = {
  position: 'absolute',
  left: '50%',
  bottom: '14px',
  transform: 'translateX(-50%)',
  bg: 'leaf',
  border: '1px solid',
  borderColor: 'pine',
  borderRadius: '4px',
  px: '12px',
  zIndex: '6',
  width: 'max-content',
  maxWidth: 'calc(100% - 20px)',
} as const;

export const NorthMark = () => (
  <chakra.svg
    position="absolute"
    left="18px"
    bottom="18px"
    width="24px"
    height="52px"
    viewBox="0 0 24 52"
    color="ink"
    pointerEvents="none"
    role="img"
    aria-label="north is up"
  >
    <text x="12" y="11" textAnchor="middle" fontSize="12" fontWeight="700" fill="currentColor">
      N
    </text>
    <path d="M12 51V17M5 28l7-12 7 12" fill="none" stroke="currentColor" strokeWidth="1.6" />
  </chakra.svg>
);

/** A bar of a round length, in alternating bands. */
export function ScaleBar({ metresPerPixel, unit }: { metresPerPixel: number; unit: 'm' | 'ft' | 'usft' }) {
  const perPixel = fromMetres(metresPerPixel, unit);
  const power = 10 ** Math.floor(Math.log10(perPixel * 110));
  const length =
    [1, 2, 5, 10]
      .map((k) => k * power)
      .filter((l) => l / perPixel <= 130)
      .at(-1) ?? power;
  const width = length / perPixel;
  return (
    <Flex align="center" gap="8px" flexShrink="0" role="img" aria-label={`scale: ${length} ${UNIT_SIGN[unit]}`}>
      <chakra.svg width={`${width}px`} height="8px" color="ink">
        <rect x="0.5" y="0.5" width={width - 1} height="7" fill="none" stroke="currentColor" />
        <rect x="0" y="0" width={width / 4} height="8" fill="currentColor" />
        <rect x={width / 2} y="0" width={width / 4} height="8" fill="currentColor" />
      </chakra.svg>
      <Num color="slate">
        {formatFixed(length, length < 1 ? 2 : 0)} {UNIT_SIGN[unit]}
      </Num>
    </Flex>
  );
}

/** Where on the drawing others are looking; placed by the sheet whenever it draws. */
export function OthersHere({ ref }: { ref: Ref<HTMLDivElement> }) {
  const others = useProject((p) => p.others);
  return (
    <Box ref={ref} position="absolute" inset="0" overflow="hidden" pointerEvents="none">
      {Object.values(others).map((o) => (
        <Flex
          key={o.account}
          data-account={o.account}
          style={{ display: 'none' }}
          position="absolute"
          align="center"
          gap="4px"
          aria-label={`${o.name} is looking here`}
        >
          <HereMark name={o.name} />
          <Box bg="leaf" color="plum" fontSize="12px" px="4px" borderRadius="3px">
            {o.name}
          </Box>
        </Flex>
      ))}
    </Box>
  );
}
