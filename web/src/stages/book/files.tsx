import { PaperAct } from '../../frame/paper.tsx';
import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useMemo, useState } from 'react';
import { removeFile, setPurpose, type Intake } from '#core/project';
import { STATE } from '#core/stages';
import { stringsOf, unpackColumns, type StringColumn } from '#core/kernel';
import { UNDER, type Underlay } from '#core/exchange';
import { UNIT_SIGN } from '#core/measure';
import { api, problemText } from '../../frame/api.ts';
import { Act, Aside, Cut, Field, Leaf, Num, Pick } from '../../frame/controls.tsx';
import { intoOf, PurposePick, type ChosenPurpose } from '../../intake/purpose-pick.tsx';
import { Changing } from '../../project-state/changing.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { useParts, useProject } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { ReplaceFile } from './replace-file.tsx';

/** The received files: each on or off, with its account, its way out, and what its numbers become. */
export function Files({ tables }: { tables: Tables }) {
  const { state, imported } = useParts('state', 'imported');
  const [openFile, setOpenFile] = useState<string | null>(imported);
  useEffect(() => {
    if (imported) setOpenFile(imported);
  }, [imported]);
  return (
    <Leaf flexShrink="0" maxHeight="42%" overflow="auto">
      {state!.document.intakes.map((intake) => (
        <FileLine
          key={intake.id}
          intake={intake}
          tables={tables}
          open={openFile === intake.id}
          onToggle={() => setOpenFile(openFile === intake.id ? null : intake.id)}
        />
      ))}
    </Leaf>
  );
}

const ORDER_NAME = (i: Intake): string =>
  i.layout.roles
    .filter((r) => r !== '_')
    .map((r) => ({ P: 'number', E: 'east', N: 'north', Z: 'elevation', D: 'code' })[r as 'P'])
    .filter((r, k, all) => all.indexOf(r) === k)
    .join(', ');

