import { Box, Flex } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { z } from 'zod';
import type { SavedLayout } from '#contract';
import {
  drawingChoices,
  ROLE_NAME,
  SEPARATOR_NAME,
  splitRow,
  type Role,
  type Separator,
  type TextLayout,
} from '#core/exchange';
import { FILE_UNITS, UNIT_NAME, type FileUnit } from '#core/measure';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Field, Leaf, Pick } from '../frame/controls.tsx';
import { Form } from '../frame/form.tsx';
import { SmallTable, type SmallColumn } from '../frame/small-table.tsx';
import type { Opened } from '../work/intake.worker.ts';

interface LayoutProps {
  layout: TextLayout;
  opened: Opened;
  setLayout: (layout: TextLayout) => void;
  proposed: KeptChoice | null;
}

/** The saved layout in force: two people of a team may have called theirs the same. */
export interface KeptChoice {
  id: string;
  name: string;
  /** Chosen because the files that it was made for began like this one. */
  alike: boolean;
}

/** Layouts that were kept, one of them chosen or none; one kept just now is listed before the list is fetched again. */
export function KeptLayout({
  layouts,
  proposed,
  onPick,
}: {
  layouts: readonly SavedLayout[];
  proposed: KeptChoice | null;
  onPick: (kept: SavedLayout | undefined) => void;
}) {
  return (
    <Pick
      aria-label="saved layout"
      value={proposed?.id ?? ''}
      onChange={(e) => onPick(layouts.find((l) => l.id === e.target.value))}
    >
      <option value="">none: as guessed</option>
      {layouts.map((l) => (
        <option key={l.id} value={l.id}>
          {l.name}
          {l.team ? `, ${l.team}` : ''}
        </option>
      ))}
      {proposed && !layouts.some((l) => l.id === proposed.id) ? (
        <option value={proposed.id}>{proposed.name}</option>
      ) : null}
    </Pick>
  );
}

/** A saved layout for the part of a file that is open. */
export function keptFor(
  {
    surface: _,
    lines: __,
    taken: ___,
    blocks: ____,
    within: _____,
    clean: ______,
    written: _______,
    step: ________,
    fence: _________,
    ...kept
  }: TextLayout,
  { guess, surface, lines }: Opened,
): TextLayout {
  const part = { ...(surface === null ? {} : { surface }), ...(lines.taken ? { lines: true } : {}) };
  return {
    ...kept,
    skipRows: guess.layout.skipRows,
    ...part,
    ...drawingChoices(guess.layout),
  };
}

/** How the rows are separated, and the layout that was kept for such files. */
export function LayoutLine({
  layout,
  opened,
  setLayout,
  layouts,
  proposed,
  setProposed,
}: LayoutProps & { layouts: SavedLayout[]; setProposed: (kept: KeptChoice | null) => void }) {
  const { why } = opened.guess;
  const guessed = proposed === null;
  // The columns of a drawing are made here: of it only the unit can be another.
  const asRows = opened.kind === 'text' || opened.kind === 'spreadsheet';
  const separate = (separator: Separator): void => {
    const width = Math.max(
      2,
      ...opened.rows.slice(layout.skipRows, layout.skipRows + 10).map((r) => splitRow(r, separator).length),
    );
    setLayout({
      ...layout,
      separator,
      roles: Array.from({ length: Math.min(width, 60) }, (_, i) => layout.roles[i] ?? '_'),
    });
  };
  return (
    <Leaf mb="10px" p="8px 12px">
      {asRows ? (
        <Flex gap="8px" wrap="wrap" align="center">
          <Aside>saved layout</Aside>
          <KeptLayout
            layouts={layouts.filter((l) => 'roles' in l.layout)}
            proposed={proposed}
            onPick={(kept) => {
              setProposed(kept ? { id: kept.id, name: kept.name, alike: false } : null);
              setLayout(kept && 'roles' in kept.layout ? keptFor(kept.layout, opened) : opened.guess.layout);
            }}
          />
          {proposed?.alike ? <Box color="pine">proposed, since its files began like this one</Box> : null}
        </Flex>
      ) : null}
      <Flex gap="8px" wrap="wrap" align="center" mt="6px">
        {asRows ? (
          <>
            separated by
            <Pick
              aria-label="separator"
              value={layout.separator}
              onChange={(e) => separate(e.target.value as Separator)}
            >
              {(Object.keys(SEPARATOR_NAME) as Separator[]).map((s) => (
                <option key={s} value={s}>
                  {SEPARATOR_NAME[s]}
                </option>
              ))}
            </Pick>
            decimal
            <Pick
              aria-label="decimal sign"
              value={layout.decimal}
              onChange={(e) => setLayout({ ...layout, decimal: e.target.value as '.' | ',' })}
            >
              <option value=".">point</option>
              <option value=",">comma</option>
            </Pick>
          </>
        ) : null}
        in
        <Pick
          aria-label="unit of the file"
          value={layout.unit}
          onChange={(e) => setLayout({ ...layout, unit: e.target.value as FileUnit })}
        >
          {FILE_UNITS.map((u) => (
            <option key={u} value={u}>
              {UNIT_NAME[u]}
            </option>
          ))}
        </Pick>
        {asRows ? (
          <>
            rows to skip
            <Field
              numeric
              type="number"
              min={0}
              max={100000}
              width="70px"
              aria-label="rows to skip"
              value={layout.skipRows}
              onChange={(e) => setLayout({ ...layout, skipRows: Math.max(0, Math.floor(Number(e.target.value) || 0)) })}
            />
          </>
        ) : null}
      </Flex>
      {guessed ? (
        <Box color="slate" fontSize="13px" mt="4px">
          {asRows ? `Separator: ${why.separator}. ` : ''}Unit: {unitWhy(layout, opened)}.
          {asRows ? ` Rows: ${why.skip}.` : ''}{' '}
          {['utf-8', 'spreadsheet', 'grid'].includes(opened.encoding) ? '' : `Text is ${opened.encoding}.`}
        </Box>
      ) : null}
    </Leaf>
  );
}

