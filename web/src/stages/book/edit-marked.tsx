import { Flex } from '@chakra-ui/react';
import { useForm } from 'react-hook-form';
import { editAt, type Change, type PointEdit } from '#core/project';
import { UNIT_SIGN } from '#core/measure';
import { Act, Aside, Field, Pick } from '../../frame/controls.tsx';
import { described, FieldProblem, Form } from '../../frame/form.tsx';
import { useParts } from '../../project-state/store.ts';
import { recordValues, type ReadingField } from '../../work/book-columns.ts';
import { readField } from '../../cards/readings.ts';
import { keyOfItem, type Item } from './record-items.ts';

const FIELDS = {
  height: 'target or instrument height',
  description: 'code',
  number: 'number',
  circle: 'circle',
  zenith: 'vertical angle',
  distance: 'slope distance',
  role: 'what it is sighted for',
  off: 'used or not',
  received: 'everything, as received',
} as const;
type MarkedField = keyof typeof FIELDS;

const CHOICES: Partial<Record<MarkedField, Record<string, string>>> = {
  role: { shot: 'a shot', back: 'a backsight', check: 'a check' },
  off: { off: 'excluded', on: 'used' },
};

interface Marked {
  field: MarkedField;
  typed: string;
  why: string;
}

/** One value for every marked record, with why; its consequences are previewed like any other change. */
export function EditMarked({ items, onDone }: { items: readonly Item[]; onDone: () => void }) {
  const { state, propose } = useParts('state', 'propose');
  const { register, handleSubmit, watch, setValue, setError, formState } = useForm<Marked>({
    defaultValues: { field: 'height', typed: '', why: '' },
  });
  const field = watch('field');
  const wrong = formState.errors.typed;
  const doc = state!.document;
  const choices = CHOICES[field];
  const preview = handleSubmit(({ typed, why }) => {
    const edits: Extract<Change, { op: 'points.edit' }>['edits'] = {};
    const first = choices ? Object.keys(choices)[0] : '';
    const value = choices ? typed || first : typed.trim();
    for (const item of items) {
      const key = keyOfItem(item);
      const before = recordValues(item.book, item.at, editAt(doc, key));
      const made = editFor(before);
      if (typeof made === 'string') return setError('typed', { message: made });
      if (made) edits[key] = made;
    }
    const count = Object.keys(edits).length;
    if (count === 0) return setError('typed', { message: 'None of the marked records has that, or all have this value already.' }); // prettier-ignore
    // Enter and Escape decide on the preview from here on.
    (document.activeElement as HTMLElement | null)?.blur();
    void propose(`${FIELDS[field]} of ${count} records${field === 'received' ? '' : `: ${value || 'none'}`}`, {
      op: 'points.edit',
      edits,
      ...(why.trim() ? { why: why.trim() } : {}),
    });

    function editFor(before: ReturnType<typeof recordValues>): { set: PointEdit; undo: never[] } | string | null {
      const is = (set: PointEdit) => ({ set, undo: [] as never[] });
      if (field === 'received')
        return before.edited.length ? { set: {}, undo: before.edited as unknown as never[] } : null;
      if (field === 'off') return before.off === (value === 'off') ? null : is({ off: value === 'off' });
      if (field === 'description') return before.code === value ? null : is({ description: value });
      if (field === 'number') return value ? is({ number: value }) : 'A number is needed.';
      if (field === 'role')
        return before.kind !== 'sighting' || before.role === value ? null : is({ role: value as 'shot' });
      if (before.kind !== 'sighting' && !(field === 'height' && before.kind === 'setup')) return null;
      const read = readField(field as ReadingField, value, doc.settings, before.zenith);
      if (!read.ok) return read.reason;
      return Math.abs(read.value - before[field as ReadingField]) < 1e-10 ? null : is({ [field]: read.value });
    }
  });
  return (
    <Form
      role="group"
      aria-label="change the marked records"
      borderTop="1px solid"
      borderColor="ink"
      bg="wash"
      px="10px"
      py="8px"
      onSubmit={preview}
    >
      <Flex gap="8px" align="center" wrap="wrap">
        <b>{items.length} marked:</b>
        <Pick
          aria-label="what to change"
          {...register('field', {
            onChange: (e: { target: { value: MarkedField } }) =>
              setValue('typed', Object.keys(CHOICES[e.target.value] ?? {})[0] ?? ''),
          })}
        >
          {Object.entries(FIELDS).map(([k, v]) => (
            <option key={k} value={k}>
              {v}
            </option>
          ))}
        </Pick>
        {field === 'received' ? null : choices ? (
          <Pick key={field} aria-label="new value" {...register('typed')}>
            {Object.entries(choices).map(([k, v]) => (
              <option key={k} value={k}>
                {v}
              </option>
            ))}
          </Pick>
        ) : (
          <Field
            aria-label="new value"
            placeholder={field === 'height' || field === 'distance' ? UNIT_SIGN[doc.settings.unit] : ''}
            width="110px"
            fontFamily="mono"
            {...register('typed')}
            {...described('marked-problem', wrong)}
          />
        )}
        <Field
          aria-label="why"
          placeholder="why (kept with the change)"
          flex="1 1 170px"
          maxLength={500}
          {...register('why')}
        />
        <Act type="submit" look="solid">
          Preview
        </Act>
        <Act look="quiet" type="button" onClick={onDone}>
          Unmark
        </Act>
      </Flex>
      <FieldProblem id="marked-problem" error={wrong} />
      {wrong ? null : <Aside>shift and arrows mark a run, control and click single records</Aside>}
    </Form>
  );
}
