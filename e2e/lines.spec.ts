import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { PDFDocument } from 'pdf-lib';
import { bandOf, beginProject, drop, go, ledger, queries, settled, takeIn } from './steps.ts';
import { wordsOfPdf } from './pdf.ts';

// A crew whose device writes its words in its own way: START, STOP, ROUND and DONE.
const arc = (t: number): string => `${(100 + 12 * Math.sin(t)).toFixed(3)},${(212 - 12 * Math.cos(t)).toFixed(3)}`;
const ROWS = [
  'Number,East [m],North [m],Elevation [m],Code',
  '1,80,200,50.0,KT1 START',
  '2,90,200,50.1,KT1',
  `3,${arc(0)},50.2,KT1 ROUND`,
  `4,${arc(0.4)},50.2,KT1`,
  `5,${arc(0.8)},50.3,KT1 DONE`,
  '6,118,212,50.3,KT1 STOP',
  '7,80,190,50.0,FN1 START',
  '8,90,190,50.1,FN1 STOP',
  '9,80,180,50.0,ED1 START',
  `10,90,180,50.1,ED1 ROUND`,
  '11,96,178,50.1,ED1',
  '12,100,173,50.2,ED1',
  '13,104,160,50.2,ED1 STOP',
  '14,120,180,50.4,TRE',
  '15,125,182,50.4,TR',
  '16,70,170,50.2,WT1',
  '17,72,170,50.2,WT1',
  '18,74,170,50.2,WT1',
  '19,76,170,50.2,WT1',
  '20,78,170,50.2,WT1',
  '21,140,205,50.2,WT1',
  '22,142,205,50.2,WT1',
  '23,120,190,51,LD',
  '24,120,190.05,49.2,IV PI1 START',
  '25,150,190,50.6,LD',
  '26,150,190.05,48.9,IV PI1 STOP',
].join('\n');

const leaf = (page: Page, name: string) =>
  page
    .getByRole('navigation', { name: /^leaves of/ })
    .getByRole('link', { name, exact: true })
    .click();

async function doIt(page: Page, says: string | RegExp): Promise<void> {
  const preview = page.getByLabel('preview of a change');
  await expect(preview).toContainText(says);
  await expect(preview).toContainText('lines changed');
  await preview.getByRole('button', { name: /^Apply/ }).click();
  await expect(preview).toHaveCount(0);
  await settled(page);
}

/** Steps onto a query and asks for its remedy. */
async function mend(page: Page, says: string, remedy: string | RegExp): Promise<void> {
  await queries(page).getByText(says).first().click();
  await queries(page).getByRole('button', { name: remedy }).first().click();
}

