import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import {
  decodeText,
  guessLayout,
  readPoints,
  readSpreadsheet,
  rowsOfFile,
  sampleRows,
  splitRow,
  unitFromHeadings,
  writeText,
  type GuessContext,
  type TextLayout,
} from '#core/exchange';

const context = (part: Partial<GuessContext> = {}): GuessContext => ({
  fileName: 'shots.txt',
  unit: 'm',
  near: [],
  order: 'EN',
  knownCodes: new Set(['GR', 'KT', 'TR', 'ED']),
  ...part,
});
const layout = (part: Partial<TextLayout> = {}): TextLayout => ({
  separator: ',',
  decimal: '.',
  skipRows: 0,
  roles: ['P', 'E', 'N', 'Z', 'D'],
  unit: 'm',
  ...part,
});
const bytes = (...parts: (number[] | string)[]): Uint8Array =>
  Uint8Array.from(parts.flatMap((p) => (typeof p === 'string' ? [...new TextEncoder().encode(p)] : p)));
const utf16 = (text: string, little: boolean): number[] =>
  [...text].flatMap((c) =>
    little ? [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8] : [c.charCodeAt(0) >> 8, c.charCodeAt(0) & 255],
  );

const CONTROL = [
  { x: 4246, y: 7778 },
  { x: 4318, y: 7762 },
  { x: 4376, y: 7737 },
];

describe('decoding', () => {
  it('finds byte order marks, UTF-16 without one, UTF-8, and else Windows-1252', () => {
    expect(decodeText(bytes([0xef, 0xbb, 0xbf], '1,2'))).toMatchObject({
      ok: true,
      text: '1,2',
      encoding: 'utf-8',
      bom: true,
    });
    expect(decodeText(bytes([0xff, 0xfe], utf16('1,2', true)))).toMatchObject({ text: '1,2', encoding: 'utf-16le' });
    expect(decodeText(bytes([0xfe, 0xff], utf16('1,2', false)))).toMatchObject({ text: '1,2', encoding: 'utf-16be' });
    expect(decodeText(bytes(utf16('1;4312,5;7741,2', true)))).toMatchObject({
      text: '1;4312,5;7741,2',
      encoding: 'utf-16le',
    });
    for (const end of ['\n', '\r\n', '\r']) expect(decodeText(bytes(`1,2${end}3,4${end}`))).toMatchObject({ text: end === '\r' ? '1,2\n3,4\n' : `1,2${end}3,4${end}` }); // prettier-ignore
    expect(decodeText(bytes('Höhe'))).toMatchObject({ text: 'Höhe', encoding: 'utf-8' });
    expect(decodeText(bytes('H', [0xf6], 'he'))).toMatchObject({ text: 'Höhe', encoding: 'windows-1252' });
  });

  it('has the letters of Windows-1252 that some engines turn into control characters', () => {
    const decoded = decodeText(bytes('H', [0xf6], 'he ', [0x80, 0x96, 0x8a, 0x93, 0x94, 0x81], ' 5'));
    expect(decoded).toMatchObject({ ok: true, encoding: 'windows-1252', text: 'Höhe €–Š“”\u0081 5' });
  });

  it('refuses what is no text with what to ask the sender for', () => {
    for (const [content, says] of [
      [bytes(), 'empty'],
      [bytes('AC1027', [0, 0, 0]), 'closed native drawing'],
      [bytes('PK', [3, 4, 20, 0]), 'save the sheet as CSV'],
      [bytes('%PDF-1.7'), 'PDF'],
      [Uint8Array.from({ length: 4000 }, (_, i) => (i * 131) % 256), 'binary'],
    ] as const) {
      const answer = decodeText(content);
      expect(answer.ok).toBe(false);
      if (!answer.ok) {
        expect(answer.reason).toContain(says);
        if (content.length) expect(answer.reason).toContain('DXF, LandXML or GeoJSON');
      }
    }
  });
});

