import { Box, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { PackageCard } from '#contract';
import type { SentWith } from '#core/exchange';
import { NEW_LINE, type Returned, type ReturnedItem } from '#core/handover';
import type { FileUnit } from '#core/measure';
import type { Change } from '#core/project';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Cut, Leaf, Pick } from '../frame/controls.tsx';
import { SmallTable } from '../frame/small-table.tsx';
import { useParts, useProject } from '../project-state/store.ts';
import { sheetHandle } from '../sheet/handle.ts';
import { chainWork } from '../work/workers.ts';
import { openZip } from './delivery/gather.ts';

const SHOWN = 300;
const HEADING = 'number\teast [m]\tnorth [m]\televation [m]\tcode';

/** A drawing of ours that came back: what its recipient did to it, each taken as a change, or all, or none. */
export function ReturnedDrawing({
  file,
  ours,
  unit,
  onPoints,
}: {
  file: File;
  ours: SentWith;
  /** The unit that it is read in; null where nothing says it. */
  unit: FileUnit | null;
  onPoints: (file: File) => void;
}) {
  const { id, state, tables } = useParts('id', 'state', 'tables');
  const packages = useQuery({ queryKey: ['packages', id], queryFn: () => api.packages(id), enabled: id !== '' }).data;
  const drawings = (packages ?? []).filter((p) => !p.withdrawn && p.spec?.files.some((f) => f.kind === 'dxf'));
  const said = drawings.find((p) => p.manifest.made === ours.sent) ?? null;
  const [chosen, setChosen] = useState<string | null>(null);
  const [asked, setAsked] = useState(false);
  const [got, setGot] = useState<Returned | { problem: string } | null>(null);
  const against = drawings.find((p) => p.id === chosen) ?? said;
  const wanted = asked || ours.ours > 0;
  const revision = state!.revision;

  useEffect(() => {
    if (!wanted || packages === undefined) return;
    let here = true;
    void compare(id, file, against, unit, { revision, hashes: tables!.stages.reads }).then((answer) => here && setGot(answer)); // prettier-ignore
    return () => void (here = false);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- compared anew when the project, or what it is held against, is another
  }, [wanted, file, unit, revision, against?.id, packages === undefined]);
  useEffect(() => () => useProject.setState({ sketch: null }), []);

  if (!wanted)
    return drawings.length ? (
      <Flex gap="8px" align="center" mb="10px">
        <Act look="quiet" onClick={() => setAsked(true)}>
          A drawing of ours that comes back? Compare with what was sent …
        </Act>
      </Flex>
    ) : null;
  return (
    <Leaf mb="10px" p="8px 12px" as="section" aria-label="drawing that came back">
      <Flex gap="8px" align="center" wrap="wrap" mb="4px">
        <Box fontWeight="600">{ours.ours ? 'A drawing from here comes back' : 'Compared with'}</Box>
        <Pick
          aria-label="what it is compared with"
          value={against?.id ?? ''}
          onChange={(e) => setChosen(e.target.value)}
        >
          {against ? null : <option value="">the project as it is now</option>}
          {drawings.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}, {p.madeAt.slice(0, 10)}, revision {p.revision}
            </option>
          ))}
        </Pick>
      </Flex>
      {got === null ? (
        <Aside>comparing …</Aside>
      ) : 'problem' in got ? (
        <Box role="alert" color="pole">
          {got.problem}
        </Box>
      ) : (
        <Items got={got} file={file} onPoints={onPoints} />
      )}
    </Leaf>
  );
}

async function compare(
  project: string,
  file: File,
  against: PackageCard | null,
  unit: FileUnit | null,
  { revision, hashes }: { revision: number; hashes: Record<string, string> },
): Promise<Returned | { problem: string }> {
  const { coordinates, unit: sentIn } = against?.spec ?? {};
  if (coordinates && coordinates.kind !== 'grid')
    return {
      problem: `${against!.name} went out in ${coordinates.kind} coordinates, which are not the project's own: nothing is taken of it as changes. Import it as any other drawing.`,
    };
  try {
    const sent = against ? await drawingsOf(project, against) : [];
    const back = new Uint8Array(await file.arrayBuffer());
    return await chainWork().returned(revision, back, sent, { back: unit ?? sentIn, sent: sentIn }, { project, hashes }); // prettier-ignore
  } catch (error) {
    return { problem: problemText(error) };
  }
}

async function drawingsOf(project: string, { id, name }: PackageCard): Promise<Uint8Array[]> {
  const answer = await fetch(`/api/projects/${project}/packages/${id}`);
  if (!answer.ok) throw new Error(`Package ${name} is not to be had: the server answered ${answer.status}.`);
  const files = await openZip(new Uint8Array(await answer.arrayBuffer()), name);
  const drawings = files.flatMap((f) => (f.file && /\.dxf$/i.test(f.path) ? [f.file] : []));
  return Promise.all(drawings.map(async (f) => new Uint8Array(await f.arrayBuffer())));
}