/** Why a file is read in its unit: as it was guessed, or because somebody chose it, whatever the file says. */
function unitWhy({ unit }: TextLayout, { guess, claims }: Opened): string {
  if (unit === guess.layout.unit) return guess.why.unit;
  return claims.unit && claims.unit !== unit
    ? `chosen here; the file says ${UNIT_NAME[claims.unit]}`
    : 'chosen here; the file does not say';
}

interface FirstRow {
  at: number;
  fields: readonly string[];
}

/** The first rows with a role on every column, and why. */
export function ColumnTable({ opened, layout, setLayout, proposed }: LayoutProps) {
  const rows = opened.rows.slice(0, layout.skipRows + 12);
  const setRole = (i: number, role: Role): void => {
    // East, north, number and elevation are in one column each: the one that had the role gives it up.
    const single = role !== '_' && role !== 'D';
    const swapped = layout.roles[i];
    setLayout({ ...layout, roles: layout.roles.map((r, k) => (k === i ? role : single && r === role ? swapped : r)) });
  };
  const roleHead = (role: Role, i: number) => (
    <>
      <Pick
        aria-label={`role of column ${i + 1}`}
        value={role}
        fontWeight="600"
        fontSize="12px"
        px="2px"
        color={role === '_' ? 'slate' : 'ink'}
        onChange={(e) => setRole(i, e.target.value as Role)}
      >
        {(Object.keys(ROLE_NAME) as Role[]).map((r) => (
          <option key={r} value={r}>
            {layout.degrees && r === 'E' ? 'longitude' : layout.degrees && r === 'N' ? 'latitude' : ROLE_NAME[r]}
          </option>
        ))}
      </Pick>
      <Box
        color="slate"
        fontSize="11px"
        fontWeight="400"
        lineHeight="14px"
        mt="3px"
        maxWidth="150px"
        minHeight="28px"
        whiteSpace="normal"
      >
        {proposed ? `as in “${proposed.name}”` : (opened.guess.why.columns[i] ?? '')}
      </Box>
    </>
  );
  return (
    <Box overflow="auto" bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px" maxHeight="300px">
      <SmallTable
        label="first rows and the role of each column"
        rows={rows.map((row, at) => ({ at, fields: splitRow(row, layout.separator) }))}
        rowStyle={({ at }) => (at < layout.skipRows ? { color: 'slate', textDecoration: 'line-through' } : {})}
        cellStyle={{ height: '24px', fontFamily: 'mono', fontSize: '12px', whiteSpace: 'nowrap' }}
        columns={[
          { id: 'row', head: 'row', style: { color: 'slate', textAlign: 'right' }, cell: ({ at }) => at + 1 },
          ...layout.roles.map((role, i): SmallColumn<FirstRow> => ({
            id: String(i),
            head: roleHead(role, i),
            words: !['E', 'N', 'Z'].includes(role),
            cell: ({ fields }) => (fields[i] ?? '').slice(0, 60),
          })),
        ]}
      />
    </Box>
  );
}

/** Keeps a layout by name for the sender's next file. */
export function SaveLayout({
  layout,
  signature,
  about = 'whose files are these?',
  onSaved,
}: {
  layout: SavedLayout['layout'];
  signature: string;
  /** What the name is. */
  about?: string;
  onSaved: (kept: KeptChoice) => void;
}) {
  const [open, setOpen] = useState(false);
  const [said, setSaid] = useState('');
  const { register, handleSubmit, reset, watch } = useForm({
    resolver: zodResolver(z.object({ name: z.string().trim().min(1).max(80), team: z.string() })),
    defaultValues: { name: '', team: '' },
  });
  const teams = useQuery({ queryKey: ['teams'], queryFn: api.teams, enabled: open });
  const submit = handleSubmit(({ name, team }) =>
    api.saveLayout(name, layout, signature, team || null).then(
      ({ id }) => {
        setSaid(`saved as “${name}”`);
        onSaved({ id, name, alike: false });
        setOpen(false);
        reset();
      },
      (error: unknown) => setSaid(problemText(error)),
    ),
  );
  if (!open)
    return (
      <>
        <Act onClick={() => setOpen(true)}>Save this layout …</Act>
        {said ? <Aside role="status">{said}</Aside> : null}
      </>
    );
  return (
    <Form display="flex" flexWrap="wrap" alignItems="center" gap="6px" onSubmit={submit}>
      <Field
        autoFocus
        aria-label="name of the layout"
        placeholder={about}
        maxLength={80}
        onKeyDown={(e) => e.key === 'Escape' && setOpen(false)}
        {...register('name')}
      />
      for
      <Pick aria-label="who uses the layout" {...register('team')}>
        <option value="">me</option>
        {(teams.data ?? []).map((t) => (
          <option key={t.id} value={t.id}>
            the team {t.name}
          </option>
        ))}
      </Pick>
      <Act type="submit" disabled={!watch('name').trim()}>
        Keep
      </Act>
      {said ? (
        <Aside role="alert" color="pole">
          {said}
        </Aside>
      ) : null}
    </Form>
  );
}
