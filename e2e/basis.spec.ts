import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { bandOf, drop, enterDemo, go, leafOf, ledger, openDemo, openTarn, queries, settled, takeIn } from './steps.ts';
import { wordsOfPdf } from './pdf.ts';

const tarn = (name: string): Buffer => readFileSync(new URL(`../demo/tarn-hollow/${name}`, import.meta.url));

test('a new project from the control sheet: settings shown and changed, system found, factor stated', async ({
  page,
}) => {
  await enterDemo(page);
  await page.getByRole('button', { name: 'Set it up …' }).click();
  await page.getByLabel('name of the project').fill('Monday');
  await page.getByLabel('description').fill('Isle of Tarn, north quarry');
  await expect(page.getByText('metres, east before north, local ground, factor 1, 43 codes')).toBeVisible();
  await page.getByLabel('unit', { exact: true }).selectOption('usft');
  await page.getByLabel('coordinate order').selectOption('NE');
  await expect(page.getByText('changed for this project')).toBeVisible();
  await page.getByRole('button', { name: 'Create' }).click();
  await settled(page);
  await expect(page.getByText('US ft · north, east · local ground · factor 1.000000')).toBeVisible();

  await drop(page, 'tarn-control.csv', tarn('tarn-control.csv'));
  await expect(page.getByLabel('what the points are')).toHaveValue('control');
  await page.getByLabel('given by').fill('Isle Survey Office');
  await page.getByLabel('source').fill('sheet 7');
  await page.getByLabel('accuracy in plan').fill('0.04');
  await takeIn(page, 'Import 6 points', 1);
  await go(page, 'basis');
  await leafOf(page, 'control');
  await expect(page.getByRole('grid', { name: 'control' })).toContainText('381 174.669');
  await expect(ledger(page)).toContainText('given by Isle Survey Office · sheet 7 · fixed, ± 0.040');
  const sheet = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Control sheet as PDF' }).click();
  const words = wordsOfPdf(readFileSync(await (await sheet).path()));
  for (const word of ['± plan', '381 174.669', '0.040', 'fixed', 'Isle Survey', 'Counts'])
    expect(words).toContain(word);

  // A published system, found by words; a factor that no survey has is refused while it is typed.
  await leafOf(page, 'meaning');
  await page.getByRole('button', { name: 'Choose a published system …' }).click();
  await page.getByLabel('find a system').fill('texas central ftus');
  await page.getByRole('button', { name: /EPSG:2277/ }).click();
  await page
    .getByRole('button', { name: /^Apply/ })
    .first()
    .click();
  await settled(page);
  await expect(queries(page)).toContainText('are outside the area of NAD83 / Texas Central');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(queries(page)).toContainText('Nothing here needs your eye');
  const factor = page.getByLabel('project scale factor');
  await factor.fill('10');
  await expect(page.getByText('between 0.9 and 1.1')).toBeVisible();
  await factor.fill('0,9999341');
  await page.keyboard.press('Enter');
  await page
    .getByRole('button', { name: /^Apply/ })
    .first()
    .click();
  await settled(page);
  await expect(page.getByText('local ground · factor 0.9999341')).toBeVisible();

  // A name typed as 12 ft in a project of US feet is echoed as understood.
  await leafOf(page, 'control');
  await page.getByRole('button', { name: 'Type it …' }).click();
  await page.getByLabel('number, row 1').fill('TH9');
  await page.getByLabel('north US ft, row 1').fill('116200.5 m');
  await page.getByLabel('east US ft, row 1').fill('2014300');
  await page.getByRole('button', { name: 'Import it as control' }).click();
  await expect(bandOf(page, 'basis')).toContainText('7 control points');
  await settled(page);
  await expect(page.getByRole('grid', { name: 'control' })).toContainText('381 234.474');
});

