import { Box, chakra, Flex } from '@chakra-ui/react';
import { extent, scaleLinear } from 'd3';
import { useState } from 'react';
import { formatChainage, formatFixed, fromMetres, UNIT_SIGN } from '#core/measure';
import type { SectionDrawing } from '#core/quantities';
import { Act, Aside } from '../../../frame/controls.tsx';
import { useParts } from '../../../project-state/store.ts';

const WIDTH = 510;
const HEIGHT = 150;
const PAD = { left: 48, right: 10, top: 10, bottom: 22 };

/** A section drawing at a time: ground and design over the offset, cut and fill between them. */
export function SectionChart({ drawings }: { drawings: readonly SectionDrawing[] }) {
  const { unit, chainage } = useParts('state').state!.document.settings;
  const [at, setAt] = useState(0);
  const { offset, ground, design, ...shown } = drawings[Math.min(at, drawings.length - 1)];
  const [low = 0, high = 1] = extent([...ground, ...design].map((z) => fromMetres(z, unit)));
  const x = scaleLinear([fromMetres(offset[0], unit), fromMetres(offset.at(-1)!, unit)], [PAD.left, WIDTH - PAD.right]);
  const y = scaleLinear([low, high > low ? high : low + 1], [HEIGHT - PAD.bottom, PAD.top]).nice(4);
  const path = (z: readonly number[]): string => z.map((v, i) => `${x(fromMetres(offset[i], unit)).toFixed(1)} ${y(fromMetres(v, unit)).toFixed(1)}`).join('L'); // prettier-ignore
  const name = formatChainage(shown.chainage, unit, chainage, 2);
  const step = (by: number): void => setAt((at + by + drawings.length) % drawings.length);
  return (
    <Box mb="8px">
      <Flex align="center" gap="8px" fontSize="13px">
        <Act height="22px" aria-label="section before" onClick={() => step(-1)}>
          ←
        </Act>
        <Act height="22px" aria-label="next section" onClick={() => step(1)}>
          →
        </Act>
        section at {name} {UNIT_SIGN[unit]}
        <Aside>ground solid, design dashed</Aside>
      </Flex>
      <chakra.svg
        display="block"
        width="100%"
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`section at ${name}`}
        fontSize="11px"
        fontFamily="mono"
      >
        {' '}
        {/* prettier-ignore */}
        {y.ticks(4).map((t) => (
          <g key={t}>
            <chakra.path d={`M${PAD.left} ${y(t)}H${WIDTH - PAD.right}`} stroke="rule" />
            <chakra.text x={PAD.left - 5} y={y(t) + 4} textAnchor="end" fill="slate">
              {formatFixed(t, 1)}
            </chakra.text>
          </g>
        ))}
        {x.ticks(6).map((t) => (
          <chakra.text key={t} x={x(t)} y={HEIGHT - 6} textAnchor="middle" fill="slate">
            {formatFixed(t, 0)}
          </chakra.text>
        ))}
        <chakra.path d={`M${path(ground)}`} fill="none" stroke="ink" strokeWidth="1.8" />
        <chakra.path d={`M${path(design)}`} fill="none" stroke="pole" strokeWidth="1.8" strokeDasharray="6 4" />
      </chakra.svg>
    </Box>
  );
}
