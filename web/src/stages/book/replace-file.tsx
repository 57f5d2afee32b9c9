import { Box, Flex } from '@chakra-ui/react';
import { useRef, useState } from 'react';
import type { Intake, NewFile } from '#core/project';
import { api, problemText } from '../../frame/api.ts';
import { Act } from '../../frame/controls.tsx';
import { GoneRecords } from '../../intake/gone-records.tsx';
import { useParts } from '../../project-state/store.ts';
import type { Matched } from '../../work/chain.worker.ts';
import { chainWork } from '../../work/workers.ts';

/** A later export that was read and waits for what a person says of the records that it lacks. */
interface Waiting {
  to: NewFile;
  bytes: Uint8Array<ArrayBuffer>;
  matched: Matched;
  remaining: number[];
}

/** A later export of the same job in a file's place: what a person did to its records goes with them, after a preview. */
export function ReplaceFile({ intake }: { intake: Intake }) {
  const { state, tables, id, propose, tell, busy } = useParts('state', 'tables', 'id', 'propose', 'tell', 'busy');
  const [working, setWorking] = useState(false);
  const [waiting, setWaiting] = useState<Waiting | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const match = ({ bytes, to, remaining }: Omit<Waiting, 'matched'>): Promise<Matched> =>
    chainWork().matchFile(state!.revision, intake.id, bytes, to, { project: id, hashes: tables!.stages.reads }, remaining); // prettier-ignore
  const busily = async (work: () => Promise<void>): Promise<void> => {
    setWorking(true);
    try {
      await work();
    } catch (error) {
      tell(problemText(error));
    } finally {
      setWorking(false);
    }
  };
  const show = (to: NewFile, m: Matched, remaining: number): Promise<void> => {
    const edits = m.kept + m.lost > 0 ? `; ${m.kept} manual ${m.kept === 1 ? 'edit follows its record' : 'edits follow their records'}${m.lost ? `, ${m.lost} have none any more` : ''}` : ''; // prettier-ignore
    const stay = remaining ? `, of which ${remaining} remain in use` : '';
    return propose(`Replace ${intake.fileName} by ${to.fileName}: ${m.found} records found again, ${m.fresh} new, ${m.gone} no longer there${stay}${edits}`, m.change); // prettier-ignore
  };
  const read = (file: File): Promise<void> =>
    busily(async () => {
      setWaiting(null);
      const bytes = new Uint8Array(await file.arrayBuffer());
      const received = await api.upload(id, file, () => {}, new AbortController().signal);
      const to = { fileId: received.id, fileName: file.name, sha256: received.sha256 };
      const matched = await match({ to, bytes, remaining: [] });
      if (matched.gone) setWaiting({ to, bytes, matched, remaining: [] });
      else await show(to, matched, 0);
    });
  const decide = (w: Waiting): Promise<void> =>
    busily(async () => {
      await show(w.to, w.remaining.length ? await match(w) : w.matched, w.remaining.length);
      setWaiting(null);
    });
  return (
    <>
      <Act disabled={busy || working} onClick={() => input.current?.click()}>
        {working ? 'reading …' : 'Replace by a later export …'}
      </Act>
      <input
        ref={input}
        type="file"
        hidden
        aria-label={`a later export of ${intake.fileName}`}
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          e.target.value = '';
          if (file) void read(file);
        }}
      />
      {waiting ? (
        <Box width="100%" borderTop="1px solid" borderColor="rule" pt="6px">
          <GoneRecords
            records={waiting.matched.goneRecords}
            count={waiting.matched.gone}
            earlier={intake.fileName}
            settings={state!.document.settings}
            remaining={waiting.remaining}
            onChange={(remaining) => setWaiting({ ...waiting, remaining })}
          />
          <Flex gap="8px" pt="6px">
            <Act look="solid" disabled={busy || working} onClick={() => void decide(waiting)}>
              Preview
            </Act>
            <Act onClick={() => setWaiting(null)}>Cancel</Act>
          </Flex>
        </Box>
      ) : null}
    </>
  );
}
