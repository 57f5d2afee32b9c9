import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useEffectEvent, useState } from 'react';
import type { ChangeEntry, SettledStages } from '#contract';
import { before } from '#core/kernel';
import { detailText, type Stage } from '#core/project';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Field, Key, Num, Pick } from '../frame/controls.tsx';
import { when } from '../frame/page.tsx';
import { chainWork } from '../work/workers.ts';
import { useNames, useRows } from '../project-state/change-names.ts';
import { isSettled, useParts, useProject } from '../project-state/store.ts';

const Row = chakra('li', {
  base: {
    display: 'grid',
    gridTemplateColumns: '52px 1fr',
    gap: '8px',
    px: '16px',
    py: '6px',
    borderBottom: '1px solid',
    borderColor: 'rule',
  },
});

/** Every change: who, when, what. Undo and redo, and the page's own computation held against the server's. */
export function ChangesPanel({ onClose }: { onClose: () => void }) {
  const { id, state, takeBack } = useParts('id', 'state', 'takeBack');
  useEscape(onClose);
  const settled = useProject(isSettled);
  const changes = useQuery({
    queryKey: ['changes', id, state?.revision],
    queryFn: () => api.changes(id),
    placeholderData: (old) => old,
  });
  const [filter, setFilter] = useState({ by: '', stage: '', words: '' });
  const rowOf = useRows();
  const name = useNames(rowOf);
  const people = [...new Set(changes.data?.map((c) => c.by))].sort();
  const words = filter.words.trim().toLowerCase();
  const said = (c: ChangeEntry): string =>
    [c.what, c.why ?? '', ...(c.details ?? []).map((d) => `${d.field} ${name(d.key)} ${detailText(d)}`)].join(' ').toLowerCase(); // prettier-ignore
  const shown = (changes.data ?? []).filter(
    (c) => (!filter.by || c.by === filter.by) && (!filter.stage || c.stage === filter.stage) && (!words || said(c).includes(words)), // prettier-ignore
  );
  return (
    <Flex
      as="aside"
      aria-label="changes"
      direction="column"
      position="absolute"
      // On the left: what it speaks of, and its card, stay in view on the right.
      left="0"
      top="0"
      bottom="0"
      width="400px"
      maxWidth="100%"
      bg="leaf"
      borderRight="1px solid"
      borderColor="ink"
      zIndex="25"
    >
      <Flex align="center" px="16px" height="44px" gap="8px" flexShrink="0">
        <chakra.h2 m="0" fontSize="16px" fontWeight="700" flex="1">
          Changes
        </chakra.h2>
        <Act look="quiet" aria-label="close" onClick={onClose}>
          ×
        </Act>
      </Flex>
      <Flex px="16px" pb="10px" gap="8px" direction="column" borderBottom="1px solid" borderColor="ink">
        <Flex gap="8px">
          <Act disabled={!state?.undo} onClick={() => void takeBack('undo')} title={state?.undo ?? ''}>
            Undo <Key>Ctrl Z</Key>
          </Act>
          <Act disabled={!state?.redo} onClick={() => void takeBack('redo')} title={state?.redo ?? ''}>
            Redo <Key>Ctrl Y</Key>
          </Act>
        </Flex>
        {state?.undo ? <Aside>would be undone: {state.undo}</Aside> : null}
        <SameHere settled={settled} />
      </Flex>
      <Filters filter={filter} setFilter={setFilter} people={people} />
      <chakra.ol m="0" p="0" listStyleType="none" overflow="auto" flex="1">
        {shown.map((c) => (
          <Row key={c.revision} color={c.kind === 'undo' ? 'slate' : undefined}>
            <Num textAlign="right">{c.revision}</Num>
            <Box minWidth="0">
              <Box overflowWrap="anywhere">{c.kind !== 'do' || !c.details?.length ? c.what : null}</Box>
              <Details change={c} name={name} rowOf={rowOf} onGo={onClose} />
              {c.why ? <Box color="slate">because {c.why}</Box> : null}
              <Aside>
                {c.by}, {when(c.at)}
                {c.mine ? (
                  <Act
                    look="quiet"
                    aria-label={`undo change ${c.revision}`}
                    onClick={() => void takeBack('undo', { about: c.revision })}
                  >
                    Undo
                  </Act>
                ) : null}
              </Aside>
            </Box>
          </Row>
        ))}
        {changes.data?.length === 0 ? (
          <Box p="16px">Nothing has been changed yet. Drop a file anywhere to begin.</Box>
        ) : null}
      </chakra.ol>
    </Flex>
  );
}

/** Escape closes the list wherever one is, except where it first leaves a preview. */
function useEscape(onClose: () => void): void {
  const close = useEffectEvent(onClose);
  useEffect(() => {
    const leave = (e: KeyboardEvent): void => {
      if (e.key !== 'Escape' || useProject.getState().pending) return;
      // What is selected stays: one thing is left at a time.
      e.stopPropagation();
      close();
    };
    window.addEventListener('keydown', leave, true);
    return () => window.removeEventListener('keydown', leave, true);
  }, []);
}

