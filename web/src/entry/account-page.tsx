import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import type { Account } from '#contract';
import { api, problemText } from '../api.ts';
import { Act, Aside, Cut, Field, Leaf, Line } from '../frame/controls.tsx';
import { Page, when } from './page.tsx';

/** One's own account: the password, and where it is signed in. */
export function AccountPage({ account }: { account: Account }) {
  return (
    <Page account={account} title={account.name} about={account.isDemo ? 'demo account' : account.email} width="640px">
      <Sessions />
      {account.isDemo ? <Aside>The demo account has no password; it is entered by its button.</Aside> : <Password />}
    </Page>
  );
}

function Sessions() {
  const queries = useQueryClient();
  const sessions = useQuery({ queryKey: ['sessions'], queryFn: api.sessions });
  const [problem, setProblem] = useState('');
  const end = async (id: string): Promise<void> => {
    try {
      await api.endSession(id);
      await queries.invalidateQueries({ queryKey: ['sessions'] });
    } catch (error) {
      setProblem(problemText(error));
    }
  };
  return (
    <Leaf head="Signed in" mb="14px" pb="6px">
      {(sessions.data ?? []).map((s) => (
        <Line key={s.id} minHeight="40px">
          <Box minWidth="0">
            <Cut display="block">{browserName(s.browser)}</Cut>
            <Aside>
              since {when(s.since)}, last seen {when(s.seen)}
            </Aside>
          </Box>
          {s.own ? <Aside>this one</Aside> : <Act onClick={() => void end(s.id)}>End it</Act>}
        </Line>
      ))}
      {problem ? (
        <Box role="alert" color="pole" px="12px">
          {problem}
        </Box>
      ) : null}
    </Leaf>
  );
}

/** Enough of a user agent to know one's own machine by. */
function browserName(agent: string): string {
  const name = /(Edg|OPR|Firefox|Chrome|Safari)\/[\d.]+/.exec(agent)?.[1] ?? '';
  const system = /\(([^;)]+)/.exec(agent)?.[1] ?? '';
  const plain: Record<string, string> = { Edg: 'Edge', OPR: 'Opera' };
  return [plain[name] ?? name, system].filter(Boolean).join(' on ') || 'an unnamed browser';
}

function Password() {
  const [old, setOld] = useState('');
  const [fresh, setFresh] = useState('');
  const [again, setAgain] = useState('');
  const [said, setSaid] = useState<{ text: string; bad: boolean } | null>(null);
  const submit = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    if (fresh !== again) return setSaid({ text: 'The new password was typed in two ways.', bad: true });
    try {
      await api.changePassword(old, fresh);
      setOld('');
      setFresh('');
      setAgain('');
      setSaid({ text: 'The password is changed; every other session has ended.', bad: false });
    } catch (error) {
      setSaid({ text: problemText(error), bad: true });
    }
  };
  const field = (name: string, value: string, set: (v: string) => void, hint: string) => (
    <Flex as="label" align="center" gap="8px">
      <Box width="190px" color="slate">
        {name}
      </Box>
      <Field
        type="password"
        value={value}
        onChange={(e) => set(e.target.value)}
        autoComplete={hint}
        required
        width="220px"
      />
    </Flex>
  );
  return (
    <Leaf head="Password" pb="10px">
      <chakra.form onSubmit={(e) => void submit(e)} px="12px" display="flex" flexDirection="column" gap="6px" pt="4px">
        {field('the one now', old, setOld, 'current-password')}
        {field('new, 12 characters or more', fresh, setFresh, 'new-password')}
        {field('new, again', again, setAgain, 'new-password')}
        {said ? (
          <Box role={said.bad ? 'alert' : 'status'} color={said.bad ? 'pole' : 'pine'}>
            {said.text}
          </Box>
        ) : null}
        <Flex>
          <Act type="submit">Change it</Act>
        </Flex>
      </chakra.form>
    </Leaf>
  );
}