/** What is different, ticked where it is taken; what is done with each. */
function Items({ got, file, onPoints }: { got: Returned; file: File; onPoints: (file: File) => void }) {
  const { propose, busy } = useParts('propose', 'busy');
  const { items, newPoints } = got;
  const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set());
  const [choice, setChoice] = useState<Readonly<Record<number, number>>>({});
  useEffect(() => {
    setTicked(new Set(items.flatMap((item, i) => (item.sure ? [i] : []))));
    setChoice({});
    useProject.setState({ sketch: sketchOf(items) });
  }, [items]);
  const can = items.flatMap((item, i) => (item.choices.length ? [i] : []));
  const counts = [
    items.length ? `${items.length} ${items.length === 1 ? 'thing differs' : 'things differ'}` : 'nothing differs',
    ...(newPoints.length ? [`${newPoints.length} new ${newPoints.length === 1 ? 'point' : 'points'}`] : []),
    `${got.unchanged} unchanged`,
  ];
  const all = ticked.size === can.length;
  return (
    <>
      <Box mb="4px" role="status">
        {got.against === 'now'
          ? 'The package it went out in is not here: compared with the project as it is now. '
          : ''}
        {counts.join(', ')}.
        {got.labels ? ` ${got.labels} labels differ; they are made fresh when a drawing goes out.` : ''}
      </Box>
      {items.length ? (
        <Box maxHeight="420px" overflow="auto" tabIndex={0} mb="6px">
          <SmallTable
            label="what came back otherwise"
            rows={items.map((item, i) => ({ item, i }))}
            rowKey={({ i }) => String(i)}
            most={SHOWN}
            columns={[
              {
                id: 'name',
                head: 'what',
                words: true,
                by: ({ item }) => item.name,
                cell: ({ item, i }) => (
                  <Flex align="center" gap="4px">
                    {item.choices.length ? (
                      <input
                        type="checkbox"
                        aria-label={`take ${item.name}, ${item.what}`}
                        checked={ticked.has(i)}
                        onChange={() => setTicked(withOther(ticked, i))}
                      />
                    ) : null}
                    <Act
                      look="quiet"
                      height="22px"
                      px="0"
                      title="show on the drawing"
                      onClick={() => sheetHandle.current?.show(item.x, item.y)}
                    >
                      <Cut maxWidth="110px">{calledOf(item)}</Cut>
                    </Act>
                  </Flex>
                ),
              },
              { id: 'how', head: 'how', words: true, by: ({ item }) => item.what, cell: ({ item }) => <Cut maxWidth="170px">{item.what}</Cut> }, // prettier-ignore
              {
                id: 'choice',
                head: 'becomes',
                words: true,
                cell: ({ item, i }) =>
                  item.choices.length > 1 ? (
                    <Pick
                      aria-label={`what ${item.name} becomes`}
                      width="150px"
                      value={choice[i] ?? 0}
                      onChange={(e) => setChoice({ ...choice, [i]: Number(e.target.value) })}
                    >
                      {item.choices.map((c, k) => (
                        <option key={c.label} value={k}>
                          {c.label}
                        </option>
                      ))}
                    </Pick>
                  ) : (
                    <Cut maxWidth="150px">{item.choices[0]?.label ?? 'nothing'}</Cut>
                  ),
              },
            ]}
            below={({ item }) => (item.note ? <Aside>{item.note}</Aside> : null)}
          />
        </Box>
      ) : null}
      <Flex gap="8px" align="center" wrap="wrap">
        {can.length ? (
          <>
            <Act
              look="solid"
              disabled={busy || ticked.size === 0}
              onClick={() => {
                const what = `take ${ticked.size} ${ticked.size === 1 ? 'change' : 'changes'} of ${file.name}`.slice(0, 200); // prettier-ignore
                void propose(`T${what.slice(1)}`, together([...ticked].map((i) => items[i].choices[choice[i] ?? 0].change), what)); // prettier-ignore
              }}
            >
              Show {ticked.size} {ticked.size === 1 ? 'change' : 'changes'}
            </Act>
            <Act look="quiet" onClick={() => setTicked(all ? new Set() : new Set(can))}>
              {all ? 'Tick none' : 'Tick all'}
            </Act>
          </>
        ) : null}
        {newPoints.length ? (
          <Act
            onClick={() =>
              onPoints(
                new File([[HEADING, ...newPoints].join('\n')], `${file.name.replace(/\.[^.]*$/, '')}-new-points.txt`),
              )
            }
          >
            Import {newPoints.length} new {newPoints.length === 1 ? 'point' : 'points'} …
          </Act>
        ) : null}
      </Flex>
    </>
  );
}

const calledOf = ({ of, name }: ReturnedItem): string => (of === 'other' || name === NEW_LINE ? name : `${of} ${name}`);

function withOther(set: ReadonlySet<number>, i: number): ReadonlySet<number> {
  const next = new Set(set);
  if (!next.delete(i)) next.add(i);
  return next;
}

/** One change of points and one of lines, however many things there are: none speaks of what another does. */
export function together(changes: readonly Change[], what: string): Change {
  const edits = Object.assign({}, ...changes.map((c) => (c.op === 'points.edit' ? c.edits : {}))) as Extract<Change, { op: 'points.edit' }>['edits']; // prettier-ignore
  const set = Object.assign({}, ...changes.map((c) => (c.op === 'lines.hand' ? c.set : {}))) as Extract<Change, { op: 'lines.hand' }>['set']; // prettier-ignore
  const all: Change[] = changes.filter((c) => c.op !== 'points.edit' && c.op !== 'lines.hand');
  if (Object.keys(edits).length) all.push({ op: 'points.edit', edits });
  if (Object.keys(set).length) all.push({ op: 'lines.hand', set, what });
  return all.length === 1 ? all[0] : { op: 'several', changes: all, what };
}

/** Both states on the drawing: arrows from where points were, courses as they came back. */
const sketchOf = (items: readonly ReturnedItem[]) => ({
  places: Float64Array.from(items.flatMap((i) => (i.of === 'line' ? [] : [i.x, i.y]))),
  arrows: items.flatMap(({ of, was, is }) => ((of === 'point' || of === 'label') && was.length && is.length ? [[was[0], was[1], is[0], is[1]]] : [])), // prettier-ignore
  courses: items.flatMap(({ of, is }) => (of === 'line' && is.length >= 4 ? [is] : [])),
  about: 'drawing that came back',
});