function FileLine({
  intake,
  tables,
  open,
  onToggle,
}: {
  intake: Intake;
  tables: Tables;
  open: boolean;
  onToggle: () => void;
}) {
  const { state, make, busy, id } = useParts('state', 'make', 'busy', 'id');
  const canChange = useCanChange();
  const { account, problem } = useIntakeAccount(intake, open);
  const index = state!.document.intakes.indexOf(intake);
  const counts = useMemo(() => {
    let all = 0;
    let waits = 0;
    for (let row = 0; row < tables.points.x.length; row++) {
      if (tables.points.intake[row] !== index) continue;
      all++;
      if (tables.points.state[row] === STATE.waits) waits++;
    }
    return { all, waits };
  }, [tables, index]);
  const underlay = tables.underlays.get(intake.id);
  useMarkedPoints(tables, index, open, counts.all);
  return (
    <Box borderBottom="1px solid" borderColor="rule" _last={{ borderBottom: 0 }} opacity={intake.on ? 1 : 0.65}>
      <Flex align="center" gap="10px" px="10px" minHeight="30px">
        <input
          type="checkbox"
          aria-label={`use ${intake.fileName}`}
          checked={intake.on}
          disabled={busy || !canChange}
          onChange={(e) => void make({ op: 'intake.switch', id: intake.id, on: e.target.checked })}
        />
        <chakra.button
          type="button"
          onClick={onToggle}
          aria-expanded={open}
          display="flex"
          gap="10px"
          alignItems="center"
          flex="1"
          minWidth="0"
          bg="transparent"
          border="0"
          p="0"
          cursor="pointer"
          textAlign="left"
        >
          <Cut fontWeight="600">{intake.fileName}</Cut>
          <Aside whiteSpace="nowrap">
            {intake.form === 'book'
              ? 'field book'
              : intake.purpose === 'survey'
                ? 'survey'
                : intake.purpose === 'control'
                  ? 'control'
                  : underlay && counts.all === 0
                    ? 'underlay'
                    : 'design'}
          </Aside>
        </chakra.button>
        {counts.waits ? (
          <Box color="brass" whiteSpace="nowrap">
            {counts.waits} {counts.waits === 1 ? 'waits' : 'wait'}
          </Box>
        ) : null}
        <Num>{intake.on ? counts.all || (underlay?.kinds.length ?? 0) : 'off'}</Num>
      </Flex>
      {open ? (
        <Box px="34px" pb="8px" fontSize="13px">
          <Box color="slate">
            {intake.form === 'book'
              ? 'a field book, read record by record'
              : `read as ${ORDER_NAME(intake)}, in ${UNIT_SIGN[intake.layout.unit]}`}
            {account
              ? `; ${account.rows} ${account.rows === 1 ? 'row' : 'rows'}, ${account.refusedCount} not read, ${account.blank} blank`
              : ''}
          </Box>
          {underlay ? <Box>{underlaySaid(underlay)}</Box> : null}
          {problem ? (
            <Box role="alert" color="pole">
              Its account could not be fetched: {problem}
            </Box>
          ) : null}
          {account?.refused.slice(0, 20).map((r) => (
            <Box key={r.row}>
              row {r.row}: {r.reason} <Num color="slate">{r.text.slice(0, 80)}</Num>
            </Box>
          ))}
          <Flex gap="8px" mt="6px" align="center" wrap="wrap">
            <a href={`/api/projects/${id}/files/${intake.fileId}`} download>
              <chakra.span textDecoration="underline">Download as received</chakra.span>
            </a>
            {intake.form === 'book' && intake.on ? (
              <>
                as it stands:
                {(
                  [
                    ['landxml', 'LandXML'],
                    ['text', 'text'],
                  ] as const
                ).map(([form, name]) => (
                  <PaperAct key={form} project={id} path={`intakes/${intake.id}/book?form=${form}`}>
                    {name}
                  </PaperAct>
                ))}
              </>
            ) : null}
            <Changing>
              <ReplaceFile intake={intake} />
              <Act disabled={busy} onClick={() => void make(removeFile(state!.document, intake.id))}>
                Delete it from the project
              </Act>
              {intake.form !== 'book' ? <Kind intake={intake} /> : null}
              {intake.purpose !== 'control' ? <Prefix intake={intake} /> : null}
              {intake.purpose !== 'control' ? <Light intake={intake} /> : null}
              {intake.purpose !== 'control' ? <NumberDecision intake={intake} /> : null}
            </Changing>
          </Flex>
        </Box>
      ) : null}
    </Box>
  );
}

const DECISIONS = {
  both: 'keep both',
  merge: 'same point, keep the earlier',
  renumber: 'give new numbers',
  'leave-out': 'exclude the later',
} as const;

/** What the points of a file are, changed when it was taken for something else. */
function Kind({ intake }: { intake: Intake }) {
  const { state, make, busy } = useParts('state', 'make', 'busy');
  const doc = state!.document;
  const now = doc.surfaces.find((s) =>
    s.rows.some((r) => (r.kind === 'file' || r.kind === 'triangles') && r.intake === intake.id),
  );
  const stands: ChosenPurpose = { purpose: intake.purpose, surface: now?.id ?? null, name: '' };
  const [typed, setTyped] = useState<ChosenPurpose | null>(null);
  const set = (chosen: ChosenPurpose): void => {
    setTyped(null);
    if (chosen.purpose === stands.purpose && chosen.surface === stands.surface && chosen.name === '') return;
    void make(setPurpose(doc, intake.id, chosen.purpose, intoOf(chosen) ?? null));
  };
  return (
    <Flex gap="6px" align="center" wrap="wrap">
      its points are
      <PurposePick
        doc={doc}
        chosen={typed ?? stands}
        label={`what the points of ${intake.fileName} are`}
        nameLabel={`name of the surface of ${intake.fileName}`}
        disabled={busy}
        onChange={(c) => (c.purpose === 'design' && c.surface === null ? setTyped(c) : set(c))}
        onName={(c) => (c.name.trim() ? set(c) : setTyped(null))}
      />
    </Flex>
  );
}

/** Whether a file's points are heights of the ground only, that nobody needs a number for. */
function Light({ intake }: { intake: Intake }) {
  const { make, busy } = useParts('make', 'busy');
  return (
    <chakra.label display="inline-flex" gap="6px" alignItems="center">
      <input
        type="checkbox"
        disabled={busy}
        checked={intake.light ?? false}
        onChange={(e) => void make({ op: 'intake.light', id: intake.id, light: e.target.checked })}
      />
      ground-only points
    </chakra.label>
  );
}

