import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { scan } from '../bench/scan.ts';
import { bandOf, beginProject, drop, go, ledger, settled } from './steps.ts';

test('the volcano goes in through the page: 5,307 points, surface, volume above 100 m', async ({ page }) => {
  const volcano = JSON.parse(
    readFileSync(new URL('../node_modules/vega-datasets/data/volcano.json', import.meta.url), 'utf8'),
  ) as { width: number; height: number; values: number[] };
  const rows = volcano.values.map(
    (z, i) =>
      `${i + 1};${(i % volcano.width) * 10},0;${(volcano.height - 1 - Math.floor(i / volcano.width)) * 10},0;${z},0`,
  );
  await beginProject(page, 'Volcano');
  await drop(page, 'volcano.txt', rows.join('\n'));
  await page.getByRole('button', { name: 'Import 5307 points' }).click();
  await settled(page);
  await expect(bandOf(page, 'ground')).toContainText('5\u2009307 points, 10\u2009320 triangles');
  await go(page, 'quantities');
  await page.getByRole('button', { name: 'Compare …' }).click();
  await page.getByLabel('level, m').fill('100');
  await page.getByRole('button', { name: 'Compute' }).click();
  await settled(page);
  // The command line's test holds this figure against a reader written apart.
  await expect(ledger(page)).toContainText('16\u2009088\u2009500.0');
});

test('200,000 rows come in with progress while the page answers', async ({ page }) => {
  await beginProject(page, 'Scanner');
  await drop(page, 'scan.csv', scan(200_000));
  await expect(page.getByLabel('intake')).toContainText('200000 points read', { timeout: 60_000 });
  await page.getByLabel('try the first 2000 rows only').check();
  await expect(page.getByLabel('intake')).toContainText('1999 points read');
  await page.getByLabel('try the first 2000 rows only').uncheck();
  await page.getByRole('button', { name: 'Import 200000 points' }).click();
  // The page answers meanwhile: another stage is a key away.
  await page.keyboard.press('1');
  await expect(page.getByLabel('ledger: Basis')).toBeVisible();
  await expect(bandOf(page, 'book')).toContainText('200\u2009000 points', { timeout: 120_000 });
  await settled(page);
  await expect(bandOf(page, 'ground')).toContainText('triangles');
});

test('a file that is none is refused in a sentence, and nothing is lost', async ({ page }) => {
  await beginProject(page, 'Refused');
  for (const [name, content, says] of [
    ['empty.csv', '', 'The file is empty'],
    ['plan.csv', 'AC1027\0\0\0\0', 'closed native drawing'],
    ['job.raw', Buffer.from(Array.from({ length: 3000 }, (_, i) => (i * 131) % 256)), 'binary'],
  ] as const) {
    await drop(page, name, content);
    await expect(page.getByRole('alert')).toContainText(says);
    if (content.length) await expect(page.getByRole('alert')).toContainText('DXF, LandXML or GeoJSON');
    await page.getByRole('button', { name: 'Cancel' }).click();
  }
  await drop(page, 'no-columns.txt', 'hello\nworld\n');
  await expect(page.getByLabel('intake').getByRole('alert')).toContainText('No column is taken as');
});

test('a stale write is refused with what changed meanwhile', async ({ page }) => {
  await beginProject(page, 'Two people');
  await go(page, 'basis');
  // Somebody else writes while this page hears nothing.
  await page.route('**/events', (route) => route.abort());
  await page.reload();
  await settled(page);
  const id = /\/p\/([^/]+)/.exec(page.url())![1];
  await page.evaluate(
    (project) =>
      fetch(`/api/projects/${project}/changes`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ revision: 0, change: { op: 'settings.set', settings: { order: 'NE', decimals: 4 } } }),
      }),
    id,
  );
  await page.getByLabel('decimals', { exact: true }).selectOption('2');
  await expect(page.getByRole('alert')).toContainText(
    'Somebody changed the same meanwhile (the project is at revision 1)',
  );
  await expect(page.getByRole('alert')).toContainText('Ina Quillow: the coordinate order east before north → north before east, the decimals 3 → 4'); // prettier-ignore
  await expect(page.getByRole('alert')).toContainText('yours: the decimals 4 → 2');
  // Though it is so, one's own can be made.
  await page.getByRole('button', { name: 'Make mine all the same' }).click();
  await expect(page.getByRole('alert')).toBeHidden();
  await expect(page.getByLabel('decimals', { exact: true })).toHaveValue('2');
});
