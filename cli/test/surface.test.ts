import { writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { at, dunrik, json, volcanoBefore } from './ran.ts';

volcanoBefore();

interface Report {
  vertices: number;
  planArea: number;
  lowest: number;
  highest: number;
  coincidentPoints: number;
  meetings: { x: number; y: number; kind: string; elevations: number[]; kept: number }[];
  joined: number;
  filled?: number;
  thinned?: { left: number; of: number; largestError: number };
}
const csv = (name: string, rows: string[]): string => {
  writeFileSync(at(name), ['Number,East [m],North [m],Elevation [m]', ...rows].join('\n'));
  return at(name);
};
const lines = (name: string, ...list: number[][][]): string => {
  const features = list.map((coordinates) => ({ type: 'Feature', properties: {}, geometry: { type: 'LineString', coordinates } })); // prettier-ignore
  writeFileSync(at(name), JSON.stringify({ type: 'FeatureCollection', features }));
  return at(name);
};
const square = (name = 'square.csv') => csv(name, ['1,0,0,10', '2,20,0,10', '3,20,20,10', '4,0,20,10']);

describe('breaklines that meet, on the command line', () => {
  const cross = () => lines('cross.geojson', [[0, 5, 11], [20, 5, 11]], [[10, 0, 13], [10, 20, 13]]); // prettier-ignore

  it('are listed with place, kind and elevations, the first kept unless --meeting says otherwise', () => {
    const report = json<Report>('surface', square(), '--lines', cross());
    expect(report.meetings).toEqual([{ x: 10, y: 5, kind: 'cross', elevations: [11, 13], kept: 11 }]);
    for (const [rule, kept] of [
      ['mean', 12],
      ['highest', 13],
      ['lowest', 11],
    ] as const)
      // prettier-ignore
      expect(json<Report>('surface', square(), '--lines', cross(), '--meeting', rule).meetings[0].kept).toBe(kept);
    expect(dunrik('surface', square(), '--lines', cross()).out).toContain('breaklines cross at E 10.000 N 5.000: 11.000, 13.000 m; 11.000 is kept'); // prettier-ignore
  });

  it('are joined where they agree', () => {
    const same = lines('same.geojson', [[0, 5, 11], [20, 5, 11]], [[10, 0, 11], [10, 20, 11]]); // prettier-ignore
    expect(json<Report>('surface', square(), '--lines', same)).toMatchObject({ meetings: [], joined: 1 });
  });
});

describe('coincident points, on the command line', () => {
  it('with two elevations are listed; --keep says which stays', () => {
    const file = csv('twice.csv', ['1,0,0,10', '2,20,0,10', '3,20,20,10', '4,0,20,10', '5,10,10,11', '6,10,10,14']);
    expect(json<Report>('surface', file)).toMatchObject({ highest: 11, coincidentPoints: 1, meetings: [{ kind: 'place', elevations: [11, 14], kept: 11 }] }); // prettier-ignore
    for (const [keep, highest] of [
      ['last', 14],
      ['mean', 12.5],
      ['highest', 14],
      ['lowest', 11],
    ] as const)
      // prettier-ignore
      expect(json<Report>('surface', file, '--keep', keep).highest).toBe(highest);
    const wrong = dunrik('surface', file, '--keep', 'best');
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringContaining('--keep is first or last or mean or highest or lowest')]); // prettier-ignore
  });
});

describe('voids, on the command line', () => {
  it('are left out, all that a file has', () => {
    const ring = (low: number, high: number): number[][] => [[low, low], [high, low], [high, high], [low, high], [low, low]]; // prettier-ignore
    const voids = lines('voids.geojson', ring(2, 6), ring(10, 14));
    expect(json<Report>('surface', square(), '--voids', voids).planArea).toBeCloseTo(400 - 16 - 16, 6);
    const open = lines('open.geojson', [[0, 0], [4, 0], [4, 4]], [[5, 5], [6, 6]]); // prettier-ignore
    expect(dunrik('surface', square(), '--voids', open)).toMatchObject({ code: 1, err: expect.stringContaining('holds no line that could be a boundary') as string }); // prettier-ignore
  });
});

describe('thinning, on the command line', () => {
  it('leaves so few points that every other is within the stated height of the surface, which is proved', () => {
    const report = json<Report>('surface', at('volcano.csv'), '--thin', '1', '-o', at('thin.xml'));
    const { left, of, largestError } = report.thinned!;
    expect(of).toBe(5307);
    expect(left).toBeLessThan(2200);
    expect(report.vertices).toBe(left);
    expect(largestError).toBeLessThanOrEqual(1);
    // The proof, by another way: every point asked of the surface that was written.
    const { check } = json<{ check: { largest: number; rmse: number; shots: number } }>('heights', at('thin.xml'), '--at', at('volcano.csv'), '--check'); // prettier-ignore
    expect(check.shots).toBe(5307);
    expect(check.largest).toBeCloseTo(largestError, 6);
    // A finer limit keeps more, a coarser one fewer.
    const count = (limit: string): number => json<Report>('surface', at('volcano.csv'), '--thin', limit).thinned!.left;
    expect(count('0.5')).toBeGreaterThan(left);
    expect(count('3')).toBeLessThan(left);
  });
});

