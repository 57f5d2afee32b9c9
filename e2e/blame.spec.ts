import { expect, test, type Page } from '@playwright/test';
import { beginProject, bandOf, drop, go, ledger, leafOf, queries, settled, takeIn } from './steps.ts';

// A circle that turned in the middle of a setup, from its query to the points where they truly are; and a control point
// whose elevation is wrong, blamed on nothing else.

const DEGREE = Math.PI / 180;
const CONTROL: Record<string, [number, number, number]> = { M1: [500, 800, 20], M2: [560, 870, 21], M3: [610, 790, 19.5], M4: [520, 700, 20.4] }; // prettier-ignore
const controlCsv = (zOfM3 = 19.5): string =>
  ['Number,East [m],North [m],Elevation [m],Code', ...Object.entries(CONTROL).map(([n, [x, y, z]]) => `${n},${x},${y},${n === 'M3' ? zOfM3 : z},CP`)].join('\r\n') + '\r\n'; // prettier-ignore

/** A sighting from a known point, with what the circle reads at north, in plain geometry of a plane. */
function sight(
  role: string,
  number: string,
  to: [number, number, number],
  from: string,
  zero: number,
  code = '',
): string {
  // prettier-ignore
  const [x, y, z] = CONTROL[from];
  const [dx, dy, dz] = [to[0] - x, to[1] - y, to[2] + 1.5 - (z + 1.6)];
  const flat = Math.hypot(dx, dy);
  const circle = (Math.atan2(dx, dy) / DEGREE + zero + 720) % 360;
  return `${role} ${number} circle=${circle.toFixed(6)} zenith=${(Math.atan2(flat, dz) / DEGREE).toFixed(6)} dist=${Math.hypot(flat, dz).toFixed(4)} th=1.5${code ? ` code=${code}` : ''}`;
}
const WALK = Array.from({ length: 10 }, (_, i): [number, number, number] => [530 + 5 * i, 760 + 2 * i, 20.2]);
const head = ['book 1', 'unit m', 'angle deg', 'earth plane', 'order EN'];
const turnedBook = [
  ...head,
  'setup M1 hi=1.6',
  sight('back', 'M2', CONTROL.M2, 'M1', 20),
  sight('check', 'M3', CONTROL.M3, 'M1', 20),
  ...WALK.map((p, i) => sight('shot', String(101 + i), p, 'M1', i < 6 ? 20 : 95, 'GR')),
  sight('check', 'M2', CONTROL.M2, 'M1', 95),
  'end',
].join('\r\n');

async function begin(page: Page, name: string, control: string, book: string): Promise<void> {
  await beginProject(page, `${name} ${Date.now()}`);
  await drop(page, 'control.csv', control);
  await page.getByLabel('what the points are').selectOption('control');
  await takeIn(page, 'Import 4 points', 1);
  await drop(page, 'crew.book', book);
  await page.getByRole('button', { name: /^Import \d+ records of crew.book/ }).click();
  await expect(bandOf(page, 'book')).toContainText('2 files', { timeout: 60_000 });
  await settled(page);
  await go(page, 'book');
}

test('a turn of the circle in the middle of a setup is found, placed by the walk, and mended', async ({ page }) => {
  await begin(page, 'Turned', controlCsv(), turnedBook);
  const query = queries(page).getByText('the circle reads 75°00′00″ more');
  await expect(query).toContainText('10 sightings before it');
  await expect(query).toContainText('Turned before row 15, the walk goes on');
  await query.click();
  await page.keyboard.press('t');
  const preview = page.getByLabel('preview of a change');
  await expect(preview).toContainText('Turned before row 15');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(queries(page)).not.toContainText('the circle reads');
  await page.getByRole('navigation', { name: /^leaves of/ }).getByRole('link', { name: 'Points', exact: true }).click(); // prettier-ignore
  for (const [number, [x, y]] of [
    ['103', WALK[2]],
    ['109', WALK[8]],
  ] as const) {
    const row = ledger(page).getByRole('row', { name: new RegExp(`^${number}`) });
    await expect(row).toContainText(`${x}.00`);
    await expect(row).toContainText(`${y}.00`);
  }
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(queries(page)).toContainText('the circle reads');
});

test('a wrong elevation of control is blamed on the control, by two setups, and its practice can be set', async ({
  page,
}) => {
  // prettier-ignore
  const book = [
    ...head,
    ...(['M1', 'M4'] as const).flatMap((from, i) => [
      `setup ${from} hi=1.6`,
      ...Object.keys(CONTROL)
        .filter((n) => n !== from)
        .map((n, k) => sight(k === 0 ? 'back' : 'check', n, CONTROL[n], from, 30 + i)),
    ]),
    'end',
  ].join('\r\n');
  await begin(page, 'Elevation', controlCsv(19.8), book);
  const query = queries(page).getByText('M3 is 0.300 m lower than its given elevation');
  await expect(query).toContainText('2 setups');
  await expect(queries(page)).not.toContainText('instrument height');
  await query.click();
  await page.keyboard.press('t');
  await expect(page.getByLabel('preview of a change')).toContainText('Use M3 in plan only');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(queries(page)).not.toContainText('M3');
  await go(page, 'basis');
  await leafOf(page, 'tolerances');
  await page.getByLabel('Backsights count in an orientation').focus();
  await page.getByLabel('Backsights count in an orientation').selectOption('length');
  await expect(page.getByLabel('preview of a change')).toContainText('points changed', { timeout: 30_000 });
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(page.getByLabel('Backsights count in an orientation')).toHaveValue('length');
});
