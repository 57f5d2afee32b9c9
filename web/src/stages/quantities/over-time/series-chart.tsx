import { chakra } from '@chakra-ui/react';
import { extent, scaleLinear, scaleUtc } from 'd3';
import { CUBIC_METRES_IN_CUBIC_YARD, formatFixed } from '#core/measure';
import { trendOf } from '#core/quantities';
import type { SeriesResult } from '#core/stages';
import { VOLUME_SIGN } from '../../../frame/volume-text.ts';
import { useParts } from '../../../project-state/store.ts';

const WIDTH = 510;
const HEIGHT = 170;
const PAD = { left: 56, right: 14, top: 12, bottom: 24 };
const MS_IN_DAY = 86_400_000;
/** Half the width of a letter. */
const HALF_LETTER = 3.4;

/** Volumes over time, with the line through them and where the next is expected. */
export function SeriesChart({ steps }: { steps: SeriesResult['steps'] }) {
  const { volumeUnit } = useParts('state').state!.document.settings;
  const cubic = volumeUnit === 'm3' ? 1 : CUBIC_METRES_IN_CUBIC_YARD;
  const days = steps.map((s) => s.day);
  const volumes = steps.map((s) => (s.above - s.below) / cubic);
  const trend = trendOf(days, volumes);
  const next = days.at(-1)! + (days.at(-1)! - days[0]) / (days.length - 1);
  const then = trend?.at(next);
  const [low = 0, high = 1] = extent([0, ...volumes, ...(then ? [then.volume] : [])]);
  const x = scaleUtc([new Date(days[0] * MS_IN_DAY), new Date(next * MS_IN_DAY)], [PAD.left, WIDTH - PAD.right]);
  const y = scaleLinear([low, high > low ? high : low + 1], [HEIGHT - PAD.bottom, PAD.top]).nice(4);
  const at = (day: number, v: number): string => `${x(new Date(day * MS_IN_DAY)).toFixed(1)} ${y(v).toFixed(1)}`;
  const format = x.tickFormat(5);
  return (
    <chakra.svg
      display="block"
      width="100%"
      mt="8px"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label="volumes over time, chart"
      fontSize="11px"
      fontFamily="mono"
    >
      {' '}
      {/* prettier-ignore */}
      {y.ticks(4).map((t) => (
        <g key={t}>
          <chakra.path d={`M${PAD.left} ${y(t)}H${WIDTH - PAD.right}`} stroke="rule" />
          <chakra.text x={PAD.left - 6} y={y(t) + 4} textAnchor="end" fill="slate">
            {formatFixed(t, 0)}
          </chakra.text>
        </g>
      ))}
      <chakra.text x={WIDTH - PAD.right} y={10} textAnchor="end" fill="slate">
        {VOLUME_SIGN[volumeUnit]}
      </chakra.text>
      {x.ticks(5).map((t) => (
        <chakra.text key={t.getTime()} x={insideOf(x(t), format(t))} y={HEIGHT - 7} textAnchor="middle" fill="slate">
          {format(t)}
        </chakra.text>
      ))}
      {trend && then ? (
        <>
          <chakra.path
            d={`M${at(days[0], trend.at(days[0]).volume)}L${at(next, then.volume)}`}
            fill="none"
            stroke="slate"
            strokeDasharray="5 4"
          />{' '}
          {/* prettier-ignore */}
          {then.plusMinus === null ? null : (
            <chakra.path d={`M${at(next, then.volume - then.plusMinus)}L${at(next, then.volume + then.plusMinus)}`} stroke="brass" strokeWidth="2" /> /* prettier-ignore */
          )}
        </>
      ) : null}
      <chakra.path
        d={`M${days.map((d, i) => at(d, volumes[i])).join('L')}`}
        fill="none"
        stroke="pine"
        strokeWidth="1.8"
      />{' '}
      {/* prettier-ignore */}
      {days.map((d, i) => (
        <chakra.circle key={d} cx={x(new Date(d * MS_IN_DAY))} cy={y(volumes[i])} r="3.5" fill="pine" />
      ))}
    </chakra.svg>
  );
}

/** Where a text stands whole: about a place, or as near to it as the chart leaves room for. */
const insideOf = (x: number, text: string): number => Math.min(x, WIDTH - HALF_LETTER * text.length);
