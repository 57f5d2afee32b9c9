import { expect, test, type Browser, type Page } from '@playwright/test';
import { ADMINISTRATOR } from './administrator.ts';
import { drop, takeIn } from './steps.ts';

// Who runs the server, who is kept out, who goes.

const visitor = async (browser: Browser, path = '/'): Promise<Page> => {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(path);
  return page;
};
async function register(page: Page, name: string, email: string): Promise<void> {
  await page.getByRole('button', { name: 'Create an account' }).click();
  await page.getByLabel('name', { exact: true }).fill(name);
  await page.getByLabel('e-mail').fill(email);
  await page.getByLabel(/^password/).fill('four plain words here');
  await page.getByRole('button', { name: 'Create the account' }).click();
  await expect(page.getByRole('heading', { name: 'Projects' })).toBeVisible();
}
async function signIn(page: Page, email: string, password: string): Promise<void> {
  await page.goto('/');
  await page.getByLabel('e-mail').fill(email);
  await page.getByLabel('password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
}

test('an administrator locks an account, gives a new password by a link, and sees it in the log', async ({
  browser,
}) => {
  const email = `tove.brandt.${Date.now()}@ostrel.example`;
  const tove = await visitor(browser);
  // A password is judged while it is typed.
  await tove.getByRole('button', { name: 'Create an account' }).click();
  await tove.getByLabel('e-mail').fill(email);
  const typed = tove.getByLabel(/^password/);
  await typed.fill('password');
  await expect(tove.getByText('8 of 12 characters')).toBeVisible();
  await typed.fill('password1234');
  await expect(tove.getByText('like those that are tried first')).toBeVisible();
  await typed.fill('four plain words here');
  await expect(tove.getByText('very good')).toBeVisible();
  await tove.reload();
  await register(tove, 'Tamsa Brindle', email);

  const runa = await visitor(browser);
  await signIn(runa, ADMINISTRATOR.email, ADMINISTRATOR.password);
  await runa.getByRole('button', { name: 'account of Rima Hollin' }).click();
  await runa.getByRole('button', { name: 'Administration' }).click();
  await runa.getByLabel('find an account').fill(email);
  await runa.getByRole('button', { name: 'manage Tamsa Brindle' }).click();
  await runa.getByRole('button', { name: 'Lock the account' }).click();
  await expect(runa.getByRole('table', { name: 'accounts' })).toContainText('locked');
  await tove.reload();
  await signIn(tove, email, 'four plain words here');
  await expect(tove.getByRole('alert')).toContainText('This account is locked');
  await runa.getByRole('button', { name: 'Unlock the account' }).click();
  await runa.getByRole('button', { name: 'Create a link for a new password' }).click();
  const link = await runa.getByLabel('link for a new password').inputValue();

  await tove.goto(link);
  await tove.getByLabel(/new password for Tamsa Brindle/).fill('quite another four words');
  await tove.getByRole('button', { name: 'Set the password' }).click();
  await tove.getByRole('button', { name: 'Sign in' }).click();
  await signIn(tove, email, 'quite another four words');
  await expect(tove.getByRole('heading', { name: 'Projects' })).toBeVisible();
  await tove.goto(link);
  await expect(tove.getByRole('alert')).toContainText('Ask your administrator for another link');

  await runa.getByLabel('find in the log').fill(email);
  const log = runa.getByRole('table', { name: 'sign-ins, refusals and roles' });
  await expect(log).toContainText('account locked');
  await expect(log).toContainText('password reset begun');
  // To others the room does not exist.
  await tove.goto('/admin');
  await expect(tove.getByRole('heading', { name: 'Projects' })).toBeVisible();
  for (const page of [tove, runa]) await page.context().close();
});

test('an account exports its data and goes, with what nobody else is in; an archive is seen at once', async ({
  browser,
}) => {
  const email = `ole.strand.${Date.now()}@ostrel.example`;
  const ole = await visitor(browser);
  await register(ole, 'Olu Sandow', email);
  await ole.getByLabel('name of a new project').fill('Alone in it');
  await ole.getByRole('button', { name: 'Create' }).click();
  await drop(ole, 'points.csv', '1,100,200,10,GR\n2,110,200,11,GR\n3,100,210,12,GR');
  await takeIn(ole, 'Import 3 points', 1);
  // Archived in another window.
  const id = /\/p\/([^/?]+)/.exec(ole.url())![1];
  const patch = (archived: boolean): Promise<number> =>
    ole.evaluate(async ([project, on]) => (await fetch(`/api/projects/${project}`, { method: 'PATCH', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ archived: on }) })).status, [id, archived] as const); // prettier-ignore
  expect(await patch(true)).toBe(204);
  await expect(ole.getByText('This project is archived')).toBeVisible();
  expect(await patch(false)).toBe(204);
  await expect(ole.getByText('This project is archived')).toBeHidden();

  await ole.goto('/account');
  const download = ole.waitForEvent('download');
  await ole.getByRole('link', { name: 'Export your data' }).click();
  expect((await download).suggestedFilename()).toBe('dunrik-account.json');
  await ole.getByRole('button', { name: 'Delete the account …' }).click();
  await ole.getByLabel('your password').fill('four plain words here');
  await ole.getByRole('button', { name: 'Delete the account' }).click();
  await expect(ole.getByRole('alert')).toContainText('Nobody else is in “Alone in it”');
  await ole.getByLabel(/delete the projects/).check();
  await ole.getByRole('button', { name: 'Delete the account' }).click();
  await expect(ole.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await signIn(ole, email, 'four plain words here');
  await expect(ole.getByRole('alert')).toContainText('is wrong');
  await ole.context().close();
});
