import { api, problemText } from '../frame/api.ts';
import { Act } from '../frame/controls.tsx';
import { Progress } from '../frame/progress.tsx';
import { BothStates } from '../project-state/both-states.tsx';
import { useProject } from '../project-state/store.ts';
import { Box, chakra, Flex } from '@chakra-ui/react';

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
  const { problem, conflict, pending, notice, jobs, settling, clearProblem, tell, id, state } = useProject();
  const uncomputed = state?.problem ?? null;
  const archived = state?.project.archived ?? false;
  if (!problem && !notice && !uncomputed && !archived && !settling && jobs.length === 0) return null;
  const canEdit = state?.project.role === 'owner' || state?.project.role === 'surveyor';
  return (
    <Box px="16px" pb="8px" display="flex" flexDirection="column" gap="6px">
      {archived ? (
        <Box role="status" border="1px solid" borderColor="brass" borderRadius="4px" px="12px" py="5px">
          This project is archived: it can be looked at and sent, not changed. Its owner restores it in the list of
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
          <Act onClick={() => void api.stopJob(id, j.id)}>Stop</Act>
        </Flex>
      ))}
      {notice ? (
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
        >
          <Box flex="1">{notice}</Box>
          <Act look="quiet" aria-label="close" onClick={() => tell(null)}>
            ×
          </Act>
        </Flex>
      ) : null}
    </Box>
  );
}
