import { formatLength, UNIT_SIGN } from '#core/measure';
import type { Comparison, ProjectDocument } from '#core/project';
import type { HeapBase } from '#core/quantities';

export const BASE_NAME: Record<HeapBase, string> = {
  lowest: 'lowest of the toe',
  mean: 'mean of the toe',
  plane: 'plane fitted to the toe',
  toe: 'triangles from the toe',
};

/** What is compared with what, in one line. */
export function comparedText(
  c: Comparison,
  { surfaces, settings: { unit } }: Pick<ProjectDocument, 'surfaces' | 'settings'>,
): string {
  // prettier-ignore
  const nameOf = (id: string): string => surfaces.find((s) => s.id === id)?.name ?? 'a surface that is gone';
  const { against, within } = c;
  const toe = within ? ', toe as drawn' : ', toe found by itself';
  if ('base' in against) return `heap in “${nameOf(c.surface)}” above the ${BASE_NAME[against.base]}${toe}`;
  if ('surface' in against && against.heap) return `heap in “${nameOf(c.surface)}” above “${nameOf(against.surface)}”${toe}`; // prettier-ignore
  const to = 'level' in against ? `level ${formatLength(against.level, unit, 3)} ${UNIT_SIGN[unit]}` : `“${nameOf(against.surface)}”`; // prettier-ignore
  return `${nameOf(c.surface)} to ${to}${within ? ', inside its boundary' : ''}`;
}
