import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { unzipSync } from 'fflate';
import { bandOf, beginProject, drop, go, ledger, openDemo, queries, settled, takeIn } from './steps.ts';

const demoFile = (name: string): Buffer => readFileSync(new URL(`../demo/ostrel-landing/${name}`, import.meta.url));

test('from a coded point file to a checked handover', async ({ page }) => {
  await beginProject(page, 'Four o’clock');
  await expect(page.getByText('Drop a text file of coded points anywhere')).toBeVisible();

  // Control first: it will tell which way round the crews' coordinates stand.
  await drop(page, 'control-ostrel.csv', demoFile('control-ostrel.csv'));
  await expect(page.getByLabel('what the points are')).toHaveValue('control');
  await takeIn(page, 'Import 5 points', 1);
  await expect(bandOf(page, 'basis')).toContainText('5 control points');

  // North first, spaces, no headings: the order is found out by the control, and said.
  await drop(page, 'landing-day2.txt', demoFile('landing-day2.txt'));
  await expect(page.getByLabel('role of column 2')).toHaveValue('N');
  await expect(page.getByLabel('intake')).toContainText('where control lies');
  await expect(page.getByLabel('intake')).toContainText('270 points read, 0 rows not read');
  await page.getByRole('button', { name: 'Save this layout …' }).click();
  await page.getByLabel('name of the layout').fill('crew two');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByText('saved as “crew two”')).toBeVisible();
  await takeIn(page, 'Import 270 points', 2);

  // The other day: an account with the row that was left out.
  await drop(page, 'landing-day1.csv', demoFile('landing-day1.csv'));
  await expect(page.getByLabel('intake')).toContainText('480 points read, 1 row not read');
  await expect(page.getByLabel('intake')).toContainText('row 142: east “10:42 ---” is not a number');
  await expect(page.getByText('number 214 exists in the project already')).toBeVisible();
  await takeIn(page, 'Import 480 points', 3);
  await expect(bandOf(page, 'book')).toContainText('3 files');

  // The pad, as a design of its own.
  await drop(page, 'boat-park-pad.csv', demoFile('boat-park-pad.csv'));
  await expect(page.getByLabel('what the points are')).toHaveValue('design');
  await takeIn(page, 'Import 4 points', 4);

  // A volume to the pad, and one to a level.
  await go(page, 'quantities');
  await page.getByRole('button', { name: 'Compare …' }).click();
  await page.getByLabel('name of the comparison').fill('pad');
  await page.getByRole('button', { name: 'Compute' }).click();
  await settled(page);
  await expect(ledger(page)).toContainText('104.2');
  await expect(ledger(page)).toContainText('64.2');

  // Out: text, drawing and LandXML, each read back.
  await go(page, 'handover');
  await expect(page.getByLabel('sample of the points as written')).toContainText(
    'Number,East [m],North [m],Elevation [m],Description',
  );
  await page.getByLabel('column 2', { exact: true }).selectOption('N');
  await page.getByLabel('column 3', { exact: true }).selectOption('E');
  await expect(page.getByLabel('sample of the points as written')).toContainText('OL1,7778.604,4246.318,66.912');
  await page.getByRole('button', { name: 'Create the package' }).click();
  await expect(page.getByText(/read back, off by at most/).first()).toBeVisible({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Download' }).click();
  const zip = unzipSync(new Uint8Array(readFileSync(await (await download).path())));
  expect(
    Object.keys(zip)
      .map((n) => n.split('.').at(-1))
      .sort(),
  ).toEqual(['csv', 'dxf', 'json', 'xml']);
  const manifest = JSON.parse(new TextDecoder().decode(zip['manifest.json'])) as {
    project: string;
    files: { readBack: { ok: boolean } }[];
  };
  expect(manifest.project).toBe('Four o’clock');
  expect(manifest.files.every((f) => f.readBack.ok)).toBe(true);
});

test('a layout that was kept is proposed for the next file that begins like the first', async ({ page }) => {
  await beginProject(page, 'Next Friday');
  await drop(page, 'other-name.txt', demoFile('landing-day2.txt').toString().split('\r\n').slice(0, 60).join('\r\n'));
  await expect(page.getByLabel('saved layout').locator('option:checked')).toHaveText('crew two');
  await expect(page.getByText('proposed, since its files began like this one')).toBeVisible();
  await expect(page.getByLabel('role of column 2')).toHaveValue('N');
});

test('queries are stepped, mended by one key with a preview, undone, and accepted with a reason', async ({ page }) => {
  await openDemo(page);
  await expect(queries(page)).toContainText('sounding.txt are 4 821 m from control');
  // The first: two columns the other way round.
  await page.keyboard.press('n');
  await page.keyboard.press('t');
  await expect(page.getByLabel('preview of a change')).toContainText('points changed74');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(queries(page)).not.toContainText('sounding.txt');
  // A spike in the heap, previewed with what it does to the volume.
  await go(page, 'ground');
  await queries(page).getByText('is 1.01 m below').click();
  await page.keyboard.press('t');
  const card = page.getByLabel('preview of a change');
  await expect(card).toContainText('Gravel heap above 63.20');
  await expect(card).toContainText('531.7 → 544.2');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(queries(page)).not.toContainText('1.01 m below');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(queries(page)).toContainText('1.01 m below');
  await queries(page).getByText('is 1.01 m below').click();
  await page.getByRole('button', { name: 'Accept as it is …' }).click();
  await page.getByLabel('reason').fill('a hole was dug for a sample');
  await page.getByRole('button', { name: 'Accept', exact: true }).click();
  await settled(page);
  await page.getByRole('button', { name: '1 accepted' }).click();
  await expect(queries(page)).toContainText('accepted by Ina Quillow: “a hole was dug for a sample”');
});

test('an edit in the ledger is previewed and rebuilds everything; another window follows', async ({
  page,
  context,
}) => {
  await openDemo(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await settled(other);
  await page.getByLabel('find or do').fill('691');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('selected point')).toContainText('Point 691');
  await expect.poll(() => page.url()).toContain('sel=point');
  const revision = Number(
    /revision (\d+)/.exec((await page.getByRole('button', { name: /^revision/ }).textContent()) ?? '')![1],
  );
  const elevation = page.getByLabel('selected point').getByLabel('elevation m');
  await elevation.fill('sixty');
  await page.keyboard.press('Enter');
  await expect(page.getByText('“sixty” is not a length')).toBeVisible();
  await elevation.fill('67,5');
  await page.keyboard.press('Enter');
  const card = page.getByLabel('preview of a change');
  await expect(card).toContainText('elevation of 691: 67.500 m');
  await expect(card).toContainText('Gravel heap');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(page.getByRole('grid', { name: 'points' })).toContainText('67.500');
  await expect(other.getByRole('button', { name: /^revision/ })).toContainText(String(revision + 1));
  // The link in the address bar brings a colleague to the same point.
  await other.goto(page.url());
  await expect(other.getByLabel('selected point')).toContainText('Point 691');
});

test('the page’s own computation equals the server’s to the last bit', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('c');
  await page.getByRole('button', { name: 'Compute here too and compare' }).click();
  const answer = page.getByText(/The same to the last bit: points, reduction, lines, summary, /);
  await expect(answer).toBeVisible();
  for (const what of ['surface Ground', 'surface Boat park pad', 'contours of Ground', 'contours of Boat park pad'])
    await expect(answer).toContainText(what);
});

