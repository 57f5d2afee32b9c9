import { expect, test, type Page } from '@playwright/test';
import { GRID, lookAtMiddle } from './grid-site.ts';
import { beginProject, drop, go, settled, takeIn } from './steps.ts';

// How a surface is looked at: two sides that move together, a section along a line that is dragged, and an area that is
// raised under the hand.

async function drag(page: Page, from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 3 });
  await page.mouse.move(to.x, to.y, { steps: 3 });
}

test('a section follows the line that is dragged, and is read under the cursor', async ({ page }) => {
  await beginProject(page, 'Cut along');
  await drop(page, 'shots.csv', GRID);
  await takeIn(page, 'Import 49 points', 1);
  await go(page, 'ground');
  const at = await lookAtMiddle(page);
  await page.getByRole('button', { name: 'Section' }).click();
  for (const [x, y] of [[2003, 6012], [2027, 6012]] as const) await page.mouse.click(at(x, y).x, at(x, y).y); // prettier-ignore
  await page.keyboard.press('Enter');
  const section = page.getByRole('region', { name: 'section' });
  await expect(section).toContainText('24.00 m');

  // Half way along it the ground is as high as the middle of the grid, and rises one in ten.
  // The chart is as wide as its place, once that is known.
  await expect(async () => {
    const chart = (await section.getByRole('img').boundingBox())!;
    const [left, right] = [chart.x + 58, chart.x + chart.width - 14];
    await page.mouse.move((left + right) / 2, chart.y + 60);
    await expect(section).toContainText(/at 1[12]\.\d\d m {3}elev 41\.[45]\d \(\+10\.0 %\)/, { timeout: 1000 });
  }).toPass();

  // Its eastern corner is dragged 10 m to the west.
  await drag(page, at(2027, 6012), at(2017, 6012));
  await expect(section).toContainText(/1[34]\.\d\d m/);
  await page.mouse.up();
  // All of it 20 m to the south, off the surface.
  await drag(page, at(2010, 6012), at(2010, 5994));
  await page.mouse.up();
  await expect(section).toContainText('The line crosses no surface that is drawn.');
  for (let i = 0; i < 7; i++)
    await section.getByRole('button', { name: 'move the section line 1 m to the left' }).click();
  await expect(section.getByRole('img', { name: 'section of Ground' })).toBeVisible();
  await section.getByRole('button', { name: 'Close' }).click();
  await expect(section).toHaveCount(0);
});

test('two sides show two looks of the same place, and a choice of surface and look is kept', async ({ page }) => {
  await beginProject(page, 'Beside');
  await drop(page, 'shots.csv', GRID);
  await takeIn(page, 'Import 49 points', 1);
  await go(page, 'ground');
  await page.getByRole('button', { name: 'Copy' }).click();
  await settled(page);
  await page.getByRole('button', { name: 'Side by side' }).click();
  const second = page.getByRole('group', { name: 'second side' });
  await second.getByLabel('surface of the second side').selectOption({ label: 'Ground copy' });
  await second.getByLabel('look of the second side').selectOption('aspect');
  await expect(page.getByRole('group', { name: 'legend: elevation m' })).toBeVisible();
  await expect(page.getByRole('group', { name: 'legend: falls to' })).toBeVisible();

  // The same place has the same coordinates under the cursor on either side.
  const sheet = (await page.getByRole('region', { name: 'sheet' }).boundingBox())!;
  const half = Math.floor((sheet.width - 2) / 2);
  const reading = page.getByText(/^E .*N /);
  await page.mouse.move(sheet.x + half / 2, sheet.y + sheet.height / 2);
  const first = await reading.textContent();
  await page.mouse.move(sheet.x + half + 2 + half / 2, sheet.y + sheet.height / 2);
  await expect(reading).toHaveText(first!);

  await page.reload();
  await settled(page);
  await expect(second.getByLabel('look of the second side')).toHaveValue('aspect');
  await page.getByRole('button', { name: 'Side by side' }).click();
  await expect(second).toHaveCount(0);
});

test('an area is raised under the hand: figures and volumes follow the mark that is dragged', async ({ page }) => {
  await beginProject(page, 'Raised by hand');
  await drop(page, 'shots.csv', GRID);
  await takeIn(page, 'Import 49 points', 1);
  await go(page, 'ground');
  const at = await lookAtMiddle(page);
  await page.getByLabel('edit by hand').selectOption('raise');
  for (const [x, y] of [[2008, 6008], [2022, 6008], [2022, 6022], [2008, 6022]] as const) await page.mouse.click(at(x, y).x, at(x, y).y); // prettier-ignore
  await page.keyboard.press('Enter');
  const reading = page.getByRole('status').filter({ hasText: 'elevation' });
  await expect(reading).toContainText('drag the mark, or type the figures');

  // In plan a pixel upwards is a centimetre.
  const mark = at(2015, 6015);
  await drag(page, mark, { x: mark.x, y: mark.y - 40 });
  await expect(reading).toContainText('elevation +0.400');
  await expect(reading).toContainText(/under the surface \+\d/);
  await page.mouse.up();
  await expect(page.getByLabel('by m, − lowers')).toHaveValue('0.400');
  await page.getByLabel('by m, − lowers').fill('-0.25');
  await expect(reading).toContainText(/under the surface −\d/);
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await expect(page.getByLabel('preview of a change')).toContainText('raise or lower an area');
  await expect(reading).toHaveCount(0);
  await page
    .getByLabel('preview of a change')
    .getByRole('button', { name: /^Apply/ })
    .click();
  await expect(page.getByLabel('recipe of Ground')).toContainText('area lowered by 0.250 m');
});
