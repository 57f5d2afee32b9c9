import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { readSpreadsheet, rowsOfFile } from '#core/exchange';

describe('a spreadsheet', () => {
  const cell = (ref: string, value: string, t = ''): string =>
    `<c r="${ref}"${t ? ` t="${t}"` : ''}><v>${value}</v></c>`;
  const sheetXml = (rows: string[]): Uint8Array => strToU8(`<worksheet><sheetData>${rows.map((r, i) => `<row r="${i + 1}">${r}</row>`).join('')}</sheetData></worksheet>`); // prettier-ignore
  // The second tab stands in the first part.
  const book = (
    rows = [cell('A1', '1') + cell('B1', '10.5') + cell('C1', '20.5') + cell('D1', '5')],
    strings = '<sst><si><t>GR</t></si></sst>',
  ) =>
    zipSync({
      'xl/workbook.xml': strToU8(
        '<workbook xmlns:r="x"><sheets><sheet name="Notes" r:id="rId2"/><sheet name="Points &amp; more" r:id="rId1"/></sheets></workbook>',
      ),
      'xl/_rels/workbook.xml.rels': strToU8(
        '<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Target="/xl/worksheets/sheet2.xml"/></Relationships>',
      ),
      'xl/sharedStrings.xml': strToU8(strings),
      'xl/worksheets/sheet1.xml': sheetXml(rows),
      'xl/worksheets/sheet2.xml': sheetXml([cell('A1', '0', 's')]),
    });

  it('is read sheet by sheet, in the order of its tabs, by name', () => {
    expect(readSpreadsheet(book())).toEqual({
      ok: true,
      text: 'GR',
      sheet: 'Notes',
      sheets: ['Notes', 'Points & more'],
    });
    expect(readSpreadsheet(book(), 'Points & more')).toMatchObject({ ok: true, text: '1\t10.5\t20.5\t5' });
    expect(rowsOfFile(book(), { sheet: 'Points & more' })).toMatchObject({
      ok: true,
      sheet: { name: 'Points & more', all: ['Notes', 'Points & more'] },
    });
    expect(readSpreadsheet(book(), 'Other')).toMatchObject({
      ok: false,
      reason: expect.stringContaining('it has Notes, Points & more') as string,
    });
  });

  it('says a text that is not there instead of leaving the cell empty', () => {
    expect(readSpreadsheet(book([cell('A1', '7', 's')]), 'Points & more')).toMatchObject({
      ok: true,
      text: '#no text 7',
    });
  });

  it('that unpacks to more than memory should hold is refused, however small it comes', () => {
    const long = `<sst><si><t>${'x'.repeat(1 << 20)}</t></si></sst>`;
    const many = Array.from({ length: 300 }, (_, i) => cell(`A${i + 1}`, '0', 's'));
    const bomb = book(many, long);
    expect(bomb.length).toBeLessThan(20_000);
    expect(readSpreadsheet(bomb, 'Points & more')).toMatchObject({
      ok: false,
      reason: expect.stringContaining('more than 200 MB') as string,
    });
    const wide = zipSync({
      'xl/workbook.xml': strToU8('<workbook/>'),
      'xl/worksheets/sheet1.xml': new Uint8Array(220 << 20),
    });
    expect(readSpreadsheet(wide)).toMatchObject({
      ok: false,
      reason: expect.stringContaining('more than 200 MB') as string,
    });
  });
});
