import { Box, chakra, Flex } from '@chakra-ui/react';
import { Act, Cut } from '../frame/controls.tsx';

/** What is being imported, and the way out of it. */
export const IntakeHead = ({ name, onCancel }: { name: string; onCancel: () => void }) => (
  <Flex align="center" gap="10px" px="16px" minHeight="44px" flexShrink="0">
    <chakra.h2 m="0" fontSize="18px" fontWeight="700" whiteSpace="nowrap">
      Import
    </chakra.h2>
    <Cut fontWeight="600">{name}</Cut>
    <Box flex="1" />
    <Act onClick={onCancel}>Cancel</Act>
  </Flex>
);
