import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { GROUND } from '#core/chain';
import { Act } from '../../frame/controls.tsx';
import { useProject } from '../../project/store.ts';
import { Empty, Ledger } from '../ledger.tsx';
import { Files } from './files.tsx';
import { Network } from './network.tsx';
import { PointTable } from './point-table.tsx';
import { Records } from './records.tsx';
import { RegisterLeaf } from './register.tsx';
import { Report } from './report.tsx';

/** The received files and every point of theirs: read, stepped, edited. */
export function Book({ onTakeIn }: { onTakeIn: () => void }) {
  const { state, tables } = useProject();
  const [fold, setFolded] = useState<boolean | null>(null);
  // Files stand open until books need the room.
  const folded = fold ?? (tables?.books.size ?? 0) > 0;
  const [list, setList] = useState<'records' | 'points' | 'network' | 'register' | 'report'>('records');
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
      <Act look="solid" onClick={onTakeIn}>
        Take in a file …
      </Act>
    </>
  );
  if (intakes.length === 0)
    return (
      <Ledger name="Book" about="nothing received yet" tools={tools}>
        <Empty>
          Here stand the points of the crews’ files. Drop a text file of coded points anywhere on this page, or choose
          one with “Take in a file”. It is looked at first: nothing comes in before you have seen its columns and its
          points.
        </Empty>
      </Ledger>
    );
  const hasBooks = tables.books.size > 0;
  return (
    <Ledger
      name="Book"
      about={`${tables.summary.points} points of ${intakes.filter((i) => i.target === GROUND).length} survey files`}
      tools={tools}
      scroll={false}
    >
      <Flex direction="column" height="100%" minHeight="0" gap="8px">
        {folded ? null : <Files tables={tables} />}
        {hasBooks ? (
          <Flex gap="6px" role="group" aria-label="what the ledger lists">
            {(
              [
                ['records', 'Records'],
                ['points', 'Points'],
                ['network', 'Stations'],
                ['register', 'Instruments'],
                ['report', 'Report'],
              ] as const
            ).map(([leaf, name]) => (
              <Act
                key={leaf}
                aria-pressed={list === leaf}
                look={list === leaf ? 'solid' : 'plain'}
                onClick={() => setList(leaf)}
              >
                {name}
              </Act>
            ))}
          </Flex>
        ) : null}
        {!hasBooks || list === 'points' ? (
          <PointTable />
        ) : list === 'records' ? (
          <Records />
        ) : list === 'network' ? (
          <Network />
        ) : list === 'register' ? (
          <RegisterLeaf />
        ) : (
          <Report />
        )}
      </Flex>
    </Ledger>
  );
}
