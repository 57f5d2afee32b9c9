import { Box, chakra } from '@chakra-ui/react';
import { scaleLinear } from 'd3';
import { useId, useState, type PointerEvent } from 'react';
import { formatFixed, formatLength, fromMetres, toMetres, UNIT_SIGN } from '#core/measure';
import { elevationOn, straightParts, type CrossSection, type OffsetRun } from '#core/quantities';
import { Aside, Num } from '../../frame/controls.tsx';
import { LINE_NAME } from '#core/report';
import { NearMarks } from './near-marks.tsx';
import { useParts, useProject } from '../../project-state/store.ts';

const WIDTH = 510;
const HEIGHT = 180;
const PAD = { left: 52, right: 12, top: 12, bottom: 24 };
const DASHES = [undefined, '6 4', '2 3', '9 3 2 3'];
/** The compared surface, what it is compared with, and more that are looked at beside them. */
const INKS = ['ink', 'pole', 'pine', 'brass'];

/** A section as a chart, cut and fill tinted; a cursor on it walks on the drawing too. */
export function SectionFigure({ section }: { section: CrossSection }) {
  const { unit } = useParts('state').state!.document.settings;
  const [at, setAt] = useState<number | null>(null);
  const hatch = useId();
  const runs = section.surfaces.flatMap((s) => s.runs);
  if (runs.length === 0) return <Aside display="block">Nothing of the surfaces lies there.</Aside>;
  const offsets = runs.flatMap((r) => [r.offset[0], r.offset.at(-1)!]).map((o) => fromMetres(o, unit));
  const near = section.near ?? [];
  const z = [...runs.flatMap((r) => r.z), ...near.flatMap((o) => o.z ?? [])].map((v) => fromMetres(v, unit));
  const [low, high] = [Math.min(...z), Math.max(...z)];
  const x = scaleLinear([Math.min(...offsets), Math.max(...offsets)], [PAD.left, WIDTH - PAD.right]);
  const y = scaleLinear([low, high > low ? high : low + 1], [HEIGHT - PAD.bottom, PAD.top]).nice(4);
  const px = (o: number): number => x(fromMetres(o, unit));
  const py = (v: number): number => y(fromMetres(v, unit));
  const line = (all: readonly OffsetRun[]): string => all.map((r) => `M${r.offset.map((o, i) => `${px(o).toFixed(1)} ${py(r.z[i]).toFixed(1)}`).join('L')}`).join(''); // prettier-ignore
  const [first, second] = section.surfaces;
  const areas = second ? straightParts(first.runs, second.runs) : [];
  const point = (e: PointerEvent<SVGSVGElement>): void => {
    const box = e.currentTarget.getBoundingClientRect();
    const offset = toMetres(x.invert(((e.clientX - box.left) / box.width) * WIDTH), unit);
    setAt(offset);
    const { x: sx, y: sy, ex, ey } = section;
    useProject.setState((s) => (s.sketch ? { sketch: { ...s.sketch, places: Float64Array.of(sx + offset * ex, sy + offset * ey) } } : {})); // prettier-ignore
  };
  const told = (all: readonly OffsetRun[]): string | null => {
    const run = at === null ? undefined : all.find((r) => r.offset[0] <= at && at <= r.offset.at(-1)!);
    return run ? formatLength(elevationOn(run, at!), unit, 2) : null;
  };
  return (
    <Box>
      <chakra.svg
        display="block"
        width="100%"
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`section through ${section.surfaces.map((s) => s.name).join(' and ')}`}
        fontSize="11px"
        fontFamily="mono"
        onPointerMove={point}
        onPointerLeave={() => setAt(null)}
      >
        {y.ticks(4).map((t) => (
          <g key={t}>
            <chakra.path d={`M${PAD.left} ${y(t)}H${WIDTH - PAD.right}`} stroke="rule" />
            <chakra.text x={PAD.left - 5} y={y(t) + 4} textAnchor="end" fill="slate">
              {formatFixed(t, high - low < 4 ? 1 : 0)}
            </chakra.text>
          </g>
        ))}
        {x.ticks(7).map((t) => (
          <chakra.text key={t} x={x(t)} y={HEIGHT - 7} textAnchor="middle" fill="slate">
            {formatFixed(t, 0)}
          </chakra.text>
        ))}
        <defs>
          <Tint id={`${hatch}-cut`} ink="cut" d="M0 6L6 0" />
          <Tint id={`${hatch}-fill`} ink="fill" d="M0 0L6 6" />
        </defs>
        {areas.map(({ from, to, first: a, second: b }, i) => (
          <path
            key={i}
            d={`M${px(from).toFixed(1)} ${py(a[0]).toFixed(1)}L${px(to).toFixed(1)} ${py(a[1]).toFixed(1)} ${px(to).toFixed(1)} ${py(b[1]).toFixed(1)} ${px(from).toFixed(1)} ${py(b[0]).toFixed(1)}Z`}
            fill={`url(#${hatch}-${b[0] + b[1] < a[0] + a[1] ? 'cut' : 'fill'})`}
          />
        ))}
        {section.surfaces.map(
          (s, i) =>
          <chakra.path key={s.name} d={line(s.runs)} fill="none" stroke={INKS[i % INKS.length]} strokeWidth="1.8" strokeDasharray={DASHES[i % DASHES.length]} />, // prettier-ignore
        )}
        <NearMarks near={near} x={px} y={py} low={toMetres(y.domain()[0], unit)} />
        {x.domain()[0] < 0 && x.domain()[1] > 0 ? (
          <chakra.path d={`M${x(0)} ${PAD.top}V${HEIGHT - PAD.bottom}`} stroke="slate" strokeDasharray="8 3 2 3" />
        ) : null}
        {at === null ? null : (
          <chakra.path d={`M${px(at)} ${PAD.top}V${HEIGHT - PAD.bottom}`} stroke="ink" strokeWidth="0.8" />
        )}
      </chakra.svg>
      <Aside display="block" minHeight="20px">
        {at === null ? (
          <>
            offset {UNIT_SIGN[unit]} from the line, to the right positive;{' '}
            {section.surfaces.map((s, i) => `${s.name} ${LINE_NAME[i % LINE_NAME.length]}`).join(', ')}
          </>
        ) : (
          <>
            offset <Num>{formatLength(at, unit, 2)}</Num>
            {section.surfaces.map((s) => (
              <span key={s.name}>
                , {s.name} <Num>{told(s.runs) ?? 'none'}</Num>
              </span>
            ))}{' '}
            {UNIT_SIGN[unit]}
          </>
        )}
      </Aside>
    </Box>
  );
}

/** Cut and fill are told apart by the way of their hatch as well as by their ink. */
const Tint = ({ id, ink, d }: { id: string; ink: 'cut' | 'fill'; d: string }) => (
  <pattern id={id} width="6" height="6" patternUnits="userSpaceOnUse">
    <chakra.path d={d} stroke={ink} strokeWidth="1" fill="none" />
  </pattern>
);
