import { type Account } from '#contract';
import { type Stage } from '#core/project';
import { ChangesPanel } from '../cards/changes-panel.tsx';
import { Queries, useBackFromQuery } from '../cards/queries.tsx';
import { Boundary } from '../frame/boundary.tsx';
import { Act } from '../frame/controls.tsx';
import { useKeptColumns } from '../frame/grid/index.ts';
import { STAGES } from '../frame/stage-names.ts';
import { DeliveryPage } from '../intake/delivery/delivery-page.tsx';
import { droppedIn } from '../intake/delivery/gather.ts';
import { pictureWithPlace, ReceivedFile } from '../intake/received-file.tsx';
import { useCanChange } from '../project-state/can.ts';
import { dropFile, keepFile, useUnfinishedFile } from '../project-state/drafts.ts';
import { useParts } from '../project-state/store.ts';
import { type Visitors } from '../sheet/overlays.ts';
import { Sheet } from '../sheet/sheet.tsx';
import { TraceBar } from '../sheet/trace-bar.tsx';
import { Basis } from '../stages/basis/basis.tsx';
import { Book } from '../stages/book/book.tsx';
import { Ground } from '../stages/ground/ground.tsx';
import { Handover } from '../stages/handover/handover.tsx';
import { Lines } from '../stages/lines/lines.tsx';
import { Quantities } from '../stages/quantities/quantities.tsx';
import { useDoings, type Doers } from './doings.ts';
import { Header } from './header.tsx';
import { KeysPanel, useKeys } from './keys.tsx';
import { Messages } from './messages.tsx';
import { usePresence } from './presence.ts';
import { useAddress } from './address.ts';
import { SelectedCard } from './selected-card.tsx';
import { Split } from './split.tsx';
import { StageBand } from './stage-band.tsx';
import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';

