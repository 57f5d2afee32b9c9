import { expect, test, type Page } from '@playwright/test';
import type { ProjectState } from '#contract';
import { beginProject, drop, go, ledger, settled, takeIn } from './steps.ts';

// Two surfaces of one project side by side: each with its recipe, its settings and its contours.

const square = (from: number, x: number, y: number, side: number, z: number, rise: number): string =>
  [[0, 0], [1, 0], [1, 1], [0, 1]].map(([i, j], k) => `${from + k},${x + side * i}.500,${y + side * j}.250,${z + rise * j}.5,GR`).join('\n'); // prettier-ignore
const stateOf = (page: Page): Promise<ProjectState> =>
  page.evaluate(async (id) => (await (await fetch(`/api/projects/${id}`)).json()) as ProjectState, /\/p\/([^/?]+)/.exec(page.url())![1]); // prettier-ignore

test('two surfaces stand side by side, each with its own contours; a design whose name comes first changes nothing', async ({
  page,
}) => {
  await beginProject(page, 'Two surfaces');
  await drop(page, 'day-1.csv', square(1, 1000, 2000, 20, 10, 2));
  await takeIn(page, 'Import 4 points', 1);
  await drop(page, 'aaa-pad.csv', square(101, 1004, 2004, 8, 12, 1));
  // A file that is named a pad is proposed as a surface of its own.
  await expect(page.getByLabel('what the points are')).toHaveValue('design');
  await page.getByLabel('name of the surface').fill('AAA pad');
  await takeIn(page, 'Import 4 points', 2);

  await go(page, 'ground');
  const list = page.getByRole('table', { name: 'surfaces' });
  await expect(list.getByRole('row').nth(1)).toContainText('Ground');
  await expect(list.getByRole('row').nth(2)).toContainText('AAA pad');
  await expect(page.getByLabel('recipe of Ground')).toContainText('points of all survey files');
  await expect(page.getByLabel('recipe of Ground')).toContainText('4 points');
  // Only the ground is drawn until somebody asks for more.
  await expect(page.getByLabel('surfaces that are drawn')).toBeHidden();
  await page.getByLabel('draw AAA pad').check();
  await expect(page.getByLabel('surfaces that are drawn')).toContainText('Ground');
  await expect(page.getByLabel('surfaces that are drawn')).toContainText('AAA pad');

  // The pad gets contours of its own; the ground keeps the project's.
  await list.getByRole('button', { name: 'AAA pad' }).click();
  await expect(page.getByLabel('recipe of AAA pad')).toContainText('points of aaa-pad.csv');
  await page.getByLabel('Contours every').fill('0.5');
  await page.getByLabel('Contours every').press('Enter');
  await settled(page);
  const { document } = await stateOf(page);
  expect(document.surfaces.map((s) => [s.name, s.role, s.interval])).toEqual([
    ['Ground', 'ground', null],
    ['AAA pad', 'design', 0.5],
  ]);
  expect(document.settings.contourInterval).toBe(0.25);

  // A row that is off does nothing; one undo brings it back.
  await page.getByLabel('use points of aaa-pad.csv').click();
  await expect(ledger(page)).toContainText('No surface yet');
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('use points of aaa-pad.csv')).toBeChecked();
  await settled(page);

  // A copy follows the same points as what it was copied from: both move together.
  await list.getByRole('button', { name: 'Ground', exact: true }).click();
  await page.getByRole('button', { name: 'Copy “Ground”' }).click();
  await expect(page.getByLabel('recipe of Ground copy')).toContainText('4 points');
  await settled(page);
  await page.getByLabel('find or do').fill('3');
  await page.keyboard.press('Enter');
  const card = page.getByLabel('selected point');
  await card.getByLabel('elevation m').fill('15');
  await page.keyboard.press('Enter');
  const preview = page.getByLabel('preview of a change');
  await expect(preview).toContainText('Ground');
  await expect(preview).toContainText('Ground copy');
  await expect(preview).not.toContainText('AAA pad');
  await preview.getByRole('button', { name: /^Apply/ }).click();
  await settled(page);

  // What is compared is chosen by surface, and the only ground cannot be deleted.
  await go(page, 'quantities');
  await page.getByRole('button', { name: 'Compare …' }).click();
  await page.getByLabel('surface that is compared').selectOption({ label: 'Ground copy' });
  await page.getByLabel('against', { exact: true }).selectOption({ label: 'AAA pad' });
  await page.getByRole('button', { name: 'Compute' }).click();
  await expect(ledger(page)).toContainText('Ground copy to AAA pad');
  await expect(ledger(page)).toContainText('Ground copy to “AAA pad”');
  await go(page, 'ground');
  await list.getByRole('button', { name: 'Ground', exact: true }).click();
  await page.getByRole('button', { name: 'Delete “Ground”' }).click();
  await expect(page.getByRole('alert')).toContainText('the only ground of the project');
  await page.getByRole('button', { name: 'Close', exact: true }).click();

  // The file that made the pad goes: the pad is compared, so it stays and says what it lacks.
  await page.reload();
  await settled(page);
  await expect(page.getByLabel('recipe of Ground')).toBeVisible();
  await expect(page.getByLabel('surfaces that are drawn')).toContainText('Ground copy');
});

