import { Box, Flex } from '@chakra-ui/react';
import type { DrawingTable, FilePart } from '#core/exchange';
import { Aside, Pick } from '../frame/controls.tsx';

const SHOWN = 3;

/** Contours that are drawn without an elevation: where theirs is written, how many have one then, and what is unclear. */
export function ContourElevations({
  contours: { without, given, unclear, from },
  written,
  onChange,
}: {
  contours: NonNullable<DrawingTable['contours']>;
  written: FilePart['written'];
  onChange: (written: FilePart['written']) => void;
}) {
  const left = without - given;
  return (
    <Box mb="6px">
      <Flex gap="8px" align="center" wrap="wrap">
        {without} of the contours {without === 1 ? 'has' : 'have'} no elevation. It is written
        <Pick
          aria-label="where elevations of contours are written"
          value={written ?? ''}
          onChange={(e) => onChange((e.target.value || undefined) as FilePart['written'])}
        >
          <option value="">nowhere: they stay without</option>
          <option value="texts">in texts on them or beside them ({from.texts})</option>
          <option value="layers">in the names of their layers ({from.layers})</option>
        </Pick>
      </Flex>
      {written ? (
        <Box role="status" fontSize="13px" mt="2px">
          {given} {given === 1 ? 'has' : 'have'} one now; {left} {left === 1 ? 'stays' : 'stay'} without.{' '}
          {unclear.length ? (
            <>
              Two elevations are written beside {unclear.length} of them:{' '}
              {unclear
                .slice(0, SHOWN)
                .map(({ elevations }) => elevations.join(' and '))
                .join('; ')}
              {unclear.length > SHOWN ? '; …' : ''}.
            </>
          ) : null}
        </Box>
      ) : (
        <Aside>without elevations they do not make ground</Aside>
      )}
    </Box>
  );
}
