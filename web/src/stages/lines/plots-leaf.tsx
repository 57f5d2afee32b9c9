import { Box, Flex } from '@chakra-ui/react';
import type { Plot } from '#core/project';
import { usualPaper } from '#core/drawing';
import { Act, Pick } from '../../frame/controls.tsx';
import { PaperAct } from '../../frame/paper.tsx';
import { useAt } from '../../frame/leaves.tsx';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { extentOf } from '../../sheet/extent.ts';
import { Empty } from '../../frame/ledger.tsx';
import { PlotForm } from './plot-form.tsx';
import { PlotPreview } from './plot-preview.tsx';
import { PlotSeries } from './plot-series.tsx';

/** Plots on paper at true scale: laid out here, seen as they will be printed. */
export function PlotsLeaf({ tables }: { tables: Tables }) {
  const { state, make, busy } = useParts('state', 'make', 'busy');
  const doc = state!.document;
  const { plots } = doc.drawing;
  const [at, setAt] = useAt();
  const canEdit = state!.project.role === 'owner' || state!.project.role === 'surveyor';
  const plot = plots.find((p) => p.id === at) ?? plots[0];
  const begin = async (): Promise<void> => {
    const extent = extentOf(tables.points.x, tables.points.y, tables.points.state) ?? [0, 0, 100, 100];
    const id = crypto.randomUUID().slice(0, 8);
    const fresh: Plot = { id, title: `Survey ${plots.length + 1}`, paper: usualPaper(doc.settings.unit), upright: false, scale: doc.settings.plotScale, x: (extent[0] + extent[2]) / 2, y: (extent[1] + extent[3]) / 2, turn: 0, grid: null, contours: true, legend: true, client: '', drawnBy: '', checkedBy: '', number: String(plots.length + 1), note: '' }; // prettier-ignore
    if (await make({ op: 'drawing.plot', id, plot: fresh })) setAt(id);
  };
  if (!plot)
    return (
      <Box>
        <Empty>
          A plot lays the drawing out on paper at true scale: title block, legend of the codes used, coordinate grid,
          north and scale bar. What is hidden on the drawing stays hidden on paper.
        </Empty>
        <Act look="solid" disabled={!canEdit || busy} onClick={() => void begin()}>
          Lay out a plot
        </Act>
      </Box>
    );
  return (
    <Flex direction="column" gap="10px" height="100%" minHeight="0" overflow="auto">
      <Flex gap="6px" wrap="wrap" align="center">
        {plots.length > 1 ? (
          <Pick aria-label="plot" value={plot.id} onChange={(e) => setAt(e.target.value)}>
            {plots.map((p) => (
              <option key={p.id} value={p.id}>
                {[p.number, p.title].filter(Boolean).join(' · ')}
              </option>
            ))}
          </Pick>
        ) : null}
        <Act disabled={!canEdit || busy} onClick={() => void begin()}>
          Another plot
        </Act>
        <PaperAct key={plot.id} project={state!.project.id} path={`plots/${plot.id}`} look="solid">
          PDF
        </PaperAct>
        <Act
          look="quiet"
          disabled={!canEdit || busy}
          onClick={() => void make({ op: 'drawing.plot', id: plot.id, plot: null })}
        >
          Delete
        </Act>
      </Flex>
      <PlotPreview tables={tables} plot={plot} />
      <PlotSeries plot={plot} tables={tables} onShow={setAt} />
      <PlotForm key={plot.id} plot={plot} tables={tables} disabled={!canEdit} />
    </Flex>
  );
}
