import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { readLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { Act, Aside, Field } from '../../../frame/controls.tsx';
import { typedLength } from '../show-asked.ts';
import type { TracedPlace } from './traced-rows.ts';

interface VertexElevationsProps {
  places: readonly TracedPlace[];
  unit: LengthUnit;
  set: (places: TracedPlace[]) => void;
  tell: (why: string) => void;
  onCancel: () => void;
}

/** Elevations of what was traced, vertex by vertex; those left empty are solved along it. */
export function VertexElevations({ places, unit, set, tell, onCancel }: VertexElevationsProps) {
  const [typed, setTyped] = useState(() => places.map(({ z }) => (z === null ? '' : typedLength(z, unit))));
  const take = (): void => {
    const out: TracedPlace[] = [];
    for (const [i, { x, y }] of places.entries()) {
      const text = typed[i].trim();
      const read = text === '' ? null : readLength(text, unit);
      if (read && !read.ok) return tell(`Elevation ${i + 1}: ${read.reason}`);
      out.push({ x, y, z: read?.ok ? read.metres : null });
    }
    if (out.every(({ z }) => z === null)) return tell('Type one elevation at least: the others are solved along the line from those that are known.'); // prettier-ignore
    set(out);
  };
  return (
    <Flex
      as="form"
      gap="6px"
      wrap="wrap"
      align="center"
      onSubmit={(e) => {
        e.preventDefault();
        take();
      }}
    >
      <Aside width="100%">
        {places.length === 1
          ? 'Its elevation:'
          : 'Elevations from the first vertex to the last; one left empty is solved along the line.'}
      </Aside>
      {typed.map((text, i) => {
        const name = `elevation${places.length === 1 ? '' : ` ${i + 1}`} ${UNIT_SIGN[unit]}`;
        return (
          <Field
            key={i}
            autoFocus={i === 0}
            numeric
            width="92px"
            aria-label={name}
            placeholder={places.length === 1 ? name : String(i + 1)}
            value={text}
            onChange={(e) => setTyped(typed.map((t, k) => (k === i ? e.target.value : t)))}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Escape') onCancel();
            }}
          />
        );
      })}
      <Act look="solid" type="submit">
        Add
      </Act>
      <Act type="button" onClick={onCancel}>
        Cancel
      </Act>
    </Flex>
  );
}
