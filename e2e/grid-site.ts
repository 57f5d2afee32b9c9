import type { Page } from '@playwright/test';
import { settled } from './steps.ts';

/** Seven by seven shots 5 m apart, rising east; the middle one, 25, is at E 2015 N 6015. */
export const GRID = Array.from({ length: 49 }, (_, i) => `${i + 1},${2000 + (i % 7) * 5}.000,${6000 + Math.floor(i / 7) * 5}.000,${(40 + (i % 7) * 0.5).toFixed(3)},GR`).join('\n'); // prettier-ignore

const SCALE = 0.08;
/** Looks at the middle of the grid at a known scale; gives where a place is on the screen. */
export async function lookAtMiddle(page: Page): Promise<(x: number, y: number) => { x: number; y: number }> {
  const url = new URL(page.url());
  url.searchParams.set('view', `plan,2015,6015,${SCALE}`);
  await page.goto(url.href);
  await settled(page);
  const sheet = (await page.getByRole('region', { name: 'sheet' }).boundingBox())!;
  const [cx, cy] = [sheet.x + sheet.width / 2, sheet.y + sheet.height / 2];
  return (x, y) => ({ x: cx + (x - 2015) / SCALE, y: cy - (y - 6015) / SCALE });
}
