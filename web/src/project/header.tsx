import { Box, Flex } from '@chakra-ui/react';
import { Link } from 'react-router';
import type { Account } from '#contract';
import { UNIT_SIGN } from '#core/measure';
import { AccountMark } from '../frame/account.tsx';
import { Act, Aside, Cut, Num } from '../frame/controls.tsx';
import { PoleMark } from '../frame/marks.tsx';
import { FindOrDo, type Doing } from './find-or-do.tsx';
import { isSettled, useProject } from './store.ts';

/** Project, basis in one line, revision, find or do, account. */
export function Header({ account, doings, onChanges }: { account: Account; doings: Doing[]; onChanges: () => void }) {
  const { state } = useProject();
  const settled = useProject(isSettled);
  const s = state?.document.settings;
  return (
    <Flex as="header" align="center" gap="16px" px="16px" height="40px" flexShrink="0" minWidth="0">
      <Link to="/" title="all projects" aria-label="Dunrik, all projects">
        <Flex align="center" gap="9px">
          <PoleMark />
          <Box fontWeight="700" fontSize="16px">
            Dunrik
          </Box>
        </Flex>
      </Link>
      <Cut fontWeight="700" maxWidth="260px">
        {state?.project.name ?? '…'}
      </Cut>
      <Aside whiteSpace="nowrap" overflow="hidden" textOverflow="ellipsis" minWidth="0">
        {s ? `${UNIT_SIGN[s.unit]} · ${s.order === 'EN' ? 'east, north' : 'north, east'} · local ground · factor ` : ''}
        {s ? <Num>1.000 000</Num> : null}
      </Aside>
      <Box flex="1" />
      <Act look="quiet" onClick={onChanges} title="what was changed, by whom">
        revision <b>{state?.revision ?? '…'}</b> · <span aria-live="polite">{settled ? 'settled' : 'working …'}</span>
      </Act>
      <FindOrDo doings={doings} />
      <AccountMark account={account} />
    </Flex>
  );
}
