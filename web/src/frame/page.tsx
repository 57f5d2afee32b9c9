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

/** Cells of the tables that are a page of their own: taller, with room at the sides. */
export const PAGE_CELL = { px: '12px', height: '40px', whiteSpace: 'nowrap' } as const;

export const when = (iso: string): string =>
  iso ? new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' }) : '–';
