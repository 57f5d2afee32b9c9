import { Box, Flex } from '@chakra-ui/react';
import { type ProjectDocument } from '#core/project';
import type { Ink } from '#core/codes';
import { Cut } from '../frame/controls.tsx';
import { useParts } from '../project-state/store.ts';

/** Inks told apart best first; the ninth file begins anew. */
const ORDER: readonly Ink[] = ['pole', 'lake', 'pine', 'plum', 'brass', 'ink', 'moss', 'slate'];

/** The ink of each file of survey points; null of control, which has its own look. */
export function fileInks(doc: Pick<ProjectDocument, 'intakes'>): (Ink | null)[] {
  let next = 0;
  return doc.intakes.map((i) => (i.purpose === 'control' ? null : ORDER[next++ % ORDER.length]));
}

/** Which ink belongs to which file. */
export function FileKey() {
  const { state } = useParts('state');
  if (!state) return null;
  const { intakes } = state.document;
  const inks = fileInks(state.document);
  return (
    <Box
      as="ul"
      aria-label="inks of files"
      position="absolute"
      left="14px"
      top="52px"
      m="0"
      p="6px 10px"
      maxWidth="220px"
      maxHeight="40%"
      overflow="auto"
      listStyleType="none"
      bg="leaf"
      border="1px solid"
      borderColor="rule"
      borderRadius="4px"
      fontSize="13px"
    >
      {intakes.map((intake, i) => {
        const ink = inks[i];
        return ink && intake.on ? (
          <Flex as="li" key={intake.id} align="center" gap="7px" height="22px" minWidth="0">
            <Box width="10px" height="10px" borderRadius="2px" flexShrink="0" bg={ink} />
            <Cut>{intake.fileName}</Cut>
          </Flex>
        ) : null;
      })}
    </Box>
  );
}
