import { createHash } from 'node:crypto';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { PlotTask } from './plot-thread.ts';
import type { ReportTask } from './report-thread.ts';
import type { Logger } from 'pino';
import {
  chainKeys,
  gridsOfPlan,
  readingPlan,
  readKey,
  upgradeDocument,
  type Basis,
  type ChainSummary,
  type GridBytes,
  type GridRef,
  type Intake,
  type ProjectDocument,
} from '#core/chain';
import type { Settled, SettledStages } from '#contract';
import type { ChainPacks, ChainTask, PackageOutcome, ReadTask } from './chain-worker.ts';
import type { Pool } from './db.ts';
import { announce } from './live.ts';
import type { Made, PackageSpec } from '#core/handover';

const sha256 = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Computes what hangs on a project's newest revision, on worker threads, and stores it under its keys. */
export class Settler {
  private readonly threads: Piscina;
  private readonly running = new Map<string, Promise<void>>();
  private closed = false;

  constructor(
    private readonly pool: Pool,
    private readonly log: Logger,
  ) {
    this.threads = new Piscina({
      filename: new URL('./chain-thread.mjs', import.meta.url).href,
      maxThreads: 2,
      minThreads: 1,
      idleTimeout: 60_000,
    });
  }

  /** Starts computing unless it runs already; a run picks up every revision that comes while it works. */
  schedule(project: string): Promise<void> {
    const already = this.running.get(project);
    if (already) return already;
    const run = this.loop(project)
      .catch((error: unknown) => {
        if (!this.closed) this.log.error({ error, project }, 'could not compute');
      })
      .finally(() => this.running.delete(project));
    this.running.set(project, run);
    return run;
  }

  private async loop(project: string): Promise<void> {
    while (!this.closed) {
      const found = await this.pool.query<{
        revision: number;
        document: ProjectDocument;
        settled_revision: number | null;
        settled: SettledStages | null;
      }>('select revision, document, settled_revision, settled from project where id = $1', [project]);
      const row = found.rows[0];
      if (!row || row.settled_revision === row.revision) return;
      const stages: SettledStages = await this.settleDocument(project, upgradeDocument(row.document));
      stages.figures = await this.figures(stages.summary);
      await this.pool.query('update project set settled_revision = $2, settled = $3 where id = $1 and revision >= $2', [
        project,
        row.revision,
        JSON.stringify(stages),
      ]);
      await announce(this.pool, { type: 'settled', project, revision: row.revision });
    }
  }

  private async settleDocument(project: string, document: ProjectDocument): Promise<SettledStages> {
    const keys = chainKeys(document);
    const comparisonKeys = Object.entries(keys.comparisons).map(([id, key]) => [`pieces:${key}`, id] as const);
    const reductionKey = `reduction:${keys.points}`;
    const stored = await this.stored(project, [
      keys.points,
      reductionKey,
      keys.lines,
      ...Object.values(keys.grounds),
      keys.contours,
      ...comparisonKeys.map(([k]) => k),
      keys.all,
    ]);
    const reads = await this.reads(project, document);
    const readHashes = Object.fromEntries(Object.entries(reads).map(([id, r]) => [id, r.hash]));
    // Everything under its key already: an undo, or a setting put back.
    if (stored.has(keys.all)) {
      return {
        reads: readHashes,
        points: stored.get(keys.points)!,
        reduction: stored.get(reductionKey)!,
        lines: stored.get(keys.lines)!,
        surfaces: Object.fromEntries(Object.entries(keys.grounds).map(([name, key]) => [name, stored.get(key)!])),
        contours: stored.get(keys.contours)!,
        pieces: Object.fromEntries(
          comparisonKeys.flatMap(([key, id]) => (stored.has(key) ? [[id, stored.get(key)!]] : [])),
        ),
        summary: stored.get(keys.all)!,
      };
    }
    const packs = (await this.threads.run(this.task(document, reads), { name: 'runStages' })) as ChainPacks;
    const store = (key: string, block: Uint8Array): Promise<string> => this.store(project, key, block);
    const surfaces: Record<string, string> = {};
    for (const [name, block] of Object.entries(packs.surfaces)) surfaces[name] = await store(keys.grounds[name], block);
    const pieces: Record<string, string> = {};
    for (const [id, block] of Object.entries(packs.pieces))
      pieces[id] = await store(`pieces:${keys.comparisons[id]}`, block);
    return {
      reads: readHashes,
      points: await store(keys.points, packs.points),
      reduction: await store(reductionKey, packs.reduction),
      lines: await store(keys.lines, packs.lines),
      surfaces,
      contours: await store(keys.contours, packs.contours),
      pieces,
      summary: await store(keys.all, packs.summary),
    };
  }

  /** The few figures that the list of projects shows. */
  private async figures(summary: string): Promise<SettledStages['figures']> {
    const found = await this.pool.query<{ bytes: Buffer }>('select bytes from blob where hash = $1', [summary]);
    const s = JSON.parse(found.rows[0].bytes.toString('utf8')) as ChainSummary;
    return { points: s.points, lines: s.lines, openQueries: s.queries.filter((q) => !q.accepted).length };
  }

  private task(document: ProjectDocument, reads: Record<string, { key: string; block: Uint8Array }>): ChainTask {
    return {
      document,
      reads: Object.fromEntries(Object.entries(reads).map(([id, { key, block }]) => [id, { key, block }])),
    };
  }

