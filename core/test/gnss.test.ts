import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { readBookText, writeBookText } from '#core/book';
import { newDocument, plainIntake, runChain, type ChainResult, type ProjectDocument } from '#core/chain';
import { failedRead, type ReadPoints } from '#core/exchange';
import { PLAIN_SETTINGS, reduce, type Known, type Reduction } from '#core/reduction';

const control: Known[] = [{ number: 'K1', x: 500, y: 900, z: 20, sdPlan: 0.002, sdHeight: 0.003, from: 'control' }];
const bookOf = (rows: string[], head = 'angle dms') =>
  readBookText(['book 1', 'unit m', head, 'order EN', ...rows, 'end'].join('\n'))!;
const run = (rows: string[], settings: Partial<typeof PLAIN_SETTINGS> = {}): Reduction => {
  const book = bookOf(rows);
  expect(book.problems).toEqual([]);
  return reduce([{ id: 'b', ...book }], control, () => undefined, { ...PLAIN_SETTINGS, ...settings });
};
const at = (r: Reduction, number: string) => r.points.list().find((p) => p.number === number)!;
const shot = (number: string, x: number, y: number, z: number, fix: string, more = 'sp=0.008 sh=0.012'): string =>
  `gnss ${number} ${x} ${y} ${z} fix=${fix} ${more}`;

describe('measurements by satellite of one number', () => {
  it('a fixed one beats a float one: the float one is kept, shown, and not in the mean', () => {
    const rows = [shot('7', 100, 200, 10, 'fixed'), shot('7', 100.06, 200, 10.05, 'float', 'sp=0.05 sh=0.08')];
    const r = run(rows);
    expect(at(r, '7')).toMatchObject({ x: 100, y: 200, z: 10, waits: false });
    const [mean] = r.gnss;
    expect(mean.readings.map((g) => [g.fix, g.used])).toEqual([['fixed', true], ['float', false]]); // prettier-ignore
    expect(mean.readings[1].dx).toBeCloseTo(0.06, 9);
    expect(r.notes.map((n) => n.kind)).toEqual(['gnss-left', 'gnss-poor']);
    expect(r.notes[0].text).toBe('1 of 2 measurements of 7 is not in the mean: not fixed, and another is');
    // Where the project takes all of them, they are weighed by what they state.
    expect(at(run(rows, { gnssMean: 'all' }), '7').x).toBeGreaterThan(100);
  });

  it('are held against each other pair by pair, by what they state', () => {
    const r = run([shot('7', 100, 200, 10, 'fixed'), shot('7', 100.002, 200, 10.001, 'fixed'), shot('7', 100.06, 200, 10, 'fixed')]); // prettier-ignore
    expect(r.notes.map((n) => [n.kind, n.rows])).toEqual([
      ['gnss-spread', [7, 5]],
      ['gnss-spread', [7, 6]],
    ]);
  });

  it('every poor one is named, each with its row', () => {
    const r = run([shot('7', 100, 200, 10, 'float', 'sp=0.2 sh=0.3'), shot('7', 100.01, 200, 10, 'float', 'sp=0.2 sh=0.3 tilt=20')]); // prettier-ignore
    expect(r.notes.filter((n) => n.kind === 'gnss-poor').map((n) => n.row)).toEqual([5, 6]);
  });

  it('promise the worse of what they state and of how far they agree', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -0.02, max: 0.02, noNaN: true }), { minLength: 2, maxLength: 8 }),
        (offs) => {
          const r = run(offs.map((v) => shot('7', 100 + Number(v.toFixed(4)), 200, 10, 'fixed')));
          const p = at(r, '7');
          const stated = 0.008 / Math.sqrt(offs.length);
          expect(p.sdPlan).toBeGreaterThanOrEqual(stated - 1e-7);
          const values = offs.map((v) => Number(v.toFixed(4)));
          const mean = values.reduce((s, v) => s + v, 0) / values.length;
          const squares = values.reduce((s, v) => s + (v - mean) ** 2, 0) / 2 / (values.length - 1);
          expect(p.sdPlan).toBeCloseTo(Math.max(stated, Math.sqrt(squares / values.length)), 6);
        },
      ),
    );
  });

  it('of two places under one number wait: their mean is nowhere', () => {
    expect(at(run([shot('7', 100, 200, 10, 'fixed'), shot('7', 140, 230, 11, 'fixed')]), '7').waits).toBe(true);
  });

  it('of control is compared with it, as a total station’s check is', () => {
    const good = run([shot('K1', 500.005, 900, 20.01, 'fixed')]);
    expect(good.gnss[0].control!.dz).toBeCloseTo(0.01, 9);
    expect(good.notes).toEqual([]);
    const off = run([shot('K1', 500.1, 900, 20.01, 'fixed')]);
    expect(off.notes.map((n) => [n.kind, n.values[0].toFixed(3)])).toEqual([['gnss-check', '0.100']]);
  });
});

describe('a tilt', () => {
  it('is plain degrees whatever the book’s angles are, and comes back as it was', () => {
    for (const head of ['angle dms', 'angle deg', 'angle gon', 'angle packed']) {
      const book = bookOf([shot('7', 100, 200, 10, 'fixed', 'tilt=12.5')], head);
      expect(book.problems).toEqual([]);
      expect((book.records[0].gnss!.tilt * 180) / Math.PI).toBeCloseTo(12.5, 9);
      expect((readBookText(writeBookText(book))!.records[0].gnss!.tilt * 180) / Math.PI).toBeCloseTo(12.5, 4);
    }
  });

  it('that cannot be read is listed, and does not take the position with it', () => {
    const book = bookOf([shot('7', 100, 200, 10, 'fixed', 'tilt=steep')]);
    expect(book.problems).toHaveLength(1);
    expect(book.records).toHaveLength(1);
    expect(book.records[0].gnss!.tilt).toBeNaN();
  });
});

describe('the words about satellites', () => {
  it('are in the project’s unit', () => {
    const book = bookOf([shot('7', 100, 200, 10, 'float', 'sp=0.3048 sh=0.02')]);
    const read: ReadPoints = { ...failedRead(''), failure: undefined, rows: book.rows, book };
    const doc: ProjectDocument = { ...newDocument({ unit: 'ft' }), intakes: [plainIntake('b', { form: 'book' })] };
    const result: ChainResult = runChain(doc, () => read);
    const text = result.queries.find((q) => q.kind === 'gnss-poor')!.text;
    expect(text).toContain('1.000 ft in plan');
    expect(text).not.toContain('mm');
  });
});
