import type { Code } from '#core/codes';
import { codesOfDrawing, comesAsPoints, drawingChoices, DRAWN_WORDS, type FilePart } from '#core/exchange';
import {
  DrawingPurposePick,
  NewCodes,
  intoOfDrawing,
  purposeOfDrawing,
  type DrawingPurpose,
} from './drawing-purpose.tsx';
import { DrawingTablePick } from './drawing-table.tsx';
import { EarlierIssue } from './earlier-issue.tsx';
import { InItsPlace } from './in-its-place.tsx';
import { GridNodes } from './grid-nodes.tsx';
import { PartPick } from './part-pick.tsx';
import { IntakeHead } from './intake-head.tsx';
import { MOST_BYTES } from './most-bytes.ts';
import { ReturnedDrawing } from './returned-drawing.tsx';
import { Box, Flex } from '@chakra-ui/react';
import { proxy, transfer } from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Job, SavedLayout } from '#contract';
import { isPublished } from '#core/basis';
import type { IntoSurface, NumberDecision } from '#core/project';
import type { BookLayout } from '#core/book';
import type { TextLayout } from '#core/exchange';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Leaf, Pick } from '../frame/controls.tsx';
import { Progress } from '../frame/progress.tsx';
import { useParts, useProject } from '../project-state/store.ts';
import type { Visitors } from '../sheet/overlays.ts';
import type { BookFacts, Opened, Tried } from '../work/intake.worker.ts';
import { startIntakeWork } from '../work/workers.ts';
import { BookIntake } from './book-intake.tsx';
import { BookLayoutEditor } from './book-layout.tsx';
import { ColumnTable, LayoutLine, SaveLayout, keptFor, type KeptChoice } from './layout.tsx';
import { saidOrNothing, useGivenForm } from './given.tsx';
import { Coincident, Compared, PART, Result } from './outcome.tsx';
import { intoOf, PurposePick } from './purpose-pick.tsx';
import { Standing, type FileBasis } from './standing.tsx';
import { claimedBasis, standingOf } from './stands.ts';
import { purposeOf } from './delivery/sort.ts';
import { askFence, showBox, whatIsImported, windowOf } from './what-is-imported.ts';
import { controlOf, keptChoices, numbersOf, placesOf, savedChoices } from './project-facts.ts';
import { extentOfPlaces, shiftPlacement, WhereItLies, type Shift } from './where-it-lies.tsx';
import { intakeCame, takeInFile, takeInSent, type IntakePart, type SentFile } from './take-in.ts';

interface IntakeProps {
  file: File;
  onVisitors: (visitors: Visitors | null) => void;
  /** Imports another file, made of this one, in its place. */
  onOther: (file: File) => void;
  onClose: () => void;
}

const sizeOf = ({ size }: File): string => (size < 1e6 ? 'the file' : `${Math.round(size / 1e6)} MB`);