  /** Packed reads of a document's intakes, from the store or read anew from the originals. */
  private async reads(
    project: string,
    document: ProjectDocument,
  ): Promise<Record<string, { key: string; block: Uint8Array; hash: string }>> {
    const out: Record<string, { key: string; block: Uint8Array; hash: string }> = {};
    for (const intake of document.intakes) {
      const key = readKey(document.basis, intake);
      const found = await this.pool.query<{ hash: string; bytes: Buffer }>(
        'select d.hash, b.bytes from derived d join blob b on b.hash = d.hash where d.project_id = $1 and d.key = $2',
        [project, key],
      );
      if (found.rows[0]) out[intake.id] = { key, block: plainBytes(found.rows[0].bytes), hash: found.rows[0].hash };
      else {
        const block = await this.readIntake(project, document.basis, intake, { lenient: true });
        out[intake.id] = { key, block, hash: await this.store(project, key, block) };
      }
    }
    return out;
  }

  /** Reads one intake's original on a worker thread; `signal` stops the thread. */
  async readIntake(
    project: string,
    basis: Basis,
    intake: Intake,
    options: { onProgress?: (share: number) => void; signal?: AbortSignal; lenient?: boolean } = {},
  ): Promise<Uint8Array> {
    const found = await this.pool.query<{ bytes: Buffer }>('select bytes from file where project_id = $1 and id = $2', [
      project,
      intake.fileId,
    ]);
    if (!found.rows[0]) throw new Error(`The original ${intake.fileName} is missing.`);
    const plan = readingPlan(basis, intake);
    const channel = new MessageChannel();
    channel.port2.on('message', (share: number) => options.onProgress?.(share));
    const task: ReadTask = {
      bytes: plainBytes(found.rows[0].bytes),
      plan,
      grids: await this.gridBytes(project, gridsOfPlan(plan)),
      lenient: options.lenient ?? false,
      fileName: intake.fileName,
      port: channel.port1,
    };
    try {
      return (await this.threads.run(task, {
        name: 'readOriginal',
        transferList: [channel.port1] as never,
        signal: options.signal,
      })) as Uint8Array;
    } finally {
      channel.port2.close();
    }
  }

  /** Keeps a read under its key, ahead of the change that will need it. */
  storeRead = (project: string, basis: Basis, intake: Intake, block: Uint8Array): Promise<string> =>
    this.store(project, readKey(basis, intake), block);

  /** Bytes of grid files among a project's originals, by their hash. */
  async gridBytes(project: string, grids: readonly GridRef[]): Promise<GridBytes> {
    const out: GridBytes = {};
    for (const grid of grids) {
      const found = await this.pool.query<{ bytes: Buffer }>(
        'select bytes from file where project_id = $1 and id = $2 and sha256 = $3',
        [project, grid.fileId, grid.sha256],
      );
      if (found.rows[0]) out[grid.sha256] = plainBytes(found.rows[0].bytes);
    }
    return out;
  }

  async makePackage(
    project: string,
    document: ProjectDocument,
    spec: PackageSpec,
    made: Made,
  ): Promise<PackageOutcome> {
    const reads = await this.reads(project, document);
    return (await this.threads.run(
      { ...this.task(document, reads), spec, made },
      { name: 'packageFiles' },
    )) as PackageOutcome;
  }

  /** The report of the books; null when there is none. */
  report = (task: ReportTask): Promise<Uint8Array | null> =>
    this.threads.run(task, { name: 'makeReport' }) as Promise<Uint8Array | null>;

  /** A plot as a PDF, drawn in a thread from settled results. */
  plot = (task: PlotTask): Promise<Uint8Array> => this.threads.run(task, { name: 'drawPlot' }) as Promise<Uint8Array>;

  private async stored(project: string, keys: string[]): Promise<Map<string, string>> {
    const found = await this.pool.query<{ key: string; hash: string }>(
      'select key, hash from derived where project_id = $1 and key = any($2)',
      [project, keys],
    );
    return new Map(found.rows.map((r) => [r.key, r.hash]));
  }

  private async store(project: string, key: string, block: Uint8Array): Promise<string> {
    const hash = sha256(block);
    await this.pool.query('insert into blob (hash, bytes) values ($1, $2) on conflict do nothing', [
      hash,
      Buffer.from(block.buffer, block.byteOffset, block.byteLength),
    ]);
    await this.pool.query(
      'insert into derived (project_id, key, hash) values ($1, $2, $3) on conflict (project_id, key) do update set hash = excluded.hash',
      [project, key, hash],
    );
    return hash;
  }

  async settled(project: string): Promise<Settled | null> {
    const found = await this.pool.query<{ settled_revision: number | null; settled: SettledStages | null }>(
      'select settled_revision, settled from project where id = $1',
      [project],
    );
    const row = found.rows[0];
    return row?.settled && row.settled_revision !== null
      ? { revision: row.settled_revision, stages: row.settled }
      : null;
  }

  async close(): Promise<void> {
    this.closed = true;
    await this.threads.destroy();
  }
}

/** Bytes without Node's shared pool behind them, fit to be sent to a thread. */
const plainBytes = (buffer: Buffer): Uint8Array => new Uint8Array(buffer);
