import { Box, chakra, Flex } from '@chakra-ui/react';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import type { Stage } from '#core/project';
import type { Query } from '#core/queries';
import { Act, Aside, Field, Key } from '../frame/controls.tsx';
import { Form } from '../frame/form.tsx';
import { WeightSign } from '../frame/signs.tsx';
import { unbroken } from '../frame/unbroken.ts';
import { sheetHandle } from '../sheet/handle.ts';
import { viewToText, type SheetViewed } from '../sheet/view.ts';
import { useCanChange, useCanDecide } from '../project-state/can.ts';
import { isSettled, openQueries, useParts, useProject } from '../project-state/store.ts';

const Item = chakra('li', {
  base: {
    display: 'flex',
    gap: '11px',
    px: '16px',
    py: '7px',
    cursor: 'pointer',
    '&[data-selected=true]': { bg: 'wash' },
  },
});
const FOLDED = 'dunrik.queries.folded';
const WEIGHTS = { stop: 0, look: 1, note: 2 };

/** What the drawing showed before queries were gone to, and what it shows of the one that is looked at. */
let visit: { before: SheetViewed; key: string; shown: string | null } | null = null;

/** Selects a query and shows its place. */
export function goToQuery(query: Query): void {
  const { select, selection } = useProject.getState();
  const seen = sheetHandle.current?.viewed() ?? null;
  const before = selection?.kind === 'query' && visit?.key === selection.key ? visit.before : seen;
  select({ kind: 'query', key: query.key });
  showQuery(query);
  const shown = sheetHandle.current?.viewed();
  visit = before && shown ? { before, key: query.key, shown: viewToText(shown) } : null;
}

/** A query that is settled takes its place with it: the drawing goes back, unless a hand has moved it since. */
export function useBackFromQuery(): void {
  const { tables } = useParts('tables');
  useEffect(() => {
    if (!visit || !tables) return;
    const { key, before, shown } = visit;
    if (openQueries(tables.summary.queries).some((q) => q.key === key)) return;
    visit = null;
    const now = sheetHandle.current?.viewed();
    if (now && viewToText(now) === shown) sheetHandle.current?.look(before);
  }, [tables]);
}

function showQuery(query: Query): void {
  const { tables } = useProject.getState();
  const many = query.rows.length > 1 && query.kind !== 'reference-row';
  if (many && tables) {
    const rows = query.rows.slice(0, 200);
    const spread = Math.max(...rows.map((r) => tables.points.x[r])) - Math.min(...rows.map((r) => tables.points.x[r]));
    if (spread > 2 && spread < 300)
      return sheetHandle.current?.fitTo(
        padded(rows.map((r) => tables.points.x[r])),
        padded(rows.map((r) => tables.points.y[r])),
      );
  }
  if (query.place) sheetHandle.current?.show(query.place.x, query.place.y);
}

const padded = (v: number[]): number[] => {
  const [low, high] = [Math.min(...v), Math.max(...v)];
  const by = (high - low) * 0.3 + 3;
  return [low - by, high + by];
};

/** Open queries in the order in which the chain is walked, the weightiest first within a stage. */
export function orderedQueries(queries: readonly Query[]): Query[] {
  const stages: Stage[] = ['basis', 'book', 'lines', 'ground', 'quantities', 'handover'];
  return openQueries(queries).sort(
    (a, b) => stages.indexOf(a.stage) - stages.indexOf(b.stage) || WEIGHTS[a.weight] - WEIGHTS[b.weight],
  );
}

