import { Box, Flex } from '@chakra-ui/react';
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type { Account, AccountCard } from '#contract';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Cut, Field, Leaf, Line, Num } from '../frame/controls.tsx';
import { Page, PAGE_CELL, when } from '../frame/page.tsx';
import { SmallTable } from '../frame/small-table.tsx';

/** For whoever runs the server: accounts, their sessions, and what happened at its doors. */
export function AdminPage({ account }: { account: Account }) {
  return (
    <Page account={account} title="Administration" about="accounts of this server; no project is opened from here">
      <Accounts me={account.id} />
      <AuditLog />
    </Page>
  );
}

function Accounts({ me }: { me: string }) {
  const [find, setFind] = useState('');
  const wanted = useDeferredValue(find);
  const [open, setOpen] = useState<string | null>(null);
  const accounts = useQuery({
    queryKey: ['admin', 'accounts', wanted],
    queryFn: () => api.adminAccounts(wanted),
    placeholderData: (old) => old,
  });
  return (
    <Leaf
      head={
        <FindHead title="Accounts" label="find an account" placeholder="name or e-mail" find={find} onFind={setFind} />
      }
      mb="16px"
    >
      {accounts.isError ? <Problem error={accounts.error} /> : null}
      <Box overflowX="auto">
        <SmallTable
          label="accounts"
          rows={accounts.data ?? []}
          rowKey={(a) => a.id}
          cellStyle={PAGE_CELL}
          below={(a) => (open === a.id ? <Managed card={a} /> : null)}
          columns={[
            { id: 'name', head: 'Name', by: (a) => a.name, cell: (a) => <AccountName card={a} /> },
            {
              id: 'email',
              head: 'E-mail',
              words: true,
              by: (a) => a.email,
              style: { maxWidth: '280px' },
              cell: (a) => <Cut display="block">{a.email}</Cut>,
            },
            { id: 'projects', head: 'Projects', by: (a) => a.projects, cell: (a) => <Num>{a.projects}</Num> },
            { id: 'sessions', head: 'Sessions', by: (a) => a.sessions, cell: (a) => <Num>{a.sessions}</Num> },
            {
              id: 'manage',
              head: '',
              cell: (a) =>
                a.id === me ? (
                  <Aside>you</Aside>
                ) : a.isDemo ? (
                  <Aside>closed by DUNRIK_DEMO=no</Aside>
                ) : (
                  <Act
                    aria-expanded={open === a.id}
                    aria-label={`manage ${a.name}`}
                    onClick={() => setOpen(open === a.id ? null : a.id)}
                  >
                    {open === a.id ? 'Close' : 'Manage'}
                  </Act>
                ),
            },
          ]}
        />
      </Box>
      {accounts.data?.length === 0 ? <Line color="slate">No account matches.</Line> : null}
      {accounts.data?.length === 200 ? (
        <Line color="slate">The first 200; type more of the name to see others.</Line>
      ) : null}
    </Leaf>
  );
}

function AccountName({ card: a }: { card: AccountCard }) {
  // prettier-ignore
  const standing = [a.isDemo ? 'demo' : '', a.isAdmin ? 'administrator' : '', a.locked ? 'locked' : ''].filter(Boolean);
  return (
    <Flex gap="8px" align="baseline" maxWidth="300px">
      <Cut>{a.name}</Cut>
      {standing.length ? (
        <Aside flexShrink="0" color={a.locked ? 'pole' : 'slate'}>
          {standing.join(', ')}
        </Aside>
      ) : null}
    </Flex>
  );
}

