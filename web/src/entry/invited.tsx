import { Box } from '@chakra-ui/react';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate, useParams } from 'react-router';
import type { Account, ProjectCard, Role } from '#contract';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Leaf } from '../frame/controls.tsx';
import { ROLE_MEANS } from '../stages/basis/people.tsx';
import { Page, when } from '../frame/page.tsx';
import { SignIn } from './sign-in.tsx';

/** Where an invitation's link leads: what it is for, and the step in. */
export function Invited({ account, demo = false }: { account: Account | null; demo?: boolean }) {
  const { token = '' } = useParams();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const offer = useQuery({ queryKey: ['offer', token], queryFn: () => api.offer(token) });
  const take = useMutation({
    mutationFn: () => api.takeInvitation(token),
    onSuccess: async ({ project, already }) => {
      await queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'offer' });
      if (!already) go(project);
    },
  });
  const go = (project: string | null): void => {
    const role =
      queries.getQueryData<ProjectCard[]>(['projects'])?.find((p) => p.id === project)?.role ?? offer.data?.role;
    void navigate(project ? (role === 'crew' ? `/crew/${project}` : `/p/${project}/book`) : '/teams');
  };
  const what = offer.data ? (
    <Leaf p="16px" mb="14px">
      <Box fontSize="16px">
        <b>{offer.data.by}</b> invites you into the {offer.data.what} <b>{offer.data.name}</b>
        {offer.data.what === 'project' ? ` as ${offer.data.role}` : ''}.
      </Box>
      <Aside>
        {offer.data.what === 'project' ? `A ${offer.data.role} ${ROLE_MEANS[offer.data.role as Role]}. ` : ''}
        The link is valid until {when(offer.data.expiresAt)}.
      </Aside>
    </Leaf>
  ) : offer.isError ? (
    <Box role="alert" color="pole" mb="14px">
      {problemText(offer.error)}
    </Box>
  ) : (
    <Aside>reading the invitation …</Aside>
  );
  if (!account)
    return (
      <SignIn demo={demo} invitation={token} quiet>
        {what}
      </SignIn>
    );
  return (
    <Page account={account} title="Invitation" width="560px">
      {what}
      {take.data?.already ? (
        <>
          <Box role="status" mb="14px">
            You are in {offer.data?.what === 'team' ? 'this team' : 'this project'} already, and keep the role you have.
            The link is not used up: give it to whom it is meant for.
          </Box>
          <Act look="solid" size="tall" onClick={() => go(take.data.project)}>
            Open the {offer.data?.what ?? 'project'}
          </Act>
        </>
      ) : offer.data ? (
        <Act look="solid" size="tall" disabled={take.isPending} onClick={() => take.mutate()}>
          Join as {account.name}
        </Act>
      ) : (
        <Act onClick={() => void navigate('/')}>All projects</Act>
      )}
      {take.isError ? (
        <Box role="alert" color="pole" mt="8px">
          {problemText(take.error)}
        </Box>
      ) : null}
    </Page>
  );
}
