import type { Router } from 'express';
import { allow, membershipOf } from '../accounts/membership.ts';
import { sheetNames } from '#core/drawing';
import { groundOf } from '#core/project';
import { notFound, Refusal } from '../http/problems.ts';
import type { ProjectServices } from '../projects/services.ts';
import { paperName, settledProject } from '../projects/settled-project.ts';
import { mayHaveBoxes, sendPaper } from './papers.ts';

/** Plots of a project as PDF. */
export function plotRoutes(router: Router, services: ProjectServices): void {
  router.get('/plots/:plot', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const settled = await settledProject(services, project);
    const { document, stages, block, name, revision } = settled;
    const plot = document.drawing.plots.find((p) => p.id === request.params.plot);
    if (!plot) throw notFound('This plot');
    const ofSurface = stages.contours[plot.surface ?? groundOf(document).id] as string | undefined;
    if (plot.contours && ofSurface === undefined)
      throw new Refusal(409, `The surface of the plot “${plot.title}” is no longer in the project. Choose another.`);
    const contourHash = ofSurface ?? stages.contours[groundOf(document).id];
    const [points, lines, contours] = await Promise.all([stages.points, stages.lines, contourHash].map(block));
    const facts = { project: name, revision, date: new Date().toISOString().slice(0, 10) };
    const boxes = mayHaveBoxes(request);
    const made = await services.settler.plot({ document, plot, facts, points, lines, contours, boxes });
    sendPaper(response, made, paperName(settled, sheetNames(document.drawing.plots).get(plot.id)!));
  });
}
