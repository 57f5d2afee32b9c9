import { Box } from '@chakra-ui/react';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Num } from '../../frame/controls.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useParts } from '../../project-state/store.ts';
import type { LiveChange } from '../../work/live-edit.ts';
import { AT_BOTTOM } from '../furniture.tsx';
import type { Place } from '../place.ts';

/** What the hand has moved so far, in figures. */
export function DragReading({
  by,
  change,
  otherwise,
}: {
  by: (Partial<Place> & Pick<Place, 'z'>) | null;
  change: LiveChange | null;
  otherwise: string;
}) {
  const { state } = useParts('state');
  if (!state || (!by && !change)) return null;
  const { settings } = state.document;
  const { unit } = settings;
  const signed = (m: number): string => `${m < 0 ? '−' : '+'}${formatLength(Math.abs(m), unit)}`;
  const plan = by?.x !== undefined && by.y !== undefined ? [`E ${signed(by.x)}`, `N ${signed(by.y)}`] : [];
  if (settings.order === 'NE') plan.reverse();
  const volume = (v: number): string => {
    const size = formatVolume(Math.abs(v), settings);
    const sign = /[1-9]/.test(size) ? (v < 0 ? '−' : '+') : '';
    return `${sign}${size} ${VOLUME_SIGN[settings.volumeUnit]}`;
  };
  return (
    <Box role="status" {...AT_BOTTOM} py="6px" fontSize="13px" pointerEvents="none">
      {by ? <Num>{`${[...plan, `elevation ${signed(by.z)}`].join('  ')} ${UNIT_SIGN[unit]}`}</Num> : null}
      {change ? (
        <Box color="slate">
          {`under the surface ${volume(change.volume)}`}
          {change.compared
            .filter((c) => Math.abs(c.cut) > 1e-6 || Math.abs(c.fill) > 1e-6)
            .map((c) => (
              <Box key={c.name}>{`${c.name}: cut ${volume(c.cut)}, fill ${volume(c.fill)}`}</Box>
            ))}
        </Box>
      ) : (
        <Box color="slate">{otherwise}</Box>
      )}
    </Box>
  );
}
