import { formatLength } from '#core/measure';
import type { ProjectDocument } from '#core/project';

/** A place as a sentence has it, in the project's unit and order. */
export function placeText({ settings }: Pick<ProjectDocument, 'settings'>, x: number, y: number, decimals = 2): string {
  const parts = [`E ${formatLength(x, settings.unit, decimals)}`, `N ${formatLength(y, settings.unit, decimals)}`];
  return (settings.order === 'EN' ? parts : parts.reverse()).join(' ');
}
