import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dashed, emptyRecord, isBookText, readBookText, writeBookText, type Book } from '#core/book';
import { kessaFiles } from '#demo';

const HEAD = 'book 1\nunit m\nangle dms\norder EN\n';
const read = (rows: string): Book => readBookText(`${HEAD}${rows}\nend\n`)!;

describe('the open text form of a field book', () => {
  it('holds setups, both faces, checks, satellites, levels, remarks, weather, and what was deleted', () => {
    const book = read(`instrument T1 direction=1.5 distance=1 ppm=1.5 constant=0.0002
target R1 constant=-0.0175
weather t=12.5 p=1008 h=60
point A1 100.5 200.25 10.125 CP bolt
setup A1 hi=1.532 instrument=T1 time=2026-05-12T08:03
azimuth A2 102-30-15.5
back A2 face=1 circle=0-00-00 zenith=92-10-05 dist=73.552 th=1.5
back A2 face=2 circle=180-00-03 zenith=267-49-58 dist=73.553 th=1.5
shot 101 circle=45-00-00 zenith=90-00-00 dist=10 th=1.5 code="KT1 BEG" target=R1
deleted shot 102 circle=46-00-00 zenith=90-00-00 dist=10 th=1.5
gnss 501 104.1 203.2 11 sp=0.012 sh=0.02 fix=fixed sats=17 tilt=12-30 warning="tree above"
level back A1 reading=1.234 dist=20
remark battery changed, 10:42`);
    expect(book.problems).toEqual([]);
    expect(book.complete).toBe(true);
    expect(book.records.map((r) => r.kind)).toEqual([
      'weather',
      'point',
      'setup',
      'azimuth',
      'sighting',
      'sighting',
      'sighting',
      'sighting',
      'gnss',
      'level',
      'remark',
    ]);
    expect(book.records[3].circle).toBeCloseTo(((102 + 30 / 60 + 15.5 / 3600) / 180) * Math.PI, 12);
    expect(book.records[6]).toMatchObject({ number: '101', code: 'KT1 BEG', target: 'R1', role: 'shot' });
    expect(book.records[7].deleted).toBe(true);
    expect(book.records[8].gnss).toMatchObject({ plan: 0.012, satellites: 17, warning: 'tree above' });
    expect(book.instruments[0].direction).toBeCloseTo(((1.5 / 3600) * Math.PI) / 180, 12);
  });

  it('comes back as it was written, feet and gon and elevation angles included', () => {
    for (const { text, name } of kessaFiles().files.filter((f) => f.name.endsWith('.book'))) {
      const book = readBookText(text)!;
      expect([name, book.problems]).toEqual([name, []]);
      expect(writeBookText(book)).toBe(text);
    }
    const gon = readBookText(
      'book 1\nunit usft\nangle gon\nvertical elevation\nsetup 1 hi=5\nback 2 circle=100 zenith=2.5 dist=100 th=5\nend',
    )!;
    expect(gon.records[1].circle).toBeCloseTo(Math.PI / 2, 14);
    expect(gon.records[1].zenith).toBeCloseTo(((100 - 2.5) / 200) * Math.PI, 14);
    expect(gon.records[1].distance).toBeCloseTo((100 * 1200) / 3937, 12);
  });

  it('reads elevation angles uphill, downhill and past the full circle, in both faces, and none steeper than upright', () => {
    const head = 'book 1\nunit m\nangle dms\nvertical elevation\nsetup 1 hi=1.5\n';
    const sight = (face: number, angle: string) =>
      readBookText(`${head}shot 2 face=${face} circle=10-00-00 zenith=${angle} dist=5 th=1\nend`)!;
    const degrees = (face: number, angle: string) => (sight(face, angle).records[1].zenith / Math.PI) * 180;
    expect(degrees(1, '4-30-00')).toBeCloseTo(85.5, 12);
    expect(degrees(1, '-4-30-00')).toBeCloseTo(94.5, 12);
    expect(degrees(1, '-0-30-00')).toBeCloseTo(90.5, 12);
    expect(degrees(1, '355-30-00')).toBeCloseTo(94.5, 12);
    expect(degrees(2, '-4-30-00')).toBeCloseTo(360 - 94.5, 12);
    expect(degrees(2, '4-30-00')).toBeCloseTo(360 - 85.5, 12);
    expect(sight(1, '94-30-00').problems).toMatchObject([
      { row: 6, reason: 'the elevation angle 94-30-00 is more than a right angle above or below the horizon' },
    ]);
  });

  it('writes angles as degrees-minutes-seconds that read back to the hundredth of a second', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 6.2831, noNaN: true }), (a) => {
        const back = read(`setup 1 hi=1\nshot 2 circle=${dashed(a)} zenith=90-00-00 dist=5 th=1`).records[1].circle;
        expect(Math.abs(back - a)).toBeLessThan(2.5e-8);
      }),
    );
    expect(dashed(Math.PI * 2 - 1e-12)).toBe('0-00-00.00');
  });

  it('never throws, and lists every row that it cannot read with its number and reason', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ maxLength: 60 }), { maxLength: 30 }), (rows) => {
        const book = readBookText(rows.join('\n'))!;
        expect(book.problemCount).toBeGreaterThanOrEqual(book.problems.length);
      }),
      { numRuns: 500 },
    );
    const cases: [row: string, reason: RegExp][] = [
      ['shot 1 circle=400-00-00 zenith=90-00-00 dist=1', /not within one turn/],
      ['shot 1 circle=12-61-00 zenith=90-00-00 dist=1', /stay below 60/],
      ['shot 1 circle=123.4506 zenith=90-00-00 dist=1', /degrees-minutes-seconds/],
      ['shot 1 circle=1-00-00 zenith=90-00-00 dist=-5', /negative/],
      ['shot', /no number/],
      ['frob 12', /not a keyword of a book/],
      ['gnss 5 1 x 3', /not a coordinate/],
      ['level up A reading=1', /back, inter or fore/],
      ['weather t=900 p=1000', /not between/],
      ['x'.repeat(5000), /5000 characters/],
    ];
    for (const [row, reason] of cases) {
      const { problems, records } = read(`setup 1 hi=1\n${row}`);
      expect(problems).toHaveLength(1);
      expect(problems[0].row).toBe(6);
      expect(problems[0].reason).toMatch(reason);
      expect(records).toHaveLength(1);
    }
    expect(read('shot 1 circle=1-00-00').problems[0].reason).toContain('before any setup');
    expect(readBookText(`${HEAD}setup 1 hi=1\n`)!.complete).toBe(false);
    expect(isBookText('book 1\n')).toBe(true);
    expect(isBookText('Point,East\n')).toBe(false);
  });

  it('is read a hundred thousand records long, with progress and a stop', () => {
    const rows = Array.from(
      { length: 100_000 },
      (_, i) => `shot ${i} circle=1-02-03 zenith=90-00-00 dist=12.345 th=1.5`,
    );
    const text = `${HEAD}setup 1 hi=1\n${rows.join('\n')}\nend`;
    const shares: number[] = [];
    expect(readBookText(text, (s) => void shares.push(s))!.records).toHaveLength(100_001);
    expect(shares.length).toBeGreaterThan(3);
    expect(readBookText(text, () => false)).toBeNull();
    expect(emptyRecord('setup', 1).height).toBeNaN();
  });

  it('never lets a setup that could not be read pass its sightings on to the one before it', () => {
    for (const bad of [
      'setup B hi=tall',
      'setup',
      'setpu B hi=1.6',
      `setup B hi=1.5 code=${'x'.repeat(5000)}`,
      'setup B hi=1.5 instrument=x hi=9999999',
    ]) {
      const book = read(`setup A hi=1.5
back C circle=0-00-00 zenith=90-00-00 dist=10 th=1.5
${bad}
shot 1 circle=45-00-00 zenith=90-00-00 dist=10 th=1.5`);
      expect(book.problems).toHaveLength(1);
      const setups = book.records.filter((r) => r.kind === 'setup');
      expect(setups).toHaveLength(2);
      expect(setups[1].height).toBeNaN();
      expect(book.records.indexOf(setups[1])).toBeLessThan(book.records.findIndex((r) => r.number === '1'));
    }
  });
});
