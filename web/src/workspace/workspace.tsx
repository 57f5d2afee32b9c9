import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { Group, Panel, Separator, useGroupRef } from 'react-resizable-panels';
import type { Account } from '#contract';
import type { Stage } from '#core/project';
import { api, problemText } from '../frame/api.ts';
import { Boundary } from '../frame/boundary.tsx';
import { dropFile, keepFile, useUnfinishedFile } from '../project-state/drafts.ts';
import { Act } from '../frame/controls.tsx';
import { isNight, setNight } from '../frame/night.ts';
import { Progress } from '../frame/progress.tsx';
import { IntakePage } from '../intake/intake.tsx';
import { useLook } from '../sheet/look.ts';
import { sheetHandle } from '../sheet/handle.ts';
import type { Visitors } from '../sheet/overlays.ts';
import { Sheet } from '../sheet/sheet.tsx';
import { Basis } from '../stages/basis/basis.tsx';
import { Book } from '../stages/book/book.tsx';
import { Ground } from '../stages/ground/ground.tsx';
import { Handover } from '../stages/handover/handover.tsx';
import { Lines } from '../stages/lines/lines.tsx';
import { Quantities } from '../stages/quantities/quantities.tsx';
import { asReceived, editedSelection } from '../project-state/edit.ts';
import { alongLine, alongSetup } from '../sheet/along.ts';
import { Card } from '../cards/card.tsx';
import { ChangesPanel } from '../cards/changes-panel.tsx';
import type { Doing } from './find-or-do.tsx';
import { Header } from './header.tsx';
import { KeysPanel, useKeys } from './keys.tsx';
import { goToQuery, orderedQueries, Queries } from '../cards/queries.tsx';
import { StageBand } from './stage-band.tsx';
import { STAGES } from '../frame/stage-names.ts';
import { selectionFromText, selectionToText } from '../project-state/selection.ts';
import { usePresence } from './presence.ts';
import { TraceBar, finishTrace } from '../sheet/trace-bar.tsx';
import { BothStates } from '../project-state/both-states.tsx';
import { openQueries, useProject } from '../project-state/store.ts';

/** One project: the run, the ledger, the sheet. */
export function Workspace({ account }: { account: Account }) {
  const { project, stage: path } = useParams();
  const stage = STAGES.find((s) => s.stage === path)?.stage ?? 'book';
  const navigate = useNavigate();
  const store = useProject();
  const { open, state, tables, pending, traced, selection } = store;
  const [file, showFile] = useState<File | null>(null);
  const [unfinished, forget] = useUnfinishedFile(project!);
  const [visitors, setVisitors] = useState<Visitors | null>(null);
  const [changes, setChanges] = useState(false);
  const [keys, setKeys] = useState(false);
  const [accepting, setAccepting] = useState<string | null>(null);
  const picker = useRef<HTMLInputElement>(null);

  useEffect(() => open(project!), [project, open]);
  useSelectionInAddress();
  usePresence(stage, account.id);
  useEffect(() => {
    document.title = state ? `${state.project.name} · Dunrik` : 'Dunrik';
    // eslint-disable-next-line react-hooks/exhaustive-deps -- of the project only its name is shown
  }, [state?.project.name]);

  const shownFile = useRef<File | null>(null);
  /** Opens a file's import, or closes it; until then it is kept, whatever becomes of the page. */
  const setFile = (next: File | null): void => {
    forget();
    shownFile.current = next;
    showFile(next);
    void (next ? keepFile(project!, next) : dropFile(project!));
  };
  const takeIn = (): void => picker.current?.click();
  const doings = useDoings(stage, { takeIn, setChanges, setKeys, setAccepting, setFile });
  useKeys(doings);

  if (store.problem && !state)
    return (
      <Box p="40px" role="alert">
        {store.problem}{' '}
        <Act ml="10px" onClick={() => void navigate('/')}>
          All projects
        </Act>
      </Box>
    );

  return (
    <Flex
      direction="column"
      height="100%"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        const dropped = e.dataTransfer.files[0];
        if (dropped && tables) setFile(dropped);
      }}
    >
      <input
        ref={picker}
        type="file"
        hidden
        data-testid="file"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          if (chosen) setFile(chosen);
          e.target.value = '';
        }}
      />
      <Header account={account} doings={doings} onChanges={() => setChanges(!changes)} />
      <StageBand stage={stage} />
      <Messages />
      {unfinished && !file && tables ? (
        <Flex
          role="status"
          align="center"
          gap="10px"
          mx="16px"
          mb="8px"
          px="12px"
          py="3px"
          bg="leaf"
          border="1px solid"
          borderColor="rule"
          borderRadius="4px"
        >
          <Box flex="1">
            The import of <b>{unfinished.name}</b> was not finished when the page was left. The file is kept.
          </Box>
          <Act onClick={() => setFile(unfinished)}>Go on with it</Act>
          <Act look="quiet" onClick={() => setFile(null)}>
            Drop it
          </Act>
        </Flex>
      ) : null}
      <Box as="main" flex="1" minHeight="0" position="relative" borderTop="1px solid" borderColor="rule">
        <Split stage={stage}>
          {file && tables ? (
            <Boundary what="the import" of={file} onAgain={() => setFile(null)}>
              <IntakePage
                key={`${file.name}${file.lastModified}`}
                file={file}
                onVisitors={setVisitors}
                // One that ends late does not close what was opened since.
                onClose={() => (shownFile.current === file ? setFile(null) : undefined)}
              />
            </Boundary>
          ) : (
            <Boundary what="the table" of={stage} onAgain={() => store.select(null)}>
              <LedgerAndQueries stage={stage} onTakeIn={takeIn} accepting={accepting} setAccepting={setAccepting} />
            </Boundary>
          )}
          <Boundary what="the drawing" of={stage}>
            <Sheet stage={stage} visitors={visitors}>
              {file || traced ? null : (
                <Boundary what="the card" of={selection} onAgain={() => store.select(null)}>
                  <Card left={cardLeft(selection, tables)} />
                </Boundary>
              )}
              {traced ? <TraceBar /> : null}
            </Sheet>
          </Boundary>
        </Split>
        {changes ? (
          <Boundary what="the list of changes" of={state?.revision} onAgain={() => setChanges(false)}>
            <ChangesPanel onClose={() => setChanges(false)} />
          </Boundary>
        ) : null}
        {keys ? <KeysPanel doings={doings} onClose={() => setKeys(false)} /> : null}
      </Box>
      <Box srOnly aria-live="polite">
        {pending ? `preview: ${pending.label}` : ''}
      </Box>
    </Flex>
  );
}