/** A file before it is taken in: its columns with their roles and why, its points on the drawing, what would be left out. */
export function IntakePage({ file, onVisitors, onOther, onClose }: IntakeProps) {
  const { state, tables, id } = useParts('state', 'tables', 'id');
  const [opened, setOpened] = useState<Opened | null>(null);
  const [glanced, setGlanced] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [layout, setLayout] = useState<TextLayout | null>(null);
  const [tried, setTried] = useState<Tried | null>(null);
  const [trying, setTrying] = useState<number | null>(null);
  // A table or tagged text read as a field book: its layout, and what comes of it.
  const [bookLayout, setBookLayout] = useState<BookLayout | null>(null);
  const [bookTried, setBookTried] = useState<BookFacts | { problem: string } | null>(null);
  const [part, setPart] = useState(false);
  /** The sheet of a spreadsheet, or the surface of a drawing, where somebody chose one. */
  const [filePart, setFilePart] = useState<FilePart>({});
  /** The part that is open: nothing is opened again for it. */
  const openPart = useRef<FilePart | null>(null);
  /** Further surfaces of the file that are imported with the one that is looked at. */
  const [also, setAlso] = useState<readonly string[]>([]);
  const sent = useRef<File | null>(null);
  const [said, setChosen] = useState<DrawingPurpose>({ purpose: 'survey', surface: null, name: '', alone: true });
  /** A drawing that went out from here is compared first; it may be imported as any other. */
  const [asAnyOther, setAsAnyOther] = useState(false);
  const comesBack = (opened?.drawing?.ours.ours ?? 0) > 0 && !asAnyOther;
  const isDrawing = opened?.drawing !== undefined && opened.surface === null;
  const chosen = isDrawing ? purposeOfDrawing(opened.part.taken, said) : said;
  const { purpose } = chosen;
  const [shift, setShift] = useState<Shift | null>(null);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the project as it is when the file is opened
  const projectExtent = useMemo(() => extentOfPlaces(placesOf(state!.document, tables!)), [tables]);
  const tickedFrom = useRef<string | null>(null);
  if (opened?.tickedAs) tickedFrom.current = opened.tickedAs.id;
  const earlier = state!.document.intakes.find((i) => i.id === tickedFrom.current);
  const [addCodes, setAddCodes] = useState(true);
  const newCodes = isDrawing ? codesOfDrawing(opened.drawing!.rows, opened.part.taken ?? [], state!.document.codeList.codes) : []; // prettier-ignore
  const [decision, setDecision] = useState<NumberDecision>('both');
  const [each, setEach] = useState<Record<string, NumberDecision>>({});
  const [sending, setSending] = useState<{ share: number; what: string } | null>(null);
  const [layouts, setLayouts] = useState<SavedLayout[]>([]);
  const [proposed, setProposed] = useState<KeptChoice | null>(null);
  const work = useRef<ReturnType<typeof startIntakeWork> | null>(null);
  const stop = useRef(new AbortController());
  const [fileBasis, setFileBasis] = useState<FileBasis>({ system: null, heights: null });
  const given = useGivenForm(undefined, state!.document.settings.unit);
  const { settings, basis } = state!.document;

  // eslint-disable-next-line react-hooks/exhaustive-deps -- the document comes with its tables
  const numbers = useMemo(() => numbersOf(state!.document, tables!), [tables]);

  useEffect(() => {
    const mine = startIntakeWork();
    work.current = mine;
    sent.current = null;
    return () => {
      mine.end();
      onVisitors(null);
      // A fence that is being drawn is drawn for this file.
      useProject.getState().trace(null);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- one thread for a file, which it keeps for whatever is asked of it
  }, [file]);

  useEffect(() => {
    if (openPart.current === filePart && sent.current === file) return;
    const mine = work.current!;
    let here = true;
    void (async () => {
      if (file.size > MOST_BYTES)
        return setProblem(
          `${file.name} has ${Math.round(file.size / 1048576)} MB; at most 256 MB are imported at once. Split it.`,
        );
      const bytes = sent.current === file ? null : new Uint8Array(await file.arrayBuffer());
      if (!here) return;
      sent.current = file;
      const saved = bytes ? await api.layouts().catch(() => []) : layouts;
      if (!here) return;
      const { codes } = state!.document.codeList;
      if (bytes) {
        const first = await mine.work.glance(transfer(bytes, [bytes.buffer]), settings.unit);
        if (!here) return;
        setGlanced(first !== null);
        if (first) onVisitors(first);
      }
      const answer = await mine.work.open(
        bytes ? 'arrived' : 'open',
        {
          fileName: file.name,
          unit: settings.unit,
          near: placesOf(state!.document, tables!),
          order: settings.order,
          codes: codes.map((c) => c.code.toUpperCase()),
          drawing: { codes, kept: [...keptChoices(state!.document.intakes), ...savedChoices(saved)] },
        },
        layout && bytes === null ? { ...filePart, unit: layout.unit } : filePart,
      );
      if (!here) return;
      if (!answer.ok) {
        // What there is to tick of it stays.
        setTried(null);
        const { drawing } = answer;
        if (drawing) setOpened((was) => was && { ...was, drawing, surface: filePart.surface ?? null, part: filePart });
        return setProblem(`${file.name}: ${answer.reason}`);
      }
      setProblem(null);
      const { unit: _, ...asked } = answer.part;
      openPart.current = asked;
      if (bytes === null && (answer.grid || (answer.drawing && answer.surface === null))) {
        // Another part of the same drawing or grid: how it is read and what it is stay as somebody said it.
        setFilePart(asked);
        setOpened(answer);
        const { layout: guessed } = answer.guess;
        return setLayout((was) => (was ? { ...guessed, unit: was.unit, roles: was.roles } : guessed));
      }
      setLayouts(saved);
      const again = saved.filter((l) => l.signature === answer.signature);
      const known = again.find(
        (l) => 'roles' in l.layout && l.layout.roles.length === answer.guess.layout.roles.length,
      );
      const knownBook = again.find((l) => 'split' in l.layout);
      const fits = knownBook ?? known;
      setProposed(fits ? { id: fits.id, name: fits.name, alike: true } : null);
      const stands = await claimedBasis(answer, basis.system);
      if (!here) return;
      setFileBasis(stands);
      setFilePart(asked);
      setAlso([]);
      setOpened(answer);
      if (answer.kind === 'book') return;
      const { sheet } = filePart;
      const onSheet = sheet === undefined ? {} : { sheet };
      if (knownBook && 'split' in knownBook.layout) setBookLayout({ ...knownBook.layout, ...onSheet });
      else setBookLayout(!known && answer.readings?.likely ? answer.readings.layout : null);
      const start =
        known && 'roles' in known.layout ? { ...keptFor(known.layout, answer), ...onSheet } : answer.guess.layout;
      setLayout(start);
      const { as, surface } = purposeOf(file.name, answer);
      const drawnOnly = answer.part.taken?.some((t) => !comesAsPoints(t.kind)) ?? false;
      setChosen({
        purpose: drawnOnly ? 'design' : as,
        surface: null,
        name: surface ?? file.name.replace(/\.[^.]*$/, '').replace(/[-_]+/g, ' '),
        alone: drawnOnly,
      });
    })();
    return () => {
      here = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the file is opened once, with the project as it is then
  }, [file, filePart]);

  useEffect(() => {
    const mine = work.current;
    if (!mine || !layout || bookLayout || comesBack) return;
    let here = true;
    setTrying(0);
    const wait = setTimeout(() => {
      void mine.work
        .try(
          layout,
          {
            numbers,
            mostRows: part ? PART : null,
            carry:
              fileBasis.system && isPublished(basis.system) && fileBasis.system.definition !== basis.system.definition
                ? { from: fileBasis.system, to: basis.system }
                : null,
            control: purpose === 'control' ? controlOf(state!.document, tables!) : null,
            shift,
          },
          proxy((share: number) => here && setTrying(share)),
        )
        .then((answer) => {
          if (!here) return;
          setTrying(null);
          setTried(answer);
          onVisitors(
            answer.problem || !answer.placed
              ? null
              : { x: answer.x, y: answer.y, sides: answer.sides, near: answer.near },
          );
        });
    }, 120);
    return () => {
      here = false;
      clearTimeout(wait);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- tried again when the layout or what it is read as is another
  }, [layout, bookLayout === null, part, opened, numbers, fileBasis.system, purpose, shift, comesBack]);

  useEffect(() => {
    const mine = work.current;
    if (!mine || !bookLayout) return;
    let here = true;
    onVisitors(null);
    const wait = setTimeout(() => {
      void mine.work.tryBook(bookLayout).then((answer) => here && setBookTried(answer));
    }, 120);
    return () => {
      here = false;
      clearTimeout(wait);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- who draws the visitors is the same all along
  }, [bookLayout, opened]);

  /** Sends the file and takes it in; what was typed stays when it is refused. */
  const send = async (part: IntakePart, more: { into?: IntoSurface; codes?: readonly Code[] } = {}): Promise<void> => {
    setProblem(null);
    try {
      setSending({ share: 0, what: 'sending' });
      const tell = (share: number): void => setSending({ share, what: 'sending' });
      const { intake, job, sent } = await takeInFile(id, file, part, more, tell, stop.current.signal, () =>
        setSending({ share: 1, what: 'importing' }),
      );
      await sendOthers(sent, part, { intake, job });
      // Its account is shown where the file is, as soon as the project has it.
      void intakeCame(intake, job).then((came) => came.ok && useProject.setState({ imported: intake }));
      onClose();
    } catch (error) {
      setSending(null);
      stop.current = new AbortController();
      setProblem(problemText(error));
    }
  };

  /** The other surfaces that are ticked, one after another; what was refused is said with those that are in already. */
  const sendOthers = async (sent: SentFile, part: IntakePart, first: { intake: string; job: Job }): Promise<void> => {
    let before = first;
    for (const [i, name] of also.entries()) {
      setSending({ share: (i + 1) / (also.length + 1), what: `importing “${name}”` });
      const came = await intakeCame(before.intake, before.job);
      if (!came.ok) throw new Error(`${came.reason} What was ticked behind it is not imported.`);
      const layout = { ...part.layout, surface: name };
      before = await takeInSent(id, sent, { ...part, layout }, { into: intoOf({ ...chosen, surface: null, name }) });
    }
  };

  const accept = given.handleSubmit(async (said) => {
    if (!layout || !opened) return;
    await send(
      {
        layout,
        purpose,
        ...(shift ? { placement: shiftPlacement(shift) } : {}),
        // Of a drawing each point says itself whether somebody needs a number for it.
        ...((opened.surface === null && !opened.lines.taken && !opened.grid) || opened.together ? {} : { light: true }),
        ...(opened.lines.taken || opened.together ? { words: DRAWN_WORDS } : {}),
        numbers: { all: decision, each },
        ...standingOf(opened, fileBasis, saidOrNothing(said)),
      },
      isDrawing ? { into: intoOfDrawing(chosen), codes: addCodes ? newCodes : [] } : { into: intoOf(chosen) },
    );
  });

  const acceptBook = given.handleSubmit(async (said) => {
    const who = saidOrNothing(said);
    await send({
      layout: opened!.guess.layout,
      form: 'book',
      ...(bookLayout ? { bookLayout } : {}),
      purpose: 'survey',
      numbers: { all: 'both', each: {} },
      ...(who ? { given: who } : {}),
    });
  });
  const facts = opened?.book ?? (bookLayout && bookTried && !('problem' in bookTried) ? bookTried : null);

  const same = opened ? state!.document.intakes.find((i) => i.sha256 === opened.sha256) : undefined;
  return (
    <Flex as="section" direction="column" height="100%" minHeight="0" aria-label="intake">
      <IntakeHead
        name={file.name}
        onCancel={() => {
          stop.current.abort();
          onClose();
        }}
      />
      <Box flex="1" minHeight="0" overflow="auto" px="16px" pb="12px">
        {problem ? (
          <Box role="alert" color="pole" mb="10px">
            {problem}
          </Box>
        ) : null}
        {!opened && !problem ? (
          <Box role="status" color="slate">
            Reading {sizeOf(file)} …{glanced ? ' Its first lines are on the drawing.' : ''}
          </Box>
        ) : null}
        {same ? (
          <Box
            role="status"
            mb="10px"
            px="12px"
            py="5px"
            bg="mark"
            border="1px solid"
            borderColor="brass"
            borderRadius="4px"
          >
            These bytes are in the project already, as <b>{same.fileName}</b>
            {same.on ? '' : ', which is switched off'}.{' '}
            {opened?.drawing
              ? 'What is ticked now comes beside what was taken of it.'
              : 'Importing them again gives every point twice.'}
          </Box>
        ) : null}
        {opened?.sheet && opened.sheet.all.length > 1 ? (
          <Flex gap="8px" align="center" mb="10px">
            Sheet
            <Pick
              aria-label="sheet of the spreadsheet"
              value={opened.sheet.name}
              onChange={(e) => setFilePart({ sheet: e.target.value })}
            >
              {opened.sheet.all.map((name) => (
                <option key={name} value={name}>
                  {name}
                </option>
              ))}
            </Pick>
            <Aside>one of {opened.sheet.all.length}</Aside>
          </Flex>
        ) : null}
        {opened?.drawing && layout ? (
          <ReturnedDrawing file={file} ours={opened.drawing.ours} unit={opened.claims.unit} onPoints={onOther} />
        ) : null}
        {comesBack ? (
          <Act mb="10px" onClick={() => setAsAnyOther(true)}>
            Import it as any other drawing …
          </Act>
        ) : null}
        {opened && !comesBack && (opened.surfaces.length || opened.lines.count) ? (
          <PartPick
            opened={opened}
            also={also}
            onAlso={setAlso}
            onChange={(of) => {
              setAlso([]);
              setFilePart({ ...drawingChoices(filePart), ...of });
            }}
          />
        ) : null}
        {opened?.grid && layout ? (
          <GridNodes grid={opened.grid} unit={layout.unit} onChange={(step) => setFilePart({ step })} />
        ) : null}
        {opened?.drawing && opened.surface === null && !comesBack ? (
          <DrawingTablePick
            opened={{ ...opened, drawing: opened.drawing }}
            part={filePart}
            codes={state!.document.codeList.codes}
            readIn={layout && layout.unit !== opened.guess.layout.unit ? layout.unit : null}
            lengths={settings.unit}
            seen={fileBasis.system || !layout ? undefined : () => windowOf(layout, shift)}
            fenced={fileBasis.system || !layout ? undefined : (then) => askFence(layout, shift, then)}
            show={fileBasis.system || !layout ? undefined : (box) => showBox(layout, shift, box)}
            onChange={setFilePart}
          />
        ) : null}
        {isDrawing && layout && earlier && !comesBack ? (
          <>
            <EarlierIssue
              key={earlier.id}
              project={id}
              earlier={earlier}
              unit={settings.unit}
              compare={(bytes) =>
                work.current!.work.compareWith(bytes, { earlier: earlier.layout.unit, now: layout.unit })
              }
            />
            <InItsPlace file={file} earlier={earlier} />
          </>
        ) : null}
        {opened?.readings ? (
          <Flex gap="8px" align="center" mb="10px">
            These rows are
            <Pick
              aria-label="what the rows are"
              value={bookLayout ? 'book' : 'points'}
              onChange={(e) => setBookLayout(e.target.value === 'book' ? opened.readings!.layout : null)}
            >
              <option value="points">points with coordinates</option>
              <option value="book">readings: a field book</option>
            </Pick>
            {opened.readings.likely ? <Aside>their columns name circles and distances</Aside> : null}
          </Flex>
        ) : null}
        {opened && bookLayout ? (
          <>
            <BookLayoutEditor
              layout={bookLayout}
              setLayout={setBookLayout}
              sample={opened.sample}
              layouts={layouts}
              proposed={proposed}
              setProposed={setProposed}
            />
            <Box mb="10px">
              <SaveLayout layout={bookLayout} signature={opened.signature} onSaved={setProposed} />
            </Box>
            {bookTried && 'problem' in bookTried ? (
              <Box role="alert" color="pole" mb="10px">
                {bookTried.problem}
              </Box>
            ) : null}
          </>
        ) : null}
        {facts ? (
          <BookIntake
            book={facts}
            file={file}
            given={given}
            onTake={() => void acceptBook()}
            sending={sending}
            onStop={() => stop.current.abort()}
          />
        ) : null}
        {opened && layout && !bookLayout && !comesBack ? (
          <>
            {opened.besides ? (
              <Box mb="8px">
                {opened.together
                  ? `Not imported: ${opened.besides}.`
                  : `Its points are imported, and nothing else of it: it also holds ${opened.besides}.`}
              </Box>
            ) : null}
            <LayoutLine
              layout={layout}
              opened={opened}
              setLayout={setLayout}
              layouts={layouts}
              proposed={proposed}
              setProposed={setProposed}
            />
            {opened.together || opened.grid ? null : (
              <ColumnTable opened={opened} layout={layout} setLayout={setLayout} proposed={proposed} />
            )}
            {tried && !tried.problem && tried.placed && !fileBasis.system ? (
              <WhereItLies
                near={tried.near}
                project={projectExtent}
                unit={settings.unit}
                layout={layout}
                setLayout={setLayout}
                shift={shift}
                setShift={setShift}
                own={isPublished(basis.system) ? basis.system : null}
                onSystem={({ code }) =>
                  void api.system(code).then(
                    (system) => setFileBasis({ ...fileBasis, system }),
                    (error: unknown) => setProblem(problemText(error)),
                  )
                }
              />
            ) : null}
            <Result tried={tried} trying={trying} part={part} setPart={setPart} layout={layout} setLayout={setLayout} />
            {tried && !tried.problem ? (
              <Leaf mt="10px" p="10px 12px">
                <Flex gap="8px" align="center" wrap="wrap" mb="8px">
                  {isDrawing ? (
                    <DrawingPurposePick
                      doc={state!.document}
                      taken={opened.part.taken}
                      chosen={chosen}
                      onChange={setChosen}
                    />
                  ) : (
                    <>
                      These are
                      <PurposePick
                        doc={state!.document}
                        chosen={chosen}
                        onChange={(to) => setChosen({ ...chosen, ...to })}
                        label="what the points are"
                        nameLabel="name of the surface"
                      />
                    </>
                  )}
                </Flex>
                {newCodes.length ? <NewCodes codes={newCodes} on={addCodes} set={setAddCodes} /> : null}
                <Standing
                  opened={opened}
                  layout={layout}
                  setLayout={setLayout}
                  fileBasis={fileBasis}
                  setFileBasis={setFileBasis}
                  given={given}
                  isControl={purpose === 'control'}
                />
                {purpose === 'control' ? <Compared tried={tried} /> : null}
                {tried.known.length + tried.twice.length > 0 && purpose !== 'control' ? (
                  <Coincident
                    known={tried.known}
                    twice={tried.twice}
                    decision={decision}
                    setDecision={setDecision}
                    each={each}
                    setEach={setEach}
                  />
                ) : null}
                <Flex gap="8px" align="center">
                  {sending ? (
                    <>
                      <Progress share={sending.share} />
                      <Aside>{sending.what} …</Aside>
                      <Act onClick={() => stop.current.abort()}>Stop</Act>
                    </>
                  ) : (
                    <>
                      <Act
                        look="solid"
                        size="tall"
                        disabled={
                          trying !== null ||
                          tried.read + tried.underlay === 0 ||
                          (layout.degrees === true && !fileBasis.system)
                        }
                        onClick={() => void accept()}
                      >
                        Import {whatIsImported(opened, tried.read, part, also.length)}
                      </Act>
                      <SaveLayout layout={layout} signature={opened.signature} onSaved={setProposed} />
                    </>
                  )}
                </Flex>
              </Leaf>
            ) : null}
          </>
        ) : null}
      </Box>
    </Flex>
  );
}
