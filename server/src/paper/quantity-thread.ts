import type { ChainSummary } from '#core/chain';
import { crossSections, extentOfPieces, lineOfSections, madeFrom, type CrossSection, type DifferencePieces, type SectionedSurface } from '#core/quantities'; // prettier-ignore
import type { Comparison, ProjectDocument } from '#core/project';
import { quantityReport, reportCsv, type ReportedOn, type UsedPoint } from '#core/report';
import { unpackPieces, unpackPoints, unpackSurface } from '#core/stages';
import { groundFinder, ofTriangles, type Surface } from '#core/terrain';
import { pagedPdf, type PaperMade } from './paged.ts';

// The report of a comparison is put together on a thread of its own: its sections and its points are looked up in surfaces of any size.

export interface QuantityReportTask {
  document: ProjectDocument;
  comparison: string;
  form: 'pdf' | 'csv';
  summary: Uint8Array;
  pieces: Uint8Array;
  points: Uint8Array;
  /** Packed surfaces that are compared, by their ids. */
  triangles: Record<string, Uint8Array>;
  of: ReportedOn;
  mark: string;
  boxes: boolean;
}

/** A comparison for whoever has to rely on it, on paper or as rows. */
export async function makeQuantityReport(task: QuantityReportTask): Promise<PaperMade> {
  const { document, of } = task;
  const comparison = document.comparisons.find((c) => c.id === task.comparison)!;
  const summary = JSON.parse(new TextDecoder().decode(task.summary)) as ChainSummary;
  const figures = summary.comparisons.find((c) => c.id === comparison.id);
  if (!figures?.ok) throw new Error(figures?.reason ?? 'The comparison has no figures.');
  const pieces = unpackPieces(task.pieces);
  const surfaces = new Map(Object.entries(task.triangles).map(([id, block]) => [id, unpackSurface(block)]));
  // Cells that are only looked at tell neither a section nor a triangle.
  const exact = figures.cells === null && pieces.length > 0;
  const spacing = comparison.methods?.spacing ?? (figures.byHand.ok ? figures.byHand.sizes.spacing : null);
  const shown = {
    pieces,
    sections: exact && spacing ? sectionsThrough(document, comparison, surfaces, pieces, spacing) : [],
    points: exact ? pointsUsed(document, unpackPoints(task.points), comparison, surfaces, pieces) : [],
  };
  const report = quantityReport(document, comparison, figures, summary, of, shown);
  if (task.form === 'csv') return { bytes: new TextEncoder().encode(reportCsv(report, 'deg')), lacking: null };
  return pagedPdf(report, task.mark, task.boxes);
}

/** Sections at the spacing of the hand method, as wide as what is compared; none where they would be thousands. */
function sectionsThrough(
  { surfaces: recipes }: ProjectDocument,
  { surface, against, along }: Comparison,
  surfaces: ReadonlyMap<string, Surface>,
  pieces: DifferencePieces,
  spacing: number,
): CrossSection[] {
  const box = extentOfPieces(pieces);
  const course = lineOfSections(along, box);
  // A line that was drawn may run anywhere beside what is compared; else it runs through its middle.
  const reach = along ? Math.hypot(box[2] - box[0], box[3] - box[1]) : 0.55 * (box[3] - box[1]);
  const named = (id: string): SectionedSurface[] => {
    const of = surfaces.get(id);
    return of ? [{ name: recipes.find((r) => r.id === id)?.name ?? id, finder: groundFinder(of) }] : [];
  };
  const other = 'surface' in against ? named(against.surface) : 'level' in against ? [{ name: 'level', level: against.level }] : []; // prettier-ignore
  const asked = { course, spacing, bends: true, left: reach, right: reach };
  try {
    return crossSections(asked, [...named(surface), ...other], groundFinder(ofTriangles(pieces))); // prettier-ignore
  } catch (error) {
    if (error instanceof RangeError) return [];
    throw error;
  }
}

/** Points at the corners of the triangles that are compared, surface by surface, each once. */
function pointsUsed(
  { intakes }: ProjectDocument,
  points: ReturnType<typeof unpackPoints>,
  comparison: Comparison,
  surfaces: ReadonlyMap<string, Surface>,
  pieces: DifferencePieces,
): UsedPoint[] {
  const { surface, against } = comparison;
  const ids = [surface, ...('surface' in against ? [against.surface] : [])];
  const rows = new Set(ids.flatMap((id) => (surfaces.has(id) ? [...madeFrom(pieces, surfaces.get(id)!).rows] : [])));
  return [...rows]
    .filter((row) => row < points.x.length)
    .map((row) => ({
      number: points.number[row],
      x: points.x[row],
      y: points.y[row],
      z: points.z[row],
      code: points.description[row],
      from: intakes[points.intake[row]]?.fileName ?? '',
    }));
}
