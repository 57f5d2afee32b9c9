import { editAt } from '#core/project';
import { Box, Flex } from '@chakra-ui/react';
import { fileRowOf } from '#core/book';
import type { Compared, SetupResult } from '#core/reduction';
import { formatAngle, formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Num, Pick } from '../frame/controls.tsx';
import { editRecord, FIELD_LABEL, readField, readingText, verticalName } from './readings.ts';
import { recordValues, type ReadingField } from '../work/book-columns.ts';
import { useCanChange } from '../project-state/can.ts';
import { CardHead, Panel, Row, Section, type Side } from './card-frame.tsx';
import { asReceived } from '../project-state/edit.ts';
import { History } from './point-card-parts.tsx';
import { useParts, useProject } from '../project-state/store.ts';
import { TypedRow } from './typed-row.tsx';

/** A record of a book that gave no point of its own: a setup, a backsight, a check, a remark. */
export function RecordCard({ intake, row, side }: { intake: string; row: number; side: Side }) {
  const { state, tables, select } = useParts('state', 'tables', 'select');
  const book = tables!.books.get(intake);
  const at = book ? book.row.indexOf(row) : -1;
  if (!book || at < 0) return null;
  const key = `${intake}:${row}`;
  const v = recordValues(book, at, editAt(state!.document, key));
  const setup = tables!.reduction.setupAt.get(`${intake}:${book.setup[at] >= 0 ? book.row[book.setup[at]] : -1}`);
  const own = setup?.row === row;
  const compared = own ? [] : [...(setup?.backsights ?? []), ...(setup?.checks ?? [])].filter((c) => c.row === row);
  const word =
    v.kind === 'sighting'
      ? ({ back: 'Backsight', check: 'Check' }[v.role as string] ?? 'Shot')
      : v.kind[0].toUpperCase() + v.kind.slice(1);
  return (
    <Panel style={side} aria-label="selected record">
      <CardHead title={`${word} ${v.number}`} side={book.time.get(at)} onClose={() => select(null)} />
      <Readings recordKey={key} values={v} />
      {own && setup ? <SetupPart setup={setup} /> : null}
      {compared.map((c) => (
        <ComparedPart key={c.row} c={c} isCheck={setup!.checks.includes(c)} />
      ))}
      {v.kind === 'remark' || v.kind === 'weather' ? (
        <Section>{book.text.get(at) || 'weather at the instrument'}</Section>
      ) : null}
      <Section>
        <Aside>made from</Aside>
        <Box>
          row {fileRowOf(row)} of {state!.document.intakes.find((i) => i.id === intake)?.fileName}
        </Box>
        {v.edited.length ? <Box color="brass">changed by hand: {v.edited.join(', ')}</Box> : null}
        <History pointKey={key} revision={state!.revision} />
      </Section>
      <RecordActions recordKey={key} off={v.off} edited={v.edited} isSighting={v.kind === 'sighting'} />
    </Panel>
  );
}

/** The readings of a record, each typed over with a preview; what is computed from them is not. */
export function Readings({ recordKey, values }: { recordKey: string; values: ReturnType<typeof recordValues> }) {
  const fields: ReadingField[] =
    values.kind === 'setup' || values.kind === 'level'
      ? ['height']
      : values.kind === 'sighting'
        ? ['circle', 'zenith', 'distance', 'height']
        : values.kind === 'azimuth'
          ? ['circle']
          : [];
  if (fields.length === 0) return null;
  return (
    <Section>
      {fields.map((f) => (
        <ReadingRow key={f} recordKey={recordKey} field={f} values={values} />
      ))}
      {values.kind === 'sighting' ? <SightedFor recordKey={recordKey} values={values} /> : null}
    </Section>
  );
}

const ROLE_NAME = { shot: 'a shot', back: 'a backsight', check: 'a check' } as const;
const FACE_NAME = { 0: 'not stated', 1: 'one', 2: 'two' } as const;

