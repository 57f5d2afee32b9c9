import { expect, test } from '@playwright/test';
import { invite } from './invite.ts';
import { bandOf, beginProject, drop, go, leafOf, ledger, settled, takeIn } from './steps.ts';

const CONTROL = 'Number,East [m],North [m],Elevation [m]\nA,100,200,10\nB,150,260,11\nC,190,205,12\n';

test('a checker comes in by a link, marks a revision, and sees what the mark no longer covers', async ({
  page,
  browser,
}) => {
  await beginProject(page, 'Checked twice');
  await drop(page, 'control.csv', CONTROL);
  await takeIn(page, 'Import 3 points', 1);
  await go(page, 'basis');
  await leafOf(page, 'people');
  // One's own work is not one's own to check.
  await page.getByRole('button', { name: /^Mark revision 1/ }).click();
  await expect(
    page.getByText('Revision 1 holds changes of your own (1). Somebody else has to check them.'),
  ).toBeVisible();

  const checker = await invite(page, browser, 'checker', 'Mae Lanner');
  await settled(checker);
  await expect(page.getByText('Mae Lanner, at Book')).toBeVisible();
  await go(checker, 'basis');
  await expect(checker.getByLabel('unit', { exact: true })).toBeDisabled();
  await leafOf(checker, 'people');
  await checker.getByLabel('what was checked').fill('control against the sheet');
  await checker.getByRole('button', { name: 'Mark revision 1 as checked' }).click();
  await expect(ledger(checker)).toContainText('marked as checked by Mae Lanner');
  await expect(page.getByText('✓ checked')).toBeVisible();

  // A later change is named as not covered, on both pages.
  await leafOf(page, 'meaning');
  await page.getByLabel('decimals', { exact: true }).selectOption('2');
  await settled(page);
  await expect(page.getByText('checked to 1')).toBeVisible();
  await expect(ledger(checker)).toContainText('One change since is not covered:');
  await expect(ledger(checker)).toContainText('Ina Quillow set the decimals');
  await checker.getByRole('button', { name: 'Mark revision 2 as checked' }).click();
  await expect(ledger(checker)).toContainText('Nothing has changed since.');
  await checker.context().close();
});

test('the crew sees the packages made for it and nothing else; a link serves once', async ({ page, browser }) => {
  await beginProject(page, 'For the crew');
  await drop(page, 'control.csv', CONTROL);
  await takeIn(page, 'Import 3 points', 1);
  await go(page, 'handover');
  await page.getByRole('button', { name: 'Create the package' }).click();
  await expect(page.getByText(/read back, off by at most/).first()).toBeVisible({ timeout: 60_000 });
  await go(page, 'basis');
  await leafOf(page, 'people');
  // Whoever is in already does not use a link up, and is told.
  await page.getByLabel('role of the invited').selectOption('crew');
  await page.getByRole('button', { name: 'Create a link' }).click();
  const own = await page.getByLabel('link of the invitation').inputValue();
  const here = page.url();
  await page.goto(own);
  await page.getByRole('button', { name: /^Join as/ }).click();
  await expect(page.getByRole('status')).toContainText('You are in this project already');
  await page.goto(here);
  await settled(page);
  const crew = await invite(page, browser, 'crew', 'Olu Brindle');
  await expect(crew.getByRole('heading', { name: 'For the crew' })).toBeVisible();
  const download = crew.waitForEvent('download');
  await crew.getByRole('link', { name: 'Download' }).click();
  expect((await download).suggestedFilename()).toMatch(/^For-the-crew-Design-office-.*\.zip$/);
  // The project behind it stays closed, whatever address is typed.
  const project = /crew\/([^/]+)/.exec(crew.url())![1];
  await crew.goto(`/p/${project}/book`);
  await expect(crew.getByRole('alert')).toContainText('As crew you see the packages that were made for you');
  const session = await crew.request.get(`/api/projects/${project}`);
  expect(session.status()).toBe(403);
  await crew.context().close();
});

test('sessions are seen and ended, and a project is found among many', async ({ page, browser }) => {
  await beginProject(page, 'Needle in the hay');
  await page.goto('/');
  await page.getByLabel('find a project').fill('hay needle');
  await expect(page.getByRole('row')).toHaveCount(2);
  await page.getByLabel('find a project').fill('no such thing');
  await expect(page.getByText('No project has “no such thing”')).toBeVisible();

  const other = await (await browser.newContext()).newPage();
  await other.goto('/');
  await other.getByRole('button', { name: 'Open the demo project' }).click();
  await expect(other.getByRole('heading', { name: 'Projects' })).toBeVisible();
  await page.goto('/account');
  await expect(page.getByText('this one')).toBeVisible();
  // Ends every other session of this account; the page in it is signed out at its next step.
  const end = page.getByRole('button', { name: 'End', exact: true });
  for (let left = await end.count(); left > 0; left--) {
    await end.first().click();
    await expect(end).toHaveCount(left - 1);
  }
  await other.goto('/');
  await expect(other.getByRole('button', { name: 'Open the demo project' })).toBeVisible();
  expect(await bandOf(page, 'basis').count()).toBe(0);
  await other.context().close();
});

test('start settings of the team are what the next project begins with', async ({ page }) => {
  await beginProject(page, 'Before');
  await page.goto('/teams');
  await page.getByRole('button', { name: 'View and edit' }).first().click();
  await page.getByLabel('angle form').selectOption('gon');
  await expect(page.getByText('137.5000 gon')).toBeVisible();
  await page.goto('/');
  await page.getByLabel('name of a new project').fill('After');
  await page.getByRole('button', { name: 'Create' }).click();
  await settled(page);
  await go(page, 'basis');
  await expect(page.getByLabel('angle form')).toHaveValue('gon');
  await page.goto('/teams');
  await page.getByRole('button', { name: 'View and edit' }).first().click();
  await page.getByLabel('angle form').selectOption('dms');
  await expect(page.getByText('123°45′00″')).toBeVisible();
});
