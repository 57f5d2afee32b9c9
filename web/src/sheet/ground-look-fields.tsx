import { Box, chakra } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { Aside, Pick } from '../frame/controls.tsx';
import { TINTED_BY, useGroundLook, type TintedBy } from './ground-look.ts';

/** Vertical stretch that can be chosen. */
const STRETCHES = [1, 2, 3, 5, 10];

/** How surfaces are tinted and lit, and how high they stand in 3D. */
export function GroundLookFields() {
  const { look, set } = useGroundLook();
  const { bearing, height } = look.sun;
  return (
    <Box borderTop="1px solid" borderColor="rule" mt="6px" pt="6px">
      <Row name="tints by">
        <Pick
          aria-label="tints by"
          value={look.tintedBy}
          onChange={(e) => set({ tintedBy: e.target.value as TintedBy })}
        >
          {TINTED_BY.map((t) => (
            <option key={t}>{t}</option>
          ))}
        </Pick>
      </Row>
      <chakra.label display="flex" gap="8px" alignItems="center" height="28px">
        <input type="checkbox" checked={look.shaded} onChange={(e) => set({ shaded: e.target.checked })} /> shading in
        plan
      </chakra.label>
      <Angle
        name="sun from"
        most={360}
        step={15}
        value={bearing}
        onChange={(b) => set({ sun: { bearing: b, height } })}
      />
      <Angle
        name="sun height"
        most={90}
        step={5}
        value={height}
        onChange={(h) => set({ sun: { bearing, height: h } })}
      />
      <Row name="heights in 3D">
        <Pick
          aria-label="heights in 3D"
          value={String(look.stretch)}
          onChange={(e) => set({ stretch: Number(e.target.value) })}
        >
          {[...new Set([...STRETCHES, look.stretch])].map((k) => (
            <option key={k} value={k}>{`× ${k}`}</option>
          ))}
        </Pick>
      </Row>
    </Box>
  );
}

const Row = ({ name, children }: { name: string; children: ReactNode }) => (
  <Box display="flex" alignItems="center" justifyContent="space-between" gap="8px" height="30px">
    <span>{name}</span>
    {children}
  </Box>
);

function Angle({
  name,
  most,
  step,
  value,
  onChange,
}: {
  name: string;
  most: number;
  step: number;
  value: number;
  onChange: (degrees: number) => void;
}) {
  return (
    <Row name={name}>
      <Box display="flex" alignItems="center" gap="6px">
        <input
          type="range"
          aria-label={`${name}, degrees`}
          min={0}
          max={most}
          step={step}
          value={value}
          style={{ width: '84px' }}
          onChange={(e) => onChange(Number(e.target.value))}
        />
        <Aside width="34px" textAlign="right">{`${value}°`}</Aside>
      </Box>
    </Row>
  );
}
