import { groundOf, linesOutOf } from '#core/project';
import { Box, Flex } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { MEANINGS } from '#core/codes';
import { chordLength } from '#core/linework';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Field, Num, Pick } from '../../frame/controls.tsx';
import { Leaves, useLeaf, type LeafName } from '../../frame/leaves.tsx';
import { Grid, type Column } from '../../frame/grid/index.ts';
import { proposeNew, vertexOf } from '../../project-state/line-edit.ts';
import { useParts, useProject } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { Empty, Ledger } from '../../frame/ledger.tsx';
import { CodeListEditor } from './code-list.tsx';
import { Levels } from './levels.tsx';
import { LayersLeaf } from './layers-leaf.tsx';
import { PlotsLeaf } from './plots-leaf.tsx';
import { LineWordsLeaf } from './line-words.tsx';
import { InkLine } from './ink.tsx';
import { TieLines } from './tie-lines.tsx';

/** Codes on shots that the list does not know. */
function unknownCodes({ linework }: Tables): Set<string> {
  const known = new Uint8Array(linework.codeNames.length);
  linework.pointCode.forEach((code, i) => (known[code] = linework.pointKnown[i]));
  return new Set(linework.codeNames.filter((_, i) => !known[i]));
}

/** Lines by code with the points that each goes through; the code list beside it. */
export function Lines() {
  const { state, tables } = useParts('state', 'tables');
  const leaf = useLeaf('lines', LINES_LEAVES);
  if (!state || !tables)
    return (
      <Ledger name="Lines" about="opening …">
        {null}
      </Ledger>
    );
  const unknown = unknownCodes(tables);
  const { codeList } = state.document;
  const about =
    leaf === 'codes'
      ? `${codeList.codes.length} codes`
      : leaf === 'words'
        ? `${MEANINGS.filter((m) => codeList.words[m]).length} line words`
        : `${tables.linework.lines.length} lines${unknown.size ? `; ${unknown.size} unknown ${unknown.size === 1 ? 'code' : 'codes'} on layer UNKNOWN` : ''}`;
  return (
    <Ledger name="Lines" about={about} scroll={false}>
      <Flex direction="column" height="100%" minHeight="0" gap="8px">
        <Leaves stage="lines" leaves={LINES_LEAVES} here={leaf} />
        <Box flex="1" minHeight="0">
          {leaf === 'codes' ? (
            <CodeListEditor />
          ) : leaf === 'words' ? (
            <LineWordsLeaf />
          ) : leaf === 'levels' ? (
            <Levels tables={tables} />
          ) : leaf === 'layers' ? (
            <LayersLeaf tables={tables} />
          ) : leaf === 'plots' ? (
            <PlotsLeaf tables={tables} />
          ) : (
            <LineTable tables={tables} />
          )}
        </Box>
      </Flex>
    </Ledger>
  );
}

type LinesLeaf = 'lines' | 'codes' | 'words' | 'levels' | 'layers' | 'plots';
export const LINES_LEAVES: LeafName<LinesLeaf>[] = [
  { leaf: 'lines', name: 'Lines' },
  { leaf: 'codes', name: 'Code list' },
  { leaf: 'words', name: 'Line words' },
  { leaf: 'levels', name: 'Two levels' },
  { leaf: 'layers', name: 'Layers' },
  { leaf: 'plots', name: 'Plots' },
];

/** Begins a line by hand: a code, then its places on the drawing or typed. */
function DrawLine() {
  const { state, trace, traced } = useParts('state', 'trace', 'traced');
  const codes = state!.document.codeList.codes.filter((c) => c.kind === 'line');
  const [code, setCode] = useState(codes[0]?.code ?? '');
  if (codes.length === 0) return null;
  return (
    <Flex gap="6px" align="center">
      <Pick aria-label="code of the line to draw" value={code} onChange={(e) => setCode(e.target.value)} width="120px">
        {codes.map((c) => (
          <option key={c.code} value={c.code}>
            {c.code} {c.name}
          </option>
        ))}
      </Pick>
      <Act
        disabled={traced !== null}
        onClick={() =>
          trace({
            purpose: `the course of a line ${code}`,
            places: [],
            finish: () => undefined,
            course: {
              most: null,
              finish: (places) => {
                const { state: now, tables } = useProject.getState();
                const vertices = places.map((p) => vertexOf(p, now!.document, tables!));
                proposeNew(code, { vertices, closed: false }, `draw a line ${code} by hand`);
              },
            },
          })
        }
      >
        Draw a line
      </Act>
    </Flex>
  );
}

