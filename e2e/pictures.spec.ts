import { readFileSync } from 'node:fs';
import { zipSync } from 'fflate';
import { PDFDocument, StandardFonts } from 'pdf-lib';
import { expect, test, type Page } from '@playwright/test';
import { placeOf, type Projective } from '#core/pictures';
import type { ProjectState } from '#contract';
import { beginProject, drop, go, leafOf, settled, takeIn, view } from './steps.ts';

/** A scan of 40 × 30 m in 800 × 600 pixels, seen at a slant and written by the browser itself: its corners are black. */
async function scan(page: Page): Promise<Buffer> {
  const data = await page.evaluate(() => {
    const canvas = Object.assign(document.createElement('canvas'), { width: 800, height: 600 });
    const c = canvas.getContext('2d')!;
    c.fillStyle = '#c83c28';
    c.fillRect(0, 0, 800, 600);
    return canvas.toDataURL('image/png').split(',')[1];
  });
  return Buffer.from(data, 'base64');
}

const stateOf = async (page: Page): Promise<ProjectState> =>
  (await (await page.request.get(`/api/projects/${/\/p\/([^/?]+)/.exec(page.url())![1]}`)).json()) as ProjectState;

/** Clicks where a place of the project is on the drawing, as the address has what it shows. */
async function clickAt(page: Page, x: number, y: number): Promise<void> {
  const [, east, north, scale] = (await view(page)).split(',').map(Number);
  const box = (await page.getByRole('region', { name: 'sheet' }).boundingBox())!;
  await page.mouse.click(box.x + box.width / 2 + (x - east) / scale, box.y + box.height / 2 - (y - north) / scale);
}

/** The colour of the drawing at a place: red, green, blue. */
async function colourAt(page: Page, x: number, y: number): Promise<number[]> {
  const [, east, north, scale] = (await view(page)).split(',').map(Number);
  const box = (await page.getByRole('region', { name: 'sheet' }).boundingBox())!;
  const clip = { x: box.x + box.width / 2 + (x - east) / scale - 2, y: box.y + box.height / 2 - (y - north) / scale - 2, width: 4, height: 4 }; // prettier-ignore
  const shot = (await page.screenshot({ clip })).toString('base64');
  return page.evaluate(async (png) => {
    const image = new Image();
    image.src = `data:image/png;base64,${png}`;
    await image.decode();
    const c = Object.assign(document.createElement('canvas'), { width: 4, height: 4 }).getContext('2d')!;
    c.drawImage(image, 0, 0);
    return [...c.getImageData(1, 1, 1, 1).data.subarray(0, 3)];
  }, shot);
}

test('a picture is fitted on four points at a slant, seen through, and undone', async ({ page }) => {
  await beginProject(page, 'Over a scan');
  const corners = [[1000, 2000], [1048, 2004], [1042, 2034], [1002, 2030]] as const; // prettier-ignore
  await drop(page, 'day1.csv', corners.map(([x, y], i) => `${i + 1},${x},${y},5,GR`).join('\n'));
  await takeIn(page, /Import 4 points/, 1);
  await drop(page, 'scan.png', await scan(page));
  await expect(page.getByLabel('intake')).toContainText('PNG, 800 × 600 pixels');
  await expect(page.getByLabel('intake')).toContainText('not to scale');
  await page.getByRole('button', { name: 'Import the picture' }).click();
  const row = page.getByRole('list', { name: 'pictures' }).getByRole('listitem');
  await expect(row).toContainText('not to scale: nobody has said where it is');

  const fit = page.getByRole('group', { name: 'fit of scan' });
  await fit.getByLabel('how the picture is fitted').selectOption('projective');
  // Its corners, a little inside of the rim, from the lower left one on.
  const matrix = (await stateOf(page)).document.pictures[0].matrix as Projective;
  const pixels = [[4, 596], [796, 596], [796, 4], [4, 4]] as const; // prettier-ignore
  for (const [i, [column, line]] of pixels.entries()) {
    await fit.getByRole('button', { name: 'Add a mark' }).click();
    const on = placeOf(matrix, column, line);
    await clickAt(page, on.x, on.y);
    await expect(page.getByRole('group', { name: 'drawing' })).toContainText('where it is');
    await clickAt(page, corners[i][0], corners[i][1]);
    await expect(fit.getByRole('table', { name: 'marks' }).getByRole('row')).toHaveCount(i + 2);
  }
  await expect(fit).toContainText('No redundancy');
  await fit.getByRole('button', { name: 'Apply' }).click();
  await expect(row).toContainText('fitted by 4 marks, projective, no redundancy');
  const { matrix: laid, placed } = (await stateOf(page)).document.pictures[0];
  expect(placed).toMatchObject({ by: 'marks', marks: [{ point: { number: '1' } }, { point: { number: '2' } }, { point: { number: '3' } }, { point: { number: '4' } }] }); // prettier-ignore
  // The hand is as exact as a pixel of the screen; points are met exactly.
  for (const [i, [column, line]] of pixels.entries()) {
    const at = placeOf(laid as Projective, column, line);
    expect(Math.hypot(at.x - corners[i][0], at.y - corners[i][1])).toBeLessThan(0.5);
  }
  // Inside the quadrilateral the scan is seen, outside it is not.
  const offBy = async (wanted: number[]): Promise<number> => Math.max(...(await colourAt(page, 1040, 2010)).map((v, i) => Math.abs(v - wanted[i]))); // prettier-ignore
  await expect.poll(() => offBy([200, 60, 40])).toBeLessThanOrEqual(1);
  const paper = await colourAt(page, 1046, 2031);
  expect(Math.min(...paper)).toBeGreaterThan(230);

  const transparency = row.getByRole('slider', { name: 'transparency of scan' });
  await transparency.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await stateOf(page)).document.pictures[0].opacity).toBe(0.95);
  // A twentieth of the paper is seen through it.
  const mixed = [200, 60, 40].map((v, i) => 0.95 * v + 0.05 * paper[i]);
  await expect.poll(() => offBy(mixed)).toBeLessThan(2.5);
  await page.keyboard.press('Escape');
  await row.getByRole('checkbox', { name: 'hidden' }).click();
  await expect.poll(async () => (await stateOf(page)).document.pictures[0].hidden).toBe(true);

  // Reloaded, it is where it was.
  await row.getByRole('checkbox', { name: 'hidden' }).click();
  await expect.poll(async () => (await stateOf(page)).document.pictures[0].hidden).toBe(false);
  await page.reload();
  await settled(page);
  await expect(row).toContainText('fitted by 4 marks');
  await row.getByRole('button', { name: 'delete scan' }).click();
  await expect(page.getByText('A scan, a photograph or a page of a PDF')).toBeVisible();
});

