import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { readBookText, writeBookText } from '#core/book';
import { bookColumns, bookOfColumns } from '#core/sources';
import { runChain } from '#core/chain';
import { newDocument, plainIntake, type ProjectDocument } from '#core/project';
import { failedRead, readLandXmlSurvey, writeLandXmlSurvey, type ReadPoints } from '#core/exchange';
import { PLAIN_SETTINGS, reduce, seaLevelFactor, type Known, type ReductionSettings } from '#core/reduction';

// What a book may say of its own reduction and precision, and what a project sets where practice differs.

const control: Known[] = [
  { number: 'A', x: 1000, y: 2000, z: 600, sdPlan: 0.002, sdHeight: 0.002, from: 'control' },
  { number: 'B', x: 1000, y: 3000, z: 600, sdPlan: 0.002, sdHeight: 0.002, from: 'control' },
  { number: 'C', x: 1100, y: 2000, z: 600, sdPlan: 0.002, sdHeight: 0.002, from: 'control' },
];
const read = (rows: string[], head: string[] = []) => {
  const book = readBookText(['book 1', 'unit m', 'angle deg', 'order EN', ...head, ...rows, 'end'].join('\n'))!;
  expect(book.problems).toEqual([]);
  return book;
};
const run = (rows: string[], head: string[] = [], settings: Partial<ReductionSettings> = {}) =>
  reduce([{ id: 'b', ...read(rows, head) }], control, () => 'used', { ...PLAIN_SETTINGS, ...settings });
const SETUP = ['setup A hi=1.5', 'back B circle=0 zenith=90 dist=1000 th=1.5'];
const first = (r: ReturnType<typeof run>) => r.points.list()[0];

