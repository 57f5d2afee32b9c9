import { Flex } from '@chakra-ui/react';
import { tracedRecipe, type ProjectDocument, type SurfaceRecipe } from '#core/project';
import { formatArea } from '#core/measure';
import type { Summary } from '#contract';
import { Act, Aside, Leaf, Num } from '../../frame/controls.tsx';
import { RowName, SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { Changing } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';
import { SurfaceStroke, useSurfacesShown } from '../../sheet/surfaces-shown.tsx';
import { useState } from 'react';
import { problemText } from '../../frame/api.ts';
import { freshId } from './add-row.tsx';
import { keepDated } from './keep-dated.ts';
import { copyOf, freeName, newSurface } from './new-surface.ts';
import { NEW_TRACED, TraceInto } from './tracing/trace-into.tsx';
import { WriteSurface } from './write-surface.tsx';

/** Every surface of the project: which are drawn, which one's recipe is read below. */
export function SurfaceList({
  doc,
  summary,
  onTrace,
}: {
  doc: ProjectDocument;
  summary: Summary;
  onTrace: (surface: string) => void;
}) {
  const { make, busy } = useParts('make', 'busy');
  const view = useSurfacesShown()!;
  const { areaUnit, unit } = doc.settings;
  const current = doc.surfaces.find((s) => s.id === view.current)!;
  const add = async (surface: ReturnType<typeof newSurface>): Promise<void> => {
    if (await make({ op: 'surface.add', surface })) view.stand(surface.id);
  };
  const { tables, id: project, tell } = useParts('tables', 'id', 'tell');
  const [keeping, setKeeping] = useState(false);
  const triangles = tables?.surfaces.get(current.id);
  const keep = async (): Promise<void> => {
    setKeeping(true);
    try {
      view.stand(await keepDated(project, doc, current, triangles!, tables!.revision, new Date()));
    } catch (error) {
      tell(problemText(error));
    } finally {
      setKeeping(false);
    }
  };
  const traceOver = async (into: string): Promise<void> => {
    if (into !== NEW_TRACED) return onTrace(into);
    const surface = tracedRecipe({ id: freshId(), name: freeName(doc, 'Traced') });
    if (!(await make({ op: 'surface.add', surface }))) return;
    view.stand(surface.id);
    onTrace(surface.id);
  };
  const figures = (s: SurfaceRecipe) => summary.surfaces.find((one) => one.id === s.id);
  const columns: SmallColumn<SurfaceRecipe>[] = [
    {
      id: 'drawn',
      head: 'Drawn',
      cell: (s) => (
        <Flex as="label" gap="6px" align="center" cursor="pointer" onClick={(e) => e.stopPropagation()}>
          <input
            type="checkbox"
            aria-label={`draw ${s.name}`}
            checked={view.shown.includes(s.id)}
            onChange={() => view.toggle(s.id)}
          />
          <SurfaceStroke doc={doc} id={s.id} />
        </Flex>
      ),
    },
    {
      id: 'surface',
      head: 'Surface',
      words: true,
      by: (s) => s.name,
      // What the figures leave: the last of them is never lost.
      style: { width: '100%', maxWidth: 0 },
      cell: (s) => <RowName on={s.id === view.current}>{s.name}</RowName>,
    },
    { id: 'use', head: 'Use', words: true, by: (s) => s.role, cell: (s) => <Aside>{s.role}</Aside> },
    {
      id: 'points',
      head: 'Points',
      by: (s) => figures(s)?.points,
      cell: (s) => <Num>{figures(s)?.points ?? '…'}</Num>,
    },
    {
      id: 'triangles',
      head: 'Triangles',
      by: (s) => figures(s)?.triangles,
      cell: (s) => <Num>{figures(s)?.triangles ?? '…'}</Num>,
    },
    {
      id: 'area',
      head: 'Plan area',
      by: (s) => figures(s)?.planArea,
      cell: (s) => {
        const m = figures(s);
        return <Num whiteSpace="nowrap">{m ? formatArea(m.planArea, areaUnit, unit) : '…'}</Num>;
      },
    },
  ];
  return (
    <Leaf mb="12px">
      <SmallTable
        label="surfaces"
        columns={columns}
        rows={doc.surfaces}
        rowKey={(s) => s.id}
        onRow={(s) => view.stand(s.id)}
        rowStyle={(s) => ({ bg: s.id === view.current ? 'mark' : undefined })}
        cellStyle={{ height: '30px' }}
      />
      <Flex gap="6px" p="8px" wrap="wrap">
        <Changing>
          <Act disabled={busy} onClick={() => void add(newSurface(doc))}>
            New surface
          </Act>
          <TraceInto doc={doc} current={current} busy={busy} onTrace={(into) => void traceOver(into)} />
          <Act aria-label={`Copy “${current.name}”`} disabled={busy} onClick={() => void add(copyOf(doc, current))}>
            Copy
          </Act>
          <Act
            aria-label={`Keep as it is now: “${current.name}”`}
            disabled={busy || keeping || !triangles?.triangles.length}
            title="Its triangles as they are now, to compare with later"
            onClick={() => void keep()}
          >
            {keeping ? 'keeping …' : 'Keep as it is now'}
          </Act>
          <Act
            aria-label={`Delete “${current.name}”`}
            disabled={busy}
            onClick={() => void make({ op: 'surface.remove', id: current.id })}
          >
            Delete
          </Act>
        </Changing>
        <WriteSurface key={current.id} doc={doc} recipe={current} />
      </Flex>
    </Leaf>
  );
}
