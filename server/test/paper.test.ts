import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, describe, expect, it } from 'vitest';
import { bookReport, codeReport, column, controlReport, reportPoints, row, type Report } from '#core/report';
import { packPoints, packReduction, unpackPoints, unpackReduction } from '#core/stages';
import { demoProject, kessaProject } from '#demo';
import { computed } from '../../demo/test/demo-results.ts';
import { newDocument } from '#core/project';
import { BOX, lettersLacking, printed, runsOf, type Face } from '../src/paper/faces.ts';
import { pagedPdf } from '../src/paper/paged.ts';
import { fontOfWoff } from '../src/paper/woff.ts';

// Papers are read by Debian's poppler-utils: what words are on them, and whether their fonts are in the file.

const folder = mkdtempSync(join(tmpdir(), 'dunrik-paper-'));
afterAll(() => rmSync(folder, { recursive: true }));

const run = (command: string, ...args: string[]): string => {
  const { status, stdout, stderr } = spawnSync(command, args, { encoding: 'utf8', maxBuffer: 1 << 28 });
  if (status !== 0) throw new Error(stderr);
  return stdout;
};
const saved = (bytes: Uint8Array): string => {
  const file = join(folder, 'paper.pdf');
  writeFileSync(file, bytes);
  return file;
};
/** The words of a paper; `bbox` orders them by where they stand, so that a word in three fonts is looked for by its parts. */
const wordsOf = (bytes: Uint8Array): string => run('pdftotext', '-layout', saved(bytes), '-').replaceAll('\u00a0', ' '); // prettier-ignore
const fontsOf = (bytes: Uint8Array): string[] => run('pdffonts', saved(bytes)).trim().split('\n').slice(2);

const reportOf = (cells: string[][], more: Partial<Report> = {}): Report => ({
  title: 'Control of Łódź, Ürün and Άργος – Привет',
  about: ['metres; east before north'],
  wide: false,
  tables: [{ kind: 'points', title: 'Punkty Żółte', about: [], marked: false, columns: [column('Point', 'sign'), column('Who gave it'), column('East', 'number', 11, 'm')], rows: cells.map((c) => row(c)) }], // prettier-ignore
  ...more,
});
const made = async (report: Report, boxes = false): Promise<Uint8Array> => {
  const paper = await pagedPdf(report, 'revision 7', boxes);
  if (!paper.bytes) throw new Error(`lacks ${JSON.stringify(paper.lacking)}`);
  return paper.bytes;
};

describe('letters on paper', () => {
  it('of Latin with every accent, Greek and Cyrillic print, with the signs of the trade, in fonts that are in the file', async () => {
    const bytes = await made(reportOf([['Ž1', 'Ngọc Trần, Şükrü Öztürk', '2\u2009062\u2009999.500'], ['Ω7', 'Ольга Їжак → Ελένη', '−0°00′12″']])); // prettier-ignore
    const words = wordsOf(bytes);
    for (const word of [
      'Łódź',
      'Ürün',
      'Άργος',
      'Привет',
      'Żółte',
      'Ž1',
      'Ngọc',
      'Trần',
      'Şükrü',
      'Öztürk',
      'Ольга',
      'Їжак',
      '→',
      'Ελένη',
      '−0°00′12″',
      'revision 7',
      'East, m',
      '2 062 999.500',
      'sheet 1 of 1',
    ])
      // prettier-ignore
      expect(words).toContain(word);
    expect(words).not.toContain('?');
    for (const line of fontsOf(bytes)) expect(line).toMatch(/TrueType\s+\S+\s+yes /);
  });

  it('that no font has are named with the words they stand in, or are boxes where that is wanted', async () => {
    const report = reportOf([['1', 'רות Levi', ''], ['2', '山田', '']]); // prettier-ignore
    const refused = await pagedPdf(report, 'revision 7', false);
    expect(refused.bytes).toBeNull();
    expect(refused.lacking!.map(([letter]) => letter)).toEqual(['ר', 'ו', 'ת', '山', '田']);
    expect(refused.lacking![0][1]).toBe('רות Levi');
    const words = wordsOf(await made(report, true));
    expect(words).toContain(`${BOX.repeat(3)} Levi`);
    expect(words).toContain(BOX.repeat(2));
  });

  it('are each written by a font that has them, and none is lost', () => {
    const faces: Face[] = ['text', 'bold', 'mono'];
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), fc.constantFrom(...faces), (words, face) => {
        const runs = runsOf(words, face);
        for (const { file, text } of runs) for (const c of text) expect(file.letters.has(c.codePointAt(0)!)).toBe(true);
        if (lettersLacking([words]).size === 0 && face === 'text') expect(runs.map((r) => r.text).join('')).toBe(printed(words)); // prettier-ignore
      }),
    );
  });

  it('come from fonts unpacked table by table, as the one who packed them meant', () => {
    const file = createRequire(import.meta.url).resolve('@fontsource/noto-sans/files/noto-sans-greek-700-normal.woff');
    const font = fontOfWoff(readFileSync(file));
    const view = new DataView(font.buffer);
    const count = view.getUint16(4);
    for (let i = 0; i < count; i++) {
      const at = 12 + 16 * i;
      const [tag, sum, offset, length] = [0, 4, 8, 12].map((k) => view.getUint32(at + k));
      let words = 0;
      // OpenType, “calculating checksums”: of the head table without its own adjustment.
      for (let k = 0; k < length; k += 4)
        if (!(tag === 0x68656164 && k === 8)) words = (words + view.getUint32(offset + k)) >>> 0;
      expect([i, words]).toEqual([i, sum]);
    }
    expect(count).toBeGreaterThan(8);
    expect(() => fontOfWoff(font)).toThrow('not a WOFF file');
  });
});

