import { Box, chakra } from '@chakra-ui/react';
import { extent, line as curve, scaleLinear } from 'd3';
import type { Pair, Run } from '#core/linework';
import { formatLength, fromMetres, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { Leaf } from '../../frame/controls.tsx';

const W = 590;
const H = 190;
const PAD = { left: 52, right: 14, top: 20, bottom: 34 };

/** A pipe line from chamber to chamber: covers above, inverts below, heights drawn larger than lengths. */
export function LongSection({ runs, name, unit }: { runs: Run[]; name: (row: number) => string; unit: LengthUnit }) {
  if (runs.length === 0) return null;
  const places: { pair: Pair; at: number }[] = [{ pair: runs[0].from, at: 0 }];
  for (const run of runs) places.push({ pair: run.to, at: places.at(-1)!.at + run.length });
  const levels = places.flatMap(({ pair }) => [pair.top, pair.bottom]).filter((z) => !Number.isNaN(z));
  const [low = 0, high = 1] = extent(levels);
  const x = scaleLinear([0, places.at(-1)!.at], [PAD.left, W - PAD.right]);
  const y = scaleLinear([low, high === low ? low + 1 : high], [H - PAD.bottom, PAD.top]).nice(4);
  const course = (level: 'top' | 'bottom'): string =>
    curve<{ pair: Pair; at: number }>(
      (p) => x(p.at),
      (p) => y(p.pair[level]),
    ).defined((p) => !Number.isNaN(p.pair[level]))(places) ?? '';
  const times = (x(1) - x(0) === 0 ? 1 : Math.abs(y(0) - y(1)) / Math.abs(x(1) - x(0))).toFixed(0);
  return (
    <Leaf head={`Long section of ${runs[0].line}; heights ${times} times exaggerated`}>
      <Box overflowX="auto" px="8px" pb="6px">
        <chakra.svg
          width="100%"
          viewBox={`0 0 ${W} ${H}`}
          role="img"
          aria-label={`long section of ${runs[0].line}`}
          fontSize="11px"
          fontFamily="mono"
        >
          {y.ticks(4).map((t) => (
            <g key={t}>
              <chakra.path d={`M${PAD.left} ${y(t)}H${W - PAD.right}`} stroke="rule" />
              <chakra.text x={PAD.left - 6} y={y(t) + 4} textAnchor="end" fill="slate">
                {formatLength(t, unit, 2)}
              </chakra.text>
            </g>
          ))}
          {places.map(({ pair, at }, i) => (
            <g key={i}>
              <chakra.path d={`M${x(at)} ${y(pair.top)}V${y(pair.bottom)}`} stroke="slate" strokeWidth="3" />
              <chakra.text
                x={x(at)}
                y={y(pair.top) - 6}
                textAnchor={i === 0 ? 'start' : i === places.length - 1 ? 'end' : 'middle'}
                fill="ink"
              >
                {name(pair.upper)}
              </chakra.text>
              <chakra.text
                x={x(at)}
                y={H - 18}
                textAnchor={i === 0 ? 'start' : i === places.length - 1 ? 'end' : 'middle'}
                fill="slate"
              >
                {fromMetres(at, unit).toFixed(1)}
              </chakra.text>
            </g>
          ))}
          <chakra.path d={course('top')} fill="none" stroke="moss" strokeWidth="1.4" strokeDasharray="5 4" />
          <chakra.path d={course('bottom')} fill="none" stroke="plum" strokeWidth="2.2" />
          <chakra.text x={PAD.left} y={H - 4} fill="slate">
            chainage {UNIT_SIGN[unit]}; covers dashed, inverts drawn through
          </chakra.text>
        </chakra.svg>
      </Box>
    </Leaf>
  );
}
