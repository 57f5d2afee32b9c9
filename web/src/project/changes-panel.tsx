import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, problemText } from '../api.ts';
import { Act, Aside, Key, Num } from '../frame/controls.tsx';
import { chainWork } from '../work/workers.ts';
import { isSettled, useProject } from './store.ts';

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
  const { id, state, takeBack } = useProject();
  const settled = useProject(isSettled);
  const changes = useQuery({
    queryKey: ['changes', id, state?.revision],
    queryFn: () => api.changes(id),
    placeholderData: (old) => old,
  });
  return (
    <Flex
      as="aside"
      aria-label="changes"
      direction="column"
      position="absolute"
      right="0"
      top="0"
      bottom="0"
      width="400px"
      maxWidth="100%"
      bg="leaf"
      borderLeft="1px solid"
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
            Take back <Key>Ctrl Z</Key>
          </Act>
          <Act disabled={!state?.redo} onClick={() => void takeBack('redo')} title={state?.redo ?? ''}>
            Bring again <Key>Ctrl Y</Key>
          </Act>
        </Flex>
        {state?.undo ? <Aside>would be taken back: {state.undo}</Aside> : null}
        <SameHere settled={settled} />
      </Flex>
      <chakra.ol m="0" p="0" listStyleType="none" overflow="auto" flex="1">
        {changes.data?.map((c) => (
          <Row key={c.revision} color={c.kind === 'undo' ? 'slate' : undefined}>
            <Num textAlign="right">{c.revision}</Num>
            <Box minWidth="0">
              <Box overflowWrap="anywhere">{c.what}</Box>
              <Aside>
                {c.by}, {new Date(c.at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
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

/** Runs the chain on this page and compares its bytes with those that the server keeps. */
function SameHere({ settled }: { settled: boolean }) {
  const { state, tables, id } = useProject();
  const [answer, setAnswer] = useState<string | null>(null);
  const check = async (): Promise<void> => {
    if (!state || !tables) return;
    setAnswer('computing here …');
    try {
      const { stages } = tables;
      const mine = await chainWork().hashes(state.document, { project: id, hashes: stages.reads });
      const theirs: Record<string, string> = {
        points: stages.points,
        reduction: stages.reduction,
        lines: stages.lines,
        contours: stages.contours,
        summary: stages.summary,
      };
      for (const [name, hash] of Object.entries(stages.surfaces)) theirs[`surface ${name}`] = hash;
      const different = Object.keys(theirs).filter((k) => theirs[k] !== mine[k]);
      setAnswer(
        different.length
          ? `Different: ${different.join(', ')}.`
          : `The same to the last bit: ${Object.keys(theirs).join(', ')}.`,
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
