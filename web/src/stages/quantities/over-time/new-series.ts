import type { Comparison, ProjectDocument, Series } from '#core/project';

const ISO_DATE = /\b(\d{4}-\d{2}-\d{2})\b/;

/** The date that a surface's name says, as kept surfaces have it; null where it says none. */
export const dateInName = (name: string): string | null => {
  const found = ISO_DATE.exec(name)?.[1] ?? null;
  return found && !Number.isNaN(Date.parse(found)) ? found : null;
};

/** A comparison followed over time: its surface today, and every other that has a date in its name. */
export function seriesOf(
  doc: Pick<ProjectDocument, 'surfaces'>,
  { name, surface, against, within }: Comparison,
  today: string,
): Series {
  // prettier-ignore
  const dated = doc.surfaces.flatMap((s) => {
    const date = dateInName(s.name);
    return s.id === surface || date ? [{ surface: s.id, date: date ?? today }] : [];
  });
  const base = 'level' in against ? against : 'surface' in against && !dated.some((d) => d.surface === against.surface) ? against : ('first' as const); // prettier-ignore
  return {
    id: crypto.randomUUID().slice(0, 8),
    name: `${name} over time`.slice(0, 120),
    within,
    base,
    surfaces: dated,
  };
}
