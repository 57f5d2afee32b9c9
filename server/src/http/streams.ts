import { createHash } from 'node:crypto';
import type { Request, Response } from 'express';
import type { Live } from './live.ts';
import { Refusal } from './problems.ts';

/** A reader that has so many bytes waiting does not read. */
const MOST_UNREAD = 1024 * 1024;
const MOST_EACH = 30;

/** Under which name the end of a session is told to every server; its own number would let whoever hears it in. */
export const sessionTopic = (sid: string): string => `session:${createHash('sha256').update(sid).digest('hex')}`;

/** Open event streams: so many a person, ended when they sign out or lose their place, dropped when nobody reads them. */
export class Streams {
  private readonly each = new Map<string, number>();

  constructor(private readonly live: Live) {}

  /** Opens a stream of a project; gives what writes to it, and is told when it ends. */
  open(
    request: Request,
    response: Response,
    who: { account: string; project: string; stays: () => Promise<boolean> },
    onEnd: () => void,
  ): void {
    const { account, project, stays } = who;
    const open = this.each.get(account) ?? 0;
    if (open >= MOST_EACH) throw new Refusal(429, 'Too many pages are open. Close some of them.');
    this.each.set(account, open + 1);
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      Connection: 'keep-alive',
      'X-Accel-Buffering': 'no',
    });
    const write = (text: string): void => {
      if (response.writableLength > MOST_UNREAD) response.destroy();
      else response.write(text);
    };
    write('retry: 2000\n\n');
    const leave = [
      this.live.on(project, (event) => {
        write(`data: ${JSON.stringify(event)}\n\n`);
        // Who is in has changed: it may be this one.
        if (event.type === 'people') void stays().then((ok) => ok || response.end(), () => response.end()); // prettier-ignore
      }),
      this.live.on(sessionTopic(request.sessionID), () => response.end()),
    ];
    const beat = setInterval(() => write(': here\n\n'), 20_000);
    response.on('close', () => {
      clearInterval(beat);
      for (const one of leave) one();
      const rest = (this.each.get(account) ?? 1) - 1;
      if (rest > 0) this.each.set(account, rest);
      else this.each.delete(account);
      onEnd();
    });
  }
}

const made = new WeakMap<Live, Streams>();

/** One count of streams for all routes of a server. */
export function streamsOf(live: Live): Streams {
  const known = made.get(live) ?? new Streams(live);
  made.set(live, known);
  return known;
}
