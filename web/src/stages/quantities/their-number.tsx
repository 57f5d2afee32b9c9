import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { CUBIC_METRES_IN_CUBIC_YARD, formatArea, UNIT_SIGN } from '#core/measure';
import type { Comparison } from '#core/project';
import type { CutAndFill, SplitCause, VolumeSplit } from '#core/quantities';
import { splitText } from '#core/report';
import { Act, Aside, Pick } from '../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { TypedLength } from '../../frame/typed-length.tsx';
import { TypedNumber } from '../../frame/typed-number.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import type { ComparisonFigures } from './comparison-figures.ts';
import { usePaintedCause } from './painted-cause.ts';
import { RingActs } from './ring-acts.tsx';

interface TheirNumberProps {
  comparison: Comparison;
  figures: ComparisonFigures;
  set: (to: Partial<Comparison>) => Promise<boolean>;
}

/** m */
const HIGHEST = 12_000;
/** m³ */
const MOST = 1e12;
const NONE_OF_THEIRS = 'Their surface is not in the project yet: import it, then it can be chosen here.';
const FIELD = { height: '22px', px: '4px', fontSize: '12px' };

/** Why another party has another number: their surface, boundary, level and figure, and the difference by its causes. */
export function TheirNumber({ comparison, figures: { split }, set }: TheirNumberProps) {
  const { state } = useParts('state');
  const can = useCanChange();
  const { surfaces, settings } = state!.document;
  const { theirs, against } = comparison;
  // What both sides compare with is nobody's measurement of the ground.
  const both = 'surface' in against ? against.surface : null;
  const others = surfaces.filter((s) => s.id !== comparison.surface && (s.id !== both || s.id === theirs?.surface));
  if (!theirs)
    return can ? (
      <Box mb="10px">
        <Act
          disabled={others.length === 0}
          title={others.length ? undefined : NONE_OF_THEIRS}
          onClick={() => void set({ theirs: { surface: others[0].id } })}
        >
          Why has the other side another number …
        </Act>
      </Box>
    ) : null;
  const put = (to: Partial<typeof theirs>): void => void set({ theirs: { ...theirs, ...to } });
  const { unit, volumeUnit } = settings;
  const cubic = volumeUnit === 'm3' ? 1 : CUBIC_METRES_IN_CUBIC_YARD;
  return (
    <Box mb="10px" fontSize="13px" role="group" aria-label="the other side’s number">
      {can ? (
        <>
          <Flex gap="6px" align="center" wrap="wrap">
            Their surface
            <Pick
              aria-label="their surface"
              height="22px"
              maxWidth="190px"
              value={theirs.surface}
              onChange={(e) => put({ surface: e.target.value })}
            >
              {others.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
            </Pick>
            inside
            <Pick
              aria-label="their boundary"
              height="22px"
              value={theirs.within === undefined ? 'ours' : theirs.within === 'whole' ? 'whole' : 'own'}
              onChange={(e) => {
                if (e.target.value !== 'own') put({ within: e.target.value === 'whole' ? 'whole' : undefined });
              }}
            >
              <option value="ours">our boundary</option>
              <option value="whole">all of it</option>
              {Array.isArray(theirs.within) ? <option value="own">their boundary</option> : null}
            </Pick>
            <RingActs
              purpose={`their boundary of “${comparison.name}”`}
              draw="Draw theirs"
              pick="a closed line as their boundary"
              onRing={(within) => put({ within })}
              height="22px"
            />
          </Flex>
          <Flex gap="6px" align="center" wrap="wrap" mt="4px" mb="6px">
            their level
            <TypedLength
              key={`level ${theirs.level}`}
              label="their level"
              value={theirs.level}
              unit={unit}
              least={-HIGHEST}
              most={HIGHEST}
              must="An elevation, or nothing where they have ours."
              optional
              set={(level) => put({ level })}
              field={{ ...FIELD, width: '80px', placeholder: 'as ours' }}
            />
            {UNIT_SIGN[unit]}, their figure, cut − fill,
            <TypedNumber
              key={`net ${theirs.net}`}
              label={`their figure ${VOLUME_SIGN[volumeUnit]}`}
              value={theirs.net === undefined ? undefined : theirs.net / cubic}
              least={-MOST}
              most={MOST}
              set={(v) => put({ net: v * cubic })}
              field={{ ...FIELD, width: '90px' }}
            />
            {VOLUME_SIGN[volumeUnit]}
            <Act look="quiet" height="22px" onClick={() => void set({ theirs: undefined })}>
              Hide
            </Act>
          </Flex>
        </>
      ) : null}
      {
        split === null ? null : 'reason' in split ? <Box color="brass">{split.reason}</Box> : <SplitTable comparison={comparison} split={split} /> /* prettier-ignore */
      }
    </Box>
  );
}

/** m³; less is rounding. */
const LEAST_SHARE = 0.005;
const ALONE: readonly SplitCause[] = ['our-area', 'their-area'];

interface Row {
  name: string;
  volume: CutAndFill | null;
  net: number;
  isSum: boolean;
  cause?: SplitCause;
}

function SplitTable({ comparison, split }: { comparison: Comparison; split: Omit<VolumeSplit, 'pieces'> }) {
  const { state, make, select } = useParts('state', 'make', 'select');
  const can = useCanChange();
  const [painted, setPainted] = useState<SplitCause | null>(null);
  const doc = state!.document;
  const { settings } = doc;
  const { theirs } = comparison;
  const step = split.steps.find((s) => s.cause === painted);
  const problem = usePaintedCause(
    comparison.id,
    painted,
    step ? `where this acts: ${splitText(doc, step, split)}` : '',
  );
  const line = (name: string, volume: CutAndFill, isSum = false): Row => ({ name, volume, net: volume.cut - volume.fill, isSum }); // prettier-ignore
  const net = split.theirs.cut - split.theirs.fill;
  const rows: Row[] = [
    line('Ours', split.ours, true),
    ...split.steps.map((step) => ({ ...line(splitText(doc, step, split), step), cause: step.cause })),
    line('Theirs', split.theirs, true),
    ...(theirs?.net === undefined
      ? []
      : [
          {
            name: 'Their figure beside their surface: method, rounding',
            volume: null,
            net: theirs.net - net,
            isSum: false,
          },
          { name: 'Their figure', volume: null, net: theirs.net, isSum: true },
        ]),
  ];
  const signed = (of: Row, v: number): string => {
    const text = formatVolume(v, settings);
    // What rounds to nothing has no sign.
    if (!/[1-9]/.test(text)) return text.replace('−', '');
    return !of.isSum && v > 0 ? `+${text}` : text;
  };
  const columns: SmallColumn<Row>[] = [
    { id: 'cause', head: 'from ours to theirs', cell: (r) => <Box fontWeight={r.isSum ? 600 : 400}>{r.name}</Box> },
    { id: 'cut', head: `cut ${VOLUME_SIGN[settings.volumeUnit]}`, mono: true, cell: (r) => r.volume && signed(r, r.volume.cut) }, // prettier-ignore
    { id: 'fill', head: 'fill', mono: true, cell: (r) => r.volume && signed(r, r.volume.fill) },
    { id: 'net', head: 'cut − fill', mono: true, cell: (r) => signed(r, r.net) },
    {
      id: 'paint',
      head: '',
      cell: ({ cause, volume, name }) =>
        cause && volume && Math.abs(volume.cut) + Math.abs(volume.fill) > LEAST_SHARE ? (
          <Act
            look="quiet"
            height="20px"
            aria-pressed={painted === cause}
            aria-label={`show on the drawing: ${name}`}
            onClick={() => setPainted(painted === cause ? null : cause)}
          >
            {painted === cause ? 'Hide' : 'Show'}
          </Act>
        ) : null,
    },
  ];
  const paint = async (): Promise<void> => {
    const id = crypto.randomUUID().slice(0, 8);
    const nameOf = (of: string): string => doc.surfaces.find((s) => s.id === of)?.name ?? '';
    const between: Comparison = { id, name: `${nameOf(comparison.surface)} to ${nameOf(theirs!.surface)}`.slice(0, 120), surface: comparison.surface, against: { surface: theirs!.surface }, within: comparison.within }; // prettier-ignore
    if (await make({ op: 'comparison.set', comparison: between })) select({ kind: 'comparison', id });
  };
  return (
    <>
      <SmallTable
        label="why their number is another"
        columns={columns}
        rows={rows}
        cellStyle={{ px: '5px', fontSize: '13px' }}
      />
      {problem ? (
        <Box color="brass" role="status">
          {problem}
        </Box>
      ) : null}
      {painted && !problem ? (
        <Aside display="block" mt="4px" role="status">
          {ALONE.includes(painted)
            ? 'Painted is what one of the two measures alone.'
            : 'Painted like fill where this step is higher than before, like cut where it is lower.'}
        </Aside>
      ) : null}
      <Aside display="block" mt="4px">
        Both measure {formatArea(split.commonArea, settings.areaUnit, settings.unit)}, with {split.common}{' '}
        {split.common === 1 ? 'point' : 'points'} in common. Ours is made into theirs one step after the other: the
        shares add up, and steps in one place would share it otherwise in another order.{' '}
        {can ? (
          <Act look="quiet" height="20px" onClick={() => void paint()}>
            Compare the two surfaces
          </Act>
        ) : null}
      </Aside>
    </>
  );
}
