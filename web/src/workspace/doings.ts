import { type Stage } from '#core/project';
import { goToQuery, orderedQueries } from '../cards/queries.tsx';
import { setNight, useNight } from '../frame/night.ts';
import { addressOf } from '../frame/leaves.tsx';
import { STAGES } from '../frame/stage-names.ts';
import { asReceived, editedSelection } from '../project-state/edit.ts';
import { useCanChange } from '../project-state/can.ts';
import { useParts, useProject } from '../project-state/store.ts';
import { alongLine, alongSetup } from '../sheet/along.ts';
import { sheetHandle } from '../sheet/handle.ts';
import { useLook } from '../sheet/look.ts';
import { finishTrace } from '../sheet/trace-bar.tsx';
import { type Doing } from './finds.ts';
import { useMemo } from 'react';
import { useNavigate } from 'react-router';

/** What the workspace does itself. */
export interface Doers {
  takeIn: () => void;
  takeInFolder: () => void;
  setChanges: (f: (open: boolean) => boolean) => void;
  setKeys: (f: (open: boolean) => boolean) => void;
  setAccepting: (key: string | null) => void;
  setFile: (file: File | null) => void;
}

/** Everything that can be done here, with its key: for the keyboard, the find-or-do field, and the list of keys. */
export function useDoings(
  stage: Stage,
  { takeIn, takeInFolder, setChanges, setKeys, setAccepting, setFile }: Doers,
): Doing[] {
  const navigate = useNavigate();
  const { id, tables, pending, selection, traced, state } = useParts(
    'id',
    'tables',
    'pending',
    'selection',
    'traced',
    'state',
  );
  const { spatial, setSpatial } = useLook();
  const canChange = useCanChange();
  const night = useNight();
  return useMemo(() => {
    const store = useProject.getState;
    const queries = tables ? orderedQueries(tables.summary.queries) : [];
    const current = selection?.kind === 'query' ? queries.find((q) => q.key === selection.key) : undefined;
    const next = (): void => {
      const here = queries.filter((q) => q.stage === stage);
      const at = current ? queries.indexOf(current) : -1;
      const query = current ? queries[(at + 1) % queries.length] : (here[0] ?? queries[0]);
      if (!query) return;
      if (query.stage !== stage) void navigate(addressOf(id, query.stage));
      goToQuery(query);
    };
    return [
      ...STAGES.map(({ stage: to, name }, i) => ({
        name: `go to ${name}`,
        key: String(i + 1),
        run: () => void navigate(addressOf(id, to)),
      })),
      {
        name: 'apply what is previewed, or finish what is drawn',
        key: 'Enter',
        enabled: pending !== null || traced !== null,
        run: () => (store().traced ? finishTrace() : void store().accept()),
      },
      {
        name: 'step back',
        key: 'Escape',
        run: () => {
          setKeys(() => false);
          if (store().dragged) store().dragged!();
          else if (store().traced) store().trace(null);
          else if (store().pending) store().cancel();
          else {
            setAccepting(null);
            setFile(null);
            store().select(null);
          }
        },
      },
      {
        name: 'undo the last point drawn',
        key: 'Backspace',
        enabled: (traced?.places.length ?? 0) > 0,
        run: () => {
          const now = store().traced;
          if (now) store().trace({ ...now, places: now.places.slice(0, -1) });
        },
      },
      { name: 'fit the drawing to everything', key: 'F', run: () => sheetHandle.current?.fit() },
      { name: spatial ? 'look at the plan' : 'look in 3D', key: 'V', run: () => setSpatial(!spatial) },
      {
        name: 'restore what is selected as received',
        key: 'O',
        enabled: editedSelection(state, tables, selection) !== null,
        run: () => {
          const key = editedSelection(store().state, store().tables, store().selection);
          if (key) void store().propose('as received', asReceived(store().state!.document, key));
        },
      },
      { name: 'next shot of the setup', key: '.', enabled: selection !== null, run: () => alongSetup(1) },
      { name: 'previous shot of the setup', key: ',', enabled: selection !== null, run: () => alongSetup(-1) },
      { name: 'next point along the line', key: ']', enabled: selection?.kind === 'point', run: () => alongLine(1) },
      {
        name: 'previous point along the line',
        key: '[',
        enabled: selection?.kind === 'point',
        run: () => alongLine(-1),
      },
      { name: 'next query', key: 'N', enabled: queries.length > 0, run: next },
      {
        name: 'try the first remedy of the query',
        key: 'T',
        enabled: (current?.remedies.length ?? 0) > 0,
        run: () => current && void store().propose(current.remedies[0].label, current.remedies[0].change, current.key),
      },
      {
        name: 'accept the query as it is',
        key: 'A',
        enabled: current !== undefined,
        run: () => current && setAccepting(current.key),
      },
      {
        name: `undo${state?.undo ? `: ${state.undo}` : ''}`,
        key: 'Ctrl Z',
        enabled: Boolean(state?.undo),
        run: () => void store().takeBack('undo'),
      },
      {
        name: `redo${state?.redo ? `: ${state.redo}` : ''}`,
        key: 'Ctrl Y',
        enabled: Boolean(state?.redo),
        run: () => void store().takeBack('redo'),
      },
      { name: 'import files', key: 'I', enabled: canChange, run: takeIn },
      { name: 'import a folder', enabled: canChange, run: takeInFolder },
      { name: 'see the changes', key: 'C', run: () => setChanges((open) => !open) },
      { name: night ? 'day colours' : 'night colours', run: () => setNight(!night) },
      { name: 'find or do', key: '/', run: () => document.getElementById('find-or-do')?.focus() },
      { name: 'all keys', key: '?', run: () => setKeys((open) => !open) },
    ];
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what sets state is the same all along
  }, [id, tables, pending, selection, traced, state, stage, spatial, canChange, navigate, night]);
}
