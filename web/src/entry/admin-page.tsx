import { Box, chakra, Flex } from '@chakra-ui/react';
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type { Account, AccountCard } from '#contract';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Cut, Field, Leaf, Line, Num } from '../frame/controls.tsx';
import { Cell, Head, Page, when } from '../frame/page.tsx';

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
        <chakra.table width="100%" borderCollapse="collapse" aria-label="accounts">
          <thead>
            <tr>
              {['Name', 'E-mail', 'Projects', 'Sessions', ''].map((h) => (
                <Head key={h} textAlign={h === 'Projects' || h === 'Sessions' ? 'right' : 'left'}>
                  {h}
                </Head>
              ))}
            </tr>
          </thead>
          <tbody>
            {(accounts.data ?? []).map(
              (a) =>
              <AccountRow key={a.id} card={a} own={a.id === me} open={open === a.id} onOpen={() => setOpen(open === a.id ? null : a.id)} />, // prettier-ignore
            )}
          </tbody>
        </chakra.table>
      </Box>
      {accounts.data?.length === 0 ? <Line color="slate">No account matches.</Line> : null}
      {accounts.data?.length === 200 ? (
        <Line color="slate">The first 200; type more of the name to see others.</Line>
      ) : null}
    </Leaf>
  );
}

function AccountRow({
  card: a,
  own,
  open,
  onOpen,
}: {
  card: AccountCard;
  own: boolean;
  open: boolean;
  onOpen: () => void;
}) {
  // prettier-ignore
  const standing = [a.isDemo ? 'demo' : '', a.isAdmin ? 'administrator' : '', a.locked ? 'locked' : ''].filter(Boolean);
  return (
    <>
      <tr>
        <Cell>
          <Flex gap="8px" align="baseline" maxWidth="300px">
            <Cut>{a.name}</Cut>
            {standing.length ? (
              <Aside flexShrink="0" color={a.locked ? 'pole' : 'slate'}>
                {standing.join(', ')}
              </Aside>
            ) : null}
          </Flex>
        </Cell>
        <Cell maxWidth="280px">
          <Cut display="block">{a.email}</Cut>
        </Cell>
        <Cell textAlign="right">
          <Num>{a.projects}</Num>
        </Cell>
        <Cell textAlign="right">
          <Num>{a.sessions}</Num>
        </Cell>
        <Cell textAlign="right">
          {own ? (
            <Aside>you</Aside>
          ) : a.isDemo ? (
            <Aside>closed by DUNRIK_DEMO=no</Aside>
          ) : (
            <Act aria-expanded={open} aria-label={`manage ${a.name}`} onClick={onOpen}>
              {open ? 'Close' : 'Manage'}
            </Act>
          )}
        </Cell>
      </tr>
      {open ? (
        <tr>
          <Cell colSpan={5} height="auto" whiteSpace="normal" bg="wash">
            <Managed card={a} />
          </Cell>
        </tr>
      ) : null}
    </>
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
            Give this link to {card.name}. It serves once, for 24 hours; one made before is worth nothing now.
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
        <chakra.table width="100%" borderCollapse="collapse" aria-label="log of the doors">
          <thead>
            <tr>
              {['When', 'Who', 'What', 'From', ''].map((h) => (
                <Head key={h}>{h}</Head>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((e) => (
              <tr key={e.id}>
                <Cell height="30px">{when(e.at)}</Cell>
                <Cell height="30px" maxWidth="160px">
                  <Cut display="block">{e.name || '–'}</Cut>
                </Cell>
                <Cell height="30px">{e.what}</Cell>
                <Cell height="30px">
                  <Num>{e.address}</Num>
                </Cell>
                <Cell height="30px" whiteSpace="normal" overflowWrap="anywhere">
                  <Aside>{[e.project, e.detail].filter(Boolean).join(': ')}</Aside>
                </Cell>
              </tr>
            ))}
          </tbody>
        </chakra.table>
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
