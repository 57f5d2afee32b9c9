import { expect, test } from '@playwright/test';
import { bandOf, beginProject, drop, go, leafOf, settled, takeIn } from './steps.ts';

// Files that lie elsewhere than the project, or of which only a part is wanted.

test('a file in a published system that is not the project’s is told by where it lies, and transformed', async ({
  page,
}) => {
  await beginProject(page, 'In the strip beside it');
  // Places on both sides of a strip's edge, in either strip, by PROJ's cs2cs.
  await drop(page, 'site.csv', 'Number,East [m],North [m],Elevation [m]\n1,500077.363,5099602.860,40\n2,500154.723,5099669.526,41\n3,500116.045,5099547.307,42\n'); // prettier-ignore
  await takeIn(page, 'Import 3 points', 1);
  await go(page, 'basis');
  await leafOf(page, 'meaning');
  await page.getByRole('button', { name: 'Choose a published system …' }).click();
  await page.getByLabel('find a system').fill('32626');
  await page.getByRole('button', { name: /EPSG:32626/ }).click();
  await page.getByRole('button', { name: /^Apply/ }).first().click(); // prettier-ignore
  await settled(page);
  await drop(page, 'other-strip.csv', 'Number,East [m],North [m],Elevation [m],Code\n901,35933.328,5117125.129,40,GR\n902,36015.716,5117185.928,41,GR\n903,35967.800,5117066.661,42,GR\n'); // prettier-ignore
  const intake = page.getByLabel('intake');
  await expect(
    intake.getByText(/In \d+ published systems it lies there; ask the sender which one it is/),
  ).toBeVisible();
  await intake.getByRole('button', { name: 'Read it in EPSG:32627', exact: true }).click();
  await expect(intake.getByText('to be transformed to')).toContainText('WGS 84 / UTM zone 27N');
  await expect(intake.getByText('published systems it lies there')).toHaveCount(0);
  await takeIn(page, 'Import 3 points', 2);
  await go(page, 'book');
  await leafOf(page, 'Points');
  await page.getByLabel('filter the points').fill('901');
  await expect(page.getByRole('grid', { name: 'points' })).toContainText(
    /901\s*GR\s*500\D?077\.36\d\s*5\D?099\D?602\.86\d/,
  );
});

test('of a drawing only what reaches into a fence comes in', async ({ page }) => {
  await beginProject(page, 'Within a fence');
  const line = (y: number): (string | number)[] => [0, 'LINE', 8, 'KERB', 10, 1000, 20, y, 30, 5, 11, 1010, 21, y + 10, 31, 5]; // prettier-ignore
  const drawing = [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 6, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES', ...line(2000), ...line(2060), 0, 'ENDSEC', 0, 'EOF', ''].join('\n'); // prettier-ignore
  await drop(page, 'kerbs.dxf', drawing);
  const intake = page.getByLabel('intake');
  await expect(intake.getByRole('button', { name: 'Import 2 lines' })).toBeEnabled();
  await intake.getByRole('button', { name: 'Draw a fence …' }).click();
  const sheet = (await page.getByRole('region', { name: 'sheet' }).boundingBox())!;
  // Round the upper kerb, clear of what stands at the edges of the drawing.
  for (const [x, y] of [[0.1, 0.12], [0.9, 0.12], [0.9, 0.5], [0.1, 0.5]]) await page.mouse.click(sheet.x + x * sheet.width, sheet.y + y * sheet.height); // prettier-ignore
  await expect(page.getByText('Click the corners of the fence: 4')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(intake.getByRole('checkbox', { name: 'only what reaches into the fence of 4 corners' })).toBeChecked();
  await takeIn(page, 'Import 1 line', 1);
  await go(page, 'lines');
  await expect(page.getByLabel('ledger: Lines')).toContainText('1 line');
  await settled(page);
});

test('a drawing taken as an underlay is seen under the drawing, and is nothing else', async ({ page }) => {
  await beginProject(page, 'Under the drawing');
  const line = (y: number): (string | number)[] => [0, 'LINE', 8, 'KERB', 10, 1000, 20, y, 30, 5, 11, 1030, 21, y + 10, 31, 5]; // prettier-ignore
  const drawing = [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 6, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES', ...line(2000), ...line(2020), 0, 'TEXT', 8, 'LOTS', 1, 'Lot 7', 10, 1010, 20, 2010, 0, 'ENDSEC', 0, 'EOF', ''].join('\n'); // prettier-ignore
  await drop(page, 'design.dxf', drawing);
  const intake = page.getByLabel('intake');
  await intake.getByRole('button', { name: 'Tick all' }).click();
  await intake.getByLabel('all listed rows as').selectOption('underlay');
  await expect(intake).toContainText('0 points read, 0 rows not read; 3 entities under the drawing');
  await takeIn(page, 'Import 3 as underlay', 1);
  await go(page, 'book');
  await expect(bandOf(page, 'book')).toContainText('1 file, 0 points');
  await expect(page.getByText('Under the drawing: 2 lines, 1 text.')).toBeVisible();
  await go(page, 'lines');
  await expect(bandOf(page, 'lines')).toContainText('0 lines');
  // The whole of it is in view, and gone where it is not wanted.
  await page.keyboard.press('f');
  const sheet = page.getByRole('region', { name: 'sheet' });
  await page.getByRole('button', { name: /^drawn:/ }).click();
  const shown = page.getByRole('checkbox', { name: 'underlay' });
  await expect(shown).toBeChecked();
  const middle = (await sheet.boundingBox())!;
  const picture = (): Promise<Buffer> => page.screenshot({ clip: { x: middle.x + 20, y: middle.y + 60, width: middle.width / 2, height: middle.height - 160 } }); // prettier-ignore
  const still = async (): Promise<Buffer> => {
    let before = await picture();
    await expect.poll(async () => { const now = await picture(); const same = now.equals(before); before = now; return same; }, { intervals: [500] }).toBe(true); // prettier-ignore
    return before;
  };
  const seen = await still();
  await shown.uncheck();
  await expect.poll(async () => (await picture()).equals(seen)).toBe(false);
  await still();
  await shown.check();
  await expect.poll(async () => (await picture()).equals(seen)).toBe(true);
});
