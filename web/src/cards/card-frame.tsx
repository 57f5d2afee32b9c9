import { Box, chakra, Flex } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { Act, Aside, Cut } from '../frame/controls.tsx';

/** Where on the drawing a card stands. */
export type Side = { left?: string; right?: string; top?: string };

export const Panel = chakra('aside', {
  base: {
    position: 'absolute',
    top: '12px',
    width: '272px',
    maxHeight: 'calc(100% - 24px)',
    overflow: 'auto',
    bg: 'leaf',
    border: '1px solid',
    borderColor: 'ink',
    borderRadius: '4px',
    zIndex: 5,
  },
});

export const Section = chakra('div', { base: { px: '13px', py: '9px', borderTop: '1px solid', borderColor: 'rule' } });

export const Row = ({ name, children }: { name: ReactNode; children: ReactNode }) => (
  <Flex justify="space-between" align="center" gap="10px" minHeight="24px">
    <Aside flexShrink="0">{name}</Aside>
    {children}
  </Flex>
);

/** `whole`: a title that says what will happen is never cut. */
export function CardHead(p: { title: string; side?: string; whole?: boolean; onClose: () => void }) {
  const { title, side, whole, onClose } = p;
  return (
    <Flex align="center" gap="8px" px="13px" minHeight="40px">
      {whole ? (
        <Box fontWeight="700" fontSize="15px" lineHeight="1.25" flex="1" py="8px" overflowWrap="anywhere">
          {title}
        </Box>
      ) : (
        <Cut fontWeight="700" fontSize="15px" flex="1">
          {title}
        </Cut>
      )}
      {side ? (
        <Cut color="slate" maxWidth="110px">
          {side}
        </Cut>
      ) : null}
      <Act look="quiet" aria-label="close the card" onClick={onClose}>
        ×
      </Act>
    </Flex>
  );
}
