import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { Act } from '../../frame/controls.tsx';
import { Leaves, useLeaf, type LeafName } from '../../frame/leaves.tsx';
import { Changing } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';
import { Empty, Ledger } from '../../frame/ledger.tsx';
import { Files } from './files.tsx';
import { Network } from './network.tsx';
import { PointSets } from './point-sets.tsx';
import { PointsOut } from './points-out.tsx';
import { PointTable } from './point-table.tsx';
import { Records } from './records.tsx';
import { InstrumentsLeaf } from './instruments.tsx';
import { Report } from './report.tsx';

type BookLeaf = 'records' | 'points' | 'sets' | 'out' | 'network' | 'instruments' | 'report';
export const BOOK_LEAVES: LeafName<BookLeaf>[] = [
  { leaf: 'records', name: 'Records' },
  { leaf: 'points', name: 'Points' },
  { leaf: 'sets', name: 'Sets' },
  { leaf: 'out', name: 'Export points' },
  { leaf: 'network', name: 'Stations' },
  { leaf: 'instruments', name: 'Instruments' },
  { leaf: 'report', name: 'Report' },
];
/** Leaves that speak of field books. */
const OF_BOOKS: BookLeaf[] = ['records', 'network', 'instruments', 'report'];

/** The received files and every point of theirs: read, stepped, edited. */
export function Book({ onTakeIn }: { onTakeIn: () => void }) {
  const { state, tables, imported } = useParts('state', 'tables', 'imported');
  const [fold, setFolded] = useState<boolean | null>(null);
  // Files stand open until books need the room.
  const folded = fold ?? ((tables?.books.size ?? 0) > 0 && imported === null);
  const hasBooks = (tables?.books.size ?? 0) > 0;
  const leaves = hasBooks ? BOOK_LEAVES : BOOK_LEAVES.filter((l) => !OF_BOOKS.includes(l.leaf));
  const shown = useLeaf('book', leaves);
  if (!state || !tables)
    return (
      <Ledger name="Book" about="opening …">
        {null}
      </Ledger>
    );
  const { intakes } = state.document;
  const tools = (
    <>
      {intakes.length ? (
        <Act look="quiet" aria-expanded={!folded} onClick={() => setFolded(!folded)}>
          {folded ? 'Show files' : 'Fold files'}
        </Act>
      ) : null}
      <Changing>
        <Act look="solid" onClick={onTakeIn}>
          Import files …
        </Act>
      </Changing>
    </>
  );
  if (intakes.length === 0)
    return (
      <Ledger name="Book" about="nothing received yet" tools={tools}>
        <Empty>
          The points of the crews’ files. Drop a text file of coded points anywhere on this page, or choose one with
          “Import files”. Nothing is imported before you have seen its columns and its points. A whole folder or a zip
          comes in one drop.
        </Empty>
      </Ledger>
    );
  return (
    <Ledger
      name="Book"
      about={`${tables.summary.points} points of ${intakes.filter((i) => i.purpose === 'survey').length} survey files`}
      tools={tools}
      scroll={false}
    >
      <Flex direction="column" height="100%" minHeight="0" gap="8px">
        {folded ? null : <Files tables={tables} />}
        <Leaves stage="book" leaves={leaves} here={shown} />
        {shown === 'points' ? (
          <PointTable />
        ) : shown === 'sets' ? (
          <PointSets />
        ) : shown === 'out' ? (
          <PointsOut />
        ) : shown === 'records' ? (
          <Records />
        ) : shown === 'network' ? (
          <Network />
        ) : shown === 'instruments' ? (
          <InstrumentsLeaf />
        ) : (
          <Report />
        )}
      </Flex>
    </Ledger>
  );
}
