import { Box, chakra, Flex } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { Account } from '#contract';
import { AccountMark } from './account.tsx';
import { PoleSign } from './signs.tsx';

/** A page outside projects: the mark, a heading, what there is. */
export function Page({
  account,
  title,
  about,
  tools,
  width = '980px',
  children,
}: {
  account: Account | null;
  title: string;
  about?: ReactNode;
  tools?: ReactNode;
  width?: string;
  children: ReactNode;
}) {
  return (
    <Flex direction="column" height="100%">
      <Flex
        align="center"
        gap="10px"
        px="16px"
        height="40px"
        borderBottom="1px solid"
        borderColor="rule"
        flexShrink="0"
      >
        <Link to="/" aria-label="Dunrik, all projects" title="all projects">
          <Flex align="center" gap="10px">
            <PoleSign />
            <Box fontWeight="700" fontSize="16px">
              Dunrik
            </Box>
          </Flex>
        </Link>
        <Box flex="1" />
        {account ? <AccountMark account={account} /> : null}
      </Flex>
      <Box as="main" flex="1" overflow="auto" px="24px" py="24px">
        <Box maxWidth={width} mx="auto">
          <Flex align="baseline" gap="14px" wrap="wrap" mb="16px">
            <chakra.h1 fontSize="22px" fontWeight="700" m="0">
              {title}
            </chakra.h1>
            {about ? <Box color="slate">{about}</Box> : null}
            <Box flex="1" />
            {tools}
          </Flex>
          {children}
        </Box>
      </Box>
    </Flex>
  );
}

/** A table in pages outside projects. */
export const Cell = chakra('td', {
  base: { px: '12px', height: '40px', borderBottom: '1px solid', borderColor: 'rule', whiteSpace: 'nowrap' },
});
export const Head = chakra('th', {
  base: {
    px: '12px',
    height: '30px',
    textAlign: 'left',
    fontSize: '12px',
    fontWeight: 600,
    color: 'slate',
    borderBottom: '1px solid',
    borderColor: 'ink',
    whiteSpace: 'nowrap',
  },
});

export const when = (iso: string): string =>
  iso ? new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' }) : '–';
