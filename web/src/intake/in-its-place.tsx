import { Box } from '@chakra-ui/react';
import { useState } from 'react';
import { usesOfFile, type Intake, type ProjectDocument } from '#core/project';
import { api, problemText } from '../frame/api.ts';
import { Act } from '../frame/controls.tsx';
import { useParts } from '../project-state/store.ts';
import { chainWork } from '../work/workers.ts';

/** The next issue of a drawing in the place of the one before: what uses that is said, and follows after a preview. */
export function InItsPlace({ file, earlier }: { file: File; earlier: Intake }) {
  const { state, tables, id, propose, busy } = useParts('state', 'tables', 'id', 'propose', 'busy');
  const [working, setWorking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const show = async (): Promise<void> => {
    setWorking(true);
    setProblem(null);
    try {
      const bytes = new Uint8Array(await file.arrayBuffer());
      const received = await api.upload(id, file, () => {}, new AbortController().signal);
      const to = { fileId: received.id, fileName: file.name, sha256: received.sha256 };
      const source = { project: id, hashes: tables!.stages.reads };
      const { change, found, fresh, gone, lost } = await chainWork().matchFile(state!.revision, earlier.id, bytes, to, source); // prettier-ignore
      const edits = lost
        ? `; ${lost} manual ${lost === 1 ? 'edit has' : 'edits have'} nothing to stand on any more`
        : '';
      await propose(`Put ${file.name} in the place of ${earlier.fileName}: ${found} vertices and points as they were, ${fresh} new, ${gone} no longer there${edits}`, change); // prettier-ignore
    } catch (error) {
      setProblem(problemText(error));
    } finally {
      setWorking(false);
    }
  };
  return (
    <Box mb="10px">
      <Act disabled={busy || working} onClick={() => void show()}>
        {working ? 'reading …' : `Put it in the place of ${earlier.fileName} …`}
      </Act>
      <Box fontSize="13px" mt="3px">
        {usesText(state!.document, earlier.id)}
      </Box>
      {problem ? (
        <Box role="alert" color="pole">
          {problem}
        </Box>
      ) : null}
    </Box>
  );
}

/** What uses a file, in a sentence. */
export function usesText(doc: ProjectDocument, id: string): string {
  const { surfaces, comparisons, edits, lines } = usesOfFile(doc, id);
  const named = (names: readonly string[], one: string, many: string): string[] =>
    names.length ? [`${names.length === 1 ? one : many} ${names.slice(0, 4).join(', ')}${names.length > 4 ? ` and ${names.length - 4} more` : ''}`] : []; // prettier-ignore
  const parts = [
    ...named(surfaces.map((s) => s.name), 'surface', 'surfaces'),
    ...named(comparisons, 'comparison', 'comparisons'),
    ...(lines ? [`${lines} ${lines === 1 ? 'line' : 'lines'} changed by hand or tied to points`] : []),
    ...(edits ? [`${edits} edited ${edits === 1 ? 'record' : 'records'}`] : []),
  ]; // prettier-ignore
  return parts.length ? `These would follow: ${parts.join('; ')}.` : 'Nothing else uses it.';
}
