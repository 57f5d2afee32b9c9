import type { Router } from 'express';
import { geoidHeight, gridsNamed, isPublished, transformBetween, WGS84, type GeoidGrid } from '#core/basis';
import { writeBookText, type Book } from '#core/book';
import { geoidOf, unpackRead } from '#core/sources';
import { editedRecords, STATE } from '#core/stages';
import { fileStem, writeLandXmlSurvey } from '#core/exchange';
import { allow, membershipOf } from '../accounts/membership.ts';
import { Refusal } from '../http/problems.ts';
import { gridBytes } from '../projects/read-task.ts';
import type { ProjectServices } from '../projects/services.ts';
import { settledProject, type SettledProject } from '../projects/settled-project.ts';

/** A field book as it stands now, with what a person changed, in an open form: for another office or program. */
export function bookFileRoutes(router: Router, services: ProjectServices): void {
  router.get('/intakes/:intake/book', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const form = String(request.query.form ?? 'landxml');
    if (form !== 'landxml' && form !== 'text') throw new Refusal(400, 'A book goes out as landxml or as text.');
    const settled = await settledProject(services, project);
    const intake = settled.document.intakes.find((i) => i.id === String(request.params.intake));
    if (intake?.form !== 'book') throw new Refusal(404, 'There is no such field book in the project.');
    const read = unpackRead(await settled.block(settled.stages.reads[intake.id]));
    if (!read.book) throw new Refusal(409, 'The book could not be read.');
    const book: Book = { ...read.book, records: editedRecords(settled.document, intake.id, read.book.records) };
    const stem = fileStem(intake.fileName.replace(/\.[^.]*$/, ''));
    const { text, notes } =
      form === 'text'
        ? { text: writeBookText(book, settled.document.settings.order), notes: [] }
        : writeLandXmlSurvey({
            project: settled.name,
            made: new Date().toISOString(),
            book,
            control: controlOf(settled),
            geographic: await geographicOf(services, project, settled),
          });
    response
      .set('Dunrik-Notes', encodeURIComponent(JSON.stringify(notes)))
      .attachment(`${stem}-r${settled.revision}.${form === 'text' ? 'book' : 'xml'}`)
      .type(form === 'text' ? 'text/plain' : 'application/xml')
      .send(text);
  });
}

function controlOf({ document, points }: SettledProject): { number: string; x: number; y: number; z: number }[] {
  const out: ReturnType<typeof controlOf> = [];
  for (let row = 0; row < points.x.length; row++)
    if (points.state[row] === STATE.used && document.intakes[points.intake[row]].purpose === 'control')
      out.push({ number: points.number[row], x: points.x[row], y: points.y[row], z: points.z[row] });
  return out;
}

/** From the project's grid to WGS 84 where the project is on one; heights over the ellipsoid where a geoid says them. */
async function geographicOf(services: ProjectServices, project: string, { document }: SettledProject) {
  const { system, geoid, heights, interpolation } = document.basis;
  if (!isPublished(system) || gridsNamed(system.definition).length) return undefined;
  const made = transformBetween(system, WGS84);
  if (!made.ok) return undefined;
  let grid: GeoidGrid | null = null;
  if (geoid && heights === 'orthometric') {
    const read = await geoidOf(geoid, await gridBytes(services.pool, project, [geoid]));
    grid = read.ok ? read.grid : null;
  }
  return (x: number, y: number, z: number) => {
    const [lon, lat] = [Float64Array.of(x), Float64Array.of(y)];
    made.transformation.apply(lon, lat);
    if (!Number.isFinite(lon[0] + lat[0])) return null;
    const up = grid ? geoidHeight(grid, lon[0], lat[0], interpolation) : 0;
    const known = heights === 'ellipsoidal' || grid !== null;
    return { longitude: lon[0], latitude: lat[0], height: known ? z + up : NaN };
  };
}
