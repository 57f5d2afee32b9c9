import { expect, type Page } from '@playwright/test';

/** Enters the demo by its button. */
export async function enterDemo(page: Page): Promise<void> {
  await page.goto('/');
  await page.getByRole('button', { name: 'Open the demo project' }).click();
  await expect(page.getByRole('heading', { name: 'Projects' })).toBeVisible();
}

export async function openDemo(page: Page, stage = 'book'): Promise<void> {
  await enterDemo(page);
  await page.getByRole('link', { name: 'Ostrel Landing' }).click();
  await settled(page);
  if (stage !== 'book') await go(page, stage);
}

export async function openTarn(page: Page, leaf = 'meaning'): Promise<void> {
  await enterDemo(page);
  await page.getByRole('link', { name: 'Tarn Hollow Yard' }).click();
  await settled(page);
  await go(page, 'basis');
  await leafOf(page, leaf);
}

/** A leaf of the stage by its name. */
export const leafOf = (page: Page, name: string): Promise<void> =>
  page
    .getByRole('navigation', { name: /^leaves of/ })
    .getByRole('link', { name: new RegExp(`^${name}`, 'i') })
    .click();

/** Takes in what is shown, and waits until the project has so many files. */
export async function takeIn(page: Page, button: string | RegExp, files: number): Promise<void> {
  await page.getByRole('button', { name: button }).click();
  await expect(bandOf(page, 'book')).toContainText(`${files} ${files === 1 ? 'file' : 'files'},`, { timeout: 60_000 });
  await settled(page);
}

export async function beginProject(page: Page, name: string): Promise<void> {
  await enterDemo(page);
  await page.getByLabel('name of a new project').fill(name);
  await page.getByRole('button', { name: 'Create' }).click();
  await settled(page);
}

export const settled = (page: Page): Promise<void> =>
  expect(page.getByText('settled', { exact: true })).toBeVisible({ timeout: 60_000 });

export async function go(page: Page, stage: string): Promise<void> {
  await page
    .getByRole('navigation', { name: 'stages' })
    .getByRole('link', { name: new RegExp(`^${stage}`, 'i') })
    .click();
  await expect(page.getByLabel(`ledger: ${stage[0].toUpperCase()}${stage.slice(1)}`)).toBeVisible();
}

export const ledger = (page: Page) => page.getByLabel(/^ledger:/);
export const queries = (page: Page) => page.getByLabel('queries of this stage');
export const bandOf = (page: Page, stage: string) =>
  page.getByRole('navigation', { name: 'stages' }).getByRole('link', { name: new RegExp(`^${stage}`, 'i') });

/** Chooses a file as a person does, and waits for its columns. */
export async function drop(page: Page, name: string, content: string | Buffer): Promise<void> {
  await page.getByTestId('file').setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(content) });
  await expect(page.getByLabel('intake')).toBeVisible();
}

/** What the drawing shows, once it rests: the address has it, as soon as nothing more is drawn. */
export async function view(page: Page): Promise<string> {
  let last: string | null = null;
  const rests = async (): Promise<boolean> => {
    const before = last;
    last = new URL(page.url()).searchParams.get('view') ?? '';
    return last === before;
  };
  await expect.poll(rests, { intervals: [900] }).toBe(true);
  return last ?? '';
}
