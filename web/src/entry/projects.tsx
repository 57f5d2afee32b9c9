import { Box, chakra, Flex } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useMemo, useState, type FormEvent } from 'react';
import { useForm } from 'react-hook-form';
import { Link, useNavigate } from 'react-router';
import { newProjectSchema, type Account, type ProjectCard } from '#contract';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Cut, Field, Num } from '../frame/controls.tsx';
import { Form } from '../frame/form.tsx';
import { Page, PAGE_CELL, when } from '../frame/page.tsx';
import { SmallTable, type SmallColumn } from '../frame/small-table.tsx';

type Sort = 'changed' | 'name' | 'queries';
const SORT_NAME: Record<Sort, string> = { changed: 'last changed', name: 'by name', queries: 'most open queries' };
const SHOWN = 100;

/** The projects of an account: made, found among hundreds, renamed, archived. */
export function Projects({ account }: { account: Account }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const projects = useQuery({ queryKey: ['projects'], queryFn: api.projects });
  const { register, handleSubmit, watch } = useForm({
    resolver: zodResolver(newProjectSchema.pick({ name: true })),
    defaultValues: { name: '' },
  });
  const name = watch('name');
  const [find, setFind] = useState('');
  const [sort, setSort] = useState<Sort>('changed');
  const [archived, setArchived] = useState(false);
  const [all, setAll] = useState(false);
  const [naming, setNaming] = useState<string | null>(null);
  const wanted = useDeferredValue(find);
  const refresh = (): void => void queries.invalidateQueries({ queryKey: ['projects'] });
  const create = useMutation({ mutationFn: api.createProject, onSuccess: ({ id }) => void navigate(`/p/${id}/book`) });
  const patch = useMutation({
    mutationFn: ({ id, ...rest }: { id: string; name?: string; description?: string; archived?: boolean }) =>
      api.patchProject(id, rest),
    onSettled: refresh,
  });
  const teams = useQuery({ queryKey: ['teams'], queryFn: api.teams });
  const found = useMemo(
    () => sorted(matching(projects.data ?? [], wanted, archived), sort),
    [projects.data, wanted, archived, sort],
  );
  const archivedCount = (projects.data ?? []).filter((p) => p.archived).length;
  const shown = all ? found : found.slice(0, SHOWN);
  // The first team's settings are what it begins with; the page behind “set up” shows and changes them.
  const submit = handleSubmit((v) => create.mutate({ name: v.name, team: teams.data?.[0]?.id ?? null }));

  const change = (p: ProjectCard, part: ProjectPart): void => patch.mutate({ id: p.id, ...part });
  return (
    <Page
      account={account}
      title="Projects"
      width="1040px"
      about={
        <Flex gap="10px" align="center" wrap="wrap">
          <Field
            aria-label="find a project"
            placeholder="find: name, description, team"
            value={find}
            onChange={(e) => setFind(e.target.value)}
            width="220px"
          />
          <chakra.select
            aria-label="order of the projects"
            value={sort}
            onChange={(e) => setSort(e.target.value as Sort)}
            bg="leaf"
            border="1px solid"
            borderColor="slate"
            borderRadius="3px"
            height="26px"
          >
            {(Object.keys(SORT_NAME) as Sort[]).map((s) => (
              <option key={s} value={s}>
                {SORT_NAME[s]}
              </option>
            ))}
          </chakra.select>
          {archivedCount > 0 || archived ? (
            <Act look="quiet" onClick={() => setArchived(!archived)} aria-pressed={archived}>
              {archived ? 'Show active ones' : `Show ${archivedCount} archived`}
            </Act>
          ) : null}
        </Flex>
      }
      tools={
        <Form onSubmit={submit} display="flex" gap="8px">
          <Field
            aria-label="name of a new project"
            placeholder="name of a new project"
            width="200px"
            maxLength={120}
            {...register('name')}
          />
          <Act type="submit" look="solid" disabled={!name.trim() || create.isPending}>
            Create
          </Act>
          <Act
            type="button"
            onClick={() => void navigate(`/new${name.trim() ? `?name=${encodeURIComponent(name.trim())}` : ''}`)}
          >
            Set it up …
          </Act>
        </Form>
      }
    >
      {create.isError || patch.isError || projects.isError ? (
        <Box role="alert" color="pole" mb="10px">
          {problemText(create.error ?? patch.error ?? projects.error)}
        </Box>
      ) : null}
      {projects.data && found.length === 0 ? (
        <Box py="40px" color="slate">
          {find
            ? `No project has “${find}” in its name, description or team.`
            : archived
              ? 'Nothing is archived.'
              : 'No project yet. Type a name above and begin; it starts with the settings of your team, or set it up first.'}
        </Box>
      ) : (
        <Box bg="leaf">
          <SmallTable
            label="projects"
            columns={projectColumns(naming, setNaming, change, navigate)}
            rows={shown}
            rowKey={(p) => p.id}
            cellStyle={PAGE_CELL}
          />
        </Box>
      )}
      {found.length > shown.length ? (
        <Act mt="10px" onClick={() => setAll(true)}>
          Show all {found.length}
        </Act>
      ) : null}
    </Page>
  );
}

