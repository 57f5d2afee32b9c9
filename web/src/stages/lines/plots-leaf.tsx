import { PaperAct } from '../../frame/paper.tsx';
import { Box, chakra, Flex, Grid } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import { groundOf, PAPERS, type Plot } from '#core/project';
import { FEET_PER_INCH, fittingScale, METRIC_SCALES, plotFrames, plotOnGround, scaleName } from '#core/drawing';
import { fromMetres, METRES_IN, readAngle, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Field, Leaf, Pick, Two } from '../../frame/controls.tsx';
import { useAt } from '../../frame/leaves.tsx';
import { useParts, useProject } from '../../project-state/store.ts';
import { plotSource, type Tables } from '../../project-state/tables.ts';
import { extentOf } from '../../sheet/extent.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { plotWork } from '../../work/workers.ts';
import { Empty } from '../../frame/ledger.tsx';

/** Pixels across the preview; shown at half that where the screen is fine. */
const PREVIEW = 1100;

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
    const fresh: Plot = { id, title: `Survey ${plots.length + 1}`, paper: 'A3', upright: false, scale: doc.settings.plotScale, x: (extent[0] + extent[2]) / 2, y: (extent[1] + extent[3]) / 2, turn: 0, grid: null, contours: true, legend: true, client: '', drawnBy: '', checkedBy: '', number: String(plots.length + 1), note: '' }; // prettier-ignore
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
                {p.title}
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
      <Preview tables={tables} plot={plot} />
      <PlotForm key={plot.id} plot={plot} tables={tables} disabled={!canEdit} />
    </Flex>
  );
}