describe('level distances and rises', () => {
  const rows = [...SETUP, 'shot 1 circle=90 hdist=1000 rise=5 th=1.5'];
  // (1 − k) D² / 2R at a kilometre: 68 mm (textbook).
  it('get curvature and refraction once: here, or from the instrument, as the book says', () => {
    expect(first(run(rows, ['flat reduced'])).z).toBeCloseTo(605, 6);
    expect(first(run(rows, ['flat geometric'])).z).toBeCloseTo(605.0683, 3);
    expect(first(run(rows, [], { flatDistances: 'reduced' })).z).toBeCloseTo(605, 6);
    expect(first(run(rows)).z).toBeCloseTo(605.0683, 3);
  });

  it('that do not say are asked about, until the project says', () => {
    const book = read(rows);
    const doc: ProjectDocument = { ...newDocument(), intakes: [plainIntake('b', { form: 'book' })] };
    const points: ReadPoints = { ...failedRead(''), failure: undefined, rows: book.rows, book };
    const asked = (d: ProjectDocument) => runChain(d, () => points).queries.filter((q) => q.kind === 'flat-unsaid');
    const [query] = asked(doc);
    expect(query.text).toContain('0.068 m too high');
    expect(asked({ ...doc, settings: { ...doc.settings, flatDistances: 'reduced' } })).toEqual([]);
  });

  it('without a rise or a vertical angle are a place in plan, and no elevation is made up', () => {
    const plan = [...SETUP, 'shot 1 circle=90 hdist=1000 th=1.5', 'shot 2 circle=90 hdist=1000 zenith=80 th=1.5'];
    const book = read(plan, ['flat reduced']);
    const [one, two] = run(plan, ['flat reduced']).points.list();
    expect([one.x, one.z, one.sdHeight]).toEqual([two.x, NaN, NaN]);
    expect(two.z).toBeCloseTo(600 + 1000 / Math.tan((80 / 180) * Math.PI), 6);
    const again = readBookText(writeBookText(book))!;
    expect(again.records[2]).toMatchObject({ flat: 'plan', zenith: NaN, distance: 1000 });
    expect(bookOfColumns(bookColumns(book))).toEqual(book);
    // Once for the book, however many of them there are.
    const doc: ProjectDocument = { ...newDocument(), intakes: [plainIntake('b', { form: 'book' })] };
    const points: ReadPoints = { ...failedRead(''), failure: undefined, rows: book.rows, book };
    const said = runChain(doc, () => points).queries.filter((q) => q.kind === 'flat-plan');
    expect(said.map((q) => q.text)).toEqual([expect.stringContaining('One sighting of')]);
    expect(said[0].text).toContain('in plan only');
    // A vertical angle that is typed afterwards gives it the elevation that the level distance has.
    const typed = { ...book, records: book.records.map((r) => (r.number === '1' ? { ...r, zenith: (80 / 180) * Math.PI } : r)) }; // prettier-ignore
    const [mended] = reduce([{ id: 'b', ...typed }], control, () => 'used', { ...PLAIN_SETTINGS, earth: 'plane' }).points.list(); // prettier-ignore
    expect(mended.x).toBeCloseTo(two.x, 6);
    expect(mended.z).toBeCloseTo(two.z, 6);
  });

  it('in the second face are what they are in the first', () => {
    const faced = [SETUP[0], 'back B face=1 circle=180 hdist=100 rise=2 th=1.5', 'back B face=2 circle=0 hdist=100 rise=2 th=1.5', 'shot 1 circle=90 hdist=50 rise=5 th=1.5 face=1', 'shot 1 circle=270 hdist=50 rise=5 th=1.5 face=2']; // prettier-ignore
    const r = run(faced, ['flat reduced']);
    expect(r.notes).toEqual([]);
    expect(first(r).z).toBeCloseTo(605, 9);
    const book = read(faced, ['flat reduced']);
    expect(readBookText(writeBookText(book))!.records.map((k) => k.zenith)).toEqual(book.records.map((k) => k.zenith));
  });

  it('leave as LandXML for level distances, and what it cannot say is counted', () => {
    const book = read([...rows, 'shot 2 circle=90 hdist=20 th=1.5'], ['flat reduced']);
    const { text, notes } = writeLandXmlSurvey({ project: 'p', made: '2026-03-02T08:00:00Z', control: [], book });
    const back = readLandXmlSurvey(text)!.book.records.filter((r) => r.kind === 'sighting' && r.role === 'shot');
    expect(back.map((r) => r.flat)).toEqual(['unsaid', 'plan']);
    expect(back[0].distance).toBeCloseTo(Math.hypot(1000, 5), 3);
    expect(back[0].zenith).toBeCloseTo(Math.atan2(1000, 5), 7);
    expect(notes).toEqual(['level distances with curvature in them already: that is not said (1)']);
  });

  it('come back from text and from the store as they were', () => {
    const book = read(rows, ['flat reduced']);
    const again = readBookText(writeBookText(book))!;
    expect(again.records[2].flat).toBe('reduced');
    expect(again.records[2].distance).toBeCloseTo(book.records[2].distance, 3);
    expect(bookOfColumns(bookColumns(book))).toEqual(book);
  });
});

