import { Flex } from '@chakra-ui/react';
import { useForm } from 'react-hook-form';
import { applyMatrix, fitPairs } from '#core/basis';
import { editAt, type Change, type PointEdit } from '#core/project';
import { movedByFigures } from '#core/stages';
import { readAngle, readLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Field, Pick } from '../../frame/controls.tsx';
import { FieldProblem, Form } from '../../frame/form.tsx';
import { keyOf } from '../../project-state/edit.ts';
import { useParts } from '../../project-state/store.ts';
import { pointsNumbered, whyUnclear } from '../../project-state/points-numbered.ts';
import { fullPoints } from './full-points.ts';

type Doing =
  'code' | 'renumber' | 'prefix' | 'shift' | 'turn' | 'scale' | 'fit' | 'off' | 'on' | 'full' | 'light' | 'received';

const DOING: Record<Doing, string> = {
  code: 'the same code',
  renumber: 'new numbers in a row',
  prefix: 'a prefix to the number',
  shift: 'shifted',
  turn: 'rotated about their centre',
  scale: 'scaled about their centre',
  fit: 'fitted on pairs of points',
  off: 'excluded',
  on: 'used again',
  full: 'full points, numbered',
  light: 'ground-only points again',
  received: 'as received',
};

/** More points than one change by hand can hold; whole files are carried over under Basis. */
const MOST = 20_000;

/** What is wanted of the marked points, and up to three values as they were typed. */
interface Wanted {
  doing: Doing;
  a: string;
  b: string;
  c: string;
}
const VALUES = ['a', 'b', 'c'] as const;

