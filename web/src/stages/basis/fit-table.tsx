import { Box, chakra, Flex } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { useForm } from 'react-hook-form';
import { z } from 'zod';
import type { PairResidual } from '#core/basis';
import type { Settings } from '#core/project';
import { formatFixed, formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Cut, Field, Num } from '../../frame/controls.tsx';
import { described, FieldProblem, Form } from '../../frame/form.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import type { NamedPlaces, Pairing } from './fit-pairs.ts';

/** Common points with their residuals; each on or off in plan and in height, with the result following. */
export function FitTable({
  pairs,
  residuals,
  known,
  settings: s,
  onChange,
}: {
  pairs: Pairing[];
  residuals: PairResidual[] | null;
  known: (pair: Pairing) => boolean;
  settings: Settings;
  onChange: (pairs: Pairing[]) => void;
}) {
  if (pairs.length === 0) return null;
  const sign = UNIT_SIGN[s.unit];
  const set = (i: number, part: Partial<Pairing>): void =>
    onChange(pairs.map((p, k) => (k === i ? { ...p, ...part } : p)));
  const rows: PairRow[] = [];
  let at = -1;
  for (const [index, pair] of pairs.entries()) {
    const isKnown = known(pair);
    if (isKnown) at++;
    const r = isKnown ? residuals?.[at] : undefined;
    const worst = r ? Math.max(r.standardised || 0, r.standardisedHeight || 0) : 0;
    const both = pair.from === pair.to ? pair.from : `${pair.from} → ${pair.to}`;
    rows.push({ index, pair, isKnown, r, worst, marked: worst >= s.fitOutlier, both });
  }
  const takesPart = (part: 'plan' | 'height'): SmallColumn<PairRow> => ({
    id: part,
    head: part,
    cell: ({ index, pair, both }) => (
      <input
        type="checkbox"
        aria-label={`${both} takes part in ${part}`}
        checked={pair[part]}
        onChange={(e) => set(index, { [part]: e.target.checked })}
      />
    ),
  });
  const residual = (of: 'x' | 'y' | 'z', head: string): SmallColumn<PairRow> => ({
    id: of,
    head: `v ${head} ${sign}`,
    by: ({ r }) => r && Math.abs(r[of]),
    cell: ({ r }) => (r ? <Num>{formatLength(r[of], s.unit, 3)}</Num> : null),
  });
  const plan = [residual('x', 'east'), residual('y', 'north')];
  if (s.order === 'NE') plan.reverse();
  const columns: SmallColumn<PairRow>[] = [
    {
      id: 'point',
      head: 'Point',
      by: (row) => row.both,
      style: { maxWidth: '150px' },
      cell: (row) => (
        <Flex>
          <Cut fontFamily="mono" fontSize="13px">
            {row.both}
          </Cut>
        </Flex>
      ),
    },
    takesPart('plan'),
    takesPart('height'),
    {
      ...plan[0],
      // Without residuals a word takes the place of all three.
      spans: ({ r }) => (r ? 1 : 3),
      cell: (row) => (row.r ? plan[0].cell(row) : <Aside>{row.isKnown ? '–' : 'not on both sides any more'}</Aside>),
    },
    plan[1],
    residual('z', 'elev'),
    {
      id: 'standardised',
      head: 'v / s',
      title: 'residual over its own standard deviation',
      by: (row) => row.worst,
      cell: ({ worst, marked }) =>
        worst > 0 ? (
          <Num color={marked ? 'pole' : undefined} fontWeight={marked ? '600' : undefined}>
            {marked ? '▲ ' : ''}
            {formatFixed(worst, 1)}
          </Num>
        ) : (
          '–'
        ),
    },
    {
      id: 'remove',
      head: <chakra.span srOnly>remove</chakra.span>,
      cell: ({ index, both }) => (
        <Act
          look="quiet"
          aria-label={`remove the pair ${both}`}
          onClick={() => onChange(pairs.filter((_, k) => k !== index))}
        >
          ×
        </Act>
      ),
    },
  ];
  return (
    <Box bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px" overflowX="auto" maxHeight="300px">
      <SmallTable
        label="common points"
        columns={columns}
        rows={rows}
        rowKey={(row) => `${row.both} ${row.index}`}
        rowStyle={({ pair }) => ({ color: pair.plan || pair.height ? undefined : 'slate' })}
        cellStyle={{ whiteSpace: 'nowrap' }}
      />
    </Box>
  );
}

interface PairRow {
  index: number;
  pair: Pairing;
  isKnown: boolean;
  r: PairResidual | undefined;
  /** Larger of its standardised residuals in plan and height; 0 where there is none. */
  worst: number;
  marked: boolean;
  both: string;
}

/** A pair whose two numbers differ, or that is no control. */
export function NewPair({
  from,
  to,
  order,
  onAdd,
  onPoint,
}: {
  from: Pick<NamedPlaces, 'has'>;
  to: Pick<NamedPlaces, 'has'>;
  /** In which coordinates are typed. */
  order: Settings['order'];
  onAdd: (pair: Pairing) => void;
  /** Asks for both on the drawing. */
  onPoint: () => void;
}) {
  const pairSchema = z
    .object({ one: z.string().trim(), other: z.string().trim() })
    .transform(({ one, other }) => ({ one, other: other || one }))
    .superRefine(({ one, other }, context) => {
      const wrong = !from.has(one)
        ? `The files have no point ${one || 'without a number'}, or more than one; coordinates are typed with a blank between.`
        : to.has(other)
          ? null
          : `Neither control nor the files that stay have a point ${other}; coordinates are typed with a blank between.`;
      if (wrong) context.addIssue({ code: 'custom', path: [from.has(one) ? 'other' : 'one'], message: wrong });
    });
  const { register, handleSubmit, reset, watch, formState } = useForm({
    resolver: zodResolver(pairSchema),
    defaultValues: { one: '', other: '' },
  });
  const { errors } = formState;
  const typed = watch('one');
  const typedAs = `number, or ${order === 'EN' ? 'E N' : 'N E'}`;
  const submit = handleSubmit(({ one, other }) => {
    reset();
    onAdd({ from: one, to: other, plan: true, height: true });
  });
  return (
    <Form onSubmit={submit} display="flex" gap="8px" px="12px" py="6px" alignItems="center" flexWrap="wrap">
      Point
      <Field
        aria-label="number in the files"
        placeholder={typedAs}
        width="150px"
        {...register('one')}
        {...described('pair-problem', errors.one)}
      />
      of the files is
      <Field
        aria-label="number on the other side"
        width="150px"
        placeholder={typed || typedAs}
        {...register('other')}
        {...described('pair-problem', errors.other)}
      />
      <Act type="submit" disabled={!typed.trim()}>
        Add the pair
      </Act>
      <Act type="button" onClick={onPoint}>
        Point at both …
      </Act>
      <FieldProblem id="pair-problem" error={errors.one ?? errors.other} />
    </Form>
  );
}
