import { EventEmitter } from 'node:events';
import pg from 'pg';
import type { Logger } from 'pino';
import type { LiveEvent } from '#contract';
import type { Client, Pool } from '../db/db.ts';

const CHANNEL = 'dunrik_live';

/** Tells every server on this database what happened, so that each can tell its open pages. */
export const announce = (db: Pool | Client, event: LiveEvent): Promise<unknown> =>
  db.query('select pg_notify($1, $2)', [CHANNEL, JSON.stringify(event)]);

/** Listens on the database and hands events on; reconnects when the connection breaks. */
export class Live {
  private readonly emitter = new EventEmitter().setMaxListeners(0);
  private client: pg.Client | null = null;
  private closed = false;

  constructor(
    private readonly url: string,
    private readonly log: Logger,
  ) {}

  async open(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url });
    client.on('notification', (message) => {
      const event = JSON.parse(message.payload ?? '{}') as LiveEvent;
      this.emitter.emit(event.project, event);
    });
    client.on('error', () => {});
    try {
      await client.connect();
      await client.query(`listen ${CHANNEL}`);
    } catch (error) {
      await client.end().catch(() => {});
      throw error;
    }
    client.on('end', () => void this.reopen());
    this.client = client;
  }

  /** Until the database is there again, or the server ends. */
  private async reopen(): Promise<void> {
    for (let wait = 500; !this.closed; wait = Math.min(2 * wait, 10_000)) {
      await new Promise((resolve) => setTimeout(resolve, wait));
      if (this.closed) return;
      try {
        return await this.open();
      } catch (error) {
        this.log.warn({ err: error }, 'live connection');
      }
    }
  }

  on(project: string, listener: (event: LiveEvent) => void): () => void {
    this.emitter.on(project, listener);
    return () => this.emitter.off(project, listener);
  }

  async close(): Promise<void> {
    this.closed = true;
    await this.client?.end();
  }
}
