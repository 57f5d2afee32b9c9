import { chakra } from '@chakra-ui/react';
import { formatLength } from '#core/measure';
import { NO_POINT } from '#core/terrain';
import { useParts } from '../project-state/store.ts';
import type { SheetScene } from './scene.ts';

/** Triangles smaller than this on the screen are not marked, CSS pixels². */
const LEAST_AREA = 900;

/** The triangle of the ground under the cursor, with the number and elevation of the three points it depends on. */
export function TriangleUnder({ scene, at }: { scene: SheetScene; at: number }) {
  const { tables, state } = useParts('tables', 'state');
  const s = tables?.surfaces.get(tables.groundId);
  if (!tables || !s || !state || 3 * at + 2 >= s.triangles.length) return null;
  const { unit } = state.document.settings;
  const corners = [...s.triangles.subarray(3 * at, 3 * at + 3)].map((v) => {
    const row = s.point[v];
    const number = row === NO_POINT || row >= tables.points.x.length ? '' : tables.points.number.get(row);
    return { ...scene.toScreen({ x: s.x[v], y: s.y[v], z: s.z[v] }), text: `${number} ${formatLength(s.z[v], unit, 2)}`.trim() }; // prettier-ignore
  });
  const [a, b, c] = corners;
  if (Math.abs((b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y)) / 2 < LEAST_AREA) return null;
  const middle = { x: (a.x + b.x + c.x) / 3, y: (a.y + b.y + c.y) / 3 };
  return (
    <chakra.svg
      position="absolute"
      inset="0"
      width="100%"
      height="100%"
      pointerEvents="none"
      color="pine"
      fontFamily="mono"
      fontSize="11px"
      aria-hidden="true"
    >
      <polygon
        points={corners.map(({ x, y }) => `${x},${y}`).join(' ')}
        fill="none"
        stroke="currentColor"
        strokeWidth="2"
      />
      {corners.map(({ x, y, text }, i) => (
        <text
          key={i}
          x={x + (x < middle.x ? -6 : 6)}
          y={y + (y < middle.y ? -6 : 14)}
          textAnchor={x < middle.x ? 'end' : 'start'}
          fill="currentColor"
          stroke="var(--chakra-colors-leaf)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          {text}
        </text>
      ))}
    </chakra.svg>
  );
}
