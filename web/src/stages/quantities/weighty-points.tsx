import { Box } from '@chakra-ui/react';
import { useState } from 'react';
import { formatLength, UNIT_SIGN } from '#core/measure';
import type { WeightyPoint } from '#core/quantities';
import { Act, Aside } from '../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useParts } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';

/** A slip that is made easily, m, and as feet have it. */
const SLIP = { m: 0.1, ft: 0.1 * 0.3048, usft: (0.1 * 1200) / 3937 };

/** The points that weigh most in a volume: what one of them wrong by a tenth would do. */
export function WeightyPoints({ points }: { points: readonly WeightyPoint[] }) {
  const { state, tables } = useParts('state', 'tables');
  const [open, setOpen] = useState(false);
  const { settings } = state!.document;
  const { unit, volumeUnit } = settings;
  if (points.length === 0) return null;
  if (!open)
    return (
      <Box mb="10px">
        <Act onClick={() => setOpen(true)}>Which points weigh most …</Act>
      </Box>
    );
  const columns: SmallColumn<WeightyPoint>[] = [
    { id: 'number', head: 'point', cell: (p) => (p.row < 0 ? 'of an arc or a boundary' : tables!.points.number.get(p.row) || 'without number') }, // prettier-ignore
    {
      id: 'elevation',
      head: `elevation ${UNIT_SIGN[unit]}`,
      mono: true,
      by: (p) => p.z,
      cell: (p) => formatLength(p.z, unit, 3),
    },
    { id: 'by', head: `0.1 ${UNIT_SIGN[unit]} too high: cut − fill ${VOLUME_SIGN[volumeUnit]}`, mono: true, by: (p) => Math.abs(p.byMetre), cell: (p) => `${p.byMetre > 0 ? '+' : ''}${formatVolume(p.byMetre * SLIP[unit], settings)}` }, // prettier-ignore
  ];
  return (
    <Box mb="12px">
      <SmallTable
        label="points that weigh most"
        columns={columns}
        rows={points}
        rowKey={(p) => `${p.x} ${p.y}`}
        onRow={(p) => sheetHandle.current?.show(p.x, p.y)}
        cellStyle={{ px: '5px', fontSize: '13px' }}
      />
      <Aside>A row shows its point on the drawing.</Aside>
    </Box>
  );
}
