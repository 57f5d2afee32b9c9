import { expect, test, type Browser, type Page } from '@playwright/test';
import type { ProjectState } from '#contract';
import type { Change } from '#core/project';
import { invite } from './invite.ts';
import { beginProject, drop, go, leafOf, settled, takeIn } from './steps.ts';

// What one does while another changes the same project: nothing lands where it was not meant, nothing is lost.

const points = (from: number, z: number): string =>
  [0, 1, 2, 3].map((i) => `${from + i},${1000 + 5 * (i % 2)}.500,${2000 + 5 * (i >> 1)}.250,${z}.5,GR`).join('\n');
const idOf = (page: Page): string => /\/p\/([^/?]+)/.exec(page.url())![1];
const stateOf = (page: Page): Promise<ProjectState> =>
  page.evaluate(async (id) => (await (await fetch(`/api/projects/${id}`)).json()) as ProjectState, idOf(page));
/** What a page's account writes through the interface, whatever the page itself shows. */
const write = async (page: Page, id: string, change: Change): Promise<void> => {
  const { revision } = await stateOf(page);
  const status = await page.evaluate(
    async ([project, body]) =>
      (await fetch(`/api/projects/${project}/changes`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body })).status, // prettier-ignore
    [id, JSON.stringify({ revision, change })],
  );
  expect(status).toBe(201);
};
/** A colleague with an account of their own, in a browser of their own, who looks at the same project. */
async function colleague(
  page: Page,
  browser: Browser,
): Promise<{ page: Page; writes: (change: Change) => Promise<void> }> {
  await go(page, 'basis');
  await leafOf(page, 'people');
  const other = await invite(page, browser, 'surveyor', 'Mae Lanner');
  await settled(other);
  await go(page, 'book');
  return { page: other, writes: (change) => write(other, idOf(page), change) };
}
const select = async (page: Page, number: string): Promise<void> => {
  await page.getByLabel('find or do').fill(number);
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('selected point')).toContainText(`Point ${number}`);
};
async function twoFiles(page: Page, name: string): Promise<void> {
  await beginProject(page, name);
  await drop(page, 'first.csv', points(1, 10));
  await takeIn(page, 'Import 4 points', 1);
  await drop(page, 'second.csv', points(910001, 20));
  await takeIn(page, 'Import 4 points', 2);
}

test('an edit lands on the point that is shown, while a file before it was removed and nothing is computed yet', async ({
  page,
  browser,
}) => {
  await twoFiles(page, 'Right point');
  const mae = await colleague(page, browser);
  const before = await stateOf(page);
  await select(page, '910002');
  // New results are a long time coming.
  await page.route('**/results/**', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 6000));
    await route.continue().catch(() => {});
  });
  await mae.writes({ op: 'intake.remove', id: before.document.intakes[0].id });
  await expect(page.getByText('working …')).toBeVisible();
  const card = page.getByLabel('selected point');
  await expect(card).toContainText('Point 910002');
  await expect(card).toContainText('second.csv');
  await card.getByLabel('elevation m').fill('21.25');
  await page.keyboard.press('Enter');
  await page
    .getByLabel('preview of a change')
    .getByRole('button', { name: /^Apply/ })
    .click();
  await expect.poll(async () => Object.keys((await stateOf(page)).document.edits)).toHaveLength(1);
  const after = await stateOf(page);
  expect(after.document.edits).toEqual({ [before.document.intakes[1].id]: { 2: expect.objectContaining({ z: 21.25 }) as object } }); // prettier-ignore
  await page.unroute('**/results/**');
  await mae.page.context().close();
});

test('a selected point whose file goes is no longer selected, and the page stands', async ({ page, browser }) => {
  const failures: string[] = [];
  page.on('pageerror', (error) => failures.push(error.message));
  await twoFiles(page, 'White page');
  const mae = await colleague(page, browser);
  await select(page, '910003');
  const { document } = await stateOf(page);
  await mae.writes({ op: 'intake.remove', id: document.intakes[1].id });
  await expect(page.getByLabel('selected point')).toBeHidden();
  await settled(page);
  await expect(page.getByRole('grid', { name: 'points' })).toContainText('first.csv');
  // One's own import, taken back while one of its points is selected.
  await select(page, '3');
  await page.keyboard.press('Escape');
  await drop(page, 'third.csv', points(700, 30));
  await takeIn(page, 'Import 4 points', 2);
  await select(page, '702');
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('selected point')).toBeHidden();
  await settled(page);
  expect(failures).toEqual([]);
  await mae.page.context().close();
});

