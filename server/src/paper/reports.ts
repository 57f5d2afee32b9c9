import type { Router } from 'express';
import type { ChainSummary } from '#core/chain';
import { groundOf } from '#core/project';
import { codeReport, controlReport, quantityWorkbook, REPORT_LEVELS } from '#core/report';
import { unpackPieces } from '#core/stages';
import { newestMark } from '../projects/checked.ts';
import { changeList } from '../projects/history.ts';
import { accountOf } from '../accounts/signed-in.ts';
import { allow, membershipOf } from '../accounts/membership.ts';
import { Refusal } from '../http/problems.ts';
import { newestDocument } from '../projects/documents.ts';
import type { ProjectServices } from '../projects/services.ts';
import { paperName, settledProject } from '../projects/settled-project.ts';
import { sendWorkbook } from './spreadsheet.ts';
import { markOf, mayHaveBoxes, sendPaper } from './papers.ts';

const DAY = new Intl.DateTimeFormat('en-GB', { dateStyle: 'long' });

/** Reports on paper, laid out on a thread: the books, the control, the codes and line words for the crew. */
export function reportRoutes(router: Router, services: ProjectServices): void {
  router.get('/book-report', allow('see'), async (request, response) => {
    const level = REPORT_LEVELS.find((l) => l === String(request.query.level ?? 'known'));
    if (!level) throw new Refusal(400, `The report is of one of these: ${REPORT_LEVELS.join(', ')}.`);
    const form = request.query.form === 'csv' ? 'csv' : 'pdf';
    const { project } = membershipOf(request);
    const settled = await settledProject(services, project);
    const { name, revision, document, stages, block } = settled;
    const reads: Record<string, Uint8Array> = {};
    for (const { id } of document.intakes.filter((i) => i.form === 'book'))
      if (stages.reads[id]) reads[id] = await block(stages.reads[id]);
    const made = await services.settler.report({
      project: { name, revision },
      document,
      level,
      form,
      mark: markOf(settled),
      boxes: mayHaveBoxes(request),
      changes: await changeList(services, project, accountOf(request), { changes: 10_000, details: Infinity }),
      points: await block(stages.points),
      lines: await block(stages.lines),
      reduction: await block(stages.reduction),
      summary: await block(stages.summary),
      reads,
    });
    if (!made) throw new Refusal(409, 'The project has no field book to report on.');
    const file = paperName(settled, 'books');
    if (form === 'pdf') return sendPaper(response, made, file);
    // The mark by which spreadsheets know the letters, where somebody's needs it.
    const marked = request.query.bom === 'yes' ? [Buffer.from('\ufeff')] : [];
    const bytes = Buffer.concat([...marked, made.bytes!]);
    sendPaper(response, { bytes, lacking: null }, file.replace(/pdf$/, 'csv'), 'text/csv; charset=utf-8');
  });

  router.get('/control-sheet', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const settled = await settledProject(services, project);
    const report = controlReport(settled.document, settled.points, settled);
    if (report.tables[0].rows.length === 0) throw new Refusal(409, 'The project has no control to put on a sheet.');
    const made = await services.settler.paper({ report, mark: markOf(settled), boxes: mayHaveBoxes(request) });
    sendPaper(response, made, paperName(settled, 'control'));
  });

  router.get('/surface-report', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const settled = await settledProject(services, project);
    const { document, stages, block } = settled;
    const wanted = String(request.query.surface ?? groundOf(document).id);
    const surface = document.surfaces.find((s) => s.id === wanted);
    if (!surface || !stages.surfaces[wanted]) throw new Refusal(404, 'The project has no such surface.');
    const made = await services.settler.surfaceReport({
      document,
      surface: wanted,
      mark: markOf(settled),
      boxes: mayHaveBoxes(request),
      points: await block(stages.points),
      summary: await block(stages.summary),
      triangles: await block(stages.surfaces[wanted]),
    });
    sendPaper(response, made, paperName(settled, `${surface.name} fit to use`));
  });

  router.get('/quantity-report', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const settled = await settledProject(services, project);
    const { document, name, revision, stages, block } = settled;
    const comparison = document.comparisons.find((c) => c.id === String(request.query.comparison ?? ''));
    if (!comparison) throw new Refusal(404, 'The project has no such comparison.');
    const summary = JSON.parse(new TextDecoder().decode(await block(stages.summary))) as ChainSummary;
    const figures = summary.comparisons.find((c) => c.id === comparison.id);
    if (!figures?.ok) throw new Refusal(409, figures?.reason ?? 'The comparison is still being computed. Try again in a moment.'); // prettier-ignore
    const checked = await newestMark(services.pool, project);
    const of = { name, revision, date: DAY.format(new Date()), checked: checked && { ...checked, at: DAY.format(new Date(checked.at)) } }; // prettier-ignore
    const pieces = await block(stages.pieces[comparison.id]);
    const fileName = paperName(settled, `${comparison.name} quantities`);
    const { form } = request.query;
    if (form === 'xlsx') {
      const sheets = quantityWorkbook(document, comparison, figures, unpackPieces(pieces), of);
      return void sendWorkbook(response, sheets, fileName.replace(/pdf$/, 'xlsx'));
    }
    const { surface, against } = comparison;
    const compared = [surface, ...('surface' in against ? [against.surface] : [])];
    const triangles: Record<string, Uint8Array> = {};
    for (const id of compared) if (stages.surfaces[id]) triangles[id] = await block(stages.surfaces[id]);
    const made = await services.settler.quantityReport({
      document,
      comparison: comparison.id,
      form: form === 'csv' ? 'csv' : 'pdf',
      summary: await block(stages.summary),
      pieces,
      points: await block(stages.points),
      triangles,
      of,
      mark: markOf(settled),
      boxes: mayHaveBoxes(request),
    });
    if (form === 'csv') sendPaper(response, made, fileName.replace(/pdf$/, 'csv'), 'text/csv');
    else sendPaper(response, made, fileName);
  });

  router.get('/code-sheet', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const found = await services.pool.query<{ name: string }>('select name from project where id = $1', [project]);
    const { revision, document } = await newestDocument(services.pool, project);
    const of = { name: found.rows[0].name, revision };
    const report = codeReport(document.codeList, of);
    const made = await services.settler.paper({ report, mark: markOf(of), boxes: mayHaveBoxes(request) });
    sendPaper(response, made, paperName(of, 'codes'));
  });
}