const cases: [string, string[], Partial<GuessContext>, Partial<TextLayout>][] = [
  [
    'comma, number first',
    ['1,4312.512,7741.200,61.823,GR', '2,4313.100,7742.000,61.911,KT1 BEG'],
    {},
    { separator: ',', decimal: '.', roles: ['P', 'E', 'N', 'Z', 'D'] },
  ],
  [
    'headings, north first, semicolons, decimal commas',
    ['Nr;North [m];East [m];Elev [m];Code', '1;7741,2;4312,5;61,8;GR', '2;7742,2;4313,5;61,9;TR'],
    {},
    { separator: ';', decimal: ',', skipRows: 1, roles: ['P', 'N', 'E', 'Z', 'D'] },
  ],
  [
    'tab, no numbers',
    ['4312.51\t7741.22\t61.81', '4313.51\t7742.22\t61.91', '4314.51\t7743.22\t62.01'],
    {},
    { separator: '\t', roles: ['E', 'N', 'Z'] },
  ],
  [
    'spaces, words of a code parted',
    ['1 4312.5 7741.2 61.8 KT1 BEG', '2 4313.5 7742.2 61.9 KT1', '3 4314.5 7743.2 62.0 KT1 END'],
    {},
    { separator: ' ', roles: ['P', 'E', 'N', 'Z', 'D', 'D'] },
  ],
  [
    'the file’s name says the order',
    ['1,7741.22,4312.51,61.81,GR', '2,7742.22,4313.51,61.91,GR'],
    { fileName: 'site_PNEZD.csv' },
    { roles: ['P', 'N', 'E', 'Z', 'D'] },
  ],
  [
    'control says the order, against the project’s',
    ['1,7741.22,4312.51,61.81,GR', '2,7742.22,4313.51,61.91,GR'],
    { near: CONTROL },
    { roles: ['P', 'N', 'E', 'Z', 'D'] },
  ],
  [
    'control says the order, against wrong headings',
    ['No,East,North,Elev', '1,7741.22,4312.51,61.81', '2,7742.22,4313.51,61.91'],
    { near: CONTROL },
    { roles: ['P', 'N', 'E', 'Z'] },
  ],
  [
    'names in one heading row, units in the next',
    [
      'Punkt;Rechtswert;Hochwert;Höhe;Bemerkung',
      ';[mm];[mm];[mm];',
      '1;4312510;7741220;61810;GR',
      '2;4313510;7742220;61910;GR',
    ],
    {},
    { separator: ';', skipRows: 2, unit: 'mm', roles: ['P', 'E', 'N', 'Z', 'D'] },
  ],
  ...[
    'N° matricule,Est,Nord,Altitude,Libellé',
    'Número,Este,Norte,Cota,Descripción',
    'Ponto,Leste,Norte,Cota,Código',
    'Puntnummer,Oost,Noord,Hoogte,Omschrijving',
    'Punktnummer,Öst,Nord,Höjd,Kod',
    'Punkt,Øst,Nord,Kote,Kode',
    'Punktnr,Aust,Nord,Høyde,Beskrivelse',
    'Piste,Itä,Pohjoinen,Korkeus,Selite',
  ].map((heading): [string, string[], Partial<GuessContext>, object] => [
    `headings ${heading}`,
    [heading, '1,4312.51,7741.22,61.81,GR', '2,4313.51,7742.22,61.91,GR'],
    {},
    { skipRows: 1, roles: ['P', 'E', 'N', 'Z', 'D'] },
  ]),
  [
    'a scan line along the east axis, bare: order comes before spread',
    Array.from(
      { length: 50 },
      (_, i) => `${(4312.5 + i).toFixed(3)} ${(7741.22 + 0.001 * i).toFixed(3)} ${(61.8 + 0.3 * (i % 7)).toFixed(3)}`,
    ),
    {},
    { roles: ['E', 'N', 'Z'] },
  ],
  [
    'feet in a heading',
    ['Number,East [US ft],North [US ft],Elevation', '1,14148.5,25398.1,202.7', '2,14150.5,25399.1,202.9'],
    {},
    { unit: 'usft', roles: ['P', 'E', 'N', 'Z'] },
  ],
];

describe('the guessed layout', () => {
  for (const [name, rows, part, expected] of cases)
    it(name, () => {
      const guess = guessLayout(rows, context(part));
      expect(guess.layout).toMatchObject(expected);
      expect(guess.why.columns).toHaveLength(guess.layout.roles.length);
      expect(guess.why.columns.every((w) => w.length > 0)).toBe(true);
    });

  it('says why, so that a person can judge', () => {
    const guess = guessLayout(cases[5][1], context({ near: CONTROL }));
    expect(guess.why.order).toContain('where control lies');
  });
});

