import { isSpreadsheet } from '#core/exchange';
import { ChildEnded, runInChild, type ChildLimits } from './child.ts';
import type { ReadGridFacts } from '../projects/grid-facts.ts';
import type { ReadTask } from './read-original.ts';

const LIMITS: ChildLimits = { megabytes: 1500, milliseconds: 30_000 };

/** What a grid file is, decoded in a process of its own; never throws. */
export async function gridFactsOf(bytes: Uint8Array, name: string, limits = LIMITS): Promise<ReadGridFacts> {
  try {
    return await runInChild<ReadGridFacts>({ name: 'grid', payload: { bytes, name } }, limits);
  } catch (error) {
    const why = (error as Error).message.replace(/\.$/, '');
    return { ok: false, reason: `The grid cannot be used: ${why}.` };
  }
}

/** Whether reading an original unpacks a spreadsheet, or decodes a raster grid. */
export const needsChild = ({ bytes, plan }: Pick<ReadTask, 'bytes' | 'plan'>): boolean =>
  isSpreadsheet(bytes) || [plan.geoid, ...plan.datumGrids].some((grid) => grid?.format === 'geotiff');

/** Reads an original in a process of its own. Throws Error with a sentence, naming the file. */
export async function readInChild(
  task: ReadTask,
  limits: ChildLimits,
  watch: { signal?: AbortSignal; onProgress?: (share: number) => void },
): Promise<Uint8Array> {
  try {
    return await runInChild<Uint8Array>({ name: 'read', payload: task }, limits, watch);
  } catch (error) {
    if (!(error instanceof ChildEnded)) throw error;
    throw new Error(`${task.fileName} was not read: ${error.message}. A part of it, or the same as text, may do.`);
  }
}
