import type { FileUnit } from '#core/measure';
import { cellsByHand, readCornerHeights, type HandCell } from './corner-heights.ts';
import { volumeOfSections, type CutAndFill, type GivenSection, type SectionVolumes } from './given-sections.ts';
import { areasOf, readSectionDrawings, type SectionDrawing } from './section-drawings.ts';
import { readSectionTable } from './section-table.ts';

export const HAND_KINDS = ['areas', 'drawings', 'corners'] as const;
export type HandKind = (typeof HAND_KINDS)[number];

/** What somebody typed or pasted to work a volume out by hand. */
export interface HandTable {
  kind: HandKind;
  unit: FileUnit;
  text: string;
  /** Of a grid of corners: the side of its cells, and the level, m. */
  cell: number;
  level: number;
}

/** A volume worked out by hand, with everything it is made of; or why there is none, with the row. */
export type HandVolume =
  | { ok: false; reason: string }
  | (CutAndFill & { ok: true; sections: SectionsByHand } & { cells?: undefined; leftOut?: undefined })
  | (CutAndFill & { ok: true; cells: HandCell[]; leftOut: number } & { sections?: undefined });

export interface SectionsByHand extends SectionVolumes {
  /** In order of chainage, each once. */
  sections: GivenSection[];
  /** Of section drawings; none of areas. */
  drawings: SectionDrawing[];
}

/** Works a table out: average end area and prismoidal formula of sections, mean of four corners of cells. */
export function workByHand({ kind, unit, text, cell, level }: HandTable): HandVolume {
  if (kind === 'corners') {
    const read = readCornerHeights(text, unit);
    return read.ok ? { ok: true, ...cellsByHand(read.rows, cell, level) } : read;
  }
  const read = kind === 'areas' ? readSectionTable(text, unit) : readSectionDrawings(text, unit);
  if (!read.ok) return read;
  const given = 'drawings' in read ? read.drawings.map(areasOf) : read.sections;
  const worked = volumeOfSections(given);
  if (!worked.ok) return worked;
  const each = new Map([...given].sort((a, b) => b.row - a.row).map((s) => [s.chainage, s]));
  const sections = [...each.values()].sort((a, b) => a.chainage - b.chainage);
  const drawings = 'drawings' in read ? [...read.drawings].sort((a, b) => a.chainage - b.chainage) : [];
  return { ok: true, ...worked.volumes.averageEndArea, sections: { ...worked.volumes, sections, drawings } };
}
