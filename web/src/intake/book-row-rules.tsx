import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import {
  fieldAt,
  LAYOUT_KINDS,
  LAYOUT_ROLE_NAME,
  LAYOUT_ROLES,
  partRow,
  type BookLayout,
  type FieldPlace,
  type LayoutKind,
  type LayoutRole,
  type RowRule,
} from '#core/book';
import { Act, Aside, Cut, Field, Leaf, Num, Pick } from '../frame/controls.tsx';

const KIND_NAME: Record<LayoutKind, string> = {
  setup: 'a setup',
  back: 'a backsight',
  shot: 'a shot',
  check: 'a check',
  gnss: 'a GNSS shot',
  point: 'typed coordinates',
  azimuth: 'an azimuth',
  weather: 'the weather',
  'level back': 'level: back',
  'level inter': 'level: inter',
  'level fore': 'level: fore',
  'target height': 'target height from here on',
  remark: 'a remark',
  skip: 'skipped',
};

/** In a column, behind a key, or between two characters. */
export function PlaceEditor({
  label,
  place,
  fixed,
  onChange,
}: {
  label: string;
  place: FieldPlace | null;
  fixed: boolean;
  onChange: (place: FieldPlace | null) => void;
}) {
  const how = place === null ? 'none' : 'column' in place ? 'column' : 'key' in place ? 'key' : 'fixed';
  return (
    <>
      <Pick
        aria-label={label}
        value={how}
        onChange={(e) => {
          const to = e.target.value;
          onChange(
            to === 'none'
              ? null
              : to === 'column'
                ? { column: 0 }
                : to === 'key'
                  ? { key: 'TYPE' }
                  : { from: 0, to: 2 },
          );
        }}
      >
        <option value="none">nowhere: all rows are of one type</option>
        {fixed ? null : <option value="column">in column</option>}
        {fixed ? null : <option value="key">behind the key</option>}
        {fixed ? <option value="fixed">in characters</option> : null}
      </Pick>
      {place && 'column' in place ? (
        <Whole
          name={`column of the ${label}`}
          value={place.column + 1}
          onChange={(v) => onChange({ column: Math.min(v, 200) - 1 })}
        />
      ) : null}
      {place && 'key' in place ? (
        <Field
          aria-label={`key of the ${label}`}
          width="80px"
          value={place.key}
          maxLength={40}
          onChange={(e) => onChange({ key: e.target.value || 'TYPE' })}
        />
      ) : null}
      {place && 'from' in place ? <Characters name={label} place={place} onChange={onChange} /> : null}
    </>
  );
}

function Characters({
  name,
  place,
  onChange,
}: {
  name: string;
  place: { from: number; to: number };
  onChange: (place: { from: number; to: number }) => void;
}) {
  return (
    <>
      <Whole
        name={`first character of the ${name}`}
        value={place.from + 1}
        onChange={(v) => onChange({ from: v - 1, to: Math.max(place.to, v) })}
      />
      to
      <Whole
        name={`last character of the ${name}`}
        value={place.to}
        onChange={(v) => onChange({ from: place.from, to: Math.max(place.from + 1, v) })}
      />
    </>
  );
}

/** A place in a row, from 1. */
function Whole({ name, value, onChange }: { name: string; value: number; onChange: (value: number) => void }) {
  return (
    <Field
      numeric
      type="number"
      min={1}
      max={4000}
      width="58px"
      aria-label={name}
      value={value}
      onChange={(e) => onChange(Math.max(1, Math.min(4000, Math.floor(Number(e.target.value) || 1))))}
    />
  );
}

/** One type of row: what it becomes, and the fields of its first row with their roles. */
export function RuleEditor({
  rule,
  count,
  sample,
  layout,
  onChange,
  onForAll,
}: {
  rule: RowRule;
  count: number;
  sample: string;
  layout: BookLayout;
  onChange: (rule: RowRule) => void;
  onForAll: ((fields: RowRule['fields']) => void) | null;
}) {
  const [open, setOpen] = useState(true);
  const name = rule.tag === '' ? 'Every row' : rule.tag;
  const cells = placesOf(sample, layout, rule);
  const roleAt = (at: FieldPlace): LayoutRole | '' => rule.fields.find((f) => samePlace(f.at, at))?.role ?? '';
  const setRole = (at: FieldPlace, role: LayoutRole | ''): void => {
    // A value comes from one place: the one that had the role gives it up.
    const rest = rule.fields.filter((f) => !samePlace(f.at, at) && f.role !== role);
    onChange({ ...rule, fields: role === '' ? rest : [...rest, { role, at }] });
  };
  return (
    <Leaf mb="8px" py="6px">
      <Flex gap="2px 10px" align="center" px="12px" minHeight="28px" wrap="wrap">
        <Num fontWeight="600">{name}</Num>
        <Aside whiteSpace="nowrap">{count === 1 ? 'once' : `${count} times`} in the sample; is</Aside>
        <Pick
          aria-label={`what ${name} is`}
          value={rule.kind}
          onChange={(e) => onChange({ ...rule, kind: e.target.value as LayoutKind })}
        >
          {LAYOUT_KINDS.map((k) => (
            <option key={k} value={k}>
              {KIND_NAME[k]}
            </option>
          ))}
        </Pick>
        <Box flex="1" />
        {onForAll && rule.kind !== 'skip' ? (
          <Act
            look="quiet"
            title="every type of row that is the same kind of thing has its fields in these places"
            onClick={() => onForAll(rule.fields)}
          >
            same places for all such rows
          </Act>
        ) : null}
        {rule.kind === 'skip' ? <Cut color="slate">{sample}</Cut> : null}
        {rule.kind === 'skip' ? null : (
          <Act look="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? 'fold' : 'show fields'}
          </Act>
        )}
      </Flex>
      {rule.kind === 'skip' || !open ? null : layout.split === 'fixed' ? (
        <FixedFields rule={rule} sample={sample} onChange={onChange} />
      ) : (
        <Flex gap="8px" wrap="wrap" px="12px" pt="4px">
          {cells.map(({ at, text, head }) => (
            <Box key={head} minWidth="96px" maxWidth="170px">
              <Box fontFamily="mono" fontSize="12px" height="18px" overflow="hidden" title={text}>
                <chakra.span color="slate">{head} </chakra.span>
                {text}
              </Box>
              {layout.tag && samePlace(at, layout.tag) ? (
                <Aside>the type of the row</Aside>
              ) : (
                <RolePick name={`${name}, ${head}`} role={roleAt(at)} onChange={(role) => setRole(at, role)} />
              )}
            </Box>
          ))}
        </Flex>
      )}
    </Leaf>
  );
}

