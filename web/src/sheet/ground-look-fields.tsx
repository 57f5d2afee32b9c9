import { Box, chakra } from '@chakra-ui/react';
import { useState, type ReactNode } from 'react';
import { Act, Aside, Field, Pick } from '../frame/controls.tsx';
import { TINTED_BY, type NamedLook } from '#core/project';
import { useCanChange } from '../project-state/can.ts';
import { useParts } from '../project-state/store.ts';
import { asLook, namedAs, useGroundLook, type GroundLook, type TintedBy } from './ground-look.ts';

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
      <NamedLooks look={look} onTake={set} />
    </Box>
  );
}

/** Looks that the project keeps by name: one is taken, this one is kept, one that is the same is deleted. */
function NamedLooks({ look, onTake }: { look: GroundLook; onTake: (look: GroundLook) => void }) {
  const { state, make, busy } = useParts('state', 'make', 'busy');
  const may = useCanChange();
  const [name, setName] = useState('');
  const looks = state?.document.drawing.looks ?? [];
  const here = namedAs(looks, look);
  const put = (to: NamedLook[]): void => void make({ op: 'drawing.set', drawing: { looks: to } });
  const keep = (): void => {
    const typed = name.trim();
    if (!typed) return;
    const taken = new Set(looks.map((l) => l.name));
    let called = typed;
    for (let i = 2; taken.has(called); i++) called = `${typed} ${i}`;
    setName('');
    put([...looks, { ...asLook(look), id: crypto.randomUUID().slice(0, 13), name: called }]);
  };
  return (
    <Box borderTop="1px solid" borderColor="rule" mt="6px" pt="6px">
      {looks.length ? (
        <Row name="look">
          <Pick
            aria-label="named look"
            maxWidth="130px"
            value={here?.id ?? ''}
            onChange={(e) => {
              const chosen = looks.find((l) => l.id === e.target.value);
              if (chosen) onTake(asLook(chosen));
            }}
          >
            <option value="">as set here</option>
            {looks.map((l) => (
              <option key={l.id} value={l.id}>
                {l.name}
              </option>
            ))}
          </Pick>
        </Row>
      ) : null}
      {!may ? null : here ? (
        <Act look="quiet" disabled={busy} onClick={() => put(looks.filter((l) => l !== here))}>
          Delete this look
        </Act>
      ) : (
        <Box display="flex" gap="6px" py="3px">
          <Field
            aria-label="name of this look"
            placeholder="name of this look"
            width="124px"
            maxLength={60}
            value={name}
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') keep();
            }}
          />
          <Act disabled={busy || !name.trim()} onClick={keep}>
            Keep
          </Act>
        </Box>
      )}
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
