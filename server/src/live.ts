import { EventEmitter } from 'node:events';
import pg from 'pg';
import type { Logger } from 'pino';
import type { LiveEvent } from '#contract';
import type { Client, Pool } from './db.ts';

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
    client.on('end', () => {
      if (!this.closed)
        setTimeout(() => this.open().catch((error: unknown) => this.log.error({ error }, 'live connection')), 1000);
    });
    await client.connect();
    await client.query(`listen ${CHANNEL}`);
    this.client = client;
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
