import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { bandOf, beginProject, drop, enterDemo, go, ledger, queries, settled, takeIn } from './steps.ts';
import { wordsOfPdf } from './pdf.ts';

const kessa = (name: string): string => readFileSync(new URL(`../demo/kessa-bank/${name}`, import.meta.url), 'utf8');

async function openKessa(page: Page): Promise<void> {
  await enterDemo(page);
  await page.getByRole('link', { name: 'Kessa Bank' }).click();
  await settled(page);
  await go(page, 'book');
}
const records = (page: Page) => page.getByRole('grid', { name: 'records of the books' });
const rowOf = (page: Page, name: RegExp) => records(page).getByRole('row', { name });

test('a crew’s wrong backsight goes from its query to mended lines, and back', async ({ page }) => {
  await openKessa(page);
  await page.getByLabel('what is shown').selectOption('known');
  await expect(rowOf(page, /setup KB4/)).toContainText('waits: the backsight to KB6 is undecided');
  await go(page, 'lines');
  await expect(ledger(page)).not.toContainText('BT3');
  await go(page, 'book');
  await queries(page).getByText('KB3 lies where it was measured').click();
  await page.keyboard.press('t');
  const card = page.getByLabel('preview of a change');
  await expect(card).toContainText('The backsight is KB3');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(queries(page)).not.toContainText('KB3 lies where it was measured');
  await page.getByLabel('what is shown').selectOption('known');
  await expect(rowOf(page, /setup KB4/)).toContainText('on control');
  await go(page, 'lines');
  await expect(ledger(page)).toContainText('BT3');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(ledger(page)).not.toContainText('BT3');
});

test('a target height typed over on the card moves its point alone, after a preview, with its reason kept', async ({
  page,
}) => {
  await openKessa(page);
  await page.getByLabel('find records').fill('104');
  await records(page).getByRole('row', { name: /104/ }).first().click();
  const card = page.getByLabel('selected point');
  await expect(card).toContainText('Point 104');
  const field = card.getByLabel('target height m');
  await field.fill('7 ft 3');
  await field.press('Enter');
  await expect(page.getByRole('alert').first()).toBeVisible();
  await field.fill('2.1');
  await field.press('Enter');
  const preview = page.getByLabel('preview of a change');
  await expect(preview).toContainText('points changed1');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(field).toHaveValue('2.100');
  await expect(card).toContainText('changed by hand');
  // The original is one key away, previewed like any other change.
  await page.keyboard.press('o');
  await expect(preview).toContainText('as received');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(card).not.toContainText('changed by hand');
  await expect(field).toHaveValue('1.500');
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('2.100');
  await settled(page);
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('1.500');
  await settled(page);
  await expect(card).not.toContainText('changed by hand');
});

test('a backsight is decided in its row, the network says what is doubtful, and the report goes out as PDF', async ({
  page,
}) => {
  await openKessa(page);
  const shown = page.getByLabel('what is shown');
  await shown.selectOption('known');
  await expect(rowOf(page, /setup KB4/)).toContainText('waits: the backsight to KB6 is undecided');
  await shown.selectOption('known');
  await page.getByLabel('backsight to KB6').first().selectOption('used');
  const preview = page.getByLabel('preview of a change');
  await expect(preview).toContainText('largest move', { timeout: 30_000 });
  await preview.getByLabel('why').fill('seen again on Tuesday');
  await preview.getByLabel('why').press('Enter');
  await expect(preview).toHaveCount(0);
  await settled(page);
  await shown.selectOption('known');
  await expect(rowOf(page, /setup KB4/)).toContainText('on control');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(rowOf(page, /setup KB4/)).toContainText('waits: the backsight to KB6 is undecided');

  const list = page.getByRole('navigation', { name: /^leaves of/ });
  await list.getByRole('link', { name: 'Stations' }).click();
  await expect(ledger(page)).toContainText('variance factor');
  await expect(ledger(page)).toContainText('FS1');
  await list.getByRole('link', { name: 'Report' }).click();
  await expect(page.getByRole('region', { name: 'the report' })).toContainText('out of tolerance');
  await page.getByLabel('how much is reported').selectOption('readings');
  await expect(page.getByRole('table', { name: /^Setup at KB1/ }).nth(1)).toContainText('Target height, m');
  const report = page.waitForEvent('download');
  await page.getByRole('button', { name: 'As PDF' }).click();
  const words = wordsOfPdf(readFileSync(await (await report).path()));
  for (const word of ['waiting: the backsight', 'instrument T1', 'Slope', '147°21′04″']) expect(words).toContain(word);
  const text = page.waitForEvent('download');
  await page.getByLabel('with byte-order mark').check();
  await page.getByRole('button', { name: 'As CSV' }).click();
  const csv = readFileSync(await (await text).path(), 'utf8');
  expect(csv.startsWith('\ufeffkind,about,')).toBe(true);
  expect(csv).toContain('waiting: the backsight to KB6 is undecided');
  // Every reading with the point that it gave.
  const row = csv.split('\r\n').find((r) => r.startsWith('readings,') && r.includes(',105,"shot, face 1",'))!;
  for (const cell of ['147°21′04″', '89°38′44″', '42.967', '1.500', 'BF1', '2188.000', '5232.000', '48.508'])
    expect(row.split(',')).toContain(cell);
});