/** Bare ground shots, as a crew without codes sends them: east, north, elevation, no heading. */
const bareShots = (n: number): string =>
  Array.from({ length: n * n }, (_, i) => {
    const [x, y] = [(i % n) * 5 + (i % 3) * 0.4, Math.floor(i / n) * 5 + (i % 7) * 0.2];
    return [2000 + x, 6000 + y, 40 + 3 * Math.sin(x / 20) + 2 * Math.cos(y / 15)].map((v) => v.toFixed(3)).join(' ');
  }).join('\n');

test('bare ground shots become a contoured surface in five actions; its recipe and its edits are rows', async ({
  page,
}) => {
  // 1 and 2: a project by its name. 3: the file. 4: import. 5: the stage.
  let actions = 2;
  await beginProject(page, 'Bare ground');
  actions++;
  await drop(page, 'shots.txt', bareShots(20));
  actions++;
  await takeIn(page, 'Import 400 points', 1);
  actions++;
  await go(page, 'ground');
  expect(actions).toBeLessThanOrEqual(6);
  await expect(ledger(page)).toContainText('400 points');
  const contours = page.getByText('contours', { exact: true }).locator('xpath=following-sibling::*');
  await expect(contours).not.toHaveText('0');

  // An area is raised: drawn on the sheet, a height typed, previewed, applied, undone.
  const recipe = page.getByLabel('recipe of Ground');
  await page.getByLabel('edit by hand').selectOption('raise');
  const sheet = (await page.getByTestId('sheet').boundingBox())!;
  const [cx, cy] = [sheet.x + sheet.width / 2, sheet.y + sheet.height / 2];
  for (const [dx, dy] of [[-90, -90], [90, -90], [90, 90], [-90, 90]]) { await page.mouse.click(cx + dx, cy + dy); await page.waitForTimeout(350); } // prettier-ignore
  await page.keyboard.press('Enter');
  await page.getByLabel(/^by m/).fill('one');
  await page.getByRole('button', { name: 'Preview' }).click();
  await expect(page.getByText('“one” is not a length')).toBeVisible();
  await page.getByLabel(/^by m/).fill('2.5');
  await page.getByRole('button', { name: 'Preview' }).click();
  const preview = page.getByLabel('preview of a change');
  await expect(preview).toContainText('± 2.500');
  await preview.getByRole('button', { name: /^Apply/ }).click();
  await expect(recipe).toContainText('area raised by 2.500 m');
  await settled(page);
  await page.keyboard.press('Control+z');
  await expect(recipe).not.toContainText('area raised');
  await settled(page);

  // Points above an elevation are excluded by a rule, and the row says how many.
  await page.getByLabel('add to the recipe').selectOption('exclude-points');
  await page.getByLabel('elevations m, from').fill('42');
  await page.getByLabel('elevations m, to').fill('60');
  await page.getByLabel('elevations m, to').press('Tab');
  await expect(recipe).toContainText('excluded by rule: elevation 42.00 – 60.00 m');
  await settled(page);
  await expect(recipe.getByRole('listitem').filter({ hasText: 'excluded by rule' })).toContainText(/\d\d points/);
});

test('breaklines that cross at two elevations are asked about, and a remedy decides', async ({ page }) => {
  await beginProject(page, 'Crossing kerbs');
  const rows = ['1,1000.5,2000.5,10.000,KT1 BEG', '2,1010.5,2010.5,10.000,KT1 END', '3,1000.5,2010.5,12.000,ED1 BEG', '4,1010.5,2000.5,12.000,ED1 END']; // prettier-ignore
  await drop(page, 'kerbs.csv', rows.join('\n'));
  await takeIn(page, 'Import 4 points', 1);
  await go(page, 'ground');
  const asked = page.getByLabel('queries of this stage');
  await asked.getByText(/KT1 at 10.000 and ED1 at 12.000 cross/).click();
  await page.getByRole('button', { name: 'Use the mean, 11.000' }).first().click();
  const preview = page.getByLabel('preview of a change');
  await expect(preview).toContainText('± 1.000');
  await preview.getByRole('button', { name: /^Apply/ }).click();
  await expect(page.getByLabel('recipe of Ground')).toContainText('where KT1 and ED1 meet: the mean');
  await expect(asked.getByText(/KT1 at 10.000/)).toHaveCount(0);
});
