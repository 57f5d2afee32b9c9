import { formatChainage } from '#core/measure';
import type { Comparison, ProjectDocument } from '#core/project';
import { partOfProfile, type Profile } from '#core/quantities';
import { comparedText } from './compared-text.ts';
import { formsOf, type Forms } from './forms.ts';
import { RULE, sectionFigure, type SheetScale } from './section-figure.ts';
import { elevationText, LINE_NAME, usualScale, widthOnSheet } from './section-sheets.ts';
import { column, row, type Report, type ReportTable } from './table.ts';

/** Columns of values under a part of a profile. */
const MOST_VALUES = 14;
/** m; chainages nearer than this are one. */
const TOGETHER = 1e-3;

/** A profile on sheets at true scale, in as many parts as it is longer than a sheet; elevations are told every so many metres and where the line bends. */
export function profileSheets(
  doc: ProjectDocument,
  comparison: Comparison,
  profile: Profile,
  asked: { scale: number | null; times: number; spacing: number },
  of: { name: string; revision: number; date: string },
): Report {
  const forms = formsOf(doc);
  const z = profile.surfaces.flatMap((s) => s.runs.flatMap((r) => r.z));
  const high = z.length ? Math.max(...z) - Math.min(...z) + 2 * RULE : 0;
  const scale = asked.scale ?? usualScale(profile.length, high * asked.times);
  const most = widthOnSheet(scale);
  const parts = Math.max(1, Math.ceil(profile.length / most - 1e-9));
  const each = profile.length / parts;
  return {
    title: `Profile: ${comparison.name}`,
    about: [
      `${comparedText(comparison, doc)}. ${of.name}, revision ${of.revision}, ${of.date}.`,
      `Scale 1 : ${scale}${asked.times === 1 ? '' : ` along, 1 : ${scale / asked.times} up`}. ${profile.surfaces.map((s, i) => `${s.name} ${LINE_NAME[i % LINE_NAME.length]}`).join(', ')}.`, // prettier-ignore
    ],
    wide: true,
    tables: Array.from({ length: parts }, (_, k) => partSheet(doc, profile, k * each, (k + 1) * each, { ...asked, scale }, forms)), // prettier-ignore
  };
}

function partSheet(
  doc: ProjectDocument,
  whole: Profile,
  from: number,
  to: number,
  { scale, times, spacing }: SheetScale & { spacing: number },
  forms: Forms,
): ReportTable {
  const { settings } = doc;
  const part = partOfProfile(whole, from, to);
  const chainage = (m: number): string => formatChainage(m, settings.unit, settings.chainage, 2);
  const all = [from, to, ...part.bends, ...steps(from, to, spacing)].sort((a, b) => a - b);
  const told = all.filter((c, i) => i === 0 || c - all[i - 1] > TOGETHER);
  const step = Math.ceil(told.length / MOST_VALUES);
  const shown = told.filter((_, i) => i % step === 0 || i === told.length - 1);
  const { svg, datum } = sectionFigure(part, { scale, times });
  return {
    kind: 'profile',
    title: `From ${chainage(from)} to ${chainage(to)} ${forms.sign}`,
    about: [svg ? `The lowest rule is at elevation ${forms.length(datum, 2)} ${forms.sign}; rules are ${forms.length(RULE / times, 2)} ${forms.sign} apart.${step > 1 ? ` Of ${told.length} chainages one in ${step} is shown.` : ''}` : 'Nothing of the surfaces lies there.'], // prettier-ignore
    marked: false,
    columns: [column('', 'words', 18), ...shown.map((c) => column(chainage(c), 'number', 8))],
    drawing: svg ?? undefined,
    rows: part.surfaces.map((s) => row([s.name, ...shown.map((c) => elevationText(s.runs, c, forms))])),
  };
}

/** Chainages every so many metres from the beginning of the line, between two. */
function steps(from: number, to: number, spacing: number): number[] {
  const out: number[] = [];
  for (let k = Math.ceil(from / spacing); k * spacing <= to; k++) out.push(k * spacing);
  return out;
}
