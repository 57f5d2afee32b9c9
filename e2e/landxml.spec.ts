import { expect, test } from '@playwright/test';
import { beginProject, drop, go, takeIn } from './steps.ts';

const tin = (name: string, z: number): string =>
  `<Surface name="${name}"><Definition surfType="TIN"><Pnts><P id="1">1100 3100 ${z}</P><P id="2">1100 3190 ${z + 1}</P><P id="3">1190 3100 ${z + 2}</P></Pnts><Faces><F>1 2 3</F></Faces></Definition></Surface>`;
const ROAD = `<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Metric linearUnit="meter"/></Units>
<Alignments><Alignment name="Haven road" staStart="1000"><CoordGeom><Line><Start>1100 3100</Start><End>1100 3200</End></Line><Curve rot="ccw"><Start>1100 3200</Start><Center>1200 3200</Center><End>1200 3300</End></Curve></CoordGeom>
<Profile name="P"><ProfAlign name="design"><PVI>1000 50</PVI><ParaCurve length="80">1100 54</ParaCurve><PVI>1250 52</PVI></ProfAlign></Profile></Alignment></Alignments>
<PipeNetworks><PipeNetwork name="Storm"><Structs><Struct name="M1" elevRim="62" elevSump="59"><Center>1110 3100</Center></Struct><Struct name="M2" elevRim="61"><Center>1110 3140</Center></Struct></Structs><Pipes><Pipe name="P1" refStart="M1" refEnd="M2"/></Pipes></PipeNetwork></PipeNetworks>
<Surfaces>${tin('Formation', 51)}${tin('Subgrade', 50)}</Surfaces></LandXML>`;

test('a road of LandXML: its alignment in space, its chambers and all its surfaces', async ({ page }) => {
  await beginProject(page, 'A road came');
  await drop(page, 'road.xml', ROAD);
  const intake = page.getByLabel('intake');
  const rows = intake.getByRole('table', { name: 'layers of the drawing by kind' }).getByRole('row');
  await expect(rows.filter({ hasText: '1 alignment in space' })).toContainText('50.00 to 53.60');
  await expect(rows.filter({ hasText: '2 chambers' })).toContainText('61.00 to 62.00');
  await intake.getByRole('checkbox', { name: 'Haven road', exact: true }).uncheck();
  await intake.getByLabel('Haven road design, alignments in space: as').selectOption('breaklines');
  await takeIn(page, 'Import 2 points and 2 lines', 1);
  await go(page, 'book');
  await expect(page.getByLabel('ledger: Book')).toContainText('M1');
  await go(page, 'lines');
  await expect(page.getByLabel('ledger: Lines')).toContainText('HAVEN_ROAD_DESIG');
  // Its surfaces come as they are, each as one of its own, in one go.
  await drop(page, 'road.xml', ROAD);
  await intake.getByLabel('what of the file is imported').selectOption('surface:Formation');
  await intake.getByRole('checkbox', { name: 'Subgrade', exact: true }).check();
  await takeIn(page, 'Import 2 surfaces', 3);
  await go(page, 'ground');
  const surfaces = page.getByLabel('ledger: Ground').getByRole('table').first();
  await expect(surfaces.getByRole('row').filter({ hasText: 'Formation' })).toContainText('design');
  await expect(surfaces.getByRole('row').filter({ hasText: 'Subgrade' })).toContainText('design');
});

test('what a surface was made of is there to be ticked, where the surface itself is proposed', async ({ page }) => {
  await beginProject(page, 'A surface came');
  const source = '<SourceData><Breaklines><Breakline name="EDGE1"><PntList3D>1100 3100 51 1100 3190 52</PntList3D></Breakline></Breaklines></SourceData>'; // prettier-ignore
  await drop(page, 'ground.xml', `<LandXML><Units><Metric linearUnit="meter"/></Units><Surfaces>${tin('Formation', 51).replace('<Definition', `${source}<Definition`)}</Surfaces></LandXML>`); // prettier-ignore
  const intake = page.getByLabel('intake');
  const what = intake.getByLabel('what of the file is imported');
  await expect(what).toHaveValue('surface:Formation');
  await what.selectOption('ticked');
  await expect(intake.getByRole('alert')).toContainText('Tick what is wanted');
  await intake.getByRole('checkbox', { name: 'EDGE', exact: true }).check();
  await expect(intake.getByLabel('EDGE, breaklines: as')).toHaveValue('breaklines');
  // The code list draws ED on that layer.
  await expect(intake.getByLabel('EDGE, breaklines: code')).toHaveValue('ED');
  await takeIn(page, 'Import 1 line', 1);
  await go(page, 'ground');
  const ledger = page.getByLabel('ledger: Ground');
  await ledger.getByText('Formation').first().click();
  await expect(ledger.getByLabel('recipe of Formation')).toContainText('lines ED as breaklines');
});
