import { Box, Flex } from '@chakra-ui/react';
import { useState, type FormEvent } from 'react';
import { STANDING_NAME, type Given, type Intake, type Standing } from '#core/project';
import { formatLength, fromMetres, readLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { Act, Aside, Field } from '../frame/controls.tsx';
import { Choice } from '../frame/sentence.tsx';
import { useCanChange } from '../project-state/can.ts';
import { useParts } from '../project-state/store.ts';

const NOTHING: Given = { by: '', date: null, source: '', standing: 'fixed', plan: null, height: null };

/** Who gave a file, when and from what; of control also its standing and accuracy. Read as a line, changed in place. */
export function GivenLine({ intake }: { intake: Intake }) {
  const [open, setOpen] = useState(false);
  const { state, make } = useParts('state', 'make');
  const canChange = useCanChange();
  const { unit } = state!.document.settings;
  const g = intake.given;
  const said = g
    ? [
        g.by && `given by ${g.by}`,
        g.date,
        g.source,
        intake.purpose === 'control' && `${STANDING_NAME[g.standing]}${accuracy(g, unit)}`,
      ]
        .filter(Boolean)
        .join(' · ')
    : 'its source is not stated';
  if (open)
    return (
      <GivenForm
        intake={intake}
        unit={unit}
        onLeave={() => setOpen(false)}
        onSet={(given) => {
          setOpen(false);
          void make({ op: 'intake.given', id: intake.id, given });
        }}
      />
    );
  return (
    <Flex align="center" gap="8px" minHeight="24px">
      <Aside flex="1">{said}</Aside>
      {canChange ? (
        <Act look="quiet" onClick={() => setOpen(true)} aria-label={`state the source of ${intake.fileName}`}>
          say …
        </Act>
      ) : null}
    </Flex>
  );
}

const accuracy = (g: Given, unit: LengthUnit): string =>
  g.plan || g.height
    ? `, ± ${g.plan ? formatLength(g.plan, unit, 3) : '?'} / ${g.height ? formatLength(g.height, unit, 3) : '?'} ${UNIT_SIGN[unit]}`
    : '';

/** Fields of who gave a file; lengths are read when the form is left, by `readGiven`. */
export interface TypedGiven extends Omit<Given, 'plan' | 'height'> {
  plan: string;
  height: string;
}

export const typedGiven = (given: Given | undefined, unit: LengthUnit): TypedGiven => {
  const shown = (metres: number | null): string => (metres ? String(Number(fromMetres(metres, unit).toFixed(4))) : '');
  const g = given ?? NOTHING;
  return { ...g, plan: shown(g.plan), height: shown(g.height) };
};

/** What was typed, with accuracies in metres; null when nothing was typed, a sentence when it cannot be read. */
export function readGiven(typed: TypedGiven, unit: LengthUnit): { given: Given | null } | { problem: string } {
  const given: Given = { ...typed, by: typed.by.trim(), source: typed.source.trim(), plan: null, height: null };
  for (const field of ['plan', 'height'] as const) {
    if (typed[field].trim() === '') continue;
    const read = readLength(typed[field], unit);
    if (!read.ok) return { problem: read.reason };
    if (!(read.metres > 0 && read.metres <= 100)) return { problem: 'An accuracy is more than zero and below 100 m.' };
    given[field] = read.metres;
  }
  const nothing = given.by === '' && given.source === '' && given.date === null && !given.plan && !given.height;
  return { given: nothing && given.standing === 'fixed' ? null : given };
}

export function GivenFields({
  typed: g,
  onChange,
  isControl,
  unit,
}: {
  typed: TypedGiven;
  onChange: (typed: TypedGiven) => void;
  isControl: boolean;
  unit: LengthUnit;
}) {
  const field = (name: string, key: 'plan' | 'height') => (
    <Field
      numeric
      width="70px"
      aria-label={name}
      value={g[key]}
      onChange={(e) => onChange({ ...g, [key]: e.target.value })}
    />
  );
  return (
    <>
      <Flex gap="6px" wrap="wrap" align="center" py="4px">
        given by
        <Field
          width="150px"
          aria-label="given by"
          maxLength={120}
          value={g.by}
          onChange={(e) => onChange({ ...g, by: e.target.value })}
        />
        on
        <Field
          type="date"
          aria-label="date"
          value={g.date ?? ''}
          onChange={(e) => onChange({ ...g, date: e.target.value || null })}
        />
        from
        <Field
          width="170px"
          aria-label="source"
          placeholder="sheet, letter, register"
          maxLength={200}
          value={g.source}
          onChange={(e) => onChange({ ...g, source: e.target.value })}
        />
      </Flex>
      {isControl ? (
        <Flex gap="6px" wrap="wrap" align="center" py="4px">
          standing
          <Choice
            name="standing"
            value={g.standing}
            options={(Object.keys(STANDING_NAME) as Standing[]).map((k) => [k, STANDING_NAME[k]] as const)}
            onChange={(standing) => onChange({ ...g, standing })}
          />
          accuracy in plan {field('accuracy in plan', 'plan')} in height {field('accuracy in height', 'height')}
          {UNIT_SIGN[unit]}
        </Flex>
      ) : null}
    </>
  );
}

function GivenForm({
  intake,
  unit,
  onSet,
  onLeave,
}: {
  intake: Intake;
  unit: LengthUnit;
  onSet: (given: Given | null) => void;
  onLeave: () => void;
}) {
  const [typed, setTyped] = useState(() => typedGiven(intake.given, unit));
  const [problem, setProblem] = useState('');
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    const read = readGiven(typed, unit);
    if ('problem' in read) return setProblem(read.problem);
    onSet(read.given);
  };
  return (
    <form
      onSubmit={submit}
      onKeyDown={(e) => e.key === 'Escape' && onLeave()}
      aria-label={`who gave ${intake.fileName}`}
    >
      <GivenFields typed={typed} onChange={setTyped} isControl={intake.purpose === 'control'} unit={unit} />
      {problem ? (
        <Box role="alert" color="pole">
          {problem}
        </Box>
      ) : null}
      <Flex gap="8px" py="4px">
        <Act type="submit" look="solid">
          Keep it
        </Act>
        <Act type="button" onClick={onLeave}>
          Cancel
        </Act>
      </Flex>
    </form>
  );
}
