import type { Basis, GridRef, Intake } from '#core/project';
import { gridsOfPlan, readingPlan, type GridBytes } from '#core/sources';
import type { Pool } from '../db/db.ts';
import type { ReadTask } from '../jobs/read-original.ts';
import { bytesOfOriginal } from './originals.ts';

/** Bytes of grid files among a project's originals, by their hash. */
export async function gridBytes(pool: Pool, project: string, grids: readonly GridRef[]): Promise<GridBytes> {
  const out: GridBytes = {};
  for (const grid of grids) {
    const found = await pool.query<{ bytes: Buffer }>(
      'select bytes from file where project_id = $1 and id = $2 and sha256 = $3',
      [project, grid.fileId, grid.sha256],
    );
    if (found.rows[0]) out[grid.sha256] = new Uint8Array(found.rows[0].bytes);
  }
  return out;
}

/** All that reading an intake's original takes. */
export async function readTaskOf(
  pool: Pool,
  project: string,
  basis: Basis,
  intake: Intake,
  lenient: boolean,
): Promise<ReadTask> {
  const bytes = await bytesOfOriginal(pool, project, intake.fileId);
  if (!bytes) throw new Error(`The original ${intake.fileName} is missing.`);
  const plan = readingPlan(basis, intake);
  const grids = await gridBytes(pool, project, gridsOfPlan(plan));
  return { bytes, plan, grids, lenient, fileName: intake.fileName };
}