interface Filter {
  by: string;
  stage: string;
  words: string;
}

function Filters({ filter, setFilter, people }: { filter: Filter; setFilter: (f: Filter) => void; people: string[] }) {
  return (
    <Flex px="16px" py="8px" gap="8px" wrap="wrap" borderBottom="1px solid" borderColor="rule">
      <Field
        aria-label="changes with"
        placeholder="only changes with …"
        width="130px"
        value={filter.words}
        onChange={(e) => setFilter({ ...filter, words: e.target.value })}
      />
      <Pick aria-label="by whom" value={filter.by} onChange={(e) => setFilter({ ...filter, by: e.target.value })}>
        <option value="">everybody</option>
        {people.map((p) => (
          <option key={p}>{p}</option>
        ))}
      </Pick>
      <Pick
        aria-label="of which stage"
        value={filter.stage}
        onChange={(e) => setFilter({ ...filter, stage: e.target.value })}
      >
        <option value="">every stage</option>
        {STAGES.map((s) => (
          <option key={s}>{s}</option>
        ))}
      </Pick>
    </Flex>
  );
}
const STAGES: Stage[] = ['basis', 'book', 'lines', 'ground', 'quantities', 'handover'];

/** What a change set, value by value, each with the way to what it speaks of. */
function Details({
  change,
  name,
  rowOf,
  onGo,
}: {
  change: ChangeEntry;
  name: (key: string | null) => string;
  rowOf: (key: string) => number | null;
  onGo: () => void;
}) {
  const { select } = useParts('select');
  const { details = [] } = change;
  if (change.kind !== 'do' || details.length === 0) return null;
  return (
    <Box>
      {details.slice(0, 6).map((d, i) => {
        const text = `${d.field}${d.key === null ? '' : ` of ${name(d.key)}`}: ${detailText(d)}`;
        const row = d.key === null ? null : rowOf(d.key);
        return row === null ? (
          <Box key={i} overflowWrap="anywhere">
            {text}
          </Box>
        ) : (
          <chakra.button
            key={i}
            type="button"
            display="block"
            bg="transparent"
            border="0"
            p="0"
            textAlign="left"
            textDecoration="underline"
            cursor="pointer"
            title="go there"
            onClick={() => {
              select({ kind: 'point', row });
              onGo();
            }}
          >
            {text}
          </chakra.button>
        );
      })}
      {details.length > 6 ? <Aside>and {details.length - 6} more</Aside> : null}
    </Box>
  );
}

/** The hash of each result by its stage and subject, in one order whatever order they were kept in. */
function hashesOf({
  points,
  reduction,
  lines,
  summary,
  surfaces,
  contours,
  pieces,
}: SettledStages): Record<string, string> {
  // prettier-ignore
  const out: Record<string, string> = { points, reduction, lines, summary };
  for (const [stage, of] of Object.entries({ surfaces, contours, pieces }))
    for (const subject of Object.keys(of).sort()) out[`${stage} ${subject}`] = of[subject];
  return out;
}

/** Runs the chain on this page and compares its bytes with those that the server keeps. */
function SameHere({ settled }: { settled: boolean }) {
  const { state, tables, id } = useParts('state', 'tables', 'id');
  const [answer, setAnswer] = useState<string | null>(null);
  const check = async (): Promise<void> => {
    if (!state || !tables) return;
    setAnswer('computing here …');
    try {
      const { stages } = tables;
      const mine = await chainWork().hashes(state.revision, { project: id, hashes: stages.reads });
      const theirs = hashesOf(stages);
      const surface = (of: string): string => state.document.surfaces.find((s) => s.id === of)?.name ?? of;
      const comparison = (of: string): string => state.document.comparisons.find((c) => c.id === of)?.name ?? of;
      const named = (key: string): string => {
        const [stage, of] = [before(key, ' '), key.slice(key.indexOf(' ') + 1)];
        if (stage === 'surfaces') return `surface ${surface(of)}`;
        if (stage === 'contours') return `contours of ${surface(of)}`;
        return stage === 'pieces' ? `quantities of ${comparison(of)}` : key;
      };
      const different = Object.keys(theirs).filter((k) => theirs[k] !== mine[k]);
      setAnswer(
        different.length
          ? `Different: ${different.map(named).join(', ')}.`
          : `The same to the last bit: ${Object.keys(theirs).map(named).join(', ')}.`,
      );
    } catch (error) {
      setAnswer(problemText(error));
    }
  };
  return (
    <Box>
      <Act look="quiet" disabled={!settled} onClick={() => void check()}>
        Compute here too and compare
      </Act>
      {answer ? (
        <Box fontSize="13px" color="slate" aria-live="polite">
          {answer}
        </Box>
      ) : null}
    </Box>
  );
}