/** The card stands on the left while what it speaks of lies under the right. */
function cardLeft(
  selection: ReturnType<typeof useProject.getState>['selection'],
  tables: ReturnType<typeof useProject.getState>['tables'],
): boolean {
  if (!tables || selection?.kind !== 'point') return false;
  const at = sheetHandle.current?.screen(tables.points.x[selection.row], tables.points.y[selection.row]);
  return at !== undefined && at.x > at.width - 300 && at.y < 380;
}

function LedgerAndQueries({
  stage,
  onTakeIn,
  accepting,
  setAccepting,
}: {
  stage: Stage;
  onTakeIn: () => void;
  accepting: string | null;
  setAccepting: (key: string | null) => void;
}) {
  const count = useProject((p) => (p.tables ? openQueries(p.tables.summary.queries, stage).length : 0));
  return (
    <Flex direction="column" height="100%" minHeight="0">
      <Box flex="1" minHeight="0">
        {stage === 'basis' ? <Basis onTakeIn={onTakeIn} /> : null}
        {stage === 'book' ? <Book onTakeIn={onTakeIn} /> : null}
        {stage === 'lines' ? <Lines /> : null}
        {stage === 'ground' ? <Ground /> : null}
        {stage === 'quantities' ? <Quantities /> : null}
        {stage === 'handover' ? <Handover /> : null}
      </Box>
      <Box flexShrink="0" height={count ? '216px' : '68px'}>
        <Queries stage={stage} accepting={accepting} setAccepting={setAccepting} />
      </Box>
    </Flex>
  );
}

/** Ledger and sheet beside each other; where the divider stands is remembered for each stage. */
function Split({ stage, children: [ledger, sheet] }: { stage: Stage; children: [React.ReactNode, React.ReactNode] }) {
  const group = useGroupRef();
  const key = `dunrik.split.${stage}`;
  const layoutOf = (): { ledger: number; sheet: number } => {
    const share = Number(localStorage.getItem(key)) || (stage === 'basis' || stage === 'book' ? 50 : 45);
    return { ledger: share, sheet: 100 - share };
  };
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the layout is that of the stage
  useEffect(() => void group.current?.setLayout(layoutOf()), [stage]);
  return (
    <Group
      groupRef={group}
      orientation="horizontal"
      style={{ height: '100%' }}
      defaultLayout={layoutOf()}
      onLayoutChanged={(layout) => localStorage.setItem(key, String(Math.round(layout.ledger)))}
    >
      <Panel id="ledger" minSize="0%" collapsible>
        {ledger}
      </Panel>
      <Separator
        style={{ width: 5, background: 'var(--chakra-colors-rule)' }}
        aria-label="divider between ledger and sheet"
      />
      <Panel id="sheet" minSize="0%" collapsible>
        {sheet}
      </Panel>
    </Group>
  );
}