test('a book comes in with its control; what cannot be read is said by its row, and one cut off is asked about', async ({
  page,
}) => {
  await beginProject(page, 'Tuesday');
  await drop(page, 'kessa-control.csv', kessa('kessa-control.csv'));
  await page.getByLabel('what the points are').selectOption('control');
  await takeIn(page, 'Import 6 points', 1);
  await go(page, 'book');
  // Cut off in the middle of a row, with a circle beyond a turn.
  const rows = kessa('kessa-two.book').split('\n');
  const cut = [
    ...rows.slice(0, 40),
    'shot 999 face=1 circle=460-00-00 zenith=90-00-00 dist=10 th=1.8',
    ...rows.slice(40, 80),
  ];
  await drop(page, 'tuesday.book', cut.join('\n').slice(0, -30));
  await expect(page.getByLabel('intake')).toContainText('row 41');
  await expect(page.getByLabel('intake')).toContainText('may be cut off');
  await page.getByRole('button', { name: /^Import \d+ records of tuesday.book/ }).click();
  await expect(bandOf(page, 'book')).toContainText('2 files', { timeout: 60_000 });
  await settled(page);
  await expect(queries(page)).toContainText('it may be cut off after row');
  await expect(records(page)).toContainText('FS1');
});

test('the ledger folds by line, steps along it, filters, and changes marked records together', async ({ page }) => {
  await openKessa(page);
  const grid = page.getByRole('grid', { name: 'records of the books' });
  await page.getByRole('button', { name: /^drawn:/ }).click();
  await page.getByLabel('points by file').check();
  await expect(page.getByLabel('inks of files').getByRole('listitem')).toHaveText(['kessa-one.book', 'kessa-two.book', 'kessa-three.book']); // prettier-ignore
  await page.getByLabel('points by file').uncheck();
  await page.getByRole('button', { name: /^drawn:/ }).click();
  await page.getByLabel('folded by').selectOption('line');
  await expect(grid).toContainText('line BF1: 8 records');
  await grid.getByRole('row', { name: /^shot 101/ }).click();
  await page.keyboard.press(']');
  await expect(page.getByLabel('selected point')).toContainText('Point 102');
  await page.keyboard.press('[');
  await expect(page.getByLabel('selected point')).toContainText('Point 101');
  await page.keyboard.press('.');
  await expect(page.getByLabel('selected point')).toContainText('Point 102');
  await page.getByLabel('folded by').selectOption('setup');
  await page.getByRole('button', { name: 'fold all' }).click();
  await expect(grid.getByRole('row', { name: /^shot/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'unfold all' }).click();
  await page.getByRole('button', { name: 'filter', exact: true }).click();
  await page.getByLabel('only where description is').fill('BF1');
  await page.getByLabel('only where distance is').fill('>30');
  await page.getByRole('button', { name: /^Slope/ }).click();
  const rows = grid.getByRole('row', { name: /^shot/ });
  await expect(rows).toHaveCount(5);
  await rows.first().click();
  await rows.nth(2).click({ modifiers: ['Shift'] });
  const form = page.getByRole('group', { name: 'change the marked records' });
  await expect(form).toContainText('3 marked');
  await form.getByLabel('new value').fill('1.7');
  await form.getByLabel('why').fill('the pole was drawn out');
  await form.getByRole('button', { name: 'Preview' }).click();
  await expect(page.getByLabel('preview')).toContainText('points changed3', { timeout: 30_000 });
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(rows.first()).toContainText('1.700');
  await page.getByRole('button', { name: 'as observed' }).click();
  await page.getByLabel('what is shown').selectOption('changed');
  await expect(grid.getByRole('row', { name: /^shot/ })).toHaveCount(3);
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(grid.getByRole('row', { name: /^shot/ })).toHaveCount(0);
});

test('stations follow their traverse by a rule that is previewed; the instrument list moves points by a prism’s constant', async ({
  page,
}) => {
  await openKessa(page);
  const list = page.getByRole('navigation', { name: /^leaves of/ });
  await list.getByRole('link', { name: 'Stations' }).click();
  await expect(page.getByRole('table', { name: 'traverses' })).toContainText('KB5 – TR1 – TR2 – KB6');
  await expect(page.getByRole('table', { name: 'level runs' })).toContainText('KB5 → KB6');
  await expect(page.getByRole('table', { name: 'heights by level' })).toContainText('TR2');
  await page.getByLabel('how stations are found').focus();
  await page.getByLabel('how stations are found').selectOption('compass');
  const preview = page.getByLabel('preview of a change');
  await expect(preview).toContainText('points changed2', { timeout: 30_000 });
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(page.getByLabel('how stations are found')).toHaveValue('compass');
  await list.getByRole('link', { name: 'Instruments' }).click();
  const targets = page.getByRole('table', { name: 'targets' });
  await targets.getByLabel('constant of R2').fill('0');
  await targets.getByLabel('constant of R2').press('Enter');
  await expect(preview).toContainText('largest move m0.0', { timeout: 30_000 });
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(targets.getByRole('row', { name: /R2/ })).toContainText('the instrument list');
  // The demo is left as it was.
  await page.keyboard.press('Control+z');
  await expect(targets.getByRole('row', { name: /R2/ })).toContainText('the book');
  await list.getByRole('link', { name: 'Stations' }).click();
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('how stations are found')).toHaveValue('carried');
  await settled(page);
});

