import { describe, expect, it } from 'vitest';
import { compareThings, type Thing } from '#core/exchange';
import { seeded } from '../../../../demo/src/random.ts';

// Drawings with planted changes: what is found of them is what was done.

const SETTINGS = { tolerance: 1e-4, reach: 50 };
const point = (x: number, y: number, z = 5, layer = 'SHOT'): Thing => ({ kind: 'POINT', layer, text: '', closed: false, at: [x, y, z], form: [] }); // prettier-ignore
const text = (said: string, x: number, y: number, layer = 'NOTES'): Thing => ({ kind: 'TEXT', layer, text: said, closed: false, at: [x, y, 0], form: [] }); // prettier-ignore
const line = (layer: string, ...at: number[]): Thing => ({ kind: 'POLYLINE', layer, text: '', closed: false, at, form: [] }); // prettier-ignore
const symbol = (block: string, x: number, y: number, rotation = 0): Thing => ({ kind: 'INSERT', layer: 'TREES', text: block, closed: false, at: [x, y, 0], form: [rotation, 1, 1, 1] }); // prettier-ignore

const SITE = [
  line('KERB', 0, 0, 5, 10, 0, 5.1, 20, 3, 5.2),
  line('KERB', 0, 4, 5, 10, 4, 5.1, 20, 7, 5.2),
  { ...line('BUILDING', 30, 0, NaN, 40, 0, NaN, 40, 8, NaN, 30, 8, NaN), closed: true },
  point(1, 1),
  point(2, 1),
  point(3, 7),
  text('MH 12', 50, 50),
  symbol('OAK', 60, 10),
];
const compared = (change: (of: Thing[]) => Thing[], before = SITE) => compareThings(before, change(before), SETTINGS);
const shift = (t: Thing, dx: number, dy: number): Thing => ({ ...t, at: t.at.map((v, i) => (i % 3 === 0 ? v + dx : i % 3 === 1 ? v + dy : v)) }); // prettier-ignore

describe('two drawings', () => {
  it('that are the same are unchanged, in whatever order they come and however their numbers are written', () => {
    const written = (t: Thing): Thing => ({ ...t, at: t.at.map((v) => v + 3e-9) });
    expect(compared((of) => [...of].reverse().map(written))).toEqual({ unchanged: 8, added: [], removed: [], moved: [], changed: [], relayered: [], groups: [] }); // prettier-ignore
  });

  it('that differ by what came and what went', () => {
    const got = compared((of) => [...of.filter((t) => t.text !== 'OAK'), line('FENCE', 0, 90, 1, 5, 90, 1)]);
    expect(got).toMatchObject({ unchanged: 7, removed: [{ text: 'OAK', x: 60, y: 10 }], added: [{ layer: 'FENCE', x: 0, y: 90 }] }); // prettier-ignore
  });

  it('tell what moved, by how much', () => {
    const got = compared((of) => of.map((t) => (t.layer === 'BUILDING' ? shift(t, 0.3, -0.4) : t)));
    expect(got).toMatchObject({ unchanged: 7, added: [], removed: [], changed: [] });
    expect(got.moved).toMatchObject([{ kind: 'POLYLINE', layer: 'BUILDING', text: '', x: 30.3, y: -0.4, dx: expect.closeTo(0.3, 12) as number, dy: expect.closeTo(-0.4, 12) as number, distance: expect.closeTo(0.5, 12) as number }]); // prettier-ignore
  });

  it('tell another layer, another text and another elevation apart from a move', () => {
    const got = compared((of) => of.map((t) => (t.layer === 'BUILDING' ? { ...t, layer: 'DEMOLISH' } : t.text === 'MH 12' ? { ...t, text: 'MH 13' } : t.at[0] === 3 ? point(3, 7, 5.5) : t))); // prettier-ignore
    expect(got.relayered).toMatchObject([{ from: 'BUILDING', to: 'DEMOLISH', x: 30, y: 0 }]);
    expect(got.changed).toMatchObject([
      { what: 'text “MH 12” is “MH 13”', x: 50, y: 50 },
      { what: 'elevation', x: 3, y: 7 },
    ]);
    expect(got).toMatchObject({ unchanged: 5, moved: [], added: [], removed: [] });
  });

  it('find a line again of which one vertex moved or one was added', () => {
    const bent = line('KERB', 0, 0, 5, 10, 0.5, 5.1, 20, 3, 5.2);
    const longer = line('KERB', 0, 4, 5, 10, 4, 5.1, 15, 5, 5.1, 20, 7, 5.2);
    const got = compared((of) => [bent, longer, ...of.slice(2)]);
    expect(got.changed.map((c) => c.what)).toEqual(['course', '3 vertices are 4']);
    expect(got).toMatchObject({ unchanged: 6, added: [], removed: [] });
  });

  it('tell a group that turned about one place, with the points and texts in it', () => {
    const [c, s] = [Math.cos(0.25), Math.sin(0.25)];
    const spin = ([x, y, z]: number[]): number[] => [
      35 + c * (x - 35) - s * (y - 4),
      4 + s * (x - 35) + c * (y - 4),
      z,
    ];
    const own = [point(32, 2, 1, 'PILE'), point(38, 6, 1, 'PILE'), text('Block A', 35, 5)];
    const before = [...SITE, ...own];
    const after = before.map((t) => (t.layer === 'BUILDING' || own.includes(t) ? { ...t, at: Array.from({ length: t.at.length / 3 }, (_, k) => spin(t.at.slice(3 * k, 3 * k + 3))).flat() } : t)); // prettier-ignore
    const got = compareThings(before, after, SETTINGS);
    expect(got).toMatchObject({ unchanged: 7, added: [], removed: [], moved: [], changed: [] });
    expect(got.groups).toHaveLength(1);
    const [{ angle, x, y, things }] = got.groups;
    expect([angle, x, y].map((v) => Number(v.toFixed(6)))).toEqual([0.25, 35, 4]);
    expect(things.map((t) => t.layer).sort()).toEqual(['BUILDING', 'NOTES', 'PILE', 'PILE']);
  });

  it('take what shifts together for the same, and what lies out of reach for another', () => {
    const many = Array.from({ length: 200 }, (_, i) => point(3 * (i % 20), 3 * Math.floor(i / 20)));
    const got = compareThings([line('ROW', 0, 0, 1, 9, 0, 1), line('ROW', 0, 3, 1, 7, 3, 1), ...many], [line('ROW', 40, 0, 1, 49, 0, 1), line('ROW', 40, 3, 1, 47, 3, 1), ...many.map((p) => shift(p, 40, 0))], SETTINGS); // prettier-ignore
    expect(got.moved).toHaveLength(202 - got.unchanged);
    expect(got).toMatchObject({ added: [], removed: [] });
    const gone = compareThings([point(0, 0)], [point(500, 0)], SETTINGS);
    expect(gone).toMatchObject({ removed: [{ x: 0 }], added: [{ x: 500 }], moved: [] });
  });

  it('of several alike in one place count each once', () => {
    const got = compareThings([point(0, 0), point(0, 0), point(0, 0)], [point(0, 0), point(0, 0)], SETTINGS);
    expect(got).toMatchObject({ unchanged: 2, removed: [{ x: 0 }], added: [] });
  });
});

