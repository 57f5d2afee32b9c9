/**
 * A report as tables under their headings: what a page shows, a paper prints and a spreadsheet takes are the same cells.
 */
export interface Report {
  title: string;
  /** What its numbers are, a sentence each. */
  about: string[];
  tables: ReportTable[];
  /** Many columns: paper is turned for it. */
  wide: boolean;
}

export interface ReportTable {
  kind: string;
  /** What it is about: a setup, a book’s levels, the open queries. */
  title: string;
  /** Said once below the title. */
  about: string[];
  /** A picture above its rows, SVG in points: at true scale, so that it is never made to fit. */
  drawing?: string;
  /** Something of it is out of tolerance, waits or failed. */
  marked: boolean;
  columns: readonly ReportColumn[];
  rows: ReportRow[];
}

export interface ReportColumn {
  name: string;
  /** Sign of the unit; empty where the values say it themselves, or have none. */
  unit: string;
  /** number: to the right, as a bare decimal in a spreadsheet; angle: the same in two forms. */
  kind: 'words' | 'sign' | 'number' | 'angle';
  /** Part of the width that it asks for on paper, against the others. */
  share: number;
}

export interface ReportCell {
  text: string;
  /** As a spreadsheet calculates with it, where the text is not that: decimal degrees or gons of an angle. */
  value?: string;
  /** A small picture in its place, SVG. */
  drawing?: string;
}

export interface ReportRow {
  cells: ReportCell[];
  /** Out of tolerance, waiting, failed. */
  marked: boolean;
}

export const column = (
  name: string,
  kind: ReportColumn['kind'] = 'words',
  share = kind === 'words' ? 16 : 11,
  unit = '',
): ReportColumn => ({ name, unit, kind, share });

export const row = (cells: readonly (string | ReportCell)[], marked = false): ReportRow => ({
  cells: cells.map((c) => (typeof c === 'string' ? { text: c } : c)),
  marked,
});

/** A heading with its unit. */
export const headOf = ({ name, unit }: ReportColumn): string => (unit ? `${name}, ${unit}` : name);
