import { surfacesInSeries, type ProjectDocument, type Series } from '#core/project';
import { volumesOverTime, type SeriesStep } from '#core/quantities';
import { clipToRing, type Surface } from '#core/terrain';
import { surfaceIds, surfaceStage } from '../surface/stage.ts';
import { each, type Stage } from '../stage.ts';

/** The measurements of a series, with the surface of each; those that cannot be measured, with why. */
export interface SeriesResult {
  id: string;
  steps: (SeriesStep & { surface: string })[];
  without: { surface: string; reason: string }[];
}

const MS_IN_DAY = 86_400_000;
const seriesOf = (doc: ProjectDocument, id: string): Series => doc.series.find((s) => s.id === id)!;
const there = (doc: ProjectDocument, id: string): string[] => {
  const named = surfacesInSeries(seriesOf(doc, id));
  return surfaceIds(doc).filter((s) => named.includes(s));
};

/** Volumes of every series, date by date. */
export const seriesStage: Stage<SeriesResult> = {
  name: 'series',
  doing: (doc, id) => `computing ${seriesOf(doc, id).name} over time`,
  version: 1,
  subjects: (doc) => doc.series.map((s) => s.id),
  inputs: (doc, id) => each(surfaceStage, there(doc, id)),
  settings: (doc, id) => {
    const { name: _, ...series } = seriesOf(doc, id);
    return [series, there(doc, id)];
  },
  run({ doc, subject: id, result }) {
    const { within, base, surfaces } = seriesOf(doc, id);
    const ids = there(doc, id);
    const without: SeriesResult['without'] = [];
    const down = typeof base === 'object' && 'surface' in base ? (ids.includes(base.surface) ? result(surfaceStage, base.surface).surface : null) : null; // prettier-ignore
    if (typeof base === 'object' && 'surface' in base && !down?.triangles.length)
      return { id, steps: [], without: [{ surface: base.surface, reason: 'The surface that is their base is gone, or has no triangles.' }] }; // prettier-ignore
    const dated = surfaces.flatMap(({ surface, date }): { day: number; surface: Surface; of: string }[] => {
      const built = ids.includes(surface) ? result(surfaceStage, surface).surface : null;
      const part = built && (within ? clipToRing(built, Float64Array.from(within)) : built);
      if (part?.triangles.length) return [{ day: Date.parse(date) / MS_IN_DAY, surface: part, of: surface }];
      without.push({ surface, reason: built ? 'Nothing of it lies inside the boundary.' : 'It is no longer in the project.' }); // prettier-ignore
      return [];
    });
    dated.sort((a, b) => a.day - b.day);
    const to = base === 'first' ? null : 'level' in base ? base : { surface: down! };
    const steps = dated.length ? volumesOverTime(dated, to).map((step, i) => ({ ...step, surface: dated[i].of })) : [];
    return { id, steps, without };
  },
};