test('a book goes out as LandXML, comes back into another project, and its points stand where they stood', async ({
  page,
}) => {
  await openKessa(page);
  await page.getByRole('button', { name: 'Show files' }).click();
  await page.getByRole('button', { name: /^kessa-three.book/ }).click();
  const leaving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'LandXML' }).click();
  const xml = readFileSync(await (await leaving).path(), 'utf8');
  expect(xml).toContain('<Survey>');
  // What the schema has no place for is said beside the button.
  await expect(page.getByRole('status').filter({ hasText: 'level readings' })).toBeVisible();
  await page
    .getByRole('navigation', { name: /^leaves of/ })
    .getByRole('link', { name: 'Points', exact: true })
    .click();
  await page.getByLabel('filter the points').fill('TR1');
  const place = /2.202\.\d{3}/.exec((await page.getByRole('row', { name: /^TR1/ }).textContent()) ?? '')![0];
  await page.goto('/');
  await page.getByLabel('name of a new project').fill(`Field ${Date.now()}`);
  await page.getByRole('button', { name: 'Create' }).click();
  await settled(page);
  await drop(page, 'field.xml', xml);
  await expect(page.getByLabel('intake')).toContainText('setups');
  await page.getByRole('button', { name: /^Import \d+ records of field.xml/ }).click();
  await expect(bandOf(page, 'book')).toContainText('1 file', { timeout: 60_000 });
  await settled(page);
  await go(page, 'book');
  await page
    .getByRole('navigation', { name: /^leaves of/ })
    .getByRole('link', { name: 'Points', exact: true })
    .click();
  await expect(page.getByRole('row', { name: /^TR1/ })).toContainText(place);
});

