import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { enterDemo, go, settled } from './steps.ts';
import { wordsOfPdf } from './pdf.ts';

// From a picture from the air to what is claimed for it: contours and a top traced over it, a surface, its volume, the report.

/** Middle of the heap, m. */
const [EAST, NORTH] = [3476, 8172];

test('a heap is traced over a picture from the air, and its volume goes into a claim', async ({ page }) => {
  await enterDemo(page);
  await page.getByRole('link', { name: 'Selmar Yard' }).click();
  await settled(page);
  await go(page, 'ground');
  await page.getByLabel('trace over a picture').selectOption({ label: 'into a new surface' });
  await expect(page.getByText(/the scale of the picture is good to 0\.28 %/)).toBeVisible();
  await page.getByRole('button', { name: 'Show the picture' }).click();

  await page.getByLabel('elevation of the contour m').fill('87');
  await page.getByLabel('elevation of the contour m').press('Enter');
  await page.getByLabel('step to the next contour m').fill('3');
  await page.getByLabel('step to the next contour m').press('Enter');
  await page.getByRole('button', { name: 'Trace', exact: true }).click();
  for (const half of [12, 4]) {
    await square(page, half);
    // The next one is waited for before its first corner.
    await expect(page.getByText('Point out the contour: 0')).toBeVisible();
    await settled(page);
  }
  await page.keyboard.press('Escape');
  // The next one would be at 93 m; over the second there is nothing yet.
  await expect(page.getByLabel('elevation of the contour m')).toHaveValue('93.000');
  await expect(page.getByText(/Nothing is higher than the contour at 90\.00 m/)).toBeVisible();
  await page.getByLabel('what is traced').selectOption('spot heights');
  await page.getByRole('button', { name: 'Trace', exact: true }).click();
  await place(page, EAST, NORTH);
  await page.getByLabel('elevation m', { exact: true }).fill('90.2');
  await page.getByLabel('elevation m', { exact: true }).press('Enter');
  await expect(page.getByText('Point at the place of the spot height')).toBeVisible();
  await settled(page);
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'Measure as a heap' }).click();
  await settled(page);
  // A frustum of a pyramid, 24 m and 8 m square and 3 m high, and a pyramid of 0.2 m on it.
  const volume = (576 + 64 + Math.sqrt(576 * 64)) * (3 / 3) + (64 * 0.2) / 3;
  const row = page.getByRole('table', { name: 'comparisons' }).getByRole('row', { name: /^Traced/ });
  await expect(row).toContainText(volume.toFixed(1));
  // 90 % of what is traced lies within half the step in height: as much is said of the volume.
  await expect(page.getByText(/^Points good to .* m in plan/)).toBeVisible();

  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Report as PDF' }).click();
  const pdf = wordsOfPdf(readFileSync(await (await download).path()));
  expect(pdf).toMatch(/heap in “Traced/);
  expect(pdf).toContain(volume.toFixed(1));
  expect(pdf).toMatch(/± is 95 %/);
});

/** The corners of a square round the middle, typed; the first one again closes it. */
async function square(page: Page, half: number): Promise<void> {
  for (const [u, v] of [[-1, -1], [1, -1], [1, 1], [-1, 1], [-1, -1]]) await place(page, EAST + u * half, NORTH + v * half); // prettier-ignore
}

async function place(page: Page, east: number, north: number): Promise<void> {
  const bar = page.getByRole('group', { name: 'drawing' });
  const mode = bar.getByRole('button', { name: 'coordinates' });
  if ((await mode.getAttribute('aria-pressed')) !== 'true') await mode.click();
  await bar.getByLabel('E m').fill(String(east));
  await bar.getByLabel('N m').fill(String(north));
  await bar.getByRole('button', { name: 'Add' }).click();
}
