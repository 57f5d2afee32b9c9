import { csvTable } from '#core/exchange';
import { headOf, type Report, type ReportCell, type ReportColumn } from './table.ts';

/**
 * A report as one table for a spreadsheet: a heading row, one value a cell. Every row says its kind and what it is about;
 * columns of the same heading are one. Numbers are bare, and an angle stands twice: as people read it and as a decimal.
 */
export function reportCsv({ tables }: Report, angleUnit: 'gon' | 'deg'): string {
  const columns: { head: string; of: (cell: ReportCell) => string; key: string }[] = [];
  const byHead = new Map<string, number>();
  const at = (c: ReportColumn): number => {
    const key = headOf(c);
    const known = byHead.get(key);
    if (known !== undefined) return known;
    byHead.set(key, columns.length);
    columns.push({ head: key, key, of: c.kind === 'number' ? bareNumber : plain });
    if (c.kind === 'angle') columns.push({ head: `${key}, ${angleUnit}`, key, of: (cell) => cell.value ?? '' });
    return columns.length - (c.kind === 'angle' ? 2 : 1);
  };
  for (const t of tables) t.columns.forEach(at);
  const rows = tables.flatMap((t) => {
    const places = t.columns.map((c) => [at(c), c.kind === 'angle'] as const);
    return t.rows.map((r) => {
      const out = columns.map(() => '');
      r.cells.forEach((cell, i) => {
        const [place, isAngle] = places[i];
        out[place] = columns[place].of(cell);
        if (isAngle) out[place + 1] = columns[place + 1].of(cell);
      });
      return [t.kind, t.title, ...out, r.marked ? 'yes' : ''];
    });
  });
  return csvTable([['kind', 'about', ...columns.map((c) => c.head), 'marked'], ...rows]);
}

const plain = ({ text }: ReportCell): string => text.replace(/[\u2009\u202f]/g, ' ');

/** Without the spaces between thousands and with the sign that a spreadsheet knows. */
const bareNumber = ({ text }: ReportCell): string => text.replace(/[\u2009\u202f]/g, '').replace(/\u2212/g, '-');
