import type { Router } from 'express';
import { REPORT_LEVELS } from '#core/report';
import { changeList } from '../projects/history.ts';
import { accountOf } from '../accounts/signed-in.ts';
import { allow, membershipOf } from '../accounts/membership.ts';
import { Refusal } from '../http/problems.ts';
import type { ProjectServices } from '../projects/services.ts';
import { paperName, settledProject } from '../projects/settled-project.ts';

/** The report of the books as a PDF or as text, made on a thread from settled results. */
export function bookReportRoutes(router: Router, services: ProjectServices): void {
  router.get('/book-report', allow('see'), async (request, response) => {
    const level = REPORT_LEVELS.find((l) => l === String(request.query.level ?? 'known'));
    if (!level) throw new Refusal(400, `The report is of one of these: ${REPORT_LEVELS.join(', ')}.`);
    const form = request.query.form === 'csv' ? 'csv' : 'pdf';
    const { project } = membershipOf(request);
    const settled = await settledProject(services, project);
    const { name, revision, document, stages, block } = settled;
    const reads: Record<string, Uint8Array> = {};
    for (const { id } of document.intakes.filter((i) => i.form === 'book' && level === 'readings'))
      if (stages.reads[id]) reads[id] = await block(stages.reads[id]);
    const made = await services.settler.report({
      project: { name, revision },
      document,
      level,
      form,
      changes: await changeList(services, project, accountOf(request), { changes: 10_000, details: Infinity }),
      points: await block(stages.points),
      reduction: await block(stages.reduction),
      summary: await block(stages.summary),
      reads,
    });
    if (!made) throw new Refusal(409, 'The project has no field book to report on.');
    const file = paperName(settled, 'books');
    response
      .attachment(form === 'csv' ? file.replace(/pdf$/, 'csv') : file)
      .type(form === 'csv' ? 'text/csv; charset=utf-8' : 'application/pdf')
      .send(Buffer.from(made));
  });
}
