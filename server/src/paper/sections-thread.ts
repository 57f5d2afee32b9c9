import {
  crossSections,
  extentOfPieces,
  lineOfSections,
  profileAlong,
  type CrossSection,
  type SectionedSurface,
  type SectionsAsked,
} from '#core/quantities';
import type { ProjectDocument } from '#core/project';
import {
  nearOf,
  profileSheets,
  sectionsCsv,
  sectionsDxf,
  sectionsLandXml,
  sectionSheets,
  sizeOfSections,
  usualScale,
} from '#core/report';
import { setPointsOf, unpackLineColumns, unpackPieces, unpackPoints, unpackSurface } from '#core/stages';
import { groundFinder, ofTriangles } from '#core/terrain';
import { pagedPdf, type PaperMade } from './paged.ts';

// Sections are cut on a thread of their own: through large surfaces it takes its time.

export const SECTION_FORMS = ['pdf', 'profile', 'csv', 'dxf', 'xml'] as const;
export type SectionForm = (typeof SECTION_FORMS)[number];

export interface SectionsTask {
  document: ProjectDocument;
  comparison: string;
  asked: Omit<SectionsAsked, 'course'>;
  /** Packed surfaces by their names, or a level, in the order in which they are drawn. */
  through: { name: string; triangles?: Uint8Array; level?: number }[];
  /** Packed points and lines, to be told where they lie near a section, and how near points are, m; null where nobody asks. */
  near: { points: Uint8Array; lines: Uint8Array; within: number } | null;
  /** Packed pieces of what is compared. */
  pieces: Uint8Array;
  form: SectionForm;
  /** One to so many; null for the largest usual one that goes on a sheet. */
  scale: number | null;
  times: number;
  of: { name: string; revision: number; date: string };
  made: string;
  mark: string;
  boxes: boolean;
}

/** Sections as sheets, as a table, as lines in space, or across an alignment; or why there are none. */
export async function makeSections(task: SectionsTask): Promise<PaperMade | { reason: string }> {
  const { document, form } = task;
  const comparison = document.comparisons.find((c) => c.id === task.comparison)!;
  const through = task.through.map(({ name, triangles, level }): SectionedSurface => (triangles ? { name, finder: groundFinder(unpackSurface(triangles)) } : { name, level: level! })); // prettier-ignore
  const pieces = unpackPieces(task.pieces);
  const course = lineOfSections(comparison.along, extentOfPieces(pieces));
  let sections;
  try {
    if (form === 'profile') {
      const profile = profileAlong(course, through);
      if (profile.surfaces[0].runs.length === 0) return { reason: 'The line meets nothing of the surface that is compared: it runs elsewhere.' }; // prettier-ignore
      return await pagedPdf(profileSheets(document, comparison, profile, { ...task, spacing: task.asked.spacing }, task.of), task.mark, task.boxes); // prettier-ignore
    }
    sections = withNear(crossSections({ ...task.asked, course }, through, groundFinder(ofTriangles(pieces))), task);
  } catch (error) {
    if (error instanceof RangeError) return { reason: error.message };
    throw error;
  }
  if (sections.every((s) => s.surfaces[0].runs.length === 0)) return { reason: 'No section meets the surface that is compared: its line runs elsewhere.' }; // prettier-ignore
  const about = { name: comparison.name, course, unit: document.settings.unit, made: task.made };
  const text = (written: string | Uint8Array): PaperMade => ({ bytes: typeof written === 'string' ? new TextEncoder().encode(written) : written, lacking: null }); // prettier-ignore
  if (form === 'csv') return text(sectionsCsv(sections, about));
  if (form === 'xml') return text(sectionsLandXml(sections, about));
  if (form === 'dxf') return text(sectionsDxf(sections, about));
  const { wide, high } = sizeOfSections(sections);
  const scale = task.scale ?? usualScale(wide, high * task.times);
  return pagedPdf(sectionSheets(document, comparison, sections, { scale, times: task.times }, task.of), task.mark, task.boxes); // prettier-ignore
}

/** Sections with the points and lines that lie near them. */
function withNear(sections: CrossSection[], { near, asked }: SectionsTask): CrossSection[] {
  if (!near) return sections;
  const find = nearOf(setPointsOf(unpackPoints(near.points)), unpackLineColumns(near.lines).lines);
  return sections.map((s) => ({ ...s, near: find(s, asked, near.within) }));
}
