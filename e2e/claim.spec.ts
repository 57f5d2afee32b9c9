import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { otherParty, sectionTable } from '#demo';
import { readSpreadsheet } from '#core/exchange';
import { drop, go, openDemo, settled, takeIn } from './steps.ts';

// Across the table: zones and depths, the other side's survey, sections by hand, the heap over time, and what goes into the claim.

test('a volume stands up to the other side’s: its zones, why theirs is another, and sheets that calculate', async ({
  page,
}) => {
  await openDemo(page);
  const { name, text } = otherParty();
  await drop(page, name, text);
  await page.getByLabel('what the points are').selectOption('design');
  await page.getByLabel('name of the surface').fill('Survey of the other party');
  await takeIn(page, /^Import /, 6);

  await go(page, 'quantities');
  await page.getByRole('table', { name: 'comparisons' }).getByText('Boat park pad').click();
  // A closed line of the project becomes a zone, and the pad its slices.
  await page.getByLabel('a closed line as a zone').selectOption('PD1');
  await settled(page);
  const zone = page.getByRole('table', { name: 'volumes by zone' }).getByRole('row').nth(1);
  // The zone is the whole pad: what lies in it is all that is compared.
  const cut = await page.getByRole('table', { name: 'comparisons' }).getByRole('row').nth(1).getByRole('cell').nth(1).innerText(); // prettier-ignore
  await expect(zone).toContainText(cut);
  await page.getByLabel('thickness of slices by depth m').fill('0.5');
  await page.getByLabel('thickness of slices by depth m').press('Enter');
  await settled(page);
  await expect(page.getByRole('table', { name: 'volumes by depth' }).getByRole('row')).not.toHaveCount(1);

  // What is dug: everything from the ground on, until a second material begins below 0.3 m.
  await page.getByRole('button', { name: 'By material …' }).click();
  const dug = page.getByRole('table', { name: 'the cut by material' }).getByRole('row');
  await expect(dug.nth(1)).toContainText(cut);
  await page.getByRole('button', { name: 'Add a material below' }).click();
  await settled(page);
  await page.getByLabel('depth of the top of Material 2 m').fill('0.3');
  await page.getByLabel('depth of the top of Material 2 m').press('Enter');
  await settled(page);
  await expect(dug.nth(1)).not.toContainText(cut);
  await expect(page.getByText(/^Loose in all: /)).toContainText(cut);

  await page.getByRole('button', { name: 'Why has the other side another number …' }).click();
  await settled(page);
  await page.getByLabel('their surface').selectOption('Survey of the other party');
  await settled(page);
  const why = page.getByRole('table', { name: 'why their number is another' });
  await expect(why.getByRole('row', { name: /^Ours/ })).toContainText(cut);
  await expect(why.getByRole('row', { name: /that only they have/ })).toBeVisible();
  // Over all of the pad, and no more of either survey.
  await expect(page.getByText(/^Both measure 480\.0 m²/)).toBeVisible();
  const nets = (await why.getByRole('row').allInnerTexts()).slice(1).map((row) => Number(row.split('\t')[3].replace(/[\u2009\u00a0 +]/g, '').replace('−', '-'))); // prettier-ignore
  const shares = nets.slice(1, -1).reduce((sum, v) => sum + v, 0);
  // To the decimal that is shown, nine shares rounded.
  expect(Math.abs(nets[0] + shares - nets.at(-1)!)).toBeLessThan(0.6);

  // Each cause is painted where it acts, in the place of the comparison's own cut and fill.
  const drawing = page.locator('canvas').first();
  const before = await drawing.screenshot();
  await why.getByRole('button', { name: /^show on the drawing: .* that only they have/ }).click();
  await expect(page.getByText(/^Painted like fill/)).toBeVisible();
  await expect.poll(async () => (await drawing.screenshot()).equals(before)).toBe(false);
  await why.getByRole('button', { name: /^show on the drawing: .* that only they have/ }).click();

  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'As a spreadsheet that calculates' }).click();
  const book = await download;
  expect(book.suggestedFilename()).toMatch(/quantities-r\d+\.xlsx$/);
  const sheets = readSpreadsheet(new Uint8Array(readFileSync(await book.path())));
  expect(sheets.ok && sheets.sheets).toEqual(['Volumes', 'Sections', 'Prisms']);
});

test('sections are worked out by hand, and a heap is followed over time', async ({ page }) => {
  await openDemo(page, 'quantities');
  await page.getByRole('button', { name: 'By hand …' }).click();
  await page.getByLabel('name of the volume').fill('West side');
  await page.getByLabel('rows of the table').fill(sectionTable().text);
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByRole('table', { name: 'section by section' }).getByRole('row')).toHaveCount(6);
  await expect(page.getByText(/^Prismoidal/)).toBeVisible();

  await page.goto('/');
  await page.getByRole('link', { name: 'Selmar Yard' }).click();
  await settled(page);
  await go(page, 'quantities');
  await page.getByRole('button', { name: 'Over time …' }).click();
  await settled(page);
  const dates = page.getByRole('table', { name: 'date by date' });
  await expect(dates.getByRole('row')).toHaveCount(3);
  await expect(dates).toContainText('Yard of 2026-09-30');
  await expect(page.getByText(/^By a straight line/)).toContainText('a week');
});
