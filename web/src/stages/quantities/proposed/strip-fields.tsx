import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { UNIT_SIGN } from '#core/measure';
import type { ProposedRow, StripRow } from '#core/project';
import { readTemplate, templateText } from '#core/quantities';
import { Act, Aside, Field } from '../../../frame/controls.tsx';
import { TypedLength } from '../../../frame/typed-length.tsx';
import { useParts } from '../../../project-state/store.ts';
import { coursesOf } from '../../../sheet/layers.ts';
import { Balancing } from './balancing.tsx';
import { BatterFields, FIELD } from './batter-fields.tsx';
import { evenlyGraded } from './propose.tsx';

/** m */
const HIGHEST = 12_000;
/** m; chords of arcs are off them by at most this. */
const CHORD = 0.01;
/** m; elevations that change evenly to this. */
const EVEN = 5e-4;

interface StripFieldsProps {
  row: StripRow;
  /** Parts that are laid into the same ground before it. */
  before: readonly ProposedRow[];
  set: (to: Partial<StripRow>) => void;
}

/** A bank or ditch as it is set: the elevations along its line, its template, its batters. */
export function StripFields({ row, before, set }: StripFieldsProps) {
  const { state, tables, selection, trace, traced } = useParts('state', 'tables', 'selection', 'trace', 'traced');
  const { unit } = state!.document.settings;
  const { course } = row;
  const [from, to] = [course[0].z, course.at(-1)!.z];
  const isEven = evenlyGraded(course, from, to).every(({ z }, i) => Math.abs(z - course[i].z) < EVEN);
  const line = selection?.kind === 'line' ? tables!.linework.lines.find((l) => l.key === selection.key) : undefined;
  const end = (label: string, value: number, graded: (z: number) => StripRow['course']) => (
    <TypedLength
      key={`${label} ${value}`}
      label={label}
      value={value}
      unit={unit}
      least={-HIGHEST}
      most={HIGHEST}
      must="This is no elevation."
      set={(z) => set({ course: graded(z!) })}
      field={FIELD}
    />
  );
  const draw = (): void =>
    trace({
      purpose: 'the line of the bank or ditch',
      places: [],
      finish: () => {},
      course: { most: null, free: true, finish: (places) => set({ course: evenlyGraded(places, from, to) }) },
    });
  const take = (): void => {
    const [places] = coursesOf(line!, tables!.points.z, CHORD);
    const taken = Array.from({ length: places.length / 3 }, (_, i) => ({ x: places[3 * i], y: places[3 * i + 1], z: places[3 * i + 2] })); // prettier-ignore
    set({ course: taken.every(({ z }) => Number.isFinite(z)) ? taken : evenlyGraded(taken, from, to) });
  };
  return (
    <>
      <Flex gap="6px" align="center" wrap="wrap">
        Bank or ditch, its line from {end('elevation where the line begins', from, (z) => evenlyGraded(course, z, to))}{' '}
        to {end('elevation where the line ends', to, (z) => evenlyGraded(course, from, z))} {UNIT_SIGN[unit]}
        {isEven ? null : <Aside>with elevations of its own between; typing grades it evenly</Aside>}
      </Flex>
      <TemplateField key={templateText(row.template, unit)} row={row} set={set} />
      <BatterFields row={row} set={set} />
      <Balancing
        row={row}
        before={before}
        set={(level) => set({ course: course.map((p) => ({ ...p, z: p.z + level - from })) })}
      />
      <Flex gap="6px" align="center" wrap="wrap" mt="6px">
        <Act disabled={traced !== null} onClick={draw}>
          Draw its line again
        </Act>
        {line ? <Act onClick={take}>Along {line.key}</Act> : <Aside>or select a line to run it along</Aside>}
      </Flex>
    </>
  );
}

/** The template across the line, typed as a row of places. */
function TemplateField({ row, set }: { row: StripRow; set: (to: Partial<StripRow>) => void }) {
  const { unit } = useParts('state').state!.document.settings;
  const shown = templateText(row.template, unit);
  const [typed, setTyped] = useState(shown);
  const read = readTemplate(typed, unit);
  const take = (): void => {
    if (read.ok && typed !== shown) set({ template: read.template });
  };
  const sign = UNIT_SIGN[unit];
  return (
    <Flex gap="6px" align="center" wrap="wrap" mt="6px">
      Across, offset and height {sign}{' '}
      <Field
        aria-label={`template: offset and height of every place, ${sign}`}
        aria-invalid={!read.ok}
        title={read.ok ? 'from left to right, left is negative; places apart by semicolons' : read.reason}
        height="24px"
        flex="1"
        minWidth="160px"
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') take();
        }}
      />
      {read.ok ? null : <Aside color="brass">{read.reason}</Aside>}
    </Flex>
  );
}
