import { Leaf } from '../../../frame/controls.tsx';
import { RowName, SmallTable, type SmallColumn } from '../../../frame/small-table.tsx';
import { formatVolume, VOLUME_SIGN } from '../../../frame/volume-text.ts';
import { useParts } from '../../../project-state/store.ts';
import type { Series } from '#core/project';
import { SeriesDetail } from './series-detail.tsx';

interface OverTimeProps {
  /** The series that is looked at, by its id; null for none. */
  open: string | null;
  onOpen: (id: string | null) => void;
}

/** Heaps and pits that are measured again and again. */
export function OverTime({ open, onOpen }: OverTimeProps) {
  const { state, tables } = useParts('state', 'tables');
  const { series, settings } = state!.document;
  if (series.length === 0) return null;
  const results = new Map(tables!.summary.series.map((s) => [s.id, s]));
  const last = (s: Series): string => {
    const step = results.get(s.id)?.steps.at(-1);
    return step ? formatVolume(step.above - step.below, settings) : '';
  };
  const columns: SmallColumn<Series>[] = [
    { id: 'name', head: 'Over time', by: (s) => s.name, cell: (s) => <RowName on={s.id === open}>{s.name}</RowName> },
    { id: 'dates', head: 'dates', mono: true, by: (s) => s.surfaces.length, cell: (s) => s.surfaces.length },
    { id: 'last', head: `last ${VOLUME_SIGN[settings.volumeUnit]}`, mono: true, cell: last },
  ];
  const shown = series.find((s) => s.id === open);
  return (
    <>
      <Leaf overflowX="auto" mt="12px">
        <SmallTable
          label="volumes over time"
          columns={columns}
          rows={series}
          rowKey={(s) => s.id}
          onRow={(s) => onOpen(s.id)}
          rowStyle={(s) => ({ bg: s.id === open ? 'mark' : undefined })}
        />
      </Leaf>
      {
        shown ? <SeriesDetail key={shown.id} series={shown} result={results.get(shown.id)} onClose={() => onOpen(null)} /> : null /* prettier-ignore */
      }
    </>
  );
}
