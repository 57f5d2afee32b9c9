import { Box, Flex } from '@chakra-ui/react';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import type { Comparison } from '#core/project';
import { ZONE_ROUNDING, type DepthSlice, type ZoneVolume } from '#core/quantities';
import { Act, Aside, Num } from '../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { TypedLength } from '../../frame/typed-length.tsx';
import { TypedNumber } from '../../frame/typed-number.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import type { ComparisonFigures } from './comparison-figures.ts';
import { NameField } from './name-field.tsx';
import { RingActs } from './ring-acts.tsx';

interface ZonesProps {
  comparison: Comparison;
  figures: ComparisonFigures;
  set: (to: Partial<Comparison>) => Promise<boolean>;
}
type Zone = NonNullable<Comparison['zones']>[number];

const FIELD = { height: '22px', px: '4px', fontSize: '12px' };

/** A comparison by zones, each with its name and factors, and by depth. */
export function Zones({ comparison, figures, set }: ZonesProps) {
  const can = useCanChange();
  const { zones = [] } = comparison;
  const add = (ring: number[], code: string | null): void =>
    void set({ zones: [...zones, { name: code ?? `Zone ${zones.length + 1}`, ring }] });
  return (
    <Box mb="10px" fontSize="13px" role="group" aria-label="zones and depths">
      {figures.zones ? <ZoneTable comparison={comparison} zones={figures.zones} set={set} /> : null}
      {can ? (
        <Flex gap="6px" align="center" wrap="wrap">
          <RingActs
            purpose={`a zone of “${comparison.name}”`}
            draw="Draw a zone"
            pick="a closed line as a zone"
            onRing={add}
            height="22px"
          />
          <SliceField comparison={comparison} set={set} />
        </Flex>
      ) : null}
      {
        figures.slices ? 'reason' in figures.slices ? <Box color="brass">{figures.slices.reason}</Box> : <SliceTable slices={figures.slices} /> : null /* prettier-ignore */
      }
    </Box>
  );
}

/** m */
const THINNEST = 0.01;
const THICKEST = 1000;

function SliceField({ comparison, set }: Pick<ZonesProps, 'comparison' | 'set'>) {
  const { unit } = useParts('state').state!.document.settings;
  return (
    <>
      by depth, slices of{' '}
      <TypedLength
        key={comparison.slice ?? 0}
        label="thickness of slices by depth"
        value={comparison.slice}
        unit={unit}
        least={THINNEST}
        most={THICKEST}
        must="A length greater than 0."
        optional
        set={(slice) => void set({ slice })}
        field={{ ...FIELD, width: '66px' }}
      />{' '}
      {UNIT_SIGN[unit]}
    </>
  );
}

