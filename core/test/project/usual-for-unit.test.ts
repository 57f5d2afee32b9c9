import { describe, expect, it } from 'vitest';
import { newDocument, unitWithUsual } from '#core/project';

const { settings } = newDocument();

describe('a unit of length', () => {
  it('brings areas, volumes, plot scale and contours along: 1 in = 40 ft in feet', () => {
    expect(unitWithUsual(settings, 'usft')).toEqual({
      unit: 'usft',
      areaUnit: 'ft2',
      volumeUnit: 'yd3',
      chainage: 'hundreds',
      plotScale: 12 * 40,
      contourInterval: 0.3048,
      indexEvery: 5,
    });
    const feet = { ...settings, ...unitWithUsual(settings, 'ft') };
    expect({ ...feet, ...unitWithUsual(feet, 'm') }).toEqual(settings);
  });

  it('leaves what a person chose, and changes nothing between the two feet', () => {
    const own = { ...settings, plotScale: 200, areaUnit: 'ha' as const };
    expect(unitWithUsual(own, 'ft')).not.toHaveProperty('plotScale');
    expect(unitWithUsual(own, 'ft')).not.toHaveProperty('areaUnit');
    const feet = { ...settings, ...unitWithUsual(settings, 'ft') };
    expect({ ...feet, ...unitWithUsual(feet, 'usft') }).toEqual({ ...feet, unit: 'usft' });
  });
});
