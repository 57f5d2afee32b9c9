import { expect, test } from '@playwright/test';
import { go, leafOf, openDemo, settled, view } from './steps.ts';

test('every leaf has an address: reload, back and forward keep stage, leaf, selection and view', async ({ page }) => {
  await openDemo(page);
  await leafOf(page, 'Points');
  await expect(page).toHaveURL(/\/book\/points/);
  await page.getByRole('grid', { name: 'points' }).getByRole('row').nth(5).click();
  await expect(page).toHaveURL(/sel=point/);
  await expect(page).toHaveURL(/view=plan/);
  const sheet = page.getByRole('region', { name: 'sheet' });
  await sheet.hover();
  await page.mouse.wheel(0, -400);
  await view(page);
  const left = page.url();

  await go(page, 'lines');
  await leafOf(page, 'Code list');
  await expect(page).toHaveURL(/\/lines\/codes/);
  await page.keyboard.press('Escape');
  await expect(page).not.toHaveURL(/sel=/);
  await page.getByRole('button', { name: '3D', exact: true }).click();
  await expect(page).toHaveURL(/view=3d/);

  await page.goBack();
  await page.goBack();
  await expect(page).toHaveURL(left);
  await expect(page.getByRole('grid', { name: 'points' })).toBeVisible();
  await expect(page.locator('[aria-selected=true]')).toHaveCount(1);
  await expect(page.getByRole('button', { name: 'Plan', exact: true })).toHaveAttribute('aria-pressed', 'true');

  await page.goForward();
  await page.goForward();
  await expect(page).toHaveURL(/\/lines\/codes/);
  await expect(page.getByRole('button', { name: '3D', exact: true })).toHaveAttribute('aria-pressed', 'true');

  // A stage is found as it was left, and a link opened anew shows what it showed.
  await go(page, 'book');
  await expect(page).toHaveURL(/\/book\/points/);
  await page.goto(left);
  await settled(page);
  await expect(page.locator('[aria-selected=true]')).toHaveCount(1);
  await view(page);
  expect(page.url()).toBe(left);
});
