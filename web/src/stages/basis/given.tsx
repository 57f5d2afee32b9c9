import { Box, Flex } from '@chakra-ui/react';
import { useState, type FormEvent } from 'react';
import { CONTROL, STANDING_NAME, type Given, type Intake, type Standing } from '#core/chain';
import { formatLength, fromMetres, readLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { Act, Aside, Field } from '../../frame/controls.tsx';
import { Choice } from '../../frame/sentence.tsx';
import { useCanChange } from '../../project/can.ts';
import { useProject } from '../../project/store.ts';

const NOTHING: Given = { by: '', date: null, source: '', standing: 'fixed', plan: null, height: null };

/** Who gave a file, when and from what; of control also its standing and accuracy. Read as a line, changed in place. */
export function GivenLine({ intake }: { intake: Intake }) {
  const [open, setOpen] = useState(false);
  const { state, make } = useProject();
  const canChange = useCanChange();
  const { unit } = state!.document.settings;
  const g = intake.given;
  const said = g
    ? [
        g.by && `given by ${g.by}`,
        g.date,
        g.source,
        intake.target === CONTROL && `${STANDING_NAME[g.standing]}${accuracy(g, unit)}`,
      ]
        .filter(Boolean)
        .join(' · ')
    : 'nobody has said who gave it';
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
        <Act look="quiet" onClick={() => setOpen(true)} aria-label={`say who gave ${intake.fileName}`}>
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

export function GivenForm({
  intake,
  unit,
  onSet,
  onLeave,
}: {
  intake: Intake;
  unit: LengthUnit;
  onSet: (given: Given) => void;
  onLeave: () => void;
}) {
  const [g, setG] = useState<Given>(intake.given ?? NOTHING);
  const [plan, setPlan] = useState(g.plan ? String(Number(fromMetres(g.plan, unit).toFixed(4))) : '');
  const [height, setHeight] = useState(g.height ? String(Number(fromMetres(g.height, unit).toFixed(4))) : '');
  const [problem, setProblem] = useState('');
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    const out: Given = { ...g, by: g.by.trim(), source: g.source.trim() };
    for (const [field, text] of [
      ['plan', plan],
      ['height', height],
    ] as const) {
      if (text.trim() === '') out[field] = null;
      else {
        const read = readLength(text, unit);
        if (!read.ok) return setProblem(read.reason);
        if (!(read.metres > 0)) return setProblem('An accuracy is more than zero.');
        out[field] = read.metres;
      }
    }
    onSet(out);
  };
  return (
    <form
      onSubmit={submit}
      onKeyDown={(e) => e.key === 'Escape' && onLeave()}
      aria-label={`who gave ${intake.fileName}`}
    >
      <Flex gap="6px" wrap="wrap" align="center" py="4px">
        given by
        <Field
          autoFocus
          width="150px"
          aria-label="given by"
          maxLength={120}
          value={g.by}
          onChange={(e) => setG({ ...g, by: e.target.value })}
        />
        on
        <Field
          type="date"
          aria-label="date"
          value={g.date ?? ''}
          onChange={(e) => setG({ ...g, date: e.target.value || null })}
        />
        from
        <Field
          width="170px"
          aria-label="source"
          placeholder="sheet, letter, register"
          maxLength={200}
          value={g.source}
          onChange={(e) => setG({ ...g, source: e.target.value })}
        />
      </Flex>
      {intake.target === CONTROL ? (
        <Flex gap="6px" wrap="wrap" align="center" py="4px">
          standing
          <Choice
            name="standing"
            value={g.standing}
            options={(Object.keys(STANDING_NAME) as Standing[]).map((s) => [s, STANDING_NAME[s]] as const)}
            onChange={(standing) => setG({ ...g, standing })}
          />
          accuracy in plan
          <Field
            numeric
            width="70px"
            aria-label="accuracy in plan"
            value={plan}
            onChange={(e) => setPlan(e.target.value)}
          />
          in height
          <Field
            numeric
            width="70px"
            aria-label="accuracy in height"
            value={height}
            onChange={(e) => setHeight(e.target.value)}
          />
          {UNIT_SIGN[unit]}
        </Flex>
      ) : null}
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
          Leave it
        </Act>
      </Flex>
    </form>
  );
}