test('a local survey is brought onto the grid as a whole, with what held it back named, and undone as one', async ({
  page,
}) => {
  await openTarn(page, 'local');
  await expect(ledger(page)).toContainText('TH3 does not fit the others');
  await expect(ledger(page)).toContainText('Stays on another basis: gate-road.csv');
  await page.getByRole('button', { name: 'Switch it off' }).click();
  await expect(ledger(page)).not.toContainText('holds the rest back');
  const row = page.getByRole('row', { name: /^TH3/ });
  await expect(row.getByLabel('TH3 takes part in plan')).not.toBeChecked();
  await expect(ledger(page)).toContainText('4 redundant');
  await page.getByRole('button', { name: 'Transform it …' }).click();
  const card = page.getByLabel('preview of a change');
  await expect(card).toContainText('points changed108');
  await expect(card.getByLabel('queries that would go')).toContainText('yard-assumed.txt');
  await card.getByRole('button', { name: /^Apply/ }).click();
  await settled(page);
  await expect(ledger(page)).toContainText('transformed by 4 points');
  await expect(queries(page)).toContainText('TH3 in yard-assumed.txt is');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(ledger(page)).not.toContainText('transformed by');
  await expect(queries(page)).toContainText('the coordinates of TH3 in the file do not fit the others');
});

test('a file in the wrong foot is read in the right one by one key', async ({ page }) => {
  await openTarn(page);
  const query = queries(page).getByText('Multiplied by 1.000002 they agree');
  await query.click();
  await page.keyboard.press('t');
  await expect(page.getByLabel('preview of a change')).toContainText('Read it in US survey feet');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(query).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await settled(page);
});

test('changing a tolerance shows which queries would go and come', async ({ page }) => {
  await openDemo(page, 'basis');
  await leafOf(page, 'tolerances');
  await expect(ledger(page)).toContainText('used in Ground: spikes and holes');
  await page.getByLabel('A point that differs from its neighbours by more than').fill('1.2');
  await page.keyboard.press('Enter');
  const card = page.getByLabel('preview of a change');
  await expect(card.getByLabel('queries that would go')).toContainText('1.01 m below the plane');
  await page.keyboard.press('Escape');
  await expect(card).toHaveCount(0);
});

test('originals come back as received, with what became of them', async ({ page }) => {
  await openTarn(page, 'originals');
  await expect(ledger(page)).toContainText('the project’s geoid');
  await expect(ledger(page)).toContainText('given by Isle Survey Office · 2026-09-02 · sheet 7, revised');
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'download yard-assumed.txt as received' }).click();
  expect(readFileSync(await (await download).path()).equals(tarn('yard-assumed.txt'))).toBe(true);
});

test('latitudes and longitudes come onto the grid through the geoid; the wrong way round they are refused', async ({
  page,
}) => {
  await openTarn(page);
  const turned = tarn('receiver.csv')
    .toString()
    .replace('Latitude,Longitude', 'Longitude,Latitude')
    .replaceAll(/^G/gm, 'H');
  await drop(page, 'turned.csv', turned);
  await expect(page.getByText('Latitude and longitude are swapped')).toBeVisible();
  await page.getByRole('button', { name: 'Swap them' }).click();
  await expect(page.getByText('12 points read, 0 rows not read')).toBeVisible();
  await expect(page.getByText('longitude are swapped')).toHaveCount(0);
  await expect(page.getByLabel('heights of the file')).toHaveValue('ellipsoidal');
  await takeIn(page, 'Import 12 points', 6);
  await page.getByLabel('find or do').fill('H1');
  await page.keyboard.press('Enter');
  const card = page.getByLabel('selected point');
  await expect(card).toContainText('transformed from WGS 84');
  await expect(card).toContainText('combined factor0.9999');
  await expect(card.getByLabel('elevation US ft')).toHaveValue(/^413\.\d\d$/);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await settled(page);
});

test('grids that are cut short are refused in a sentence; the site’s piece comes out as GTX', async ({ page }) => {
  await openTarn(page);
  const geoid = tarn('tarn-geoid.gtx');
  await page
    .getByTestId('grid-file')
    .setInputFiles({ name: 'short.gtx', mimeType: '', buffer: geoid.subarray(0, 900) });
  await expect(page.getByText('The grid file is cut short: it states 21 × 21 nodes, 215 are there.')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'The site’s part as GTX' }).click();
  const piece = readFileSync(await (await download).path());
  expect(piece.length).toBeLessThan(geoid.length / 4);
  expect(piece.length).toBe(40 + 4 * piece.readInt32BE(32) * piece.readInt32BE(36));
});
