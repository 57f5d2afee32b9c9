import { fork } from 'node:child_process';
import { readFileSync } from 'node:fs';

// What foreign code decodes runs in a process of its own: a small file can make such code end its process, or take memory
// that no limit of a thread counts. Its time and memory are watched from here.

export interface ChildLimits {
  megabytes: number;
  milliseconds: number;
}
const LOOK_EVERY = 100;

/** What a child is asked, and what it answers with; progress comes as shares. */
export type FromChild<T> = { share: number } | { done: T } | { failed: string };

/** A child was ended or ended by itself; the message says why, without a full stop. */
export class ChildEnded extends Error {}

/** Memory that a process has now, MB; 0 where nobody can tell. */
export function megabytesOf(pid: number): number {
  try {
    return Number(/^VmRSS:\s{1,20}(\d{1,12}) kB$/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
}

/** Runs one task in a process of its own. Throws ChildEnded where it did not come to its end, Error with what it said. */
export function runInChild<T>(
  task: { name: string; payload: unknown },
  limits: ChildLimits,
  { signal, onProgress }: { signal?: AbortSignal; onProgress?: (share: number) => void } = {},
): Promise<T> {
  return new Promise((resolve, reject) => {
    signal?.throwIfAborted();
    const child = fork(new URL('./child-tasks.ts', import.meta.url), {
      execArgv: ['--import', 'tsx', `--max-old-space-size=${limits.megabytes}`],
      // Nothing of the server's own is there to be read.
      env: { PATH: process.env.PATH, NODE_ENV: process.env.NODE_ENV },
      serialization: 'advanced',
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    let why = 'reading it failed, as it does with damaged files';
    const end = (reason: string): void => {
      why = reason;
      child.kill('SIGKILL');
    };
    const late = setTimeout(() => end(`reading it took longer than ${Math.round(limits.milliseconds / 1000)} seconds`), limits.milliseconds); // prettier-ignore
    const look = setInterval(() => {
      if (megabytesOf(child.pid ?? 0) > limits.megabytes) end(`reading it needs more than ${limits.megabytes} MB`);
    }, LOOK_EVERY);
    const stop = (): void => end('reading it was stopped');
    signal?.addEventListener('abort', stop);
    let answer: Exclude<FromChild<T>, { share: number }> | null = null;
    child.on('message', (message: FromChild<T>) => {
      if ('share' in message) onProgress?.(message.share);
      else answer = message;
    });
    child.on('error', (error) => (why = error.message));
    child.on('close', () => {
      clearTimeout(late);
      clearInterval(look);
      signal?.removeEventListener('abort', stop);
      if (answer && 'done' in answer) resolve(answer.done);
      else reject(answer ? new Error(answer.failed) : new ChildEnded(why));
    });
    child.send(task, (error) => {
      if (error) end(error.message);
    });
  });
}