const TAGGED = `ST,KB1,IH=1.582
BS,KB2,HZ=0.0000,VA=89.4421,SD=86.432,TH=1.5
OB,901,HZ=38.3806,VA=90.0603,SD=11.720,TH=1.5,CD=BF1
OB,902,HZ=100.5800,VA=89.4446,SD=11.501,TH=1.5,CD=BF1
OB,903,HZ=131.3315,VA=89.3930,SD=20.381,TH=1.5,CD=BF1
`;
const CONTROL = `Number,East [m],North [m],Elevation [m],Code
KB1,2146.214,5222.080,48.158,CP
KB2,2232.551,5218.417,48.639,CP
`;

test('tagged text becomes a book by a layout that is kept and proposed for the next file', async ({ page }) => {
  await beginProject(page, `Tagged ${Date.now()}`);
  await drop(page, 'control.csv', CONTROL);
  await takeIn(page, /^Import 2 points/, 1);
  await drop(page, 'monday.txt', TAGGED);
  await expect(page.getByLabel('what OB is')).toHaveValue('shot');
  await expect(page.getByLabel('role of OB, SD')).toHaveValue('dist');
  // Proposed as decimal degrees, for want of numbers to tell by: the crew's device writes minutes and seconds.
  await page.getByLabel('form of angles').selectOption('packed');
  await page.getByRole('button', { name: 'Save this layout …' }).click();
  await page.getByLabel('name of the layout').fill('crew three');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await takeIn(page, /^Import 5 records of monday/, 2);
  await expect(ledger(page).getByRole('row', { name: /901/ })).toContainText('38°38′06″');
  await drop(page, 'tuesday.txt', TAGGED.replaceAll('OB,9', 'OB,8'));
  await expect(page.getByText('its files began like this one')).toBeVisible();
  await expect(page.getByLabel('form of angles')).toHaveValue('packed');
  await takeIn(page, /^Import 5 records of tuesday/, 3);
  await expect(ledger(page).getByRole('row', { name: /803/ })).toBeVisible();
});

/** A semicolon table in gon with decimal commas: the station in every row, its first target in both faces. */
const STATION_TABLE = `Station;HI;Point;Hz;V;SD;HT;Code
KB1;1,60;KB2;0,0000;99,7085;86,432;1,5;
KB1;1,60;KB2;200,0002;300,2917;86,432;1,5;
KB1;1,60;951;42,9277;100,1121;11,720;1,3;BF1
KB1;1,60;952;112,1852;99,7142;11,501;1,3;BF1
KB2;1,55;KB1;0,0000;100,2875;86,432;1,5;
KB2;1,55;953;50,0000;100,0000;20,000;1,3;BF1
`;

test('a table that names the station in every row: its instrument height is its own, not its first target’s', async ({
  page,
}) => {
  await beginProject(page, `Table ${Date.now()}`);
  await drop(page, 'control.csv', CONTROL);
  await page.getByLabel('what the points are').selectOption('control');
  await takeIn(page, /^Import 2 points/, 1);
  await drop(page, 'wednesday.csv', STATION_TABLE);
  await expect(page.getByLabel('form of angles')).toHaveValue('gon');
  await takeIn(page, /^Import 8 records of wednesday/, 2);
  const setup = rowOf(page, /setup KB1/);
  await expect(setup).toContainText('2 shots');
  await setup.click();
  const card = page.getByRole('complementary').filter({ hasText: 'made from' });
  await expect(card).toContainText('row 2 of wednesday.csv');
  await card.getByLabel(/^instrument height/).fill('1.70');
  await page.keyboard.press('Enter');
  const preview = page.getByRole('complementary').filter({ hasText: 'what it would do' });
  await expect(preview).toContainText('instrument height of KB1: 1.700 m');
  await expect(preview).toContainText('largest move m0.100');
  await preview.getByRole('button', { name: /^Apply/ }).click();
  await settled(page);
  await rowOf(page, /back KB2/)
    .first()
    .click();
  await expect(card).toContainText('row 2 of wednesday.csv');
  await expect(card.getByLabel(/^target height/)).toHaveValue('1.500');
});
