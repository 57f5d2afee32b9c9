import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { distinctName, fileStem, guessLayout, NONE_SIGNS, noneOf, readPoints, writeText, type OutColumn, type PointRow, type TextOutSettings } from '#core/exchange'; // prettier-ignore
import { readBackText } from '#core/handover';

const number = fc.oneof(fc.constant(''), fc.stringMatching(/^[A-Z]{0,2}[0-9]{1,4}$/));
const words = fc.oneof(fc.constant(''), fc.stringMatching(/^[A-Z]{2}[0-9]? ?[a-zü,;"' -]{0,12}$/), fc.constant('=1+1'));
const at = (max: number) => fc.integer({ min: 1, max: max * 1000 }).map((v) => v / 1000);
const rowOf = fc.record({ number, x: at(900_000), y: at(900_000), z: fc.oneof(at(3000), fc.constant(NaN)), description: words.map((w) => w.trim()) }); // prettier-ignore
const settingsOf = fc
  .record({
    separator: fc.constantFrom(',' as const, ';' as const, '\t' as const, ' ' as const),
    decimal: fc.constantFrom('.' as const, ',' as const),
    none: fc.constantFrom(...NONE_SIGNS),
    headings: fc.boolean(),
    decimals: fc.constant(3),
    unit: fc.constantFrom('m' as const, 'ft' as const, 'usft' as const),
    order: fc.constantFrom<OutColumn[]>(
      ['P', 'E', 'N', 'Z', 'D'],
      ['P', 'N', 'E', 'Z', 'D'],
      ['D', 'Z', 'N', 'E', 'P'],
    ),
  })
  .filter((s) => !(s.decimal === ',' && s.separator === ','));

describe('points as text', () => {
  it('come back whole in every way of writing them, and what is missing is missing', () => {
    fc.assert(
      fc.property(
        fc.array(rowOf, { minLength: 1, maxLength: 12 }),
        settingsOf,
        (rows: PointRow[], s: TextOutSettings) => {
          // prettier-ignore
          const back = readBackText(writeText(rows, s), rows, s);
          expect(back.problems).toEqual([]);
          const without = rows.filter((r) => Number.isNaN(r.z)).length;
          expect(back.notes.length).toBe(without ? 1 : 0);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('with headings are understood by whoever opens them here: order, unit, decimal sign, nothing', () => {
    fc.assert(
      fc.property(
        fc.array(rowOf, { minLength: 8, maxLength: 12 }),
        settingsOf,
        (rows: PointRow[], settings: TextOutSettings) => {
          // prettier-ignore
          const s = { ...settings, headings: true };
          const text = writeText(rows, s);
          const { layout } = guessLayout(text.split('\r\n').slice(0, -1), { fileName: 'out.txt', unit: 'm', order: 'EN', near: [], knownCodes: new Set() }); // prettier-ignore
          expect([layout.separator, layout.unit]).toEqual([s.separator, s.unit]);
          const read = readPoints(text, layout)!;
          expect(read.refused).toEqual([]);
          expect(read.number).toEqual(rows.map((r) => r.number.trim()));
          expect(Array.from(read.z, Number.isNaN)).toEqual(rows.map((r) => Number.isNaN(r.z)));
          rows.forEach((r, i) => expect(Math.abs(read.x[i] - r.x)).toBeLessThan(0.0006));
        },
      ),
      { numRuns: 150 },
    );
  });

  it('with commas, semicolons or tabs are what another reader finds too (papaparse)', () => {
    fc.assert(
      fc.property(
        fc.array(rowOf, { minLength: 1, maxLength: 9 }),
        settingsOf,
        (rows: PointRow[], s: TextOutSettings) => {
          // prettier-ignore
          fc.pre(s.separator !== ' ');
          const { data, errors } = Papa.parse<string[]>(writeText(rows, s), {
            delimiter: s.separator,
            skipEmptyLines: true,
          });
          expect(errors).toEqual([]);
          const body = s.headings ? data.slice(1) : data;
          expect(body.length).toBe(rows.length);
          rows.forEach((r, i) => {
            expect(body[i].length).toBe(s.order.length);
            const d = body[i][s.order.indexOf('D')];
            expect(d === `'${r.description}` || d === (r.description || noneOf(s))).toBe(true);
          });
        },
      ),
    );
  });

  it('say what a sign for nothing hides: a description that is that sign does not pass', () => {
    const meant: PointRow[] = [{ number: '1', x: 1, y: 2, z: 3, description: '-' }];
    const s: TextOutSettings = { order: ['P', 'E', 'N', 'Z', 'D'], decimals: 3, unit: 'm', separator: ' ', headings: false }; // prettier-ignore
    expect(readBackText(writeText(meant, s), meant, s).problems[0]).toContain('the description');
  });
});

describe('names of files', () => {
  it('keep their letters, hold nothing that a file system refuses, and never meet', () => {
    expect(fileStem('H10 Łódź/Ürün', 'drawing R12')).toBe('H10-Łódź-Ürün-drawing-R12');
    expect([fileStem('COM1'), fileStem('…'), fileStem('nul')]).toEqual(['COM1-file', 'unnamed', 'nul-file']);
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'grapheme', maxLength: 200 }), { maxLength: 8 }), (names) => {
        const taken = new Set<string>();
        const given = names.map((name) => distinctName(taken, fileStem(name), 'csv'));
        expect(new Set(given.map((g) => g.toLowerCase())).size).toBe(names.length);
        for (const g of given) {
          expect(g).toMatch(/^[\p{L}\p{N}\p{M}-]+\.csv$/u);
          expect(Buffer.byteLength(g)).toBeLessThan(200);
        }
      }),
    );
  });
});
