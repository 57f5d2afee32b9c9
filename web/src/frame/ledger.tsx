import { Box, Flex } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { StageHead, Aside } from './controls.tsx';

/** The frame of a stage's ledger: its name, what it is about in a line, what can be done with the whole, then the table. */
export function Ledger({
  name,
  about,
  tools,
  children,
  scroll = true,
}: {
  name: string;
  about: ReactNode;
  tools?: ReactNode;
  children: ReactNode;
  scroll?: boolean;
}) {
  return (
    <Flex as="section" direction="column" height="100%" minHeight="0" aria-label={`ledger: ${name}`}>
      <Flex align="center" gap="12px" px="16px" py="8px" minHeight="44px" flexShrink="0" wrap="wrap">
        <StageHead>{name}</StageHead>
        <Aside flex="1" minWidth={about ? '120px' : 0}>
          {about}
        </Aside>
        {tools}
      </Flex>
      <Box flex="1" minHeight="0" overflow={scroll ? 'auto' : 'hidden'} px="16px" pb="12px">
        {children}
      </Box>
    </Flex>
  );
}

/** An empty place: what belongs there, and the first step. */
export const Empty = ({ children }: { children: ReactNode }) => (
  <Box py="28px" px="12px" color="slate" maxWidth="460px">
    {children}
  </Box>
);