describe('level parts between contours, on the command line', () => {
  it('are filled by --fill-level, which comes nearer to the heights that the contours were drawn from', () => {
    dunrik('surface', at('volcano.csv'), '-o', at('whole.xml'));
    dunrik('contours', at('whole.xml'), '--interval', '20', '-o', at('twenty.geojson'));
    const contours = [at('twenty.geojson'), '--lines', at('twenty.geojson')];
    const rmse = (...more: string[]): number => {
      const report = json<Report>('surface', ...contours, ...more, '-o', at('of-contours.xml'));
      expect((report.filled ?? 0) > 0).toBe(more.length > 0);
      return json<{ check: { rmse: number } }>('heights', at('of-contours.xml'), '--at', at('volcano.csv'), '--check').check.rmse; // prettier-ignore
    };
    const level = rmse();
    const filled = rmse('--fill-level', '50');
    expect(filled).toBeLessThan(0.85 * level);
    const refused = dunrik('surface', ...contours, '--fill-level', '120');
    expect([refused.code, refused.err]).toEqual([2, expect.stringContaining('--fill-level')]);
  });
});

describe('check shots, on the command line', () => {
  it('give root mean square and the 95 % figure of NSSDA, and say where they are too few', () => {
    const shots = csv('shots.csv', ['1,5,5,10.03', '2,15,5,9.96', '3,5,15,10', '4,30,30,11']);
    const report = json<{ off: number; check: { shots: number; rmse: number; nssda: number; enough: boolean; mean: number } }>('heights', surfaceOf(square()), '--at', shots, '--check'); // prettier-ignore
    const rmse = Math.sqrt((0.03 ** 2 + 0.04 ** 2) / 3);
    expect(report.off).toBe(1);
    expect(report.check).toMatchObject({ shots: 3, enough: false });
    expect(report.check.rmse).toBeCloseTo(rmse, 9);
    // FGDC-STD-007.3-1998: accuracy at 95 % = 1.9600 × RMSE z.
    expect(report.check.nssda).toBeCloseTo(1.96 * rmse, 9);
    expect(report.check.mean).toBeCloseTo(0.01 / 3, 9);
    expect(dunrik('heights', surfaceOf(square()), '--at', shots, '--check').out).toContain('fewer than the 20 that NSSDA asks for'); // prettier-ignore
  });
});

function surfaceOf(points: string): string {
  expect(dunrik('surface', points, '-o', at('of.xml')).code).toBe(0);
  return at('of.xml');
}

describe('thinning and a rule for coincident points together', () => {
  it('leave the choice to the rule', () => {
    const file = csv('thin-twice.csv', ['1,0,0,10', '2,20,0,10', '3,20,20,10', '4,0,20,10', '5,10,10,14', '6,10,10,15', '7,3,2,10']); // prettier-ignore
    for (const [keep, highest] of [
      ['first', 14],
      ['last', 15],
      ['mean', 14.5],
      ['highest', 15],
      ['lowest', 14],
    ] as const)
      // prettier-ignore
      expect(json<Report>('surface', file, '--thin', '0.5', '--keep', keep).highest).toBe(highest);
  });
});

describe('layers of a drawing, on the command line', () => {
  const drawing = (): string => {
    const features = [
      [[5, 5, 12], [15, 5, 12], 'kerb'],
      [[5, 15, 30], [15, 15, 30], 'roof'],
    ].map(([a, b, layer]) => ({ type: 'Feature', properties: { layer }, geometry: { type: 'LineString', coordinates: [a, b] } })); // prettier-ignore
    writeFileSync(at('layers.geojson'), JSON.stringify({ type: 'FeatureCollection', features }));
    return at('layers.geojson');
  };

  it('are chosen by --layer; one that is not there is refused with those that are', () => {
    expect(json<Report>('surface', square(), '--lines', drawing()).highest).toBe(30);
    expect(json<Report>('surface', square(), '--lines', drawing(), '--layer', 'Kerb').highest).toBe(12);
    const refused = dunrik('surface', square(), '--lines', drawing(), '--layer', 'wall');
    expect(refused.code).toBe(1);
    expect(refused.err).toContain('has no layer wall. It has kerb, roof.');
  });
});

describe('contours, on the command line', () => {
  it('are smoothed where it is asked for: as many, longer by no corner, on the same levels', () => {
    const hill = csv('hill.csv', ['1,0,0,0', '2,20,0,0', '3,20,20,0', '4,0,20,0', '5,10,10,10']);
    dunrik('surface', hill, '-o', at('hill.xml'));
    interface Drawn {
      contours: number;
      levels: { elevation: number; length: number }[];
    }
    const [plain, smooth] = [[], ['--smooth']].map((more) => json<Drawn>('contours', at('hill.xml'), '--interval', '3', ...more)); // prettier-ignore
    expect(smooth.contours).toBe(plain.contours);
    expect(smooth.levels.map((l) => l.elevation)).toEqual(plain.levels.map((l) => l.elevation));
    // A cut corner is shorter.
    smooth.levels.forEach((l, i) => l.length > 0 && expect(l.length).toBeLessThan(plain.levels[i].length));
  });
});
