import { Box, Flex } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { rowsByRecord, type Change, type PointEdit } from '#core/chain';
import type { Compared, SetupResult } from '#core/reduction';
import { formatAngle, formatLength, readAngle, readLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Field, Num, Pick } from '../../frame/controls.tsx';
import { Grid, type Column } from '../../frame/grid.tsx';
import { useCanChange } from '../../project/can.ts';
import { useProject } from '../../project/store.ts';
import { sheetHandle } from '../../sheet/sheet.tsx';
import { recordValues, type BookColumns, type ReadingField } from '../../work/book-columns.ts';

/** One line of the ledger: a record of a book. */
interface Item {
  intake: string;
  book: BookColumns;
  at: number;
}

type Shown = 'all' | 'setups' | 'known';
const SHOWN: Record<Shown, string> = {
  all: 'every record',
  setups: 'setups only',
  known: 'setups, backsights and checks',
};

/** The day as it went: setups with what was sighted from them, decisions and checks where they arose. */
export function Records() {
  const { state, tables, selection, select, propose, make } = useProject();
  const canChange = useCanChange();
  const [shown, setShown] = useState<Shown>('all');
  const [find, setFind] = useState('');
  const doc = state!.document;
  const s = doc.settings;
  const { reduction, books, points } = tables!;
  const items = useMemo(() => itemsOf(books, shown, find, doc.edits), [books, shown, find, doc.edits]);
  const pointRows = useMemo(() => rowsByRecord(doc, points), [doc, points]);
  const keyAt = (i: number): string => `${items[i].intake}:${items[i].book.row[items[i].at]}`;
  const values = (i: number) => recordValues(items[i].book, items[i].at, doc.edits[keyAt(i)]);
  const setupAt = (i: number): SetupResult | undefined => reduction.setupAt.get(keyAt(i));
  const comparedAt = useMemo(() => {
    const out = new Map<string, Compared>();
    for (const setup of reduction.setups)
      for (const c of [...setup.backsights, ...setup.checks]) out.set(`${setup.book}:${c.row}`, c);
    return out;
  }, [reduction]);

  const length = (m: number): string => (Number.isNaN(m) ? '' : formatLength(m, s.unit, s.decimals));
  const angle = (a: number): string => (Number.isNaN(a) ? '' : formatAngle(a, s.angle, s.angleDecimals));
  const edit =
    (field: ReadingField) =>
    (i: number, typed: string): string | null => {
      const before = values(i);
      const read = readField(field, typed, s.unit, s.angle);
      if (!read.ok) return read.reason;
      if (Math.abs(read.value - before[field]) < 1e-10) return null;
      const what = before.kind === 'setup' ? 'instrument height' : FIELD_LABEL[field];
      void propose(`${what} of ${before.number}: ${read.echo}`, editRecord(keyAt(i), { [field]: read.value }));
      return null;
    };
  const editText =
    (field: 'number' | 'description') =>
    (i: number, typed: string): string | null => {
      const before = values(i);
      if (typed.trim() === (field === 'number' ? before.number : before.code)) return null;
      void propose(
        `${field === 'number' ? 'number' : 'code'} of ${before.number}: ${typed.trim() || 'none'}`,
        editRecord(keyAt(i), { [field]: typed.trim() }),
      );
      return null;
    };
  const mayEdit = <T,>(f: T): T | undefined => (canChange ? f : undefined);
  const changed = (i: number, fields: string[], text: string) =>
    values(i).edited.some((f) => fields.includes(f)) ? <span className="changed">{text || '–'}</span> : text;
  const reading = (field: ReadingField, head: string, width: string, text: (v: number) => string): Column => ({
    id: field,
    head,
    width,
    numeric: true,
    text: (i) => text(values(i)[field]),
    cell: (i) => changed(i, [field], text(values(i)[field])),
    edit: mayEdit(edit(field)),
  });
  const columns: Column[] = [
    {
      id: 'what',
      head: 'Record',
      width: '82px',
      words: true,
      text: (i) => wordOf(values(i)),
      cell: (i) => {
        const v = values(i);
        return v.kind === 'setup' ? (
          <b>setup</b>
        ) : (
          <Box as="span" pl="12px">
            {wordOf(v)}
          </Box>
        );
      },
    },
    {
      id: 'number',
      head: 'Number',
      width: '68px',
      text: (i) => values(i).number,
      cell: (i) => changed(i, ['number'], values(i).number),
      edit: mayEdit(editText('number')),
    },
    {
      id: 'result',
      head: 'Came out',
      width: 'minmax(276px, 1.6fr)',
      words: true,
      text: (i) => resultText(i),
      cell: (i) => resultCell(i),
    },
    {
      id: 'description',
      head: 'Code',
      width: 'minmax(86px, .6fr)',
      text: (i) => values(i).code,
      cell: (i) => changed(i, ['description'], values(i).code),
      edit: mayEdit(editText('description')),
    },
    reading('circle', 'Circle', '104px', angle),
    reading('zenith', 'Zenith', '104px', angle),
    reading('distance', `Slope ${UNIT_SIGN[s.unit]}`, '82px', length),
    reading('height', `Height ${UNIT_SIGN[s.unit]}`, '76px', length),
    { id: 'row', head: 'Row', width: '50px', numeric: true, text: (i) => String(items[i].book.row[items[i].at]) },
  ];

  function resultText(i: number): string {
    const v = values(i);
    const setup = setupAt(i);
    if (setup) return setupText(setup);
    const c = comparedAt.get(keyAt(i));
    if (c) return `${angle(c.difference)} ${length(c.distanceDifference)} ${length(c.heightDifference)}`;
    if (v.off) return items[i].book.deleted[items[i].at] ? 'deleted in the field' : 'left out';
    const row = pointRows.get(keyAt(i));
    if (row !== undefined) {
      const place = s.order === 'EN' ? [points.x[row], points.y[row]] : [points.y[row], points.x[row]];
      return `${[...place, points.z[row]].map(length).join('  ')}`;
    }
    const { book, at } = items[i];
    if (v.kind === 'weather') return weatherText(book, at);
    return book.text.get(at) || '';
  }

  function setupText(setup: SetupResult): string {
    if (setup.failed) return `not reduced: ${setup.failed}`;
    if (setup.waits) return `waits: ${setup.waits}`;
    const from = setup.station?.from === 'control' ? 'on control' : (setup.station?.from ?? '');
    return `${from}, ± ${formatAngle(setup.sdOrientation, s.angle, 0)}, ${setup.shots} shots`;
  }

  function resultCell(i: number) {
    const key = keyAt(i);
    const setup = setupAt(i);
    if (setup)
      return (
        <Box as="span" color={setup.failed || setup.waits ? 'pole' : 'slate'}>
          {setupText(setup)}
        </Box>
      );
    const c = comparedAt.get(key);
    if (!c) return <Num fontSize="12px">{resultText(i)}</Num>;
    const isBack = values(i).role === 'back';
    return (
      <Flex align="center" gap="6px">
        <Num
          fontSize="12px"
          color={c.within ? 'pine' : 'pole'}
          title="observed less computed: bearing, distance, height"
        >
          {c.within ? '' : '▲ '}
          {resultText(i)}
        </Num>
        {isBack ? (
          <Pick
            aria-label={`backsight to ${c.number}`}
            height="22px"
            px="2px"
            fontSize="12px"
            disabled={!canChange}
            value={c.decided ? c.state : 'rule'}
            onClick={(e) => e.stopPropagation()}
            onKeyDown={(e) => e.stopPropagation()}
            onChange={(e) =>
              void make({
                op: 'record.decide',
                key,
                decision: e.target.value === 'rule' ? null : (e.target.value as 'used' | 'aside' | 'undecided'),
              })
            }
          >
            <option value="rule">{c.decided ? 'by the rule' : c.state === 'used' ? 'used' : 'undecided'}</option>
            <option value="used">use it</option>
            <option value="aside">set aside</option>
            <option value="undecided">leave open</option>
          </Pick>
        ) : null}
      </Flex>
    );
  }

  const selected = useMemo(() => {
    if (selection?.kind === 'record')
      return items.findIndex((it) => it.intake === selection.intake && it.book.row[it.at] === selection.row);
    if (selection?.kind !== 'point' || selection.row >= points.x.length) return -1;
    const intake = doc.intakes[points.intake[selection.row]].id;
    return items.findIndex((it) => it.intake === intake && it.book.row[it.at] === points.fileRow[selection.row]);
  }, [selection, items, points, doc.intakes]);
  const go = (i: number): void => {
    const row = pointRows.get(keyAt(i));
    if (row !== undefined) {
      select({ kind: 'point', row });
      sheetHandle.current?.show(points.x[row], points.y[row]);
      return;
    }
    select({ kind: 'record', intake: items[i].intake, row: items[i].book.row[items[i].at] });
    const setup = reduction.setupAt.get(`${items[i].intake}:${setupRow(items[i])}`);
    if (setup?.station) sheetHandle.current?.show(setup.station.x, setup.station.y);
  };
  const waiting = reduction.setups.filter((r) => r.waits || r.failed).length;
  return (
    <Flex direction="column" flex="1" minHeight="0" bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px">
      <Flex align="center" gap="10px" px="10px" py="6px" borderBottom="1px solid" borderColor="rule" wrap="wrap">
        <Field
          aria-label="find records"
          placeholder="number or code"
          width="130px"
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
        <Pick aria-label="what is shown" value={shown} onChange={(e) => setShown(e.target.value as Shown)}>
          {(Object.keys(SHOWN) as Shown[]).map((k) => (
            <option key={k} value={k}>
              {SHOWN[k]}
            </option>
          ))}
        </Pick>
        <Aside flex="1">
          {items.length} records, {reduction.setups.length} setups{waiting ? `, ${waiting} waiting` : ''}
        </Aside>
        {find ? (
          <Act look="quiet" onClick={() => setFind('')}>
            all
          </Act>
        ) : null}
      </Flex>
      <Box flex="1" minHeight="0">
        <Grid
          label="records of the books"
          columns={columns}
          order={null}
          count={items.length}
          selected={selected >= 0 ? selected : null}
          onSelect={go}
          quiet={(i) => values(i).off}
        />
      </Box>
    </Flex>
  );
}

