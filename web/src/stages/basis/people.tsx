import { Box, chakra, Flex } from '@chakra-ui/react';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { ROLES, type People, type Role } from '#contract';
import { api, problemText } from '../../frame/api.ts';
import { when } from '../../frame/page.tsx';
import { Act, Aside, Cut, Field, Leaf, Line, Num } from '../../frame/controls.tsx';
import { Form } from '../../frame/form.tsx';
import { InvitationLink, Invitations } from '../../frame/invitation.tsx';
import { Choice } from '../../frame/sentence.tsx';
import { useIsOwner } from '../../project-state/can.ts';
import { STAGES } from '../../frame/stage-names.ts';
import { isSettled, useParts, useProject } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';

export const ROLE_MEANS: Record<Role, string> = {
  owner: 'edits everything, manages members',
  surveyor: 'edits everything that is computed',
  checker: 'views, decides on queries, marks revisions as checked',
  crew: 'sees only the packages made for the crew',
  viewer: 'looks',
};

/** Who works here, who is here now, and who has checked what. */
export function PeopleLeaf() {
  const { id, state } = useParts('id', 'state');
  const people = useQuery({ queryKey: ['people', id], queryFn: () => api.people(id) });
  // eslint-disable-next-line react-hooks/exhaustive-deps -- asked again whenever the project moved
  useEffect(() => void people.refetch(), [state]);
  return (
    <>
      <Checked />
      <Here />
      {people.data ? <Members people={people.data} /> : null}
    </>
  );
}

function Checked() {
  const { id, state } = useParts('id', 'state');
  const settled = useProject(isSettled);
  const queries = useQueryClient();
  const checked = useQuery({
    queryKey: ['checked', id, state!.revision, state!.checked],
    queryFn: () => api.checked(id),
  });
  const { register, handleSubmit, reset } = useForm({ defaultValues: { note: '' } });
  const mark = useMutation({
    mutationFn: (note: string) => api.markChecked(id, state!.revision, note),
    onSuccess: async () => {
      reset();
      await queries.invalidateQueries({ queryKey: ['checked', id] });
      await useProject.getState().refresh();
    },
  });
  const mayCheck = ['owner', 'surveyor', 'checker'].includes(state!.project.role);
  const { mark: newest, since } = checked.data ?? { mark: state!.checked, since: [] };
  const covered = newest?.revision === state!.revision;
  const submit = handleSubmit(({ note }) => mark.mutate(note));
  return (
    <Leaf head="Checked" mb="10px" pb="8px">
      <Box px="12px" py="4px">
        {newest ? (
          <>
            Revision <b>{newest.revision}</b> was marked as checked by <b>{newest.by}</b>, {when(newest.at)}
            {newest.note ? <> — “{newest.note}”</> : null}.{' '}
            {covered ? (
              'Nothing has changed since.'
            ) : (
              <chakra.span color="brass">
                {since.length === 1 ? 'One change since is' : `${since.length} changes since are`} not covered:
              </chakra.span>
            )}
          </>
        ) : state!.revision === 0 ? (
          'Nothing has been done yet that could be checked.'
        ) : (
          'No revision has been checked yet by anyone other than its author.'
        )}
      </Box>
      {covered
        ? null
        : since.slice(0, 8).map((c) => (
            <Line key={c.revision} minHeight="22px" justifyContent="flex-start">
              <Num color="slate" width="34px" textAlign="right">
                {c.revision}
              </Num>
              <Cut>{`${c.by} ${c.what}`}</Cut>
            </Line>
          ))}
      {since.length > 8 ? <Line color="slate">and {since.length - 8} more, under Changes</Line> : null}
      {mayCheck && !covered && state!.revision > 0 ? (
        <Form onSubmit={submit} display="flex" gap="8px" px="12px" pt="6px" flexWrap="wrap">
          <Field
            aria-label="what was checked"
            placeholder="what was looked at"
            width="210px"
            maxLength={500}
            {...register('note')}
          />
          <Act type="submit" disabled={!settled || mark.isPending}>
            Mark revision {state!.revision} as checked
          </Act>
        </Form>
      ) : null}
      {mark.isError ? (
        <Box role="alert" color="pole" px="12px" pt="6px">
          {problemText(mark.error)}
        </Box>
      ) : null}
    </Leaf>
  );
}

