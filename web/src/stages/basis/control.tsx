import { Box, Flex } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { editAt, STANDING_NAME, type Change, type ProjectDocument, type Standing } from '#core/project';
import { STATE } from '#core/stages';
import { writeText } from '#core/exchange';
import { distance } from '#core/kernel';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Cut, Leaf, Pick } from '../../frame/controls.tsx';
import { saveText } from '../../frame/download.ts';
import { PaperAct } from '../../frame/paper.tsx';
import { Grid, type Column } from '../../frame/grid/index.ts';
import { useCanChange } from '../../project-state/can.ts';
import { editOf, keyOf, type Editable } from '../../project-state/edit.ts';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { Empty } from '../../frame/ledger.tsx';
import { GivenLine } from '../../intake/given.tsx';
import { TypedControl } from './typed-control.tsx';

/** Points whose coordinates are given: standing, accuracy, source; taken in, typed in, printed, sent. */
export function Control({ onTakeIn }: { onTakeIn: () => void }) {
  const { state, tables, id } = useParts('state', 'tables', 'id');
  const canChange = useCanChange();
  const [typing, setTyping] = useState(false);
  const doc = state!.document;
  const rows = useMemo(() => controlRows(doc, tables!), [doc, tables]);
  const files = doc.intakes.filter((i) => i.purpose === 'control');
  return (
    <>
      <Flex gap="8px" mb="10px" wrap="wrap" align="center">
        {canChange ? (
          <>
            <Act onClick={onTakeIn}>Import files …</Act>
            <Act onClick={() => setTyping(!typing)} aria-expanded={typing}>
              Type it …
            </Act>
          </>
        ) : null}
        <Box flex="1" />
        {rows.length ? (
          <>
            <PaperAct project={id} path="control-sheet">
              Control sheet as PDF
            </PaperAct>
            <Act look="quiet" onClick={() => sendControl(doc, tables!, rows, state!.project.name, state!.revision)}>
              As CSV
            </Act>
          </>
        ) : null}
      </Flex>
      {typing ? <TypedControl onLeave={() => setTyping(false)} /> : null}
      {rows.length ? <ControlTable rows={rows} /> : null}
      {rows.length === 0 && !typing ? (
        <Empty>
          No control yet. Drop its file (text, spreadsheet or LandXML) and choose “control” when it is imported, or type
          it in. It tells the order and the unit of the crews’ coordinates.
        </Empty>
      ) : null}
      {canChange ? <InPlaceOfTyped doc={doc} tables={tables!} rows={rows} /> : null}
      {files.length ? (
        <Leaf head="Where it comes from" mt="10px" pb="6px">
          {files.map((i) => (
            <Box key={i.id} px="12px" py="3px">
              <Flex gap="8px" align="baseline">
                <Cut fontWeight="600">{i.fileName}</Cut>
                {i.on ? null : <Aside>switched off</Aside>}
              </Flex>
              <GivenLine intake={i} />
            </Box>
          ))}
        </Leaf>
      ) : null}
    </>
  );
}

function controlRows(doc: ProjectDocument, tables: Tables): number[] {
  const rows: number[] = [];
  const { points } = tables;
  for (let row = 0; row < points.x.length; row++)
    if (doc.intakes[points.intake[row]]?.purpose === 'control') rows.push(row);
  return rows;
}

const standingOf = (doc: ProjectDocument, tables: Tables, row: number): Standing =>
  editAt(doc, keyOf(doc, tables, row))?.standing ?? doc.intakes[tables.points.intake[row]].given?.standing ?? 'fixed';

