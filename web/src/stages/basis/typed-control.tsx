import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState, type ClipboardEvent, type FormEvent } from 'react';
import { type Given, type Intake } from '#core/project';
import { writeText } from '#core/exchange';
import { readLength, UNIT_SIGN } from '#core/measure';
import { api, problemText } from '../../frame/api.ts';
import { Act, Aside, Field, Leaf, Num } from '../../frame/controls.tsx';
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
  const [rows, setRows] = useState<Row[]>([{ ...EMPTY }, { ...EMPTY }]);
  const [source, setSource] = useState('');
  const [by, setBy] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const sign = UNIT_SIGN[s.unit];
  const heads = [
    'number',
    ...(s.order === 'EN' ? [`east ${sign}`, `north ${sign}`] : [`north ${sign}`, `east ${sign}`]),
    `elevation ${sign}`,
  ];
  const set = (i: number, field: (typeof FIELDS)[number], value: string): void =>
    setRows(rows.map((r, k) => (k === i ? { ...r, [field]: value } : r)));
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
    setRows([...rows.slice(0, i), ...pasted, ...rows.slice(i + pasted.length)]);
  };

  const submit = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    setProblem('');
    const read = readRows(rows, s.unit, s.order, heads);
    if (!read.ok) return setProblem(read.reason);
    setBusy(true);
    try {
      // In metres to a tenth of a micrometre: what was typed comes back to the last digit in every unit.
      const text = writeText(read.points, {
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
      setBusy(false);
    }
  };

  return (
    <Leaf head="Control typed in" mb="10px" pb="8px">
      <chakra.form onSubmit={(e) => void submit(e)} px="12px" onKeyDown={(e) => e.key === 'Escape' && onLeave()}>
        <Flex gap="6px" mb="2px">
          {heads.map((h, i) => (
            <Aside key={h} width={i === 0 ? '90px' : '122px'} fontSize="12px">
              {h}
            </Aside>
          ))}
        </Flex>
        {rows.map((row, i) => (
          <Flex key={i} gap="6px" mb="4px" align="center">
            {FIELDS.map((field, k) => (
              <Field
                key={field}
                autoFocus={i === 0 && k === 0}
                numeric={k > 0 ? true : undefined}
                width={k === 0 ? '90px' : '122px'}
                maxLength={60}
                aria-label={`${heads[k]}, row ${i + 1}`}
                value={row[field]}
                onPaste={(e) => k === 0 && paste(i, e)}
                onChange={(e) => set(i, field, e.target.value)}
              />
            ))}
            <Echo row={row} unit={s.unit} />
          </Flex>
        ))}
        <Flex gap="6px" my="6px" wrap="wrap" align="center">
          given by
          <Field
            aria-label="given by"
            width="140px"
            maxLength={120}
            value={by}
            onChange={(e) => setBy(e.target.value)}
          />
          from
          <Field
            aria-label="source"
            width="170px"
            maxLength={200}
            placeholder="sheet, letter, call"
            value={source}
            onChange={(e) => setSource(e.target.value)}
          />
        </Flex>
        {problem ? (
          <Box role="alert" color="pole" mb="6px">
            {problem}
          </Box>
        ) : null}
        <Flex gap="8px">
          <Act type="submit" look="solid" disabled={busy}>
            Import it as control
          </Act>
          <Act type="button" onClick={() => setRows([...rows, { ...EMPTY }])}>
            Another row
          </Act>
          <Act type="button" onClick={onLeave}>
            Cancel
          </Act>
        </Flex>
      </chakra.form>
    </Leaf>
  );
}

/** How a row is understood, when anything in it has a unit of its own. */
function Echo({ row, unit }: { row: Row; unit: 'm' | 'ft' | 'usft' }) {
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

type ReadRows =
  | { ok: true; points: { number: string; x: number; y: number; z: number; description: string }[] }
  | { ok: false; reason: string };

function readRows(rows: Row[], unit: 'm' | 'ft' | 'usft', order: 'EN' | 'NE', heads: string[]): ReadRows {
  const points: Extract<ReadRows, { ok: true }>['points'] = [];
  const seen = new Set<string>();
  for (const [i, row] of rows.entries()) {
    if (FIELDS.every((f) => row[f].trim() === '')) continue;
    const number = row.number.trim();
    if (!number) return { ok: false, reason: `Row ${i + 1} has no number.` };
    if (seen.has(number)) return { ok: false, reason: `Row ${i + 1}: ${number} stands twice. Which is meant?` };
    seen.add(number);
    const values: number[] = [];
    for (const [k, text] of [row.first, row.second, row.z].entries()) {
      if (k === 2 && text.trim() === '') {
        values.push(NaN);
        continue;
      }
      const read = readLength(text, unit);
      if (!read.ok) return { ok: false, reason: `Row ${i + 1}, ${heads[k + 1]}: ${read.reason}` };
      values.push(read.metres);
    }
    const [x, y] = order === 'EN' ? [values[0], values[1]] : [values[1], values[0]];
    points.push({ number, x, y, z: values[2], description: '' });
  }
  if (points.length === 0) return { ok: false, reason: 'Type at least one point.' };
  return { ok: true, points };
}
