import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import { UNIT_SIGN, type LengthUnit } from '#core/measure';
import { Act, Aside, Cut, Num, Pick } from '../../frame/controls.tsx';
import { Progress } from '../../frame/progress.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { WeightSign } from '../../frame/signs.tsx';
import { openQueries, useParts } from '../../project-state/store.ts';
import { GoneRecords } from '../gone-records.tsx';
import { bringIn, type Outcome } from './bring-in.ts';
import { remarksOf, type ProjectFacts } from './check.ts';
import { gather, type Gathered } from './gather.ts';
import { projectFacts, readDelivery, type Read } from './read.ts';
import { choicesOf, inOrder, TREATMENT_NAME, type Treatment } from './sort.ts';

/** Several files, a folder or a zip: sorted by kind, held against each other and the project, and imported in order. */
export function DeliveryPage({
  entries,
  onAlone,
  onClose,
}: {
  entries: readonly (FileSystemEntry | File)[];
  /** Opens one file by itself, where a person wants to look at its columns first. */
  onAlone: (file: File) => void;
  onClose: () => void;
}) {
  const { tables } = useParts('tables');
  const [gathered, setGathered] = useState<Gathered[] | null>(null);
  const [at, setAt] = useState(0);
  const [reads, setReads] = useState<Read[] | null>(null);
  const [facts, setFacts] = useState<ProjectFacts | null>(null);
  const [working, setWorking] = useState<{ path: string; share: number } | null>(null);
  const [outcomes, setOutcomes] = useState<ReadonlyMap<string, Outcome>>(new Map());
  const [done, setDone] = useState(false);
  const stop = useRef(new AbortController());

  useEffect(() => {
    let here = true;
    void (async () => {
      const files = await gather(entries);
      if (!here) return;
      setGathered(files);
      const project = projectFacts();
      const read = await readDelivery(files, project, (n) => here && setAt(n), () => here); // prettier-ignore
      if (!here) return;
      setFacts(project);
      setReads(read);
    })();
    return () => {
      here = false;
    };
  }, [entries]);

  const treat = (path: string, treatment: Treatment): void =>
    setReads((all) => all!.map((r) => (r.path === path ? { ...r, treatment } : r)));
  const list = reads ? inOrder(reads) : [];
  const toImport = list.filter((r) => r.treatment.as !== 'nothing');
  const run = async (): Promise<void> => {
    stop.current = new AbortController();
    for (const r of list) {
      if (outcomes.get(r.path)?.done) continue;
      setWorking({ path: r.path, share: 0 });
      const outcome = await bringIn(r, (share) => setWorking({ path: r.path, share }), stop.current.signal);
      setOutcomes((before) => new Map(before).set(r.path, outcome));
      if (stop.current.signal.aborted) break;
    }
    setWorking(null);
    setDone(true);
  };
  const fixed = working !== null || done;
  const columns: SmallColumn<Read>[] = [
    { id: 'file', head: 'File', style: { maxWidth: '220px' }, cell: (r) => <FileName path={r.path} /> },
    {
      id: 'holds',
      head: 'Holds',
      words: true,
      cell: (r) => <Holds read={r} all={reads!} facts={facts!} fixed={fixed} treat={(t) => treat(r.path, t)} />,
    },
    {
      id: 'as',
      head: outcomes.size ? 'Result' : 'Imported as',
      words: true,
      style: { width: '235px' },
      cell: (r) => (
        <ImportedAs
          read={r}
          outcome={outcomes.get(r.path) ?? null}
          share={working?.path === r.path ? working.share : null}
          fixed={fixed}
          treat={(t) => treat(r.path, t)}
          // A delivery of one file is done with it.
          onAlone={(file) => {
            if (list.length === 1) onClose();
            onAlone(file);
          }}
        />
      ),
    },
  ];
  const failed = [...outcomes.values()].filter((o) => !o.done).length;
  const open = tables ? openQueries(tables.summary.queries).length : 0;
  return (
    <Flex as="section" direction="column" height="100%" minHeight="0" aria-label="delivery">
      <Flex align="center" gap="10px" px="16px" minHeight="44px" flexShrink="0">
        <chakra.h2 m="0" fontSize="18px" fontWeight="700" whiteSpace="nowrap">
          Import
        </chakra.h2>
        <Aside flex="1">
          {reads
            ? `${reads.length} ${reads.length === 1 ? 'file' : 'files'}, imported in the order in which they are listed`
            : gathered
              ? `reading ${at + 1} of ${gathered.length} …`
              : 'looking at the files …'}
        </Aside>
        {done && !working ? null : (
          <Act
            onClick={() => {
              stop.current.abort();
              if (!working) onClose();
            }}
          >
            Cancel
          </Act>
        )}
      </Flex>
      <Box flex="1" minHeight="0" overflow="auto" px="16px" pb="12px">
        {reads && facts ? (
          <Box bg="leaf">
            <SmallTable
              label="files of the delivery"
              columns={columns}
              rows={list}
              rowKey={(r) => r.path}
              rowStyle={(r) => ({ 'aria-label': r.path })}
              cellStyle={{ verticalAlign: 'top', py: '5px', height: 'auto' }}
            />
          </Box>
        ) : null}
      </Box>
      {reads ? (
        <Flex px="16px" py="8px" gap="10px" align="center" borderTop="1px solid" borderColor="rule" flexShrink="0">
          {done ? (
            <>
              <Box flex="1" role="status">
                {outcomes.size - failed} of {list.length} files done
                {failed ? `, ${failed} not: see above` : ''}.{' '}
                {open ? `${open} ${open === 1 ? 'query' : 'queries'} open in this project.` : 'No open queries.'}{' '}
                {/* prettier-ignore */}
              </Box>
              {failed ? <Act onClick={() => void run()}>Try again</Act> : null}
              <Act look="solid" onClick={onClose}>
                Close
              </Act>
            </>
          ) : (
            <Act
              look="solid"
              size="tall"
              disabled={working !== null || toImport.length === 0}
              onClick={() => void run()}
            >
              {working ? 'importing …' : `Import ${toImport.length} ${toImport.length === 1 ? 'file' : 'files'}`}
            </Act>
          )}
        </Flex>
      ) : null}
    </Flex>
  );
}