/** One project: stages, ledger, drawing. */
export function Workspace({ account }: { account: Account }) {
  const { project, stage: path } = useParams();
  const stage = STAGES.find((s) => s.stage === path)?.stage ?? 'book';
  const navigate = useNavigate();
  const canChange = useCanChange();
  const { open, state, tables, traced, problem, pending, select, tell } = useParts('open', 'state', 'tables', 'traced', 'problem', 'pending', 'select', 'tell'); // prettier-ignore
  const [file, showFile] = useState<File | null>(null);
  const [beside, setBeside] = useState<File | null>(null);
  const [unfinished, forget] = useUnfinishedFile(project!);
  const [visitors, setVisitors] = useState<Visitors | null>(null);
  const [changes, setChanges] = useState(false);
  const [keys, setKeys] = useState(false);
  const [accepting, setAccepting] = useState<string | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  const folderPicker = useRef<HTMLInputElement>(null);
  const [delivery, setDelivery] = useState<readonly (FileSystemEntry | File)[] | null>(null);

  useEffect(() => open(project!), [project, open]);
  useKeptColumns(account);
  useEffect(() => {
    document.title = state ? `${state.project.name} · Dunrik` : 'Dunrik';
    // eslint-disable-next-line react-hooks/exhaustive-deps -- of the project only its name is shown
  }, [state?.project.name]);

  const shownFile = useRef<File | null>(null);
  /** Opens a file's import, or closes it; until then it is kept, whatever becomes of the page. */
  const setFile = (next: File | null): void => {
    forget();
    shownFile.current = next;
    setBeside(null);
    showFile(next);
    void (next ? keepFile(project!, next) : dropFile(project!));
  };
  /** One file is looked at column by column; several, a folder or a zip are held against each other first. */
  const receive = (entries: (FileSystemEntry | File)[], folder = false): void => {
    if (entries.length === 0) return;
    if (!canChange) return tell('You may look at this project, not change it. Its owner can give you another role.');
    const [one] = entries;
    const alone = !folder && entries.length === 1 && !/\.zip$/i.test(one.name);
    if (alone && one instanceof File) return setFile(one);
    if (alone && !(one instanceof File) && one.isFile)
      return (one as FileSystemFileEntry).file(setFile, (error) => tell(error.message));
    void pictureWithPlace(entries).then((found) => {
      if (!found) return setDelivery(entries);
      setFile(found.picture);
      setBeside(found.world);
    });
  };
  const takeIn = (): void => picker.current?.click();
  const takeInFolder = (): void => folderPicker.current?.click();
  const doers: Doers = { takeIn, takeInFolder, setChanges, setKeys, setAccepting, setFile };

  if (problem && !state)
    return (
      <Box p="40px" role="alert">
        {problem}{' '}
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
        if (tables) receive(droppedIn(e.dataTransfer));
      }}
    >
      <input
        ref={picker}
        type="file"
        multiple
        hidden
        data-testid="file"
        onChange={(e) => {
          receive([...(e.target.files ?? [])]);
          e.target.value = '';
        }}
      />
      <input
        ref={folderPicker}
        type="file"
        {...{ webkitdirectory: '' }}
        hidden
        data-testid="folder"
        onChange={(e) => {
          receive([...(e.target.files ?? [])], true);
          e.target.value = '';
        }}
      />
      <Commands account={account} stage={stage} doers={doers} />
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
          <Act onClick={() => setFile(unfinished)}>Continue</Act>
          <Act look="quiet" onClick={() => setFile(null)}>
            Discard it
          </Act>
        </Flex>
      ) : null}
      <Box as="main" flex="1" minHeight="0" position="relative" borderTop="1px solid" borderColor="rule">
        <Split stage={stage}>
          {file && tables ? (
            <Boundary what="the import" of={file} onAgain={() => setFile(null)}>
              <ReceivedFile
                key={`${file.name}${file.lastModified}`}
                file={file}
                beside={beside}
                onVisitors={setVisitors}
                onOther={setFile}
                // One that ends late does not close what was opened since.
                onClose={() => (shownFile.current === file ? setFile(null) : undefined)}
              />
            </Boundary>
          ) : delivery && tables ? (
            <Boundary what="the import" of={delivery} onAgain={() => setDelivery(null)}>
              <DeliveryPage entries={delivery} onAlone={setFile} onClose={() => setDelivery(null)} />
            </Boundary>
          ) : (
            <Boundary what="the table" of={stage} onAgain={() => select(null)}>
              <LedgerAndQueries stage={stage} onTakeIn={takeIn} accepting={accepting} setAccepting={setAccepting} />
            </Boundary>
          )}
          <Boundary what="the drawing" of={stage}>
            <Sheet stage={stage} visitors={visitors}>
              {traced || (file && !pending) ? null : <SelectedCard />}
              {traced ? <TraceBar /> : null}
            </Sheet>
          </Boundary>
        </Split>
        {changes ? (
          <Boundary what="the list of changes" of={state?.revision} onAgain={() => setChanges(false)}>
            <ChangesPanel onClose={() => setChanges(false)} />
          </Boundary>
        ) : null}
        {keys ? <AllKeys stage={stage} doers={doers} /> : null}
      </Box>
      <Following stage={stage} account={account.id} />
    </Flex>
  );
}

/** The head of the page, from which everything can be done that has a key. */
function Commands({ account, stage, doers }: { account: Account; stage: Stage; doers: Doers }) {
  const doings = useDoings(stage, doers);
  useKeys(doings);
  return <Header account={account} doings={doings} onChanges={() => doers.setChanges((open) => !open)} />;
}

const AllKeys = ({ stage, doers }: { stage: Stage; doers: Doers }) => (
  <KeysPanel doings={useDoings(stage, doers)} onClose={() => doers.setKeys(() => false)} />
);

/** What follows each step of the selection and draws nothing but a word for who does not see the preview. */
function Following({ stage, account }: { stage: Stage; account: string }) {
  useAddress();
  useBackFromQuery();
  usePresence(stage, account);
  const { pending } = useParts('pending');
  return (
    <Box srOnly aria-live="polite">
      {pending ? `preview: ${pending.label}` : ''}
    </Box>
  );
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
      {/* As high as its sentences, the ledger's work coming first. */}
      <Flex direction="column" flexShrink="0" maxHeight="min(216px, 32%)">
        <Queries stage={stage} accepting={accepting} setAccepting={setAccepting} />
      </Flex>
    </Flex>
  );
}
