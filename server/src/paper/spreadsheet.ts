import type { Router } from 'express';
import { spreadsheetSchema } from '#contract';
import { allow } from '../accounts/membership.ts';
import { ChildEnded, runInChild, type ChildLimits } from '../jobs/child.ts';
import { bodyOf, Refusal } from '../http/problems.ts';

/** 100,000 rows take some 700 MB. */
const LIMITS: ChildLimits = { megabytes: 1500, milliseconds: 60_000 };

/** Rows that the page has put together, as a spreadsheet; the package that writes it runs in a process of its own. */
export function spreadsheetRoutes(router: Router): void {
  router.post('/spreadsheet', allow('see'), async (request, response) => {
    const task = bodyOf(request, spreadsheetSchema);
    const bytes = await runInChild<Uint8Array>({ name: 'spreadsheet', payload: task }, LIMITS).catch(
      (error: unknown) => {
        if (!(error instanceof ChildEnded)) throw error;
        throw new Refusal(413, 'The spreadsheet was not written: it has too many rows. Choose fewer points, or export text.'); // prettier-ignore
      },
    );
    response.type('application/vnd.openxmlformats-officedocument.spreadsheetml.sheet').send(Buffer.from(bytes));
  });
}
