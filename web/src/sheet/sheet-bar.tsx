import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import type { Stage } from '#core/project';
import type { LengthUnit } from '#core/measure';
import { Act, Aside, Cut } from '../frame/controls.tsx';
import { ScaleBar } from './furniture.tsx';
import { GroundLookFields } from './ground-look-fields.tsx';
import { LOOK_NAME, useLook, type SheetLook } from './look.ts';
import type { Snapped } from '../project-state/snap.ts';
import { useProject } from '../project-state/store.ts';

const HELD_NAME: Record<Snapped['by'], string> = {
  point: 'a point',
  end: 'an end',
  crossing: 'a crossing',
  middle: 'a middle',
  nearest: 'the nearest point of a line',
  free: 'nothing',
};

const LOOKS: (keyof SheetLook)[] = [
  'points',
  'numbers',
  'elevations',
  'codes',
  'files',
  'lines',
  'underlay',
  'triangles',
  'contours',
  'tints',
  'arrows',
  'flow',
  'difference',
  'plotted',
];

/** Below the sheet: its scale, what is under the cursor, what is drawn and what else may be. */
export function SheetBar({
  stage,
  spatial,
  scale,
  unit,
  reading,
  held,
  ellipseTimes,
}: {
  stage: Stage;
  spatial: boolean;
  /** Metres for a pixel. */
  scale: number;
  unit: LengthUnit;
  /** What stands under the cursor. */
  reading: string;
  /** What holds the place under the hand while somebody draws. */
  held: Snapped['by'] | null;
  /** How many times as large the ellipses are drawn; 0 without any. */
  ellipseTimes: number;
}) {
  const { looks, toggle } = useLook();
  const [choosing, setChoosing] = useState(false);
  const look = looks[stage];
  const hasUnderlay = useProject((p) => (p.tables?.underlays.size ?? 0) > 0);
  // What there is none of is not named as drawn.
  const drawn = LOOKS.filter((k) => look[k] && (k !== 'underlay' || hasUnderlay));
  return (
    <Flex
      align="center"
      gap="18px"
      height="32px"
      px="14px"
      borderTop="1px solid"
      borderColor="rule"
      bg="paper"
      fontSize="13px"
      flexShrink="0"
      minWidth="0"
    >
      {spatial ? (
        <Cut color="slate">drag to rotate, right-drag to pan, wheel to zoom</Cut>
      ) : (
        <ScaleBar metresPerPixel={scale} unit={unit} />
      )}
      {spatial ? null : (
        <Cut color="slate" fontFamily="mono" fontSize="13px" flexShrink="0" maxWidth="calc(100% - 190px)">
          {reading}
        </Cut>
      )}
      {held && held !== 'free' ? <Aside whiteSpace="nowrap">snapped: {HELD_NAME[held]}</Aside> : null}
      {ellipseTimes ? (
        <Aside whiteSpace="nowrap" title={`ellipses are drawn ${ellipseTimes} times as large as they are`}>
          ellipses × {ellipseTimes}
        </Aside>
      ) : null}
      <Flex position="relative" minWidth="56px" flexShrink="4" ml="auto">
        <Act
          look="quiet"
          aria-expanded={choosing}
          display="block"
          overflow="hidden"
          textOverflow="ellipsis"
          whiteSpace="nowrap"
          minWidth="0"
          px="0"
          onClick={() => setChoosing(!choosing)}
          onKeyDown={(e) => e.key === 'Escape' && setChoosing(false)}
        >
          drawn:{' '}
          {drawn
            .map((k) => LOOK_NAME[k])
            .slice(0, 3)
            .join(' · ') || 'nothing'}
          {drawn.length > 3 ? ' …' : ''}
        </Act>
        {choosing ? (
          <Box
            position="absolute"
            right="0"
            bottom="32px"
            zIndex="20"
            bg="leaf"
            border="1px solid"
            borderColor="ink"
            borderRadius="4px"
            p="10px 14px"
            width="236px"
            maxHeight="70vh"
            overflowY="auto"
          >
            {LOOKS.map((k) => (
              <chakra.label key={k} display="flex" gap="8px" alignItems="center" height="28px">
                <input type="checkbox" checked={look[k]} onChange={() => toggle(stage, k)} /> {LOOK_NAME[k]}
              </chakra.label>
            ))}
            <GroundLookFields />
          </Box>
        ) : null}
      </Flex>
    </Flex>
  );
}
