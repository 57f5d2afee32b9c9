import type { Router } from 'express';
import { allow, membershipOf } from '../accounts/membership.ts';
import { notFound } from '../http/problems.ts';
import type { ProjectServices } from '../projects/services.ts';
import { paperName, settledProject } from '../projects/settled-project.ts';

/** Plots of a project as PDF. */
export function plotRoutes(router: Router, services: ProjectServices): void {
  router.get('/plots/:plot', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const settled = await settledProject(services, project);
    const { document, stages, block, name, revision } = settled;
    const plot = document.drawing.plots.find((p) => p.id === request.params.plot);
    if (!plot) throw notFound('This plot');
    const [points, lines, contours] = await Promise.all([stages.points, stages.lines, stages.contours].map(block));
    const facts = { project: name, revision, date: new Date().toISOString().slice(0, 10) };
    const bytes = await services.settler.plot({ document, plot, facts, points, lines, contours });
    const file = paperName(settled, plot.title.normalize('NFKD').replace(/[^A-Za-z0-9]+/g, '-').slice(0, 40)); // prettier-ignore
    response.attachment(file).type('application/pdf').send(Buffer.from(bytes));
  });
}
