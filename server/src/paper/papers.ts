import type { Request, Response } from 'express';
import { Refusal } from '../http/problems.ts';
import type { SettledProject } from '../projects/settled-project.ts';
import type { PaperMade } from './paged.ts';

/** What stands in the head of every sheet. */
export const markOf = ({ revision }: Pick<SettledProject, 'revision'>): string =>
  `revision ${revision} · ${new Date().toISOString().slice(0, 10)}`;

/** Whether letters that no font has may be boxes: the way out of a paper that would not be whole. */
export const mayHaveBoxes = (request: Request): boolean => request.query.boxes === 'yes';

/** Sends a paper, or refuses it with the letters that no font here has. */
export function sendPaper(response: Response, made: PaperMade, name: string, type = 'application/pdf'): void {
  if (made.bytes) return void response.attachment(name).type(type).send(Buffer.from(made.bytes));
  const some = made.lacking.slice(0, 8).map(([letter, words]) => `${letter} in “${words.slice(0, 60)}”`);
  const more = made.lacking.length > some.length ? ` and ${made.lacking.length - some.length} more` : '';
  throw new Refusal(
    409,
    `No font here has ${some.join(', ')}${more}. Change the words, or print a box in the place of each.`,
    { lacking: made.lacking.slice(0, 100) },
  );
}
