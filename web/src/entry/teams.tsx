import { Box, Flex } from '@chakra-ui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { zodResolver } from '@hookform/resolvers/zod';
import { useState, type FormEvent } from 'react';
import { useForm } from 'react-hook-form';
import { teamSchema, type Account, type TeamCard } from '#contract';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Cut, Field, Leaf, Line } from '../frame/controls.tsx';
import { Form } from '../frame/form.tsx';
import { InvitationLink, Invitations } from '../frame/invitation.tsx';
import { Choice } from '../frame/sentence.tsx';
import { Page } from '../frame/page.tsx';
import { Following } from './following.tsx';
import { StartLine, StartSettings } from './start-settings.tsx';

/** Teams: who is in them, and what their new projects begin with. */
export function Teams({ account }: { account: Account }) {
  const queries = useQueryClient();
  const teams = useQuery({ queryKey: ['teams'], queryFn: api.teams });
  const { register, handleSubmit, reset, watch } = useForm({ resolver: zodResolver(teamSchema), defaultValues: { name: '' } }); // prettier-ignore
  const [problem, setProblem] = useState('');
  const act = async (work: () => Promise<unknown>): Promise<void> => {
    setProblem('');
    try {
      await work();
      await queries.invalidateQueries({ queryKey: ['teams'] });
    } catch (error) {
      setProblem(problemText(error));
    }
  };
  const submit = handleSubmit(({ name }) => act(() => api.createTeam(name)).then(() => reset()));
  return (
    <Page
      account={account}
      title="Teams"
      about="people, and what new projects begin with"
      width="760px"
      tools={
        <Form onSubmit={submit} display="flex" gap="8px">
          <Field
            aria-label="name of a new team"
            placeholder="name of a new team"
            maxLength={120}
            {...register('name')}
          />
          <Act type="submit" disabled={!watch('name').trim()}>
            Create
          </Act>
        </Form>
      }
    >
      {problem ? (
        <Box role="alert" color="pole" mb="10px">
          {problem}
        </Box>
      ) : null}
      {teams.data?.length === 0 ? (
        <Box color="slate" py="30px">
          You are in no team. Make one: its settings are what your projects begin with, and its people can be brought
          into them without a link.
        </Box>
      ) : null}
      {(teams.data ?? []).map((t) => (
        <Team key={t.id} team={t} own={account.id} act={act} />
      ))}
    </Page>
  );
}

function Team({
  team,
  own,
  act,
}: {
  team: TeamCard;
  own: string;
  act: (work: () => Promise<unknown>) => Promise<void>;
}) {
  const [naming, setNaming] = useState<string | null>(null);
  const [days, setDays] = useState(7);
  const [token, setToken] = useState<string | null>(null);
  const [open, setOpen] = useState(false);
  const projects = useQuery({ queryKey: ['projects'], queryFn: api.projects });
  const layouts = useQuery({ queryKey: ['layouts'], queryFn: api.layouts });
  const isOwner = team.role === 'owner';
  const shared = (layouts.data ?? []).filter((l) => l.team === team.name);
  const rename = (event: FormEvent): void => {
    event.preventDefault();
    if (naming?.trim() && naming !== team.name) void act(() => api.patchTeam(team.id, { name: naming }));
    setNaming(null);
  };
  const takeCodes = async (project: string): Promise<void> => {
    if (!project) return;
    const { document } = await api.state(project);
    await api.patchTeam(team.id, { start: { ...team.start, codeList: document.codeList } });
  };
  return (
    <Leaf mb="16px" pb="8px">
      <Flex align="center" gap="10px" px="12px" pt="10px">
        {naming === null ? (
          <Cut fontWeight="700" fontSize="16px">
            {team.name}
          </Cut>
        ) : (
          <form onSubmit={rename}>
            <Field
              autoFocus
              aria-label="new name of the team"
              value={naming}
              maxLength={120}
              onBlur={rename}
              onChange={(e) => setNaming(e.target.value)}
              onKeyDown={(e) => e.key === 'Escape' && setNaming(null)}
            />
          </form>
        )}
        {isOwner && naming === null ? (
          <Act look="quiet" onClick={() => setNaming(team.name)}>
            rename
          </Act>
        ) : null}
        <Box flex="1" />
        <Aside>you are {isOwner ? 'its owner' : 'a member'}</Aside>
      </Flex>
      {team.members.map((m) => (
        <Line key={m.id}>
          <Cut>{`${m.name}${m.id === own ? ' (you)' : ''}, ${m.role}`}</Cut>
          {(isOwner && m.id !== own) || (!isOwner && m.id === own) ? (
            <Act look="quiet" onClick={() => void act(() => api.leaveTeam(team.id, m.id))}>
              {m.id === own ? 'leave' : 'remove'}
            </Act>
          ) : null}
        </Line>
      ))}
      {isOwner ? (
        <>
          <Flex gap="8px" px="12px" py="4px" align="center" wrap="wrap">
            Invite by a link valid for
            <Choice
              name={`days the link of ${team.name} holds`}
              value={days}
              options={[1, 3, 7, 14, 30].map((d) => [d, d === 1 ? '1 day' : `${d} days`] as const)}
              onChange={setDays}
            />
            <Act onClick={() => void act(async () => setToken((await api.inviteToTeam(team.id, days)).token))}>
              Create a link
            </Act>
          </Flex>
          {token ? <InvitationLink token={token} onClose={() => setToken(null)} /> : null}
          <Invitations list={team.invitations} />
        </>
      ) : null}
      <Flex align="center" gap="10px" px="12px" pt="8px">
        <Box flex="1">
          <Box fontWeight="600">New projects begin with</Box>
          <StartLine start={team.start} />
        </Box>
        <Act onClick={() => setOpen(!open)} aria-expanded={open}>
          {open ? 'Fold' : 'View and edit'}
        </Act>
      </Flex>
      {shared.length ? (
        <Line>
          <Aside>saved layouts of the team: {shared.map((l) => l.name).join(', ')}</Aside>
        </Line>
      ) : null}
      {open ? (
        <Box px="12px" pt="8px">
          <StartSettings start={team.start} onChange={(start) => void act(() => api.patchTeam(team.id, { start }))} />
          <Flex gap="8px" align="center" wrap="wrap">
            The code list is taken over from
            <Choice
              name="project whose code list is taken over"
              value=""
              options={[
                ['', 'a project …'] as const,
                ...(projects.data ?? []).filter((p) => p.role !== 'crew').map((p) => [p.id, p.name] as const),
              ]}
              onChange={(p) => void act(() => takeCodes(p))}
            />
          </Flex>
          <Following key={JSON.stringify(team.start)} team={team.id} name={team.name} />
        </Box>
      ) : null}
    </Leaf>
  );
}