/** Projects whose name, description or team hold every word typed. */
export function matching(list: readonly ProjectCard[], find: string, archived: boolean): ProjectCard[] {
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  return list.filter((p) => {
    if (p.archived !== archived) return false;
    const text = `${p.name} ${p.description} ${p.team ?? ''} ${p.role}`.toLowerCase();
    return words.every((w) => text.includes(w));
  });
}

function sorted(list: ProjectCard[], sort: Sort): ProjectCard[] {
  if (sort === 'name') return list.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
  if (sort === 'queries') return list.sort((a, b) => (b.figures?.openQueries ?? -1) - (a.figures?.openQueries ?? -1));
  return list.sort((a, b) => b.changedAt.localeCompare(a.changedAt));
}

type ProjectPart = { name?: string; description?: string; archived?: boolean };

/** What is known of a project, and what its owner, a member or the crew can do with it. */
function projectColumns(
  naming: string | null,
  setNaming: (id: string | null) => void,
  change: (p: ProjectCard, part: ProjectPart) => void,
  navigate: ReturnType<typeof useNavigate>,
): SmallColumn<ProjectCard>[] {
  const figure = (id: 'points' | 'lines' | 'openQueries', head: string): SmallColumn<ProjectCard> => ({
    id,
    head,
    cell: (p) => <Num>{p.figures?.[id] ?? '–'}</Num>,
  });
  return [
    {
      id: 'project',
      head: 'Project',
      style: { maxWidth: '266px', py: '4px' },
      cell: (p) =>
        naming === p.id ? (
          <NewName
            of={p.name}
            onEnd={(name) => {
              if (name && name !== p.name) change(p, { name });
              setNaming(null);
            }}
          />
        ) : (
          <ProjectName project={p} />
        ),
    },
    {
      id: 'team',
      head: 'Team, role',
      words: true,
      style: { maxWidth: '150px' },
      cell: (p) => (
        <Flex>
          <Cut color="slate" fontSize="13px">
            {[p.team, p.role].filter(Boolean).join(', ')}
          </Cut>
        </Flex>
      ),
    },
    figure('points', 'Points'),
    figure('lines', 'Lines'),
    figure('openQueries', 'Open queries'),
    {
      id: 'revision',
      head: 'Revision',
      words: true,
      cell: (p) => (
        <>
          <Num>{p.revision}</Num>{' '}
          {p.checkedRevision !== null ? (
            <Aside>{p.checkedRevision === p.revision ? 'checked' : `checked to ${p.checkedRevision}`}</Aside>
          ) : null}
        </>
      ),
    },
    {
      id: 'changed',
      head: 'Changed',
      words: true,
      cell: (p) => <Aside>{when(p.changedAt)}</Aside>,
    },
    {
      id: 'acts',
      head: <chakra.span srOnly>what can be done</chakra.span>,
      style: { px: '4px' },
      cell: (p) => (
        <>
          {p.role === 'owner' ? (
            <Act look="quiet" onClick={() => setNaming(p.id)}>
              Rename
            </Act>
          ) : null}
          {p.role === 'crew' ? null : (
            <Act look="quiet" onClick={() => void navigate(`/new?copy=${p.id}`)}>
              Copy …
            </Act>
          )}
          {p.role === 'owner' ? (
            <Act look="quiet" onClick={() => change(p, { archived: !p.archived })}>
              {p.archived ? 'Restore from the archive' : 'Archive'}
            </Act>
          ) : null}
        </>
      ),
    },
  ];
}

const ProjectName = ({ project: p }: { project: ProjectCard }) => (
  <>
    <Flex minWidth="0">
      <Link to={p.role === 'crew' ? `/crew/${p.id}` : `/p/${p.id}/book`} style={{ minWidth: 0, display: 'flex' }}>
        <Cut fontWeight="600" textDecoration="underline" textUnderlineOffset="3px">
          {p.name}
        </Cut>
      </Link>
    </Flex>
    {p.description ? (
      <Flex minWidth="0">
        <Cut color="slate" fontSize="13px" lineHeight="16px">
          {p.description}
        </Cut>
      </Flex>
    ) : null}
  </>
);

/** A name typed over the old one: taken on Enter or on leaving it, let be on Escape. */
function NewName({ of, onEnd }: { of: string; onEnd: (name: string | null) => void }) {
  const [typed, setTyped] = useState(of);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    onEnd(typed.trim());
  };
  return (
    <form onSubmit={submit}>
      <Field
        autoFocus
        value={typed}
        aria-label="new name"
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && onEnd(null)}
        onBlur={submit}
        maxLength={120}
        width="260px"
      />
    </form>
  );
}