function Managed({ card }: { card: AccountCard }) {
  const queries = useQueryClient();
  const sessions = useQuery({ queryKey: ['admin', 'sessions', card.id], queryFn: () => api.adminSessions(card.id) });
  const [link, setLink] = useState('');
  const act = useMutation({
    mutationFn: (work: () => Promise<unknown>) => work(),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['admin'] }),
  });
  return (
    <Flex direction="column" gap="10px" py="10px">
      <Flex gap="8px" wrap="wrap">
        <Act onClick={() => act.mutate(() => api.adminPatch(card.id, { locked: !card.locked }))}>
          {card.locked ? 'Unlock the account' : 'Lock the account'}
        </Act>
        <Act
          onClick={() =>
            act.mutate(async () => {
              const { token } = await api.adminReset(card.id);
              setLink(`${window.location.origin}/reset/${token}`);
            })
          }
        >
          Create a link for a new password
        </Act>
        <Act onClick={() => act.mutate(() => api.adminPatch(card.id, { admin: !card.isAdmin }))}>
          {card.isAdmin ? 'Remove as administrator' : 'Make administrator'}
        </Act>
      </Flex>
      {act.isError ? <Problem error={act.error} /> : null}
      {link ? (
        <Box>
          <Aside display="block">
            Give this link to {card.name}. It works once, within 24 hours; links made before it no longer work.
          </Aside>
          <Field
            aria-label="link for a new password"
            readOnly
            width="100%"
            fontFamily="mono"
            value={link}
            onFocus={(e) => e.target.select()}
          />{' '}
          {/* prettier-ignore */}
        </Box>
      ) : null}
      <Box>
        {(sessions.data ?? []).map((s) => (
          <Line key={s.id} minHeight="34px" px="0">
            <Box minWidth="0" flex="1">
              {s.browser || 'an unknown browser'}{' '}
              <Aside>
                since {when(s.since)}, last seen {when(s.seen)}
              </Aside>
            </Box>
            <Act onClick={() => act.mutate(() => api.adminEndSession(card.id, s.id))}>End</Act>
          </Line>
        ))}
        {sessions.data?.length === 0 ? <Aside>Not signed in anywhere.</Aside> : null}
      </Box>
    </Flex>
  );
}

function AuditLog() {
  const [find, setFind] = useState('');
  const wanted = useDeferredValue(find);
  const log = useInfiniteQuery({
    queryKey: ['admin', 'audit', wanted],
    queryFn: ({ pageParam }) => api.adminAudit(wanted, pageParam),
    initialPageParam: null as number | null,
    getNextPageParam: (last) => (last.length === 200 ? last.at(-1)!.id : undefined),
    placeholderData: (old) => old,
  });
  const rows = log.data?.pages.flat() ?? [];
  return (
    <Leaf
      head={
        <FindHead
          title="Sign-ins, refusals, roles"
          label="find in the log"
          placeholder="who, what, address"
          find={find}
          onFind={setFind}
        />
      }
    >
      {log.isError ? <Problem error={log.error} /> : null}
      <Box overflowX="auto">
        <SmallTable
          label="sign-ins, refusals and roles"
          rows={rows}
          rowKey={(e) => String(e.id)}
          cellStyle={{ ...PAGE_CELL, height: '30px' }}
          columns={[
            { id: 'when', head: 'When', by: (e) => e.at, cell: (e) => when(e.at) },
            {
              id: 'who',
              head: 'Who',
              words: true,
              by: (e) => e.name ?? '',
              style: { maxWidth: '160px' },
              cell: (e) => <Cut display="block">{e.name || '–'}</Cut>,
            },
            { id: 'what', head: 'What', words: true, by: (e) => e.what, cell: (e) => e.what },
            { id: 'from', head: 'From', words: true, by: (e) => e.address, cell: (e) => <Num>{e.address}</Num> },
            {
              id: 'detail',
              head: '',
              words: true,
              style: { whiteSpace: 'normal', overflowWrap: 'anywhere' },
              cell: (e) => <Aside>{[e.project, e.detail].filter(Boolean).join(': ')}</Aside>,
            },
          ]}
        />
      </Box>
      {rows.length === 0 && log.isSuccess ? <Line color="slate">No entry matches.</Line> : null}
      {log.hasNextPage ? (
        <Box p="8px">
          <Act disabled={log.isFetching} onClick={() => void log.fetchNextPage()}>
            Older ones
          </Act>
        </Box>
      ) : null}
    </Leaf>
  );
}

const Problem = ({ error }: { error: unknown }) => (
  <Box role="alert" color="pole" px="12px">
    {problemText(error)}
  </Box>
);

/** The heading of a list, with the field that finds in it. */
const FindHead = ({
  title,
  label,
  placeholder,
  find,
  onFind,
}: {
  title: string;
  label: string;
  placeholder: string;
  find: string;
  onFind: (find: string) => void;
}) => (
  <Flex align="center" gap="12px">
    <Box>{title}</Box>
    <Field
      aria-label={label}
      placeholder={placeholder}
      width="220px"
      value={find}
      onChange={(e) => onFind(e.target.value)}
    />
  </Flex>
);
