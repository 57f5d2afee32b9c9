import { Box, chakra, Flex } from '@chakra-ui/react';
import { scaleLinear } from 'd3';
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { CUBIC_METRES_IN_CUBIC_YARD, formatFixed, formatLength, fromMetres, toMetres, UNIT_SIGN } from '#core/measure';
import type { PadRow, ProposedRow, StripRow } from '#core/project';
import type { AtLevel } from '#core/quantities';
import type { Surface } from '#core/terrain';
import { Act, Aside, Num } from '../../../frame/controls.tsx';
import { TypedNumber } from '../../../frame/typed-number.tsx';
import { formatVolume, VOLUME_SIGN } from '../../../frame/volume-text.ts';
import { useParts, useProject } from '../../../project-state/store.ts';
import { sheetWork } from '../../../work/workers.ts';

const WIDTH = 510;
const HEIGHT = 170;
const PAD = { left: 56, right: 14, top: 12, bottom: 24 };
/** m to either side of where the level is. */
const REACH = 2;

interface BalanceCurveProps {
  ground: Surface;
  before: readonly ProposedRow[];
  row: PadRow | StripRow;
  /** Called with a level that is taken, m. */
  set: (level: number) => void;
}

/** Cut and fill of a pad over its level, with a handle on it: batters and daylight line follow on the drawing while it is dragged. */
export function BalanceCurve({ ground, before, row, set }: BalanceCurveProps) {
  const { settings } = useParts('state').state!.document;
  const { unit, volumeUnit } = settings;
  const own = row.kind === 'pad' ? row.level : row.course[0].z;
  const [from, to] = [own - REACH, own + REACH];
  const laid = JSON.stringify([before, row]);
  const [curve, setCurve] = useState<AtLevel[] | null>(null);
  const [now, setNow] = useState<AtLevel | null>(null);
  const [prices, setPrices] = useState({ cut: 1, fill: 1 });
  const wanted = useRef<number | null>(null);
  const busy = useRef(false);
  const trying = useRef(false);
  const svg = useRef<SVGSVGElement>(null);
  useEffect(() => {
    let stale = false;
    const work = sheetWork();
    void work
      .holdProposed(ground, [...before], row)
      .then(() => work.curve(row.id, from, to))
      .then((found) => (stale ? undefined : setCurve(found)));
    return () => {
      stale = true;
      void work.dropProposed(row.id);
      useProject.setState({ sketch: null });
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- from and to follow from the row; rows are new with every state
  }, [ground, laid]);

  /** One trial at a time: the newest level that is wanted is tried next. */
  const tryLevel = async (level: number): Promise<void> => {
    wanted.current = level;
    trying.current = true;
    if (busy.current) return;
    busy.current = true;
    while (wanted.current !== null) {
      const next: number = wanted.current;
      wanted.current = null;
      const made = await sheetWork().tryLevel(row.id, next);
      // Let go meanwhile: what was tried is not shown any more.
      if (!made || !trying.current) continue;
      setNow(made);
      const courses = [...made.daylight.map((l) => l.filter((_, i) => i % 3 !== 2))];
      useProject.setState({ sketch: { places: new Float64Array(0), arrows: [], courses, pieces: made.pieces, flat: true, about: 'batters, cut and fill at the level under the hand' } }); // prettier-ignore
    }
    busy.current = false;
  };
  const level = now?.level ?? own;
  const take = (at: number): void => {
    wanted.current = null;
    trying.current = false;
    setNow(null);
    useProject.setState({ sketch: null });
    set(Math.round(at * 1e4) / 1e4);
  };
  if (!curve) return <Aside display="block">Working the curve out …</Aside>;
  if (curve.length < 2) return <Aside display="block">It cannot be laid at these levels.</Aside>;
  const x = scaleLinear([fromMetres(from, unit), fromMetres(to, unit)], [PAD.left, WIDTH - PAD.right]);
  const most = Math.max(...curve.map((c) => Math.max(c.cut, c.fill)));
  const y = scaleLinear([0, most], [HEIGHT - PAD.bottom, PAD.top]).nice(4);
  const path = (of: 'cut' | 'fill'): string => curve.map((c) => `${x(fromMetres(c.level, unit)).toFixed(1)} ${y(c[of]).toFixed(1)}`).join('L'); // prettier-ignore
  const under = (e: PointerEvent): number => {
    const box = svg.current!.getBoundingClientRect();
    const at = x.invert(((e.clientX - box.left) / box.width) * WIDTH);
    return Math.min(to, Math.max(from, toMetres(at, unit)));
  };
  const step = (e: KeyboardEvent): void => {
    const by = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1 }[e.key];
    if (by === undefined && e.key !== 'Enter') return;
    e.preventDefault();
    e.stopPropagation();
    if (by === undefined) take(level);
    else void tryLevel((wanted.current ?? level) + toMetres(by * (e.shiftKey ? 0.1 : 0.01), unit));
  };
  const shown = now ?? nearest(curve, level);
  const price = (of: 'cut' | 'fill') => (
    <TypedNumber
      key={`${of} ${prices[of]}`}
      label={`price of ${of}`}
      value={prices[of]}
      least={0}
      most={1e6}
      set={(v) => setPrices({ ...prices, [of]: v })}
      field={{ width: '54px', height: '24px', px: '4px', fontSize: '12px' }}
    />
  );
  return (
    <Box mt="8px">
      <chakra.svg
        ref={svg}
        display="block"
        width="100%"
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        fontSize="11px"
        fontFamily="mono"
        role="slider"
        tabIndex={0}
        aria-label={`${row.kind === 'pad' ? 'level of the pad' : 'elevation where its line begins'} ${UNIT_SIGN[unit]}`}
        aria-valuemin={fromMetres(from, unit)}
        aria-valuemax={fromMetres(to, unit)}
        aria-valuenow={fromMetres(level, unit)}
        aria-valuetext={`${formatLength(level, unit, 2)} ${UNIT_SIGN[unit]}, cut ${formatVolume(shown.cut, settings)}, fill ${formatVolume(shown.fill, settings)}`}
        style={{ touchAction: 'none', cursor: 'ew-resize' }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          void tryLevel(under(e));
        }}
        onPointerMove={(e) => {
          if (e.currentTarget.hasPointerCapture(e.pointerId)) void tryLevel(under(e));
        }}
        onPointerUp={(e) => take(under(e))}
        onKeyDown={step}
      >
        {y.ticks(4).map((t) => (
          <g key={t}>
            <chakra.path d={`M${PAD.left} ${y(t)}H${WIDTH - PAD.right}`} stroke="rule" />
            <chakra.text x={PAD.left - 6} y={y(t) + 4} textAnchor="end" fill="slate">
              {formatFixed(t / (volumeUnit === 'm3' ? 1 : CUBIC_METRES_IN_CUBIC_YARD), 0)}
            </chakra.text>
          </g>
        ))}
        {x.ticks(6).map((t) => (
          <chakra.text key={t} x={x(t)} y={HEIGHT - 7} textAnchor="middle" fill="slate">
            {formatFixed(t, 1)}
          </chakra.text>
        ))}
        <chakra.path d={`M${path('cut')}`} fill="none" stroke="cut" strokeWidth="2" />
        <chakra.path d={`M${path('fill')}`} fill="none" stroke="fill" strokeWidth="2" strokeDasharray="6 4" />
        <chakra.path
          d={`M${x(fromMetres(level, unit))} ${PAD.top}V${HEIGHT - PAD.bottom}`}
          stroke="pole"
          strokeWidth="2"
        />{' '}
        {/* prettier-ignore */}
        <chakra.rect x={x(fromMetres(level, unit)) - 5} y={PAD.top - 6} width="10" height="12" fill="pole" rx="2" />
      </chakra.svg>
      <Flex gap="6px" align="center" wrap="wrap">
        <span>
          At <Num>{formatLength(level, unit, 2)}</Num> {UNIT_SIGN[unit]}: cut (solid){' '}
          <Num>{formatVolume(shown.cut, settings)}</Num>, fill (dashed) <Num>{formatVolume(shown.fill, settings)}</Num>{' '}
          {VOLUME_SIGN[volumeUnit]}
        </span>
        {now ? <Aside>Enter takes it</Aside> : null}
      </Flex>
      <Flex gap="6px" align="center" wrap="wrap" mt="4px">
        <Act
          onClick={() =>
            void sheetWork()
              .cheapest(row.id, prices, from, to)
              .then((found) => found !== null && take(found))
          }
        >
          Cheapest level
        </Act>
        at {price('cut')} a unit of cut and {price('fill')} a unit of fill, within {formatLength(REACH, unit, 1)}{' '}
        {UNIT_SIGN[unit]} of where it is
      </Flex>
    </Box>
  );
}

const nearest = (curve: readonly AtLevel[], level: number): AtLevel =>
  curve.reduce((best, c) => (Math.abs(c.level - level) < Math.abs(best.level - level) ? c : best));
