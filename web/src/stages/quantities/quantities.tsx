import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import type { Comparison } from '#core/project';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Leaf, Num } from '../../frame/controls.tsx';
import { RowName, SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { Changing } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { NewComparison } from './new-comparison.tsx';
import { Empty, Ledger } from '../../frame/ledger.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';

/** Comparisons between the ground and a level or a design: cut and fill apart. */
export function Quantities() {
  const { state, tables, selection, select } = useParts('state', 'tables', 'selection', 'select');
  const [adding, setAdding] = useState(false);
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
  const { unit, volumeUnit } = doc.settings;
  const results = new Map(tables.summary.comparisons.map((c) => [c.id, c]));
  const current = selection?.kind === 'comparison' ? selection.id : doc.comparisons[0]?.id;
  const shown = doc.comparisons.find((c) => c.id === current);
  const go = (c: Comparison): void => select({ kind: 'comparison', id: c.id });
  const nameOf = (id: string): string => doc.surfaces.find((s) => s.id === id)?.name ?? 'a surface that is gone';
  const about = (c: Comparison): string =>
    `${nameOf(c.surface)} to ${'level' in c.against ? `level ${formatLength(c.against.level, unit, 3)} ${UNIT_SIGN[unit]}` : `“${nameOf(c.against.surface)}”`}${c.within ? ', inside its boundary' : ''}`;
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
      about="exact, by the planes of the triangles"
      tools={
        <Changing>
          <Act look="solid" onClick={() => setAdding(true)}>
            Compare …
          </Act>
        </Changing>
      }
    >
      {adding ? <NewComparison onClose={() => setAdding(false)} /> : null}
      {doc.comparisons.length === 0 && !adding ? (
        <Empty>
          Volumes: the ground against a level, or against a design that was imported as a surface of its own. Begin with
          “Compare”.
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
      {shown ? <Detail comparison={shown} about={about(shown)} /> : null}
    </Ledger>
  );
}

function Detail({ comparison, about }: { comparison: Comparison; about: string }) {
  const { state, tables, make, trace, traced } = useParts('state', 'tables', 'make', 'trace', 'traced');
  const { settings } = state!.document;
  const { volumeUnit } = settings;
  const r = tables!.summary.comparisons.find((c) => c.id === comparison.id);
  const other = volumeUnit === 'm3' ? 'yd3' : 'm3';
  return (
    <Leaf mt="12px" p="12px">
      <Box fontWeight="600">{comparison.name}</Box>
      <Box color="slate" fontSize="13px" mb="8px">
        {about}; revision {tables!.revision}
      </Box>
      {r?.ok ? (
        <Flex gap="10px" mb="10px" wrap="wrap">
          {(
            [
              ['area of cut', formatArea(r.cutArea, settings.areaUnit, settings.unit)],
              ['area of fill', formatArea(r.fillArea, settings.areaUnit, settings.unit)],
              ['whole area', formatArea(r.area, settings.areaUnit, settings.unit)],
              [`cut ${VOLUME_SIGN[other]}`, formatVolume(r.cut, settings, other)],
              [`fill ${VOLUME_SIGN[other]}`, formatVolume(r.fill, settings, other)],
            ] as const
          ).map(([name, value]) => (
            <Box key={name} borderTop="1px solid" borderColor="ink" pt="4px" flex="1" minWidth="88px">
              <Aside display="block" fontSize="12px">
                {name}
              </Aside>
              <Num whiteSpace="nowrap">{value}</Num>
            </Box>
          ))}
        </Flex>
      ) : null}
      <Changing>
        <Flex gap="8px" wrap="wrap">
          <Act
            disabled={traced !== null}
            onClick={() =>
              trace({
                purpose: `the boundary of “${comparison.name}”`,
                places: [],
                finish: (ring) => void make({ op: 'comparison.set', comparison: { ...comparison, within: ring } }),
              })
            }
          >
            {comparison.within ? 'Draw its boundary again' : 'Draw a boundary'}
          </Act>
          {comparison.within ? (
            <Act onClick={() => void make({ op: 'comparison.set', comparison: { ...comparison, within: null } })}>
              Without boundary
            </Act>
          ) : null}
          <Act onClick={() => void make({ op: 'comparison.remove', id: comparison.id })}>Delete</Act>
        </Flex>
      </Changing>
    </Leaf>
  );
}

/** The hatch that stands for cut or fill on the drawing. */
const Hatch = ({ kind }: { kind: 'cut' | 'fill' }) => (
  <chakra.svg
    width="12px"
    height="12px"
    viewBox="0 0 12 12"
    display="inline-block"
    verticalAlign="-2px"
    mr="3px"
    color={kind}
    aria-hidden="true"
  >
    <rect x="0.5" y="0.5" width="11" height="11" fill="none" stroke="currentColor" />
    <path
      d={kind === 'cut' ? 'M0 12 12 0M-3 9 9-3M3 15 15 3' : 'M0 0l12 12M-3 3l12 12M3-3l12 12'}
      stroke="currentColor"
      strokeWidth="1.3"
    />
  </chakra.svg>
);
