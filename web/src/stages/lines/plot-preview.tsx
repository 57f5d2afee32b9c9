import { Box, chakra } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import type { Plot } from '#core/project';
import { plotFrames, plotOnGround } from '#core/drawing';
import { Aside } from '../../frame/controls.tsx';
import { useParts, useProject } from '../../project-state/store.ts';
import { plotSource, type Tables } from '../../project-state/tables.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { plotWork } from '../../work/workers.ts';

/** Pixels across the preview; shown at half that where the screen is fine. */
const PREVIEW = 1100;

/** The plot as it will be printed, drawn beside the page; its frame stands on the drawing too. */
export function PlotPreview({ tables, plot }: { tables: Tables; plot: Plot }) {
  const { state } = useParts('state');
  const canvas = useRef<HTMLCanvasElement>(null);
  const [said, setSaid] = useState('drawing …');
  const { page } = plotFrames(plot);
  const { document: doc, project } = state!;
  useEffect(() => {
    let wanted = true;
    const facts = {
      project: project.name,
      revision: tables.revision,
      date: new Date().toISOString().slice(0, 10),
    };
    plotWork()
      .preview(
        plotSource(
          tables,
          project.id,
          plot.surface,
          doc.drawing.looks.some((l) => l.id === plot.look),
        ),
        doc,
        plot,
        facts,
        PREVIEW,
      )
      .then(
        ({ bitmap, labelsLeftAway, empty }) => {
          const element = canvas.current;
          if (!wanted || !element) return;
          element.width = bitmap.width;
          element.height = bitmap.height;
          element.getContext('2d')!.drawImage(bitmap, 0, 0);
          setSaid(empty ? 'Nothing of the project is in this window: its middle or its scale is not where the survey is.' : labelsLeftAway ? `${labelsLeftAway} labels have no free place and are left out; a larger scale or smaller letters make room` : 'every label has a place'); // prettier-ignore
        },
        (error: unknown) =>
          wanted && setSaid(`The plot cannot be drawn: ${error instanceof Error ? error.message : String(error)}`),
      );
    return () => {
      wanted = false;
    };
  }, [tables, plot, doc, project.id, project.name]);
  useEffect(() => {
    const courses = plotOnGround(plot);
    useProject.setState({
      sketch: { places: new Float64Array(), arrows: [], courses, about: `the paper of ${plot.title}` },
    });
    sheetHandle.current?.fitTo(
      courses[0].filter((_, i) => i % 2 === 0),
      courses[0].filter((_, i) => i % 2 === 1),
    );
    return () => useProject.setState({ sketch: null });
  }, [plot]);
  return (
    <Box>
      <chakra.canvas
        ref={canvas}
        width="100%"
        style={{ aspectRatio: `${page[0]} / ${page[1]}` }}
        border="1px solid"
        borderColor="slate"
        role="img"
        aria-label={`plot ${plot.title}`}
        display="block"
      />
      <Aside>{said}</Aside>
    </Box>
  );
}
