import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { QuantityReportTask } from '../paper/quantity-thread.ts';
import type { SectionsTask } from '../paper/sections-thread.ts';
import type { SplitTask } from '../projects/split-thread.ts';
import type { PlotTask } from '../paper/plot-thread.ts';
import type { ReceivedTask } from '../projects/received-thread.ts';
import type { PaperMade } from '../paper/paged.ts';
import type { PaperTask, ReportTask, SurfaceReportTask } from '../paper/report-thread.ts';
import type { Logger } from 'pino';
import { CHAIN_VERSION } from '#core/chain';
import { readKey } from '#core/sources';
import type { ReceivedValue } from '#core/exchange';
import type { Basis, Intake } from '#core/project';
import type { Settled, SettledStages, Settling } from '#contract';
import type { PackageOutcome, settle, VolumesBefore } from './chain-worker.ts';
import { keepResult } from './kept-results.ts';
import { needsChild, readInChild } from '../jobs/decode.ts';
import { Refusal } from '../http/problems.ts';
import { isPassing, type Pool } from '../db/db.ts';
import { announce } from '../http/live.ts';
import { readTaskOf } from '../projects/read-task.ts';
import type { Made, PackageSpec } from '#core/handover';

/** Whether what is kept is of the newest revision, and by the computation as it is now. */
export const isCurrent = (row: {
  revision: number;
  settled_revision: number | null;
  version: number | null;
}): boolean => row.settled_revision === row.revision && row.version === CHAIN_VERSION;

/** What one task may take, and how long a run goes on undisturbed when a newer revision comes. */
export interface TaskLimits {
  megabytes: number;
  milliseconds: number;
  patience: number;
  /** Who waits is told what is computed after so long, and again as often. */
  tellAfter: number;
}
const setting = (name: string, otherwise: number): number => {
  const value = Number(process.env[name] ?? otherwise);
  return value > 0 ? value : otherwise;
};
const TASK_LIMITS: TaskLimits = {
  megabytes: setting('DUNRIK_TASK_MEGABYTES', 4096),
  milliseconds: 60_000 * setting('DUNRIK_TASK_MINUTES', 10),
  patience: 15_000,
  tellAfter: 700,
};
const timeText = (milliseconds: number): string =>
  milliseconds < 120_000 ? `${Math.ceil(milliseconds / 1000)} seconds` : `${Math.round(milliseconds / 60_000)} minutes`;
const NEWER = 'a newer revision came';
const LATE = 'it took too long';
const CANCELLED = 'it was cancelled';

const MOST_FAILURES = 60;

/** Computes what depends on a project's newest revision, on worker threads, and stores it under its keys. */
export class Settler {
  private readonly threads: Piscina;
  private readonly running = new Map<string, { run: Promise<void>; since: number; stop: AbortController }>();
  private closed = false;

  constructor(
    private readonly pool: Pool,
    private readonly log: Logger,
    private readonly limits: TaskLimits = TASK_LIMITS,
  ) {
    this.threads = new Piscina({
      resourceLimits: { maxOldGenerationSizeMb: limits.megabytes },
      filename: new URL('./chain-thread.mjs', import.meta.url).href,
      workerData: { url: pool.options.connectionString, limits },
      maxThreads: 2,
      minThreads: 1,
      idleTimeout: 60_000,
    });
  }

  /**
   * Starts computing unless it runs already; a run picks up every revision that comes while it works. One that has worked
   * for long already is given up for the newer revision: what made it so long may be what was just undone.
   */
  schedule(project: string): Promise<void> {
    const already = this.running.get(project);
    if (already) {
      if (Date.now() - already.since > this.limits.patience) already.stop.abort(NEWER);
      return already.run;
    }
    const entry = { run: Promise.resolve(), since: Date.now(), stop: new AbortController() };
    this.running.set(project, entry);
    entry.run = this.loop(project, entry)
      .catch((error: unknown) => {
        if (!this.closed) this.log.error({ err: error, project }, 'could not compute');
      })
      .finally(() => this.running.delete(project));
    return entry.run;
  }