function ZoneTable({
  comparison,
  zones: { zones, outside },
  set,
}: Pick<ZonesProps, 'comparison' | 'set'> & { zones: NonNullable<ComparisonFigures['zones']> }) {
  const { settings } = useParts('state').state!.document;
  const can = useCanChange();
  const { unit, areaUnit, volumeUnit } = settings;
  const kept = comparison.zones ?? [];
  const rows = zones.map((volume, i) => ({ volume, i, zone: kept[i] as Zone | undefined }));
  type Row = (typeof rows)[number];
  const put = (i: number, to: Partial<Zone>): void =>
    void set({ zones: kept.map((zone, k) => (k === i ? { ...zone, ...to } : zone)) });
  const without = (i: number): void => {
    const left = kept.filter((_, k) => k !== i);
    void set({ zones: left.length ? left : undefined });
  };
  const factor = ({ zone, i }: Row, of: 'cut' | 'fill'): React.ReactNode => {
    const now = zone?.factors ?? comparison.factors ?? { cut: 1, fill: 1 };
    return can ? (
      <TypedNumber
        key={now[of]}
        label={`factor of ${of} in ${zone?.name ?? ''}`}
        value={now[of]}
        least={0.1}
        most={10}
        set={(v) => put(i, { factors: { ...now, [of]: v } })}
        field={{ ...FIELD, width: '46px' }}
      />
    ) : (
      <Num>{now[of]}</Num>
    );
  };
  const volume = (id: string, head: string, of: (v: ZoneVolume) => number): SmallColumn<Row> => ({
    id,
    head,
    mono: true,
    by: (r) => of(r.volume),
    cell: (r) => (r.volume.area > 0 ? formatVolume(of(r.volume), settings) : ''),
  });
  const columns: SmallColumn<Row>[] = [
    {
      id: 'zone',
      head: 'zone',
      by: (r) => r.volume.name,
      cell: (r) =>
        can ? <NameField key={r.volume.name} name={r.volume.name} set={(name) => put(r.i, { name })} /> : r.volume.name,
    },
    volume('cut', `cut ${VOLUME_SIGN[volumeUnit]}`, (v) => v.cut),
    volume('fill', 'fill', (v) => v.fill),
    volume('net', 'cut − fill', (v) => v.net),
    {
      id: 'area',
      head: 'area',
      mono: true,
      by: (r) => r.volume.area,
      cell: (r) => (r.volume.area > 0 ? formatArea(r.volume.area, areaUnit, unit) : 'none'),
    },
    { id: 'loose', head: 'cut ×', title: 'what a cubic metre of cut becomes once it is loose, here', cell: (r) => factor(r, 'cut') }, // prettier-ignore
    {
      id: 'bring',
      head: 'fill ×',
      title: 'how much a cubic metre of fill takes, here',
      cell: (r) => factor(r, 'fill'),
    },
    ...(can
      ? [{ id: 'go', head: '', cell: (r: Row) => <Act look="quiet" height="22px" aria-label={`delete ${r.volume.name}`} onClick={() => without(r.i)}>Delete</Act> }] // prettier-ignore
      : []),
  ];
  const whole = zones.reduce((sum, z) => sum + z.area, outside.area);
  return (
    <Box mb="6px">
      <SmallTable
        label="volumes by zone"
        columns={columns}
        rows={rows}
        rowKey={(r) => String(r.i)}
        cellStyle={{ px: '5px', fontSize: '13px' }}
      />
      {outside.area > ZONE_ROUNDING * whole ? (
        <Aside display="block" mt="4px">
          In no zone: cut <Num>{formatVolume(outside.cut, settings)}</Num>, fill{' '}
          <Num>{formatVolume(outside.fill, settings)}</Num> {VOLUME_SIGN[volumeUnit]} on{' '}
          {formatArea(outside.area, areaUnit, unit)}.
        </Aside>
      ) : null}
      {outside.area < -ZONE_ROUNDING * whole ? (
        <Box color="brass" mt="4px">
          Zones lie over each other, by {formatArea(-outside.area, areaUnit, unit)} at least: they do not add up.
        </Box>
      ) : null}
    </Box>
  );
}

function SliceTable({ slices }: { slices: readonly DepthSlice[] }) {
  const { settings } = useParts('state').state!.document;
  const { unit, areaUnit, volumeUnit } = settings;
  const cell = (id: string, head: string, of: (s: DepthSlice) => string): SmallColumn<DepthSlice> => ({ id, head, mono: true, cell: of }); // prettier-ignore
  const columns: SmallColumn<DepthSlice>[] = [
    cell('depth', `depth ${UNIT_SIGN[unit]}`, (s) => `${formatLength(s.from, unit, 2)} to ${formatLength(s.to, unit, 2)}`), // prettier-ignore
    cell('cut', `cut ${VOLUME_SIGN[volumeUnit]}`, (s) => formatVolume(s.cut, settings)),
    cell('cut area', 'on', (s) => formatArea(s.cutArea, areaUnit, unit)),
    cell('fill', `fill ${VOLUME_SIGN[volumeUnit]}`, (s) => formatVolume(s.fill, settings)),
    cell('fill area', 'on', (s) => formatArea(s.fillArea, areaUnit, unit)),
  ];
  return (
    <Box mt="6px">
      <SmallTable
        label="volumes by depth"
        columns={columns}
        rows={slices}
        rowKey={(s) => String(s.from)}
        cellStyle={{ px: '5px', fontSize: '13px' }}
      />
    </Box>
  );
}