/** The queries of a stage, each a sentence with its evidence and, where there is one, a remedy. */
export function Queries({
  stage,
  accepting,
  setAccepting,
}: {
  stage: Stage;
  accepting: string | null;
  setAccepting: (key: string | null) => void;
}) {
  const { tables, selection } = useParts('tables', 'selection');
  const settled = useProject(isSettled);
  const [showAccepted, setShowAccepted] = useState(false);
  const [folded, fold] = useState(() => localStorage.getItem(FOLDED) === 'yes');
  const setFolded = (to: boolean): void => {
    fold(to);
    localStorage.setItem(FOLDED, to ? 'yes' : 'no');
  };
  const navigate = useNavigate();
  const all = tables?.summary.queries ?? [];
  const open = orderedQueries(all).filter((q) => q.stage === stage);
  const accepted = all.filter((q) => q.stage === stage && q.accepted);
  const elsewhere = orderedQueries(all).find((q) => q.stage !== stage);
  const selected = selection?.kind === 'query' ? selection.key : null;
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    void list.current?.querySelector('[data-selected=true]')?.scrollIntoView({ block: 'nearest' });
  }, [selected, stage]);

  return (
    <Flex
      as="section"
      direction="column"
      minHeight="0"
      borderTop="1px solid"
      borderColor="rule"
      aria-label="queries of this stage"
    >
      <Flex align="center" gap="10px" px="16px" height="34px" flexShrink="0">
        <chakra.h3 m="0" fontSize="14px" fontWeight="700">
          <Act
            look="quiet"
            fontSize="14px"
            fontWeight="700"
            ml="-6px"
            aria-expanded={!folded}
            onClick={() => setFolded(!folded)}
          >
            {folded ? <ChevronRight size={14} aria-hidden /> : <ChevronDown size={14} aria-hidden />}
            Queries of this stage
          </Act>
        </chakra.h3>
        <Aside>
          {folded && open.length ? `${open.length} · ` : ''}next <Key>N</Key>
        </Aside>
        <Box flex="1" />
        {accepted.length ? (
          <Act look="quiet" onClick={() => setShowAccepted(!showAccepted)} aria-expanded={showAccepted}>
            {accepted.length} accepted
          </Act>
        ) : null}
      </Flex>
      <chakra.ul
        ref={list}
        m="0"
        p="0 0 8px"
        listStyleType="none"
        overflow="auto"
        flex="1"
        minHeight="0"
        hidden={folded}
      >
        {open.map((q) => (
          <QueryItem
            key={q.key}
            query={q}
            selected={q.key === selected}
            accepting={accepting === q.key}
            setAccepting={setAccepting}
          />
        ))}
        {open.length === 0 && tables ? (
          <Box as="li" px="16px" py="4px" color="slate">
            {settled ? 'Nothing here needs your eye.' : 'Still computing; queries will appear here.'}
            {elsewhere ? (
              <Act
                look="quiet"
                onClick={() => {
                  void navigate(`/p/${useProject.getState().id}/${elsewhere.stage}`);
                  goToQuery(elsewhere);
                }}
              >
                Next is in {elsewhere.stage[0].toUpperCase() + elsewhere.stage.slice(1)}
              </Act>
            ) : null}
          </Box>
        ) : null}
        {showAccepted ? accepted.map((q) => <AcceptedItem key={q.key} query={q} />) : null}
      </chakra.ul>
    </Flex>
  );
}

function QueryItem({
  query,
  selected,
  accepting,
  setAccepting,
}: {
  query: Query;
  selected: boolean;
  accepting: boolean;
  setAccepting: (key: string | null) => void;
}) {
  const [canChange, canDecide] = [useCanChange(), useCanDecide()];
  const { propose, pending, busy, accept, cancel } = useParts('propose', 'pending', 'busy', 'accept', 'cancel');
  const { register, handleSubmit, watch } = useForm({ defaultValues: { reason: '' } });
  const mine = pending?.query === query.key;
  const submit = handleSubmit(({ reason }) => {
    setAccepting(null);
    void useProject
      .getState()
      .make({ op: 'query.accept', key: query.key, accepted: { evidence: query.evidence, reason, by: '', at: '' } });
  });
  return (
    <Item data-selected={selected} onClick={() => goToQuery(query)}>
      <Box pt="1px">
        <WeightSign weight={query.weight} />
      </Box>
      <Box minWidth="0" flex="1">
        <chakra.button
          type="button"
          data-passes-enter
          textAlign="left"
          bg="transparent"
          border="0"
          p="0"
          cursor="pointer"
          fontSize="14px"
        >
          {unbroken(query.text)}
        </chakra.button>
        {selected && !accepting ? (
          <Flex gap="8px" mt="7px" wrap="wrap" onClick={(e) => e.stopPropagation()}>
            {mine ? (
              <>
                <Act look="solid" disabled={busy} onClick={() => void accept()}>
                  Apply <Key>Enter</Key>
                </Act>
                <Act onClick={cancel}>
                  Cancel <Key>Esc</Key>
                </Act>
              </>
            ) : (
              <>
                {(canChange ? query.remedies : []).map((r, i) => (
                  <Act
                    key={r.label}
                    look={i === 0 ? 'solid' : 'plain'}
                    onClick={() => void propose(r.label, r.change, query.key)}
                  >
                    {r.label} {i === 0 ? <Key>T</Key> : null}
                  </Act>
                ))}
                {canDecide ? <Act onClick={() => setAccepting(query.key)}>Accept as it is …</Act> : null}
              </>
            )}
          </Flex>
        ) : null}
        {accepting ? (
          <Form onSubmit={submit} display="flex" gap="8px" mt="7px" onClick={(e) => e.stopPropagation()}>
            <Field
              autoFocus
              flex="1"
              aria-label="reason"
              placeholder="why it is right as it is"
              maxLength={500}
              {...register('reason')}
              onKeyDown={(e) => e.key === 'Escape' && setAccepting(null)}
            />
            <Act type="submit" look="solid" disabled={!watch('reason').trim()}>
              Accept
            </Act>
            <Act type="button" onClick={() => setAccepting(null)}>
              Cancel
            </Act>
          </Form>
        ) : null}
      </Box>
    </Item>
  );
}

function AcceptedItem({ query }: { query: Query }) {
  return (
    <Item onClick={() => goToQuery(query)} color="slate">
      <Box pt="1px">
        <WeightSign weight="note" />
      </Box>
      <Box flex="1">
        {unbroken(query.text)}
        <Box fontSize="13px">
          accepted by {query.accepted?.by}: “{query.accepted?.reason}”{' '}
          {useCanDecide() ? (
            <Act look="quiet" onClick={() => void useProject.getState().make({ op: 'query.reopen', key: query.key })}>
              Reopen
            </Act>
          ) : null}
        </Box>
      </Box>
    </Item>
  );
}