describe('what a book states', () => {
  it('of one observation’s precision counts for that observation', () => {
    const [a, b] = run([...SETUP, 'shot 1 circle=90 zenith=90 dist=100 th=1.5', 'shot 2 circle=90 zenith=90 dist=100 th=1.5 sdir=60 sdist=20 szen=40']).points.list(); // prettier-ignore
    expect(b.sdPlan).toBeGreaterThan(3 * a.sdPlan);
    expect(b.sdHeight).toBeGreaterThan(3 * a.sdHeight);
  });

  it('in parts per million takes the place of the air, from there on', () => {
    const r = run(['weather ppm=50', ...SETUP, 'shot 1 circle=90 zenith=90 dist=1000 th=1.5'], [], { earth: 'plane' });
    expect(first(r).x).toBeCloseTo(1000 + 1000 * (1 + 50e-6), 4);
    const air = run(['weather ppm=50', 'weather t=12 p=1013.25 h=60', ...SETUP, 'shot 1 circle=90 zenith=90 dist=1000 th=1.5'], [], { earth: 'plane' }); // prettier-ignore
    expect(first(air).x).toBeCloseTo(2000, 4);
  });

  it('of the earth: a plane has no curvature; the level of the sea is R / (R + h) below', () => {
    const rows = [...SETUP, 'shot 1 circle=90 zenith=90 dist=1000 th=1.5'];
    expect(first(run(rows, ['earth plane'])).z).toBeCloseTo(600, 9);
    expect(first(run(rows, ['earth plane', 'sealevel yes'])).x).toBeCloseTo(1000 + 1000 * seaLevelFactor(600), 6);
    expect(first(run(rows, ['sealevel no'], { seaLevel: true, earth: 'plane' })).x).toBeCloseTo(2000, 6);
  });

  it('of a typed point: in plan only, its elevation does not count', () => {
    const r = run(['point P 1000 1900 610 use=plan', 'setup A hi=1.5', 'back P circle=180 zenith=90 dist=100 th=1.5', 'shot 1 circle=90 zenith=90 dist=10 th=1.5']); // prettier-ignore
    expect(r.known.get('P')!.z).toBeNaN();
    expect(r.setups[0].backsights[0].heightDifference).toBeNaN();
    expect(r.setups[0].waits).toBeNull();
  });

  it('of a vector’s covariance gives its precision, and is kept', () => {
    const book = read(['gnss 7 10 20 5 fix=fixed cov=144/100/400/20/0/0']);
    const q = book.records[0].gnss!;
    expect(q.plan).toBeCloseTo(Math.sqrt(122e-6), 9);
    expect(q.height).toBeCloseTo(0.02, 9);
    const again = readBookText(writeBookText(book, 'NE'))!.records[0].gnss!;
    again.covariance!.forEach((v, i) => expect(v).toBeCloseTo(q.covariance![i], 12));
    const bad = readBookText('book 1\nunit m\ngnss 7 10 20 5 cov=1/2/3\nend')!;
    expect(bad.records).toHaveLength(1);
    expect(bad.problems[0].reason).toContain('covariances');
  });
});

describe('where practice differs, the project says', () => {
  const two = ['setup A hi=1.5', 'back B circle=0 zenith=90 dist=1000 th=1.5', 'back C circle=90.01 zenith=90 dist=100 th=1.5', 'shot 1 circle=0 zenith=90 dist=10 th=1.5']; // prettier-ignore
  it('backsights count in the orientation by precision, by length, or alike', () => {
    const of = (orientationWeights: ReductionSettings['orientationWeights']): number => (run(two, [], { orientationWeights }).setups[0].orientation * 180) / Math.PI; // prettier-ignore
    expect(of('equal')).toBeCloseTo(-0.005, 6);
    expect(of('length')).toBeCloseTo(-0.01 / 11, 6);
    expect(Math.abs(of('precision'))).toBeLessThan(0.003);
  });

  it('both parts of a distance’s deviation add as squares or as they are; centring and levels have their own', () => {
    const rows = [...SETUP, 'shot 1 circle=0 zenith=90 dist=1000 th=1.5'];
    const along = (settings: Partial<ReductionSettings>): number => first(run(rows, ['instrument I distance=3 ppm=3'], settings)).sdPlan; // prettier-ignore
    expect(along({ distanceParts: 'sum' })).toBeGreaterThan(along({ distanceParts: 'squares' }));
    expect(along({ centring: 0.01 })).toBeGreaterThan(along({}));
    const level = (levelDeviation: number): number => run(['level back A reading=1 dist=50', 'level fore Q reading=1 dist=50'], [], { levelDeviation }).levelling!.heights[0].sd; // prettier-ignore
    expect(level(0.006)).toBeCloseTo(2 * level(0.003), 12);
  });

  it('typed coordinates or satellites come first, whichever book was read first', () => {
    const typed = read(['point S 10 20 5']);
    const gnss = read(['gnss S 10.5 20 5 fix=fixed']);
    fc.assert(
      fc.property(fc.boolean(), fc.constantFrom('typed' as const, 'gnss' as const), (swap, typedOrGnss) => {
        const books = [{ id: 't', ...typed }, { id: 'g', ...gnss }]; // prettier-ignore
        if (swap) books.reverse();
        const { known } = reduce(books, control, () => undefined, { ...PLAIN_SETTINGS, typedOrGnss });
        expect(known.get('S')).toMatchObject({ from: typedOrGnss, x: typedOrGnss === 'typed' ? 10 : 10.5 });
      }),
    );
  });
});
