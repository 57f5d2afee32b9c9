import { Box } from '@chakra-ui/react';
import { useState } from 'react';
import type { FileUnit } from '#core/measure';
import { cornersOfSurface } from '#core/quantities';
import { placeText } from '#core/queries';
import { measureSurface } from '#core/terrain';
import { Aside, Pick } from '../../../frame/controls.tsx';
import { useParts } from '../../../project-state/store.ts';

interface CornersFromSurfaceProps {
  /** m */
  cell: number;
  unit: FileUnit;
  onText: (text: string) => void;
}

/** Fills the table with the elevations of a surface at the corners of its cells: between contours, by straight lines. */
export function CornersFromSurface({ cell, unit, onText }: CornersFromSurfaceProps) {
  const { state, tables } = useParts('state', 'tables');
  const [said, setSaid] = useState<string | null>(null);
  const doc = state!.document;
  const withTriangles = doc.surfaces.filter((s) => tables!.surfaces.get(s.id)?.triangles.length);
  const fill = (id: string): void => {
    const finder = tables!.finders.get(id)!;
    const { extent } = measureSurface(tables!.surfaces.get(id)!);
    const read = cornersOfSurface((x, y) => finder.at(x, y)?.elevation ?? null, extent, cell, unit);
    if ('reason' in read) return setSaid(read.reason);
    onText(read.text);
    setSaid(`${read.rows} rows of ${read.columns} corners; the north-west one is at ${placeText(doc, read.x, read.y)}.`); // prettier-ignore
  };
  if (withTriangles.length === 0) return null;
  return (
    <Box mt="4px">
      <Pick
        aria-label="surface that the corners are read off"
        height="24px"
        maxWidth="230px"
        value=""
        onChange={(e) => fill(e.target.value)}
      >
        <option value="">read them off contours or a surface …</option>
        {withTriangles.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}
          </option>
        ))}
      </Pick>{' '}
      {said ? <Aside role="status">{said}</Aside> : null}
    </Box>
  );
}