function Here() {
  const others = Object.values(useProject((p) => p.others));
  return (
    <Leaf head="Here now" mb="10px" pb="6px">
      {others.length === 0 ? <Line color="slate">Only you.</Line> : null}
      {others.map((o) => (
        <Line key={o.account}>
          <Cut>{`${o.name}, at ${STAGES.find((s) => s.stage === o.stage)?.name ?? o.stage}`}</Cut>
          {o.place ? (
            <Act look="quiet" onClick={() => sheetHandle.current?.show(o.place!.x, o.place!.y)}>
              go there
            </Act>
          ) : null}
        </Line>
      ))}
    </Leaf>
  );
}

function Members({ people }: { people: People }) {
  const { id, state } = useParts('id', 'state');
  const isOwner = useIsOwner();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [role, setRole] = useState<Role>('surveyor');
  const [days, setDays] = useState(7);
  const [problem, setProblem] = useState('');
  const [token, setToken] = useState<string | null>(null);
  const [mate, setMate] = useState('');
  const session = useQuery({ queryKey: ['session'], queryFn: api.session });
  const own = session.data?.account?.id;
  const act = async (work: () => Promise<unknown>): Promise<void> => {
    setProblem('');
    try {
      await work();
      await queries.invalidateQueries({ queryKey: ['people', id] });
    } catch (error) {
      setProblem(problemText(error));
    }
  };
  const roles = ROLES.map((r) => [r, r] as const);
  return (
    <Leaf head="People" pb="8px">
      {people.members.map((m) => (
        <Line key={m.id} minHeight="32px">
          <Box minWidth="0" flex="1">
            <Cut>{`${m.name}${m.id === own ? ' (you)' : ''}`}</Cut>
          </Box>
          <Aside title={ROLE_MEANS[m.role]}>{isOwner ? null : m.role}</Aside>
          {isOwner ? (
            <Choice
              name={`role of ${m.name}`}
              value={m.role}
              options={roles}
              onChange={(r) => void act(() => api.setRole(id, m.id, r))}
            />
          ) : null}
          {isOwner && m.id !== own ? (
            <Act
              look="quiet"
              onClick={() => void act(() => api.removePerson(id, m.id))}
              aria-label={`remove ${m.name}`}
            >
              remove
            </Act>
          ) : null}
          {m.id === own ? (
            <Act
              look="quiet"
              onClick={() =>
                void act(async () => {
                  await api.removePerson(id, m.id);
                  void navigate('/');
                })
              }
            >
              leave
            </Act>
          ) : null}
        </Line>
      ))}
      {isOwner ? (
        <>
          {people.mates.length ? (
            <Flex gap="8px" px="12px" py="4px" align="center" wrap="wrap">
              From the team
              <Choice
                name="a member of the team"
                value={mate || people.mates[0].id}
                options={people.mates.map((m) => [m.id, m.name] as const)}
                onChange={setMate}
              />
              as
              <Choice name="role of the colleague" value={role} options={roles} onChange={setRole} />
              <Act onClick={() => void act(() => api.addMate(id, mate || people.mates[0].id, role))}>Add</Act>
            </Flex>
          ) : null}
          <Flex gap="8px" px="12px" py="4px" align="center" wrap="wrap">
            Invite a
            <Choice name="role of the invited" value={role} options={roles} onChange={setRole} />
            by a link valid for
            <Choice
              name="days the link holds"
              value={days}
              options={[1, 3, 7, 14, 30].map((d) => [d, d === 1 ? '1 day' : `${d} days`] as const)}
              onChange={setDays}
            />
            <Act onClick={() => void act(async () => setToken((await api.invite(id, role, days)).token))}>
              Create a link
            </Act>
            <Aside width="100%">
              A {role} {ROLE_MEANS[role]}.
            </Aside>
          </Flex>
          {token ? <InvitationLink token={token} onClose={() => setToken(null)} /> : null}
          <Invitations
            list={people.invitations}
            onWithdraw={(invitation) => void act(() => api.withdraw(id, invitation))}
          />
        </>
      ) : (
        <Line color="slate">
          You are {state!.project.role} here: {ROLE_MEANS[state!.project.role]}.
        </Line>
      )}
      {problem ? (
        <Box role="alert" color="pole" px="12px">
          {problem}
        </Box>
      ) : null}
    </Leaf>
  );
}
