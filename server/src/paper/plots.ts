import type { Request, Response, Router } from 'express';
import { sheetNames } from '#core/drawing';
import { groundOf, type Plot } from '#core/project';
import { allow, membershipOf } from '../accounts/membership.ts';
import { notFound, Refusal } from '../http/problems.ts';
import type { ProjectServices } from '../projects/services.ts';
import { paperName, settledProject, type SettledProject } from '../projects/settled-project.ts';
import { mayHaveBoxes, sendPaper } from './papers.ts';

/** Plots of a project as PDF: one sheet, or all of a series. */
export function plotRoutes(router: Router, services: ProjectServices): void {
  const send = async (request: Request, response: Response, wanted: (plot: Plot) => boolean, what: string) => {
    const { project } = membershipOf(request);
    const settled = await settledProject(services, project);
    const { document, stages, block, name, revision } = settled;
    const plots = document.drawing.plots.filter(wanted);
    if (plots.length === 0) throw notFound(what);
    const sheets = await Promise.all(
      plots.map(async (plot) => ({
        plot,
        contours: await contoursOf(settled, plot),
        surface: await tintedOf(settled, plot),
      })),
    );
    const facts = { project: name, revision, date: new Date().toISOString().slice(0, 10) };
    const boxes = mayHaveBoxes(request);
    const [points, lines] = await Promise.all([stages.points, stages.lines].map(block));
    const made = await services.settler.plots({ document, sheets, facts, points, lines, boxes });
    sendPaper(response, made, paperName(settled, sheetNames(document.drawing.plots).get(plots[0].id)!));
  };

  router.get('/plots/:plot', allow('see'), (request, response) =>
    send(request, response, (p) => p.id === request.params.plot, 'This plot'),
  );

  router.get('/plots/series/:series', allow('see'), (request, response) =>
    send(request, response, (p) => p.series === request.params.series, 'This series of plots'),
  );
}

/** The packed surface of a plot that a look tints; null of others, and where look or surface are gone. */
async function tintedOf({ document, stages, block }: SettledProject, plot: Plot): Promise<Uint8Array | null> {
  if (!document.drawing.looks.some((l) => l.id === plot.look)) return null;
  const hash = stages.surfaces[plot.surface ?? groundOf(document).id] as string | undefined;
  return hash === undefined ? null : block(hash);
}

/** Packed contours of the surface that a plot shows. */
async function contoursOf({ document, stages, block }: SettledProject, plot: Plot): Promise<Uint8Array> {
  const ground = groundOf(document).id;
  const own = stages.contours[plot.surface ?? ground] as string | undefined;
  if (plot.contours && own === undefined)
    throw new Refusal(409, `The surface of the plot “${plot.title}” is no longer in the project. Choose another.`);
  return block(own ?? stages.contours[ground]);
}