describe('the papers of the demo', () => {
  it.each([
    ['Ostrel Landing', demoProject],
    ['Kessa Bank', kessaProject],
  ] as const)('%s: every cell of its control sheet and of its report is on paper, none cut', async (name, demo) => {
    const { doc, result } = await computed(demo());
    const points = unpackPoints(packPoints(result.points));
    const whole = unpackReduction(packReduction(result));
    const text = { number: (r: number) => points.number[r], code: (r: number) => points.description[r] };
    const of = reportPoints(doc, points, whole, text, result.linework.lines);
    const told = { name, revision: 3 };
    const reports = [
      controlReport(doc, points, told),
      bookReport(doc, whole, of, result.queries, told, 'all', { files: result.summary.files }),
    ];
    for (const report of reports) {
      const bytes = await made(report);
      // A cell that is wrapped stands in several lines: its words are looked for one by one.
      const words = wordsOf(bytes).replace(/\s+/g, ' ');
      for (const t of report.tables)
        for (const cell of t.rows.flatMap((r) => r.cells))
          for (const word of printed(cell.text).split(/[ \u00a0]+/))
            if (word.length < 14) expect(words).toContain(word);
      for (const line of fontsOf(bytes)) expect(line).toMatch(/TrueType\s+\S+\s+yes /);
    }
  });
});

describe('a paged report', () => {
  it('says title, revision, table and column headings on every sheet, and how many there are', async () => {
    const bytes = await made(reportOf(Array.from({ length: 300 }, (_, i) => [`P${i}`, 'by the board', `${i}.000`])));
    const pages = wordsOf(bytes).split('\f').slice(0, -1);
    expect(pages.length).toBeGreaterThan(3);
    pages.forEach((page, i) => {
      for (const word of [
        'Control of',
        'revision 7',
        'Punkty',
        'Point',
        'Who gave it',
        'East, m',
        `sheet ${i + 1} of ${pages.length}`,
      ])
        // prettier-ignore
        expect(page).toContain(word);
    });
    expect(wordsOf(bytes).match(/P\d+ /g)).toHaveLength(300);
  });

  it('keeps every letter of a name of 200, wrapped in its column', async () => {
    const long = 'ABCDEFGHIJ'.repeat(20);
    const words = wordsOf(await made(reportOf([[long, 'x', '1'], ['2', `${'word '.repeat(60)}end`, '2']]))); // prettier-ignore
    expect(words.replace(/[^A-J]/g, '')).toContain(long);
    expect(words.match(/word/g)).toHaveLength(60);
  });

  it('of more rows than are laid out at once goes on in the next part, nothing twice and nothing lost', async () => {
    const count = 10_250;
    const bytes = await made(reportOf(Array.from({ length: count }, (_, i) => [`P${i}`, '', ''])));
    const words = wordsOf(bytes);
    const numbers = words
      .split('\n')
      .flatMap((line) => (/^P\d+$/.test(line.trim()) ? [Number(line.trim().slice(1))] : []));
    expect(numbers).toEqual(Array.from({ length: count }, (_, i) => i));
    const sheets = words.split('\f').length - 1;
    expect(words).toContain(`sheet ${sheets} of ${sheets}`);
  });

  it('of codes says each one whole: its name, kind, layer and attributes, and the line words', async () => {
    const { codeList } = newDocument();
    const words = wordsOf(await made(codeReport(codeList, { name: 'Kessa' }))).replace(/\s+/g, ' ');
    for (const c of codeList.codes) {
      for (const word of [c.code, ...c.name.split(' '), c.layer]) expect(words).toContain(word);
      for (const a of c.attributes ?? []) expect(words).toContain(`${a.name} =`);
    }
    for (const word of Object.values(codeList.words)) if (typeof word === 'string') expect(words).toContain(word);
  });
});