test('pictures come with their world file, a page of a PDF by its number; what is none is refused', async ({
  page,
}) => {
  await beginProject(page, 'Placed pictures');
  await page.getByTestId('file').setInputFiles([
    { name: 'site.png', mimeType: 'image/png', buffer: await scan(page) },
    { name: 'site.pgw', mimeType: 'text/plain', buffer: Buffer.from('0.05\n0\n0\n-0.05\n5000.025\n7029.975\n') },
  ]);
  await expect(page.getByLabel('intake')).toContainText('Its place comes from site.pgw.');
  await page.getByRole('button', { name: 'Import the picture' }).click();
  await expect(page.getByRole('list', { name: 'pictures' })).toContainText('placed by site.pgw; a pixel is 0.050 m');
  expect((await stateOf(page)).document.pictures[0].matrix).toEqual([0.05, 0, 5000, 0, -0.05, 7030, 0, 0, 1]);

  const document = await PDFDocument.create();
  const font = await document.embedFont(StandardFonts.Helvetica);
  for (const text of ['Plan', 'Sections'])
    document.addPage([842, 595]).drawText(text, { x: 60, y: 300, size: 90, font });
  await drop(page, 'sheets.pdf', Buffer.from(await document.save()));
  await page.getByLabel('page of the document').selectOption('2');
  await page.getByRole('button', { name: 'Import the picture' }).click();
  await expect(page.getByRole('list', { name: 'pictures' }).getByRole('listitem').first()).toContainText(
    'sheets, page 2',
  );
  expect((await stateOf(page)).document.pictures[1]).toMatchObject({ page: 2, width: 1684, height: 1190 });

  const broken = readFileSync('e2e/pictures.spec.ts').subarray(0, 400);
  for (const [name, bytes, why] of [
    ['broken.pdf', Buffer.concat([Buffer.from('%PDF-1.7\n'), broken]), 'The PDF is damaged: its pages cannot be read.'],
    ['broken.png', (await scan(page)).subarray(0, 60), 'The PNG is damaged: it cannot be unpacked.'],
    ['broken.tif', Buffer.concat([Buffer.from('II*\0'), broken]), 'GeoTIFF is cut short'],
  ] as const) {
    await drop(page, name, bytes);
    await expect(page.getByLabel('intake').getByRole('alert')).toContainText(why);
    await expect(page.getByRole('button', { name: 'Import the picture' })).toHaveCount(0);
    await page.getByRole('button', { name: 'Cancel' }).click();
  }
  await go(page, 'basis');
  await leafOf(page, 'Originals');
  await expect(page.getByRole('list', { name: 'originals' })).toContainText('under the drawing, as sheets, page 2');
});

test('a folder with a picture and its world file: points and picture come in together, each where it lies', async ({
  page,
}) => {
  await beginProject(page, 'A day with a picture');
  const text = (t: string) => new TextEncoder().encode(t);
  const zip = zipSync({
    'friday/day.csv': text('1,1000,2000,5,GR\n2,1040,2000,5,GR\n3,1020,2030,6,GR'),
    'friday/site.png': new Uint8Array(await scan(page)),
    'friday/site.pgw': text('0.05\n0\n0\n-0.05\n1000.025\n2029.975\n'),
    'friday/bench.png': new Uint8Array(await scan(page)),
  });
  await page.getByTestId('file').setInputFiles({ name: 'friday.zip', mimeType: 'application/zip', buffer: Buffer.from(zip) }); // prettier-ignore
  const row = (name: string) => page.getByRole('row', { name });
  await expect(row('friday.zip/friday/site.png')).toContainText('PNG, 800 × 600 pixels; placed by site.pgw, read in metres'); // prettier-ignore
  await expect(row('friday.zip/friday/site.pgw')).toContainText('says where site.png lies');
  await expect(row('friday.zip/friday/bench.png')).toContainText('a photograph');
  await page.getByRole('button', { name: 'Import 3 files' }).click();
  await expect(page.getByRole('status')).toContainText('4 of 4 files done', { timeout: 60_000 });
  const { pictures, intakes } = (await stateOf(page)).document;
  expect(intakes.map((i) => i.fileName)).toEqual(['day.csv']);
  expect(pictures.map((p) => [p.name, p.placed])).toEqual([['site', { by: 'file', name: 'site.pgw' }]]);
  const { x, y } = placeOf(pictures[0].matrix as Projective, 800, 600);
  expect([x.toFixed(3), y.toFixed(3)]).toEqual(['1040.000', '2000.000']);
});