/** What stands before the numbers of a file's points, taken on Enter or on leaving the field. */
function Prefix({ intake }: { intake: Intake }) {
  const { make } = useParts('make');
  const [typed, setTyped] = useState<string | null>(null);
  const take = (): void => {
    if (typed !== null && typed.trim() !== (intake.prefix ?? ''))
      void make({ op: 'intake.prefix', id: intake.id, prefix: typed.trim() });
    setTyped(null);
  };
  return (
    <chakra.form
      display="flex"
      gap="6px"
      alignItems="center"
      onSubmit={(e) => {
        e.preventDefault();
        take();
      }}
    >
      before its numbers:
      <Field
        aria-label={`before the numbers of ${intake.fileName}`}
        placeholder="nothing"
        width="76px"
        maxLength={12}
        value={typed ?? intake.prefix ?? ''}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Escape') setTyped(null);
        }}
      />
    </chakra.form>
  );
}

/** So many points of a file are marked; of more, as many that lie evenly among its rows. */
const MOST_MARKED = 20_000;

/** While a file stands open, its points are marked on the drawing. */
function useMarkedPoints(tables: Tables, index: number, wanted: boolean, count: number): void {
  useEffect(() => {
    if (!wanted) return;
    const { points } = tables;
    const every = Math.ceil(count / MOST_MARKED);
    const places = new Float64Array(2 * Math.ceil(count / Math.max(every, 1)));
    let [own, at] = [0, 0];
    for (let row = 0; row < points.x.length; row++) {
      if (points.intake[row] !== index || own++ % every !== 0) continue;
      places[at++] = points.x[row];
      places[at++] = points.y[row];
    }
    useProject.setState({ sketch: { places, mark: 'ring', arrows: [], about: 'points of one file' } });
    return () => useProject.setState({ sketch: null });
  }, [tables, index, wanted, count]);
}

function NumberDecision({ intake }: { intake: Intake }) {
  const { make } = useParts('make');
  return (
    <chakra.label display="flex" gap="6px" alignItems="center">
      numbers that exist already:
      <Pick
        value={intake.numbers.all}
        onChange={(e) =>
          void make({
            op: 'intake.numbers',
            id: intake.id,
            numbers: { all: e.target.value as Intake['numbers']['all'], each: intake.numbers.each },
          })
        }
      >
        {Object.entries(DECISIONS).map(([k, v]) => (
          <option key={k} value={k}>
            {v}
          </option>
        ))}
      </Pick>
    </chakra.label>
  );
}

/** What of a file lies under the drawing. */
function underlaySaid({ kinds }: Underlay): string {
  const of = (one: string, ...those: number[]): string[] => {
    const n = kinds.filter((k) => those.includes(k)).length;
    return n ? [`${n} ${n === 1 ? one : `${one}s`}`] : [];
  };
  const all = [...of('line', UNDER.line, UNDER.closed), ...of('mark', UNDER.point), ...of('text', UNDER.text)];
  return `Under the drawing: ${all.join(', ')}.`;
}

interface Account {
  rows: number;
  blank: number;
  refusedCount: number;
  refused: { row: number; text: string; reason: string }[];
}

/** The account of an intake, out of what was read of it. */
function useIntakeAccount(intake: Intake, wanted: boolean): { account: Account | null; problem: string | null } {
  const { tables, id } = useParts('tables', 'id');
  const [account, setAccount] = useState<Account | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const hash = tables?.stages.reads[intake.id];
  useEffect(() => {
    if (!wanted || !hash) return;
    let here = true;
    setProblem(null);
    api.result(id, hash).then(
      (bytes) => here && setAccount(JSON.parse(stringsOf(unpackColumns(bytes).account as StringColumn)[0]) as Account),
      (error: unknown) => here && setProblem(problemText(error)),
    );
    return () => {
      here = false;
    };
  }, [wanted, hash, id]);
  return { account, problem };
}
