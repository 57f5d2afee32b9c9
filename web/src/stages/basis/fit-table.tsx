import { Box, chakra, Flex } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { useForm } from 'react-hook-form';
import { z } from 'zod';
import type { PairResidual } from '#core/basis';
import type { Settings } from '#core/project';
import { formatFixed, formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Cut, Field, Num } from '../../frame/controls.tsx';
import { described, FieldProblem, Form } from '../../frame/form.tsx';
import { BODY_CELL, HeadCell } from '../../frame/table.tsx';
import type { Pairing } from './fit-pairs.ts';

const Cell = chakra('td', { base: { ...BODY_CELL, whiteSpace: 'nowrap' } });

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
  let at = -1;
  const [first, second] = s.order === 'EN' ? (['x', 'y'] as const) : (['y', 'x'] as const);
  const name = { x: 'east', y: 'north' };
  return (
    <Box bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px" overflowX="auto" maxHeight="300px">
      <chakra.table width="100%" borderCollapse="collapse" aria-label="common points">
        <thead>
          <tr>
            <HeadCell scope="col">Point</HeadCell>
            <HeadCell scope="col">plan</HeadCell>
            <HeadCell scope="col">height</HeadCell>
            <HeadCell scope="col">
              v {name[first]} {sign}
            </HeadCell>
            <HeadCell scope="col">
              v {name[second]} {sign}
            </HeadCell>
            <HeadCell scope="col">v elev {sign}</HeadCell>
            <HeadCell scope="col" title="residual over its own standard deviation">
              v / s
            </HeadCell>
            <HeadCell scope="col">
              <chakra.span srOnly>remove</chakra.span>
            </HeadCell>
          </tr>
        </thead>
        <tbody>
          {pairs.map((p, i) => {
            const isKnown = known(p);
            if (isKnown) at++;
            const r = isKnown ? residuals?.[at] : undefined;
            const worst = r ? Math.max(r.standardised || 0, r.standardisedHeight || 0) : 0;
            const marked = worst >= s.fitOutlier;
            const both = p.from === p.to ? p.from : `${p.from} → ${p.to}`;
            return (
              <chakra.tr key={`${both}${i}`} color={p.plan || p.height ? undefined : 'slate'}>
                <Cell maxWidth="150px">
                  <Flex>
                    <Cut fontFamily="mono" fontSize="13px">
                      {both}
                    </Cut>
                  </Flex>
                </Cell>
                <Cell>
                  <input
                    type="checkbox"
                    aria-label={`${both} takes part in plan`}
                    checked={p.plan}
                    onChange={(e) => set(i, { plan: e.target.checked })}
                  />
                </Cell>
                <Cell>
                  <input
                    type="checkbox"
                    aria-label={`${both} takes part in height`}
                    checked={p.height}
                    onChange={(e) => set(i, { height: e.target.checked })}
                  />
                </Cell>
                {r ? (
                  [r[first], r[second], r.z].map((v, k) => (
                    <Cell key={k}>
                      <Num>{formatLength(v, s.unit, 3)}</Num>
                    </Cell>
                  ))
                ) : (
                  <Cell colSpan={3}>
                    <Aside>{isKnown ? '–' : 'not on both sides any more'}</Aside>
                  </Cell>
                )}
                <Cell>
                  {worst > 0 ? (
                    <Num color={marked ? 'pole' : undefined} fontWeight={marked ? '600' : undefined}>
                      {marked ? '▲ ' : ''}
                      {formatFixed(worst, 1)}
                    </Num>
                  ) : (
                    '–'
                  )}
                </Cell>
                <Cell>
                  <Act
                    look="quiet"
                    aria-label={`take the pair ${both} out`}
                    onClick={() => onChange(pairs.filter((_, k) => k !== i))}
                  >
                    ×
                  </Act>
                </Cell>
              </chakra.tr>
            );
          })}
        </tbody>
      </chakra.table>
    </Box>
  );
}

/** A pair whose two numbers differ, or that is no control. */
export function NewPair({
  from,
  to,
  onAdd,
}: {
  from: Map<string, unknown>;
  to: Map<string, unknown>;
  onAdd: (pair: Pairing) => void;
}) {
  const pairSchema = z
    .object({ one: z.string().trim(), other: z.string().trim() })
    .transform(({ one, other }) => ({ one, other: other || one }))
    .superRefine(({ one, other }, context) => {
      const wrong = !from.has(one)
        ? `The files have no point ${one || 'without a number'}, or more than one.`
        : to.has(other)
          ? null
          : `Neither control nor the files that stay have a point ${other}.`;
      if (wrong) context.addIssue({ code: 'custom', path: [from.has(one) ? 'other' : 'one'], message: wrong });
    });
  const { register, handleSubmit, reset, watch, formState } = useForm({
    resolver: zodResolver(pairSchema),
    defaultValues: { one: '', other: '' },
  });
  const { errors } = formState;
  const typed = watch('one');
  const submit = handleSubmit(({ one, other }) => {
    reset();
    onAdd({ from: one, to: other, plan: true, height: true });
  });
  return (
    <Form onSubmit={submit} display="flex" gap="8px" px="12px" py="6px" alignItems="center" flexWrap="wrap">
      Point
      <Field
        aria-label="number in the files"
        width="84px"
        {...register('one')}
        {...described('pair-problem', errors.one)}
      />
      of the files is
      <Field
        aria-label="number on the other side"
        width="84px"
        placeholder={typed}
        {...register('other')}
        {...described('pair-problem', errors.other)}
      />
      <Act type="submit" disabled={!typed.trim()}>
        Add the pair
      </Act>
      <FieldProblem id="pair-problem" error={errors.one ?? errors.other} />
    </Form>
  );
}
