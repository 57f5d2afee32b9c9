import { Box, Flex } from '@chakra-ui/react';
import { Link } from 'react-router';
import type { Account } from '#contract';
import { systemLine } from '#core/basis';
import { UNIT_SIGN } from '#core/measure';
import { AccountMark } from '../frame/account.tsx';
import { Act, Aside, Cut, Num } from '../frame/controls.tsx';
import { PoleSign } from '../frame/signs.tsx';
import { FindOrDo } from './find-or-do.tsx';
import type { Doing } from './finds.ts';
import { isSettled, useParts, useProject } from '../project-state/store.ts';
import { HereMark } from '../frame/here-mark.tsx';

/** Project, basis in one line, revision, find or do, account. */
export function Header({ account, doings, onChanges }: { account: Account; doings: Doing[]; onChanges: () => void }) {
  const { state } = useParts('state');
  const settled = useProject(isSettled);
  const s = state?.document.settings;
  const basis = state?.document.basis;
  const checked = state?.checked;
  const others = Object.values(useProject((p) => p.others));
  return (
    <Flex as="header" align="center" gap="16px" px="16px" height="40px" flexShrink="0" minWidth="0">
      <Link to="/" title="all projects" aria-label="Dunrik, all projects">
        <Flex align="center" gap="9px">
          <PoleSign />
          <Box fontWeight="700" fontSize="16px">
            Dunrik
          </Box>
        </Flex>
      </Link>
      <Cut as="h1" m="0" fontSize="14px" fontWeight="700" maxWidth="260px">
        {state?.project.name ?? '…'}
      </Cut>
      <Aside whiteSpace="nowrap" overflow="hidden" textOverflow="ellipsis" minWidth="0">
        {s && basis ? (
          <span title={`${systemLine(basis.system)}, project scale factor ${basis.factor}`}>
            {UNIT_SIGN[s.unit]} · {s.order === 'EN' ? 'east, north' : 'north, east'} · {systemLine(basis.system)} ·
            factor <Num>{basis.factor.toFixed(8).replace(/0{1,2}$/, '')}</Num>
          </span>
        ) : null}
      </Aside>
      <Box flex="1" />
      <Act look="quiet" onClick={onChanges} title="what was changed, by whom">
        revision <b>{state?.revision ?? '…'}</b> ·{' '}
        <span aria-live="polite">{settled ? 'settled' : state?.problem ? 'not computed' : 'working …'}</span>
      </Act>
      {checked ? (
        <Aside whiteSpace="nowrap" title={`marked by ${checked.by}`}>
          {checked.since === 0 && checked.revision === state?.revision ? (
            <Box as="span" color="pine">
              ✓ checked
            </Box>
          ) : (
            `checked to ${checked.revision}`
          )}
        </Aside>
      ) : null}
      {others.length ? (
        <Link
          to={`/p/${state?.project.id ?? ''}/basis/people`}
          title={others.map((o) => `${o.name}, at ${o.stage}`).join('\n')}
          aria-label={`also here: ${others.map((o) => o.name).join(', ')}`}
        >
          <Flex>
            {others.slice(0, 3).map((o) => (
              <HereMark key={o.account} name={o.name} />
            ))}
            {others.length > 3 ? <Aside>+{others.length - 3}</Aside> : null}
          </Flex>
        </Link>
      ) : null}
      <FindOrDo doings={doings} />
      <AccountMark account={account} />
    </Flex>
  );
}
