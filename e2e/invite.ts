import { expect, type Browser, type Page } from '@playwright/test';

/** Somebody else in a browser of their own, who takes an invitation and makes an account for it. */
export async function invite(owner: Page, browser: Browser, role: string, name: string): Promise<Page> {
  await owner.getByLabel('role of the invited').selectOption(role);
  await owner.getByRole('button', { name: 'Create a link' }).click();
  const link = await owner.getByLabel('link of the invitation').inputValue();
  await owner.getByLabel('close the link').click();
  const other = await (await browser.newContext()).newPage();
  await other.goto(link);
  await expect(other.getByText(`invites you into the project`)).toBeVisible();
  await other.getByRole('button', { name: 'Create an account' }).click();
  await other.getByLabel('name', { exact: true }).fill(name);
  await other.getByLabel('e-mail').fill(`${name.toLowerCase().replace(' ', '.')}.${Date.now()}@ostrel.example`);
  await other.getByLabel(/^password/).fill('a long enough word');
  await other.getByRole('button', { name: 'Create the account' }).click();
  await other.getByRole('button', { name: `Join as ${name}` }).click();
  return other;
}
