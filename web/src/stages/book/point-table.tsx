import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useMemo, useState } from 'react';
import type { Change } from '#core/project';
import { STATE } from '#core/stages';
import { Aside, Field, Pick } from '../../frame/controls.tsx';
import { Grid, orderRows, type Sort } from '../../frame/grid/index.ts';
import { useCanChange } from '../../project-state/can.ts';
import { editOf, keyOf, type Editable } from '../../project-state/edit.ts';
import { useParts } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { EditPoints } from './edit-points.tsx';
import { pointColumns } from './point-columns.tsx';
import { filterRows } from './rows.ts';
import { rowsOfSet } from '../../project-state/set-columns.ts';

/** Marked rows in the order in which they are shown: what numbers in a row follow. */
const markedInOrder = (marked: ReadonlySet<number>, order: Uint32Array | null): number[] =>
  order ? [...order].filter((r) => marked.has(r)) : [...marked].sort((a, b) => a - b);

/** Every point of every file: read, stepped, edited. */
export function PointTable() {
  const { state, tables, selection, select, propose, make } = useParts(
    'state',
    'tables',
    'selection',
    'select',
    'propose',
    'make',
  );
  const [find, setFind] = useState('');
  const [sort, setSort] = useState<Sort>(null);
  const [order, setOrder] = useState<Uint32Array | null>(null);
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set());
  const [inSet, setInSet] = useState('');
  const [light, setLight] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const canEdit = useCanChange();
  const doc = state!.document;
  const { points } = tables!;
  const hasLight = useMemo(() => points.light.includes(1), [points]);
  const set = doc.pointSets.find((s) => s.id === inSet);
  // Rows of another revision are other points.
  useEffect(() => setMarked(new Set()), [points]);
  const columns = useMemo(() => pointColumns(doc, tables!, propose), [doc, tables, propose]);
  useEffect(() => {
    let wanted = true;
    void (async () => {
      const typed = find.trim() ? await filterRows(points, find.trim(), () => wanted) : null;
      const members = set ? await rowsOfSet(set, doc, tables!, state!.project.id) : null;
      const plain = hasLight && !light;
      const found =
        members || plain
          ? (typed ?? Uint32Array.from(points.x, (_, i) => i)).filter((r) => (!members || members[r] === 1) && (!plain || points.light[r] === 0)) // prettier-ignore
          : typed;
      const among = found && new Uint8Array(points.x.length);
      found?.forEach((r) => (among![r] = 1));
      const sorted = sort ? await orderRows(columns, points.x.length, {}, sort, () => wanted, among && ((r) => among[r] === 1)) : found; // prettier-ignore
      if (wanted) setOrder(sorted);
    })();
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `points` come with document and tables; columns are made of them
  }, [find, sort, points, set, light, hasLight]);
  const paste = (rows: number[], ids: string[], cells: string[][]): void => {
    const edits: Extract<Change, { op: 'points.edit' }>['edits'] = {};
    for (const [i, row] of rows.entries()) {
      for (const [k, typed] of cells[i].entries()) {
        const field = ids[k] as Editable;
        if (!columns.find((c) => c.id === field)?.edit) continue;
        if (field !== 'number' && field !== 'description' && doc.intakes[points.intake[row]].form === 'book') continue;
        const made = editOf(doc, tables!, row, field, typed);
        if (made && 'problem' in made) return setProblem(`Row ${i + 1} of what was pasted: ${made.problem}`);
        if (made?.change.op !== 'points.edit') continue;
        for (const [key, { set: part }] of Object.entries(made.change.edits))
          edits[key] = { set: { ...edits[key]?.set, ...part }, undo: [] };
      }
    }
    const count = Object.keys(edits).length;
    if (count === 0) return setProblem('What was pasted changes nothing here.');
    setProblem(null);
    void propose(`${count} points as pasted`, { op: 'points.edit', edits });
  };
  const intoSet = (id: string, out: boolean): void => {
    const to = doc.pointSets.find((s) => s.id === id);
    if (!to) return;
    const keys = new Set([...marked].map((r) => keyOf(doc, tables!, r)));
    const more = out ? to.more.filter((k) => !keys.has(k)) : [...new Set([...to.more, ...keys])];
    const without = out ? [...new Set([...to.without, ...keys])] : to.without.filter((k) => !keys.has(k));
    void make({ op: 'points.set', id, set: { ...to, more, without } });
  };
  const selected = selection?.kind === 'point' ? selection.row : null;
  return (
    <Flex direction="column" flex="1" minHeight="0" bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px">
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
          placeholder="only numbers or codes with …"
          aria-label="filter the points"
          value={find}
          onChange={(e) => setFind(e.target.value)}
          width="220px"
        />
        {doc.pointSets.length ? (
          <Pick aria-label="only points of a set" value={inSet} onChange={(e) => setInSet(e.target.value)}>
            <option value="">every point</option>
            {doc.pointSets.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </Pick>
        ) : null}
        {hasLight ? (
          <chakra.label display="inline-flex" gap="5px" alignItems="center" fontSize="13px">
            <input type="checkbox" checked={light} onChange={(e) => setLight(e.target.checked)} /> ground-only ones
          </chakra.label>
        ) : null}
        <Aside>
          {order && (find || set || hasLight) ? `${order.length} of ${points.x.length}` : `${points.x.length} rows`}
        </Aside>
        <Box flex="1" />
        {problem ? (
          <Box role="alert" color="pole">
            {problem}
          </Box>
        ) : (
          <Aside>underlined in brass: changed by hand</Aside>
        )}
      </Flex>
      <Box flex="1" minHeight="0">
        <Grid
          table="points"
          label="points"
          columns={columns}
          order={order}
          count={order ? order.length : points.x.length}
          selected={selected}
          onSelect={(row) => {
            select({ kind: 'point', row });
            sheetHandle.current?.show(points.x[row], points.y[row]);
          }}
          sort={sort}
          onSort={setSort}
          quiet={(row) => points.state[row] !== STATE.used}
          marked={marked}
          onMark={canEdit ? setMarked : undefined}
          onPaste={canEdit ? paste : undefined}
        />
      </Box>
      {canEdit && marked.size ? (
        <>
          {doc.pointSets.length ? (
            <Flex gap="8px" px="10px" py="4px" borderTop="1px solid" borderColor="rule" align="center" wrap="wrap">
              <Pick
                aria-label="put the marked points into a set"
                value=""
                onChange={(e) => intoSet(e.target.value, false)}
              >
                <option value="">put into a set …</option>
                {doc.pointSets.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
              </Pick>
              <Pick
                aria-label="remove the marked points from a set"
                value=""
                onChange={(e) => intoSet(e.target.value, true)}
              >
                <option value="">remove from a set …</option>
                {doc.pointSets.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
              </Pick>
            </Flex>
          ) : null}
          <EditPoints
            count={marked.size}
            rowsInOrder={() => markedInOrder(marked, order)}
            onDone={() => setMarked(new Set())}
          />
        </>
      ) : null}
    </Flex>
  );
}
