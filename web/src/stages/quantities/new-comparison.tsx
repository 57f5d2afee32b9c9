import { zodResolver } from '@hookform/resolvers/zod';
import { useForm } from 'react-hook-form';
import { z } from 'zod';
import { readLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { groundOf, type Comparison } from '#core/project';
import { Act, Aside, Field, Leaf, Pick } from '../../frame/controls.tsx';
import { described, FieldProblem, Form } from '../../frame/form.tsx';
import { useParts } from '../../project-state/store.ts';

/** Stands for the base of the heap that a surface is; surfaces have other ids. */
const OWN_BASE = '*base';

/** A surface against another, or against a level typed in the project's unit; `against` is empty for a level. */
const comparisonFormSchema = (unit: LengthUnit) =>
  z
    .object({ from: z.string(), against: z.string(), level: z.string(), name: z.string().trim().max(120) })
    .superRefine(({ against, level }, context) => {
      if (against) return;
      const read = level.trim() ? readLength(level, unit) : null;
      if (read?.ok) return;
      context.addIssue({ code: 'custom', path: ['level'], message: read?.reason ?? 'Type the level’s elevation.' });
    });

export function NewComparison({ onClose }: { onClose: () => void }) {
  const { state, make, select } = useParts('state', 'make', 'select');
  const { surfaces, settings, ...doc } = state!.document;
  const { unit } = settings;
  const ground = groundOf({ surfaces, ...doc }).id;
  const { register, handleSubmit, watch, setValue, formState } = useForm({
    resolver: zodResolver(comparisonFormSchema(unit)),
    defaultValues: { from: ground, against: surfaces.find((s) => s.id !== ground)?.id ?? '', level: '', name: '' },
  });
  const { errors } = formState;
  const [from, against, level] = watch(['from', 'against', 'level']);
  const read = level.trim() ? readLength(level, unit) : null;
  const nameOf = (id: string): string => surfaces.find((s) => s.id === id)?.name ?? '';
  const usualName = (v: { from: string; against: string; level: string }): string =>
    v.against === OWN_BASE
      ? `Heap in ${nameOf(v.from)}`
      : `${nameOf(v.from)} to ${v.against ? nameOf(v.against) : v.level}`;
  const submit = handleSubmit(async (v) => {
    const typed = readLength(v.level, unit);
    const comparison: Comparison = {
      id: crypto.randomUUID().slice(0, 8),
      name: v.name || usualName(v).slice(0, 120),
      surface: v.from,
      against: v.against === OWN_BASE ? { base: 'toe' } : v.against || !typed.ok ? { surface: v.against } : { level: typed.metres }, // prettier-ignore
      within: null,
    };
    if (!(await make({ op: 'comparison.set', comparison }))) return;
    select({ kind: 'comparison', id: comparison.id });
    onClose();
  });
  return (
    <Leaf mb="12px" p="12px">
      <Form onSubmit={submit} display="flex" flexWrap="wrap" gap="8px" alignItems="center">
        <span>Compare</span>
        <Pick
          aria-label="surface that is compared"
          maxWidth="210px"
          {...register('from', {
            onChange: (e: { target: { value: string } }) => {
              if (against === e.target.value) setValue('against', '');
            },
          })}
        >
          {surfaces.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </Pick>
        <span>with</span>
        <Pick aria-label="against" maxWidth="210px" {...register('against')}>
          {surfaces
            .filter((s) => s.id !== from)
            .map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          <option value="">a level</option>
          <option value={OWN_BASE}>the base of its heap</option>
        </Pick>
        {against ? null : (
          <>
            <Field
              autoFocus
              numeric
              width="90px"
              aria-label={`level, ${UNIT_SIGN[unit]}`}
              placeholder="62.40"
              {...register('level')}
              {...described('level-problem', errors.level)}
            />
            <Aside>{read?.ok ? `= ${read.echo}` : UNIT_SIGN[unit]}</Aside>
          </>
        )}
        <span>and call it</span>
        <Field width="170px" aria-label="name of the comparison" maxLength={120} {...register('name')} />
        <Act type="submit" look="solid" disabled={formState.isSubmitting}>
          Compute
        </Act>
        <Act type="button" onClick={onClose}>
          Cancel
        </Act>
        <FieldProblem id="level-problem" error={against ? undefined : errors.level} />
      </Form>
    </Leaf>
  );
}