/** What a sighting was made for, and in which face, each chosen anew with a preview. */
function SightedFor({ recordKey, values }: { recordKey: string; values: ReturnType<typeof recordValues> }) {
  const { propose } = useParts('propose');
  const canChange = useCanChange();
  return (
    <>
      <Row name="sighted as">
        <Pick
          aria-label="what it is sighted for"
          disabled={!canChange}
          value={values.role}
          onChange={(e) =>
            void propose(
              `${values.number} is ${ROLE_NAME[e.target.value as 'shot']}`,
              editRecord(recordKey, { role: e.target.value as 'shot' }),
            )
          }
        >
          {Object.entries(ROLE_NAME).map(([k, v]) => (
            <option key={k} value={k}>
              {v}
            </option>
          ))}
        </Pick>
      </Row>
      <Row name="in face">
        <Pick
          aria-label="face"
          disabled={!canChange}
          value={String(values.face)}
          onChange={(e) =>
            void propose(`face of ${values.number}`, editRecord(recordKey, { face: Number(e.target.value) }))
          }
        >
          {Object.entries(FACE_NAME).map(([k, v]) => (
            <option key={k} value={k}>
              {v}
            </option>
          ))}
        </Pick>
      </Row>
    </>
  );
}

function ReadingRow({
  recordKey,
  field,
  values,
}: {
  recordKey: string;
  field: ReadingField;
  values: ReturnType<typeof recordValues>;
}) {
  const { state, propose } = useParts('state', 'propose');
  const s = state!.document.settings;
  const canChange = useCanChange();
  const isAngle = field === 'circle' || field === 'zenith';
  const value = values[field];
  const shown = readingText(field, value, s, 1).replace(/\u2009/g, '');
  const label =
    values.kind === 'setup'
      ? 'instrument height'
      : values.kind === 'level'
        ? 'staff reading'
        : field === 'zenith'
          ? verticalName(s)
          : FIELD_LABEL[field];
  const name = `${label}${isAngle ? '' : ` ${UNIT_SIGN[s.unit]}`}`;
  return (
    <TypedRow
      name={name}
      value={shown}
      canEdit={canChange}
      width="118px"
      onTake={(typed) => {
        const read = readField(field, typed, s, values.zenith);
        if (!read.ok) return read.reason;
        void propose(`${label} of ${values.number}: ${read.echo}`, editRecord(recordKey, { [field]: read.value }));
        return null;
      }}
    />
  );
}

function SetupPart({ setup }: { setup: SetupResult }) {
  const { state, propose } = useParts('state', 'propose');
  const canChange = useCanChange();
  const s = state!.document.settings;
  const key = `${setup.book}:${setup.row}`;
  const let_through = state!.document.decisions[key] === 'used';
  const angle = (a: number): string => formatAngle(a, s.angle, 1);
  const rows: [string, string][] = setup.failed
    ? []
    : [
        ['station', setup.station ? setup.station.from : 'unknown'],
        ['orientation', angle(setup.orientation)],
        ['± orientation', angle(setup.sdOrientation)],
        ['index error', angle(setup.errors.index)],
        ['collimation', angle(setup.errors.collimation)],
      ];
  for (const t of setup.turns) rows.push([`circle before row ${Math.ceil(t.row)}`, `turned by ${angle(t.by)}`]);
  for (const d of setup.doubts) rows.push([`${d.what} to ${d.number}`, d.sure ? 'does not fit' : 'one of several']);
  if (!Number.isNaN(setup.directionSd)) rows.push(['± a direction, both faces', angle(setup.directionSd)]);
  return (
    <Section>
      {setup.failed ? <Box color="pole">cannot be reduced: {setup.failed}</Box> : null}
      {rows.map(([name, value]) => (
        <Row key={name} name={name}>
          <Num fontSize="12px">{value}</Num>
        </Row>
      ))}
      {setup.waits || let_through ? (
        <Flex direction="column" gap="6px" mt="6px">
          {setup.waits ? (
            <Box color="pole">its points wait: {setup.waits}</Box>
          ) : (
            <Box color="brass">used as it is</Box>
          )}
          {canChange ? (
            <Act
              onClick={
                () =>
                void propose(let_through ? 'hold its points again' : 'use its points', { op: 'record.decide', key, decision: let_through ? null : 'used' }) // prettier-ignore
              }
            >
              {let_through ? 'Hold its points again' : 'Use its points'}
            </Act>
          ) : null}
        </Flex>
      ) : null}
      {[...setup.backsights, ...setup.checks].map((c) => (
        <ComparedLine key={c.row} c={c} />
      ))}
    </Section>
  );
}

