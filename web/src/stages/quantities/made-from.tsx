import { Box } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import type { Comparison, ProjectDocument } from '#core/project';
import type { VolumeSources } from '#core/quantities';
import { Act, Aside } from '../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { sheetWork } from '../../work/workers.ts';

/** Where a volume comes from: triangles, points, the files and setups that they came from, the control behind these. */
export function MadeFromPart({ comparison }: { comparison: Comparison }) {
  const [open, setOpen] = useState(false);
  return (
    <Box mt="10px" mb="10px" fontSize="13px">
      <Act aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Hide what it is made from' : 'Made from …'}
      </Act>
      {open ? <Sources comparison={comparison} /> : null}
    </Box>
  );
}

function Sources({ comparison }: { comparison: Comparison }) {
  const { state, tables, select } = useParts('state', 'tables', 'select');
  const doc = state!.document;
  const [made, setMade] = useState<{ name: string; of: VolumeSources }[] | null>(null);
  useEffect(() => {
    let stale = false;
    const pieces = tables!.pieces.get(comparison.id);
    const { surface, against } = comparison;
    const ids = [surface, ...('surface' in against ? [against.surface] : [])];
    // Beside the page: a large volume goes over many triangles.
    void Promise.all(
      ids.map(async (id) => {
        const of = tables!.surfaces.get(id);
        return pieces && of ? [{ name: doc.surfaces.find((s) => s.id === id)?.name ?? '', of: await sheetWork().madeFrom(pieces, of) }] : []; // prettier-ignore
      }),
    ).then((all) => (stale ? undefined : setMade(all.flat())));
    return () => {
      stale = true;
    };
  }, [comparison, tables, doc]);
  if (!made) return <Aside display="block">Looking what lies under it …</Aside>;
  const sources = sourcesOf(doc, tables!, made.flatMap(({ of }) => [...of.rows])); // prettier-ignore
  const columns: SmallColumn<Source>[] = [
    { id: 'from', head: 'from', cell: (s) => s.name, style: { whiteSpace: 'normal' } },
    { id: 'points', head: 'points', mono: true, by: (s) => s.points, cell: (s) => s.points },
    { id: 'known', head: 'station, backsights', cell: (s) => s.known.join(', '), style: { whiteSpace: 'normal' } },
  ];
  return (
    <>
      {made.map(({ name, of }) => (
        <Aside key={name} display="block">
          “{name}”: {of.triangles} {of.triangles === 1 ? 'triangle' : 'triangles'}, {of.rows.length}{' '}
          {of.rows.length === 1 ? 'point' : 'points'}
          {of.without
            ? `, ${of.without} ${of.without === 1 ? 'corner' : 'corners'} of arcs, boundaries or proposed ground`
            : ''}
        </Aside>
      ))}
      {sources.length ? (
        <SmallTable
          label="what it is made from"
          columns={columns}
          rows={sources}
          rowKey={(s) => s.key}
          onRow={(s) => (s.record ? select({ kind: 'record', ...s.record }) : undefined)}
          cellStyle={{ px: '5px', fontSize: '13px' }}
        />
      ) : null}
    </>
  );
}

interface Source {
  key: string;
  name: string;
  points: number;
  /** Points whose coordinates a setup was computed from. */
  known: string[];
  record?: { intake: string; row: number };
}

/** Setups and files that points came from, the most points first. */
function sourcesOf(doc: ProjectDocument, { points, reduction }: Tables, rows: readonly number[]): Source[] {
  const found = new Map<string, Source>();
  for (const row of new Set(rows)) {
    const intake = doc.intakes[points.intake[row]];
    if (!intake) continue;
    const at = reduction.pointAt.get(intake.id, points.fileRow[row]);
    const setup = at === undefined || at < 0 ? undefined : reduction.setups[reduction.setup[at]];
    const key = setup ? `${setup.book}:${setup.row}` : intake.id;
    const known = (): Source => ({
      key,
      name: setup ? `setup at ${setup.number}, ${intake.fileName}` : intake.fileName,
      points: 0,
      known: setup ? [...new Set([setup.number, ...setup.backsights.map((b) => b.number)])] : [], // prettier-ignore
      ...(setup ? { record: { intake: setup.book, row: setup.row } } : {}),
    });
    const source = found.get(key) ?? known();
    source.points++;
    found.set(key, source);
  }
  return [...found.values()].sort((a, b) => b.points - a.points || (a.key < b.key ? -1 : 1));
}
