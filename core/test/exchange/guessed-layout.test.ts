import { describe, expect, it } from 'vitest';
import {
  guessLayout,
  rowsOfFile,
  sampleRows,
  unitFromHeadings,
  type GuessContext,
  type TextLayout,
} from '#core/exchange';
import { context } from './layouts.ts';

const CONTROL = [
  { x: 4246, y: 7778 },
  { x: 4318, y: 7762 },
  { x: 4376, y: 7737 },
];

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
    'coordinates without decimals, elevations with some',
    ['1,4312,7741,61.823,GR', '2,4313,7742,61.911,KT1 BEG', '3,4314,7743,62.004,KT1 END'],
    {},
    { roles: ['P', 'E', 'N', 'Z', 'D'] },
  ],
  [
    'the same without numbers and codes',
    ['4312 7741 61.823', '4313 7742 61.911', '4314 7743 62.004'],
    {},
    { roles: ['E', 'N', 'Z'] },
  ],
  [
    'nothing with decimals',
    ['1,4312,7741,61,GR', '2,4313,7742,62,GR', '3,4314,7743,63,TR'],
    {},
    { roles: ['P', 'E', 'N', 'Z', 'D'] },
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
