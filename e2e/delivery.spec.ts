import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test, type Page } from '@playwright/test';
import { zipSync } from 'fflate';
import { bandOf, beginProject, drop, settled, takeIn } from './steps.ts';

const kessa = (name: string): Buffer =>
  readFileSync(fileURLToPath(new URL(`../demo/kessa-bank/${name}`, import.meta.url)));
const LONG = 'Łąka-ЗеленыйЛуг-Πεδίο-Wiesengrund-'.repeat(6).slice(0, 150) + '.csv';

/** A day as it comes from the field: control, books, coded points, an earlier version, a photograph, what a program left. */
function dayFolder(): string {
  const root = mkdtempSync(join(tmpdir(), 'dunrik-day-'));
  const day = join(root, 'friday');
  mkdirSync(join(day, 'photos'), { recursive: true });
  writeFileSync(join(day, 'control.csv'), kessa('kessa-control.csv'));
  for (const n of ['one', 'two', 'three']) writeFileSync(join(day, `kessa-${n}.book`), kessa(`kessa-${n}.book`));
  const rows = kessa('kessa-one.book').toString().split('\n');
  writeFileSync(join(day, 'kessa-one-noon.book'), rows.slice(0, rows.length - 12).join('\n'));
  writeFileSync(join(day, LONG), 'Number,East [m],North [m],Elevation [m],Code\n901,2150,5230,48.1,GR\n902,2160,5235,48.3,GR\n903,2170,5228,48.2,GR\n'); // prettier-ignore
  writeFileSync(join(day, '~$kessa-one.book'), 'lock');
  writeFileSync(join(day, 'photos', 'bank.jpg'), Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 16, 74, 70, 73, 70]));
  return root;
}

const row = (page: Page, name: string) => page.getByRole('row', { name: new RegExp(`${name}$`) });

test('a folder in one drop: from control, raw books and coded points to a settled drawing in few actions', async ({
  page,
}) => {
  const root = dayFolder();
  // 1 and 2: a project by its name. 3: the folder. 4: import. 5: close.
  let actions = 2;
  await beginProject(page, 'A day in a folder');
  actions++;
  await page.getByTestId('folder').setInputFiles(join(root, 'friday'));
  const delivery = page.getByLabel('delivery', { exact: true });
  await expect(delivery.getByRole('button', { name: /^Import \d+ files/ })).toBeVisible({ timeout: 60_000 });

  await expect(row(page, '/~\\$kessa-one.book')).toContainText('left behind by another program');
  await expect(row(page, 'bank.jpg')).toContainText('a photograph');
  await expect(row(page, 'bank.jpg').getByRole('combobox')).toHaveValue('original');
  await expect(row(page, 'kessa-one-noon.book')).toContainText('an earlier version of friday/kessa-one.book');
  await expect(row(page, 'kessa-one-noon.book').getByRole('combobox')).toHaveValue('original');
  await expect(row(page, '/control.csv').getByRole('combobox')).toHaveValue('control');
  await expect(row(page, '/kessa-two.book').getByRole('combobox')).toHaveValue('book');
  await expect(page.getByRole('row', { name: /Wiesengrund/ })).toContainText('3 points, east before north, m');
  // Control first, then books, then points.
  const order = await delivery.getByRole('row').allTextContents();
  expect(order.findIndex((t) => t.startsWith('control.csv'))).toBe(1);
  expect(order.findIndex((t) => t.startsWith('kessa-one.book'))).toBe(2);

  actions++;
  await delivery.getByRole('button', { name: /^Import \d+ files/ }).click();
  await expect(delivery.getByRole('status')).toContainText('8 of 8 files done', { timeout: 90_000 });
  actions++;
  await delivery.getByRole('button', { name: 'Close' }).click();
  await settled(page);
  expect(actions).toBeLessThanOrEqual(8);
  await expect(bandOf(page, 'book')).toContainText('5 files, 140 points');
  await expect(bandOf(page, 'basis')).toContainText('6 control points');
  await expect(bandOf(page, 'lines')).toContainText('10 lines');

  // The same folder again, zipped, with a later export of the second book: only what is new comes in, and what it lacks
  // remains where somebody says so.
  const book = kessa('kessa-two.book').toString().trimEnd().split('\n');
  const end = book.findLastIndex((l) => l.trim() === 'end');
  const last = book.findLast((l) => l.startsWith('shot'))!;
  book.splice(end, 0, last.replace(/^shot \S+/, 'shot 9901'));
  book.splice(book.indexOf(last), 1);
  const zip = zipSync({
    'friday/control.csv': new Uint8Array(kessa('kessa-control.csv')),
    'friday/kessa-two.book': new TextEncoder().encode(book.join('\n') + '\n'),
    '../../etc/passwd.lock': new Uint8Array([1]),
  });
  await page.getByTestId('file').setInputFiles({ name: 'monday.zip', mimeType: 'application/zip', buffer: Buffer.from(zip) }); // prettier-ignore
  await expect(row(page, '/control.csv')).toContainText('the project has these bytes already', { timeout: 60_000 });
  await expect(row(page, '/kessa-two.book')).toContainText(/a later export of kessa-two.book: \d+ records found again, 1 new, 1 no longer there/); // prettier-ignore
  const gone = page.getByRole('group', { name: 'records that are only in kessa-two.book' });
  await expect(gone).toContainText(/One record is only in kessa-two.book/);
  await gone.getByRole('checkbox').check();
  await page.getByLabel('delivery', { exact: true }).getByRole('button', { name: 'Import 1 file' }).click();
  await expect(page.getByLabel('delivery', { exact: true }).getByRole('status')).toContainText('files done', { timeout: 60_000 }); // prettier-ignore
  await page.getByRole('button', { name: 'Close' }).click();
  await settled(page);
  await expect(bandOf(page, 'book')).toContainText('6 files, 141 points');
  rmSync(root, { recursive: true });
});