/** What went wrong, what is being worked on, what was just done. */
function Messages() {
  const { problem, conflict, pending, notice, jobs, settling, clearProblem, tell, id, state } = useProject();
  const uncomputed = state?.problem ?? null;
  const archived = state?.project.archived ?? false;
  if (!problem && !notice && !uncomputed && !archived && !settling && jobs.length === 0) return null;
  const canEdit = state?.project.role === 'owner' || state?.project.role === 'surveyor';
  return (
    <Box px="16px" pb="8px" display="flex" flexDirection="column" gap="6px">
      {archived ? (
        <Box role="status" border="1px solid" borderColor="brass" borderRadius="4px" px="12px" py="5px">
          This project is archived: it can be looked at and sent, not changed. Its owner takes it out of the archive in
          the list of projects.
        </Box>
      ) : null}
      {uncomputed ? (
        <Flex
          role="alert"
          align="center"
          gap="10px"
          border="1px solid"
          borderColor="pole"
          borderRadius="4px"
          bg="mark"
          px="12px"
          py="5px"
        >
          <Box flex="1">
            Revision {uncomputed.revision} is not computed; what is shown is from before it. {uncomputed.text}
          </Box>
          {canEdit ? (
            <Act onClick={() => void api.settleAgain(id).catch((e: unknown) => tell(problemText(e)))}>
              Compute again
            </Act>
          ) : null}
        </Flex>
      ) : null}
      {problem ? (
        <Flex
          role="alert"
          align="center"
          gap="10px"
          border="1px solid"
          borderColor="pole"
          borderRadius="4px"
          bg="mark"
          px="12px"
          py="5px"
        >
          <Box flex="1">
            {problem}
            {conflict ? <BothStates conflict={conflict} /> : null}
          </Box>
          {conflict && !pending ? (
            <Act
              onClick={() => {
                clearProblem();
                void conflict.again.run();
              }}
            >
              {conflict.again.label}
            </Act>
          ) : null}
          <Act onClick={clearProblem}>{conflict ? 'Leave it as it is' : 'I have read it'}</Act>
        </Flex>
      ) : null}
      {settling ? (
        <Flex align="center" gap="10px" role="status">
          <Progress share={settling.share} />
          <Box flex="1">
            Revision {settling.revision}: {settling.doing} …
          </Box>
          {canEdit ? (
            <Act onClick={() => void api.cancelSettling(id).catch((e: unknown) => tell(problemText(e)))}>Cancel</Act>
          ) : null}
        </Flex>
      ) : null}
      {jobs.map((j) => (
        <Flex key={j.id} align="center" gap="10px" role="status">
          <Progress share={j.share} />
          <Box flex="1">{j.what} …</Box>
          <Act onClick={() => void api.stopJob(id, j.id)}>Stop</Act>
        </Flex>
      ))}
      {notice ? (
        <Flex
          role="status"
          align="center"
          gap="10px"
          border="1px solid"
          borderColor="rule"
          borderRadius="4px"
          bg="leaf"
          px="12px"
          py="3px"
        >
          <Box flex="1">{notice}</Box>
          <Act look="quiet" aria-label="close" onClick={() => tell(null)}>
            ×
          </Act>
        </Flex>
      ) : null}
    </Box>
  );
}

