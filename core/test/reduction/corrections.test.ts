import { readBookText } from '#core/book';
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import {
  faceErrors,
  groupRefractivity,
  reduceSlope,
  seaLevelFactor,
  trueReading,
  vapourPressure,
  velocityPpm,
} from '#core/reduction';

const SECOND = Math.PI / 648_000;

const BLANK = readBookText(
  'book 1\nunit m\nangle dms\nsetup 1 hi=1\nshot 2 circle=0-00-00 zenith=90-00-00 dist=1 th=1\nend',
)!.records[1];

describe('corrections', () => {
  it('curvature and refraction are (1 − k) D² / 2R: 5.9 mm, 68 mm · …, at 300 m, 1 km, 5 km (textbook, k = 0.13)', () => {
    for (const d of [100, 1000, 5000]) {
      const { rise } = reduceSlope(d, Math.PI / 2, 0.13, 6_371_000);
      expect(rise).toBeCloseTo((0.87 * d * d) / (2 * 6_371_000), 9);
    }
    // On the level a kilometre away the ground has fallen 78.5 mm without refraction.
    expect(reduceSlope(1000, Math.PI / 2, 0).rise).toBeCloseTo(0.0785, 4);
    expect(seaLevelFactor(500)).toBeCloseTo(1 - 500 / 6_371_500, 12);
  });

  it('a steep sight is shortened towards the station: D² sin 2z (2 − k) / 4R', () => {
    const flat = reduceSlope(2000, (70 * Math.PI) / 180, 0.13);
    const plain = 2000 * Math.sin((70 * Math.PI) / 180);
    expect(plain - flat.horizontal).toBeCloseTo(
      ((2 - 0.13) * 2000 * 2000 * Math.sin((140 * Math.PI) / 180)) / (4 * 6_371_000),
      9,
    );
  });

  it('the air changes a distance by about 1 ppm a degree and 0.3 ppm a hectopascal (common practice)', () => {
    const at = (temperature: number, pressure: number, humidity = 60): number =>
      velocityPpm({ temperature, pressure, humidity }, 0.658);
    expect(at(12, 1013.25)).toBeCloseTo(0, 9);
    expect(at(13, 1013.25) - at(12, 1013.25)).toBeGreaterThan(0.9);
    expect(at(13, 1013.25) - at(12, 1013.25)).toBeLessThan(1.1);
    expect(at(12, 1003.25) - at(12, 1013.25)).toBeCloseTo(2.8, 0);
    // Saturation pressure at 20 °C is 23.4 hPa (standard tables).
    expect(vapourPressure({ temperature: 20, pressure: 1013, humidity: 100 })).toBeCloseTo(23.4, 0);
    // Visible red under standard air: some 300 parts per million less 17 for 15 °C.
    expect(groupRefractivity({ temperature: 0, pressure: 1013.25, humidity: 0 }, 0.658)).toBeCloseTo(299.25, 0);
  });

  it('index and collimation come out of both faces, and are taken off single readings', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 6.28, noNaN: true }),
        fc.double({ min: 1, max: 2.1, noNaN: true }),
        fc.double({ min: -60, max: 60, noNaN: true }),
        fc.double({ min: -60, max: 60, noNaN: true }),
        (circle, zenith, index, collimation) => {
          const [i, c] = [index * SECOND, collimation * SECOND];
          const turn = (a: number): number => ((a % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
          const of = (face: 1 | 2) => ({
            ...BLANK,
            face,
            circle: turn(face === 1 ? circle + c / Math.sin(zenith) : circle + Math.PI - c / Math.sin(zenith)),
            zenith: (face === 1 ? zenith : 2 * Math.PI - zenith) + i,
          });
          const errors = faceErrors([of(1), of(2)]);
          expect(errors.index).toBeCloseTo(i, 10);
          expect(errors.collimation).toBeCloseTo(c, 10);
          for (const face of [1, 2] as const) {
            const t = trueReading(of(face), errors);
            expect(Math.abs(Math.sin((t.circle - circle) / 2))).toBeLessThan(1e-7);
            expect(t.zenith).toBeCloseTo(zenith, 9);
          }
        },
      ),
    );
  });
});
