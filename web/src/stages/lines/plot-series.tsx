import { Box, Flex } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { gridOfWindows, MOST_SHEETS, scaleName, seriesOf, stripOfWindows, type SheetWindow } from '#core/drawing';
import type { Plot } from '#core/project';
import { Act, Aside, Leaf, Pick } from '../../frame/controls.tsx';
import { PaperAct } from '../../frame/paper.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';

/** Sheets like the one shown, over the whole survey or along the selected line, with an overview; all of a series as one PDF. */
export function PlotSeries({ plot, tables, onShow }: { plot: Plot; tables: Tables; onShow: (id: string) => void }) {
  const { state, make, busy, selection } = useParts('state', 'make', 'busy', 'selection');
  const [how, setHow] = useState<'grid' | 'strip'>('grid');
  const { project, document: doc } = state!;
  const line = selection?.kind === 'line' ? tables.linework.lines.find((l) => l.key === selection.key) : undefined;
  const windows = useMemo((): SheetWindow[] | string => {
    if (how === 'strip' && !line)
      return 'Select the line that the sheets are to follow, on the drawing or in the table.';
    const found =
      line && how === 'strip' ? stripOfWindows(plot, placesOf(line)) : gridOfWindows(plot, ...usedPlaces(tables));
    if (!found)
      return `More than ${MOST_SHEETS} sheets at this scale. Take a larger paper, a smaller scale, or exclude points far off.`;
    if (found.length < 2)
      return found.length ? 'One sheet at this scale holds it all.' : 'There is nothing to lay out.';
    return found;
  }, [how, line, plot, tables]);
  const layOut = async (): Promise<void> => {
    const id = crypto.randomUUID().slice(0, 8);
    const sheets = seriesOf(plot, windows as SheetWindow[], id, doc.settings.unit);
    if (await make({ op: 'drawing.series', id, plots: sheets })) onShow(sheets[0].id);
  };
  const { series } = plot;
  const canEdit = useCanChange();
  if (series === undefined && !canEdit) return null;
  if (series !== undefined) {
    const count = doc.drawing.plots.filter((p) => p.series === series).length;
    return (
      <Flex gap="8px" align="center" wrap="wrap">
        <Aside>one of a series of {count} sheets</Aside>
        <PaperAct key={series} project={project.id} path={`plots/series/${series}`}>
          PDF of all {String(count)} sheets
        </PaperAct>
        {canEdit ? (
          <Act look="quiet" disabled={busy} onClick={() => void make({ op: 'drawing.series', id: series, plots: [] })}>
            Delete the series
          </Act>
        ) : null}
      </Flex>
    );
  }
  return (
    <Leaf p="8px 12px">
      <Flex gap="8px" align="center" wrap="wrap">
        <span>Sheets like this one</span>
        <Pick
          aria-label="how the sheets are laid out"
          value={how}
          onChange={(e) => setHow(e.target.value as typeof how)}
        >
          <option value="grid">side by side over the survey</option>
          <option value="strip">along the selected line</option>
        </Pick>
        {typeof windows === 'string' ? (
          <Box>{windows}</Box>
        ) : (
          <>
            <Aside>
              {windows.length} sheets {plot.paper} at {scaleName(plot.scale, doc.settings.unit)}, and an overview
            </Aside>
            <Act disabled={busy} onClick={() => void layOut()}>
              Lay out
            </Act>
          </>
        )}
      </Flex>
    </Leaf>
  );
}

const placesOf = (line: { x: readonly number[]; y: readonly number[] }): number[] => line.x.flatMap((x, i) => [x, line.y[i]]); // prettier-ignore

/** Places of the points that take part. */
function usedPlaces({ points }: Tables): [number[], number[]] {
  const [x, y]: [number[], number[]] = [[], []];
  for (let i = 0; i < points.x.length; i++)
    if (points.state[i] === 0) {
      x.push(points.x[i]);
      y.push(points.y[i]);
    }
  return [x, y];
}
