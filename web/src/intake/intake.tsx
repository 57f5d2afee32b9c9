import { Box, chakra, Flex } from '@chakra-ui/react';
import { proxy } from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { SavedLayout } from '#contract';
import { CONTROL, GROUND, STATE, type NumberDecision } from '#core/chain';
import {
  layoutProblem,
  ROLE_NAME,
  SEPARATOR_NAME,
  splitRow,
  type Role,
  type Separator,
  type TextLayout,
} from '#core/exchange';
import { formatLength, LENGTH_UNITS, UNIT_NAME, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { api, problemText } from '../api.ts';
import { Act, Aside, Cut, Field, Leaf, Num, Pick } from '../frame/controls.tsx';
import { useProject } from '../project/store.ts';
import type { Visitors } from '../sheet/sheet.tsx';
import type { Opened, Tried } from '../work/intake.worker.ts';
import { startIntakeWork } from '../work/workers.ts';

interface IntakeProps {
  file: File;
  onVisitors: (visitors: Visitors | null) => void;
  onClose: () => void;
}

const LARGEST = 256 * 1024 * 1024;
const PART = 2000;
const DECISIONS: [NumberDecision, string][] = [
  ['both', 'keep both, and ask me'],
  ['merge', 'same point: keep the earlier'],
  ['renumber', 'give the later new numbers'],
  ['leave-out', 'leave the later out'],
];

const Head = chakra('th', {
  base: {
    px: '5px',
    py: '4px',
    textAlign: 'left',
    verticalAlign: 'top',
    borderBottom: '1px solid',
    borderColor: 'ink',
    minWidth: '84px',
  },
});
const Cell = chakra('td', {
  base: {
    px: '8px',
    height: '24px',
    borderBottom: '1px solid',
    borderColor: 'rule',
    fontFamily: 'mono',
    fontSize: '12px',
    whiteSpace: 'nowrap',
  },
});

/** A file before it is taken in: its columns with their roles and why, its points on the sheet, what would be left out. */
export function IntakePage({ file, onVisitors, onClose }: IntakeProps) {
  const { state, tables, id } = useProject();
  const [opened, setOpened] = useState<Opened | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [layout, setLayout] = useState<TextLayout | null>(null);
  const [tried, setTried] = useState<Tried | null>(null);
  const [trying, setTrying] = useState<number | null>(null);
  const [part, setPart] = useState(false);
  const [target, setTarget] = useState<string>(GROUND);
  const [design, setDesign] = useState('');
  const [decision, setDecision] = useState<NumberDecision>('both');
  const [each, setEach] = useState<Record<string, NumberDecision>>({});
  const [sending, setSending] = useState<{ share: number; what: string } | null>(null);
  const [layouts, setLayouts] = useState<SavedLayout[]>([]);
  const [proposed, setProposed] = useState<string | null>(null);
  const work = useRef<ReturnType<typeof startIntakeWork> | null>(null);
  const stop = useRef(new AbortController());
  const settings = state!.document.settings;

  const numbers = useMemo(() => {
    const { points } = tables!;
    const out: string[] = [];
    // Enough to find what exists already; a million numbers are compared by the account afterwards.
    for (let row = 0; row < Math.min(points.x.length, 300_000); row++)
      if (state!.document.intakes[points.intake[row]].target !== CONTROL) out.push(points.number.get(row));
    return out;
  }, [tables]);

  useEffect(() => {
    const mine = startIntakeWork();
    work.current = mine;
    let here = true;
    void (async () => {
      if (file.size > LARGEST)
        return setProblem(
          `${file.name} has ${Math.round(file.size / 1048576)} MB; at most 256 MB are taken in at once. Split it.`,
        );
      const bytes = new Uint8Array(await file.arrayBuffer());
      const near = placesToCompare();
      const answer = await mine.work.open(bytes, {
        fileName: file.name,
        unit: settings.unit,
        near,
        order: settings.order,
        codes: state!.document.codeList.codes.map((c) => c.code.toUpperCase()),
      });
      if (!here) return;
      if (!answer.ok) return setProblem(`${file.name}: ${answer.reason}`);
      const saved = await api.layouts().catch(() => []);
      if (!here) return;
      setLayouts(saved);
      const known = saved.find(
        (l) => l.signature === answer.signature && l.layout.roles.length === answer.guess.layout.roles.length,
      );
      setProposed(known?.name ?? null);
      setOpened(answer);
      setLayout(known ? { ...known.layout, skipRows: answer.guess.layout.skipRows } : answer.guess.layout);
      if (/control|passpunkt|festpunkt|\bcp\b/i.test(file.name)) setTarget(CONTROL);
      else if (/pad|design|proposed/i.test(file.name)) {
        setTarget('design');
        setDesign(file.name.replace(/\.[^.]*$/, '').replace(/[-_]+/g, ' '));
      }
    })();
    return () => {
      here = false;
      mine.end();
      onVisitors(null);
    };
  }, [file]);

  useEffect(() => {
    const mine = work.current;
    if (!mine || !layout) return;
    let here = true;
    setTrying(0);
    const wait = setTimeout(() => {
      void mine.work
        .try(
          layout,
          numbers,
          part ? PART : null,
          proxy((share: number) => here && setTrying(share)),
        )
        .then((answer) => {
          if (!here) return;
          setTrying(null);
          setTried(answer);
          onVisitors(answer.problem ? null : { x: answer.x, y: answer.y, near: answer.near });
        });
    }, 120);
    return () => {
      here = false;
      clearTimeout(wait);
    };
  }, [layout, part, opened]);

  function placesToCompare(): { x: number; y: number }[] {
    const { points } = tables!;
    const control: { x: number; y: number }[] = [];
    const others: { x: number; y: number }[] = [];
    const step = Math.max(1, Math.floor(points.x.length / 500));
    for (let row = 0; row < points.x.length; row++) {
      const isControl = state!.document.intakes[points.intake[row]].target === CONTROL;
      if (isControl) control.push({ x: points.x[row], y: points.y[row] });
      else if (row % step === 0 && points.state[row] === STATE.used)
        others.push({ x: points.x[row], y: points.y[row] });
    }
    return control.length ? control : others;
  }

  const accept = async (): Promise<void> => {
    if (!layout || !opened) return;
    setProblem(null);
    try {
      setSending({ share: 0, what: 'sending' });
      const received = await api.upload(
        id,
        file,
        (share) => setSending({ share, what: 'sending' }),
        stop.current.signal,
      );
      setSending({ share: 1, what: 'taking in' });
      await api.startIntake(id, useProject.getState().state!.revision, {
        id: crypto.randomUUID().slice(0, 13),
        fileId: received.id,
        fileName: file.name,
        sha256: received.sha256,
        layout,
        target: target === 'design' ? design.trim() || 'Design' : target,
        on: true,
        numbers: { all: decision, each },
      });
      onClose();
    } catch (error) {
      setSending(null);
      stop.current = new AbortController();
      setProblem(problemText(error));
    }
  };

  return (
    <Flex as="section" direction="column" height="100%" minHeight="0" aria-label="intake">
      <Flex align="center" gap="10px" px="16px" minHeight="44px" flexShrink="0">
        <chakra.h2 m="0" fontSize="18px" fontWeight="700" whiteSpace="nowrap">
          Take in
        </chakra.h2>
        <Cut fontWeight="600">{file.name}</Cut>
        <Box flex="1" />
        <Act
          onClick={() => {
            stop.current.abort();
            onClose();
          }}
        >
          Leave it
        </Act>
      </Flex>
      <Box flex="1" minHeight="0" overflow="auto" px="16px" pb="12px">
        {problem ? (
          <Box role="alert" color="pole" mb="10px">
            {problem}
          </Box>
        ) : null}
        {!opened && !problem ? <Box color="slate">reading the first rows …</Box> : null}
        {opened && layout ? (
          <>
            <LayoutLine
              layout={layout}
              opened={opened}
              setLayout={setLayout}
              layouts={layouts}
              proposed={proposed}
              setProposed={setProposed}
            />
            <ColumnTable opened={opened} layout={layout} setLayout={setLayout} proposed={proposed} />
            <Result tried={tried} trying={trying} part={part} setPart={setPart} layout={layout} />
            {tried && !tried.problem ? (
              <Leaf mt="10px" p="10px 12px">
                <Flex gap="8px" align="center" wrap="wrap" mb="8px">
                  These are
                  <Pick aria-label="what the points are" value={target} onChange={(e) => setTarget(e.target.value)}>
                    <option value={GROUND}>survey points of the ground</option>
                    <option value={CONTROL}>control</option>
                    <option value="design">points of a design surface</option>
                  </Pick>
                  {target === 'design' ? (
                    <Field
                      aria-label="name of the design"
                      placeholder="name of the design"
                      value={design}
                      maxLength={120}
                      onChange={(e) => setDesign(e.target.value)}
                    />
                  ) : null}
                </Flex>
                {tried.known.length + tried.twice.length > 0 && target !== CONTROL ? (
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
                        disabled={trying !== null || tried.read === 0}
                        onClick={() => void accept()}
                      >
                        Take in {part ? 'the whole file' : `${tried.read} points`}
                      </Act>
                      <SaveLayout layout={layout} signature={opened.signature} onSaved={(name) => setProposed(name)} />
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

interface LayoutProps {
  layout: TextLayout;
  opened: Opened;
  setLayout: (layout: TextLayout) => void;
  proposed: string | null;
}

function LayoutLine({
  layout,
  opened,
  setLayout,
  layouts,
  proposed,
  setProposed,
}: LayoutProps & { layouts: SavedLayout[]; setProposed: (name: string | null) => void }) {
  const { why } = opened.guess;
  const guessed = proposed === null;
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
      <Flex gap="8px" wrap="wrap" align="center">
        <Aside>kept layout</Aside>
        <Pick
          aria-label="kept layout"
          value={proposed ?? ''}
          onChange={(e) => {
            const kept = layouts.find((l) => l.name === e.target.value);
            setProposed(kept?.name ?? null);
            setLayout(kept ? { ...kept.layout, skipRows: opened.guess.layout.skipRows } : opened.guess.layout);
          }}
        >
          <option value="">none: as guessed</option>
          {layouts.map((l) => (
            <option key={l.id} value={l.name}>
              {l.name}
            </option>
          ))}
          {proposed && !layouts.some((l) => l.name === proposed) ? <option value={proposed}>{proposed}</option> : null}
        </Pick>
        {proposed ? <Box color="pine">proposed, since its files began like this one</Box> : null}
      </Flex>
      <Flex gap="8px" wrap="wrap" align="center" mt="6px">
        parted by
        <Pick aria-label="separator" value={layout.separator} onChange={(e) => separate(e.target.value as Separator)}>
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
        in
        <Pick
          aria-label="unit of the file"
          value={layout.unit}
          onChange={(e) => setLayout({ ...layout, unit: e.target.value as LengthUnit })}
        >
          {LENGTH_UNITS.map((u) => (
            <option key={u} value={u}>
              {UNIT_NAME[u]}
            </option>
          ))}
        </Pick>
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
      </Flex>
      {guessed ? (
        <Box color="slate" fontSize="13px" mt="4px">
          Separator: {why.separator}. Unit: {why.unit}. Rows: {why.skip}.{' '}
          {opened.encoding === 'utf-8' ? '' : `Text is ${opened.encoding}.`}
        </Box>
      ) : null}
    </Leaf>
  );
}

function ColumnTable({ opened, layout, setLayout, proposed }: LayoutProps) {
  const rows = opened.rows.slice(0, layout.skipRows + 12);
  const setRole = (i: number, role: Role): void => {
    // East, north, number and elevation are in one column each: the one that had the role gives it up.
    const single = role !== '_' && role !== 'D';
    const swapped = layout.roles[i];
    setLayout({ ...layout, roles: layout.roles.map((r, k) => (k === i ? role : single && r === role ? swapped : r)) });
  };
  return (
    <Box overflow="auto" bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px" maxHeight="300px">
      <chakra.table borderCollapse="collapse">
        <thead>
          <tr>
            <Head minWidth="36px" scope="col">
              <Aside fontWeight="400">row</Aside>
            </Head>
            {layout.roles.map((role, i) => (
              <Head key={i} scope="col">
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
                      {ROLE_NAME[r]}
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
                >
                  {proposed ? `as in “${proposed}”` : (opened.guess.why.columns[i] ?? '')}
                </Box>
              </Head>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, r) => {
            const skipped = r < layout.skipRows;
            const fields = splitRow(row, layout.separator);
            return (
              <chakra.tr
                key={r}
                color={skipped ? 'slate' : undefined}
                textDecoration={skipped ? 'line-through' : undefined}
              >
                <Cell color="slate" textAlign="right">
                  {r + 1}
                </Cell>
                {layout.roles.map((role, i) => (
                  <Cell key={i} textAlign={role === 'E' || role === 'N' || role === 'Z' ? 'right' : 'left'}>
                    {(fields[i] ?? '').slice(0, 60)}
                  </Cell>
                ))}
              </chakra.tr>
            );
          })}
        </tbody>
      </chakra.table>
    </Box>
  );
}

function Result({
  tried,
  trying,
  part,
  setPart,
  layout,
}: {
  tried: Tried | null;
  trying: number | null;
  part: boolean;
  setPart: (part: boolean) => void;
  layout: TextLayout;
}) {
  const settings = useProject((p) => p.state!.document.settings);
  const { unit } = settings;
  const problem = layoutProblem(layout);
  return (
    <Leaf mt="10px" p="10px 12px">
      <Flex gap="12px" align="center" wrap="wrap">
        <chakra.label display="flex" gap="6px">
          <input type="checkbox" checked={part} onChange={(e) => setPart(e.target.checked)} /> try the first {PART} rows
          only
        </chakra.label>
        {trying !== null ? (
          <Flex gap="8px" align="center">
            <Progress share={trying} /> <Aside>reading …</Aside>
          </Flex>
        ) : null}
      </Flex>
      {problem ? (
        <Box role="alert" color="pole" mt="4px">
          {problem}
        </Box>
      ) : tried ? (
        <>
          <Box mt="4px">
            <Num>{tried.read}</Num> {tried.read === 1 ? 'point' : 'points'} read, <Num>{tried.refusedCount}</Num>{' '}
            {tried.refusedCount === 1 ? 'row' : 'rows'} left out
            {tried.withoutElevation ? `, ${tried.withoutElevation} without elevation` : ''}
            {tried.extent ? (
              <Aside display="block">
                E {formatLength(tried.extent[0], unit, 1)} … {formatLength(tried.extent[2], unit, 1)}, N{' '}
                {formatLength(tried.extent[1], unit, 1)} … {formatLength(tried.extent[3], unit, 1)}
                {Number.isFinite(tried.lowest)
                  ? `, elevation ${formatLength(tried.lowest, unit, 2)} … ${formatLength(tried.highest, unit, 2)}`
                  : ''}{' '}
                {UNIT_SIGN[unit]}
              </Aside>
            ) : null}
          </Box>
          {tried.far ? (
            <Box color="brass">
              {tried.far === 1 ? '1 point lies' : `${tried.far} points lie`} far from all others and{' '}
              {tried.far === 1 ? 'is' : 'are'} outside what the sheet shows; {tried.far === 1 ? 'it' : 'they'} will be
              asked about.
            </Box>
          ) : null}
          {tried.refused.length ? (
            <Box mt="6px" maxHeight="120px" overflow="auto" fontSize="13px">
              {tried.refused.slice(0, 50).map((r) => (
                <Box key={r.row}>
                  row {r.row}: {r.reason}{' '}
                  <Num color="slate" fontSize="12px">
                    {r.text.slice(0, 100)}
                  </Num>
                </Box>
              ))}
            </Box>
          ) : null}
        </>
      ) : null}
    </Leaf>
  );
}

function Coincident({
  known,
  twice,
  decision,
  setDecision,
  each,
  setEach,
}: {
  known: string[];
  twice: string[];
  decision: NumberDecision;
  setDecision: (d: NumberDecision) => void;
  each: Record<string, NumberDecision>;
  setEach: (each: Record<string, NumberDecision>) => void;
}) {
  const [open, setOpen] = useState(false);
  const all = [...new Set([...known, ...twice])];
  const shown = all.slice(0, 200);
  return (
    <Box mb="10px">
      <Flex gap="8px" align="center" wrap="wrap">
        <Box color="brass">
          {known.length === 1
            ? `number ${known[0]} exists in the project already`
            : known.length
              ? `${known.length} numbers exist in the project already`
              : ''}
          {known.length && twice.length ? ', ' : ''}
          {twice.length === 1
            ? `${twice[0]} stands twice in the file`
            : twice.length
              ? `${twice.length} stand twice in the file`
              : ''}
        </Box>
        <Pick
          aria-label="what to do with numbers that exist already"
          value={decision}
          onChange={(e) => setDecision(e.target.value as NumberDecision)}
        >
          {DECISIONS.map(([k, v]) => (
            <option key={k} value={k}>
              {v}
            </option>
          ))}
        </Pick>
        <Act look="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
          one by one
        </Act>
      </Flex>
      {open ? (
        <Box maxHeight="150px" overflow="auto" mt="4px">
          {shown.map((n) => (
            <Flex key={n} gap="8px" align="center" minHeight="28px">
              <Num width="80px">{n}</Num>
              <Pick
                aria-label={`number ${n}`}
                value={each[n] ?? ''}
                onChange={(e) => {
                  const { [n]: _, ...rest } = each;
                  setEach(e.target.value ? { ...rest, [n]: e.target.value as NumberDecision } : rest);
                }}
              >
                <option value="">as all</option>
                {DECISIONS.map(([k, v]) => (
                  <option key={k} value={k}>
                    {v}
                  </option>
                ))}
              </Pick>
            </Flex>
          ))}
          {all.length > shown.length ? <Aside>and {all.length - shown.length} more, as all</Aside> : null}
        </Box>
      ) : null}
    </Box>
  );
}

function SaveLayout({
  layout,
  signature,
  onSaved,
}: {
  layout: TextLayout;
  signature: string;
  onSaved: (name: string) => void;
}) {
  const [name, setName] = useState<string | null>(null);
  const [said, setSaid] = useState('');
  if (name === null)
    return (
      <>
        <Act onClick={() => setName('')}>Keep this layout …</Act>
        {said ? <Aside role="status">{said}</Aside> : null}
      </>
    );
  return (
    <chakra.form
      display="flex"
      gap="6px"
      onSubmit={(e) => {
        e.preventDefault();
        if (!name.trim()) return;
        api.saveLayout(name.trim(), layout, signature).then(
          () => {
            setSaid(`kept as “${name.trim()}”`);
            onSaved(name.trim());
            setName(null);
          },
          (error: unknown) => setSaid(problemText(error)),
        );
      }}
    >
      <Field
        autoFocus
        aria-label="name of the layout"
        placeholder="whose files are these?"
        value={name}
        maxLength={80}
        onChange={(e) => setName(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && setName(null)}
      />
      <Act type="submit">Keep</Act>
    </chakra.form>
  );
}

export const Progress = ({ share }: { share: number }) => (
  <Box
    role="progressbar"
    aria-valuenow={Math.round(share * 100)}
    aria-valuemin={0}
    aria-valuemax={100}
    width="120px"
    height="8px"
    border="1px solid"
    borderColor="ink"
    borderRadius="2px"
    overflow="hidden"
  >
    <Box height="100%" bg="pine" style={{ width: `${Math.round(share * 100)}%` }} />
  </Box>
);
