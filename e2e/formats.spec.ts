import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { unzipSync, zipSync } from 'fflate';
import type { ProjectState } from '#contract';
import { readSpreadsheet } from '#core/exchange';
import { beginProject, drop, go, settled, takeIn } from './steps.ts';

const dxf = (entities: (string | number)[]): string =>
  [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 6, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF', ''].join('\n'); // prettier-ignore
const point = (layer: string, x: number, y: number, z: number) => [0, 'POINT', 8, layer, 10, x, 20, y, 30, z];
const line = [0, 'LINE', 8, 'KERB', 10, 1000, 20, 2000, 30, 5, 11, 1010, 21, 2010, 31, 5];

test('points of a drawing and of GeoJSON are imported as the command line reads them', async ({ page }) => {
  await beginProject(page, 'From other programs');
  await drop(page, 'site.dxf', dxf([...point('TR', 1000, 2000, 5), ...point('GR', 1010, 2000, 5.5), ...point('GR', 1010, 2010, 6), ...line])); // prettier-ignore
  const intake = page.getByLabel('intake');
  await intake.getByRole('checkbox', { name: 'KERB', exact: true }).uncheck();
  await takeIn(page, /Import 3 points$/, 1);
  const geo = JSON.stringify({ type: 'FeatureCollection', system: 'local, metres: east, north, elevation', features: [{ type: 'Feature', geometry: { type: 'Point', coordinates: [1005, 2005, 5.2] }, properties: { number: 'G1', description: 'GR' } }] }); // prettier-ignore
  await drop(page, 'more.geojson', geo);
  await takeIn(page, /Import 1 point/, 2);
  await go(page, 'book');
  await expect(page.getByLabel('ledger: Book')).toContainText('G1');
  // Of a drawing without points its lines come in: coded points, by layer.
  await drop(page, 'lines.dxf', dxf([...line.slice(0, 3), 'KT', ...line.slice(4)]));
  await expect(intake.getByLabel('what the drawing is')).toHaveValue('alone');
  await takeIn(page, 'Import 1 line', 3);
  await go(page, 'lines');
  await expect(page.getByLabel('ledger: Lines')).toContainText('KT1');
});

test('a designer’s drawing is looked into, ticked, and becomes breaklines of a surface', async ({ page }) => {
  await beginProject(page, 'From the designer');
  const tables = [0, 'SECTION', 2, 'TABLES', 0, 'TABLE', 2, 'LAYER', 0, 'LAYER', 2, 'OLD', 70, 1, 62, 7, 0, 'ENDTAB', 0, 'ENDSEC']; // prettier-ignore
  const blocks = [0, 'SECTION', 2, 'BLOCKS', 0, 'BLOCK', 2, 'TREE', 70, 0, 10, 0, 20, 0, 0, 'CIRCLE', 8, 0, 10, 0, 20, 0, 40, 2, 0, 'ENDBLK', 0, 'ENDSEC']; // prettier-ignore
  const kerb = (n: number, layer = 'KERB') => [0, 'LINE', 8, layer, 10, 1000, 20, 2000 + n, 30, 5, 11, 1010, 21, 2010 + n, 31, 5.5]; // prettier-ignore
  const tree = (x: number) => [0, 'INSERT', 8, 'GARDEN', 2, 'TREE', 10, x, 20, 2020];
  const drawing = dxf([...kerb(0), ...kerb(4), ...kerb(8, 'OLD'), ...tree(1001), ...tree(1009), 0, 'LEADER', 8, 'NOTES', 10, 0, 20, 0]).replace('0\nSECTION\n2\nENTITIES', `${[...tables, ...blocks].join('\n')}\n0\nSECTION\n2\nENTITIES`); // prettier-ignore
  await drop(page, 'design.dxf', drawing);
  const intake = page.getByLabel('intake');
  const rows = intake.getByRole('table', { name: 'layers of the drawing by kind' }).getByRole('row');
  // Nothing of a layer that its maker does not see; what is not read cannot be ticked.
  await expect(rows.filter({ hasText: 'OLD' })).toContainText('layer hidden');
  await expect(intake.getByRole('checkbox', { name: 'OLD' })).not.toBeChecked();
  await expect(rows.filter({ hasText: 'NOTES' })).toContainText('is not read');
  await expect(intake.getByRole('checkbox', { name: 'NOTES' })).toHaveCount(0);
  // The kerbs become breaklines of a surface of their own, the trees points, in one go.
  await intake.getByLabel('KERB, lines: as').selectOption('breaklines');
  await intake.getByRole('checkbox', { name: 'GARDEN', exact: true }).check();
  await expect(intake.getByLabel('surface of the drawing')).toHaveValue('new');
  await intake.getByLabel('name of the surface').fill('Kerbs as designed');
  await expect(intake.getByRole('checkbox', { name: /add the code KERB/ })).toBeChecked();
  await takeIn(page, 'Import 2 points and 2 lines', 1);
  await go(page, 'book');
  await expect(page.getByLabel('ledger: Book')).toContainText('TREE');
  await go(page, 'lines');
  await expect(page.getByLabel('ledger: Lines')).toContainText('KERB');
  await go(page, 'ground');
  const ledger = page.getByLabel('ledger: Ground');
  await ledger.getByText('Kerbs as designed').first().click();
  await expect(ledger.getByLabel('recipe of Kerbs as designed')).toContainText('lines KERB as breaklines');
  await expect(ledger.getByLabel('recipe of Kerbs as designed')).toContainText('2 lines');
  // Its next issue is ticked as this one was, and nothing ticked is nothing imported.
  await drop(page, 'design-b.dxf', drawing.replace('2004', '2003'));
  await expect(intake).toContainText('Ticked as for design.dxf');
  await expect(intake.getByLabel('KERB, lines: as')).toHaveValue('breaklines');
  await intake.getByRole('button', { name: 'Compare with design.dxf' }).click();
  await expect(intake.getByLabel('compared with design.dxf')).toContainText('1 changed; 4 unchanged');
  await expect(intake.getByRole('table', { name: 'differences between the two drawings' })).toContainText('course');
  // In the place of the one before: what uses that is said, and follows.
  await expect(intake).toContainText('These would follow: surface Kerbs as designed.');
  await intake.getByRole('button', { name: 'Put it in the place of design.dxf …' }).click();
  await expect(page.getByLabel('preview of a change')).toContainText('Put design-b.dxf in the place of design.dxf: 5 vertices and points as they were, 1 new, 1 no longer there'); // prettier-ignore
  await page.getByRole('button', { name: /^Cancel Esc/ }).click();
  await intake.getByRole('button', { name: 'Tick none' }).click();
  await expect(intake.getByRole('alert')).toContainText('Tick what is wanted');
  // And what its blocks draw: circles.
  await intake.getByRole('checkbox', { name: 'with what its 2 blocks draw' }).check();
  await expect(rows.filter({ hasText: 'circles' })).toContainText('GARDEN');
});

test('an elevation grid becomes a surface, its nodes as close as somebody wants them', async ({ page }) => {
  await beginProject(page, 'From the air');
  const rows = Array.from({ length: 40 }, (_, r) => Array.from({ length: 60 }, (_, c) => (r < 3 && c < 3 ? -9999 : 60 + ((r + c) % 10) / 10)).join(' ')); // prettier-ignore
  await drop(page, 'valley_dtm.asc', `ncols 60\nnrows 40\nxllcorner 1000\nyllcorner 2000\ncellsize 2\nnodata_value -9999\n${rows.join('\n')}\n`); // prettier-ignore
  const intake = page.getByLabel('intake');
  await expect(intake).toContainText(
    '2 391 ground points without numbers, elevations in the unit of the plan; 9 nodes have no elevation',
  );
  await intake.getByLabel('nodes of the grid that are taken').selectOption('2');
  await expect(intake).toContainText('every 2nd node, 4.00 m apart');
  await takeIn(page, 'Import 596 points', 1);
  await go(page, 'ground');
  const ledger = page.getByLabel('ledger: Ground');
  await expect(ledger.getByRole('row').filter({ hasText: 'valley dtm' })).toContainText('596');
});

test('a ready-made surface of LandXML is imported as received, and is there to be compared', async ({ page }) => {
  await beginProject(page, 'A design came');
  const vertices = [[0, 0, 10], [0, 20, 10], [6, 22, 12], [6, 2, 12]].map((v, i) => `<P id="${i + 1}">${v.join(' ')}</P>`); // prettier-ignore
  const xml = `<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Metric linearUnit="meter"/></Units><Surfaces><Surface name="Proposed pad"><Definition surfType="TIN"><Pnts>${vertices.join('')}</Pnts><Faces><F>1 2 3</F><F>1 3 4</F></Faces></Definition></Surface></Surfaces></LandXML>`;
  await drop(page, 'design.xml', xml);
  const intake = page.getByLabel('intake');
  await expect(intake.getByLabel('what of the file is imported')).toHaveValue('surface:Proposed pad');
  await expect(intake.getByLabel('separator')).toHaveCount(0);
  await expect(intake.getByLabel('name of the surface')).toHaveValue('Proposed pad');
  await takeIn(page, 'Import the surface', 1);
  await go(page, 'ground');
  const ledger = page.getByLabel('ledger: Ground');
  await ledger.getByText('Proposed pad').first().click();
  await expect(ledger.getByLabel('recipe of Proposed pad')).toContainText('triangles of design.xml, as received');
  await expect(ledger.getByLabel('recipe of Proposed pad')).toContainText('2 triangles');
  await expect(ledger).toContainText('120.0 m²');
});

test('a later export takes the place of a file, and what was edited stays with its points', async ({ page }) => {
  await beginProject(page, 'Exported again');
  const rows = [1, 2, 3, 4].map((i) => `${i},${1000 + 5 * i}.5,${2000 + 3 * (i % 2)}.25,5.${i},GR`);
  await drop(page, 'day1.csv', rows.join('\n'));
  await takeIn(page, /Import 4 points/, 1);
  await go(page, 'book');
  const ledger = page.getByLabel('ledger: Book');
  const state = () => page.evaluate(async (id) => (await (await fetch(`/api/projects/${id}`)).json()) as ProjectState, /\/p\/([^/?]+)/.exec(page.url())![1]); // prettier-ignore
  const { revision, document } = await state();
  const [{ id }] = document.intakes;
  await page.request.post(`/api/projects/${/\/p\/([^/?]+)/.exec(page.url())![1]}/changes`, { data: { revision, change: { op: 'points.edit', edits: { [`${id}:3`]: { set: { z: 7.777 }, undo: [] } } } } }); // prettier-ignore
  await settled(page);
  await expect(ledger).toContainText('7.777');
  // Its account stands open since it was imported.
  // The device wrote two more points before the others, and the second one is gone.
  const later = ['98,990.5,2000.25,5,GR', '99,991.5,2000.25,5,GR', rows[0], rows[2], rows[3]].join('\n');
  await page.getByLabel('a later export of day1.csv').setInputFiles({ name: 'day1-late.csv', mimeType: 'text/plain', buffer: Buffer.from(later) }); // prettier-ignore
  // What the later export lacks is asked about: here it goes.
  const gone = page.getByRole('group', { name: 'records that are only in day1.csv' });
  await expect(gone).toContainText('One record is only in day1.csv');
  await expect(gone.getByRole('checkbox')).not.toBeChecked();
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await expect(page.getByTestId('sheet').getByText('3 records found again, 2 new, 1 no longer there; 1 manual edit follows')).toBeVisible(); // prettier-ignore
  await page.getByRole('button', { name: /^Apply/ }).click();
  await settled(page);
  await expect(ledger.getByText('day1-late.csv').first()).toBeVisible();
  await expect(ledger).toContainText('7.777');
  expect((await state()).document.edits[id]).toEqual({ 4: expect.objectContaining({ z: 7.777 }) as object });
  await page.keyboard.press('Control+z');
  await expect
    .poll(async () => (await state()).document)
    .toEqual({ ...document, edits: { [id]: { 3: { z: 7.777 } } } });
});

test('points leave as a spreadsheet that reads back as it was meant', async ({ page }) => {
  await beginProject(page, 'Points for a spreadsheet');
  await drop(
    page,
    'day1.csv',
    'Number,East [m],North [m],Elevation [m],Code\n007,1005.5,2003.25,5.1,GR\n8,1010.5,2000.25,5.2,=GR\n',
  );
  await takeIn(page, /Import 2 points/, 1);
  await go(page, 'book');
  await page.getByRole('navigation', { name: 'leaves of book' }).getByRole('link', { name: 'Export points' }).click();
  await page.getByLabel('written as').selectOption('sheet');
  await expect(page.getByLabel('first rows')).toContainText('1005.500');
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Write the file' }).click();
  const file = await saved;
  expect(file.suggestedFilename()).toMatch(/^Points-for-a-spreadsheet-points-r\d+\.xlsx$/);
  const read = readSpreadsheet(new Uint8Array(readFileSync(await file.path())));
  expect(read).toMatchObject({ ok: true, sheet: 'Points' });
  const rows = (read as { text: string }).text.split('\n').map((l) => l.split('\t'));
  expect(rows.slice(1)).toEqual([['007', '1005.5', '2003.25', '5.1', 'GR'], ['8', '1010.5', '2000.25', '5.2', '=GR']]); // prettier-ignore
});

test('lines of a drawing are tied to the points that they pass through, and follow them', async ({ page }) => {
  await beginProject(page, 'Drawn over a survey');
  await drop(page, 'day1.csv', '1,1000,2000,5.1,GR\n2,1010,2000,5.2,GR\n3,1010,2008,5.3,GR\n4,1030,2000,6,GR');
  await takeIn(page, /Import 4 points/, 1);
  const plan = [0, 'LWPOLYLINE', 8, 'KT', 90, 3, 70, 0, 10, 1000.01, 20, 2000, 10, 1010, 20, 2000.02, 10, 1010, 20, 2008.5]; // prettier-ignore
  await drop(page, 'old-plan.dxf', dxf(plan));
  await takeIn(page, 'Import 1 line', 2);
  await go(page, 'lines');
  await page.getByRole('button', { name: 'Tie to points' }).click();
  const panel = page.getByLabel('tie to points');
  await expect(panel).toContainText('2 of 3 loose vertices lie on a point; farthest 0.020 m. 1 to look at:');
  await expect(panel.getByRole('table', { name: 'vertices to look at' })).toContainText('no point within reach');
  await panel.getByRole('button', { name: 'Show' }).click();
  await expect(page.getByLabel('preview of a change')).toContainText('Tie 2 vertices of line KT1 to points');
  await page.getByRole('button', { name: /^Apply/ }).click();
  await settled(page);
  await page.getByLabel('ledger: Lines').getByText('KT1').click();
  const card = page.getByLabel('selected line');
  await expect(card).toContainText(/vertices tied to points\s*2 of 3/);
  await expect(card).toContainText(/10\.00.*18\.50/s);
  // The point moves, and the line with it: 12 m to it now, and 8.73 m from it.
  const project = /\/p\/([^/?]+)/.exec(page.url())![1];
  const { revision, document } = (await (await page.request.get(`/api/projects/${project}`)).json()) as ProjectState;
  await page.request.post(`/api/projects/${project}/changes`, { data: { revision, change: { op: 'points.edit', edits: { [`${document.intakes[0].id}:2`]: { set: { x: 1012 }, undo: [] } } } } }); // prettier-ignore
  await expect(card).toContainText(/12\.00.*20\.73/s);
  await card.getByRole('button', { name: 'Redraw as received' }).click();
  await page.getByRole('button', { name: /^Apply/ }).click();
  await settled(page);
  await expect(card).not.toContainText('vertices tied to points');
});

test('our drawing goes out, is edited by another program, and comes back as changes', async ({ page }, info) => {
  await beginProject(page, 'There and back');
  await drop(page, 'day1.csv', '1,1000,2000,5.1,KT1 BEG\n2,1010,2000,5.2,KT1\n3,1020,2004,5.3,KT1 END\n4,1000,2020,6,FN1 BEG\n5,1025,2021,6.2,FN1 END\n6,1040,2000,7,TR'); // prettier-ignore
  await takeIn(page, /Import 6 points/, 1);
  const project = `/api/projects/${/\/p\/([^/?]+)/.exec(page.url())![1]}`;
  const state = async () => (await (await page.request.get(project)).json()) as ProjectState;
  const { revision, document } = await state();
  const [{ id }] = document.intakes;
  const parts = { points: true, lines: true, contours: false, surface: false, symbols: true, labels: true };
  const spec = { name: 'For the draughter', unit: 'm', files: [{ kind: 'dxf', version: '2000', decimals: 3, parts, textHeight: 0 }] }; // prettier-ignore
  const made = (await (await page.request.post(`${project}/packages`, { data: { revision, spec } })).json()) as { id: string }; // prettier-ignore
  const zip = unzipSync(new Uint8Array(await (await page.request.get(`${project}/packages/${made.id}`)).body()));
  const [sent, back] = ['sent.dxf', 'back.dxf'].map((name) => info.outputPath(name));
  writeFileSync(sent, zip[Object.keys(zip).find((n) => n.endsWith('.dxf'))!]);
  const operations = [['move', [`point 0 ${id}:2`], 0.5, -0.25], ['vertex', 'line 0 KT1', 1, 0.5, -0.25], ['vertex', 'plan 0 KT1', 1, 0.5, -0.25], ['delete', ['line 0 FN1', 'plan 0 FN1']], ['move', [`point 0 ${id}:6`], 0, 0, 0.4], ['point', 'TREES', [1050, 2010, 7.5]]]; // prettier-ignore
  execFileSync('/usr/bin/python3', ['core/test/exchange/outside/edit_returned.py', sent, back], { input: JSON.stringify(operations) }); // prettier-ignore
  await drop(page, 'back.dxf', readFileSync(back));
  const panel = page.getByLabel('drawing that came back');
  await expect(panel.getByLabel('what it is compared with')).toContainText('For the draughter');
  await expect(panel).toContainText('3 things differ, 1 new point');
  const rows = panel.getByRole('table', { name: 'what came back otherwise' });
  await expect(rows).toContainText(/point 2\s*moved 0\.559 m/);
  await expect(rows).toContainText('Its attribute says 7.000 m, its place 7.400 m.');
  // What is in doubt is not taken unasked.
  await expect(panel.getByRole('checkbox', { name: 'take 6, elevation' })).not.toBeChecked();
  await panel.getByRole('button', { name: 'Show 2 changes' }).click();
  await expect(page.getByLabel('preview of a change')).toContainText('Take 2 changes of back.dxf');
  await page.getByRole('button', { name: /^Apply/ }).click();
  await settled(page);
  // What was taken is so here now; the rest is still there to be taken.
  await expect(panel).toContainText('1 thing differs, 1 new point');
  expect((await state()).document.edits[id]).toEqual({ 2: { x: 1010.5, y: 1999.75 } });
  await panel.getByRole('button', { name: 'Import 1 new point …' }).click();
  await takeIn(page, 'Import 1 point', 2);
  await go(page, 'lines');
  await expect(page.getByLabel('ledger: Lines')).not.toContainText('FN1');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await state()).document).toEqual(document);
});