describe('what a file is judged by', () => {
  it('is rows from all over it, the heading row among them', () => {
    const text = [
      'Nr,East,North,Elev,Code',
      ...Array.from({ length: 5000 }, (_, i) => `${i},${i}.5,2.5,3.5,C${i}`),
    ].join('\r\n');
    const rows = sampleRows(text);
    expect(rows.slice(0, 2)).toEqual(['Nr,East,North,Elev,Code', '0,0.5,2.5,3.5,C0']);
    const numbers = rows.slice(1).map((r) => Number(r.split(',')[0]));
    expect(numbers.length).toBeGreaterThan(180);
    expect([...numbers].sort((a, b) => a - b)).toEqual(numbers);
    expect(new Set(numbers).size).toBe(numbers.length);
    expect(numbers.filter((n) => n > 2500).length).toBeGreaterThan(40);
    expect(rows.every((r) => text.includes(`${r}\r\n`) || text.endsWith(r))).toBe(true);
    for (const short of ['', '1,2,3', 'a\nb\n', '1,2,3\n'.repeat(150)])
      expect(sampleRows(short)).toEqual(short.split('\n').filter((r) => r !== ''));
  });

  it('is its codes: control is seen by them, whatever the file is called', () => {
    const rows = [
      '1,4312.512,7741.200,61.823,CP',
      '2,4313.100,7742.000,61.911,BM2',
      '3,4323.100,7752.000,61.9,STN peg',
    ];
    expect(guessLayout(rows, context({ fileName: 'points.csv' })).control).toBe(true);
    expect(guessLayout(cases[0][1], context()).control).toBe(false);
  });

  it('is the unit that it says anywhere, before the project’s', () => {
    const guess = guessLayout(cases[0][1], context({ unit: 'm', unitSaid: 'usft' }));
    expect([guess.layout.unit, guess.said]).toEqual(['usft', { order: false, unit: true }]);
  });

  it('leaves a doubt said where another column looks more like elevations', () => {
    const rows = Array.from(
      { length: 20 },
      (_, i) => `${(4312.5 + 7 * i).toFixed(3)} ${(61.8 + 0.1 * (i % 4)).toFixed(3)} ${(7741.2 + 5 * i).toFixed(3)}`,
    );
    const guess = guessLayout(rows, context());
    expect([guess.layout.roles, guess.why.columns[2]]).toEqual([['E', 'N', 'Z'], expect.stringContaining('column 2 looks more like elevations')]); // prettier-ignore
  });

  it('of LandXML, what could not be read of it is listed with the rows', () => {
    const xml =
      '<LandXML><Units><Metric linearUnit="millimeter"/></Units><CgPoints>\n<CgPoint name="1">1 2 3</CgPoint>\n<CgPoint name="2">1 x 3</CgPoint></CgPoints></LandXML>';
    const rows = rowsOfFile(new TextEncoder().encode(xml));
    expect(rows).toMatchObject({ ok: true, claims: { unit: 'mm' }, lost: { count: 1, list: [{ row: 3 }] } });
    expect(rowsOfFile(new TextEncoder().encode(xml.slice(0, -20)))).toMatchObject({
      ok: false,
      reason: expect.stringContaining('breaks off') as string,
    });
  });
});

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

describe('the unit in headings', () => {
  it('is taken from brackets or from behind the name, and from nothing that is unsure', () => {
    const of = (line: string): string | null => unitFromHeadings(line.split(','));
    expect(of('Number,East [m],North [m]')).toBe('m');
    expect(of('number,east m,north m,elevation m')).toBe('m');
    expect(of('PT,N_ft,E_ft,Z_ft')).toBe('ft');
    expect(of('Pt,Northing (US survey feet),Easting (US survey feet)')).toBe('usft');
    for (const line of ['P,E,N,Z,D', 'point,east m,north ft', 'team m4,form,term,row', 'm,ft,x']) expect(of(line)).toBe(null); // prettier-ignore
  });
});

