import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import { readKey } from '#core/sources';
import type { Code } from '#core/codes';
import {
  fileIntoSurface,
  severalChanges,
  type Change,
  type Intake,
  type IntoSurface,
  type ProjectDocument,
} from '#core/project';
import type { Job } from '#contract';
import { makeChange } from './changes.ts';
import { documentOf } from './documents.ts';
import type { Pool } from '../db/db.ts';
import { announce } from '../http/live.ts';
import { Refusal } from '../http/problems.ts';
import type { Settler } from '../results/settle.ts';

interface Running {
  project: string;
  job: Job;
  stop: AbortController;
}

/** Others may write while a file is read, and again while it is written; more often than this nobody does. */
const MOST_TRIES = 50;

/** A file, the surface that its points belong to, and codes that come with it. */
interface Asked {
  intake: Intake;
  into?: IntoSurface;
  codes?: readonly Code[];
}

/** The change that takes it in, on the code list as it is by then. */
function takeIn({ intake, into, codes = [] }: Asked, { codeList }: Pick<ProjectDocument, 'codeList'>): Change {
  const there = new Set(codeList.codes.map((c) => c.code.toUpperCase()));
  const fresh = codes.filter((c) => !there.has(c.code.toUpperCase()));
  return severalChanges(
    [
      ...(fresh.length ? [{ op: 'codes.set' as const, codeList: { ...codeList, codes: [...codeList.codes, ...fresh] } }] : []), // prettier-ignore
      { op: 'intake.add', intake },
      ...(into ? [fileIntoSurface(intake, into)] : []),
    ],
    `imported ${intake.fileName}`,
  );
}

/** Intakes under way: read on a worker thread with progress, then written as one change, or stopped without a trace. */
export class Intakes {
  private readonly running = new Map<string, Running>();

  constructor(
    private readonly pool: Pool,
    private readonly settler: Settler,
    private readonly log: Logger,
  ) {}

  of(project: string): Job[] {
    return [...this.running.values()].filter((r) => r.project === project).map((r) => r.job);
  }

  start(project: string, account: string, revision: number, asked: Asked): Job {
    const { intake } = asked;
    const job: Job = {
      id: randomUUID(),
      kind: 'intake',
      what: `reading ${intake.fileName}`,
      share: 0,
      state: 'working',
      message: '',
    };
    const running: Running = { project, job, stop: new AbortController() };
    this.running.set(job.id, running);
    void this.work(running, account, revision, asked);
    return job;
  }

  stop(project: string, id: string): void {
    const found = this.running.get(id);
    if (!found || found.project !== project) throw new Refusal(404, 'This work is no longer running.');
    found.stop.abort();
  }

  private async work(running: Running, account: string, revision: number, asked: Asked): Promise<void> {
    const { intake } = asked;
    const { project, job, stop } = running;
    let told = 0;
    const tell = (part: Partial<Job>): void => {
      Object.assign(job, part);
      announce(this.pool, { type: 'job', project, job }).catch((error: unknown) =>
        this.log.error({ err: error }, 'announce'),
      );
    };
    try {
      const onProgress = (share: number): void => {
        if (Date.now() - told < 100) return;
        told = Date.now();
        tell({ share });
      };
      let at = revision;
      let readAs = '';
      for (let tries = 1; ; tries++) {
        const document = await documentOf(this.pool, project);
        const { basis } = document;
        // What somebody changed meanwhile in how files are read counts; whatever else they changed does not touch it.
        if (readKey(basis, intake) !== readAs) {
          const block = await this.settler.readIntake(project, basis, intake, { signal: stop.signal, onProgress });
          stop.signal.throwIfAborted();
          await this.settler.storeRead(project, basis, intake, block);
          stop.signal.throwIfAborted();
          readAs = readKey(basis, intake);
        }
        try {
          await makeChange(this.pool, project, account, at, takeIn(asked, document));
          break;
        } catch (error) {
          const newer = error instanceof Refusal ? error.more.revision : undefined;
          if (newer === undefined || tries >= MOST_TRIES) throw error;
          at = newer;
        }
      }
      void this.settler.schedule(project);
      tell({ state: 'done', share: 1 });
    } catch (error) {
      if (stop.signal.aborted) tell({ state: 'stopped', message: `${intake.fileName} was not imported: cancelled.` });
      else {
        const message = error instanceof Error ? error.message : 'unknown reason';
        if (!(error instanceof Refusal)) this.log.warn({ err: error, project }, 'intake failed');
        tell({ state: 'failed', message });
      }
    } finally {
      this.running.delete(job.id);
    }
  }
}
