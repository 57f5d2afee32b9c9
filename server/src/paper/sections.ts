import type { Router } from 'express';
import { z } from 'zod';
import type { ChainSummary } from '#core/chain';
import type { Comparison, ProjectDocument } from '#core/project';
import { MOST_SKEW } from '#core/quantities';
import { allow, membershipOf } from '../accounts/membership.ts';
import { Refusal } from '../http/problems.ts';
import type { ProjectServices } from '../projects/services.ts';
import { paperName, settledProject } from '../projects/settled-project.ts';
import { markOf, mayHaveBoxes, sendPaper } from './papers.ts';
import { SECTION_FORMS, type SectionForm, type SectionsTask } from './sections-thread.ts';

const DAY = new Intl.DateTimeFormat('en-GB', { dateStyle: 'long' });
const TYPE: Record<SectionForm, string> = { pdf: 'application/pdf', profile: 'application/pdf', csv: 'text/csv; charset=utf-8', dxf: 'application/dxf', xml: 'application/xml' }; // prettier-ignore

/** Degrees of skew at the most. */
const MOST_DEGREES = Math.round((MOST_SKEW / Math.PI) * 180);
const metres = (least: number, most: number) => z.coerce.number().min(least).max(most);
const askedSchema = z.object({
  comparison: z.string().min(1).max(40),
  form: z.enum(SECTION_FORMS),
  spacing: metres(0.01, 1e5),
  left: metres(0, 1e4),
  right: metres(0, 1e4),
  bends: z.enum(['yes', 'no']).default('no'),
  scale: z.coerce.number().int().min(1).max(1e6).optional(),
  times: metres(1, 100).default(1),
  /** m; points within this of a section, and lines through it, are told. */
  near: metres(0, 1e3).optional(),
  /** More surfaces to go through, by their ids, separated by commas. */
  also: z.string().max(400).optional(),
  /** Degrees. */
  skew: metres(-MOST_DEGREES, MOST_DEGREES).default(0),
});

/** Sections of a comparison across its line: sheets at true scale, a table, lines in space, an alignment with them. */
export function sectionRoutes(router: Router, services: ProjectServices): void {
  router.get('/sections', allow('see'), async (request, response) => {
    const read = askedSchema.safeParse(request.query);
    if (!read.success) throw new Refusal(400, `Sections cannot be cut like that: ${read.error.issues[0].path.join('.')} is missing, or beyond what it can be.`); // prettier-ignore
    const { comparison: id, form, scale, times, bends, skew, near, also, ...asked } = read.data;
    if (skew !== 0 && form === 'xml') throw new Refusal(409, 'LandXML is written of square sections alone: programs differ in which way a skew turns.'); // prettier-ignore
    const { project } = membershipOf(request);
    const settled = await settledProject(services, project);
    const { document, name, revision, stages, block } = settled;
    const comparison = document.comparisons.find((c) => c.id === id);
    if (!comparison) throw new Refusal(404, 'The project has no such comparison.');
    if (!stages.pieces[id]) throw new Refusal(409, 'The comparison has no figures, so there is nothing to cut.');
    const summary = JSON.parse(new TextDecoder().decode(await block(stages.summary))) as ChainSummary;
    const figures = summary.comparisons.find((c) => c.id === id);
    if (figures?.ok && figures.cells) throw new Refusal(409, 'The comparison has more pieces than are kept, so that its sections would not be exact. Compare inside a smaller boundary.'); // prettier-ignore
    const pieces = await block(stages.pieces[id]);
    const made = await services.settler.sections({
      document,
      comparison: id,
      asked: { ...asked, bends: bends === 'yes', skew: (skew / 180) * Math.PI },
      through: await throughOf(document, comparison, also?.split(',') ?? [], (surface) =>
        block(stages.surfaces[surface]),
      ),
      near:
        near === undefined
          ? null
          : { points: await block(stages.points), lines: await block(stages.lines), within: near },
      pieces,
      form,
      scale: scale ?? null,
      times,
      of: { name, revision, date: DAY.format(new Date()) },
      made: new Date().toISOString(),
      mark: markOf(settled),
      boxes: mayHaveBoxes(request),
    });
    if ('reason' in made) throw new Refusal(409, made.reason);
    sendPaper(
      response,
      made,
      paperName(settled, `${comparison.name} ${form === 'profile' ? 'profile' : 'sections'}`).replace(
        /pdf$/,
        form === 'profile' ? 'pdf' : form,
      ),
      TYPE[form],
    );
  });
}

/** Surfaces that sections go through beside those compared, at the most. */
const MOST_MORE = 8;

/** What sections go through: the compared surface first, then what it is compared with, then what else is asked for. */
async function throughOf(
  { surfaces }: ProjectDocument,
  { surface, against }: Comparison,
  also: readonly string[],
  block: (surface: string) => Promise<Uint8Array>,
): Promise<SectionsTask['through']> {
  const one = async (id: string) => ({ name: surfaces.find((s) => s.id === id)?.name ?? id, triangles: await block(id) }); // prettier-ignore
  const other = 'surface' in against ? await one(against.surface) : 'level' in against ? { name: 'level', level: against.level } : null; // prettier-ignore
  const ids = new Set([surface, ...('surface' in against ? [against.surface] : [])]);
  const more = surfaces.filter((s) => also.includes(s.id) && !ids.has(s.id)).slice(0, MOST_MORE);
  return [await one(surface), ...(other ? [other] : []), ...(await Promise.all(more.map((s) => one(s.id))))];
}