describe('reading', () => {
  it('keeps what it can and names every other row with its number, text and reason', () => {
    const text = [
      '1,10,20,5,GR',
      'x,abc,20,5,GR',
      '3,10,,5,GR',
      '4,1e308,20,5,GR',
      '5,NaN,20,5,GR',
      '',
      '6,10,20,-3.5,GR',
      '7,10,20,,GR',
      '8,10,20,1e9,GR',
      '9,"1,5",20,5,GR',
    ].join('\r\n');
    const read = readPoints(text, layout())!;
    expect(read.number).toEqual(['1', '6', '7']);
    expect([...read.z]).toEqual([5, -3.5, NaN]);
    expect(read.blank).toBe(1);
    expect(read.refused.map((r) => r.row)).toEqual([2, 3, 4, 5, 9, 10]);
    expect(read.refused[0]).toEqual({ row: 2, text: 'x,abc,20,5,GR', reason: 'east “abc” is not a number' });
    expect(read.refused[1].reason).toBe('the north column is empty');
    expect(read.refused[2].reason).toContain('farther away than any place on earth');
    expect(read.refused[4].reason).toContain('beyond any height');
  });

  it('never throws, and every row is read, refused, blank or skipped', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary', maxLength: 400 }),
        fc.constantFrom(',', ';', '\t', ' ', '|'),
        fc.nat(3),
        (text, separator, skipRows) => {
          const read = readPoints(text, layout({ separator: separator as ',', skipRows }))!;
          expect(read.x.length + read.refusedCount + read.blank + Math.min(skipRows, read.rows)).toBe(read.rows);
          guessLayout(text.split('\n'), context());
        },
      ),
      { numRuns: 500 },
    );
  });

  it('gives back what was written, to the last decimal, in any order, separator and unit', () => {
    const point = fc.record({
      number: fc.stringMatching(/^[A-Za-z0-9"_-]{1,8}$/),
      x: fc.integer({ min: -99_999_999, max: 99_999_999 }).map((v) => v / 1000),
      y: fc.integer({ min: -99_999_999, max: 99_999_999 }).map((v) => v / 1000),
      z: fc.oneof(
        fc.constant(NaN),
        fc.integer({ min: -999_999, max: 9_999_999 }).map((v) => v / 1000),
      ),
      description: fc.stringMatching(/^[A-Z][A-Za-z0-9 ,;"=/]{0,14}$/).map((s) => s.trim()),
    });
    fc.assert(
      fc.property(
        fc.array(point, { minLength: 1, maxLength: 20 }),
        fc.constantFrom('PENZD', 'PNEZD', 'DPZNE', 'EN'),
        fc.constantFrom(',', ';', '\t'),
        fc.constantFrom('m', 'ft', 'usft'),
        (points, order, separator, unit) => {
          const roles = [...order] as ('P' | 'E' | 'N' | 'Z' | 'D')[];
          const text = writeText(points, {
            order: roles,
            decimals: 6,
            unit,
            separator: separator as ',',
            headings: true,
          });
          const read = readPoints(text, { separator: separator as ',', decimal: '.', skipRows: 1, roles, unit })!;
          expect(read.refusedCount).toBe(0);
          points.forEach((p, i) => {
            expect(read.x[i]).toBeCloseTo(p.x, 5);
            expect(read.y[i]).toBeCloseTo(p.y, 5);
            if (order.includes('Z')) expect(Number.isNaN(read.z[i])).toBe(Number.isNaN(p.z));
            if (order.includes('P')) expect(read.number[i]).toBe(p.number);
            if (order.includes('D')) expect(read.description[i]).toBe(p.description);
          });
        },
      ),
    );
  });

  it('can be tried on a part, and stopped', () => {
    const text = Array.from({ length: 60_000 }, (_, i) => `${i},10.0,20.0,5.0,GR`).join('\n');
    expect(readPoints(text, layout(), { mostRows: 100 })!.x.length).toBe(100);
    expect(readPoints(text, layout(), { onProgress: (share) => share < 0.5 })).toBeNull();
  });

  it('reads a quoted cell over several lines as one row, and a quote that is never closed as it stands', () => {
    const text = [
      '1,0,0,1,"big\r\noak, old"',
      '2,1,1,1,GR',
      '3,2,2,1,"KT1 no end',
      '4,3,3,1,GR',
      '5,4,4,1,"',
      '6,5,5,x,"over',
      'lines"',
      '7,6,6,1,a 5" pipe',
    ].join('\n');
    const read = readPoints(text, {
      separator: ',',
      decimal: '.',
      skipRows: 0,
      roles: ['P', 'E', 'N', 'Z', 'D'],
      unit: 'm',
    })!;
    expect(read.number).toEqual(['1', '2', '3', '4', '5', '7']);
    expect([...read.row]).toEqual([1, 3, 4, 5, 6, 9]);
    expect(read.description).toEqual(['big oak, old', 'GR', 'KT1 no end', 'GR', '', 'a 5" pipe']);
    expect(read.refused).toEqual([{ row: 7, text: '6,5,5,x,"over lines"', reason: 'elevation “x” is not a number' }]);
  });

  it('reads quotes within rows', () => {
    expect(splitRow('1,"a ""b"", c",2', ',')).toEqual(['1', 'a "b", c', '2']);
    expect(splitRow('  1   "two words" 3 ', ' ')).toEqual(['1', 'two words', '3']);
  });
});
