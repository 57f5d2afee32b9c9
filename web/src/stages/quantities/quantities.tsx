import { useEffect, useRef, useState } from 'react';
import type { Comparison } from '#core/project';
import { Act, Leaf, Num } from '../../frame/controls.tsx';
import { RowName, SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { Changing } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { comparedText } from '#core/report';
import { ByHand, NEW_BY_HAND } from './by-hand/by-hand.tsx';
import { ComparisonDetail } from './comparison-detail.tsx';
import { Hatch } from './hatch.tsx';
import { MeasureHeap } from './measure-heap.tsx';
import { NewComparison } from './new-comparison.tsx';
import { Propose } from './proposed/propose.tsx';
import { OverTime } from './over-time/over-time.tsx';
import { Empty, Ledger } from '../../frame/ledger.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';

/** Comparisons between the ground and a level or a design: cut and fill apart. */
export function Quantities() {
  const { state, tables, selection, select } = useParts('state', 'tables', 'selection', 'select');
  const [adding, setAdding] = useState(false);
  // What stands in the place of a comparison's figures: a volume by hand, or a series.
  const [byHand, setByHand] = useState<string | null>(null);
  const [series, setSeries] = useState<string | null>(null);
  const lookAt = (at: { byHand?: string | null; series?: string | null }): void => {
    setByHand(at.byHand ?? null);
    setSeries(at.series ?? null);
  };
  // A comparison that is chosen, here or anywhere, comes into view as soon as it is computed.
  const chosen = selection?.kind === 'comparison' ? selection : null;
  const pieces = chosen ? tables?.pieces.get(chosen.id) : undefined;
  const seen = useRef<typeof chosen>(null);
  useEffect(() => {
    if (!chosen || chosen.still || !pieces?.length || seen.current === chosen) return;
    seen.current = chosen;
    sheetHandle.current?.fitTo(
      pieces.filter((_, i) => i % 3 === 0),
      pieces.filter((_, i) => i % 3 === 1),
    );
  }, [chosen, pieces]);
  if (!state || !tables)
    return (
      <Ledger name="Quantities" about="opening …">
        {null}
      </Ledger>
    );
  const doc = state.document;
  const { volumeUnit } = doc.settings;
  const results = new Map(tables.summary.comparisons.map((c) => [c.id, c]));
  const current = selection?.kind === 'comparison' ? selection.id : doc.comparisons[0]?.id;
  const shown = doc.comparisons.find((c) => c.id === current);
  const go = (c: Comparison): void => {
    lookAt({});
    select({ kind: 'comparison', id: c.id });
  };
  const volume = (
    id: string,
    head: React.ReactNode,
    of: (r: { cut: number; fill: number }) => number,
  ): SmallColumn<Comparison> => ({
    id,
    head,
    by: (c) => {
      const r = results.get(c.id);
      return r?.ok ? of(r) : undefined;
    },
    cell: (c) => {
      const r = results.get(c.id);
      return r?.ok ? <Num>{formatVolume(of(r), doc.settings)}</Num> : null;
    },
  });
  const cut = volume(
    'cut',
    <>
      <Hatch kind="cut" /> Cut {VOLUME_SIGN[volumeUnit]}
    </>,
    (r) => r.cut,
  );
  const columns: SmallColumn<Comparison>[] = [
    {
      id: 'comparison',
      head: 'Comparison',
      by: (c) => c.name,
      style: { maxWidth: '190px' },
      cell: (c) => <RowName on={c.id === current}>{c.name}</RowName>,
    },
    {
      ...cut,
      // Why there are no figures stands in their place.
      spans: (c) => (results.get(c.id)?.ok ? 1 : 3),
      style: (c) => (results.get(c.id)?.ok ? {} : { color: 'brass', textAlign: 'left' }),
      cell: (c) => {
        const r = results.get(c.id);
        return r?.ok ? cut.cell(c) : r ? r.reason : 'computing …';
      },
    },
    volume(
      'fill',
      <>
        <Hatch kind="fill" /> Fill {VOLUME_SIGN[volumeUnit]}
      </>,
      (r) => r.fill,
    ),
    volume('net', 'Cut − fill', (r) => r.cut - r.fill),
  ];
  return (
    <Ledger
      name="Quantities"
      about=""
      tools={
        <Changing>
          <MeasureHeap />
          <Propose />
          <Act title="from areas, section drawings or corner heights" onClick={() => lookAt({ byHand: NEW_BY_HAND })}>
            By hand …
          </Act>
          <Act look="solid" onClick={() => setAdding(true)}>
            Compare …
          </Act>
        </Changing>
      }
    >
      {adding ? <NewComparison onClose={() => setAdding(false)} /> : null}
      {doc.comparisons.length + doc.handVolumes.length === 0 && !adding && byHand === null ? (
        <Empty>
          Volumes: the ground against a level, or against a design that was imported as a surface of its own, and heaps
          above their base, pads, banks and ditches with batters, sections by hand. Begin with “Compare”, “Measure a
          heap” or “Propose”.
        </Empty>
      ) : null}
      {doc.comparisons.length ? (
        <Leaf overflowX="auto">
          <SmallTable
            label="comparisons"
            columns={columns}
            rows={doc.comparisons}
            rowKey={(c) => c.id}
            onRow={go}
            rowStyle={(c) => ({ bg: c.id === current ? 'mark' : undefined })}
          />
        </Leaf>
      ) : null}
      <ByHand open={byHand} onOpen={(id) => lookAt({ byHand: id })} />
      <OverTime open={series} onOpen={(id) => lookAt({ series: id })} />
      {shown && byHand === null && series === null ? (
        <ComparisonDetail
          key={shown.id}
          comparison={shown}
          about={comparedText(shown, doc)}
          onSeries={(id) => lookAt({ series: id })}
        />
      ) : null}
    </Ledger>
  );
}
