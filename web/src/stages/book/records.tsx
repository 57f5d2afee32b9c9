import { editAt } from '#core/project';
import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useMemo, useState } from 'react';
import { rowsByRecord } from '#core/stages';
import { Act, Aside, Field, Pick } from '../../frame/controls.tsx';
import { Grid, orderRows, type Sort } from '../../frame/grid/index.ts';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { recordValues } from '../../work/book-columns.ts';
import { EditMarked } from './edit-marked.tsx';
import { useRecordColumns } from './record-columns.tsx';
import {
  FOLD_BY,
  foldKeys,
  keyOfItem,
  recordItems,
  SHOWN,
  type FoldBy,
  type Item,
  type Shown,
} from './record-items.ts';

const NONE: ReadonlySet<number> = new Set();

/** The day as it went: setups with what was sighted from them, decisions and checks where they arose. */
export function Records() {
  const { state, tables, selection, select } = useParts('state', 'tables', 'selection', 'select');
  const canChange = useCanChange();
  const [shown, setShown] = useState<Shown>('all');
  const [fold, setFold] = useState<FoldBy>('setup');
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const [find, setFind] = useState('');
  const [sort, setSort] = useState<Sort>(null);
  const [filters, setFilters] = useState<Record<string, string> | null>(null);
  const [order, setOrder] = useState<Uint32Array | null>(null);
  const [marked, setMarked] = useState<ReadonlySet<number>>(NONE);
  const doc = state!.document;
  const { reduction, points } = tables!;
  const items = useMemo(
    () => recordItems(doc, tables!, { fold, shown, find, closed }),
    [doc, tables, fold, shown, find, closed],
  );
  // Marks and orders are of these items; other items have none.
  useEffect(() => setMarked(NONE), [items.length, fold, shown, find, order]);
  const toggle = (key: string): void => {
    const next = new Set(closed);
    if (!next.delete(key)) next.add(key);
    setClosed(next);
  };
  const columns = useRecordColumns(items, closed, toggle, fold === 'setup' && !order);
  useEffect(() => {
    let wanted = true;
    void orderRows(
      columns,
      items.length,
      filters ?? {},
      sort,
      () => wanted,
      (i) => !items[i].head,
    ).then((rows) => {
      if (wanted) setOrder(rows);
    });
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- columns are made of items and settings
  }, [items, filters, sort, doc.settings]);

  const selected = useMemo(() => {
    const is = (it: Item, intake: string, row: number): boolean =>
      !it.head && it.intake === intake && it.book.row[it.at] === row;
    if (selection?.kind === 'record') return items.findIndex((it) => is(it, selection.intake, selection.row));
    if (selection?.kind !== 'point' || selection.row >= points.x.length) return -1;
    const intake = doc.intakes[points.intake[selection.row]].id;
    return items.findIndex((it) => is(it, intake, points.fileRow[selection.row]));
  }, [selection, items, points, doc.intakes]);
  const go = (i: number): void => {
    const item = items[i];
    if (item.head) return;
    const row = rowsByRecord(doc, points).get(item.intake, item.book.row[item.at]);
    if (row !== undefined) {
      select({ kind: 'point', row });
      sheetHandle.current?.show(points.x[row], points.y[row]);
      return;
    }
    select({ kind: 'record', intake: item.intake, row: item.book.row[item.at] });
    const of = item.book.setup[item.at];
    const setup = of < 0 ? undefined : reduction.setupAt.get(`${item.intake}:${item.book.row[of]}`);
    if (setup?.station) sheetHandle.current?.show(setup.station.x, setup.station.y);
  };
  const count = order ? order.length : items.length;
  const plain = useMemo(() => items.reduce((n, it) => (it.head ? n : n + 1), 0), [items]);
  const records = order ? order.length : plain;
  return (
    <Flex direction="column" flex="1" minHeight="0" bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px">
      <Flex align="center" gap="8px" px="10px" py="6px" borderBottom="1px solid" borderColor="rule" wrap="wrap">
        <Field
          aria-label="find records"
          placeholder="number or code"
          width="112px"
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
        <Pick
          aria-label="what is shown"
          width="128px"
          value={shown}
          onChange={(e) => setShown(e.target.value as Shown)}
        >
          {(Object.keys(SHOWN) as Shown[]).map((k) => (
            <option key={k} value={k}>
              {SHOWN[k]}
            </option>
          ))}
        </Pick>
        <Pick
          aria-label="folded by"
          width="92px"
          value={fold}
          onChange={(e) => {
            setFold(e.target.value as FoldBy);
            setClosed(new Set());
          }}
        >
          {(Object.keys(FOLD_BY) as FoldBy[]).map((k) => (
            <option key={k} value={k}>
              {FOLD_BY[k]}
            </option>
          ))}
        </Pick>
        {fold === 'none' ? null : (
          <Act look="quiet" onClick={() => setClosed(closed.size ? new Set() : new Set(foldKeys(doc, tables!, fold)))}>
            {closed.size ? 'unfold all' : 'fold all'}
          </Act>
        )}
        <Act
          look={filters ? 'solid' : 'quiet'}
          aria-pressed={filters !== null}
          onClick={() => setFilters(filters ? null : {})}
        >
          filter
        </Act>
        <Aside flex="1" textAlign="right" whiteSpace="nowrap">
          {records} {records === 1 ? 'record' : 'records'}
        </Aside>
        {find || sort || order ? (
          <Act
            look="quiet"
            onClick={() => {
              setFind('');
              setSort(null);
              if (filters) setFilters({});
            }}
          >
            as observed
          </Act>
        ) : null}
      </Flex>
      <Box flex="1" minHeight="0">
        <Grid
          table="records"
          label="records of the books"
          columns={columns}
          order={order}
          count={count}
          selected={selected >= 0 ? selected : null}
          onSelect={go}
          sort={sort}
          onSort={setSort}
          filters={filters ?? undefined}
          onFilter={(id, typed) => setFilters({ ...filters, [id]: typed })}
          marked={marked}
          onMark={canChange ? setMarked : undefined}
          heads={(i) => items[i].head !== null}
          quiet={(i) =>
            !items[i].head && recordValues(items[i].book, items[i].at, editAt(doc, keyOfItem(items[i]))).off
          }
        />
      </Box>
      {marked.size > 0 ? (
        <EditMarked
          items={[...marked].flatMap((i) => (items[i] && !items[i].head ? [items[i]] : []))}
          onDone={() => setMarked(NONE)}
        />
      ) : null}
    </Flex>
  );
}
