import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { formatArea, formatChainage, formatLength, UNIT_SIGN } from '#core/measure';
import type { KeptHandVolume } from '#core/project';
import type { HandCell, HandVolume, SectionsByHand } from '#core/quantities';
import { Act, Aside, Leaf, Num } from '../../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../../frame/small-table.tsx';
import { formatVolume, VOLUME_SIGN } from '../../../frame/volume-text.ts';
import { Changing } from '../../../project-state/changing.tsx';
import { useParts } from '../../../project-state/store.ts';
import { HandForm, KIND } from './hand-form.tsx';
import { SectionChart } from './section-chart.tsx';

interface HandDetailProps {
  volume: KeptHandVolume;
  worked: HandVolume;
  onClose: () => void;
}

/** A volume by hand as a surveyor writes it: section by section or cell by cell, with the sums. */
export function HandDetail({ volume, worked, onClose }: HandDetailProps) {
  const { make } = useParts('make');
  const [editing, setEditing] = useState(false);
  if (editing) return <HandForm volume={volume} onClose={() => setEditing(false)} />;
  const remove = async (): Promise<void> => {
    if (await make({ op: 'volume.hand', id: volume.id, volume: null })) onClose();
  };
  return (
    <Leaf mt="12px" p="12px">
      <Box fontWeight="600">{volume.name}</Box>
      <Box color="slate" fontSize="13px" mb="8px">
        by {KIND[volume.kind].name}
        {volume.kind === 'corners' ? <CellsOf volume={volume} /> : null}
      </Box>
      {!worked.ok ? (
        <Box color="brass">{worked.reason}</Box>
      ) : worked.sections ? (
        <Sections of={worked.sections} />
      ) : (
        <Cells cells={worked.cells} leftOut={worked.leftOut} level={volume.level} />
      )}
      <Changing>
        <Flex gap="8px" mt="10px">
          <Act onClick={() => setEditing(true)}>Change the table</Act>
          <Act onClick={() => void remove()}>Delete</Act>
        </Flex>
      </Changing>
    </Leaf>
  );
}

function CellsOf({ volume: { cell, level } }: Pick<HandDetailProps, 'volume'>) {
  const { unit } = useParts('state').state!.document.settings;
  const text = (m: number): string => `${formatLength(m, unit, 3)} ${UNIT_SIGN[unit]}`;
  return <>{`, cells of ${text(cell)}, down to ${text(level)}`}</>;
}

const CELL_STYLE = { px: '5px', fontSize: '13px' };

function Sections({ of: { sections, between, averageEndArea, prismoidal, said, drawings } }: { of: SectionsByHand }) {
  const { settings } = useParts('state').state!.document;
  const { unit, areaUnit, volumeUnit } = settings;
  let [cut, fill] = [0, 0];
  const rows = sections.map((section, i) => {
    const before = i > 0 ? between[i - 1] : null;
    cut += before?.cut ?? 0;
    fill += before?.fill ?? 0;
    return { section, before, cut, fill };
  });
  type Row = (typeof rows)[number];
  const area = (m2: number): string => formatArea(m2, areaUnit, unit);
  const of = (id: string, head: string, text: (r: Row) => string): SmallColumn<Row> => ({ id, head, mono: true, cell: text }); // prettier-ignore
  const columns: SmallColumn<Row>[] = [
    of('chainage', `chainage ${UNIT_SIGN[unit]}`, (r) =>
      formatChainage(r.section.chainage, unit, settings.chainage, 2),
    ),
    of('length', 'length', (r) => (r.before ? formatLength(r.before.to - r.before.from, unit, 2) : '')),
    of('cut area', 'cut area', (r) => area(r.section.cut)),
    of('fill area', 'fill area', (r) => area(r.section.fill)),
    of('cut', `cut ${VOLUME_SIGN[volumeUnit]}`, (r) => (r.before ? formatVolume(r.before.cut, settings) : '')),
    of('fill', 'fill', (r) => (r.before ? formatVolume(r.before.fill, settings) : '')),
    of('sum', 'sum of cut', (r) => formatVolume(r.cut, settings)),
    of('sum fill', 'sum of fill', (r) => formatVolume(r.fill, settings)),
  ];
  const line = (name: string, v: { cut: number; fill: number }) => (
    <Aside display="block">
      {name}: cut <Num>{formatVolume(v.cut, settings)}</Num>, fill <Num>{formatVolume(v.fill, settings)}</Num>, cut −
      fill <Num>{formatVolume(v.cut - v.fill, settings)}</Num> {VOLUME_SIGN[volumeUnit]}.
    </Aside>
  );
  return (
    <>
      {drawings.length ? <SectionChart drawings={drawings} /> : null}
      <SmallTable
        label="section by section"
        columns={columns}
        rows={rows}
        rowKey={(r) => String(r.section.chainage)}
        cellStyle={CELL_STYLE}
        most={200}
      />
      <Box mt="6px">
        {line('Average end area, V = L (A1 + A2) / 2', averageEndArea)}
        {prismoidal ? line('Prismoidal, V = L (A1 + 4 Am + A2) / 6', prismoidal) : null}
        {said.map((s) => (
          <Aside key={s} display="block" color="brass">
            {s}
          </Aside>
        ))}
      </Box>
    </>
  );
}

function Cells({ cells, leftOut, level }: { cells: HandCell[]; leftOut: number; level: number }) {
  const { settings } = useParts('state').state!.document;
  const { unit, volumeUnit } = settings;
  const depth = (m: number): string => formatLength(m, unit, 2);
  const columns: SmallColumn<HandCell>[] = [
    { id: 'cell', head: 'cell', mono: true, by: (c) => c.row * 1e6 + c.column, cell: (c) => `${c.row}, ${c.column}` },
    ...(['NW', 'NE', 'SE', 'SW'] as const).map((name, k): SmallColumn<HandCell> => ({ id: name, head: name, mono: true, cell: (c) => depth(c.depths[k]) })), // prettier-ignore
    { id: 'mean', head: `mean ${UNIT_SIGN[unit]}`, mono: true, by: (c) => c.mean, cell: (c) => depth(c.mean) },
    { id: 'cut', head: `cut ${VOLUME_SIGN[volumeUnit]}`, mono: true, by: (c) => c.cut, cell: (c) => formatVolume(c.cut, settings) }, // prettier-ignore
    { id: 'fill', head: 'fill', mono: true, by: (c) => c.fill, cell: (c) => formatVolume(c.fill, settings) },
  ];
  return (
    <>
      <SmallTable
        label="cell by cell"
        columns={columns}
        rows={cells}
        rowKey={(c) => `${c.row} ${c.column}`}
        cellStyle={CELL_STYLE}
        most={200}
      />
      <Aside display="block" mt="6px">
        Corners are heights above <Num>{formatLength(level, unit, 3)}</Num>; cells are counted from the north-west, row
        first. V = mean of four corners × area of the cell.
        {leftOut
          ? ` ${leftOut} ${leftOut === 1 ? 'cell lacks' : 'cells lack'} a corner and ${leftOut === 1 ? 'is' : 'are'} left out.`
          : ''}
      </Aside>
    </>
  );
}
