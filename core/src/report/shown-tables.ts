import type { ProjectDocument } from '#core/project';
import type { CrossSection, DifferencePieces } from '#core/quantities';
import type { Forms } from './forms.ts';
import { areasTable, drawnSections } from './section-sheets.ts';
import { column, row, type ReportTable } from './table.ts';

/** What is shown beside the figures of a comparison. */
export interface Shown {
  /** What lies between the two. */
  pieces: DifferencePieces;
  /** Across its line; none where they cannot be told exactly. */
  sections: readonly CrossSection[];
  points: readonly UsedPoint[];
}

/** A point at a corner of a triangle that is compared, m. */
export interface UsedPoint {
  number: string;
  x: number;
  y: number;
  z: number;
  code: string;
  /** The file that it came with. */
  from: string;
}

const MOST_POINTS = 5000;
/** Sections that are drawn in the report; all of them have sheets of their own. */
const MOST_DRAWN = 6;
/** Areas of all sections, and some of them drawn, spread over the line: those that cut nothing are none of them. */
export function sectionsOf(doc: ProjectDocument, sections: readonly CrossSection[], forms: Forms): ReportTable[] {
  const cutting = sections.filter((s) => (s.cut ?? 0) + (s.fill ?? 0) > 0);
  const step = Math.max(1, cutting.length / MOST_DRAWN);
  const drawn = Array.from({ length: Math.min(cutting.length, MOST_DRAWN) }, (_, i) => cutting[Math.floor((i + 0.5) * step)]); // prettier-ignore
  return [areasTable(doc, sections, forms), ...drawnSections(doc, drawn, forms)];
}

export function pointsUsed(points: readonly UsedPoint[], forms: Forms): ReportTable {
  return {
    kind: 'points',
    title: 'Points used',
    about: [`${points.length > MOST_POINTS ? `The first ${MOST_POINTS} of ${points.length}` : points.length} points at the corners of the triangles that are compared, as their surfaces have them before any manual edit.`], // prettier-ignore
    marked: false,
    columns: [column('Number', 'sign', 12), ...forms.planColumns(16), forms.lengthColumn('Elevation', 14), column('Description', 'words', 16), column('File', 'words', 26)], // prettier-ignore
    rows: points.slice(0, MOST_POINTS).map((p) => row([p.number, ...forms.plan(p.x, p.y), forms.elevation(p.z), p.code, p.from])), // prettier-ignore
  };
}
