import { reportCsv } from './csv.ts';
import type { Report } from './table.ts';

/** Statistics of a surface as a table: what it measures, its area by slope, its check shots and its parts. */
export const surfaceCsv = (report: Report): string =>
  reportCsv({ ...report, tables: report.tables.filter((t) => ['measures', 'slopes', 'checks', 'parts'].includes(t.kind)) }, 'deg'); // prettier-ignore
