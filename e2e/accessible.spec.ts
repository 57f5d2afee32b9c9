import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { enterDemo, go, openDemo, settled } from './steps.ts';

/** Findings of axe that are serious or critical, with where they are; the drawing's canvas has a table beside it. */
async function findings(page: Page, view: string): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'best-practice']).analyze(); // prettier-ignore
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical' || v.id === 'page-has-heading-one')
    .flatMap((v) => v.nodes.slice(0, 3).map((n) => `${view}: ${v.id}: ${n.target.join(' ')}: ${n.html.slice(0, 160)}`));
}

const LEAVES = [
  'basis/meaning',
  'basis/control',
  'basis/fit',
  'basis/tolerances',
  'basis/originals',
  'basis/people',
  'book/records',
  'book/points',
  'book/sets',
  'book/out',
  'book/network',
  'book/instruments',
  'book/report',
  'lines',
  'lines/codes',
  'lines/words',
  'lines/levels',
  'lines/layers',
  'lines/plots',
  'ground',
  'quantities',
  'handover',
];

test('no view has a serious finding, by day and by night', async ({ page }) => {
  test.setTimeout(480_000);
  await page.goto('/');
  await expect(page.getByRole('button', { name: 'Open the demo project' })).toBeVisible();
  const found = await findings(page, 'sign in');
  await enterDemo(page);
  found.push(...(await findings(page, 'projects')));
  for (const [path, name] of [['/new', 'new project'], ['/teams', 'teams'], ['/account', 'account']]) {
    await page.goto(path);
    await expect(page.getByRole('heading').first()).toBeVisible();
    found.push(...(await findings(page, name)));
  } // prettier-ignore
  await page.goto('/');
  await page.getByRole('link', { name: 'Kessa Bank' }).click();
  await settled(page);
  const project = /\/p\/([^/]+)\//.exec(page.url())![1];
  for (const path of LEAVES) {
    const [stage, leaf] = path.split('/');
    if (!page.url().includes(`/${stage}`)) await go(page, stage);
    if (leaf)
      await page
        .getByRole('navigation', { name: /^leaves of/ })
        .locator(`a[href*="/${stage}/${leaf}"]`)
        .click();
    await expect(page.getByLabel(/^ledger:/)).not.toContainText('opening …');
    found.push(...(await findings(page, path)));
  }
  await page.emulateMedia({ colorScheme: 'dark' });
  for (const leaf of ['book/records', 'ground']) {
    await page.goto(`/p/${project}/${leaf}`);
    await settled(page);
    found.push(...(await findings(page, `${leaf} by night`)));
  }
  expect(found).toEqual([]);
});

test('nothing is cut at 1024 × 700 or at 125 % text that cannot be reached', async ({ page }) => {
  test.setTimeout(120_000);
  await openDemo(page);
  const project = /\/p\/([^/]+)\//.exec(page.url())![1];
  // 125 % text is a page of 819 × 560 to itself.
  for (const [width, height] of [
    [1024, 700],
    [819, 560],
  ]) {
    await page.setViewportSize({ width, height });
    for (const leaf of ['basis/meaning', 'book/points', 'lines', 'lines/codes', 'ground', 'quantities', 'handover']) {
      await page.goto(`/p/${project}/${leaf}`);
      await settled(page);
      // Nothing that a hand or a key acts on lies outside the window unless something that scrolls holds it.
      const cut = await page.evaluate(() => {
        const scrolls = (e: Element | null): boolean => {
          for (let p = e?.parentElement; p; p = p.parentElement)
            if (/(auto|scroll)/.test(getComputedStyle(p).overflow + getComputedStyle(p).overflowX + getComputedStyle(p).overflowY)) return true; // prettier-ignore
          return false;
        };
        return [...document.querySelectorAll('button, a, input, select')]
          .filter((e) => {
            const r = e.getBoundingClientRect();
            if (r.width === 0 || r.height === 0 || getComputedStyle(e).visibility === 'hidden') return false;
            return (r.right > innerWidth + 1 || r.bottom > innerHeight + 1 || r.left < -1 || r.top < -1) && !scrolls(e);
          })
          .map((e) => `${e.tagName} ${e.getAttribute('aria-label') ?? e.textContent?.slice(0, 40)}`);
      });
      expect(cut, `${leaf} at ${width}`).toEqual([]);
    }
  }
});
