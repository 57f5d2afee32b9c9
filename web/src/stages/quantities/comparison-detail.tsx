import { Box, Flex } from '@chakra-ui/react';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import { isHeap, proposedIn, type Comparison } from '#core/project';
import type { Deepest } from '#core/quantities';
import { Act, Aside, Leaf, Num } from '../../frame/controls.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { Changing } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';
import { Adjustments } from './adjustments.tsx';
import { EarlierVolumes } from './earlier-volumes.tsx';
import { HeapBases } from './heap-bases.tsx';
import { HowSure } from './how-sure.tsx';
import { MadeFromPart } from './made-from.tsx';
import { Materials } from './materials.tsx';
import { MethodsTable } from './methods-table.tsx';
import { seriesOf } from './over-time/new-series.ts';
import { ProposedRows } from './proposed/proposed-rows.tsx';
import { KeepZeroLine } from './keep-zero-line.tsx';
import { ReportActs } from './report-acts.tsx';
import { RingActs } from './ring-acts.tsx';
import { Sections } from './sections.tsx';
import { TheirNumber } from './their-number.tsx';
import { WeightyPoints } from './weighty-points.tsx';
import { Zones } from './zones.tsx';

/** m²; less is what rounding leaves. */
const LEAST_AREA = 0.005;
/** m; less is no depth. */
const LEAST_DEPTH = 0.005;

interface ComparisonDetailProps {
  comparison: Comparison;
  about: string;
  /** Called with the id of a series that was made of it. */
  onSeries: (id: string) => void;
}

/** The comparison that is chosen: its areas and depths, a heap's bases, what every method makes of it, how sure it is. */
export function ComparisonDetail({ comparison, about, onSeries }: ComparisonDetailProps) {
  const { state, tables, make } = useParts('state', 'tables', 'make');
  const { settings } = state!.document;
  const { unit, volumeUnit, areaUnit } = settings;
  const r = tables!.summary.comparisons.find((c) => c.id === comparison.id);
  const other = volumeUnit === 'm3' ? 'yd3' : 'm3';
  const set = (to: Partial<Comparison>): Promise<boolean> =>
    make({ op: 'comparison.set', comparison: { ...comparison, ...to } });
  const follow = async (): Promise<void> => {
    const series = seriesOf(state!.document, comparison, new Date().toISOString().slice(0, 10));
    if (await make({ op: 'series.set', id: series.id, series })) onSeries(series.id);
  };
  const depth = (of: Deepest | null): string | null => (of && of.depth >= LEAST_DEPTH ? formatLength(of.depth, unit, 2) : null); // prettier-ignore
  const mean = (volume: number, area: number): string | null => (area > LEAST_AREA && volume / area >= LEAST_DEPTH ? formatLength(volume / area, unit, 2) : null); // prettier-ignore
  const { factors } = comparison;
  const ofHeap = isHeap(comparison);
  const proposed = proposedIn(state!.document, comparison);
  const ring = ofHeap ? 'the toe' : 'a boundary';
  return (
    <Leaf mt="12px" p="12px">
      <Box fontWeight="600">{comparison.name}</Box>
      <Box color="slate" fontSize="13px" mb="8px">
        {about}; revision {tables!.revision}
      </Box>
      {proposed ? <ProposedRows surface={proposed.surface} rows={proposed.rows} /> : null}
      {r?.ok ? (
        <>
          <Flex gap="10px" mb="10px" wrap="wrap">
            {(
              [
                ['area of cut', formatArea(r.cutArea, areaUnit, unit)],
                ['area of fill', formatArea(r.fillArea, areaUnit, unit)],
                ['whole area', formatArea(r.area, areaUnit, unit)],
                ['cut as it lies', formatArea(r.slope.cut, areaUnit, unit)],
                ['fill as it lies', formatArea(r.slope.fill, areaUnit, unit)],
                [`mean cut ${UNIT_SIGN[unit]}`, mean(r.cut, r.cutArea)],
                [`mean fill ${UNIT_SIGN[unit]}`, mean(r.fill, r.fillArea)],
                [`deepest cut ${UNIT_SIGN[unit]}`, depth(r.deepest.cut)],
                [`deepest fill ${UNIT_SIGN[unit]}`, depth(r.deepest.fill)],
                ['area of neither', r.neither > LEAST_AREA ? formatArea(r.neither, areaUnit, unit) : null],
                [`topsoil ${VOLUME_SIGN[volumeUnit]}`, r.stripped && formatVolume(r.stripped, settings)],
                [`cut, loose ${VOLUME_SIGN[volumeUnit]}`, factors && formatVolume(r.cut * factors.cut, settings)],
                [`fill, to bring ${VOLUME_SIGN[volumeUnit]}`, factors && formatVolume(r.fill * factors.fill, settings)],
                [`cut ${VOLUME_SIGN[other]}`, formatVolume(r.cut, settings, other)],
                [`fill ${VOLUME_SIGN[other]}`, formatVolume(r.fill, settings, other)],
              ] as const
            ).map(([name, value]) =>
              value === null || value === undefined ? null : (
                <Box key={name} borderTop="1px solid" borderColor="ink" pt="4px" flex="1" minWidth="88px">
                  <Aside display="block" fontSize="12px" whiteSpace="nowrap">
                    {name}
                  </Aside>
                  <Num whiteSpace="nowrap">{value}</Num>
                </Box>
              ),
            )}
          </Flex>
          {r.heap ? (
            <HeapBases key={JSON.stringify(comparison.against)} comparison={comparison} heap={r.heap} set={set} />
          ) : null}
          <MethodsTable comparison={comparison} figures={r} set={set} />
          <Zones comparison={comparison} figures={r} set={set} />
          <Materials comparison={comparison} figures={r} set={set} />
          <Adjustments comparison={comparison} set={set} />
          {r.cells ? (
            <Aside display="block" mb="8px">
              Its figures are exact; it is drawn in cells of {formatLength(r.cells, unit, 1)} {UNIT_SIGN[unit]}, since
              its pieces are too many to keep. Sections, the zero line and what it is made from need a smaller boundary.
            </Aside>
          ) : (
            <Sections key={`sections ${comparison.id}`} comparison={comparison} figures={r} />
          )}
          <EarlierVolumes key={comparison.id} comparison={comparison} />
          <TheirNumber comparison={comparison} figures={r} set={set} />
          {r.cells ? null : <MadeFromPart key={`made ${comparison.id}`} comparison={comparison} />}
          <WeightyPoints points={r.weighty} />
          <HowSure comparison={comparison} figures={r} set={set} />
        </>
      ) : null}
      {r?.ok ? <ReportActs comparison={comparison} /> : null}
      <Changing>
        <Flex gap="8px" wrap="wrap">
          <RingActs
            purpose={`${ofHeap ? 'the toe' : 'the boundary'} of “${comparison.name}”`}
            draw={comparison.within ? `Draw ${ofHeap ? 'the toe' : 'its boundary'} again` : `Draw ${ring}`}
            pick={`a closed line as ${ring}`}
            onRing={(within) => void set({ within })}
          />
          {comparison.within ? (
            <Act onClick={() => void set({ within: null })}>{ofHeap ? 'Find the toe' : 'Without boundary'}</Act>
          ) : null}
          <Act onClick={() => void follow()} title="measured again and again: dates, differences, a forecast">
            Over time …
          </Act>
          {ofHeap || !r?.ok || r.cells ? null : <KeepZeroLine comparison={comparison} />}
          <Act onClick={() => void make({ op: 'comparison.remove', id: comparison.id })}>Delete</Act>
        </Flex>
      </Changing>
    </Leaf>
  );
}