function RolePick({
  name,
  role,
  onChange,
}: {
  name: string;
  role: LayoutRole | '';
  onChange: (r: LayoutRole | '') => void;
}) {
  return (
    <Pick
      aria-label={`role of ${name}`}
      width="100%"
      fontSize="12px"
      fontWeight={role ? '600' : undefined}
      color={role ? 'ink' : 'slate'}
      value={role}
      onChange={(e) => onChange(e.target.value as LayoutRole | '')}
    >
      <option value="">not read</option>
      {LAYOUT_ROLES.map((r) => (
        <option key={r} value={r}>
          {LAYOUT_ROLE_NAME[r]}
        </option>
      ))}
    </Pick>
  );
}

/** Fields between two characters, under the row with a scale of tens. */
function FixedFields({ rule, sample, onChange }: { rule: RowRule; sample: string; onChange: (rule: RowRule) => void }) {
  const scale = Array.from({ length: Math.ceil(sample.length / 10) }, (_, i) => String((i + 1) * 10).padStart(10)).join(
    '',
  );
  const put = (i: number, field: RowRule['fields'][number] | null): void =>
    onChange({
      ...rule,
      fields: field ? rule.fields.map((f, k) => (k === i ? field : f)) : rule.fields.filter((_, k) => k !== i),
    });
  const free = LAYOUT_ROLES.find((r) => !rule.fields.some((f) => f.role === r))!;
  const last = Math.max(0, ...rule.fields.map((f) => ('to' in f.at ? f.at.to : 0)));
  return (
    <Box px="12px" pt="4px">
      <Box
        as="pre"
        fontFamily="mono"
        fontSize="12px"
        m="0"
        overflow="auto"
        tabIndex={0}
        aria-label={`the first row ${rule.tag}`}
      >
        <chakra.span color="slate">{scale}</chakra.span>
        {'\n'}
        {sample}
      </Box>
      {rule.fields.map((f, i) => (
        <Flex key={i} gap="8px" align="center" mt="4px">
          <Box width="170px">
            <RolePick
              name={`field ${i + 1} of ${rule.tag || 'every row'}`}
              role={f.role}
              onChange={(role) => put(i, role === '' ? null : { ...f, role })}
            />
          </Box>
          <Characters
            name={LAYOUT_ROLE_NAME[f.role]}
            place={'from' in f.at ? f.at : { from: 0, to: 1 }}
            onChange={(at) => put(i, { ...f, at })}
          />
          <Num>{'from' in f.at ? sample.slice(f.at.from, f.at.to) : ''}</Num>
        </Flex>
      ))}
      <Act
        mt="6px"
        onClick={() =>
          onChange({
            ...rule,
            fields: [
              ...rule.fields,
              { role: free, at: { from: last, to: Math.max(last + 1, Math.min(sample.length, last + 8)) } },
            ],
          })
        }
      >
        Another field
      </Act>
    </Box>
  );
}

const samePlace = (a: FieldPlace, b: FieldPlace): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Where fields of a row can be: each column, or the key that stands in it; and those the rule has that this row has not. */
function placesOf(sample: string, layout: BookLayout, rule: RowRule): { at: FieldPlace; text: string; head: string }[] {
  const parted = partRow(sample, layout, true);
  const out = parted.fields.slice(0, 60).map((text, column): { at: FieldPlace; text: string; head: string } => {
    const key = /^([A-Za-z][A-Za-z0-9_ ]{0,20}?)\s*[=:]/.exec(text)?.[1];
    const at: FieldPlace = key ? { key } : { column };
    return { at, text: key ? fieldAt(parted, at) : text, head: key ?? String(column + 1) };
  });
  for (const f of rule.fields)
    if (!out.some((o) => samePlace(o.at, f.at)))
      out.push({
        at: f.at,
        text: '–',
        head: 'key' in f.at ? f.at.key : 'column' in f.at ? String(f.at.column + 1) : '',
      });
  return out;
}
