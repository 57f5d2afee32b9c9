import type { ErrorRequestHandler, Request } from 'express';
import type { Logger } from 'pino';
import { z } from 'zod';
import { issueText } from '#core/measure';
import type { ChangeDetail } from '#core/project';
import type { ChangeEntry, Problem } from '#contract';
import { audit } from '../accounts/audit.ts';
import { isPassing, type Pool } from '../db/db.ts';

/** A refusal with a sentence for the person and a status for the protocol. */
export class Refusal extends Error {
  /** Written down, though to whoever asks it is as if there were nothing. */
  watched = false;

  constructor(
    readonly status: number,
    message: string,
    readonly more: Omit<Problem, 'problem'> = {},
  ) {
    super(message);
  }
}

export const notFound = (what = 'This project'): Refusal => new Refusal(404, `${what} is not found.`);

export const stale = (revision: number, since: ChangeEntry[], yours: ChangeDetail[] = []): Refusal =>
  new Refusal(
    409,
    `Somebody changed the same meanwhile (the project is at revision ${revision}). Nothing of yours was written; look at what changed and try again.`,
    {
      revision,
      since,
      yours,
    },
  );

/** Reads a request's body by a schema; what does not fit is named in a sentence. */
export const bodyOf = <S extends z.ZodType>(request: Request, schema: S): z.output<S> => readBy(schema, request.body);

/** The same of what stands behind the question mark of its address. */
export const queryOf = <S extends z.ZodType>(request: Request, schema: S): z.output<S> => readBy(schema, request.query);

function readBy<S extends z.ZodType>(schema: S, given: unknown): z.output<S> {
  const read = schema.safeParse(given);
  if (read.success) return read.data;
  const issue = read.error.issues[0];
  const place = issue.path.join('.');
  throw new Refusal(400, `${place ? `${place}: ` : ''}${issueText(issue)}`);
}

/** What is written down: who was not allowed to, and the first attempt of too many. */
const isWatched = (error: Refusal, request: Request): boolean => {
  if (error.status !== 429) return error.status === 403 || error.watched;
  const { rateLimit } = request as { rateLimit?: { used: number; limit: number } };
  return rateLimit !== undefined && rateLimit.used === rateLimit.limit + 1;
};

/** PostgreSQL: untranslatable character, invalid byte sequence, a number out of range, an invalid text form of one. */
const NOT_HELD = new Set(['22P05', '22021', '22003', '22P02', '22P03']);

export function answerProblems(pool: Pool, log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) return next(error);
    if (error instanceof Refusal) {
      if (isWatched(error, request)) {
        const project = /^\/projects\/([0-9a-f-]{36})(?:\/|$)/.exec(request.path.replace(/^\/api/, ''))?.[1] ?? null;
        audit(pool, request, { what: 'refused', project, detail: `${request.method} ${request.path}: ${error.message}` }).catch((failed: unknown) => log.error({ err: failed }, 'audit')); // prettier-ignore
      }
      response.status(error.status).json({ problem: error.message, ...error.more } satisfies Problem);
      return;
    }
    const status = (error as { status?: number }).status;
    if (status === 413) {
      response.status(413).json({ problem: 'This is larger than the server takes at once.' });
      return;
    }
    if (status && status >= 400 && status < 500) {
      response.status(status).json({ problem: 'The request cannot be read.' });
      return;
    }
    // What no text of the database can hold, and numbers beyond its own, are the sender's mistake.
    if (NOT_HELD.has((error as { code?: string }).code ?? '')) {
      response.status(400).json({ problem: 'The request holds a character or a number that cannot be stored.' });
      return;
    }
    if (isPassing(error)) {
      log.warn({ err: error, path: request.path }, 'database away');
      response
        .status(503)
        .json({ problem: 'The database is being started again. Nothing was changed; try again in some seconds.' });
      return;
    }
    log.error({ err: error, path: request.path }, 'request failed');
    response.status(500).json({ problem: 'Something went wrong on the server. Nothing was changed; try again.' });
  };
}
