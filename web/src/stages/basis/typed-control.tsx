import { Box, Flex } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { useState, type ClipboardEvent } from 'react';
import { useFieldArray, useForm } from 'react-hook-form';
import { z } from 'zod';
import { type Given, type Intake } from '#core/project';
import { writeText } from '#core/exchange';
import { readLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { api, problemText } from '../../frame/api.ts';
import { Act, Aside, Field, Leaf, Num } from '../../frame/controls.tsx';
import { described, FieldProblem, Form } from '../../frame/form.tsx';
import { useParts, useProject } from '../../project-state/store.ts';

interface Row {
  number: string;
  first: string;
  second: string;
  z: string;
}

const EMPTY: Row = { number: '', first: '', second: '', z: '' };
const FIELDS = ['number', 'first', 'second', 'z'] as const;

/** Control that no file holds: typed, or pasted from a spreadsheet, kept as an original like any other. */
export function TypedControl({ onLeave }: { onLeave: () => void }) {
  const { state, id, refresh } = useParts('state', 'id', 'refresh');
  const s = state!.document.settings;
  const sign = UNIT_SIGN[s.unit];
  const heads = [
    'number',
    ...(s.order === 'EN' ? [`east ${sign}`, `north ${sign}`] : [`north ${sign}`, `east ${sign}`]),
    `elevation ${sign}`,
  ];
  const { register, control, handleSubmit, watch, formState } = useForm<TypedForm>({
    resolver: zodResolver(typedSchema(s.unit, heads)),
    defaultValues: { rows: [{ ...EMPTY }, { ...EMPTY }], by: '', source: '' },
  });
  const { fields, append, replace } = useFieldArray({ control, name: 'rows' });
  const [problem, setProblem] = useState('');
  const typed = watch('rows');
  const paste = (i: number, e: ClipboardEvent): void => {
    const text = e.clipboardData.getData('text/plain');
    if (!/[\t\n]/.test(text)) return;
    e.preventDefault();
    const pasted = text
      .split(/\r?\n/)
      .filter((l) => l.trim())
      .slice(0, 200)
      .map((l) => {
        const [number = '', first = '', second = '', z = ''] = l.split('\t').map((f) => f.trim());
        return { number, first, second, z };
      });
    replace([...typed.slice(0, i), ...pasted, ...typed.slice(i + pasted.length)]);
  };

  const submit = handleSubmit(async ({ rows, by, source }) => {
    setProblem('');
    try {
      // In metres to a tenth of a micrometre: what was typed comes back to the last digit in every unit.
      const text = writeText(pointsOf(rows, s.unit, s.order), {
        order: ['P', 'E', 'N', 'Z'],
        unit: 'm',
        decimals: 7,
        separator: ',',
        headings: true,
      });
      const stamp = new Date().toISOString();
      const name = `typed-control-${stamp.slice(0, 16).replace(/[:T]/g, '-')}.csv`;
      const received = await api.upload(id, new File([text], name), () => {}, new AbortController().signal);
      const given: Given = {
        by: by.trim(),
        date: stamp.slice(0, 10),
        source: source.trim() || 'typed in',
        standing: 'fixed',
        plan: null,
        height: null,
      };
      const intake: Intake = {
        id: crypto.randomUUID().slice(0, 13),
        fileId: received.id,
        fileName: name,
        sha256: received.sha256,
        layout: { separator: ',', decimal: '.', skipRows: 1, roles: ['P', 'E', 'N', 'Z'], unit: 'm' },
        purpose: 'control',
        on: true,
        numbers: { all: 'both', each: {} },
        given,
      };
      await api.startIntake(id, useProject.getState().state!.revision, intake);
      await refresh();
      onLeave();
    } catch (error) {
      setProblem(problemText(error));
    }
  });

  return (
    <Leaf head="Control typed in" mb="10px" pb="8px">
      <Form onSubmit={submit} px="12px" onKeyDown={(e) => e.key === 'Escape' && onLeave()}>
        <Flex gap="6px" mb="2px">
          {heads.map((h, i) => (
            <Aside key={h} width={i === 0 ? '90px' : '122px'} fontSize="12px">
              {h}
            </Aside>
          ))}
        </Flex>
        {fields.map(({ id: key }, i) => {
          const wrong = FIELDS.map((f) => formState.errors.rows?.[i]?.[f]).find(Boolean);
          return (
            <Box key={key}>
              <Flex gap="6px" mb="4px" align="center">
                {FIELDS.map((field, k) => (
                  <Field
                    key={field}
                    autoFocus={i === 0 && k === 0}
                    numeric={k > 0 ? true : undefined}
                    width={k === 0 ? '90px' : '122px'}
                    maxLength={60}
                    aria-label={`${heads[k]}, row ${i + 1}`}
                    onPaste={(e) => k === 0 && paste(i, e)}
                    {...register(`rows.${i}.${field}`)}
                    {...described(`row-${i}-problem`, formState.errors.rows?.[i]?.[field])}
                  />
                ))}
                <Echo row={typed[i] ?? EMPTY} unit={s.unit} />
              </Flex>
              <FieldProblem id={`row-${i}-problem`} error={wrong} />
            </Box>
          );
        })}
        <Flex gap="6px" my="6px" wrap="wrap" align="center">
          given by
          <Field aria-label="given by" width="140px" maxLength={120} {...register('by')} />
          from
          <Field
            aria-label="source"
            width="170px"
            maxLength={200}
            placeholder="sheet, letter, call"
            {...register('source')}
          />
        </Flex>
        {problem ? (
          <Box role="alert" color="pole" mb="6px">
            {problem}
          </Box>
        ) : null}
        <Flex gap="8px">
          <Act type="submit" look="solid" disabled={formState.isSubmitting}>
            Import it as control
          </Act>
          <Act type="button" onClick={() => append({ ...EMPTY })}>
            Another row
          </Act>
          <Act type="button" onClick={onLeave}>
            Cancel
          </Act>
        </Flex>
      </Form>
    </Leaf>
  );
}

/** How a row is understood, when anything in it has a unit of its own. */
function Echo({ row, unit }: { row: Row; unit: LengthUnit }) {
  const reads = [row.first, row.second, row.z].filter((t) => t.trim()).map((t) => readLength(t, unit));
  const bad = reads.find((r) => !r.ok);
  if (bad && !bad.ok) return <Aside color="pole">not a length</Aside>;
  const own = [row.first, row.second, row.z].some((t) => /[a-z]/i.test(t));
  return own ? (
    <Aside whiteSpace="nowrap">
      = <Num>{reads.map((r) => (r.ok ? r.echo : '')).join(', ')}</Num>
    </Aside>
  ) : null;
}

const isBlank = (row: Row): boolean => FIELDS.every((f) => row[f].trim() === '');

/** Points typed row by row: each with a number of its own, two coordinates, and an elevation or none. */
export const typedSchema = (unit: LengthUnit, heads: readonly string[]) =>
  z
    .object({
      rows: z.array(z.object({ number: z.string().trim(), first: z.string(), second: z.string(), z: z.string() })),
      by: z.string().trim(),
      source: z.string().trim(),
    })
    .superRefine(({ rows }, context) => {
      const wrong = (path: PropertyKey[], message: string): void => context.addIssue({ code: 'custom', path, message });
      const seen = new Map<string, number>();
      rows.forEach((row, i) => {
        if (isBlank(row)) return;
        const before = seen.get(row.number);
        if (!row.number) wrong(['rows', i, 'number'], `Row ${i + 1} has no number.`);
        else if (before !== undefined)
          wrong(['rows', i, 'number'], `Row ${i + 1}: ${row.number} stands in row ${before + 1} already. Which is meant?`); // prettier-ignore
        else seen.set(row.number, i);
        for (const [k, field] of (['first', 'second', 'z'] as const).entries()) {
          if (field === 'z' && row.z.trim() === '') continue;
          const read = readLength(row[field], unit);
          if (!read.ok) wrong(['rows', i, field], `Row ${i + 1}, ${heads[k + 1]}: ${read.reason}`);
        }
      });
      if (rows.every(isBlank)) wrong(['rows', 0, 'number'], 'Type at least one point.');
    });
type TypedForm = z.infer<ReturnType<typeof typedSchema>>;

/** Typed points in metres; an elevation that was not typed is NaN. Rows without anything are skipped. */
function pointsOf(rows: readonly Row[], unit: LengthUnit, order: 'EN' | 'NE') {
  const metres = (text: string): number => {
    const read = readLength(text, unit);
    return read.ok ? read.metres : NaN;
  };
  return rows
    .filter((row) => !isBlank(row))
    .map((row) => {
      const [a, b] = [metres(row.first), metres(row.second)];
      const [x, y] = order === 'EN' ? [a, b] : [b, a];
      return { number: row.number, x, y, z: metres(row.z), description: '' };
    });
}