function ControlTable({ rows }: { rows: number[] }) {
  const { state, tables, make, propose, select, selection } = useParts(
    'state',
    'tables',
    'make',
    'propose',
    'select',
    'selection',
  );
  const canChange = useCanChange();
  const doc = state!.document;
  const s = doc.settings;
  const { points } = tables!;
  const sign = UNIT_SIGN[s.unit];
  const edit = (field: Editable) => (row: number, typed: string) => {
    const made = editOf(doc, tables!, row, field, typed);
    if (made && 'problem' in made) return made.problem;
    if (made) void propose(made.label, made.change);
    return null;
  };
  const place = (id: 'x' | 'y', head: string): Column => ({
    id,
    head: `${head} ${sign}`,
    numeric: true,
    text: (r) => formatLength(points[id][r], s.unit, s.decimals),
    edit: canChange ? edit(id) : undefined,
  });
  const coordinates = [place('x', 'East'), place('y', 'North')];
  if (s.order === 'NE') coordinates.reverse();
  const columns: Column[] = [
    {
      id: 'number',
      head: 'Control',
      min: 60,
      max: 160,
      pinned: true,
      text: (r) => points.number.get(r),
      edit: canChange ? edit('number') : undefined,
      cell: (r) => (points.edited[r] ? <span className="changed">{points.number.get(r)}</span> : points.number.get(r)),
    },
    ...coordinates,
    {
      id: 'z',
      head: `Elev ${sign}`,
      numeric: true,
      text: (r) => formatLength(points.z[r], s.unit, s.elevationDecimals),
      edit: canChange ? edit('z') : undefined,
    },
    {
      id: 'standing',
      head: 'Standing',
      width: 96,
      words: true,
      text: (r) => (points.state[r] === STATE.off ? 'excluded' : STANDING_NAME[standingOf(doc, tables!, r)]),
      cell: (r) =>
        points.state[r] === STATE.off ? (
          'excluded'
        ) : canChange ? (
          <Pick
            aria-label={`standing of ${points.number.get(r)}`}
            height="24px"
            px="2px"
            value={standingOf(doc, tables!, r)}
            onClick={(e) => e.stopPropagation()}
            onKeyDown={(e) => e.stopPropagation()}
            onChange={(e) =>
              void make({
                op: 'points.edit',
                edits: { [keyOf(doc, tables!, r)]: { set: { standing: e.target.value as Standing }, undo: [] } },
              })
            }
          >
            {(Object.keys(STANDING_NAME) as Standing[]).map((k) => (
              <option key={k} value={k}>
                {STANDING_NAME[k]}
              </option>
            ))}
          </Pick>
        ) : (
          STANDING_NAME[standingOf(doc, tables!, r)]
        ),
    },
    {
      id: 'accuracy',
      head: `± plan, h ${sign}`,
      numeric: true,
      text: (r) => {
        const given = doc.intakes[points.intake[r]].given;
        const part = (m: number | null | undefined): string => (m ? formatLength(m, s.unit, 3) : '–');
        return given?.plan || given?.height ? `${part(given.plan)} ${part(given.height)}` : '–';
      },
    },
  ];
  return (
    <Box
      bg="leaf"
      border="1px solid"
      borderColor="rule"
      borderRadius="4px"
      height={`${38 + Math.min(rows.length, 12) * 28 + 10}px`}
    >
      <Grid
        table="control"
        label="control"
        columns={columns}
        order={Uint32Array.from(rows)}
        count={rows.length}
        selected={selection?.kind === 'point' ? selection.row : null}
        onSelect={(row) => {
          select({ kind: 'point', row });
          sheetHandle.current?.show(points.x[row], points.y[row]);
        }}
        quiet={(r) => points.state[r] !== STATE.used}
      />
    </Box>
  );
}

/** Shots and typed coordinates that carry the number of control: control can take their place, all at once. */
function InPlaceOfTyped({ doc, tables, rows }: { doc: ProjectDocument; tables: Tables; rows: number[] }) {
  const { propose } = useParts('propose');
  const { points } = tables;
  const found = useMemo(() => {
    // A number that control has twice tells no place.
    const known = new Map<string, number | null>();
    for (const r of rows)
      if (points.state[r] === STATE.used) known.set(points.number.get(r), known.has(points.number.get(r)) ? null : r);
    const out: { row: number; control: number }[] = [];
    for (let row = 0; row < points.x.length; row++) {
      if (doc.intakes[points.intake[row]].purpose === 'control' || points.state[row] !== STATE.used) continue;
      const control = known.get(points.number.get(row));
      if (control === undefined || control === null) continue;
      const away = distance(points.x[row] - points.x[control], points.y[row] - points.y[control]);
      const up = Math.abs(points.z[row] - points.z[control]);
      if (away > 5e-4 || up > 5e-4) out.push({ row, control });
    }
    return out;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `points` are of the tables
  }, [doc, tables, rows]);
  if (found.length === 0) return null;
  const change: Change = {
    op: 'points.edit',
    edits: Object.fromEntries(
      found.map(({ row, control }) => [
        keyOf(doc, tables, row),
        {
          set: {
            x: points.x[control],
            y: points.y[control],
            ...(Number.isNaN(points.z[control]) ? {} : { z: points.z[control] }),
          },
          undo: [],
        },
      ]),
    ),
  };
  const names = found.slice(0, 4).map((f) => points.number.get(f.row));
  return (
    <Leaf mt="10px" p="8px 12px">
      <Flex gap="10px" align="center" wrap="wrap">
        <Box flex="1" minWidth="200px">
          {found.length === 1 ? 'One point of the survey carries' : `${found.length} points of the survey carry`} the
          number of control with other coordinates: {names.join(', ')}
          {found.length > 4 ? ' …' : ''}. Shots of control are checks; what was typed at the instrument is not.
        </Box>
        <Act onClick={() => void propose('control in place of what was typed or shot', change)}>
          Use control’s coordinates …
        </Act>
      </Flex>
    </Leaf>
  );
}

function sendControl(doc: ProjectDocument, tables: Tables, rows: number[], project: string, revision: number): void {
  const { points } = tables;
  const text = writeText(
    rows
      .filter((r) => points.state[r] === STATE.used)
      .map((r) => ({
        number: points.number.get(r),
        x: points.x[r],
        y: points.y[r],
        z: points.z[r],
        description: points.description.get(r),
      })),
    {
      order: doc.settings.order === 'EN' ? ['P', 'E', 'N', 'Z', 'D'] : ['P', 'N', 'E', 'Z', 'D'],
      unit: doc.settings.unit,
      decimals: 4,
      separator: ',',
      headings: true,
    },
  );
  saveText(`${project}-control-r${revision}.csv`, text);
}