test('a boundary is drawn on the drawing and limits the ground', async ({ page }) => {
  await openDemo(page, 'ground');
  await page.keyboard.press('f');
  await ledger(page).getByRole('button', { name: 'Draw a boundary' }).click();
  const sheet = (await page.getByRole('region', { name: 'sheet' }).boundingBox())!;
  for (const [u, v] of [
    [0.3, 0.35],
    [0.7, 0.35],
    [0.7, 0.65],
    [0.3, 0.65],
  ])
    await page.mouse.click(sheet.x + u * sheet.width, sheet.y + v * sheet.height);
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(ledger(page).getByRole('button', { name: 'Draw the boundary again' })).toBeVisible();
  await expect(page.getByLabel('recipe of Ground')).toContainText(/boundary drawn by hand[^a-z]* (m²|ha) less/);
  await expect(ledger(page)).not.toContainText('1.364 ha');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(ledger(page).getByRole('button', { name: 'Draw a boundary' })).toBeVisible();
});

test('a code is added to the list and what was unknown draws itself', async ({ page }) => {
  await openDemo(page, 'lines');
  await expect(ledger(page)).toContainText('1 unknown code');
  await page.getByRole('link', { name: 'Code list' }).click();
  await page.getByRole('button', { name: 'Add DTT' }).click();
  const code = page.getByRole('group', { name: 'code DTT' });
  await code.getByLabel('what DTT is').fill('ditch, third line');
  await code.getByLabel('kind of DTT').selectOption('line');
  await page.getByRole('button', { name: 'Show what it changes' }).click();
  await expect(page.getByLabel('preview of a change')).toContainText('lines changed');
  await page.getByRole('button', { name: /^Apply/ }).click();
  await settled(page);
  await page.getByRole('link', { name: 'Lines', exact: true }).click();
  await expect(page.getByRole('grid', { name: 'lines' })).toContainText('DTT1');
  await page.keyboard.press('Control+z');
  await settled(page);
});

test('3D, plan, fit and stages are a key away, and single keys rest while somebody types', async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press('v');
  await expect(page.getByRole('button', { name: '3D', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('v');
  await expect(page.getByRole('button', { name: 'Plan', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('5');
  await expect(page.getByLabel('ledger: Quantities')).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('4v');
  await expect(page.getByLabel('ledger: Quantities')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'keys' })).toContainText('next query');
});