describe('two drawings that have nothing in common', () => {
  it('of thousands of things alike are told as what went and what came', () => {
    const { next } = seeded(7);
    const trees = (layer: string): Thing[] => Array.from({ length: 6000 }, (_, i) => ({ ...line(layer, ...[0, 1, 2].flatMap((k) => [5 * k + 1000 * next(), k * (1 + (i % 150)), 1])), text: String(i % 150) })); // prettier-ignore
    const got = compareThings(trees('A'), trees('B'), SETTINGS);
    expect(got.removed.length + got.changed.length + got.moved.length + got.relayered.length + got.unchanged).toBe(
      6000,
    );
    expect(got.removed.length).toBeGreaterThan(5900);
    const alike = (): Thing[] => Array.from({ length: 6000 }, () => symbol('OAK', 5000 * next(), 5000 * next()));
    const moved = compareThings(alike(), alike(), SETTINGS);
    expect(moved.removed.length + moved.moved.length).toBe(6000);
  });
});

describe('hundreds of drawings with planted changes', () => {
  it('are told what was done to them, and nothing else', () => {
    const count = { right: 0, wrong: 0, missed: 0 };
    for (let seed = 1; seed <= 200; seed++) {
      const { next: random } = seeded(seed);
      const at = (): [number, number] => [1000 * random(), 1000 * random()];
      const site: Thing[] = Array.from({ length: 60 }, (_, i) => {
        const [x, y] = at();
        if (i % 3 === 0) return point(x, y, 5 + random(), `L${i % 4}`);
        if (i % 3 === 1) return text(`N ${i}`, x, y);
        return line(`L${i % 5}`, x, y, 1, x + 5 + 9 * random(), y + 3 * random(), 1, x + 20 * random(), y + 9 + random(), 1); // prettier-ignore
      });
      const planted = { moved: 0, added: 0, removed: 0, relayered: 0, changed: 0 };
      const after = site.flatMap((t): Thing[] => {
        const which = random();
        if (which < 0.05) return (planted.removed++, []);
        if (which < 0.1) return (planted.moved++, [shift(t, 8 * random() - 4, 1 + 3 * random())]);
        if (which < 0.15) return (planted.relayered++, [{ ...t, layer: 'ELSEWHERE' }]);
        if (which < 0.2 && t.kind === 'TEXT') return (planted.changed++, [{ ...t, text: `${t.text} new` }]);
        return [t];
      });
      for (let k = 0; k < 3; k++) {
        // Far from all that could have moved there.
        after.push(line('ADDED', ...at(), 1, ...at(), 1));
        planted.added++;
      }
      const got = compareThings(
        site,
        after.sort(() => random() - 0.5),
        SETTINGS,
      );
      for (const what of ['moved', 'added', 'removed', 'relayered', 'changed'] as const) {
        const n = got[what].length;
        count.right += Math.min(n, planted[what]);
        count.wrong += Math.max(0, n - planted[what]);
        count.missed += Math.max(0, planted[what] - n);
      }
      expect(got.groups).toEqual([]);
      // Nothing is lost: each thing of both is told once.
      expect(got.unchanged + got.moved.length + got.changed.length + got.relayered.length + got.removed.length).toBe(site.length); // prettier-ignore
    }
    expect(count).toEqual({ right: count.right, wrong: 0, missed: 0 });
    expect(count.right).toBeGreaterThan(2000);
  });
});