  private async loop(project: string, entry: { since: number; stop: AbortController }): Promise<void> {
    for (let failures = 0; !this.closed;) {
      let revision = -1;
      entry.since = Date.now();
      entry.stop = new AbortController();
      const late = setTimeout(() => entry.stop.abort(LATE), this.limits.milliseconds);
      try {
        const row = await this.newest(project);
        if (!row || isCurrent(row) || row.problem?.revision === row.revision) return;
        ({ revision } = row);
        const { signal } = entry.stop;
        const settled = await this.settleOnce(project, signal);
        ({ revision } = settled);
        await this.pool.query(
          'update project set settled_revision = $2, settled = $3, settled_problem = null where id = $1 and revision >= $2',
          [project, revision, JSON.stringify(settled.stages)],
        );
        await announce(this.pool, { type: 'settled', project, revision });
        failures = 0;
      } catch (error) {
        if (this.closed) return;
        if (entry.stop.signal.reason === NEWER) continue;
        if (entry.stop.signal.reason === CANCELLED) return;
        if (isPassing(error) && failures++ < MOST_FAILURES) {
          await new Promise((resolve) => setTimeout(resolve, Math.min(500 * failures, 5000)));
          continue;
        }
        this.log.error({ err: error, project }, 'could not compute');
        await this.keepProblem(project, revision, this.reasonOf(error, entry.stop.signal));
        // Something newer may have come that can be computed.
      } finally {
        clearTimeout(late);
      }
    }
  }

  /** Settles the newest revision, telling whoever waits what is computed. */
  private async settleOnce(project: string, signal: AbortSignal): Promise<Awaited<ReturnType<typeof settle>>> {
    const channel = new MessageChannel();
    let told = Date.now();
    // One after the other: two connections of the pool may hand two words over the other way round.
    let telling: Promise<unknown> = Promise.resolve();
    channel.port2.on('message', (settling: Settling) => {
      if (Date.now() - told < this.limits.tellAfter || signal.aborted) return;
      told = Date.now();
      telling = telling.then(() => announce(this.pool, { type: 'settling', project, ...settling })).catch(() => {});
    });
    try {
      const task = { project, port: channel.port1 };
      const transferList = [channel.port1] as never;
      return (await this.threads.run(task, { name: 'settle', signal, transferList })) as Awaited<ReturnType<typeof settle>>; // prettier-ignore
    } finally {
      channel.port2.close();
      await telling;
    }
  }

  /** Gives up what is being computed of a project, and says who wanted it; false where nothing is. */
  async cancel(project: string, by: string): Promise<boolean> {
    const entry = this.running.get(project);
    const row = entry ? await this.newest(project) : null;
    if (!entry || !row || isCurrent(row)) return false;
    // First said, then done: a page that asks in between does not start it again.
    await this.keepProblem(project, row.revision, `${by} cancelled it. Compute it again, or undo the last change; nothing that was entered is lost.`); // prettier-ignore
    entry.stop.abort(CANCELLED);
    await entry.run;
    return true;
  }

  /** Computes again what was cancelled or failed. */
  async again(project: string): Promise<void> {
    await this.pool.query('update project set settled_problem = null where id = $1', [project]);
    void this.schedule(project);
  }

  private async newest(project: string) {
    const found = await this.pool.query<{
      revision: number;
      settled_revision: number | null;
      version: number | null;
      problem: { revision: number } | null;
    }>(`select revision, settled_revision, (settled ->> 'version')::int as version, settled_problem as problem from project where id = $1`, [project]); // prettier-ignore
    return found.rows[0];
  }

  private async keepProblem(project: string, revision: number, text: string): Promise<void> {
    await this.pool.query('update project set settled_problem = $2 where id = $1', [project, JSON.stringify({ revision, text })]); // prettier-ignore
    await announce(this.pool, { type: 'unsettled', project, revision });
  }

  /** What to tell people of a revision that cannot be computed, and what they can do. */
  private reasonOf(error: unknown, signal: AbortSignal): string {
    const { message } = error as { message?: string };
    const remedy = 'Undo the last change, or switch off the file that makes it so large.';
    const limit = this.limitOf(error, signal.reason === LATE);
    if (limit) return `Computing this ${limit} ${remedy}`;
    return `This could not be computed: ${(message ?? 'unknown reason').slice(0, 300)}. Undo the last change; nothing that was entered is lost.`;
  }

  /** Which limit of a task was reached, in words; null where it was none. */
  private limitOf(error: unknown, late: boolean): string | null {
    const { code, message } = error as { code?: string; message?: string };
    if (late) return `took longer than ${timeText(this.limits.milliseconds)} and was ended.`;
    if (code === 'ERR_WORKER_OUT_OF_MEMORY' || /out of memory|array length|allocation/i.test(message ?? ''))
      return `needs more than the ${this.limits.megabytes} MB that a task may have.`;
    return null;
  }

  /** Reads one intake's original on a worker thread; `signal` stops the thread. */
  async readIntake(
    project: string,
    basis: Basis,
    intake: Intake,
    options: { onProgress?: (share: number) => void; signal?: AbortSignal; lenient?: boolean } = {},
  ): Promise<Uint8Array> {
    const task = await readTaskOf(this.pool, project, basis, intake, options.lenient ?? false);
    // Packed sheets and raster grids are decoded by foreign code.
    if (needsChild(task)) return readInChild(task, this.limits, options);
    const channel = new MessageChannel();
    channel.port2.on('message', (share: number) => options.onProgress?.(share));
    const what = `Reading ${intake.fileName}`;
    try {
      return await this.run<Uint8Array>('readOriginal', { ...task, port: channel.port1 }, what, {
        signal: options.signal,
        transferList: [channel.port1],
      });
    } finally {
      channel.port2.close();
    }
  }

