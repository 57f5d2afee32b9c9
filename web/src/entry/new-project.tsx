import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { zodResolver } from '@hookform/resolvers/zod';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import { newProjectSchema, type Account } from '#contract';
import { newStart, type Start } from '#core/project';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Field, Leaf } from '../frame/controls.tsx';
import { Form } from '../frame/form.tsx';
import { Choice } from '../frame/sentence.tsx';
import { Page } from '../frame/page.tsx';
import { StartLine, StartSettings } from './start-settings.tsx';

/** A new project: a name, and what it begins with, which is shown and can be changed before it begins. */
export function NewProject({ account }: { account: Account }) {
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const teams = useQuery({ queryKey: ['teams'], queryFn: api.teams });
  const projects = useQuery({ queryKey: ['projects'], queryFn: api.projects });
  const { register, handleSubmit, watch, formState } = useForm({
    resolver: zodResolver(newProjectSchema.pick({ name: true, description: true })),
    defaultValues: { name: search.get('name') ?? '', description: '' },
  });
  const [team, setTeam] = useState<string | null>(null);
  const [copy, setCopy] = useState<string>(search.get('copy') ?? '');
  const [whole, setWhole] = useState(false);
  const [changed, setChanged] = useState<Start | null>(null);
  const [open, setOpen] = useState(true);
  const [problem, setProblem] = useState('');
  const copied = useQuery({ queryKey: ['start-of', copy], queryFn: () => api.state(copy), enabled: copy !== '' });
  const layouts = useQuery({ queryKey: ['layouts'], queryFn: api.layouts });
  const ofTeam = team ?? teams.data?.[0]?.id ?? '';
  const chosen = teams.data?.find((t) => t.id === ofTeam);
  const kept = (layouts.data ?? []).filter((l) => l.team === null || l.team === chosen?.name);
  const base: Start | null = copy
    ? copied.data
      ? {
          settings: copied.data.document.settings,
          basis: copied.data.document.basis,
          codeList: copied.data.document.codeList,
        }
      : null
    : teams.data
      ? (chosen?.start ?? newStart())
      : null;
  const start = changed ?? base;
  const submit = handleSubmit(async ({ name, description }) => {
    setProblem('');
    try {
      const { id } = await api.createProject({
        name,
        description,
        team: ofTeam || null,
        // Grids of a copied project come with it; they are not sent.
        start: changed && !whole ? { ...changed, basis: { ...changed.basis, geoid: null, datumGrids: [] } } : null,
        copy: copy || null,
        whole: whole && copy !== '',
      });
      void navigate(`/p/${id}/book`);
    } catch (error) {
      setProblem(problemText(error));
    }
  });
  return (
    <Page account={account} title="A new project" width="760px">
      <Form onSubmit={submit}>
        <Leaf p="14px 12px" mb="12px">
          <Flex gap="10px" wrap="wrap" mb="10px">
            <Field
              autoFocus
              size="tall"
              flex="1"
              minWidth="240px"
              aria-label="name of the project"
              placeholder="name"
              maxLength={120}
              {...register('name')}
            />
            <Act
              type="submit"
              look="solid"
              size="tall"
              disabled={!watch('name').trim() || formState.isSubmitting || !base}
            >
              Create
            </Act>
          </Flex>
          <chakra.textarea
            aria-label="description"
            placeholder="what it is about: client, place, task"
            width="100%"
            rows={2}
            maxLength={2000}
            p="6px 8px"
            bg="leaf"
            border="1px solid"
            borderColor="slate"
            borderRadius="3px"
            {...register('description')}
          />
          <Flex gap="8px" wrap="wrap" align="center" mt="8px">
            It belongs to
            <Choice
              name="team"
              value={ofTeam}
              options={[...(teams.data ?? []).map((t) => [t.id, t.name] as const), ['', 'nobody but me'] as const]}
              onChange={(t) => {
                setTeam(t);
                setChanged(null);
              }}
            />
            and begins with the
            <Choice
              name="what it begins with"
              value={copy}
              options={[
                ['', chosen ? `settings of ${chosen.name}` : 'default settings'] as const,
                ...(projects.data ?? [])
                  .filter((p) => p.role !== 'crew')
                  .map((p) => [p.id, `a copy of the project ${p.name}`] as const),
              ]}
              onChange={(c) => {
                setCopy(c);
                setChanged(null);
              }}
            />
          </Flex>
          {copy ? (
            <Flex gap="8px" wrap="wrap" align="center" mt="8px">
              Copied
              <Choice
                name="what is copied"
                value={whole ? 'whole' : 'settings'}
                options={[
                  ['settings', 'its settings, basis and code list only'],
                  ['whole', `everything: files, edits and decisions at revision ${copied.data?.revision ?? '…'}`],
                ]}
                onChange={(w) => {
                  setWhole(w === 'whole');
                  setChanged(null);
                }}
              />
              {whole ? <Aside>not its history, its packages or its people</Aside> : null}
            </Flex>
          ) : null}
          {kept.length ? (
            <Aside display="block" mt="6px">
              Kept layouts of text files that serve it: {kept.map((l) => l.name).join(', ')}
            </Aside>
          ) : null}
          {problem ? (
            <Box role="alert" color="pole" mt="8px">
              {problem}
            </Box>
          ) : null}
        </Leaf>
      </Form>
      {start && !whole ? (
        <>
          <Flex align="center" gap="10px" mb="10px" px="2px">
            <Box flex="1">
              <StartLine start={start} />
            </Box>
            {changed ? (
              <>
                <Aside color="brass">changed for this project</Aside>
                <Act onClick={() => setChanged(null)}>As they were</Act>
              </>
            ) : null}
            <Act onClick={() => setOpen(!open)} aria-expanded={open}>
              {open ? 'Fold' : 'View and edit'}
            </Act>
          </Flex>
          {open ? <StartSettings start={start} onChange={setChanged} /> : null}
        </>
      ) : whole ? null : (
        <Aside>reading the start settings …</Aside>
      )}
    </Page>
  );
}