function PlotForm({ plot, tables, disabled }: { plot: Plot; tables: Tables; disabled: boolean }) {
  const { state, make, tell } = useParts('state', 'make', 'tell');
  const { surfaces } = state!.document;
  const { unit, angle } = state!.document.settings;
  const set = (part: Partial<Plot>): void => void make({ op: 'drawing.plot', id: plot.id, plot: { ...plot, ...part } });
  const text = (key: 'title' | 'client' | 'drawnBy' | 'checkedBy' | 'number' | 'note', name: string) => (
    <Two name={name}>
      <Field
        key={plot[key]}
        aria-label={name}
        disabled={disabled}
        defaultValue={plot[key]}
        onBlur={(e) =>
          e.target.value.trim() !== plot[key] &&
          (key !== 'title' || e.target.value.trim()) &&
          set({ [key]: e.target.value.trim() })
        }
      />
    </Two>
  );
  const fit = (): void => {
    const e = extentOf(tables.points.x, tables.points.y, tables.points.state);
    if (!e) return;
    const { window } = plotFrames(plot);
    const scale = fittingScale((e[2] - e[0]) * 1.04, (e[3] - e[1]) * 1.04, [window.width, window.height], unit);
    set({ x: (e[0] + e[2]) / 2, y: (e[1] + e[3]) / 2, scale });
  };
  return (
    <Leaf head="The plot">
      <Grid templateColumns="auto 1fr auto 1fr" gap="5px 10px" p="2px 12px 10px">
        {text('title', 'title')}
        {text('number', 'plot number')}
        <Two name="paper">
          <Flex gap="6px">
            <Pick
              aria-label="paper"
              disabled={disabled}
              value={plot.paper}
              onChange={(e) => set({ paper: e.target.value as Plot['paper'] })}
            >
              {PAPERS.map((p) => (
                <option key={p}>{p}</option>
              ))}
            </Pick>
            <Pick
              aria-label="which way"
              disabled={disabled}
              value={plot.upright ? 'portrait' : 'landscape'}
              onChange={(e) => set({ upright: e.target.value === 'portrait' })}
            >
              <option value="landscape">landscape</option>
              <option value="portrait">portrait</option>
            </Pick>
          </Flex>
        </Two>
        <Two name="scale">
          <Pick
            aria-label="scale of the plot"
            disabled={disabled}
            value={plot.scale}
            onChange={(e) => set({ scale: Number(e.target.value) })}
          >
            {[...new Set([...METRIC_SCALES, ...FEET_PER_INCH.map((f) => f * 12), plot.scale])]
              .sort((a, b) => a - b)
              .map((s) => (
                <option key={s} value={s}>
                  {scaleName(s, s % 12 === 0 && s % 50 !== 0 ? 'ft' : unit)}
                </option>
              ))}
          </Pick>
        </Two>
        <Two name="middle">
          <Flex gap="6px">
            <Act
              disabled={disabled}
              onClick={() => {
                const place = sheetHandle.current?.middle();
                if (place) set(place);
                else tell('Show the plan on the drawing first.');
              }}
            >
              Of the sheet
            </Act>
            <Act disabled={disabled} onClick={fit}>
              Fit all
            </Act>
          </Flex>
        </Two>
        <Two name="north turned by">
          <Field
            key={plot.turn}
            numeric
            aria-label="north turned by"
            disabled={disabled}
            defaultValue={String(Number(((plot.turn / Math.PI) * (angle === 'gon' ? 200 : 180)).toFixed(3)))}
            onBlur={(e) => {
              const read = readAngle(e.target.value, angle === 'dms' ? 'deg' : angle);
              if (!read.ok) return tell(read.reason);
              const turn = read.radians > Math.PI ? read.radians - 2 * Math.PI : read.radians;
              if (turn !== plot.turn) set({ turn });
            }}
          />
        </Two>
        <Two name={`grid every ${UNIT_SIGN[unit]}`}>
          <Field
            key={String(plot.grid)}
            numeric
            aria-label="grid spacing"
            placeholder="to suit the scale"
            disabled={disabled}
            defaultValue={plot.grid === null ? '' : String(fromMetres(plot.grid, unit))}
            onBlur={(e) => {
              const typed = e.target.value.trim().replace(',', '.');
              const grid = typed === '' ? null : Number(typed) * METRES_IN[unit];
              if (grid === null || (grid >= 0 && grid <= 1e5)) {
                if (grid !== plot.grid) set({ grid });
              } else tell('A grid’s spacing is a length, or 0 for none.');
            }}
          />
        </Two>
        <Two name="shown">
          <Flex gap="12px" align="center" fontSize="13px">
            <chakra.label display="inline-flex" gap="5px">
              <input
                type="checkbox"
                disabled={disabled}
                checked={plot.contours}
                onChange={(e) => set({ contours: e.target.checked })}
              />{' '}
              contours
            </chakra.label>
            {plot.contours && surfaces.length > 1 ? (
              <Pick
                aria-label="surface whose contours are plotted"
                maxWidth="210px"
                disabled={disabled}
                value={plot.surface ?? groundOf(state!.document).id}
                onChange={(e) => set({ surface: e.target.value })}
              >
                {surfaces.map((s) => (
                  <option key={s.id} value={s.id}>
                    of {s.name}
                  </option>
                ))}
              </Pick>
            ) : null}
            <chakra.label display="inline-flex" gap="5px">
              <input
                type="checkbox"
                disabled={disabled}
                checked={plot.legend}
                onChange={(e) => set({ legend: e.target.checked })}
              />{' '}
              legend
            </chakra.label>
          </Flex>
        </Two>
        {text('client', 'client')}
        {text('note', 'note')}
        {text('drawnBy', 'drawn by')}
        {text('checkedBy', 'checked by')}
      </Grid>
    </Leaf>
  );
}

/** The plot as it will be printed, drawn beside the page; its frame stands on the drawing too. */
function Preview({ tables, plot }: { tables: Tables; plot: Plot }) {
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
      .preview(plotSource(tables, project.id, plot.surface), doc, plot, facts, PREVIEW)
      .then(
        ({ bitmap, labelsLeftAway }) => {
          const element = canvas.current;
          if (!wanted || !element) return;
          element.width = bitmap.width;
          element.height = bitmap.height;
          element.getContext('2d')!.drawImage(bitmap, 0, 0);
          setSaid(labelsLeftAway ? `${labelsLeftAway} labels found no free place and are left out; a larger scale or smaller letters make room` : 'every label found a place'); // prettier-ignore
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