  /** Runs a task on a thread; one that goes on too long is ended, and that is said. */
  private async run<T>(
    name: string,
    task: unknown,
    what: string,
    { signal, transferList }: { signal?: AbortSignal; transferList?: unknown[] } = {},
  ): Promise<T> {
    const late = AbortSignal.timeout(this.limits.milliseconds);
    try {
      return (await this.threads.run(task, {
        name,
        signal: signal ? AbortSignal.any([signal, late]) : late,
        ...(transferList ? { transferList: transferList as never } : {}),
      })) as T;
    } catch (error) {
      if (signal?.aborted) throw error;
      const limit = this.limitOf(error, late.aborted);
      throw limit ? new Refusal(503, `${what} ${limit} Nothing was changed.`) : error;
    }
  }

  /** Keeps a read under its key, ahead of the change that will need it. */
  storeRead = (project: string, basis: Basis, intake: Intake, block: Uint8Array): Promise<string> =>
    keepResult(this.pool, project, readKey(basis, intake), block);

  makePackage = (project: string, spec: PackageSpec, made: Made): Promise<PackageOutcome> =>
    this.run<PackageOutcome>('packageFiles', { project, spec, made }, 'Making the package');

  /** The report of the books; null when there is none. */
  report = (task: ReportTask): Promise<PaperMade | null> =>
    this.run<PaperMade | null>('makeReport', task, 'Making the report');

  /** Whether a surface is fit to use, found and laid out in a thread. */
  surfaceReport = (task: SurfaceReportTask): Promise<PaperMade> =>
    this.run<PaperMade>('makeSurfaceReport', task, 'Looking at the surface');

  /** A comparison for whoever has to rely on it, put together in a thread. */
  quantityReport = (task: QuantityReportTask): Promise<PaperMade> =>
    this.run<PaperMade>('makeQuantityReport', task, 'Making the report');

  /** Sections of a comparison as a file, cut in a thread. */
  sections = (task: SectionsTask): Promise<PaperMade | { reason: string }> =>
    this.run<PaperMade | { reason: string }>('makeSections', task, 'Cutting the sections');

  /** Where one cause of two parties' difference acts, found in a thread. */
  splitPieces = (task: SplitTask): Promise<{ pieces: Uint8Array } | { reason: string }> =>
    this.run<{ pieces: Uint8Array } | { reason: string }>('splitPieces', task, 'Laying the surfaces over each other');

  /** A report laid out on paper, in a thread. */
  paper = (task: PaperTask): Promise<PaperMade> => this.run<PaperMade>('makePaper', task, 'Making the paper');

  /** Values of a file as received, read in a thread from its packed read. */
  received = (task: ReceivedTask): Promise<(ReceivedValue | undefined)[]> =>
    this.run<(ReceivedValue | undefined)[]>('readReceived', task, 'Reading what was received');

  /** What a comparison's volumes were before each change, computed in a thread. */
  volumesBefore = (project: string, comparison: string, signal: AbortSignal): Promise<VolumesBefore> =>
    this.run<VolumesBefore>('volumesBefore', { project, comparison }, 'Computing earlier volumes', { signal });

  /** Plots as a PDF, drawn in a thread from settled results. */
  plots = (task: PlotTask): Promise<PaperMade> => this.run<PaperMade>('drawPlots', task, 'Drawing the plot');

  async settled(project: string): Promise<Settled | null> {
    const found = await this.pool.query<{ settled_revision: number | null; settled: SettledStages | null }>(
      'select settled_revision, settled from project where id = $1',
      [project],
    );
    const row = found.rows[0];
    // Results of an older computation are not told for this one's: they may not even have its shape.
    return row?.settled && row.settled_revision !== null && row.settled.version === CHAIN_VERSION
      ? { revision: row.settled_revision, stages: row.settled }
      : null;
  }

  /** Which results are kept: their revision, and the version of the computation. */
  async markOf(project: string): Promise<string | null> {
    const found = await this.pool.query<{ mark: string | null }>(
      `select settled_revision || '.' || (settled ->> 'version') as mark from project where id = $1`,
      [project],
    );
    return found.rows[0]?.mark ?? null;
  }

  async close(): Promise<void> {
    this.closed = true;
    await this.threads.destroy();
  }
}
