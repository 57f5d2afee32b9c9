import { Box } from '@chakra-ui/react';

/** How far something is, 0 … 1. */
export const Progress = ({ share }: { share: number }) => (
  <Box
    role="progressbar"
    aria-valuenow={Math.round(share * 100)}
    aria-valuemin={0}
    aria-valuemax={100}
    width="120px"
    height="8px"
    border="1px solid"
    borderColor="ink"
    borderRadius="2px"
    overflow="hidden"
  >
    <Box height="100%" bg="pine" style={{ width: `${Math.round(share * 100)}%` }} />
  </Box>
);
