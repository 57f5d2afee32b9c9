import type { Contour, ContourSettings } from '#core/terrain';
import type { ProjectDocument, SurfaceRecipe } from '#core/project';

/** Contours of a surface, or why there are none; none are asked for where the recipe says so. */
export interface DrawnContours {
  list: Contour[];
  problem: string | null;
}

/** How a surface is contoured; null where it is not. */
export function contourSettings(
  { settings }: Pick<ProjectDocument, 'settings'>,
  recipe: Pick<SurfaceRecipe, 'interval' | 'indexEvery' | 'smooth'>,
): ContourSettings | null {
  const interval = recipe.interval ?? settings.contourInterval;
  return interval === 'none'
    ? null
    : { interval, indexEvery: recipe.indexEvery ?? settings.indexEvery, smooth: recipe.smooth ?? false };
}

/** A surface is contoured, or says in a sentence why it cannot be. */
export function drawContours(
  settings: ContourSettings | null,
  draw: (settings: ContourSettings) => Contour[],
): DrawnContours {
  if (!settings) return { list: [], problem: null };
  try {
    return { list: draw(settings), problem: null };
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return { list: [], problem: error.message };
  }
}
