import { editAt } from '#core/project';
import { Box, Flex } from '@chakra-ui/react';
import { useMemo } from 'react';
import { fileRowOf } from '#core/book';
import { rowsByRecord } from '#core/stages';
import type { Compared, SetupResult } from '#core/reduction';
import { formatAngle, formatLength, fromMetres, shownVertical, UNIT_SIGN } from '#core/measure';
import { Act, Num, Pick } from '../../frame/controls.tsx';
import type { Column } from '../../frame/grid/index.ts';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import { recordValues, type BookColumns, type ReadingField } from '../../work/book-columns.ts';
import { editRecord, FIELD_LABEL, readField, readingText, verticalName } from '../../cards/readings.ts';
import { haveQuality, qualityColumns } from './quality-columns.tsx';
import { keyOfItem, type Item } from './record-items.ts';

const DEGREE = Math.PI / 180;
const DECISION_WORDS: Record<string, string> = {
  rule: 'by the rule',
  used: 'use it',
  aside: 'set aside',
  direction: 'direction only',
  distance: 'distance only',
  undecided: 'leave open',
};
const CHOICES = ['used', 'aside', 'direction', 'distance', 'undecided'] as const;

/** The columns of the ledger of records: what was read, each typed over with a preview, and what came out of it. */
export function useRecordColumns(
  items: readonly Item[],
  closed: ReadonlySet<string>,
  onToggle: (key: string) => void,
  folding: boolean,
): Column[] {
  const { state, tables, propose } = useParts('state', 'tables', 'propose');
  const canChange = useCanChange();
  const doc = state!.document;
  const s = doc.settings;
  const { reduction, points } = tables!;
  const comparedAt = useMemo(() => {
    const out = new Map<string, Compared>();
    for (const setup of reduction.setups)
      for (const c of [...setup.backsights, ...setup.checks]) out.set(`${setup.book}:${c.row}`, c);
    return out;
  }, [reduction]);
  const fileName = useMemo(() => new Map(doc.intakes.map((i) => [i.id, i.fileName])), [doc.intakes]);
  const quality = useMemo(() => (haveQuality(items) ? qualityColumns(items, s) : []), [items, s]);
  const severalBooks = tables!.books.size > 1;

  const keyAt = (i: number): string => keyOfItem(items[i]);
  // A row's values are asked for by each of its cells: they are put together once.
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the cache goes with what it was made of
  const put = useMemo(() => new Map<number, ReturnType<typeof recordValues>>(), [items, doc.edits]);
  const values = (i: number): ReturnType<typeof recordValues> => {
    let v = put.get(i);
    if (!v) put.set(i, (v = recordValues(items[i].book, items[i].at, editAt(doc, keyAt(i)))));
    return v;
  };
  const setupAt = (i: number): SetupResult | undefined => (items[i].head ? undefined : reduction.setupAt.get(keyAt(i)));
  const length = (m: number): string => (Number.isNaN(m) ? '' : formatLength(m, s.unit, s.decimals));
  const angle = (a: number): string => (Number.isNaN(a) ? '' : formatAngle(a, s.angle, s.angleDecimals));
  const body =
    <T,>(of: (i: number) => T, head: T) =>
    (i: number): T =>
      items[i].head ? head : of(i);

  const edit =
    (field: ReadingField) =>
    (i: number, typed: string): string | null => {
      const before = values(i);
      const read = readField(field, typed, s, before.zenith);
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
    !items[i].head && values(i).edited.some((f) => fields.includes(f)) ? (
      <span className="changed">{text || '–'}</span>
    ) : (
      text
    );
  /** As numbers compare: lengths in the project's unit, angles in degrees or gon. */
  const plain = (field: ReadingField, v: number): number =>
    field === 'height' || field === 'distance'
      ? fromMetres(v, s.unit)
      : (field === 'zenith' ? shownVertical(v, s.vertical) : v) / (s.angle === 'gon' ? Math.PI / 200 : DEGREE);
  const reading = (field: ReadingField, head: string): Column => {
    const text = body((i) => readingText(field, values(i)[field], s), '');
    return {
      id: field,
      head,
      numeric: true,
      sortable: true,
      text,
      value: body((i) => plain(field, values(i)[field]), NaN),
      cell: (i) => changed(i, [field], text(i)),
      edit: mayEdit(edit(field)),
    };
  };
  const toggle = (key: string, name: string) => (
    <Act
      look="quiet"
      height="22px"
      px="2px"
      aria-label={`${closed.has(key) ? 'unfold' : 'fold'} ${name}`}
      aria-expanded={!closed.has(key)}
      onClick={(e) => {
        e.stopPropagation();
        onToggle(key);
      }}
    >
      {closed.has(key) ? '▸' : '▾'}
    </Act>
  );

  function resultText(i: number): string {
    const { head, book, at } = items[i];
    if (head) return `${head.title}: ${head.count} ${head.count === 1 ? 'record' : 'records'}`;
    const v = values(i);
    const setup = setupAt(i);
    if (setup) return setupText(setup);
    const c = comparedAt.get(keyAt(i));
    if (c) return `${angle(c.difference)} ${length(c.distanceDifference)} ${length(c.heightDifference)}`;
    if (v.off) return book.deleted[at] ? 'deleted in the field' : 'excluded';
    const row = rowsByRecord(doc, points).get(items[i].intake, book.row[at]);
    if (row !== undefined) {
      const place = s.order === 'EN' ? [points.x[row], points.y[row]] : [points.y[row], points.x[row]];
      return `${[...place, points.z[row]].map(length).join('  ')}`;
    }
    if (v.kind === 'weather') return weatherText(book, at);
    return book.text.get(at) || '';
  }

  function setupText(setup: SetupResult): string {
    if (setup.failed) return `not reduced: ${setup.failed}`;
    if (setup.waits) return `waits: ${setup.waits}`;
    const from = setup.station?.from === 'control' ? 'on control' : (setup.station?.from ?? '');
    const either = setup.turns.reduce((sum, t) => sum + t.between.length, 0);
    const wait = either ? `; the circle turned, ${either} sightings wait` : '';
    return `${from}, ± ${formatAngle(setup.sdOrientation, s.angle, 0)}, ${setup.shots} shots${wait}`;
  }

  function resultCell(i: number) {
    if (items[i].head) return <b>{resultText(i)}</b>;
    const setup = setupAt(i);
    if (setup)
      return (
        <Box as="span" color={setup.failed || setup.waits ? 'pole' : 'slate'}>
          {setupText(setup)}
        </Box>
      );
    const c = comparedAt.get(keyAt(i));
    if (!c) return <span className="figures">{resultText(i)}</span>;
    return (
      <Flex align="center" gap="6px">
        <Num fontSize="12px" color={c.within ? 'pine' : 'pole'} title="observed − computed: bearing, distance, height">
          {c.within ? '' : '▲ '}
          {resultText(i)}
        </Num>
        {values(i).role === 'back' ? <BacksightDecision recordKey={keyAt(i)} c={c} /> : null}
      </Flex>
    );
  }

  function BacksightDecision({ recordKey: key, c }: { recordKey: string; c: Compared }) {
    return (
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
          void propose(`backsight to ${c.number}: ${DECISION_WORDS[e.target.value]}`, {
            op: 'record.decide',
            key,
            decision: e.target.value === 'rule' ? null : (e.target.value as (typeof CHOICES)[number]),
          })
        }
      >
        <option value="rule">{c.decided ? 'by the rule' : c.state === 'used' ? 'used' : 'undecided'}</option>
        {CHOICES.map((d) => (
          <option key={d} value={d}>
            {DECISION_WORDS[d]}
          </option>
        ))}
      </Pick>
    );
  }

  return [
    {
      id: 'what',
      head: 'Record',
      width: 82,
      pinned: true,
      words: true,
      sortable: true,
      text: body((i) => wordOf(values(i)), ''),
      cell: (i) => {
        const { head } = items[i];
        if (head) return toggle(head.key, head.title);
        const v = values(i);
        if (v.kind === 'setup')
          return (
            <Flex align="center" gap="2px">
              {folding ? toggle(keyAt(i), `setup ${v.number}`) : null}
              <b>setup</b>
            </Flex>
          );
        return <span className={folding ? 'under-fold' : undefined}>{wordOf(v)}</span>;
      },
    },
    {
      id: 'number',
      head: 'Number',
      min: 60,
      max: 130,
      pinned: true,
      sortable: true,
      text: body((i) => values(i).number, ''),
      cell: (i) => (items[i].head ? '' : changed(i, ['number'], values(i).number)),
      edit: mayEdit(editText('number')),
    },
    reading('circle', 'Circle'),
    reading('zenith', verticalName(s) === 'zenith' ? 'Zenith' : 'Elev. angle'),
    reading('distance', `Slope ${UNIT_SIGN[s.unit]}`),
    reading('height', `Height ${UNIT_SIGN[s.unit]}`),
    {
      id: 'description',
      head: 'Code',
      min: 60,
      max: 140,
      sortable: true,
      text: body((i) => values(i).code, ''),
      cell: (i) => (items[i].head ? '' : changed(i, ['description'], values(i).code)),
      edit: mayEdit(editText('description')),
    },
    {
      id: 'result',
      head: 'Result',
      min: 220,
      max: 260,
      grow: 1.6,
      words: true,
      sortable: true,
      text: resultText,
      cell: resultCell,
    },
    ...quality,
    {
      id: 'row',
      head: 'Row',
      numeric: true,
      sortable: true,
      text: body((i) => String(fileRowOf(items[i].book.row[items[i].at])), ''),
      value: body((i) => items[i].book.row[items[i].at], NaN),
    },
    {
      id: 'time',
      head: 'Time',
      sortable: true,
      text: body((i) => items[i].book.time.get(items[i].at), ''),
    },
    ...(severalBooks
      ? [
          {
            id: 'book',
            head: 'Book',
            max: 200,
            words: true,
            sortable: true,
            text: body((i: number) => fileName.get(items[i].intake) ?? '', ''),
          },
        ]
      : []),
  ];
}

const weatherText = (book: BookColumns, at: number): string =>
  [
    [book.temperature[at], '°C'],
    [book.pressure[at], 'hPa'],
    [book.humidity[at], '%'],
  ]
    .filter(([v]) => !Number.isNaN(v as number))
    .map(([v, unit]) => `${v} ${unit}`)
    .join(', ');

export const wordOf = (v: { kind: string; role: string }): string =>
  v.kind === 'sighting' ? v.role : v.kind === 'point' ? 'typed' : v.kind;
