import { Box } from '@chakra-ui/react';
import { initials } from './account.tsx';

/** Somebody else who has the project open: the letters of the name in a ring. */
export const HereMark = ({ name }: { name: string }) => (
  <Box
    width="24px"
    height="24px"
    ml="-4px"
    borderRadius="50%"
    border="2px solid"
    borderColor="plum"
    bg="leaf"
    color="plum"
    fontSize="11px"
    fontWeight="600"
    lineHeight="20px"
    textAlign="center"
  >
    {initials(name)}
  </Box>
);
