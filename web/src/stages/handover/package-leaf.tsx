import { Box, Flex, chakra } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { type PackageCard, withdrawSchema } from '#contract';
import { api, problemText } from '../../frame/api.ts';
import { Act, Aside, Cut, Field, Leaf, Num } from '../../frame/controls.tsx';
import { described, FieldProblem, Form } from '../../frame/form.tsx';
import { when } from '../../frame/page.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';

/** A package that was made: its files and what reading them back showed, what it lacks, and whether it still counts. */
export function PackageLeaf({ card }: { card: PackageCard }) {
  const { state, id } = useParts('state', 'id');
  const canChange = useCanChange();
  const outdated = (state?.revision ?? card.revision) - card.revision;
  const { manifest, withdrawn } = card;
  return (
    <Leaf mb="10px" p="10px 12px" aria-label={`package ${card.name}`}>
      <Flex align="center" gap="10px" wrap="wrap">
        <Cut fontWeight="700" textDecoration={withdrawn ? 'line-through' : undefined}>
          {card.name}
        </Cut>
        <Aside whiteSpace="nowrap">
          revision {card.revision}, {when(card.madeAt)}, {card.madeBy}
        </Aside>
        <Box flex="1" />
        {withdrawn ? null : (
          <a href={`/api/projects/${id}/packages/${card.id}`} download>
            <chakra.span textDecoration="underline" fontWeight="600">
              Download
            </chakra.span>
          </a>
        )}
        {canChange ? <Ending card={card} project={id} /> : null}
      </Flex>
      {withdrawn ? (
        <Box color="pole" fontSize="13px">
          withdrawn {when(withdrawn.at)} by {withdrawn.by}: {withdrawn.why}
        </Box>
      ) : null}
      <Cut display="block" color="slate" fontSize="13px">
        {manifest.basis}
      </Cut>
      {outdated > 0 && !withdrawn ? (
        <Box color="brass" fontSize="13px">
          {outdated} {outdated === 1 ? 'change' : 'changes'} since
        </Box>
      ) : null}
      {manifest.stopQueries.length ? (
        <Box color="brass" fontSize="13px">
          made with {manifest.stopQueries.length} unresolved stop{' '}
          {manifest.stopQueries.length === 1 ? 'query' : 'queries'}, named in its manifest
        </Box>
      ) : null}
      {manifest.notMade.map((n) => (
        <Box key={n.what} color="brass" fontSize="13px">
          without {n.what.toLowerCase()}: {n.why}
        </Box>
      ))}
      <SmallTable
        label={`files of ${card.name}`}
        headless
        rows={manifest.files}
        rowKey={(f) => f.name}
        cellStyle={{ fontSize: '13px', height: '24px', px: '4px' }}
        below={notesOf}
        columns={FILE_COLUMNS}
      />
    </Leaf>
  );
}

type PackageFile = PackageCard['manifest']['files'][number];

const FILE_COLUMNS: readonly SmallColumn<PackageFile>[] = [
  {
    id: 'file',
    head: 'File',
    style: { maxWidth: '220px' },
    cell: (f) => (
      <Flex>
        <Cut>{f.name}</Cut>
      </Flex>
    ),
  },
  {
    id: 'size',
    head: 'Size',
    style: { whiteSpace: 'nowrap' },
    cell: (f) => <Num fontSize="12px">{Math.ceil(f.bytes / 1024)} KB</Num>,
  },
  {
    id: 'read-back',
    head: 'Read back',
    style: { whiteSpace: 'nowrap', color: 'pine' },
    cell: (f) => (
      <span
        title={Object.entries(f.readBack.counts)
          .map(([k, v]) => `${v} ${k}`)
          .join(', ')}
      >
        read back, off by at most <Num fontSize="12px">{(f.readBack.largestDeviation * 1000).toFixed(3)}</Num> mm
      </span>
    ),
  },
];

function notesOf(f: PackageFile) {
  const notes = (f.readBack.notes as string[] | undefined) ?? [];
  return notes.length ? notes.map((note) => <Aside key={note} display="block">{note}</Aside>) : null; // prettier-ignore
}

/** A package ends in two ways: withdrawn, which stays on record with its reason, or deleted, as if it had never been. */
function Ending({ card, project }: { card: PackageCard; project: string }) {
  const [asked, setAsked] = useState<'withdraw' | 'delete' | null>(null);
  const queries = useQueryClient();
  const { register, handleSubmit, formState } = useForm({
    resolver: zodResolver(withdrawSchema),
    defaultValues: { why: '' },
  });
  const end = useMutation({
    mutationFn: (why: string | null) =>
      why === null ? api.deletePackage(project, card.id) : api.withdrawPackage(project, card.id, why),
    onSuccess: () => {
      setAsked(null);
      void queries.invalidateQueries({ queryKey: ['packages', project] });
    },
  });
  const { why } = formState.errors;
  return (
    <>
      {card.withdrawn ? null : (
        <Act look="quiet" aria-expanded={asked === 'withdraw'} onClick={() => setAsked('withdraw')}>
          Withdraw …
        </Act>
      )}
      <Act look="quiet" aria-expanded={asked === 'delete'} onClick={() => setAsked('delete')}>
        Delete …
      </Act>
      {asked === 'withdraw' ? (
        <Form
          flexBasis="100%"
          display="flex"
          gap="8px"
          alignItems="center"
          flexWrap="wrap"
          onSubmit={handleSubmit((v) => end.mutate(v.why))}
          onKeyDown={(e) => e.key === 'Escape' && setAsked(null)}
        >
          <Field
            autoFocus
            flex="1"
            minWidth="160px"
            aria-label="why it is withdrawn"
            placeholder="why: wrong backsight at KB4, say"
            {...described(`why-${card.id}`, why)}
            {...register('why')}
          />
          <Act type="submit" look="solid" disabled={end.isPending}>
            Withdraw it
          </Act>
          <Act type="button" onClick={() => setAsked(null)}>
            Cancel
          </Act>
          <FieldProblem id={`why-${card.id}`} error={why} />
        </Form>
      ) : asked === 'delete' ? (
        <Flex flexBasis="100%" gap="8px" align="center" wrap="wrap">
          <span>Its files and the record of it go. If it has gone out, withdraw it instead.</span>
          <Act look="solid" disabled={end.isPending} onClick={() => end.mutate(null)}>
            Delete it
          </Act>
          <Act onClick={() => setAsked(null)}>Cancel</Act>
        </Flex>
      ) : null}
      {end.isError ? (
        <Box role="alert" color="pole" flexBasis="100%">
          {problemText(end.error)}
        </Box>
      ) : null}
    </>
  );
}