/** What marked points become: one change with its preview. Coordinates that come from readings are not typed over. */
export function EditPoints({
  count: marked,
  rowsInOrder,
  onDone,
}: {
  count: number;
  rowsInOrder: () => readonly number[];
  onDone: () => void;
}) {
  const { state, tables, propose } = useParts('state', 'tables', 'propose');
  const { register, handleSubmit, watch, setError, clearErrors, formState } = useForm<Wanted>({
    defaultValues: { doing: 'code', a: '', b: '', c: '' },
  });
  const doing = watch('doing');
  const problem = formState.errors.a;
  const doc = state!.document;
  const { points } = tables!;
  const { unit, angle, order } = doc.settings;
  const sign = UNIT_SIGN[unit];
  const fields: Partial<Record<Doing, string[]>> = {
    code: ['code'],
    renumber: ['first number', 'step'],
    prefix: ['sign'],
    shift: [
      `${order === 'EN' ? 'east' : 'north'} ${sign}`,
      `${order === 'EN' ? 'north' : 'east'} ${sign}`,
      `up ${sign}`,
    ],
    turn: ['clockwise'],
    scale: ['factor'],
    full: ['first number', 'code'],
    fit: ['pairs: 12=KB1 14=KB2'],
  };
  const show = handleSubmit((wanted) => {
    const wrong = (message: string): void => setError('a', { message });
    if (marked > MOST)
      return wrong(`${marked} points are marked; one change holds ${MOST}. Whole files are transformed under Basis.`);
    const edits = editsOf(rowsInOrder(), wanted);
    if (typeof edits === 'string') return wrong(edits);
    const count = Object.keys(edits).length;
    if (count === 0) return wrong('None of the marked points would change.');
    (document.activeElement as HTMLElement | null)?.blur();
    void propose(`${count === 1 ? 'One point' : `${count} points`} ${DOING[doing]}`, { op: 'points.edit', edits });
    onDone();
  });

  type Edits = Extract<Change, { op: 'points.edit' }>['edits'];
  function editsOf(rows: readonly number[], wanted: Wanted): Edits | string {
    const { a, b } = wanted;
    const edits: Edits = {};
    const is = (row: number, set: PointEdit): void => {
      edits[keyOf(doc, tables!, row)] = { set, undo: [] };
    };
    const move =
      doing === 'shift' || doing === 'turn' || doing === 'scale' || doing === 'fit' ? moveOf(rows, wanted) : null;
    if (typeof move === 'string') return move;
    let number = a.trim() ? Number(a) : NaN;
    const step = b.trim() ? Number(b) : 1;
    if (doing === 'renumber' && !(Number.isInteger(number) && Number.isInteger(step) && number >= 0 && step !== 0)) return 'Numbers in a row begin with a whole number and go by whole steps.'; // prettier-ignore
    if (doing === 'prefix' && !a.trim()) return 'Type the prefix of the numbers.';
    const full = doing === 'full' ? fullPoints(points, rows, a, b) : null;
    if (typeof full === 'string') return full;
    full?.forEach((edit, row) => is(row, edit));
    for (const row of rows) {
      const book = doc.intakes[points.intake[row]].form === 'book';
      const key = keyOf(doc, tables!, row);
      if (doing === 'code') is(row, { description: a.trim() });
      if (doing === 'renumber') {
        is(row, { number: String(number) });
        number += step;
      }
      if (doing === 'prefix') is(row, { number: a.trim() + points.number.get(row) });
      if (doing === 'off') is(row, { off: true });
      if (doing === 'on') edits[key] = { set: {}, undo: ['off'] };
      if (doing === 'light' && editAt(doc, key)?.full) edits[key] = { set: {}, undo: ['full'] };
      const edited = doing === 'received' ? editAt(doc, key) : undefined;
      if (edited) edits[key] = { set: {}, undo: Object.keys(edited) as (keyof PointEdit)[] };
      if (!move) continue;
      if (book)
        return `Point ${points.number.get(row)} comes from readings; what is computed is not moved by hand. Change the book, or transform the whole file.`;
      const to = move(points.x[row], points.y[row], points.z[row]);
      is(row, { x: to.x, y: to.y, ...(Number.isNaN(to.z) || to.z === points.z[row] ? {} : { z: to.z }) });
    }
    return edits;
  }

  function moveOf(
    rows: readonly number[],
    { a, b, c }: Wanted,
  ): string | ((x: number, y: number, z: number) => { x: number; y: number; z: number }) {
    const sum = rows.reduce((s, r) => ({ x: s.x + points.x[r], y: s.y + points.y[r] }), { x: 0, y: 0 });
    const about = { x: sum.x / rows.length, y: sum.y / rows.length };
    const none = { about, turn: 0, scale: 1, shift: { x: 0, y: 0, z: 0 } };
    if (doing === 'shift') {
      const read = [a, b, c].map((t) => readLength(t || '0', unit));
      for (const r of read) if (!r.ok) return r.reason;
      const [p, q, z] = read.map((r) => (r.ok ? r.metres : 0));
      const shift = order === 'EN' ? { x: p, y: q, z } : { x: q, y: p, z };
      return (x, y, h) => movedByFigures({ ...none, shift }, 0, 1, x, y, h);
    }
    if (doing === 'fit') return fitOf(rows, a);
    if (doing === 'scale') {
      const scale = Number(a.replace(',', '.'));
      if (!(scale > 0.001 && scale < 1000)) return 'A scale factor is a number such as 0.99984.';
      return (x, y, h) => movedByFigures({ ...none, scale }, 0, 1, x, y, h);
    }
    const turn = readAngle(a, angle);
    if (!turn.ok) return turn.reason;
    return (x, y, h) => movedByFigures(none, Math.sin(turn.radians), Math.cos(turn.radians), x, y, h);
  }

  /** Four parameters in plan with a shift in height, from pairs of numbers: the first goes where the second stands. */
  function fitOf(
    rows: readonly number[],
    pairs: string,
  ): string | ((x: number, y: number, z: number) => { x: number; y: number; z: number }) {
    const wanted = pairs
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map((p) => p.split('='));
    if (wanted.length < 2 || wanted.some((p) => p.length !== 2)) return 'Two pairs at least: 12=KB1 14=KB2, the number that moves and the one that it goes to.'; // prettier-ignore
    const isControl = (row: number): boolean => doc.intakes[points.intake[row]].purpose === 'control';
    const from = pointsNumbered(points, wanted.map(([moves]) => moves), [new Set(rows)]); // prettier-ignore
    const to = pointsNumbered(points, wanted.map(([, stays]) => stays), [{ has: isControl }]); // prettier-ignore
    for (const [number, found] of [...from, ...to]) {
      const unclear = whyUnclear(number, found);
      if (unclear) return unclear;
    }
    const place = ([row]: readonly number[]) => ({ x: points.x[row], y: points.y[row], z: points.z[row] });
    const fitted = fitPairs(
      wanted.map(([a, b]) => ({ name: a, from: place(from.get(a)!), to: place(to.get(b)!), plan: true, height: true })),
      { kind: 'plan', scale: 'free', height: 'shift' },
    );
    if (!fitted.ok) return fitted.reason;
    const { matrix } = fitted.fit;
    return (x, y, z) => {
      const to = applyMatrix(matrix, x, y, Number.isNaN(z) ? 0 : z);
      return { x: to.x, y: to.y, z: Number.isNaN(z) ? NaN : to.z };
    };
  }

  return (
    <Form
      role="group"
      aria-label="change the marked points"
      borderTop="1px solid"
      borderColor="ink"
      bg="leaf"
      p="8px 10px"
      flexShrink={0}
      onSubmit={show}
    >
      <Flex gap="8px" align="center" wrap="wrap">
        <Aside>{marked === 1 ? 'one point' : `${marked} points`} marked:</Aside>
        <Pick aria-label="what the points become" {...register('doing', { onChange: () => clearErrors() })}>
          {Object.entries(DOING).map(([k, name]) => (
            <option key={k} value={k}>
              {name}
            </option>
          ))}
        </Pick>
        {(fields[doing] ?? []).map((name, i) => (
          <Field
            key={name}
            width={doing === 'fit' ? '240px' : '96px'}
            placeholder={name}
            aria-label={name}
            {...register(VALUES[i])}
          />
        ))}
        <Act type="submit" look="solid">
          Show it
        </Act>
        <Act type="button" look="quiet" onClick={onDone}>
          Unmark
        </Act>
      </Flex>
      <FieldProblem id="points-problem" error={problem} />
    </Form>
  );
}
