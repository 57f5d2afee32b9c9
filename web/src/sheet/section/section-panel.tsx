import { Box, chakra, Flex } from '@chakra-ui/react';
import { extent, scaleLinear } from 'd3';
import { useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { formatFixed, formatLength, fromMetres, toMetres, UNIT_SIGN } from '#core/measure';
import type { SectionRun } from '#core/terrain';
import type { ProjectDocument } from '#core/project';
import { Act, Aside, Cut, Num } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { SurfaceStroke, surfaceLook } from '../surfaces-shown.tsx';
import { besideCourse, lengthOf, useSection } from './section-store.ts';

const HEIGHT = 170;
const PAD = { left: 58, right: 14, top: 10, bottom: 22 };

interface Shown {
  id: string;
  name: string;
  runs: SectionRun[];
}

/** Elevation and gradient of a section at a chainage; null off the surface. */
export function readAt(runs: readonly SectionRun[], chainage: number): { z: number; gradient: number } | null {
  for (const { at, z } of runs) {
    if (chainage < at[0] || chainage > at.at(-1)!) continue;
    const i = Math.max(1, at.findIndex((v) => v >= chainage)); // prettier-ignore
    const length = at[i] - at[i - 1];
    const share = length > 0 ? (chainage - at[i - 1]) / length : 0;
    return { z: z[i - 1] + share * (z[i] - z[i - 1]), gradient: length > 0 ? (z[i] - z[i - 1]) / length : 0 };
  }
  return null;
}

/** Under the drawing: the surfaces that are drawn, cut along the line; it follows the line while that is dragged. */
export function SectionPanel({ shown }: { shown: readonly string[] }) {
  const { id, state, tables } = useParts('id', 'state', 'tables');
  const { courses, put } = useSection();
  const course = courses[id] as readonly number[] | undefined;
  const key = shown.join(' ');
  const cut = useMemo(
    () => (course && state && tables ? cutAlong(state.document, tables, key.split(' '), course) : []),
    [course, state, tables, key],
  );
  if (!course || !state) return null;
  const { unit } = state.document.settings;
  const step = toMetres(1, unit);
  return (
    <Box role="region" aria-label="section" borderTop="1px solid" borderColor="rule" bg="leaf" flexShrink="0">
      <Flex align="center" gap="10px" px="14px" pt="6px" height="34px" fontSize="13px" minWidth="0">
        <Box fontWeight="600">Section</Box>
        <Num color="slate" whiteSpace="nowrap">{`${formatLength(lengthOf(course), unit, 2)} ${UNIT_SIGN[unit]}`}</Num>
        {cut.map((c) => (
          <Flex key={c.id} align="center" gap="6px" minWidth="0">
            <SurfaceStroke doc={state.document} id={c.id} />
            <Cut>{c.name}</Cut>
          </Flex>
        ))}
        <Flex ml="auto" gap="4px" flexShrink="0">
          <Act
            aria-label={`move the section line 1 ${UNIT_SIGN[unit]} to the left`}
            onClick={() => put(id, besideCourse(course, -step))}
          >
            ← 1 {UNIT_SIGN[unit]}
          </Act>
          <Act
            aria-label={`move the section line 1 ${UNIT_SIGN[unit]} to the right`}
            onClick={() => put(id, besideCourse(course, step))}
          >
            1 {UNIT_SIGN[unit]} →
          </Act>
          <Act onClick={() => put(id, null)}>Close</Act>
        </Flex>
      </Flex>
      {cut.every((c) => c.runs.length === 0) ? (
        <Box px="14px" pb="10px" color="slate" fontSize="13px">
          The line crosses no surface that is drawn.
        </Box>
      ) : (
        <Chart cut={cut} doc={state.document} length={lengthOf(course)} />
      )}
    </Box>
  );
}

const cutAlong = (doc: ProjectDocument, tables: Tables, ids: readonly string[], course: readonly number[]): Shown[] =>
  ids.flatMap((id) => {
    const finder = tables.finders.get(id);
    return finder ? [{ id, name: doc.surfaces.find((s) => s.id === id)?.name ?? '', runs: finder.along(course) }] : [];
  });

function Chart({ cut, doc, length }: { cut: Shown[]; doc: ProjectDocument; length: number }) {
  const host = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  const { at, point } = useSection();
  const { unit } = doc.settings;
  useEffect(() => {
    const box = new ResizeObserver(() => setWidth(Math.max(200, host.current?.clientWidth ?? 600)));
    box.observe(host.current!);
    return () => box.disconnect();
  }, []);
  const [low = 0, high = 1] = extent(cut.flatMap((c) => c.runs.flatMap((r) => r.z)));
  const x = scaleLinear([0, length], [PAD.left, width - PAD.right]);
  // Elevations in the project's unit, so that the lines beside them are round in it.
  const y = scaleLinear([fromMetres(low, unit), fromMetres(high > low ? high : low + 1, unit)], [HEIGHT - PAD.bottom, PAD.top]).nice(4); // prettier-ignore
  const up = (z: number): number => y(fromMetres(z, unit));
  const times = Math.abs(up(low) - up(low + 1)) / Math.max(1e-9, x(1) - x(0));
  const runs = scaleLinear([0, fromMetres(length, unit)], x.range());
  const under = (e: PointerEvent<SVGElement>): void => {
    const px = e.clientX - e.currentTarget.getBoundingClientRect().left;
    point(Math.min(length, Math.max(0, x.invert(px))));
  };
  const read = at === null ? [] : cut.map((c) => ({ ...c, here: readAt(c.runs, at) }));
  return (
    <Box ref={host}>
      <Flex px="14px" height="20px" gap="16px" fontSize="12px" color="slate" minWidth="0">
        {at === null ? (
          <Aside fontSize="12px">{`heights × ${times < 10 ? times.toFixed(1) : times.toFixed(0)}; drag the line or its corners on the drawing`}</Aside>
        ) : (
          <Num whiteSpace="pre">{reading(at, read, unit)}</Num>
        )}
      </Flex>
      <chakra.svg
        display="block"
        width={`${width}px`}
        height={`${HEIGHT}px`}
        role="img"
        aria-label={`section of ${cut.map((c) => c.name).join(', ')}`}
        fontSize="11px"
        fontFamily="mono"
        onPointerMove={under}
        onPointerLeave={() => point(null)}
      >
        {y.ticks(4).map((t) => (
          <g key={t}>
            <chakra.path d={`M${PAD.left} ${y(t)}H${width - PAD.right}`} stroke="rule" />
            <chakra.text x={PAD.left - 6} y={y(t) + 4} textAnchor="end" fill="slate">
              {formatFixed(t, 2)}
            </chakra.text>
          </g>
        ))}
        {runs.ticks(Math.max(2, Math.floor(width / 110))).map((t) => (
          <g key={t}>
            <chakra.path d={`M${runs(t)} ${HEIGHT - PAD.bottom}v4`} stroke="slate" />
            <chakra.text x={runs(t)} y={HEIGHT - 6} textAnchor="middle" fill="slate">
              {formatFixed(t, 0)}
            </chakra.text>
          </g>
        ))}
        {cut.map((c) => {
          const { ink, style } = surfaceLook(doc, c.id);
          return c.runs.map((r, i) => (
            <chakra.path
              key={`${c.id} ${i}`}
              d={r.at.map((a, k) => `${k ? 'L' : 'M'}${x(a).toFixed(1)} ${up(r.z[k]).toFixed(1)}`).join('')}
              fill="none"
              stroke={ink}
              strokeWidth="1.8"
              strokeDasharray={style === 'solid' ? undefined : '6 4'}
            />
          ));
        })}
        {at === null ? null : (
          <chakra.path d={`M${x(at)} ${PAD.top}V${HEIGHT - PAD.bottom}`} stroke="pole" strokeDasharray="3 3" />
        )}
      </chakra.svg>
    </Box>
  );
}

/** What stands under the cursor: chainage, each surface's elevation and gradient, and how far the second is above the first. */
function reading(
  at: number,
  read: readonly (Shown & { here: ReturnType<typeof readAt> })[],
  unit: ProjectDocument['settings']['unit'],
): string {
  const on = read.flatMap((r) => (r.here ? [{ name: r.name, ...r.here }] : []));
  const parts = on.map(({ name, z, gradient }) => `${read.length > 1 ? name : 'elev'} ${formatLength(z, unit, 2)} (${signed(gradient * 100, 1)} %)`); // prettier-ignore
  const between = on.length === 2 ? `  difference ${signed(fromMetres(on[1].z - on[0].z, unit), 2)}` : '';
  return `at ${formatLength(at, unit, 2)} ${UNIT_SIGN[unit]}   ${parts.join('   ') || 'off the surface'}${between}`;
}

const signed = (v: number, decimals: number): string => `${v < 0 ? '−' : '+'}${formatFixed(Math.abs(v), decimals)}`;
