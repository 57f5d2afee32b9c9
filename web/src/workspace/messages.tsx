import { api, problemText } from '../frame/api.ts';
import { Act } from '../frame/controls.tsx';
import { Progress } from '../frame/progress.tsx';
import { BothStates } from '../project-state/both-states.tsx';
import { useParts } from '../project-state/store.ts';
import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';

/** What went wrong, with what can be done about it beside. */
const Warning = chakra('div', {
  base: {
    display: 'flex',
    alignItems: 'center',
    gap: '10px',
    border: '1px solid',
    borderColor: 'pole',
    borderRadius: '4px',
    bg: 'mark',
    px: '12px',
    py: '5px',
  },
});

/** What went wrong, what is being worked on, what was just done. */
export function Messages() {
  const { problem, conflict, pending, notice, jobs, settling, clearProblem, tell, id, state } = useParts(
    'problem',
    'conflict',
    'pending',
    'notice',
    'jobs',
    'settling',
    'clearProblem',
    'tell',
    'id',
    'state',
  );
  const uncomputed = state?.problem ?? null;
  const archived = state?.project.archived ?? false;
  if (!problem && !notice && !uncomputed && !archived && !settling && jobs.length === 0) return null;
  const canEdit = state?.project.role === 'owner' || state?.project.role === 'surveyor';
  return (
    <Box px="16px" pb="8px" display="flex" flexDirection="column" gap="6px">
      {archived ? (
        <Box role="status" border="1px solid" borderColor="brass" borderRadius="4px" px="12px" py="5px">
          This project is archived: it can be viewed and exported, not changed. Its owner restores it in the list of
          projects.
        </Box>
      ) : null}
      {uncomputed ? (
        <Warning role="alert">
          <Box flex="1">
            Revision {uncomputed.revision} is not computed; what is shown is from before it. {uncomputed.text}
          </Box>
          {canEdit ? (
            <Act onClick={() => void api.settleAgain(id).catch((e: unknown) => tell(problemText(e)))}>
              Compute again
            </Act>
          ) : null}
        </Warning>
      ) : null}
      {problem ? (
        <Warning role="alert">
          <Box flex="1">
            {problem}
            {conflict ? <BothStates conflict={conflict} /> : null}
          </Box>
          {conflict && !pending ? (
            <Act
              onClick={() => {
                clearProblem();
                void conflict.again.run();
              }}
            >
              {conflict.again.label}
            </Act>
          ) : null}
          <Act onClick={clearProblem}>Close</Act>
        </Warning>
      ) : null}
      {settling ? (
        <Flex align="center" gap="10px" role="status">
          <Progress share={settling.share} />
          <Box flex="1">
            Revision {settling.revision}: {settling.doing} …
          </Box>
          {canEdit ? (
            <Act onClick={() => void api.cancelSettling(id).catch((e: unknown) => tell(problemText(e)))}>Cancel</Act>
          ) : null}
        </Flex>
      ) : null}
      {jobs.map((j) => (
        <Flex key={j.id} align="center" gap="10px" role="status">
          <Progress share={j.share} />
          <Box flex="1">{j.what} …</Box>
          {canEdit ? <Act onClick={() => void api.stopJob(id, j.id)}>Cancel</Act> : null}
        </Flex>
      ))}
      {notice ? <Notice key={notice} text={notice} close={() => tell(null)} /> : null}
    </Box>
  );
}

/** How long what was just done stays said, ms; longer for those who read more. */
const SAID = 6000;
const A_LETTER = 45;

/** What was just done: it goes by itself, and stays as long as somebody is at it. */
function Notice({ text, close }: { text: string; close: () => void }) {
  const [held, setHeld] = useState(false);
  const closing = useRef(close);
  closing.current = close;
  useEffect(() => {
    if (held) return;
    const timer = setTimeout(() => closing.current(), SAID + text.length * A_LETTER);
    return () => clearTimeout(timer);
  }, [held, text]);
  return (
    <Flex
      role="status"
      align="center"
      gap="10px"
      border="1px solid"
      borderColor="rule"
      borderRadius="4px"
      bg="leaf"
      px="12px"
      py="3px"
      onPointerEnter={() => setHeld(true)}
      onPointerLeave={() => setHeld(false)}
      onFocus={() => setHeld(true)}
      onBlur={() => setHeld(false)}
    >
      <Box flex="1">{text}</Box>
      <Act look="quiet" aria-label="close" onClick={close}>
        ×
      </Act>
    </Flex>
  );
}