function ComparedLine({ c }: { c: Compared }) {
  const s = useProject((p) => p.state!.document.settings);
  return (
    <Row name={`${c.within ? '' : '▲ '}${c.number}`}>
      <Num fontSize="12px" color={c.within ? 'pine' : 'pole'}>
        {formatAngle(c.difference, s.angle, 0)} {formatLength(c.distanceDifference, s.unit, 3)}{' '}
        {formatLength(c.heightDifference, s.unit, 3)}
      </Num>
    </Row>
  );
}

/** Observed less computed, against what is allowed. */
function ComparedPart({ c, isCheck }: { c: Compared; isCheck: boolean }) {
  const s = useProject((p) => p.state!.document.settings);
  const sign = UNIT_SIGN[s.unit];
  const length = (m: number): string => formatLength(m, s.unit, 3);
  const outPlan = c.off > s.checkPlan;
  const outHeight = Math.abs(c.heightDifference) > s.checkHeight;
  const rows: [name: string, value: string, outside: boolean][] = [
    ['bearing observed', formatAngle(c.observed, s.angle, 1), false],
    ['computed', formatAngle(c.bearing, s.angle, 1), false],
    ['orientation difference', formatAngle(c.difference, s.angle, 1), outPlan],
    [`distance ${sign}`, length(c.distanceDifference), outPlan],
    [`position ${sign}`, `${length(c.off)} of ${length(s.checkPlan)}`, outPlan],
    [`height ${sign}`, `${length(c.heightDifference)} of ${length(s.checkHeight)}`, outHeight],
  ];
  return (
    <Section>
      <Aside>observed − computed</Aside>
      {rows.map(([name, value, outside]) => (
        <Row key={name} name={name}>
          <Num fontSize="12px" color={outside ? 'pole' : undefined}>
            {outside ? '▲ ' : ''}
            {value}
          </Num>
        </Row>
      ))}
      <Box color="slate" fontSize="13px">
        {isCheck
          ? c.within
            ? 'a check that agrees'
            : 'a check out of tolerance'
          : `${STATE_WORDS[c.state]}${c.decided ? ', decided by hand' : ', by the rule'}`}
      </Box>
      {c.slip ? (
        <Box color="pole">
          {c.slip === 'face'
            ? 'its readings are of the other face than it states'
            : 'its own readings differ by too much'}
        </Box>
      ) : null}
    </Section>
  );
}

const STATE_WORDS: Record<Compared['state'], string> = {
  used: 'used',
  aside: 'set aside',
  undecided: 'undecided',
  direction: 'its direction alone is used',
  distance: 'its distance alone is used',
};

/** Says of a sighting that the circle was turned right before it. */
export function TurnedBefore({ recordKey }: { recordKey: string }) {
  const { state, propose, busy } = useParts('state', 'propose', 'busy');
  const turned = state?.document.decisions[recordKey] === 'turned';
  return (
    <Act
      look="quiet"
      disabled={busy}
      onClick={
        () =>
        void propose(turned ? 'the circle was not turned before it' : 'the circle was turned before it', { op: 'record.decide', key: recordKey, decision: turned ? null : 'turned' }) // prettier-ignore
      }
    >
      {turned ? 'The circle was not turned before it' : 'The circle was turned before it'}
    </Act>
  );
}

export function RecordActions({
  recordKey,
  off,
  edited,
  isSighting,
}: {
  recordKey: string;
  off: boolean;
  edited: string[];
  isSighting: boolean;
}) {
  const { state, propose, busy } = useParts('state', 'propose', 'busy');
  const canChange = useCanChange();
  if (!canChange) return null;
  return (
    <Section display="flex" gap="8px" flexWrap="wrap">
      {isSighting ? <TurnedBefore recordKey={recordKey} /> : null}
      <Act
        disabled={busy}
        onClick={() =>
          void propose(off ? 'use the record again' : 'exclude the record', {
            op: 'points.edit',
            edits: { [recordKey]: { set: { off: !off }, undo: [] } },
          })
        }
      >
        {off ? 'Use it again' : 'Exclude it'}
      </Act>
      {edited.length ? (
        <Act
          disabled={busy}
          onClick={() => void propose('the record as received', asReceived(state!.document, recordKey))}
        >
          As received
        </Act>
      ) : null}
    </Section>
  );
}
