import { spawn } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { scan } from './scan.ts';

const PORT = 4893;

export type PageTask = { what: string; milliseconds: number };

/** Takes 200,000 points in through the page and records every task of its scripts over 50 ms. */
export async function measurePage(): Promise<PageTask[]> {
  const scripts = new URL('../scripts/', import.meta.url).href;
  process.env.DUNRIK_DATA ??= join(import.meta.dirname, '..', '.data', 'test');
  const { startDatabase } = (await import(`${scripts}database.mjs`)) as {
    startDatabase: () => Promise<{ url: string; stop: () => void }>;
  };
  const { needPages } = (await import(`${scripts}packages.mjs`)) as { needPages: () => void };
  needPages();
  const database = await startDatabase();
  const server = spawn(
    process.execPath,
    ['--import', 'tsx', join(import.meta.dirname, '../e2e/server.ts'), String(PORT)],
    {
      stdio: 'ignore',
      env: { ...process.env, DATABASE_URL: database.url },
    },
  );
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--use-angle=swiftshader',
      '--enable-unsafe-swiftshader',
      '--ignore-gpu-blocklist',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--disable-quic',
    ],
  });
  try {
    await untilUp();
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`http://127.0.0.1:${PORT}/`);
    await page.getByRole('button', { name: 'Open the demo project' }).click();
    await page.getByLabel('name of a new project').fill('Bench');
    await page.getByRole('button', { name: 'Begin it' }).click();
    await page.getByText('settled', { exact: true }).waitFor();
    await page.evaluate(() => {
      const found: { what: string; milliseconds: number }[] = [];
      (window as unknown as { found: typeof found }).found = found;
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries())
          for (const s of (
            entry as unknown as { scripts: { invoker: string; sourceFunctionName: string; duration: number }[] }
          ).scripts)
            found.push({ what: `${s.invoker} ${s.sourceFunctionName}`.trim(), milliseconds: s.duration });
      }).observe({ type: 'long-animation-frame' });
    });
    const file = join(mkdtempSync(join(tmpdir(), 'dunrik-bench-')), 'scan.csv');
    writeFileSync(file, scan(200_000));
    await page.getByTestId('file').setInputFiles(file);
    await page.getByRole('button', { name: 'Take in 200000 points' }).click({ timeout: 60_000 });
    const bands = page.getByRole('navigation', { name: 'stages' });
    await bands
      .getByText(/200.000 points/)
      .first()
      .waitFor({ timeout: 120_000 });
    await page.getByText('settled', { exact: true }).waitFor();
    await page.keyboard.press('4');
    await page.waitForTimeout(3000);
    const found = await page.evaluate(() => (window as unknown as { found: PageTask[] }).found);
    return found.sort((a, b) => b.milliseconds - a.milliseconds).slice(0, 6);
  } finally {
    await browser.close();
    server.kill('SIGTERM');
    await new Promise((r) => server.on('exit', r));
    database.stop();
  }
}

async function untilUp(): Promise<void> {
  for (let i = 0; i < 240; i++) {
    const up = await fetch(`http://127.0.0.1:${PORT}/api/health`).then(
      (r) => r.ok,
      () => false,
    );
    if (up) return;
    await new Promise((r) => setTimeout(r, 250));
  }
  throw new Error('The server did not start.');
}
