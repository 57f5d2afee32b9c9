import { spawn } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { codedFile } from './coded.ts';
import { scan } from './scan.ts';

const PORT = 4893;

export type PageTask = { what: string; milliseconds: number };

/** A page of the program on a fresh database, in the real browser. */
async function withPage<T>(work: (page: Page) => Promise<T>): Promise<T> {
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
    await page.getByRole('button', { name: 'Create' }).click();
    await page.getByText('settled', { exact: true }).waitFor();
    return await work(page);
  } finally {
    await browser.close();
    server.kill('SIGTERM');
    await new Promise((r) => server.on('exit', r));
    database.stop();
  }
}

async function takeIn(page: Page, content: string, count: number): Promise<void> {
  const file = join(mkdtempSync(join(tmpdir(), 'dunrik-bench-')), 'scan.csv');
  writeFileSync(file, content);
  await page.getByTestId('file').setInputFiles(file);
  await page.getByRole('button', { name: `Import ${count} points` }).click({ timeout: 60_000 });
  const bands = page.getByRole('navigation', { name: 'stages' });
  await bands
    .getByText(new RegExp(`${count / 1000}.000 points`))
    .first()
    .waitFor({ timeout: 180_000 });
  await page.getByText('settled', { exact: true }).waitFor({ timeout: 180_000 });
}

/** Takes 200,000 points in through the page and records every task of its scripts over 50 ms. */
export const measurePage = (): Promise<PageTask[]> =>
  withPage(async (page) => {
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
    await takeIn(page, scan(200_000), 200_000);
    await page.keyboard.press('4');
    await page.waitForTimeout(3000);
    const found = await page.evaluate(() => (window as unknown as { found: PageTask[] }).found);
    return found.sort((a, b) => b.milliseconds - a.milliseconds).slice(0, 6);
  });

export interface PanFigure {
  calls: number;
  /** Script a frame by the main thread's own clock, ms: median and longest; it stands still while others hold the processor. */
  median: number;
  longest: number;
  /** The longest by the clock on the wall, waiting for the processor included. */
  wall: number;
  frames: number;
}

interface TraceEvent {
  name: string;
  tid: number;
  ts: number;
  /** µs of the thread's own clock. */
  tdur?: number;
  args: { data?: { message?: string } };
}

/** From a trace: what scripts of the page took between marks, ms of thread time, ascending. */
function scriptByFrame(trace: string): number[] {
  const { traceEvents } = JSON.parse(trace) as { traceEvents: TraceEvent[] };
  const marks = traceEvents.filter((e) => e.name === 'TimeStamp' && e.args.data?.message === 'frame');
  const { tid } = marks[0];
  const work = traceEvents.filter((e) => e.tid === tid && (e.name === 'FireAnimationFrame' || e.name === 'EventDispatch')); // prettier-ignore
  const starts = marks.map((m) => m.ts).sort((a, b) => a - b);
  const sums = starts.map(() => 0);
  for (const e of work) {
    const at = starts.findLastIndex((s) => s <= e.ts);
    if (at >= 0) sums[at] += (e.tdur ?? NaN) / 1000;
  }
  return sums.sort((a, b) => a - b);
}

/** Pans over 100,000 labelled points and 20,000 lines: draw calls, and script a frame, whole and near. */
export const measurePanning = (): Promise<{ whole: PanFigure; near: PanFigure }> =>
  withPage(async (page) => {
    await takeIn(page, codedFile(100_000), 100_000);
    await page.keyboard.press('3');
    // Labels of the whole project are worked out beside the page.
    await page.waitForTimeout(8000);
    const box = (await page.getByLabel('sheet', { exact: true }).boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    const pan = async (): Promise<PanFigure> => {
      let [calls, wall] = [0, 0];
      await page
        .context()
        .browser()!
        .startTracing(page, { categories: ['devtools.timeline'] });
      await page.mouse.move(x, y);
      await page.mouse.down();
      for (let i = 0; i < 60; i++) {
        await page.evaluate(() => console.timeStamp('frame'));
        await page.mouse.move(x + 80 * Math.sin(i / 6), y + 50 * Math.cos(i / 6));
        await page.evaluate(() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r))));
        const drawn = await page
          .locator('canvas[data-calls]')
          .evaluate((c) => ({ ...(c as HTMLCanvasElement).dataset }));
        wall = Math.max(wall, Number(drawn.script));
        calls = Math.max(calls, Number(drawn.calls));
      }
      await page.mouse.up();
      const script = scriptByFrame((await page.context().browser()!.stopTracing()).toString());
      return { calls, wall, median: script[script.length >> 1], longest: script[script.length - 1], frames: script.length }; // prettier-ignore
    };
    const whole = await pan();
    for (let i = 0; i < 9; i++) {
      await page.mouse.move(x, y);
      await page.mouse.wheel(0, -300);
      await page.waitForTimeout(150);
    }
    await page.waitForTimeout(500);
    return { whole, near: await pan() };
  });

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