test('a crew’s words are mapped, what slipped is mended, a line is drawn by hand, and a sheet is plotted', async ({
  page,
}) => {
  await beginProject(page, `Words ${Date.now()}`);
  await drop(page, 'crew.csv', ROWS);
  await takeIn(page, /^Import 26 points/, 1);
  await go(page, 'lines');

  // Words: learnt from the file, looked at, taken.
  await leaf(page, 'Line words');
  await page.getByLabel('whose words').selectOption({ label: 'crew.csv' });
  await page.getByRole('button', { name: 'Those of crew.csv' }).click();
  const unknown = page.getByRole('table', { name: 'unknown words' });
  await expect(unknown.getByRole('row', { name: /^START/ })).toContainText('begin a line');
  await expect(unknown.getByRole('row', { name: /^ROUND/ })).toContainText('begin a curve');
  await page.getByRole('button', { name: 'Use every proposed meaning' }).click();
  // The crew’s STOP ends lines and its DONE ends curves.
  await page.getByLabel('word: end it', { exact: true }).fill('STOP');
  await page.getByLabel('word: end the curve', { exact: true }).fill('DONE');
  await page.getByLabel('word: begin a curve through many shots').fill('ROUND');
  await page.getByRole('button', { name: 'Show what it changes' }).click();
  await doIt(page, 'Read crew.csv with these line words');

  // Three queries, each by its first remedy; the remedy speaks the crew’s words.
  await leaf(page, 'Lines');
  await mend(page, 'The curve begun at 10 on line ED1 has no end', /^End it at/);
  await doIt(page, /^End it at/);
  await mend(page, 'Code TRE on shot 14', 'Replace by TR');
  await doIt(page, 'Replace by TR');
  await mend(page, 'Line WT1 jumps', 'Begin another line at 21');
  await doIt(page, 'Begin another line at 21');
  await expect(page.getByRole('grid', { name: 'lines' })).toContainText('WT1.2');
  await expect(bandOf(page, 'lines')).not.toContainText('△');

  // A line by hand, by coordinates and by distance and bearing.
  await page.getByLabel('code of the line to draw').selectOption('FN');
  await page.getByRole('button', { name: 'Draw a line' }).click();
  const bar = page.getByRole('group', { name: 'drawing' });
  await bar.getByRole('button', { name: 'coordinates' }).click();
  await bar.getByLabel('E m').fill('130');
  await bar.getByLabel('N m').fill('160');
  await bar.getByRole('button', { name: 'Add', exact: true }).click();
  await bar.getByRole('button', { name: 'distance and bearing' }).click();
  await bar.getByLabel('distance m').fill('20');
  await bar.getByLabel('bearing').fill('90');
  await bar.getByRole('button', { name: 'Add', exact: true }).click();
  await bar.getByRole('button', { name: /^Finish/ }).click();
  await doIt(page, 'Draw a line FN by hand');
  const row = page.getByRole('row', { name: /^FN~1/ });
  await expect(row).toContainText('20.00');
  await page.keyboard.press('Control+z');
  await expect(row).toHaveCount(0);
  await page.keyboard.press('Control+y');
  await expect(row).toHaveCount(1);

  // Chambers joined by a pipe.
  await leaf(page, 'Two levels');
  await expect(page.getByRole('table', { name: 'pipe runs' }).getByRole('row', { name: /^PI1/ })).toContainText('1.00');

  // A plot, and its PDF as it leaves.
  await leaf(page, 'Plots');
  await page.getByRole('button', { name: 'Lay out a plot' }).click();
  await settled(page);
  await expect(ledger(page)).toContainText(/every label has a place|labels have no free place/, { timeout: 20_000 });
  const leaving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'PDF', exact: true }).click();
  const bytes = readFileSync(await (await leaving).path());
  const pdf = await PDFDocument.load(bytes);
  const { width, height } = pdf.getPage(0).getSize();
  // A3 lying: 420 × 297 mm.
  expect([width, height].map((v) => Math.round((v / 72) * 25.4))).toEqual([420, 297]);
  expect(wordsOfPdf(bytes)).toContain('kerb, top');

  // Large, it takes several sheets: laid out with an overview, and all of them in one file.
  await page.getByLabel('scale of the plot').selectOption('50');
  await page.getByRole('button', { name: 'Lay out' }).click();
  const all = page.getByRole('button', { name: /^PDF of all \d+ sheets$/ });
  await expect(all).toBeVisible({ timeout: 20_000 });
  const count = Number(/\d+/.exec((await all.textContent())!)![0]);
  const together = page.waitForEvent('download');
  await all.click();
  const series = wordsOfPdf(readFileSync(await (await together).path()))
    .split('\f')
    .slice(0, -1);
  expect(series).toHaveLength(count);
  expect(count).toBeGreaterThan(2);
  expect(series[0]).toContain('overview');
  await page.keyboard.press('Control+z');
  await expect(all).toHaveCount(0);
});

