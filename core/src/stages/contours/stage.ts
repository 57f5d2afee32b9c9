import { contours, contoursAgain, type Contour, type ContourSettings, type Surface } from '#core/terrain';
import { recipeOf, surfaceIds, surfaceStage } from '../surface/stage.ts';
import { each, type Stage } from '../stage.ts';
import { contourSettings, drawContours, type DrawnContours } from './contours.ts';
import { packContours } from './pack.ts';

interface Drawn {
  surface: Surface;
  settings: ContourSettings;
  contours: Contour[];
}

/** Contours of every surface, or why there are none. */
export const contoursStage: Stage<DrawnContours> = {
  name: 'contours',
  doing: (doc, id) => `contouring ${recipeOf(doc, id).name}`,
  version: 19,
  subjects: surfaceIds,
  inputs: (_, id) => each(surfaceStage, [id]),
  settings: (doc, id) => contourSettings(doc, recipeOf(doc, id)),
  run: ({ doc, subject: id, result, memory }) => {
    const { surface } = result(surfaceStage, id);
    const last = memory.own('contours', () => new Map<string, Drawn>());
    for (const gone of [...last.keys()].filter((s) => !surfaceIds(doc).includes(s))) last.delete(gone);
    return drawContours(contourSettings(doc, recipeOf(doc, id)), (settings) => {
      const { drawn, levels } = drawAgain(last.get(id), surface, settings);
      memory.count('contour levels drawn', levels);
      last.set(id, { surface, settings, contours: drawn });
      return drawn;
    });
  },
  pack: ({ list }) => packContours(list),
};

/** Contours of which only levels are drawn again that pass where heights changed, and how many those were. */
function drawAgain(
  before: Drawn | undefined,
  surface: Surface,
  settings: ContourSettings,
): { drawn: Contour[]; levels: number } {
  const alike =
    before?.surface.triangles === surface.triangles &&
    before.settings.interval === settings.interval &&
    before.settings.smooth === settings.smooth &&
    before.settings.indexEvery === settings.indexEvery;
  const again = alike ? contoursAgain(before.surface, before.contours, surface, settings) : null;
  if (again) return { drawn: again.contours, levels: again.levels };
  const drawn = contours(surface, settings);
  return { drawn, levels: new Set(drawn.map((c) => c.elevation)).size };
}