/** The link in the address bar brings a colleague to the same selection. */
function useSelectionInAddress(): void {
  const [search, setSearch] = useSearchParams();
  const { selection, tables, state } = useProject();
  const read = useRef(false);
  useEffect(() => {
    if (!tables || !state || read.current) return;
    read.current = true;
    const found = selectionFromText(search.get('sel'), state.document, tables);
    if (!found) return;
    useProject.getState().select(found);
    if (found.kind === 'point')
      setTimeout(() => sheetHandle.current?.show(tables.points.x[found.row], tables.points.y[found.row]), 300);
    if (found.kind === 'query') {
      const query = tables.summary.queries.find((q) => q.key === found.key);
      if (query) setTimeout(() => goToQuery(query), 300);
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the address is read once, when the first tables are there
  }, [tables, state]);
  useEffect(() => {
    if (!read.current || !tables || !state) return;
    const text = selectionToText(selection, state.document, tables);
    if ((search.get('sel') ?? null) === text) return;
    setSearch(text ? { sel: text } : {}, { replace: true });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the address follows the selection, not the other way
  }, [selection, tables]);
}

interface Doers {
  takeIn: () => void;
  setChanges: (f: (open: boolean) => boolean) => void;
  setKeys: (f: (open: boolean) => boolean) => void;
  setAccepting: (key: string | null) => void;
  setFile: (file: File | null) => void;
}

/** Everything that can be done here, with its key: for the keyboard, the find-or-do field, and the list of keys. */
function useDoings(stage: Stage, { takeIn, setChanges, setKeys, setAccepting, setFile }: Doers): Doing[] {
  const navigate = useNavigate();
  const { id, tables, pending, selection, traced, state } = useProject();
  const { spatial, setSpatial } = useLook();
  return useMemo(() => {
    const store = useProject.getState;
    const queries = tables ? orderedQueries(tables.summary.queries) : [];
    const current = selection?.kind === 'query' ? queries.find((q) => q.key === selection.key) : undefined;
    const next = (): void => {
      const here = queries.filter((q) => q.stage === stage);
      const at = current ? queries.indexOf(current) : -1;
      const query = current ? queries[(at + 1) % queries.length] : (here[0] ?? queries[0]);
      if (!query) return;
      if (query.stage !== stage) void navigate(`/p/${id}/${query.stage}`);
      goToQuery(query);
    };
    return [
      ...STAGES.map(({ stage: to, name }, i) => ({
        name: `go to ${name}`,
        key: String(i + 1),
        run: () => void navigate(`/p/${id}/${to}`),
      })),
      {
        name: 'do what is previewed, or close what is drawn',
        key: 'Enter',
        enabled: pending !== null || traced !== null,
        run: () => (store().traced ? finishTrace() : void store().accept()),
      },
      {
        name: 'step back',
        key: 'Escape',
        run: () => {
          setKeys(() => false);
          if (store().traced) store().trace(null);
          else if (store().pending) store().cancel();
          else {
            setAccepting(null);
            setFile(null);
            store().select(null);
          }
        },
      },
      { name: 'fit the sheet to everything', key: 'F', run: () => sheetHandle.current?.fit() },
      { name: spatial ? 'look at the plan' : 'look in 3D', key: 'V', run: () => setSpatial(!spatial) },
      {
        name: 'put what is selected back as received',
        key: 'O',
        enabled: editedSelection(state, tables, selection) !== null,
        run: () => {
          const key = editedSelection(store().state, store().tables, store().selection);
          if (key) void store().propose('as received', asReceived(store().state!.document, key));
        },
      },
      { name: 'next shot of the setup', key: '.', enabled: selection !== null, run: () => alongSetup(1) },
      { name: 'previous shot of the setup', key: ',', enabled: selection !== null, run: () => alongSetup(-1) },
      { name: 'next point along the line', key: ']', enabled: selection?.kind === 'point', run: () => alongLine(1) },
      {
        name: 'previous point along the line',
        key: '[',
        enabled: selection?.kind === 'point',
        run: () => alongLine(-1),
      },
      { name: 'next query', key: 'N', enabled: queries.length > 0, run: next },
      {
        name: 'try the first remedy of the query',
        key: 'T',
        enabled: (current?.remedies.length ?? 0) > 0,
        run: () => current && void store().propose(current.remedies[0].label, current.remedies[0].change, current.key),
      },
      {
        name: 'accept the query as it is',
        key: 'A',
        enabled: current !== undefined,
        run: () => current && setAccepting(current.key),
      },
      {
        name: `take back${state?.undo ? `: ${state.undo}` : ''}`,
        key: 'Ctrl Z',
        enabled: Boolean(state?.undo),
        run: () => void store().takeBack('undo'),
      },
      {
        name: `bring again${state?.redo ? `: ${state.redo}` : ''}`,
        key: 'Ctrl Y',
        enabled: Boolean(state?.redo),
        run: () => void store().takeBack('redo'),
      },
      { name: 'take in a file', key: 'I', run: takeIn },
      { name: 'see the changes', key: 'C', run: () => setChanges((open) => !open) },
      { name: isNight() ? 'day colours' : 'night colours', run: () => setNight(!isNight()) },
      { name: 'find or do', key: '/', run: () => document.getElementById('find-or-do')?.focus() },
      { name: 'all keys', key: '?', run: () => setKeys((open) => !open) },
    ];
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what sets state is the same all along
  }, [id, tables, pending, selection, traced, state, stage, spatial, navigate]);
}