const FileName = ({ path }: { path: string }) => {
  const cut = path.lastIndexOf('/') + 1;
  return (
    <Flex direction="column" minWidth="0">
      <Cut fontWeight="600">{path.slice(cut)}</Cut>
      {cut ? (
        <Cut color="slate" fontSize="12px">
          {path.slice(0, cut - 1)}
        </Cut>
      ) : null}
    </Flex>
  );
};

interface FileShape {
  read: Read;
  fixed: boolean;
  treat: (t: Treatment) => void;
}

/** What a file holds, and what is to be said of it beside the project and the others. */
function Holds({ read: r, fixed, treat, all, facts }: FileShape & { all: Read[]; facts: ProjectFacts }) {
  const { state } = useParts('state');
  const earlier = useEarlier(r);
  return (
    <>
      <div>{holdsOf(r)}</div>
      {r.later && earlier ? (
        <Remark warning={false}>
          a later export of {earlier.fileName}: <Num>{r.later.found}</Num> records found again,{' '}
          <Num>{r.later.fresh}</Num> new, <Num>{r.later.gone}</Num> no longer there
        </Remark>
      ) : null}
      {r.later?.gone && earlier && r.treatment.as === 'replace' && !fixed ? (
        <GoneRecords
          records={r.later.goneRecords}
          count={r.later.gone}
          earlier={earlier.fileName}
          settings={state!.document.settings}
          remaining={r.treatment.remaining}
          onChange={(remaining) => treat({ as: 'replace', intake: earlier.id, remaining })}
        />
      ) : null}
      {remarksOf(r, all, facts).map((m) => (
        <Remark key={m.text} warning={m.warning}>
          {m.text}
        </Remark>
      ))}
    </>
  );
}

