import { Flex } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { useState } from 'react';
import { Controller, useForm, type UseFormReturn } from 'react-hook-form';
import { z } from 'zod';
import { STANDING_NAME, type Given, type Intake, type Standing } from '#core/project';
import { formatLength, fromMetres, readLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { Act, Aside, Field } from '../frame/controls.tsx';
import { described, FieldProblem, Form } from '../frame/form.tsx';
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

/** An accuracy as typed: nothing, or a length above zero and below 100 m; in metres when it has been read. */
const accuracyAsTyped = (unit: LengthUnit) =>
  z.string().transform((typed, context) => {
    if (typed.trim() === '') return null;
    const read = readLength(typed, unit);
    if (read.ok && read.metres > 0 && read.metres <= 100) return read.metres;
    const message = read.ok ? 'An accuracy is more than zero and below 100 m.' : read.reason;
    context.addIssue({ code: 'custom', message });
    return z.NEVER;
  });

/** Who gave a file, as typed; what is read of it has its accuracies in metres. */
const givenFormSchema = (unit: LengthUnit) =>
  z.object({
    by: z.string().trim().max(120),
    date: z.string().transform((date) => date || null),
    source: z.string().trim().max(200),
    standing: z.enum(Object.keys(STANDING_NAME) as [Standing, ...Standing[]]),
    plan: accuracyAsTyped(unit),
    height: accuracyAsTyped(unit),
  });

type TypedGiven = z.input<ReturnType<typeof givenFormSchema>>;
export type GivenFormOf = UseFormReturn<TypedGiven, unknown, Given>;

/** The form of who gave a file, beginning with what is known; lengths are in `unit` until it is read. */
export function useGivenForm(given: Given | undefined, unit: LengthUnit): GivenFormOf {
  const shown = (metres: number | null): string => (metres ? String(Number(fromMetres(metres, unit).toFixed(4))) : '');
  const g = given ?? NOTHING;
  return useForm<TypedGiven, unknown, Given>({
    resolver: zodResolver(givenFormSchema(unit)),
    defaultValues: { ...g, date: g.date ?? '', plan: shown(g.plan), height: shown(g.height) },
  });
}

/** What the form says of a file; null where nothing was said. */
export const saidOrNothing = (given: Given): Given | null => {
  const nothing = given.by === '' && given.source === '' && given.date === null && !given.plan && !given.height;
  return nothing && given.standing === 'fixed' ? null : given;
};

export function GivenFields({ form, isControl, unit }: { form: GivenFormOf; isControl: boolean; unit: LengthUnit }) {
  const { register, control } = form;
  const { errors } = form.formState;
  const accuracy = (name: string, key: 'plan' | 'height') => (
    <Field numeric width="70px" aria-label={name} {...described(`given-${key}`, errors[key])} {...register(key)} />
  );
  return (
    <>
      <Flex gap="6px" wrap="wrap" align="center" py="4px">
        given by
        <Field width="150px" aria-label="given by" maxLength={120} {...register('by')} />
        on
        <Field type="date" aria-label="date" {...register('date')} />
        from
        <Field
          width="170px"
          aria-label="source"
          placeholder="sheet, letter, register"
          maxLength={200}
          {...register('source')}
        />
      </Flex>
      {isControl ? (
        <>
          <Flex gap="6px" wrap="wrap" align="center" py="4px">
            standing
            <Controller
              control={control}
              name="standing"
              render={({ field }) => (
                <Choice
                  name="standing"
                  value={field.value}
                  options={(Object.keys(STANDING_NAME) as Standing[]).map((k) => [k, STANDING_NAME[k]] as const)}
                  onChange={field.onChange}
                />
              )}
            />
            accuracy in plan {accuracy('accuracy in plan', 'plan')} in height {accuracy('accuracy in height', 'height')}
            {UNIT_SIGN[unit]}
          </Flex>
          <FieldProblem id="given-plan" error={errors.plan} />
          <FieldProblem id="given-height" error={errors.height} />
        </>
      ) : null}
    </>
  );
}

export function GivenForm({
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
  const form = useGivenForm(intake.given, unit);
  return (
    <Form
      onSubmit={form.handleSubmit((given) => onSet(saidOrNothing(given)))}
      onKeyDown={(e) => e.key === 'Escape' && onLeave()}
      aria-label={`who gave ${intake.fileName}`}
    >
      <GivenFields form={form} isControl={intake.purpose === 'control'} unit={unit} />
      <Flex gap="8px" py="4px">
        <Act type="submit" look="solid">
          Save
        </Act>
        <Act type="button" onClick={onLeave}>
          Cancel
        </Act>
      </Flex>
    </Form>
  );
}
