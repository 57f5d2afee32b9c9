import { Box, chakra, Flex } from '@chakra-ui/react';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Account, ProjectCard } from '#contract';
import { api, problemText } from '../api.ts';
import { AccountMark } from '../frame/account.tsx';
import { Act, Aside, Cut, Field, Num } from '../frame/controls.tsx';
import { PoleMark } from '../frame/marks.tsx';

const Cell = chakra('td', {
  base: { px: '12px', height: '40px', borderBottom: '1px solid', borderColor: 'rule', whiteSpace: 'nowrap' },
});
const Head = chakra('th', {
  base: {
    px: '12px',
    height: '30px',
    textAlign: 'left',
    fontSize: '12px',
    fontWeight: 600,
    color: 'slate',
    borderBottom: '1px solid',
    borderColor: 'ink',
  },
});

/** The projects of an account: made, found, renamed, archived. */
export function Projects({ account }: { account: Account }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const projects = useQuery({ queryKey: ['projects'], queryFn: api.projects });
  const [name, setName] = useState('');
  const [find, setFind] = useState('');
  const [archived, setArchived] = useState(false);
  const refresh = (): void => void queries.invalidateQueries({ queryKey: ['projects'] });
  const create = useMutation({ mutationFn: api.createProject, onSuccess: ({ id }) => void navigate(`/p/${id}/book`) });
  const patch = useMutation({
    mutationFn: ({ id, ...rest }: { id: string; name?: string; archived?: boolean }) => api.patchProject(id, rest),
    onSettled: refresh,
  });

  const shown = (projects.data ?? []).filter(
    (p) => p.archived === archived && p.name.toLowerCase().includes(find.toLowerCase()),
  );
  const archivedCount = (projects.data ?? []).filter((p) => p.archived).length;
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (name.trim()) create.mutate(name);
  };

  return (
    <Flex direction="column" height="100%">
      <Flex align="center" gap="10px" px="16px" height="40px" borderBottom="1px solid" borderColor="rule">
        <PoleMark />
        <Box fontWeight="700" fontSize="16px">
          Dunrik
        </Box>
        <Box flex="1" />
        <AccountMark account={account} />
      </Flex>
      <Box as="main" flex="1" overflow="auto" px="24px" py="28px">
        <Box maxWidth="980px" mx="auto">
          <Flex align="baseline" gap="14px" wrap="wrap" mb="16px">
            <chakra.h1 fontSize="22px" fontWeight="700" m="0">
              Projects
            </chakra.h1>
            <Field
              aria-label="find a project"
              placeholder="find a project"
              value={find}
              onChange={(e) => setFind(e.target.value)}
              width="220px"
            />
            {archivedCount > 0 || archived ? (
              <Act look="quiet" onClick={() => setArchived(!archived)} aria-pressed={archived}>
                {archived ? 'Show those at work' : `Show ${archivedCount} archived`}
              </Act>
            ) : null}
            <Box flex="1" />
            <chakra.form onSubmit={submit} display="flex" gap="8px">
              <Field
                aria-label="name of a new project"
                placeholder="name of a new project"
                value={name}
                onChange={(e) => setName(e.target.value)}
                width="240px"
                maxLength={120}
              />
              <Act type="submit" look="solid" disabled={!name.trim() || create.isPending}>
                Begin it
              </Act>
            </chakra.form>
          </Flex>
          {create.isError || patch.isError || projects.isError ? (
            <Box role="alert" color="pole" mb="10px">
              {problemText(create.error ?? patch.error ?? projects.error)}
            </Box>
          ) : null}
          {projects.data && shown.length === 0 ? (
            <Box py="40px" color="slate">
              {find
                ? `No project has “${find}” in its name.`
                : archived
                  ? 'Nothing is archived.'
                  : 'No project yet. Type a name above and begin; it starts in metres, east before north, with our own code list.'}
            </Box>
          ) : (
            <chakra.table width="100%" borderCollapse="collapse" bg="leaf">
              <thead>
                <tr>
                  <Head scope="col">Project</Head>
                  <Head scope="col" textAlign="right">
                    Points
                  </Head>
                  <Head scope="col" textAlign="right">
                    Lines
                  </Head>
                  <Head scope="col" textAlign="right">
                    Open queries
                  </Head>
                  <Head scope="col" textAlign="right">
                    Revision
                  </Head>
                  <Head scope="col">Changed</Head>
                  <Head scope="col">
                    <chakra.span srOnly>what can be done</chakra.span>
                  </Head>
                </tr>
              </thead>
              <tbody>
                {shown.map((p) => (
                  <Row key={p.id} project={p} onPatch={(part) => patch.mutate({ id: p.id, ...part })} />
                ))}
              </tbody>
            </chakra.table>
          )}
        </Box>
      </Box>
    </Flex>
  );
}

function Row({
  project,
  onPatch,
}: {
  project: ProjectCard;
  onPatch: (part: { name?: string; archived?: boolean }) => void;
}) {
  const [naming, setNaming] = useState<string | null>(null);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (naming?.trim() && naming !== project.name) onPatch({ name: naming });
    setNaming(null);
  };
  return (
    <tr>
      <Cell maxWidth="340px">
        {naming === null ? (
          <Flex minWidth="0">
            <Link to={`/p/${project.id}/book`} style={{ minWidth: 0, display: 'flex' }}>
              <Cut fontWeight="600" textDecoration="underline" textUnderlineOffset="3px">
                {project.name}
              </Cut>
            </Link>
          </Flex>
        ) : (
          <form onSubmit={submit}>
            <Field
              autoFocus
              value={naming}
              aria-label="new name"
              onChange={(e) => setNaming(e.target.value)}
              onKeyDown={(e) => e.key === 'Escape' && setNaming(null)}
              onBlur={submit}
              maxLength={120}
              width="260px"
            />
          </form>
        )}
      </Cell>
      <Cell textAlign="right">
        <Num>{project.figures?.points ?? '–'}</Num>
      </Cell>
      <Cell textAlign="right">
        <Num>{project.figures?.lines ?? '–'}</Num>
      </Cell>
      <Cell textAlign="right">
        <Num>{project.figures?.openQueries ?? '–'}</Num>
      </Cell>
      <Cell textAlign="right">
        <Num>{project.revision}</Num>
      </Cell>
      <Cell>
        <Aside>
          {new Date(project.changedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
        </Aside>
      </Cell>
      <Cell textAlign="right">
        <Act look="quiet" onClick={() => setNaming(project.name)}>
          Rename
        </Act>
        <Act look="quiet" onClick={() => onPatch({ archived: !project.archived })}>
          {project.archived ? 'Take out of the archive' : 'Archive'}
        </Act>
      </Cell>
    </tr>
  );
}
