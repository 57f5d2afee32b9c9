import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { wordsOfPdf } from './pdf.ts';
import { beginProject, drop, go, openDemo, settled, takeIn } from './steps.ts';

// Heaps and pads as their users meet them: from bare shots to a volume, from a drawn boundary to a balanced level.

/** A pyramid of 24 sides, 9 m to its corners and 6 m high, on level ground at 61 m that is shot round it. */
const SIDES = 24;
const round = (radius: number, z: number, turn = 0): string[] => Array.from({ length: SIDES }, (_, k) => [500 + radius * Math.cos((2 * Math.PI * (k + turn)) / SIDES), 900 + radius * Math.sin((2 * Math.PI * (k + turn)) / SIDES), z].map((v) => v.toFixed(4)).join(' ')); // prettier-ignore
const SHOTS = [...round(9, 61), ...round(4.5, 64), '500.0000 900.0000 67.0000', ...round(14, 61, 0.5)];
const BODY = ((SIDES / 2) * 81 * Math.sin((2 * Math.PI) / SIDES) * 6) / 3;

test('a bare file of heap shots is a volume in five actions, above every base', async ({ page }) => {
  await beginProject(page, 'Heap');
  let actions = 0;
  const act = async (does: () => Promise<unknown>): Promise<void> => {
    actions++;
    await does();
  };
  await act(() => drop(page, 'heap.xyz', SHOTS.join('\n')));
  await act(() => takeIn(page, /^Import /, 1));
  await act(() => go(page, 'quantities'));
  await act(() => page.getByRole('button', { name: 'Measure a heap' }).click());
  expect(actions).toBeLessThan(6);
  const bases = page.getByRole('table', { name: 'the heap above every base' });
  for (const base of ['lowest of the toe', 'mean of the toe', 'plane fitted to the toe', 'triangles from the toe'])
    await expect(bases.getByRole('row', { name: new RegExp(`^${base}`) })).toContainText(BODY.toFixed(1));
  const methods = page.getByRole('table', { name: 'what every method makes of it' });
  await expect(methods.getByRole('row')).toHaveCount(6);

  // Another base is one change, and one undo.
  await bases.getByLabel('mean of the toe').check();
  await settled(page);
  await expect(page.getByText(/above the mean of the toe, toe found by itself/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/above the triangles from the toe, toe found by itself/)).toBeVisible();

  // How sure it is, from what the points are good for.
  await page.getByRole('button', { name: 'How sure is it …' }).click();
  await expect(page.getByText(/\(95 %\)/)).toContainText(`cut ${BODY.toFixed(1)} ± `);
  await settled(page);

  // What made it what it is, and its sections as files.
  await page.getByRole('button', { name: 'What changed it …' }).click();
  await expect(page.getByRole('table', { name: 'what changed the volumes' }).getByRole('row').last()).toContainText(
    'first',
  );
  await page.getByRole('button', { name: 'Sections …' }).click();
  await page.getByRole('button', { name: 'next section' }).click();
  await expect(page.getByText(/^section 2 of \d+/)).toBeVisible();
  const cut = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Sheets as PDF' }).click();
  expect(wordsOfPdf(readFileSync(await (await cut).path()))).toContain('Sections: Heap');
  // With the shots that lie near it, and along its line.
  await page.getByLabel('how near points are that are shown m').fill('2');
  await page.getByLabel('how near points are that are shown m').press('Enter');
  await expect(page.getByRole('img', { name: /^section through/ }).locator('title').first()).toContainText('the section'); // prettier-ignore
  const along = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Profile as PDF' }).click();
  expect(wordsOfPdf(readFileSync(await (await along).path()))).toContain('Profile: Heap');

  // The report that goes out with it.
  const paper = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Report as PDF' }).click();
  const words = wordsOfPdf(readFileSync(await (await paper).path()));
  for (const said of ['Quantities: Heap', `${BODY.toFixed(1)}`, 'plane fitted to the toe', 'Toe', 'Checked by']) expect(words).toContain(said); // prettier-ignore
  const table = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Report as CSV' }).click();
  expect((await table).suggestedFilename()).toMatch(/^Heap.*quantities-r\d+\.csv$/);
});

test('a pad is drawn, laid with its batters, and raised to where cut and fill balance', async ({ page }) => {
  await openDemo(page, 'quantities');
  await page.getByLabel('propose ground').selectOption('pad');
  const sheet = page.getByRole('region', { name: 'sheet' });
  const box = (await sheet.boundingBox())!;
  for (const [x, y] of [[0.48, 0.33], [0.55, 0.345], [0.54, 0.4], [0.475, 0.385]]) await page.mouse.click(box.x + x * box.width, box.y + y * box.height); // prettier-ignore
  await page.keyboard.press('Enter');
  await settled(page);
  const list = page.getByRole('table', { name: 'comparisons' });
  const row = list.getByRole('row', { name: /^Pad 1/ });
  await expect(row).toContainText(/\d\.\d/);
  await page.getByRole('button', { name: 'Balance' }).click();
  // Cut − fill to the decimal that is shown.
  await expect(row.getByRole('cell').last()).toHaveText('0.0');
  await page.getByLabel('slope in fill, horizontal to 1 vertical').fill('3');
  await page.getByLabel('slope in fill, horizontal to 1 vertical').press('Enter');
  await settled(page);
  await expect(row.getByRole('cell').last()).not.toHaveText('0.0');
  // A ditch beside it, with its own template, is laid into what the pad leaves.
  await page.getByLabel('propose further ground').selectOption('strip');
  for (const [x, y] of [[0.44, 0.42], [0.5, 0.44], [0.57, 0.43]]) await page.mouse.click(box.x + x * box.width, box.y + y * box.height); // prettier-ignore
  await page.keyboard.press('Enter');
  await settled(page);
  const cut = await row.getByRole('cell').nth(1).textContent();
  await page.getByLabel(/^template:/).fill('-1.5 0; 1.5 0');
  await page.getByLabel(/^template:/).press('Enter');
  await settled(page);
  await expect(row.getByRole('cell').nth(1)).not.toHaveText(cut!);
  // What it is made from stands with the surfaces, and follows their ground.
  await go(page, 'ground');
  await page.getByRole('table', { name: 'surfaces' }).getByRole('button', { name: 'Pad 1' }).click();
  await expect(page.getByLabel('recipe of Pad 1')).toContainText('batters 1 : 2 in cut, 1 : 3 in fill');
  await expect(page.getByLabel('recipe of Pad 1')).toContainText('bank or ditch along a line, 3.000 m wide');
});
