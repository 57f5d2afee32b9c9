import { expect, test } from 'vitest';
import { compass, FIRST_LOOK, readLook, towardsSun } from '../../src/sheet/ground-look.ts';
import { legendOf } from '../../src/sheet/tint-legend.tsx';

test('a look that was kept comes back; what makes no sense in it is as at first', () => {
  const kept = { tintedBy: 'aspect', shaded: true, sun: { bearing: 90, height: 30 }, stretch: 5 };
  expect(readLook(JSON.stringify(kept))).toEqual(kept);
  expect(readLook(null)).toEqual(FIRST_LOOK);
  expect(readLook('{')).toEqual(FIRST_LOOK);
  expect(readLook('null')).toEqual(FIRST_LOOK);
  const odd = { tintedBy: 'taste', shaded: 'yes', sun: { bearing: 'north', height: 400 }, stretch: 0 };
  expect(readLook(JSON.stringify(odd))).toEqual(FIRST_LOOK);
});

test('the sun is looked for clockwise from north, and above the horizon', () => {
  const near = (v: readonly number[]) => v.map((c) => Number(c.toFixed(6)) + 0);
  expect(near(towardsSun({ bearing: 90, height: 0 }))).toEqual([1, 0, 0]);
  expect(near(towardsSun({ bearing: 0, height: 90 }))).toEqual([0, 0, 1]);
});

test('a bearing is told by the nearest of eight directions', () => {
  const told = [0, 44, 46, 91, 180, 337, 338, 359].map((d) => compass((d * Math.PI) / 180));
  expect(told).toEqual(['N', 'NE', 'NE', 'E', 'S', 'NW', 'N', 'N']);
});

test('the legend names every tint: elevations in the unit of the project, slopes in per cent, directions', () => {
  const elevation = legendOf('elevation', 60, 64, 'ft');
  expect(elevation.head).toBe('elevation ft');
  expect(elevation.entries.map((e) => e.text)).toEqual(['210.0', '206.7', '203.4', '200.1', '196.9']);
  expect(legendOf('slope', 0, 1, 'm').entries.map((e) => e.text)).toEqual([
    '25 and more',
    '10 – 25',
    '5 – 10',
    '2 – 5',
    'under 2',
  ]);
  expect(legendOf('aspect', 0, 1, 'm').entries.map((e) => e.text)).toEqual(['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW', 'level']); // prettier-ignore
});