function LineTable({ tables }: { tables: Tables }) {
  const { state, selection, select } = useParts('state', 'selection', 'select');
  const [find, setFind] = useState('');
  const [ties, setTies] = useState(false);
  const doc = state!.document;
  const { unit } = doc.settings;
  const canEdit = state!.project.role === 'owner' || state!.project.role === 'surveyor';
  const { linework, points } = tables;
  const out = linesOutOf(groundOf(doc));
  const codes = useMemo(() => new Map(doc.codeList.codes.map((c) => [c.code.toUpperCase(), c])), [doc.codeList]);
  const lengths = useMemo(() => linework.lines.map(chordLength), [linework]);
  // Sorted once for a revision; typing only leaves lines out.
  const byName = useMemo(
    () =>
      Uint32Array.from(linework.lines, (_, i) => i).sort((a, b) => {
        const [p, q] = [linework.lines[a].code, linework.lines[b].code];
        return p < q ? -1 : p > q ? 1 : a - b;
      }),
    [linework],
  );
  const order = useMemo(() => {
    const sought = find.trim().toUpperCase();
    if (!sought) return byName;
    const named = new Set([...codes].filter(([, c]) => c.name.toUpperCase().includes(sought)).map(([code]) => code));
    return byName.filter((i) => linework.lines[i].key.includes(sought) || named.has(linework.lines[i].code));
  }, [byName, linework, find, codes]);
  const shown = useMemo(() => Array.from(order, (i) => linework.lines[i]), [order, linework]);
  if (linework.lines.length === 0)
    return (
      <Empty>
        Lines draw themselves from codes: a shot with a line code such as KT1, the word {doc.codeList.words.begin} on
        the first and {doc.codeList.words.end} or {doc.codeList.words.close} on the last. There are none yet.
      </Empty>
    );
  const nameOf = (row: number): string => (row >= 0 ? points.number.get(row) || `row ${points.fileRow[row]}` : '·');
  const hasNoNumber = (row: number): boolean => row >= 0 && !points.number.get(row);
  /** Ends of a line by their numbers; of a drawing's line by its rows, said once, so that the column stays narrow. */
  const endsOf = (from: number, to: number): string =>
    hasNoNumber(from) && hasNoNumber(to)
      ? `rows ${points.fileRow[from]} – ${points.fileRow[to]}`
      : `${nameOf(from)} – ${nameOf(to)}`;
  const columns: Column[] = [
    { id: 'key', head: 'Line', max: 160, pinned: true, text: (i) => linework.lines[i].key },
    {
      id: 'ink',
      head: '',
      name: 'how it is drawn',
      width: 54,
      text: (i) => codes.get(linework.lines[i].code)?.style ?? '',
      cell: (i) => <InkLine code={codes.get(linework.lines[i].code)} />,
    },
    {
      id: 'name',
      head: 'What it is',
      min: 90,
      max: 220,
      grow: 1,
      words: true,
      text: (i) => codes.get(linework.lines[i].code)?.name ?? 'unknown',
    },
    {
      id: 'points',
      head: 'Points',
      numeric: true,
      text: (i) => String(linework.lines[i].rows.filter((r) => r >= 0).length),
    },
    {
      id: 'through',
      head: 'From – to',
      text: (i) => endsOf(linework.lines[i].rows[0], linework.lines[i].rows.at(-1)!),
    },
    {
      id: 'length',
      head: `Length ${UNIT_SIGN[unit]}`,
      numeric: true,
      text: (i) => formatLength(lengths[i], unit, 2),
    },
    {
      id: 'ground',
      head: 'In ground',
      words: true,
      text: (i) =>
        !codes.get(linework.lines[i].code)?.breakline ? 'no' : out.includes(linework.lines[i].key) ? 'excluded' : 'yes',
    },
  ];
  const at = selection?.kind === 'line' ? linework.lines.findIndex((l) => l.key === selection.key) : -1;
  return (
    <Flex
      direction="column"
      height="100%"
      minHeight="0"
      bg="leaf"
      border="1px solid"
      borderColor="rule"
      borderRadius="4px"
    >
      <Flex
        align="center"
        gap="10px"
        px="10px"
        height="36px"
        borderBottom="1px solid"
        borderColor="rule"
        flexShrink="0"
      >
        <Field
          placeholder="only lines with …"
          aria-label="filter the lines"
          value={find}
          onChange={(e) => setFind(e.target.value)}
          width="150px"
        />
        <Aside whiteSpace="nowrap">
          <Num>{order.length}</Num> {order.length === 1 ? 'line' : 'lines'}
        </Aside>
        <Box flex="1" />
        {canEdit ? (
          <Act
            aria-expanded={ties}
            title="Lines of a drawing follow the points that they pass through from then on"
            onClick={() => setTies(!ties)}
          >
            Tie to points
          </Act>
        ) : null}
        {canEdit ? <DrawLine /> : null}
        {find ? (
          <Act look="quiet" onClick={() => setFind('')}>
            All
          </Act>
        ) : null}
      </Flex>
      {ties ? <TieLines tables={tables} lines={shown} close={() => setTies(false)} /> : null}
      <Box flex="1" minHeight="0">
        <Grid
          table="lines"
          label="lines"
          columns={columns}
          order={order}
          count={order.length}
          selected={at >= 0 ? at : null}
          onSelect={(i) => {
            const line = linework.lines[i];
            select({ kind: 'line', key: line.key });
            sheetHandle.current?.show(line.x[0], line.y[0]);
          }}
        />
      </Box>
    </Flex>
  );
}