test('a page that fails says so and offers to reload; it never goes white', async ({ page }) => {
  await twoFiles(page, 'Never white');
  await page.evaluate(() => {
    Number.prototype.toFixed = () => {
      throw new Error('planted');
    };
  });
  // Whatever is drawn next fails; the field may be gone before it is filled.
  await page
    .getByLabel('find or do')
    .fill('2', { timeout: 5000 })
    .catch(() => {});
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert').first()).toContainText('Something went wrong');
  await expect(page.getByRole('alert').first()).toContainText('planted');
  await page.getByRole('button', { name: 'Reload the page' }).first().click();
  await expect(page.getByRole('link', { name: /^Book/ })).toBeVisible();
  await expect(page.getByRole('alert')).toBeHidden();
});

test('a preview that somebody overtakes says so, is computed anew, and overwrites nothing unseen', async ({
  page,
  browser,
}) => {
  await twoFiles(page, 'Overtaken');
  const mae = await colleague(page, browser);
  const [first] = (await stateOf(page)).document.intakes;
  await select(page, '2');
  const card = page.getByLabel('selected point');
  await card.getByLabel('elevation m').fill('11');
  await page.keyboard.press('Enter');
  const preview = page.getByLabel('preview of a change');
  await expect(preview).toContainText('elevation of 2');
  await mae.writes({ op: 'points.edit', edits: { [`${first.id}:2`]: { set: { z: 12 }, undo: [] } } });
  await settled(page);
  await preview.getByRole('button', { name: /^Apply/ }).click();
  await expect(page.getByRole('alert')).toContainText('Somebody changed the same meanwhile');
  await expect(page.getByRole('alert')).toContainText('elevation of 2 as received → 12.000 m');
  await expect(page.getByRole('alert')).toContainText('yours: elevation of 2 12.000 m → 11.000 m');
  expect((await stateOf(page)).document.edits[first.id][2].z).toBe(12);
  // The preview is still there, of the state as it is now, and may be taken knowingly.
  await expect(preview).toContainText('elevation of 2');
  await preview.getByRole('button', { name: /^Apply/ }).click();
  await expect.poll(async () => (await stateOf(page)).document.edits[first.id][2].z).toBe(11);
  await mae.page.context().close();
});

test('an older change is undone from the list; one that was changed since shows both states first', async ({
  page,
  browser,
}) => {
  await twoFiles(page, 'Any order');
  const mae = await colleague(page, browser);
  const [first] = (await stateOf(page)).document.intakes;
  const key = `${first.id}:2`;
  const edited = async () => (await stateOf(page)).document.edits[first.id]?.[2];
  await write(page, idOf(page), { op: 'points.edit', edits: { [key]: { set: { z: 62 }, undo: [] } } });
  await mae.writes({ op: 'settings.set', settings: { decimals: 2 } });
  await page.getByRole('button', { name: /^revision 4/ }).click();
  const changes = page.getByLabel('changes', { exact: true });
  await changes.getByRole('button', { name: 'undo change 3' }).click();
  await expect.poll(edited).toBeUndefined();
  expect((await stateOf(page)).document.settings.decimals).toBe(2);
  // Edited twice: undoing the first one would undo the second unseen.
  await write(page, idOf(page), { op: 'points.edit', edits: { [key]: { set: { z: 63 }, undo: [] } } });
  await mae.writes({ op: 'points.edit', edits: { [key]: { set: { z: 64 }, undo: [] } } });
  await changes.getByRole('button', { name: 'undo change 6' }).click();
  const alert = page.getByRole('alert');
  await expect(alert).toContainText('is not undone yet');
  await expect(alert).toContainText('elevation of 2 63.000 m → 64.000 m');
  await expect(alert).toContainText('yours: elevation of 2 64.000 m → as received');
  expect((await edited()).z).toBe(64);
  await alert.getByRole('button', { name: 'Undo it all the same' }).click();
  await expect.poll(edited).toBeUndefined();
  await expect(alert).toBeHidden();
  await mae.page.context().close();
});

