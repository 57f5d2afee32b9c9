import type { ProjectDocument } from '#core/project';
import { unpackPoints, type PointTable } from '#core/stages';
import type { SettledStages } from '#contract';
import { fileStem } from '#core/exchange';
import { Refusal } from '../http/problems.ts';
import { blockOf } from '../results/kept-results.ts';
import { newestDocument } from './documents.ts';
import type { ProjectServices } from './services.ts';

/** A project whose newest revision is settled: what sheets and reports on paper are drawn from. */
export interface SettledProject {
  name: string;
  revision: number;
  document: ProjectDocument;
  stages: SettledStages;
  points: PointTable;
  /** A block of the settled results by its hash. */
  block: (hash: string) => Promise<Uint8Array>;
}

/** Refused while the newest revision is still being computed. */
export async function settledProject({ pool, settler }: ProjectServices, project: string): Promise<SettledProject> {
  const found = await pool.query<{ name: string }>('select name from project where id = $1', [project]);
  const { revision, document } = await newestDocument(pool, project);
  const [{ name }] = found.rows;
  const settled = await settler.settled(project);
  if (!settled || settled.revision !== revision)
    throw new Refusal(409, 'The newest revision is still being computed. Try again in a moment.');
  const block = (hash: string): Promise<Uint8Array> => blockOf(pool, hash);
  const { stages } = settled;
  const points = unpackPoints(await block(stages.points));
  return { name, revision, document, stages, points, block };
}

/** A file name of what is drawn from a project. */
export const paperName = ({ name, revision }: Pick<SettledProject, 'name' | 'revision'>, what: string): string =>
  `${fileStem(name, what)}-r${revision}.pdf`;
