import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { csvTable, readCodeTable, readPoints, splitRow, writeCodeTable, writeText } from '#core/exchange';
import { newDocument } from '#core/project';

// A table that somebody opens in a spreadsheet must not compute what a crew typed (OWASP, CSV injection), and must come
// back as it was.

const text = (rows: [number: string, description: string][], separator: ',' | ';' | '\t' | ' '): string =>
  writeText(
    rows.map(([number, description]) => ({ number, description, x: 1, y: 2, z: 3 })),
    { order: ['P', 'E', 'N', 'Z', 'D'], decimals: 3, unit: 'm', separator, headings: false },
  );

describe('cells of a table', () => {
  it('that begin like a formula are marked as text; numbers and signs alone stand as they are', () => {
    const rows = text([['=1+1', '@SUM(A1)'], ['-12', '+3.5'], ['-', '-KB'], ["'=x", "'tis"]], ','); // prettier-ignore
    expect(rows.split('\r\n').map((r) => r.replace(',1.000,2.000,3.000,', ' | '))).toEqual([
      "'=1+1 | '@SUM(A1)",
      '-12 | +3.5',
      "- | '-KB",
      "''=x | 'tis",
      '',
    ]);
  });

  it('come back as they were, whatever somebody typed, in every separator', () => {
    const cell = fc.string({ maxLength: 12 }).map((s) => s.replace(/[\r\n\0]/g, '').trim()).filter((s) => !s.includes('"')); // prettier-ignore
    const formula = fc
      .tuple(fc.constantFrom('=', '+', '-', '@', "'", "'=", "''-"), cell)
      .map(([a, b]) => (a + b).trim());
    fc.assert(
      fc.property(
        fc.constantFrom(',' as const, ';' as const, '\t' as const),
        fc.oneof(cell, formula),
        fc.oneof(cell, formula),
        (separator, number, description) => {
          // prettier-ignore
          const [row] = text([[number, description]], separator).split('\r\n');
          expect(splitRow(row, separator)).toEqual([number, '1.000', '2.000', '3.000', description]);
        },
      ),
      { numRuns: 500 },
    );
  });

  it('of points are read without the mark', () => {
    const layout = { separator: ',' as const, decimal: '.' as const, skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'] as const, unit: 'm' as const }; // prettier-ignore
    const read = readPoints(text([['7', '=HYPERLINK("x")']], ','), { ...layout, roles: [...layout.roles] })!;
    expect([...read.description]).toEqual(['=HYPERLINK("x")']);
  });

  it('of code lists and reports are marked too', () => {
    const [first] = newDocument().codeList.codes;
    const table = writeCodeTable([{ ...first, name: '=cmd|x' }]);
    expect(table).toContain(",'=cmd|x,");
    expect(readCodeTable(table).codes[0].name).toBe('=cmd|x');
    expect(csvTable([['−', '@x, "y"']])).toBe('−,"\'@x, ""y"""\r\n');
  });
});
