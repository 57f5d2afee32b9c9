import { Box } from '@chakra-ui/react';
import type { Footprints } from '#core/exchange';

const SHOWN = 3;

/** What became of lines that are taken as footprints: how many close, what names them, and where the others end. */
export function FootprintsSaid({
  footprints: { closed, inside, around, unnamed, open, openCount },
  unit,
}: {
  footprints: Footprints;
  /** The sign of the drawing's unit. */
  unit: string;
}) {
  const named = [
    inside && `${inside} named by the text inside`,
    around && `${around} by the text of the lot around`,
    unnamed && `${unnamed} without a name`,
  ].filter(Boolean);
  const places = open.slice(0, SHOWN).map(({ x, y }) => `E ${x.toFixed(2)} N ${y.toFixed(2)}`);
  return (
    <Box mb="6px" role="status" fontSize="13px">
      {closed} {closed === 1 ? 'footprint' : 'footprints'}
      {named.length ? `: ${named.join(', ')}` : ''}.{inside + around ? ' Corners are numbered after the name.' : ''}
      {openCount ? (
        <Box color="brass">
          {openCount === 1 ? '1 line does not close and stays' : `${openCount} lines do not close and stay`} open,
          ending at {places.join('; ')}
          {openCount > SHOWN ? '; …' : ''} {unit}.
        </Box>
      ) : null}
    </Box>
  );
}
