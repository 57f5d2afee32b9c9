import { expect, test } from '@playwright/test';
import { beginProject, drop, go, takeIn } from './steps.ts';

const dxf = (entities: (string | number)[]): string =>
  [0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 6, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF', ''].join('\n'); // prettier-ignore
const point = (layer: string, x: number, y: number, z: number) => [0, 'POINT', 8, layer, 10, x, 20, y, 30, z];
const line = [0, 'LINE', 8, 'KERB', 10, 1000, 20, 2000, 30, 5, 11, 1010, 21, 2010, 31, 5];

test('points of a drawing and of GeoJSON are imported as the command line reads them', async ({ page }) => {
  await beginProject(page, 'From other programs');
  await drop(page, 'site.dxf', dxf([...point('TR', 1000, 2000, 5), ...point('GR', 1010, 2000, 5.5), ...point('GR', 1010, 2010, 6), ...line])); // prettier-ignore
  const intake = page.getByLabel('intake');
  await expect(intake.getByText('it also holds 1 line')).toBeVisible();
  await takeIn(page, /Take in 3 points/, 1);
  const geo = JSON.stringify({ type: 'FeatureCollection', system: 'local, metres: east, north, elevation', features: [{ type: 'Feature', geometry: { type: 'Point', coordinates: [1005, 2005, 5.2] }, properties: { number: 'G1', description: 'GR' } }] }); // prettier-ignore
  await drop(page, 'more.geojson', geo);
  await takeIn(page, /Take in 1 point/, 2);
  await go(page, 'book');
  await expect(page.getByLabel('ledger: Book')).toContainText('G1');
  await drop(page, 'lines.dxf', dxf(line));
  await expect(intake.getByRole('alert')).toContainText('This drawing holds no points (POINT). It holds 1 line');
});