test('a zip that holds a large file is unpacked', async ({ page }) => {
  await beginProject(page, 'Large delivery');
  const rows = Array.from({ length: 40_000 }, (_, i) => `${i + 1},${1000 + ((i * 7919) % 99991) / 7},${2000 + ((i * 104729) % 99989) / 7},${5 + (i % 977) / 13},GR`); // prettier-ignore
  const zip = zipSync({ 'day1.csv': new TextEncoder().encode(rows.join('\n')), 'day2.csv': new TextEncoder().encode('A1,1000,2000,5,GR') }); // prettier-ignore
  await page.getByTestId('file').setInputFiles({ name: 'week.zip', mimeType: 'application/zip', buffer: Buffer.from(zip) }); // prettier-ignore
  await expect(page.getByRole('table', { name: 'files of the delivery' })).toContainText('day1.csv', { timeout: 60_000 }); // prettier-ignore
});

test('a zipped Shapefile is looked into and imported as a drawing', async ({ page }, info) => {
  await beginProject(page, 'From a land register');
  const lots = [[[1000, 2000], [1000, 2020], [1030, 2020], [1030, 2000], [1000, 2000]]]; // prettier-ignore
  const [json, shp] = ['lots.geojson', 'lots.shp'].map((name) => info.outputPath(name));
  writeFileSync(json, JSON.stringify({ type: 'FeatureCollection', features: [{ type: 'Feature', geometry: { type: 'Polygon', coordinates: lots }, properties: { LAYER: 'LOT' } }] })); // prettier-ignore
  execFileSync('ogr2ogr', ['-f', 'ESRI Shapefile', shp, json, '-a_srs', 'LOCAL_CS["site",UNIT["metre",1]]'], { stdio: 'pipe' }); // prettier-ignore
  const zip = zipSync(Object.fromEntries(['shp', 'dbf', 'shx', 'prj'].map((e) => [`lots.${e}`, new Uint8Array(readFileSync(shp.replace(/shp$/, e)))]))); // prettier-ignore
  await page.getByTestId('file').setInputFiles({ name: 'lots.zip', mimeType: 'application/zip', buffer: Buffer.from(zip) }); // prettier-ignore
  const row = page.getByRole('table', { name: 'files of the delivery' }).getByRole('row', { name: /lots\.shp/ });
  await row.getByRole('button', { name: /look at .*lots\.shp by itself/ }).click();
  const intake = page.getByLabel('intake');
  await expect(intake.getByRole('table', { name: 'layers of the drawing by kind' })).toContainText('LOT');
  await takeIn(page, 'Import 1 line', 1);
  await go(page, 'lines');
  await expect(page.getByLabel('ledger: Lines')).toContainText('LOT1');
});
