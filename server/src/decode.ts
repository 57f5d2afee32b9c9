import { fork } from 'node:child_process';
import { readFileSync } from 'node:fs';
import type { ReadGridFacts } from './grid-facts.ts';

export interface ChildLimits {
  megabytes: number;
  milliseconds: number;
}
const LIMITS: ChildLimits = { megabytes: 1500, milliseconds: 30_000 };
const LOOK_EVERY = 100;

/** Memory that a process has now, MB; 0 where nobody can tell. */
export function megabytesOf(pid: number): number {
  try {
    return Number(/^VmRSS:\s{1,20}(\d{1,12}) kB$/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
}

/** What a grid file is, decoded in a process of its own whose time and memory are watched; never throws. */
export function gridFactsOf(bytes: Uint8Array, name: string, limits = LIMITS): Promise<ReadGridFacts> {
  return new Promise((resolve) => {
    const child = fork(new URL('./decode-child.ts', import.meta.url), {
      execArgv: ['--import', 'tsx', `--max-old-space-size=${limits.megabytes}`],
      // Nothing of the server's own is there to be read.
      env: { PATH: process.env.PATH, NODE_ENV: process.env.NODE_ENV },
      serialization: 'advanced',
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    let why = 'it made its reader end, as damaged files do. Ask for it again';
    const end = (reason: string): void => {
      why = reason;
      child.kill('SIGKILL');
    };
    const late = setTimeout(() => end(`reading it took longer than ${Math.round(limits.milliseconds / 1000)} seconds`), limits.milliseconds); // prettier-ignore
    const look = setInterval(() => {
      if (megabytesOf(child.pid ?? 0) > limits.megabytes) end(`reading it needs more than ${limits.megabytes} MB`);
    }, LOOK_EVERY);
    let answer: ReadGridFacts | null = null;
    child.on('message', (message) => (answer = message as ReadGridFacts));
    child.on('error', (error) => (why = error.message));
    child.on('close', () => {
      clearTimeout(late);
      clearInterval(look);
      resolve(answer ?? { ok: false, reason: `The grid cannot be used: ${why}.` });
    });
    child.send({ bytes, name }, (error) => {
      if (error) end(error.message);
    });
  });
}
