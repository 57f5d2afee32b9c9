import { Box } from '@chakra-ui/react';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import type { Comparison } from '#core/project';
import { offShare, spreadOf, type MethodSizes, type MethodVolume, type VolumeMethod } from '#core/quantities';
import { Act, Aside, Num } from '../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { TypedLength } from '../../frame/typed-length.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { RefineGrid } from './refine-grid.tsx';
import type { ComparisonFigures } from './comparison-figures.ts';

/** How each method goes: words before and after its size. */
const METHODS: Record<VolumeMethod, { before: string; size?: keyof MethodSizes; after?: string }> = {
  exact: { before: 'exact, by the planes of the triangles' },
  grid: { before: 'grid cells of', size: 'cell' },
  sections: { before: 'sections every', size: 'spacing', after: 'mean of their ends' },
  prismoidal: { before: 'the same sections, prismoidal' },
  contours: { before: 'areas inside contours every', size: 'interval' },
};

/** m; what a method can be asked for. */
const LEAST = 0.001;
const MOST = 1e5;
/** Of cut + fill; nobody asks why methods differ by less. */
const WORTH_SAYING = 0.001;

interface MethodsTableProps {
  comparison: Comparison;
  figures: ComparisonFigures;
  set: (to: Partial<Comparison>) => Promise<boolean>;
}

/** What every method makes of a comparison, the spread between them, and why they differ. */
export function MethodsTable({ comparison, figures, set }: MethodsTableProps) {
  const { state } = useParts('state');
  const can = useCanChange();
  const { settings } = state!.document;
  const { unit, volumeUnit } = settings;
  const { byHand, cut, fill } = figures;
  if (!byHand.ok) return <Box color="brass" mb="8px">{byHand.reason}</Box>; // prettier-ignore
  const { sizes, methods } = byHand;
  const whole = cut + fill;
  const off = (m: MethodVolume): number => offShare(m, figures);
  const size = (of: keyof MethodSizes, label: string) =>
    can ? (
      <TypedLength
        key={sizes[of]}
        label={label}
        value={sizes[of]}
        unit={unit}
        least={LEAST}
        most={MOST}
        must="A length greater than 0."
        set={(metres) => void set({ methods: { ...comparison.methods, [of]: metres } })}
        field={{ width: '66px', height: '22px', px: '4px', fontSize: '12px' }}
      />
    ) : (
      <Num>{formatLength(sizes[of], unit, 2)}</Num>
    );
  const volume = (id: string, head: string, of: (m: MethodVolume) => number): SmallColumn<MethodVolume> => ({
    id,
    head,
    mono: true,
    by: of,
    cell: (m) => formatVolume(of(m), settings),
  });
  const columns: SmallColumn<MethodVolume>[] = [
    {
      id: 'method',
      head: 'method',
      cell: ({ method }) => {
        const { before, size: of, after } = METHODS[method];
        return (
          <Box display="flex" gap="4px" alignItems="center" whiteSpace="nowrap">
            {before} {of ? size(of, before) : null} {of ? UNIT_SIGN[unit] : null}
            {after ? `, ${after}` : null}
          </Box>
        );
      },
    },
    volume('cut', `cut ${VOLUME_SIGN[volumeUnit]}`, (m) => m.cut),
    volume('fill', 'fill', (m) => m.fill),
    volume('net', 'cut − fill', (m) => m.cut - m.fill),
    {
      id: 'off',
      head: 'off %',
      title: 'cut and fill, each against the exact one, of cut + fill',
      mono: true,
      by: off,
      cell: (m) => (m.method === 'exact' ? '' : (100 * off(m)).toFixed(2)),
    },
  ];
  const spread = spreadOf(methods);
  return (
    <Box mb="12px">
      <SmallTable
        label="what every method makes of it"
        columns={columns}
        rows={methods}
        rowKey={(m) => m.method}
        cellStyle={{ px: '5px', fontSize: '13px' }}
      />
      {can ? <SectionLine comparison={comparison} set={set} /> : null}
      {can ? <RefineGrid comparison={comparison} cell={sizes.cell} set={set} /> : null}
      <Aside display="block" mt="4px">
        Spread of cut − fill: <Num>{formatVolume(spread, settings)}</Num> {VOLUME_SIGN[volumeUnit]}
        {whole ? `, ${((100 * spread) / whole).toFixed(2)} % of cut + fill` : ''}.
      </Aside>
      {methods
        .filter((m) => off(m) > WORTH_SAYING)
        .map((m) => (
          <WhyOff key={m.method} of={m} sizes={sizes} whole={whole} />
        ))}
    </Box>
  );
}

/** Which way sections run: north, or square across a line that is drawn. */
function SectionLine({ comparison, set }: Pick<MethodsTableProps, 'comparison' | 'set'>) {
  const { trace, traced } = useParts('trace', 'traced');
  const draw = (): void =>
    trace({
      purpose: `the line across which sections of “${comparison.name}” stand`,
      places: [],
      finish: () => {},
      course: { most: null, free: true, finish: (places) => void set({ along: places.flatMap(({ x, y }) => [x, y]) }) },
    });
  return (
    <Box display="flex" gap="6px" alignItems="center" mt="4px" fontSize="13px">
      {comparison.along ? 'Sections stand square across a line.' : 'Sections run north, from the west side.'}
      <Act height="22px" disabled={traced !== null} onClick={draw}>
        {comparison.along ? 'Draw the line again' : 'Draw a line for them'}
      </Act>
      {comparison.along ? (
        <Act height="22px" onClick={() => void set({ along: undefined })}>
          Run them north
        </Act>
      ) : null}
    </Box>
  );
}

interface WhyOffProps {
  of: MethodVolume;
  sizes: MethodSizes;
  /** Cut + fill, m³. */
  whole: number;
}

/** Why a method is off, with the place where there is one. */
function WhyOff({ of: { worst, leftOut = 0 }, sizes, whole }: WhyOffProps) {
  const { settings } = useParts('state').state!.document;
  const { unit, areaUnit, volumeUnit } = settings;
  if (worst) {
    const off = Math.abs(worst.cut) + Math.abs(worst.fill);
    return (
      <Aside display="block">
        Sections <Num>{formatLength(sizes.spacing, unit, 2)}</Num> {UNIT_SIGN[unit]} apart{' '}
        {worst.cut + worst.fill < 0 ? 'miss' : 'add'} <Num>{formatVolume(off, settings)}</Num> {VOLUME_SIGN[volumeUnit]}{' '}
        between <Num>{formatLength(worst.from, unit, 1)}</Num> and <Num>{formatLength(worst.to, unit, 1)}</Num>, more
        than anywhere else: {((100 * off) / whole).toFixed(2)} % of cut + fill.{' '}
        <Act look="quiet" height="20px" onClick={() => sheetHandle.current?.show(worst.x, worst.y)}>
          Show it
        </Act>
      </Aside>
    );
  }
  return leftOut > 0 ? (
    <Aside display="block">
      Grid cells leave out {formatArea(leftOut, areaUnit, unit)} at the rim, where a corner of theirs lies off the
      surfaces.
    </Aside>
  ) : null;
}
