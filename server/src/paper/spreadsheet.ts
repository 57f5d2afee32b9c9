import type { Response, Router } from 'express';
import { spreadsheetSchema } from '#contract';
import type { WorkbookSheet } from '#core/report';
import { allow } from '../accounts/membership.ts';
import { ChildEnded, runInChild, type ChildLimits } from '../jobs/child.ts';
import { bodyOf, Refusal } from '../http/problems.ts';

/** 100,000 rows take some 700 MB. */
const LIMITS: ChildLimits = { megabytes: 1500, milliseconds: 60_000 };

/** Rows that the page has put together, as a spreadsheet; the package that writes it runs in a process of its own. */
export function spreadsheetRoutes(router: Router): void {
  router.post('/spreadsheet', allow('see'), async (request, response) => {
    const task = bodyOf(request, spreadsheetSchema);
    const bytes = await written({ name: 'spreadsheet', payload: task }, 'Choose fewer points, or export text.');
    response.type(SPREADSHEET).send(Buffer.from(bytes));
  });
}
const SPREADSHEET = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';

const written = (task: { name: string; payload: unknown }, advice: string): Promise<Uint8Array> =>
  runInChild<Uint8Array>(task, LIMITS).catch((error: unknown) => {
    if (!(error instanceof ChildEnded)) throw error;
    throw new Refusal(413, `The spreadsheet was not written: it has too many rows. ${advice}`);
  });

/** Sheets whose cells calculate, as a spreadsheet. */
export async function sendWorkbook(response: Response, sheets: readonly WorkbookSheet[], name: string): Promise<void> {
  const bytes = await written({ name: 'workbook', payload: sheets }, 'Take the report as CSV.');
  response.attachment(name).type(SPREADSHEET).send(Buffer.from(bytes));
}