test('a code list is kept, compared and taken into another project; codes come and go as a table', async ({ page }) => {
  const name = `Harbour ${Date.now()}`;
  await beginProject(page, `List ${Date.now()}`);
  await go(page, 'lines');
  await leaf(page, 'Code list');
  await page.getByTestId('code-file').setInputFiles({
    name: 'codes.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('code,name,kind,layer,attributes,lower\nCB1,"bollard, cast",point,MOOR,kind:choice:iron|steel; load!:number,\nQY,quay,line,QUAY,,\nBAD CODE,x,point,X,,\n'), // prettier-ignore
  });
  await expect(ledger(page)).toContainText('row 4, “BAD CODE” is not a code');
  await page.getByRole('button', { name: 'Show what it changes' }).click();
  await doIt(page, 'Use this code list');
  // A symbol of one's own; what is none is refused in a sentence and changes nothing.
  await ledger(page).getByRole('row', { name: /^CB1/ }).click();
  const own = page.getByLabel('own symbol of CB1');
  const svg = (text: string) => ({ name: 'bollard.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(text) });
  await own.setInputFiles(svg('<!DOCTYPE svg><svg/>'));
  await expect(ledger(page)).toContainText('bollard.svg: it has a document type');
  await own.setInputFiles(svg('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 8 8"><circle cx="4" cy="4" r="3"/><text>B</text></svg>')); // prettier-ignore
  await expect(ledger(page)).toContainText('not drawn: 1 text');
  await expect(page.getByLabel('symbol of CB1', { exact: true })).toHaveValue('own');
  await page.getByRole('button', { name: 'Show what it changes' }).click();
  await doIt(page, 'Use this code list');
  await expect(page.getByText('not used yet')).toHaveCount(0);
  await page.getByRole('button', { name: 'Saved lists …' }).click();
  await page.getByLabel('name of the list').fill(name);
  await page.getByLabel('client').fill('Port of Nowhere');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('table', { name: 'saved lists' })).toContainText(name);

  await page.goto('/');
  await page.getByLabel('name of a new project').fill(`Other ${Date.now()}`);
  await page.getByRole('button', { name: 'Create' }).click();
  await settled(page);
  await go(page, 'lines');
  await leaf(page, 'Code list');
  await page.getByRole('button', { name: 'Saved lists …' }).click();
  await page
    .getByRole('row', { name: new RegExp(name) })
    .getByRole('button', { name: 'Compare' })
    .click();
  const compared = page.getByLabel('comparison of lists');
  await expect(compared.getByRole('row', { name: /^QY/ })).toContainText('is new');
  await compared.getByLabel('use QY').uncheck();
  await page.getByRole('button', { name: 'Use what is ticked' }).click();
  await page.getByRole('button', { name: 'Show what it changes' }).click();
  await doIt(page, 'Use this code list');
  await expect(page.getByRole('grid', { name: 'codes' })).toContainText('bollard, cast');
  await expect(page.getByRole('grid', { name: 'codes' })).not.toContainText('quay');
  const leaving = page.waitForEvent('download');
  await page.getByLabel('export the code list').selectOption('csv');
  expect(readFileSync(await (await leaving).path(), 'utf8')).toContain('kind:choice:iron|steel; load!:number');
});

test('points are marked and changed together, pasted, gathered in a set, and leave in another crew’s words', async ({
  page,
}) => {
  await beginProject(page, `Points ${Date.now()}`);
  await drop(page, 'shots.csv', 'Number,East [m],North [m],Elevation [m],Code\n1,10,20,5,KT1 BEG\n2,20,20,5.5,KT1 END\n3,30,30,6,TR\n'); // prettier-ignore
  await takeIn(page, /^Import 3 points/, 1);
  await go(page, 'book');
  const grid = page.getByRole('grid', { name: 'points' });
  await grid.getByText('TR', { exact: true }).click();
  await page.keyboard.press('Shift+ArrowUp');
  const bar = page.getByRole('group', { name: 'change the marked points' });
  await expect(bar).toContainText('2 points marked');
  await bar.getByLabel('what the points become').selectOption({ label: 'shifted' });
  await bar.getByLabel('east m').fill('1.5');
  await bar.getByRole('button', { name: 'Show it' }).click();
  await doIt(page, '2 points shifted');
  await expect(grid.getByRole('row', { name: /^3/ })).toContainText('31.500');

  // Pasted from a spreadsheet, beginning at the code of the second point.
  await grid.getByText('KT1 END').click();
  await grid.evaluate((element) => {
    const data = new DataTransfer();
    data.setData('text/plain', 'KT1 END\nSB');
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await doIt(page, '1 points as pasted');
  await expect(grid.getByRole('row', { name: /^3/ })).toContainText('SB');

  // Two undos pressed at once take back two changes, and so do two redos.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(grid.getByRole('row', { name: /^3/ })).toContainText('30.000');
  await expect(grid.getByRole('row', { name: /^3/ })).toContainText('TR');
  await page.keyboard.press('Control+y');
  await page.keyboard.press('Control+y');
  await expect(grid.getByRole('row', { name: /^3/ })).toContainText('31.500');
  await expect(grid.getByRole('row', { name: /^3/ })).toContainText('SB');
  await settled(page);

  await leaf(page, 'Sets');
  await page.getByRole('button', { name: 'Name a set' }).click();
  await settled(page);
  await page.getByLabel(/^codes of Set/).fill('K*');
  await page.keyboard.press('Tab');
  await settled(page);
  await expect(ledger(page)).toContainText(/Set 12\s*points/);

  await leaf(page, 'Export points');
  await page.getByLabel('points of', { exact: true }).selectOption({ label: 'Set 1' });
  await page.getByLabel('in whose words').selectOption({ label: 'letters joined to the code by a full stop' });
  const first = page.getByLabel('first rows');
  await expect(first).toContainText('KT1.B');
  const leaving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Write the file' }).click();
  const text = readFileSync(await (await leaving).path(), 'utf8');
  expect(text).toBe('Number,East [m],North [m],Elevation [m],Description\r\n1,10.000,20.000,5.000,KT1.B\r\n2,21.500,20.000,5.500,KT1.E\r\n'); // prettier-ignore
});
