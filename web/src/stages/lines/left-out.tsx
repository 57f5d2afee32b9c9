import { Box, Flex } from '@chakra-ui/react';
import type { Code } from '#core/codes';
import { Act, Num } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';

/** Codes of the list that a file in its place does not have. */
export interface LeftOutCodes {
  file: string;
  codes: Code[];
}

/** So many codes are named; the rest are counted. */
const MOST_NAMED = 12;

/** Says which codes a list from a file leaves out, those that stand on shots first, and offers to keep them. */
export function LeftOut({
  leftOut,
  onKeep,
  onClose,
}: {
  leftOut: LeftOutCodes;
  onKeep: () => void;
  onClose: () => void;
}) {
  const { linework } = useParts('tables').tables!;
  const shots = shotsByCode(linework);
  const used = (c: Code): number => shots.get(c.code.toUpperCase())?.size ?? 0;
  const codes = [...leftOut.codes].sort((a, b) => used(b) - used(a));
  const onShots = codes.filter((c) => used(c) > 0);
  const count = onShots.reduce((sum, c) => sum + used(c), 0);
  return (
    <Flex
      role="status"
      gap="8px"
      align="center"
      wrap="wrap"
      border="1px solid"
      borderColor="brass"
      borderRadius="4px"
      bg="leaf"
      px="10px"
      py="5px"
    >
      <Box flex="1" minWidth="220px">
        {codes.length === 1 ? 'One code' : `${codes.length} codes`} of the list {codes.length === 1 ? 'is' : 'are'} not
        in {leftOut.file}:{' '}
        {codes.slice(0, MOST_NAMED).map((c, i) => (
          <Num key={c.code} fontWeight={used(c) ? '700' : undefined}>
            {i ? ', ' : ''}
            {c.code}
          </Num>
        ))}
        {codes.length > MOST_NAMED ? ` and ${codes.length - MOST_NAMED} more` : ''}.{' '}
        {onShots.length
          ? `${onShots.length === 1 ? 'One of them is' : `${onShots.length} of them are`} on ${count} ${count === 1 ? 'shot' : 'shots'}, which would be unknown.`
          : 'None of them is on a shot.'}
      </Box>
      <Act onClick={onKeep}>Keep {codes.length === 1 ? 'it' : 'them'} in the list</Act>
      <Act look="quiet" onClick={onClose}>
        Leave {codes.length === 1 ? 'it' : 'them'} out
      </Act>
    </Flex>
  );
}

/** Rows of the shots that carry each code: those of symbols, and those that lines go through. */
function shotsByCode(linework: Tables['linework']): Map<string, Set<number>> {
  const out = new Map<string, Set<number>>();
  const put = (code: string, row: number): void => {
    const rows = out.get(code);
    if (rows) rows.add(row);
    else out.set(code, new Set([row]));
  };
  linework.pointCode.forEach((code, i) => put(linework.codeNames[code], linework.pointRow[i]));
  for (const line of linework.lines) for (const row of line.rows) if (row >= 0) put(line.code, row);
  return out;
}
