import { spawn } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { codedFile } from './coded.ts';
import { scan } from './scan.ts';

const PORT = 4893;

export interface PageTask {
  what: string;
  /** By the page's own clock, which stands still while others hold the processor; and by that on the wall. */
  thread: number;
  wall: number;
}

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

/** What scripts of the page run in. */
const SCRIPTS = ['FunctionCall', 'EventDispatch', 'TimerFire', 'FireAnimationFrame', 'RunMicrotasks', 'EvaluateScript'];

/** What the page's own thread does while something is done with the page: its scripts, the longest first. */
async function scriptsOf(page: Page, work: () => Promise<void>): Promise<PageTask[]> {
  const browser = page.context().browser()!;
  await browser.startTracing(page, { categories: ['devtools.timeline'] });
  await page.evaluate(() => console.timeStamp('frame'));
  await work();
  return longestScripts((await browser.stopTracing()).toString());
}

/** Takes 200,000 points in through the page, goes to the ground, and gives the longest tasks of its scripts. */
export const measurePage = (): Promise<PageTask[]> =>
  withPage(async (page) => {
    const scripts = await scriptsOf(page, async () => {
      await takeIn(page, scan(200_000), 200_000);
      await page.keyboard.press('4');
      await page.waitForTimeout(3000);
    });
    return scripts.slice(0, 6);
  });

/** Scripts of the page's main thread, the outermost alone, the longest first. */
function longestScripts(trace: string): PageTask[] {
  const { traceEvents } = JSON.parse(trace) as { traceEvents: TraceEvent[] };
  const { tid } = traceEvents.find((e) => e.name === 'TimeStamp' && e.args.data?.message === 'frame')!;
  const scripts = traceEvents.filter((e) => e.tid === tid && SCRIPTS.includes(e.name) && e.dur !== undefined);
  const out: PageTask[] = [];
  let end = -Infinity;
  for (const e of scripts.sort((a, b) => a.ts - b.ts)) {
    if (e.ts < end) continue;
    end = e.ts + e.dur!;
    // What the driver of the browser asks of the page is not the page's own.
    const { functionName = '', type = '', url = '' } = e.args.data ?? {};
    if (e.name === 'FunctionCall' && url === '') continue;
    out.push({ what: [e.name, type, functionName].filter(Boolean).join(' '), thread: (e.tdur ?? e.dur!) / 1000, wall: e.dur! / 1000 }); // prettier-ignore
  }
  return out.sort((a, b) => b.thread - a.thread);
}

/** A large drawing dropped on the page: s until its first lines are drawn, its table stands, all of it can be imported. */
export interface DrawingFigure {
  first: number;
  table: number;
  whole: number;
  longest: PageTask;
}

export const measureDrawing = (file: string, layers: number, lines: number): Promise<DrawingFigure> =>
  withPage(async (page) => {
    const reached: number[] = [];
    const [longest] = await scriptsOf(page, async () => {
      const start = performance.now();
      await page.getByTestId('file').setInputFiles(file);
      for (const step of [
        page.getByText('Its first lines are on the drawing'),
        page.getByText(`${layers} layers by kind`),
        page.locator(`button:enabled:has-text("Import ${lines} lines")`),
      ]) {
        await step.waitFor({ timeout: 240_000 });
        reached.push((performance.now() - start) / 1000);
      }
    });
    const [first, table, whole] = reached;
    return { first, table, whole, longest };
  });

/** From key to picture, ms: as a rule and at most; and what of it is script that answers the key, as a rule. */
export interface StepFigure {
  median: number;
  longest: number;
  script: number;
}

/**
 * Steps by arrow through 10,000 rows, and from stage to stage, each till it is painted; beside a key that writes one number
 * into the same page, which is what painting alone takes here.
 */
export const measureSteps = (): Promise<Record<'rows' | 'stages' | 'bare', StepFigure>> =>
  withPage(async (page) => {
    await takeIn(page, codedFile(10_000), 10_000);
    await page.keyboard.press('2');
    const leaves = page.getByRole('navigation', { name: 'leaves of book' });
    await leaves.getByRole('link', { name: 'Points', exact: true }).click();
    await page.getByRole('grid').getByRole('row').nth(3).click();
    await page.waitForTimeout(3000);
    await page.evaluate(() => {
      const steps: [number, number][] = [];
      (window as unknown as { steps: typeof steps }).steps = steps;
      new PerformanceObserver((list) => {
        for (const e of list.getEntries() as PerformanceEventTiming[])
          if (e.name === 'keydown') steps.push([e.duration, e.processingEnd - e.processingStart]);
      }).observe({ type: 'event', durationThreshold: 16, buffered: false } as PerformanceObserverInit);
      const note = document.body.appendChild(document.createElement('div'));
      note.style.cssText = 'position: fixed; left: 400px; top: 4px';
      addEventListener('keydown', (e) => e.key === 'F9' && (note.textContent = String(Math.round(e.timeStamp))));
    });
    const pressed = async (keys: readonly string[], pause: number): Promise<StepFigure> => {
      await page.evaluate(() => void ((window as unknown as { steps: number[] }).steps.length = 0));
      for (const key of keys) {
        await page.keyboard.press(key);
        await page.waitForTimeout(pause);
      }
      await page.waitForTimeout(1000);
      const steps = await page.evaluate(() => (window as unknown as { steps: [number, number][] }).steps);
      // What takes less than 16 ms is not told.
      const untold = Array<number>(Math.max(0, keys.length - steps.length)).fill(16);
      const all = [...steps.map(([duration]) => duration), ...untold].sort((a, b) => a - b);
      const scripts = steps.map(([, script]) => script).sort((a, b) => a - b);
      return { median: all[all.length >> 1], longest: all[all.length - 1], script: scripts[scripts.length >> 1] ?? 0 };
    };
    const bare = await pressed(Array<string>(30).fill('F9'), 150);
    const rows = await pressed(Array<string>(60).fill('ArrowDown'), 150);
    const stages = await pressed(
      ['3', '4', '5', '6', '1', '2', '3', '4', '5', '6', '1', '2', '4', '2', '4', '2'],
      1200,
    );
    return { bare, rows, stages };
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
  /** µs, and by the thread's own clock. */
  dur?: number;
  tdur?: number;
  args: { data?: { message?: string; functionName?: string; type?: string; url?: string } };
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
    if (at >= 0) sums[at] += (e.tdur ?? e.dur ?? 0) / 1000;
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
