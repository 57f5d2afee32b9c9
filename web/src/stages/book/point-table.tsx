import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { STATE } from '#core/chain';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Aside, Field } from '../../frame/controls.tsx';
import { Grid, nextSort, type Column, type Sort } from '../../frame/grid.tsx';
import { editOf, type Editable } from '../../project/edit.ts';
import { useProject } from '../../project/store.ts';
import { sheetHandle } from '../../sheet/sheet.tsx';
import { filterRows, sortRows } from './rows.ts';

/** Every point of every file: read, stepped, edited. */
export function PointTable() {
  const { state, tables, selection, select, propose } = useProject();
  const [find, setFind] = useState('');
  const [sort, setSort] = useState<Sort>(null);
  const [order, setOrder] = useState<Uint32Array | null>(null);
  const doc = state!.document;
  const { points } = tables!;
  const { unit, decimals, elevationDecimals } = doc.settings;

  useEffect(() => {
    let wanted = true;
    void (async () => {
      const found = find.trim() ? await filterRows(points, find.trim(), () => wanted) : null;
      const sorted = sort ? await sortRows(points, found, sort, () => wanted) : found;
      if (wanted) setOrder(sorted);
    })();
    return () => {
      wanted = false;
    };
  }, [find, sort, points]);

  const edit =
    (field: Editable) =>
    (row: number, typed: string): string | null => {
      if (field !== 'number' && field !== 'description' && doc.intakes[points.intake[row]].form === 'book')
        return 'This is computed from readings. Change the reading, not the result.';
      const made = editOf(doc, tables!, row, field, typed);
      if (made && 'problem' in made) return made.problem;
      if (made) void propose(made.label, made.change);
      return null;
    };
  const place =
    (values: Float64Array, shown = decimals) =>
    (row: number): string =>
      formatLength(values[row], unit, shown);
  const sign = UNIT_SIGN[unit];
  const coordinates: Column[] = [
    {
      id: 'x',
      head: `East ${sign}`,
      width: 'minmax(104px, 1fr)',
      numeric: true,
      text: place(points.x),
      edit: edit('x'),
      sortable: true,
    },
    {
      id: 'y',
      head: `North ${sign}`,
      width: 'minmax(104px, 1fr)',
      numeric: true,
      text: place(points.y),
      edit: edit('y'),
      sortable: true,
    },
  ];
  if (doc.settings.order === 'NE') coordinates.reverse();
  const columns: Column[] = [
    {
      id: 'number',
      head: 'Point',
      width: '64px',
      frozen: 0,
      numeric: true,
      text: (r) => points.number.get(r),
      edit: edit('number'),
      sortable: true,
    },
    {
      id: 'description',
      head: 'Code',
      width: 'minmax(104px, 1.6fr)',
      text: (r) => points.description.get(r),
      edit: edit('description'),
      cell: (r) =>
        points.edited[r] ? (
          <span className="changed">{points.description.get(r) || '–'}</span>
        ) : (
          points.description.get(r)
        ),
    },
    ...coordinates,
    {
      id: 'z',
      head: `Elev ${sign}`,
      width: 'minmax(84px, .8fr)',
      numeric: true,
      text: place(points.z, elevationDecimals),
      edit: edit('z'),
      sortable: true,
    },
    { id: 'row', head: 'Row', width: '50px', numeric: true, text: (r) => String(points.fileRow[r]) },
    {
      id: 'file',
      head: 'File',
      width: '120px',
      words: true,
      text: (r) => doc.intakes[points.intake[r]].fileName,
    },
  ];
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
        <Aside>{order && find ? `${order.length} of ${points.x.length}` : `${points.x.length} rows`}</Aside>
        <Box flex="1" />
        <Aside>underlined in brass: changed by hand</Aside>
      </Flex>
      <Box flex="1" minHeight="0">
        <Grid
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
          onSort={(id) => setSort(nextSort(sort, id))}
          quiet={(row) => points.state[row] !== STATE.used}
        />
      </Box>
    </Flex>
  );
}
