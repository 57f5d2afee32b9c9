import { Box, Flex } from '@chakra-ui/react';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import type { Series } from '#core/project';
import { trendOf } from '#core/quantities';
import type { SeriesResult } from '#core/stages';
import { Act, Aside, Cut, Field, Leaf, Num, Pick } from '../../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../../frame/small-table.tsx';
import { formatVolume, VOLUME_SIGN } from '../../../frame/volume-text.ts';
import { useCanChange } from '../../../project-state/can.ts';
import { useParts } from '../../../project-state/store.ts';
import { dateInName } from './new-series.ts';
import { SeriesChart } from './series-chart.tsx';

const MS_IN_DAY = 86_400_000;
export const dateOf = (day: number): string => new Date(day * MS_IN_DAY).toISOString().slice(0, 10);
const FIELD = { height: '22px', px: '4px', fontSize: '12px' };

interface SeriesDetailProps {
  series: Series;
  result: SeriesResult | undefined;
  onClose: () => void;
}
type Step = SeriesResult['steps'][number];

/** One heap or pit date by date: what it held, what came and went between, and where a straight line leads. */
export function SeriesDetail({ series, result, onClose }: SeriesDetailProps) {
  const { state, make } = useParts('state', 'make');
  const can = useCanChange();
  const doc = state!.document;
  const { settings } = doc;
  const { unit, areaUnit, volumeUnit } = settings;
  const put = (to: Partial<Series>): void => void make({ op: 'series.set', id: series.id, series: { ...series, ...to } }); // prettier-ignore
  const nameOf = (id: string): string => doc.surfaces.find((s) => s.id === id)?.name ?? 'a surface that is gone';
  const steps = result?.steps ?? [];
  const volume = (id: string, head: string, of: (s: Step) => number | null): SmallColumn<Step> => ({
    id,
    head,
    mono: true,
    cell: (s) => {
      const v = of(s);
      return v === null ? '' : formatVolume(v, settings);
    },
  });
  const without = (surface: string): void => put({ surfaces: series.surfaces.filter((s) => s.surface !== surface) });
  const columns: SmallColumn<Step>[] = [
    {
      id: 'date',
      head: 'date',
      cell: (s) =>
        can ? (
          <Field
            type="date"
            aria-label={`date of ${nameOf(s.surface)}`}
            defaultValue={dateOf(s.day)}
            {...FIELD}
            onBlur={(e) => {
              const date = e.target.value;
              if (date && date !== dateOf(s.day)) put({ surfaces: series.surfaces.map((one) => (one.surface === s.surface ? { ...one, date } : one)) }); // prettier-ignore
            }}
          />
        ) : (
          <Num>{dateOf(s.day)}</Num>
        ),
    },
    {
      id: 'surface',
      head: 'surface',
      words: true,
      style: { maxWidth: '110px' },
      cell: (s) => <Cut>{nameOf(s.surface)}</Cut>,
    },
    volume('net', `volume ${VOLUME_SIGN[volumeUnit]}`, (s) => s.above - s.below),
    volume('came', 'came', (s) => s.came),
    volume('went', 'went', (s) => s.went),
    {
      id: 'area',
      head: 'area',
      mono: true,
      style: { whiteSpace: 'nowrap' },
      cell: (s) => formatArea(s.area, areaUnit, unit),
    },
    ...(can && steps.length > 1
      ? [{ id: 'go', head: '', cell: (s: Step) => <Act look="quiet" height="22px" aria-label={`delete ${nameOf(s.surface)} from the series`} onClick={() => without(s.surface)}>Delete</Act> }] // prettier-ignore
      : []),
  ];
  const others = doc.surfaces.filter((s) => !series.surfaces.some((one) => one.surface === s.id));
  const today = new Date().toISOString().slice(0, 10);
  const { base } = series;
  const baseText = base === 'first' ? 'the first of them' : 'level' in base ? `level ${formatLength(base.level, unit, 3)} ${UNIT_SIGN[unit]}` : `“${nameOf(base.surface)}”`; // prettier-ignore
  return (
    <Leaf mt="12px" p="12px">
      <Box fontWeight="600">{series.name}</Box>
      <Box color="slate" fontSize="13px" mb="8px">
        above {baseText}
        {series.within ? ', inside its boundary' : ''}
      </Box>
      <SmallTable
        label="date by date"
        columns={columns}
        rows={steps}
        rowKey={(s) => s.surface}
        cellStyle={{ px: '4px', fontSize: '13px' }}
      />
      {result?.without.map((w) => (
        <Box key={w.surface} color="brass" fontSize="13px">
          {nameOf(w.surface)}: {w.reason}
        </Box>
      ))}
      {steps.length > 1 ? (
        <>
          <SeriesChart steps={steps} />
          <TrendText steps={steps} />
        </>
      ) : null}
      {can ? (
        <Flex gap="8px" mt="10px" wrap="wrap" align="center">
          {others.length ? (
            <Pick
              aria-label="add a surface to the series"
              width="190px"
              value=""
              onChange={(e) => put({ surfaces: [...series.surfaces, { surface: e.target.value, date: dateInName(nameOf(e.target.value)) ?? today }] })} // prettier-ignore
            >
              <option value="">add a surface …</option>
              {others.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
            </Pick>
          ) : null}
          <Pick
            aria-label="base of the series"
            width="190px"
            value={typeof base === 'object' && 'surface' in base ? base.surface : typeof base === 'object' ? 'level' : 'first'} // prettier-ignore
            onChange={(e) => {
              if (e.target.value !== 'level') put({ base: e.target.value === 'first' ? 'first' : { surface: e.target.value } }); // prettier-ignore
            }}
          >
            {typeof base === 'object' && 'level' in base ? <option value="level">above the level</option> : null}
            <option value="first">above the first</option>
            {doc.surfaces.map((s) => (
              <option key={s.id} value={s.id}>
                above {s.name}
              </option>
            ))}
          </Pick>
          <Act
            onClick={() =>
              void make({ op: 'series.set', id: series.id, series: null }).then((done) => done && onClose())
            }
          >
            Delete
          </Act>
        </Flex>
      ) : null}
    </Leaf>
  );
}

/** What a straight line through the dates says: how much a week, how sure, what next, when empty. */
function TrendText({ steps }: { steps: readonly Step[] }) {
  const { settings } = useParts('state').state!.document;
  const days = steps.map((s) => s.day);
  const trend = trendOf(
    days,
    steps.map((s) => s.above - s.below),
  );
  if (!trend) return <Aside display="block">All of it is of one day: no line can be drawn through it.</Aside>;
  const sign = VOLUME_SIGN[settings.volumeUnit];
  const text = (m3: number): string => formatVolume(m3, settings);
  const next = days.at(-1)! + (days.at(-1)! - days[0]) / (days.length - 1);
  const then = trend.at(next);
  const pm = (v: number | null): string => (v === null ? '' : ` ± ${text(v)}`);
  return (
    <Aside display="block" mt="4px">
      By a straight line{' '}
      <Num>
        {text(7 * trend.rate)}
        {pm(trend.ratePlusMinus === null ? null : 7 * trend.ratePlusMinus)}
      </Num>{' '}
      {sign} a week; on {dateOf(next)}{' '}
      <Num>
        {text(then.volume)}
        {pm(then.plusMinus)}
      </Num>{' '}
      {sign}
      {trend.ratePlusMinus === null ? '. Two dates say nothing of how sure that is' : ' (95 %)'}
      {trend.empty !== null && trend.empty > days.at(-1)! ? `. At that rate it is empty on ${dateOf(trend.empty)}` : ''}
      .
    </Aside>
  );
}
