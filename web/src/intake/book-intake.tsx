import { Box, Flex } from '@chakra-ui/react';
import { Act, Aside, Leaf, Line, Num } from '../frame/controls.tsx';
import { Progress } from '../frame/progress.tsx';
import { useProject } from '../project-state/store.ts';
import { GivenFields, type GivenFormOf } from './given.tsx';
import type { BookFacts } from '../work/intake.worker.ts';

/** A field book before it is taken in: what it holds, what cannot be read and why. */
export function BookIntake({
  book,
  file,
  given,
  onTake,
  sending,
  onStop,
}: {
  book: BookFacts;
  file: File;
  given: GivenFormOf;
  onTake: () => void;
  sending: { share: number; what: string } | null;
  onStop: () => void;
}) {
  const { unit } = useProject((p) => p.state!.document.settings);
  const records = Object.values(book.counts).reduce((s, n) => s + n, 0);
  return (
    <>
      <Leaf head={`A field book${book.name ? `: ${book.name}` : ''}`} mb="10px" pb="6px">
        {Object.entries(book.counts).map(([what, count]) => (
          <Line key={what} minHeight="24px">
            <span>{what}</span>
            <Num>{count}</Num>
          </Line>
        ))}
        <Line minHeight="24px">
          <Aside>
            lengths in {book.unit}, angles in {book.angle}; stations {book.stations.slice(0, 8).join(', ')}
            {book.stations.length > 8 ? ` and ${book.stations.length - 8} more` : ''}
            {book.instruments.length ? `; instrument ${book.instruments.join(', ')}` : '; no instrument named'}
          </Aside>
        </Line>
        {book.complete ? null : (
          <Line color="brass">It does not end as a book should: it may be cut off. That will be asked about.</Line>
        )}
      </Leaf>
      {book.problemCount ? (
        <Leaf head={`${book.problemCount} rows cannot be read`} mb="10px" pb="6px">
          {book.problems.map((p) => (
            <Box key={p.row} px="12px" fontSize="13px">
              row {p.row}: {p.reason}{' '}
              <Num color="slate" fontSize="12px">
                {p.text.slice(0, 90)}
              </Num>
            </Box>
          ))}
        </Leaf>
      ) : null}
      <Leaf p="10px 12px">
        <GivenFields form={given} isControl={false} unit={unit} />
        <Flex gap="8px" align="center" mt="6px">
          {sending ? (
            <>
              <Progress share={sending.share} />
              <Aside>{sending.what} …</Aside>
              <Act onClick={onStop}>Stop</Act>
            </>
          ) : (
            <Act look="solid" size="tall" disabled={records === 0} onClick={onTake}>
              Import {records} records of {file.name}
            </Act>
          )}
        </Flex>
      </Leaf>
    </>
  );
}