/** What it is imported as; while it is imported its share, afterwards what became of it. */
function ImportedAs({
  read: r,
  fixed,
  treat,
  outcome,
  share,
  onAlone,
}: FileShape & { outcome: Outcome | null; share: number | null; onAlone: (file: File) => void }) {
  const earlier = useEarlier(r);
  const choices = [
    ...(r.later ? (['replace'] as const) : []),
    ...(r.file ? choicesOf(r.opened, r.picture !== null, r.ticked !== null) : ['nothing' as const]),
  ];
  if (outcome)
    return <Box color={outcome.done ? 'pine' : 'pole'}>{outcome.done ? `✓ ${outcome.said}` : `▲ ${outcome.why}`}</Box>;
  if (share !== null) return <Progress share={share} />;
  return (
    <Flex gap="4px" align="center" wrap="wrap">
      <Pick
        aria-label={`${r.path} is imported as`}
        disabled={fixed || choices.length < 2}
        value={r.treatment.as}
        onChange={(e) => treat(treatmentAs(e.target.value as Treatment['as'], r))}
      >
        {choices.map((c) => (
          <option key={c} value={c}>
            {c === 'replace' ? `later export of ${earlier?.fileName ?? 'a file'}` : TREATMENT_NAME[c]}
          </option>
        ))}
      </Pick>
      {r.opened && r.file && !fixed ? (
        <Act
          look="quiet"
          aria-label={`look at ${r.path} by itself`}
          title="Look at its columns and points by itself"
          onClick={() => onAlone(r.file!)}
        >
          columns …
        </Act>
      ) : null}
    </Flex>
  );
}

/** The file of the project that this one is a later export of. */
function useEarlier(r: Read) {
  const { state } = useParts('state');
  return r.later ? state!.document.intakes.find((i) => i.id === r.later!.intake) : undefined;
}

const Remark = ({ warning, children }: { warning: boolean; children: React.ReactNode }) => (
  <Flex gap="6px" align="baseline" fontSize="13px" color={warning ? 'brass' : 'slate'}>
    <Box flexShrink="0" position="relative" top="1px">
      <WeightSign weight={warning ? 'look' : 'note'} size={11} />
    </Box>
    <span>{children}</span>
  </Flex>
);

function treatmentAs(as: Treatment['as'], r: Read): Treatment {
  if (as === 'replace') return { as, intake: r.later!.intake, remaining: [] };
  if (as === 'design') return { as, surface: r.opened?.surface ?? r.path.slice(r.path.lastIndexOf('/') + 1).replace(/\.[^.]*$/, '') }; // prettier-ignore
  return { as };
}

/** What a file holds, in a line. */
function holdsOf({ why, book, tried, opened, ticked, treatment, layout }: Read): string {
  if (why) return why;
  if (ticked?.drawing && (treatment.as === 'layers' || treatment.as === 'underlay')) {
    const { rows, more } = ticked.drawing;
    const count = rows.reduce((sum, r) => sum + r.count, 0);
    const layers = rows.length + more;
    const as = ticked.tickedAs && treatment.as === 'layers' ? `, ticked as for ${ticked.tickedAs.name}` : '';
    return `${count} ${count === 1 ? 'entity' : 'entities'} on ${layers === 1 ? '1 layer' : `${layers} layers`} by kind${as}`;
  }
  if (book && !['survey', 'control', 'design'].includes(treatment.as)) {
    const records = Object.values(book.counts).reduce((s, n) => s + n, 0);
    return `${records} records, ${book.stations.length} ${book.stations.length === 1 ? 'station' : 'stations'}${book.problemCount ? `, ${book.problemCount} rows cannot be read` : ''}`; // prettier-ignore
  }
  if (!tried || !opened) return opened ? 'nothing that is read' : 'not read';
  if (tried.problem) return tried.problem;
  const what = opened.surface !== null ? 'vertices of a surface' : opened.lines.taken ? 'vertices of lines' : 'points';
  const order = layout && !layout.degrees ? (layout.roles.indexOf('N') < layout.roles.indexOf('E') ? 'north before east' : 'east before north') : 'latitude and longitude'; // prettier-ignore
  const unit = layout ? (UNIT_SIGN[layout.unit as LengthUnit] ?? layout.unit) : '';
  return `${tried.read} ${what}, ${order}${layout?.degrees ? '' : `, ${unit}`}${tried.refusedCount ? `, ${tried.refusedCount} rows cannot be read` : ''}`; // prettier-ignore
}
