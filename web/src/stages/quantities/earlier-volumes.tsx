import { Box } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Comparison } from '#core/project';
import type { VolumeStory } from '#contract';
import { api, problemText } from '../../frame/api.ts';
import { Act, Aside, Num } from '../../frame/controls.tsx';
import { when } from '../../frame/page.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useParts } from '../../project-state/store.ts';

type Step = VolumeStory['steps'][number];

/** What made the volumes what they are: from revision to revision each change with its share, who made it and why. */
export function EarlierVolumes({ comparison }: { comparison: Comparison }) {
  const { id, tables } = useParts('id', 'tables');
  const [open, setOpen] = useState(false);
  const { revision } = tables!;
  const story = useQuery({
    queryKey: ['volume story', id, comparison.id, revision],
    queryFn: ({ signal }) => api.volumeStory(id, comparison.id, signal),
    enabled: open,
    staleTime: Infinity,
  });
  return (
    <Box mt="10px" mb="10px" fontSize="13px">
      <Act aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Hide what changed it' : 'What changed it …'}
      </Act>
      {open && story.isPending ? <Aside display="block">Computing what it was before each change …</Aside> : null}
      {open && story.isError ? <Box color="pole">{problemText(story.error)}</Box> : null}
      {open && story.data ? <Steps story={story.data} /> : null}
    </Box>
  );
}

const END: Record<VolumeStory['end'], string> = {
  made: 'The comparison was made there.',
  begins: 'Nothing is older.',
  many: 'Older changes are too many to be looked at.',
};

function Steps({ story }: { story: VolumeStory }) {
  const { settings } = useParts('state').state!.document;
  const unit = VOLUME_SIGN[settings.volumeUnit];
  const net = (v: Step['after']): number => v!.cut - v!.fill;
  const volume = (v: number): string => formatVolume(v, settings);
  const signed = (v: number): string => `${v < 0 ? '−' : '+'}${volume(Math.abs(v))}`;
  const share = ({ before, after }: Step): number | null => (before && after ? net(after) - net(before) : null);
  // Whoever holds a figure of an earlier day finds the revision that had it.
  const [since, setSince] = useState<number | null>(null);
  const shown = since === null ? story.steps : story.steps.filter((s) => s.revision > since);
  const shares = shown.map(share);
  const isWhole = shares.every((s) => s !== null);
  const columns: SmallColumn<Step>[] = [
    { id: 'revision', head: 'Revision', by: (s) => s.revision, cell: (s) => <Num>{s.revision}</Num> },
    {
      id: 'what',
      head: 'Change',
      style: { whiteSpace: 'normal', minWidth: '160px' },
      cell: (s) => (
        <>
          {s.kind === 'do' ? s.what : `${s.kind === 'undo' ? 'undid' : 'redid'}: ${s.what}`}
          <Aside display="block" fontSize="12px">
            {s.by}, {when(s.at)}
            {s.why ? `: ${s.why}` : ''}
          </Aside>
        </>
      ),
    },
    { id: 'cut', head: `Cut ${unit}`, cell: (s) => <Num>{s.after ? volume(s.after.cut) : 'none'}</Num> },
    { id: 'fill', head: `Fill ${unit}`, cell: (s) => <Num>{s.after ? volume(s.after.fill) : 'none'}</Num> },
    {
      id: 'share',
      head: 'Cut − fill by it',
      cell: (s) => <Num>{share(s) === null ? (s.before ? 'none since' : 'first') : signed(share(s)!)}</Num>,
    },
  ];
  if (story.steps.length === 0)
    return <Aside display="block">No change since revision {story.from} altered it. {END[story.end]}</Aside>; // prettier-ignore
  return (
    <>
      <SmallTable
        label="what changed the volumes"
        columns={columns}
        rows={shown}
        rowKey={(s) => String(s.revision)}
        onRow={(s) => setSince(since === s.revision ? null : s.revision)}
      />
      <Aside display="block" mt="4px">
        {since === null ? (
          <>
            Looked back to revision {story.from}. {END[story.end]} Choose a row to see what came after it.
          </>
        ) : (
          <>
            {isWhole
              ? `Since revision ${since} cut − fill changed by ${signed(shares.reduce<number>((sum, s) => sum + s!, 0))} ${unit}, the sum of these.`
              : `Since revision ${since} there was a time without a volume.`}{' '}
            <Act look="quiet" onClick={() => setSince(null)}>
              Show all
            </Act>
          </>
        )}
      </Aside>
    </>
  );
}