const FIELD_LABEL: Record<ReadingField, string> = {
  height: 'target height',
  circle: 'circle',
  zenith: 'zenith',
  distance: 'distance',
};

const weatherText = (book: BookColumns, at: number): string =>
  [
    [book.temperature[at], '°C'],
    [book.pressure[at], 'hPa'],
    [book.humidity[at], '%'],
  ]
    .filter(([v]) => !Number.isNaN(v as number))
    .map(([v, unit]) => `${v} ${unit}`)
    .join(', ');

const setupRow = ({ book, at }: Item): number => (book.setup[at] >= 0 ? book.row[book.setup[at]] : -1);

const wordOf = (v: { kind: string; role: string }): string =>
  v.kind === 'sighting' ? v.role : v.kind === 'point' ? 'typed' : v.kind;

export const editRecord = (key: string, set: PointEdit, why?: string): Change => ({
  op: 'points.edit',
  edits: { [key]: { set, undo: [] } },
  ...(why ? { why } : {}),
});

/** A reading as people type it, with its echo. */
export function readField(
  field: ReadingField,
  typed: string,
  unit: 'm' | 'ft' | 'usft',
  form: 'dms' | 'deg' | 'gon',
): { ok: true; value: number; echo: string } | { ok: false; reason: string } {
  if (field === 'circle' || field === 'zenith') {
    const read = readAngle(typed, form);
    if (!read.ok) return read;
    const turn = 6.283185307179586;
    if (read.radians < 0 || read.radians >= turn)
      return { ok: false, reason: 'An angle of a reading is within one turn.' };
    return { ok: true, value: read.radians, echo: read.echo };
  }
  const read = readLength(typed, unit);
  if (!read.ok) return read;
  if (field === 'distance' && !(read.metres > 0)) return { ok: false, reason: 'A distance is more than zero.' };
  return { ok: true, value: read.metres, echo: read.echo };
}

function itemsOf(
  books: ReadonlyMap<string, BookColumns>,
  shown: Shown,
  find: string,
  edits: Record<string, PointEdit>,
): Item[] {
  const sought = find.trim().toUpperCase();
  const out: Item[] = [];
  for (const [intake, book] of books)
    for (let at = 0; at < book.count; at++) {
      const kind = book.kind(at);
      if (shown === 'setups' && kind !== 'setup') continue;
      if (shown === 'known' && kind !== 'setup') {
        const role = book.role(at);
        if (kind !== 'sighting' || (role !== 'back' && role !== 'check')) continue;
      }
      if (sought) {
        const edit = edits[`${intake}:${book.row[at]}`];
        const number = (edit?.number ?? book.number.get(at)).toUpperCase();
        const code = (edit?.description ?? book.code.get(at)).toUpperCase();
        if (!number.includes(sought) && !code.includes(sought)) continue;
      }
      out.push({ intake, book, at });
    }
  return out;
}
