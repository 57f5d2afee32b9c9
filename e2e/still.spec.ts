import { expect, test } from '@playwright/test';
import { beginProject, drop, go, openDemo, queries, settled, takeIn, view } from './steps.ts';

/** How long a drawing may take to come back on a slow machine, which draws without a graphics card. */
const BACK = { timeout: 30_000 };

test('the drawing keeps still: an import that is looked at, a far point that is excluded', async ({ page }) => {
  // A project of its own: others take the demo's far point out.
  await beginProject(page, 'Keeps still');
  const rows = Array.from({ length: 60 }, (_, i) => `${i + 1},${1000 + (i % 10) * 5},${2000 + Math.floor(i / 10) * 5},${(10 + i / 50).toFixed(3)},GR`); // prettier-ignore
  await drop(page, 'field.csv', ['Number,East [m],North [m],Elevation [m],Code', ...rows, '296,3200,2900,10,GR'].join('\n')); // prettier-ignore
  await takeIn(page, /Import 61 points/, 1);
  await go(page, 'book');
  await page.getByRole('region', { name: 'sheet' }).hover();
  await page.mouse.wheel(0, -300);
  const before = await view(page);
  expect(before).toMatch(/^plan,/);
  await drop(page, 'far.csv', 'Number,East [m],North [m],Elevation [m],Code\n1,9000,9000,5,GR\n2,9100,9050,5,GR\n3,9050,9100,6,GR\n'); // prettier-ignore
  await expect.poll(() => view(page)).not.toBe(before);
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('intake')).toBeHidden();
  await expect.poll(() => view(page), BACK).toBe(before);

  const far = queries(page).getByText(/Point 296 is .* from the middle/);
  await far.click();
  await expect.poll(() => view(page)).not.toBe(before);
  await queries(page)
    .getByRole('button', { name: /Exclude/ })
    .first()
    .click();
  await page
    .getByRole('button', { name: /^Apply/ })
    .first()
    .click();
  await expect(far).toBeHidden({ timeout: 30_000 });
  await settled(page);
  await expect.poll(() => view(page), BACK).toBe(before);
});

test('Backspace takes the last drawn corner back; a comparison that is chosen comes into view', async ({ page }) => {
  await openDemo(page, 'lines');
  await page.getByRole('button', { name: 'Draw a line' }).click();
  const box = (await page.getByRole('region', { name: 'sheet' }).boundingBox())!;
  const drawing = page.getByRole('group', { name: 'drawing' });
  for (const [x, y] of [[0.3, 0.3], [0.5, 0.4], [0.6, 0.7]]) await page.mouse.click(box.x + box.width * x, box.y + box.height * y); // prettier-ignore
  await expect(drawing).toContainText(': 3');
  await page.keyboard.press('Backspace');
  await expect(drawing).toContainText(': 2');
  await page.keyboard.press('Escape');

  await go(page, 'quantities');
  const shown = await view(page);
  await page
    .getByRole('button', { name: /heap|stockpile/i })
    .first()
    .click();
  await expect.poll(() => view(page)).not.toBe(shown);
});
