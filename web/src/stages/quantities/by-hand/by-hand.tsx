import { Box } from '@chakra-ui/react';
import { useMemo } from 'react';
import type { KeptHandVolume } from '#core/project';
import { workByHand, type HandVolume } from '#core/quantities';
import { Leaf, Num } from '../../../frame/controls.tsx';
import { RowName, SmallTable, type SmallColumn } from '../../../frame/small-table.tsx';
import { formatVolume, VOLUME_SIGN } from '../../../frame/volume-text.ts';
import { useParts } from '../../../project-state/store.ts';
import { HandDetail } from './hand-detail.tsx';
import { HandForm } from './hand-form.tsx';

/** Stands for a volume that is not there yet. */
export const NEW_BY_HAND = '*new';

interface ByHandProps {
  /** The volume that is looked at, by its id; null for none. */
  open: string | null;
  onOpen: (id: string | null) => void;
}

/** Volumes worked out by hand, from areas, section drawings or corner heights: without a surface. */
export function ByHand({ open, onOpen }: ByHandProps) {
  const { state } = useParts('state');
  const { handVolumes, settings } = state!.document;
  const worked = useMemo(() => new Map(handVolumes.map((v) => [v.id, workByHand(v)])), [handVolumes]);
  const shown = handVolumes.find((v) => v.id === open);
  const volume = (
    id: string,
    head: string,
    of: (v: Extract<HandVolume, { ok: true }>) => number,
  ): SmallColumn<KeptHandVolume> => ({
    // prettier-ignore
    id,
    head,
    by: (v) => {
      const w = worked.get(v.id);
      return w?.ok ? of(w) : undefined;
    },
    cell: (v) => {
      const w = worked.get(v.id);
      return w?.ok ? <Num>{formatVolume(of(w), settings)}</Num> : null;
    },
  });
  const cut = volume('cut', `Cut ${VOLUME_SIGN[settings.volumeUnit]}`, (w) => w.cut);
  const columns: SmallColumn<KeptHandVolume>[] = [
    { id: 'name', head: 'By hand', by: (v) => v.name, style: { maxWidth: '190px' }, cell: (v) => <RowName on={v.id === open}>{v.name}</RowName> }, // prettier-ignore
    {
      ...cut,
      // Why there are no figures stands in their place.
      spans: (v) => (worked.get(v.id)?.ok ? 1 : 3),
      style: (v) => (worked.get(v.id)?.ok ? {} : { color: 'brass', textAlign: 'left' }),
      cell: (v) => {
        const w = worked.get(v.id);
        return w && !w.ok ? w.reason : cut.cell(v);
      },
    },
    volume('fill', 'Fill', (w) => w.fill),
    volume('net', 'Cut − fill', (w) => w.cut - w.fill),
  ];
  return (
    <>
      {handVolumes.length ? (
        <Leaf overflowX="auto" mt="12px">
          <SmallTable
            label="volumes by hand"
            columns={columns}
            rows={handVolumes}
            rowKey={(v) => v.id}
            onRow={(v) => onOpen(v.id)}
            rowStyle={(v) => ({ bg: v.id === open ? 'mark' : undefined })}
          />
        </Leaf>
      ) : null}
      {open === NEW_BY_HAND ? <HandForm onClose={onOpen} /> : null}
      {shown ? (
        <Box key={shown.id}>
          <HandDetail volume={shown} worked={worked.get(shown.id)!} onClose={() => onOpen(null)} />
        </Box>
      ) : null}
    </>
  );
}