test('an import goes in though somebody changed something else while it was read', async ({ page, browser }) => {
  await beginProject(page, 'Import kept');
  const mae = await colleague(page, browser);
  await drop(page, 'first.csv', points(1, 10));
  // Told too late: the page still sends the revision that it knows.
  await page.route('**/intakes', async (route) => {
    await mae.writes({ op: 'settings.set', settings: { decimals: 2 } });
    await route.continue();
  });
  await takeIn(page, 'Import 4 points', 1);
  const { document, revision } = await stateOf(page);
  expect([document.settings.decimals, document.intakes.map((i) => i.fileName), revision]).toEqual([
    2,
    ['first.csv'],
    2,
  ]);
  await mae.page.context().close();
});

test('the list of changes says what each set and why, is filtered, and leads there', async ({ page, browser }) => {
  await twoFiles(page, 'Changes said');
  const mae = await colleague(page, browser);
  const [first] = (await stateOf(page)).document.intakes;
  await mae.writes({ op: 'points.edit', edits: { [`${first.id}:2`]: { set: { z: 62.41 }, undo: [] } } });
  await mae.writes({ op: 'points.edit', edits: { [`${first.id}:2`]: { set: { z: 62.14 }, undo: [] } }, why: 'the pole had sunk' }); // prettier-ignore
  await mae.writes({ op: 'settings.set', settings: { decimals: 2 } });
  await expect(page.getByRole('button', { name: /^revision 5/ })).toBeVisible();
  await settled(page);
  await page.getByRole('button', { name: /^revision 5/ }).click();
  const list = page.getByLabel('changes', { exact: true });
  await expect(list).toContainText('elevation of 2: 62.410 m → 62.140 m');
  await expect(list).toContainText('because the pole had sunk');
  await list.getByLabel('of which stage').selectOption('basis');
  await expect(list).not.toContainText('elevation of 2');
  await list.getByLabel('of which stage').selectOption('');
  await list.getByLabel('changes with').fill('sunk');
  await expect(list.getByRole('listitem')).toHaveCount(1);
  await list.getByRole('button', { name: /elevation of 2/ }).click();
  await expect(page.getByLabel('selected point')).toContainText('Point 2');
  await page.getByRole('button', { name: /^revision 5/ }).click();
  await list.getByLabel('changes with').press('Escape');
  await expect(list).toBeHidden();
  await mae.page.context().close();
});

test('what was begun outlives leaving the leaf and reloading: a draft of the code list, an import', async ({
  page,
}) => {
  await beginProject(page, 'Begun');
  await drop(page, 'first.csv', points(1, 10));
  // What is kept of it is written while it is read.
  await expect(page.getByRole('button', { name: 'Import 4 points' })).toBeVisible();
  await page.reload();
  await settled(page);
  await expect(page.getByText('The import of first.csv was not finished')).toBeVisible();
  await page.getByRole('button', { name: 'Continue' }).click();
  await takeIn(page, 'Import 4 points', 1);
  await page.reload();
  await settled(page);
  await expect(page.getByText('was not finished')).toBeHidden();
  // The same bytes again, under another name.
  await drop(page, 'tuesday.csv', points(1, 10));
  await expect(page.getByLabel('intake')).toContainText('in the project already, as first.csv');
  await page.keyboard.press('Escape');

  await go(page, 'lines');
  await page.getByRole('link', { name: 'Code list', exact: true }).click();
  await page.getByRole('button', { name: 'Add a code' }).click();
  await expect(page.getByText('kept in this tab until it is')).toBeVisible();
  await go(page, 'book');
  await go(page, 'lines');
  await page.getByRole('link', { name: 'Code list', exact: true }).click();
  await expect(page.getByText('kept in this tab until it is')).toBeVisible();
  await page.reload();
  await settled(page);
  await page.getByRole('link', { name: 'Code list', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Show what it changes' })).toBeVisible();
  await page.getByRole('button', { name: 'Discard my changes' }).click();
  await expect(page.getByText('kept in this tab until it is')).toBeHidden();
  await expect(page.getByRole('button', { name: 'Show what it changes' })).toBeHidden();
});