test('drawings of a delivery come by their layers as an earlier issue was ticked, or under the drawing', async ({
  page,
}) => {
  await beginProject(page, 'Drawings in a zip');
  const line = (layer: string, y: number): (string | number)[] => [0, 'LINE', 8, layer, 10, 1000, 20, y, 30, 5, 11, 1010, 21, y, 31, 5]; // prettier-ignore
  const dxf = (...entities: (string | number)[]): string => [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 6, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF', ''].join('\n'); // prettier-ignore
  await drop(page, 'issue-a.dxf', dxf(...line('KERB', 2000), ...line('ROAD', 2004)));
  await page.getByLabel('intake').getByLabel('KERB, lines: as').selectOption('breaklines');
  await takeIn(page, 'Import 2 lines', 1);
  const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
  const zip = zipSync({
    'issue-b.dxf': bytes(dxf(...line('KERB', 2010), ...line('ROAD', 2014), ...line('ROAD', 2015))),
    'neighbour.dxf': bytes(dxf(...line('HOUSE', 2020), 0, 'TEXT', 8, 'NAMES', 1, 'No. 4', 10, 1003, 20, 2021)),
    'shots.csv': bytes('Number,East [m],North [m],Elevation [m],Code\n1,1000,2000,5,GR\n2,1010,2000,5,GR\n3,1005,2012,6,GR\n'), // prettier-ignore
  });
  await page.getByTestId('file').setInputFiles({ name: 'thursday.zip', mimeType: 'application/zip', buffer: Buffer.from(zip) }); // prettier-ignore
  const delivery = page.getByLabel('delivery', { exact: true });
  await expect(row(page, 'issue-b.dxf').getByRole('combobox')).toHaveValue('layers', { timeout: 60_000 });
  await expect(row(page, 'issue-b.dxf')).toContainText('3 entities on 2 layers by kind, ticked as for issue-a.dxf');
  await expect(row(page, 'neighbour.dxf').getByRole('combobox')).toHaveValue('underlay');
  await expect(row(page, 'neighbour.dxf')).toContainText('2 entities on 2 layers by kind');
  await delivery.getByRole('button', { name: 'Import 3 files' }).click();
  await expect(delivery.getByRole('status')).toContainText('3 of 3 files done', { timeout: 90_000 });
  await delivery.getByRole('button', { name: 'Close' }).click();
  await settled(page);
  // Lines of both issues with their codes, the shots, and nothing of the neighbour's.
  await expect(bandOf(page, 'lines')).toContainText('5 lines');
  await page.getByRole('button', { name: /neighbour\.dxf/ }).click();
  await expect(page.getByText('Under the drawing: 1 line, 1 text.')).toBeVisible();
});
