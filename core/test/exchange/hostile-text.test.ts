import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { guessBookLayout, readBookText } from '#core/book';
import { decodeText, guessLayout, isLandXml, readDxf, readGeoJson, readLandXml, readPoints, rowsOfFile, sampleRows, unitFromHeadings, type TextLayout } from '#core/exchange'; // prettier-ignore
import { before, DIGITS, withoutTail } from '#core/kernel';
import { readAngle, readLength } from '#core/measure';
import { CORPUS, damaged } from '../../../bench/fuzz/inputs.ts';
import { readByAll } from '../../../bench/fuzz/readers.ts';

// Small input that made patterns try in the square of its length, or worse. What hangs here runs into the runner's own limit.

const context = { fileName: 'x', unit: 'm' as const, near: [], order: 'EN' as const, knownCodes: new Set<string>() };
const layout: TextLayout = { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' };
const LONG = 200_000;

describe('hostile text', () => {
  it('heads of XML: many comments, an open one, document types, blanks', () => {
    const comments = '<!-- a -->'.repeat(300);
    for (const head of [
      comments,
      `<?xml version="1.0"?>${comments}`,
      '<!--'.repeat(900),
      '<!DOCTYPE'.repeat(400),
      `<!DOCTYPE LandXML [${'<!ENTITY a "b">'.repeat(40)}`,
      ' '.repeat(LONG),
      '<?'.repeat(2000),
    ])
      // prettier-ignore
      expect(isLandXml(`${head}<LandXM`)).toBe(false);
    expect(isLandXml(`<?xml version="1.0"?>\n${'<!-- a -->\n'.repeat(24)}<LandXML version="1.2">`)).toBe(true);
    expect(isLandXml('<!DOCTYPE LandXML [<!ENTITY a "b">]>\n<l:LandXML>')).toBe(true);
    expect(isLandXml('<!DOCTYPE LandXML SYSTEM "x">\n<LandXML>')).toBe(true);
  });

  it('headings of blanks, of brackets and of nothing but one letter', () => {
    for (const piece of [' ', '[', '(', ']', 'a', '_', '-', '"', ';', ',', '\t', '0', '.'])
      for (const heading of [piece.repeat(LONG), `East${piece.repeat(LONG)}`, `${piece.repeat(LONG)}m`]) {
        unitFromHeadings([heading]);
        guessLayout([heading, '1,2.5,3.5,4.5'], context);
        guessBookLayout([heading, 'a,b,c']);
        rowsOfFile(new TextEncoder().encode(`system: ${heading}\n1,2,3`));
      }
  });

  it('rows of thirty thousand columns', () => {
    const row = Array.from({ length: 30_000 }, (_, i) => `${i}.5`).join(',');
    const text = Array.from({ length: 60 }, () => row).join('\n');
    const guess = guessLayout(sampleRows(text), context);
    expect(guess.layout.roles.length).toBeLessThanOrEqual(200);
    expect(readPoints(text, layout)!.refusedCount).toBe(60);
  });

  it('single values: lengths, angles, records, coordinates', () => {
    for (const piece of ['1', ' ', '-', "'", '°', '1 ', '1-', '.', ',', 's', '"', '=', 'a=', '\u2009'])
      for (const text of [piece.repeat(LONG), `1${piece.repeat(LONG)}x`]) {
        readLength(text, 'm');
        readAngle(text, 'dms');
        readBookText(`book 1\nunit m\nangle dms\nsetup ${text}\nback ${text} circle=${text}\nend`);
        readPoints(`1,${text},2,3\n`, layout);
        withoutTail(text, DIGITS);
      }
  });

  it('bytes of any kind are read or refused by every reader of text, and none throws', () => {
    const any = fc.oneof(fc.string({ unit: 'binary', maxLength: 400 }), fc.uint8Array({ maxLength: 400 }).map((b) => String.fromCharCode(...b))); // prettier-ignore
    fc.assert(
      fc.property(any, (text) => {
        decodeText(new TextEncoder().encode(text));
        rowsOfFile(new TextEncoder().encode(text));
        for (const read of [readDxf, readGeoJson, readLandXml, isLandXml, sampleRows]) read(text);
        guessLayout(sampleRows(text), context);
        guessBookLayout(sampleRows(text));
      }),
      { numRuns: 300 },
    );
  });
});

// The short form of `npm run fuzz`, whose long one is run by hand with time and memory watched.
describe('damaged files', () => {
  it('of every kind are read or refused by every reader, and none throws', async () => {
    expect(CORPUS.length).toBeGreaterThan(15);
    for (const whole of CORPUS) await readByAll(whole);
    for (let seed = 1; seed <= 600; seed++) await readByAll(damaged(seed));
  }, 120_000);

  it('are the same bytes for the same number', () => {
    expect(damaged(7)).toEqual(damaged(7));
    expect(damaged(7)).not.toEqual(damaged(8));
  });
});

describe('lengths as people type them', () => {
  it('are as they were: blanks group digits before the decimals only, units stand behind', () => {
    const metres = (text: string): number | null => {
      const read = readLength(text, 'm');
      return read.ok ? read.metres : null;
    };
    for (const [text, value] of [
      ['1.5', 1.5],
      ['1,5', 1.5],
      [' 1 234.5 m ', 1234.5],
      ['4.92ft', 4.92 * 0.3048],
      ['1 US ft', 1200 / 3937],
      ['−2', -2],
      ['.5', 0.5],
      ['5.', 5],
      ['- 5', -5], // prettier-ignore
      ['', null],
      ['m', null],
      ['-', null],
      ['.', null],
      ['1.5 2', null],
      ['1e3', null],
      ['0x10', null],
      ['1.2.3', null],
      ['5 yd', null],
      ['1..5', null], // prettier-ignore
    ] as const)
      if (value === null) expect([text, metres(text)]).toEqual([text, null]);
      else expect([text, metres(text)]).toEqual([text, expect.closeTo(value, 12)]);
  });

  it('tails and heads are cut where they are', () => {
    expect([withoutTail('KT12', DIGITS), withoutTail('12', DIGITS), withoutTail('KT', DIGITS)]).toEqual([
      'KT',
      '',
      'KT',
    ]);
    expect([before('East [m]', '[('), before('East', '[('), before('(m)', '[(')]).toEqual(['East ', 'East', '']);
  });
});
