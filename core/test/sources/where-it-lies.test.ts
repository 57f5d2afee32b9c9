import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FILE_UNITS, METRES_IN_FILE, type FileUnit } from '#core/measure';
import { whereItLies, type Extent } from '#core/sources';

// Metres in a unit: NIST (US survey foot 1200/3937 m, international foot 0.3048 m, inch 0.0254 m).

const PROJECT: Extent = [431_200, 5_212_300, 431_420, 5_212_510];
const asRead = (e: Extent, is: FileUnit, readIn: FileUnit): Extent => e.map((v) => (v / METRES_IN_FILE[is]) * METRES_IN_FILE[readIn]) as unknown as Extent; // prettier-ignore
const SITE: Extent = [431_250, 5_212_330, 431_350, 5_212_400];

describe('where a file lies against the project', () => {
  it('asks nothing of one that lies there, or a project that has no points', () => {
    expect(whereItLies(SITE, 'm', PROJECT)).toBeNull();
    expect(whereItLies(SITE, 'm', null)).toBeNull();
    // An access road 400 m outside.
    expect(whereItLies([431_700, 5_212_330, 431_800, 5_212_400], 'm', PROJECT)).toBeNull();
  });

  it.each([
    ['mm', 'm'],
    ['m', 'mm'],
    ['ft', 'm'],
    ['m', 'ft'],
    ['in', 'ft'],
    ['cm', 'usft'],
  ] as const)('tells a file in %s that is read in %s', (is, readIn) => {
    const { ways, off } = whereItLies(asRead(SITE, is, readIn), readIn, PROJECT)!;
    expect(off).toBeGreaterThan(100_000);
    expect(ways.map((w) => w.unit)).toContain(is);
    // The two feet lie 2 ppm apart: by extent alone nobody can tell them.
    const same = new Set<FileUnit>(is === 'ft' ? ['ft', 'usft'] : [is]);
    expect(ways.every((w) => same.has(w.unit) && !w.swapped && w.shift === null)).toBe(true);
    expect(ways[0].off).toBeLessThan(200);
  });

  it('tells east and north the other way round', () => {
    const [w, s, e, n] = SITE;
    expect(whereItLies([s, w, n, e], 'm', PROJECT)!.ways).toEqual([{ unit: 'm', swapped: true, shift: null, off: expect.any(Number) as number }]); // prettier-ignore
  });

  it('tells leading digits that are cut off, in round numbers', () => {
    const cut: Extent = [1250, 12_330, 1350, 12_400];
    expect(whereItLies(cut, 'm', PROJECT)!.ways).toMatchObject([{ unit: 'm', swapped: false, shift: [430_000, 5_200_000] }]); // prettier-ignore
  });

  it('says nothing of one that lies at its own origin or elsewhere in the country', () => {
    expect(whereItLies([-40, -30, 60, 40], 'm', PROJECT)!.ways).toEqual([]);
    expect(whereItLies([520_000, 5_300_000, 520_100, 5_300_100], 'm', PROJECT)!.ways).toEqual([]);
    // As large as a country: no drawing of this site.
    expect(whereItLies([0, 0, 1e6, 6e6], 'm', PROJECT)!.ways).toEqual([]);
  });

  it('names the digits of hundreds of sites that lost them, and hardly any of sites on their own origins', () => {
    let [wrong, asked] = [0, 0];
    const place = fc.tuple(fc.integer({ min: 150_000, max: 850_000 }), fc.integer({ min: 1_000_000, max: 9_000_000 }), fc.constantFrom(1e4, 1e5), fc.integer({ min: 0, max: 9000 }), fc.integer({ min: 0, max: 9000 })); // prettier-ignore
    fc.assert(
      fc.property(place, ([x, y, cut, ox, oy]) => {
        const project: Extent = [x, y, x + 200, y + 200];
        const lost: [number, number] = [Math.floor((x + 60) / cut) * cut, Math.floor((y + 60) / cut) * cut];
        const file: Extent = [x + 50 - lost[0], y + 50 - lost[1], x + 150 - lost[0], y + 150 - lost[1]];
        const [way] = whereItLies(file, 'm', project)!.ways;
        if (way?.shift?.[0] !== lost[0] || way.shift[1] !== lost[1]) wrong++;
        // A drawing of the same size on an origin of its own.
        if (whereItLies([ox, oy, ox + 100, oy + 100], 'm', project)?.ways.length) asked++;
      }),
      { numRuns: 500, seed: 5 },
    );
    expect(wrong).toBeLessThanOrEqual(2);
    expect(asked).toBeLessThanOrEqual(5);
  });

  it('finds the unit of any site in the world’s grids that is read in another one, and proposes none that is clean', () => {
    const coordinate = fc.tuple(fc.integer({ min: 150_000, max: 850_000 }), fc.integer({ min: 1_000_000, max: 9_000_000 })); // prettier-ignore
    const unit = fc.constantFrom(...FILE_UNITS);
    let [right, wrong] = [0, 0];
    fc.assert(
      fc.property(coordinate, fc.integer({ min: 20, max: 3000 }), unit, unit, ([x, y], size, is, readIn) => {
        const project: Extent = [x, y, x + size, y + size];
        const file: Extent = [x + size / 4, y + size / 4, x + size / 2, y + size / 2];
        const feet = (u: FileUnit): string => (u === 'usft' ? 'ft' : u);
        const found = whereItLies(asRead(file, is, readIn), readIn, project);
        if (is === readIn) expect(found).toBeNull();
        // A foot read as the other lies there, within a few metres.
        else if (feet(is) !== feet(readIn)) {
          expect(found!.ways.map((w) => w.unit)).toContain(is);
          if (feet(found!.ways[0].unit) === feet(is)) right++;
          else wrong++;
        }
      }),
      { numRuns: 500 },
    );
    expect(wrong).toBe(0);
    expect(right).toBeGreaterThan(200);
  });
});
