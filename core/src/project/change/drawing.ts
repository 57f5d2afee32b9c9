import type { Change } from './schema.ts';
import type { Applied } from './applied.ts';
import type { ProjectDocument } from '../document.ts';
import type { DrawingSettings } from '../document/drawing-schema.ts';

export type DrawingChange = Extract<
  Change,
  { op: 'drawing.set' | 'drawing.layer' | 'drawing.plot' | 'drawing.series' | 'drawing.label' }
>;

/** Applies a change to how all is drawn, and gives the one that takes it back. */
export function changeDrawing(doc: ProjectDocument, change: DrawingChange): Applied {
  const { drawing } = doc;
  const yes = (part: Partial<DrawingSettings>, inverse: Change): Applied => ({
    ok: true,
    document: { ...doc, drawing: { ...drawing, ...part } },
    inverse,
  });
  switch (change.op) {
    case 'drawing.set': {
      const before: Record<string, unknown> = {};
      for (const key of Object.keys(change.drawing)) before[key] = drawing[key as keyof DrawingSettings];
      return yes(change.drawing, { op: 'drawing.set', drawing: before });
    }
    case 'drawing.layer': {
      const { [change.layer]: before, ...layers } = drawing.layers;
      if (change.look) layers[change.layer] = change.look;
      return yes({ layers }, { ...change, look: (before as typeof before | undefined) ?? null });
    }
    case 'drawing.label': {
      const { [change.key]: before, ...moved } = drawing.moved;
      if (change.to) moved[change.key] = change.to;
      return yes({ moved }, { ...change, to: (before as typeof before | undefined) ?? null });
    }
    case 'drawing.plot': {
      const at = drawing.plots.findIndex((p) => p.id === change.id);
      if (change.plot && change.plot.id !== change.id) return { ok: false, reason: 'A plot keeps its name.' };
      const plots = drawing.plots.filter((p) => p.id !== change.id);
      const place = change.at ?? (at < 0 ? plots.length : at);
      if (change.plot) plots.splice(place, 0, change.plot);
      else if (at < 0) return { ok: false, reason: 'This plot is no longer in the project.' };
      return yes(
        { plots },
        { op: change.op, id: change.id, plot: at < 0 ? null : drawing.plots[at], ...(at < 0 ? {} : { at }) },
      );
    }
    case 'drawing.series': {
      const { id } = change;
      if (change.plots.some((p) => p.series !== id)) return { ok: false, reason: 'A sheet of a series names it.' };
      const before = drawing.plots.flatMap((p, at) => (p.series === id ? [{ p, at }] : []));
      if (change.plots.length === 0 && before.length === 0) return { ok: false, reason: 'This series is no longer in the project.' }; // prettier-ignore
      const plots = drawing.plots.filter((p) => p.series !== id);
      if (plots.length + change.plots.length > MOST_PLOTS) return { ok: false, reason: `A project has at most ${MOST_PLOTS} plots. Delete some, or take larger sheets.` }; // prettier-ignore
      if (change.plots.some((p, i) => [...plots, ...change.plots.slice(0, i)].some((o) => o.id === p.id))) return { ok: false, reason: 'Two plots have the same id.' }; // prettier-ignore
      change.plots.forEach((plot, i) => plots.splice(change.at?.[i] ?? plots.length, 0, plot));
      return yes({ plots }, { op: change.op, id, plots: before.map((b) => b.p), at: before.map((b) => b.at) });
    }
  }
}

/** As many as a document holds. */
const MOST_PLOTS = 200;

const PART_NAME: Record<string, string> = { labels: 'labels', symbolSize: 'the size of symbols', lineWidth: 'the width of lines', looks: 'the looks of surfaces' }; // prettier-ignore

export function describeDrawing(change: DrawingChange): string {
  switch (change.op) {
    case 'drawing.set':
      return `set ${Object.keys(change.drawing)
        .map((k) => PART_NAME[k] ?? k)
        .join(', ')}`;
    case 'drawing.layer':
      return `set how layer ${change.layer} is drawn`;
    case 'drawing.label':
      return change.to ? 'moved a label' : 'put a label back to its place';
    case 'drawing.plot':
      return change.plot ? `laid out the plot “${change.plot.title}”` : 'deleted a plot';
    case 'drawing.series':
      return change.plots.length
        ? `laid out ${change.plots.length} sheets with “${change.plots[0].title}”`
        : 'deleted a series of plots';
  }
}

export function drawingTouches(change: DrawingChange): string[] {
  switch (change.op) {
    case 'drawing.set':
      return Object.keys(change.drawing).map((k) => `drawing/${k}`);
    case 'drawing.layer':
      return [`drawing/layer/${change.layer}`];
    case 'drawing.label':
      return [`drawing/label/${change.key}`];
    case 'drawing.plot':
      return [`drawing/plot/${change.id}`];
    case 'drawing.series':
      return change.plots.length ? change.plots.map((p) => `drawing/plot/${p.id}`) : ['drawing/plot'];
  }
}
