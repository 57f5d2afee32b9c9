import { expect, test, type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { GRID, lookAtMiddle } from './grid-site.ts';
import { wordsOfPdf } from './pdf.ts';
import { beginProject, drop, go, settled, takeIn } from './steps.ts';

// A surface is edited under the hand: triangles and contours follow while a point is dragged, and where it is let go the
// change is proposed like any other.

/** Where a place is on the screen in 3D, by what the address says of the view; the camera's angle is 40° high. */
async function onScreen(page: Page, place: number[]): Promise<{ x: number; y: number }> {
  const v = new URL(page.url()).searchParams.get('view')!.split(',').slice(1).map(Number);
  const sheet = (await page.getByRole('region', { name: 'sheet' }).boundingBox())!;
  const minus = (a: number[], b: number[]) => a.map((c, i) => c - b[i]);
  const dot = (a: number[], b: number[]): number => a.reduce((sum, c, i) => sum + c * b[i], 0);
  const cross = ([a, b, c]: number[], [d, e, f]: number[]) => [b * f - c * e, c * d - a * f, a * e - b * d];
  const unit = (a: number[]) => a.map((c) => c / Math.sqrt(dot(a, a)));
  const ahead = unit(minus(v.slice(3), v.slice(0, 3)));
  const right = unit(cross(ahead, [0, 0, 1]));
  const up = cross(right, ahead);
  const to = minus(place, v.slice(0, 3));
  const pixels = sheet.height / 2 / Math.tan((20 * Math.PI) / 180) / dot(to, ahead);
  return {
    x: sheet.x + sheet.width / 2 + dot(to, right) * pixels,
    y: sheet.y + sheet.height / 2 - dot(to, up) * pixels,
  };
}

const preview = (page: Page) => page.getByLabel('preview of a change');
const recipe = (page: Page) => page.getByLabel('recipe of Ground');
const reading = (page: Page) => page.getByRole('status').filter({ hasText: 'elevation' });

/** Drags a point; where the drawing had it at its earlier place still, the hand goes back and takes it again. */
async function take(page: Page, from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
  await expect(async () => {
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(to.x, to.y, { steps: 6 });
    try {
      await expect(reading(page)).toBeVisible({ timeout: 2000 });
    } catch (error) {
      await page.mouse.move(from.x, from.y);
      await page.mouse.up();
      throw error;
    }
  }).toPass({ timeout: 60_000 });
}

test('a point is dragged in plan and, in 3D, up: what follows is shown, proposed, applied and undone', async ({
  page,
}) => {
  await beginProject(page, 'Under the hand');
  await drop(page, 'shots.csv', GRID);
  await takeIn(page, 'Import 49 points', 1);
  await go(page, 'ground');
  const at = await lookAtMiddle(page);
  const from = at(2015, 6015);
  await page.mouse.click(from.x, from.y);
  await expect(page.getByLabel('selected point')).toContainText('25');

  // In plan, 2 m east and 1 m north.
  const to = at(2017, 6016);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(from.x + 6, from.y - 3);
  await page.mouse.move(to.x, to.y, { steps: 6 });
  await expect(reading(page)).toContainText('E +2.000');
  await expect(reading(page)).toContainText('N +1.000');
  await expect(reading(page)).toContainText(/under the surface [−+]\d/);
  await page.mouse.up();
  await expect(reading(page)).toHaveCount(0);
  await expect(preview(page)).toContainText('move a point');
  await preview(page)
    .getByRole('button', { name: /^Apply/ })
    .click();
  await expect(recipe(page)).toContainText('point moved: E +2.000, N +1.000 m');
  await settled(page);

  // A drag that Escape ends proposes nothing.
  const now = at(2017, 6016);
  await take(page, now, { x: now.x + 40, y: now.y });
  await page.keyboard.press('Escape');
  await expect(reading(page)).toHaveCount(0);
  await page.mouse.up();
  await expect(preview(page)).toHaveCount(0);
  await expect(page.getByLabel('selected point')).toContainText('25');

  await page.keyboard.press('Control+z');
  await expect(recipe(page)).not.toContainText('point moved');
  await settled(page);

  // In 3D it goes up and down alone.
  await page.getByRole('button', { name: '3D', exact: true }).click();
  await expect(page).toHaveURL(/view=3d/);
  const held = await onScreen(page, [2015, 6015, 41.5]);
  await page.mouse.click(held.x, held.y);
  await expect(page.getByLabel('selected point')).toContainText('25');
  await take(page, held, { x: held.x, y: held.y - 60 });
  await expect(reading(page)).toContainText('E +0.000  N +0.000');
  await expect(reading(page)).toContainText(/elevation \+\d/);
  await page.mouse.up();
  await expect(preview(page)).toContainText('±');
  await preview(page)
    .getByRole('button', { name: /^Apply/ })
    .click();
  await expect(recipe(page)).toContainText('point moved: elevation +');
});

test('points, breaklines and another surface are edited by typed values', async ({ page }) => {
  await beginProject(page, 'By typed values');
  await drop(page, 'shots.csv', GRID);
  await takeIn(page, 'Import 49 points', 1);
  await go(page, 'ground');
  const at = await lookAtMiddle(page);
  const click = async (x: number, y: number): Promise<void> => {
    const p = at(x, y);
    await page.mouse.click(p.x, p.y);
    await page.waitForTimeout(350);
  };
  const apply = async (): Promise<void> => {
    await preview(page)
      .getByRole('button', { name: /^Apply/ })
      .click();
    await settled(page);
  };
  const edit = page.getByLabel('edit by hand');

  // Without a selected point there is none to move.
  await expect(edit.locator('option[value=move-point]')).toBeDisabled();
  await click(2015, 6015);
  await edit.selectOption('move-point');
  await page.getByLabel('elevation m', { exact: true }).first().fill('0.75');
  await page.getByRole('button', { name: 'Preview' }).click();
  await apply();
  await expect(recipe(page)).toContainText('point moved: elevation +0.750 m');

  await edit.selectOption('omit-area');
  for (const [x, y] of [[2003, 6003], [2012, 6003], [2012, 6012], [2003, 6012]]) await click(x, y); // prettier-ignore
  await page.keyboard.press('Enter');
  await apply();
  await expect(recipe(page)).toContainText('4 points deleted by hand');

  // A breakline that falls by 10 % from a height that is typed.
  await edit.selectOption('breakline-gradient');
  await click(2018.3, 6003.1);
  await click(2018.3, 6012.7);
  await page.keyboard.press('Enter');
  await page.getByLabel(/^elevation at the start/).fill('45');
  await page.getByLabel(/^gradient/).fill('-10');
  await page.getByRole('button', { name: 'Preview' }).click();
  await apply();
  await expect(recipe(page)).toContainText('breakline drawn by hand, 2 vertices');

  // A second surface of the same points is laid into a part of the first.
  await page.getByRole('button', { name: 'Copy “Ground”' }).click();
  await expect(page.getByLabel('recipe of Ground copy')).toContainText('45 points');
  await page.getByRole('table', { name: 'surfaces' }).getByRole('button', { name: 'Ground', exact: true }).click();
  await edit.selectOption({ label: 'lay in “Ground copy” inside an area' });
  for (const [x, y] of [[2022, 6016], [2028, 6016], [2028, 6024], [2022, 6024]]) await click(x, y); // prettier-ignore
  await page.keyboard.press('Enter');
  await apply();
  await expect(recipe(page)).toContainText('“Ground copy” laid in inside an area');
  // A surface is not made from itself.
  await page.getByRole('table', { name: 'surfaces' }).getByRole('button', { name: 'Ground copy', exact: true }).click();
  await page.getByLabel('add to the recipe').selectOption({ label: 'points and breaklines of “Ground”' });
  await expect(page.getByRole('alert')).toContainText('cannot be made from itself');
});

test('the ground is kept as it is, goes on, and a page says whether it is fit to use', async ({ page }) => {
  await beginProject(page, 'Month by month');
  const checks = Array.from({ length: 4 }, (_, i) => `C${i + 1},${2007.5 + 5 * i}.000,6012.500,${(40.85 + 0.5 * i).toFixed(3)},CK`.replace('.5.000', '.500')).join('\n'); // prettier-ignore
  await drop(page, 'shots.csv', `${GRID}\n${checks}`);
  await takeIn(page, 'Import 53 points', 1);
  await go(page, 'ground');
  const surfaces = page.getByRole('table', { name: 'surfaces' });
  await page.getByRole('button', { name: 'Keep as it is now: “Ground”' }).click();
  const kept = surfaces.getByRole('button', { name: /^Ground of \d{4}-\d\d-\d\d$/ });
  await expect(kept).toBeVisible({ timeout: 30_000 });
  await settled(page);
  await expect(page.getByLabel(/^recipe of Ground of/)).toContainText('as received');

  // The ground goes on: check shots are kept out of it, and say how good it is. What was kept has them still.
  await surfaces.getByRole('button', { name: 'Ground', exact: true }).click();
  await page.getByLabel('add to the recipe').selectOption('checks');
  await page
    .getByLabel(/^codes/)
    .last()
    .fill('CK');
  await page
    .getByLabel(/^codes/)
    .last()
    .press('Tab');
  await expect(recipe(page)).toContainText('check shots: codes CK');
  await page.getByLabel('95 % wanted within m').fill('0.05');
  await page.getByLabel('95 % wanted within m').press('Enter');
  await expect(recipe(page)).toContainText('95 % wanted within 0.050 m');
  await settled(page);
  await expect(surfaces.getByRole('row').nth(1)).toContainText('49');
  await expect(surfaces.getByRole('row').nth(2)).toContainText('53');

  // How it is seen gets a name, and is there for whoever opens the project.
  await page.getByRole('button', { name: /^drawn:/ }).click();
  await page.getByLabel('tints by').selectOption('slope');
  await page.getByLabel('flow lines and hollows').check();
  await expect(page.getByRole('group', { name: 'legend: slope %' })).toContainText('25 and more');
  await page.getByLabel('name of this look').fill('Drainage');
  await page.getByLabel('name of this look').press('Enter');
  await expect(page.getByLabel('named look')).toContainText('Drainage');
  await settled(page);
  await page.getByLabel('tints by').selectOption('elevation');
  await page.getByLabel('named look').selectOption({ label: 'Drainage' });
  await expect(page.getByLabel('tints by')).toHaveValue('slope');
  await page.getByRole('button', { name: /^drawn:/ }).click();

  // What it holds goes out: a grid that begins as TIFF does, areas by elevation as polygons.
  const write = page.getByLabel('write Ground as');
  await write.selectOption('grid');
  await page.getByLabel('side of a cell m').fill('2.5');
  const [grid] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Export', exact: true }).click()]); // prettier-ignore
  expect(grid.suggestedFilename()).toBe('Ground-grid.tif');
  expect(readFileSync(await grid.path()).subarray(0, 4)).toEqual(Buffer.from([0x49, 0x49, 42, 0]));
  await write.selectOption('elevations');
  await page.getByLabel('elevations every m').fill('0');
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await expect(page.getByText('Type a length larger than zero.')).toBeVisible();
  await page.getByLabel('elevations every m').fill('1');
  const [areas] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Export', exact: true }).click()]); // prettier-ignore
  expect(readFileSync(await areas.path(), 'utf8')).toContain('"Polygon"');

  await page.getByRole('link', { name: 'Fit to use?' }).click();
  const report = page.getByRole('region', { name: 'fit to use' });
  await expect(report).toContainText('Not yet');
  await expect(report).toContainText('95 % within 0.196 m (root mean square 0.100, 4 shots; fewer than the 20');
  await expect(page.getByLabel('queries of this stage')).toContainText('0.050 m is wanted');
  const [paper] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'As PDF' }).click()]); // prettier-ignore
  expect(paper.suggestedFilename()).toMatch(/fit-to-use-r\d+\.pdf$/);
  expect(wordsOfPdf(readFileSync(await paper.path()))).toContain('Is “Ground” fit to use?');
});
