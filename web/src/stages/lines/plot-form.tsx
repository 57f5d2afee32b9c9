import { chakra, Flex, Grid } from '@chakra-ui/react';
import { groundOf, PAPERS, type Plot } from '#core/project';
import { FEET_PER_INCH, fittingScale, METRIC_SCALES, plotFrames, scaleName } from '#core/drawing';
import { fromMetres, METRES_IN, readAngle, UNIT_SIGN } from '#core/measure';
import { Act, Field, Leaf, Pick, Two } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { extentOf } from '../../sheet/extent.ts';
import { sheetHandle } from '../../sheet/handle.ts';

/** What a plot is: its words, paper, scale, place and what is shown; each is one change. */
export function PlotForm({ plot, tables, disabled }: { plot: Plot; tables: Tables; disabled: boolean }) {
  const { state, make, tell } = useParts('state', 'make', 'tell');
  const { surfaces, drawing } = state!.document;
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
  // As they are shown; a field that is left so changes nothing, though the figure behind it has more places.
  const turned = String(Number(((plot.turn / Math.PI) * (angle === 'gon' ? 200 : 180)).toFixed(3)));
  const spacing = plot.grid === null ? '' : String(Number(fromMetres(plot.grid, unit).toFixed(4)));
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
              Of the view
            </Act>
            <Act disabled={disabled} onClick={fit}>
              Fit all
            </Act>
          </Flex>
        </Two>
        <Two name="north rotated by">
          <Field
            key={plot.turn}
            numeric
            aria-label="north rotated by"
            disabled={disabled}
            defaultValue={turned}
            onBlur={(e) => {
              if (e.target.value === turned) return;
              const read = readAngle(e.target.value, angle === 'dms' ? 'deg' : angle);
              if (!read.ok) return tell(read.reason);
              const turn = read.radians > Math.PI ? read.radians - 2 * Math.PI : read.radians;
              set({ turn });
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
            defaultValue={spacing}
            onBlur={(e) => {
              if (e.target.value === spacing) return;
              const typed = e.target.value.trim().replace(',', '.');
              const grid = typed === '' ? null : Number(typed) * METRES_IN[unit];
              if (grid === null || (grid >= 0 && grid <= 1e5)) set({ grid });
              else tell('A grid’s spacing is a length, or 0 for none.');
            }}
          />
        </Two>
        <Two name="shown">
          <Flex gap="4px 12px" align="center" wrap="wrap" fontSize="13px">
            <chakra.label display="inline-flex" gap="5px">
              <input
                type="checkbox"
                disabled={disabled}
                checked={plot.contours}
                onChange={(e) => set({ contours: e.target.checked })}
              />{' '}
              contours
            </chakra.label>
            {drawing.looks.length ? (
              <Pick
                aria-label="look whose tints are printed"
                maxWidth="210px"
                disabled={disabled}
                value={plot.look ?? ''}
                onChange={(e) => set({ look: e.target.value || undefined })}
              >
                <option value="">without tints</option>
                {drawing.looks.map((l) => (
                  <option key={l.id} value={l.id}>
                    tints of “{l.name}”
                  </option>
                ))}
              </Pick>
            ) : null}
            {(plot.contours || plot.look) && surfaces.length > 1 ? (
              <Pick
                aria-label="surface that is plotted"
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
