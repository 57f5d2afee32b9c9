import { failedRead } from '#core/exchange';
import { packRead, readByPlan, type GridBytes, type ReadingPlan } from '#core/sources';

export interface ReadTask {
  bytes: Uint8Array;
  plan: ReadingPlan;
  grids: GridBytes;
  fileName: string;
  /** A file that cannot be read is kept as a read with its failure, instead of an error. */
  lenient: boolean;
}

/** Reads an original by its plan. Throws Error with a sentence when it cannot be points of this project at all. */
export async function readOriginal(
  { bytes, plan, grids, fileName, lenient }: ReadTask,
  tell: (share: number) => void,
): Promise<Uint8Array> {
  const reading = await readByPlan(bytes, plan, grids, { onProgress: tell });
  if (!reading) throw new Error(`${fileName}: reading was stopped.`);
  if (!reading.ok && !lenient) throw new Error(`${fileName}: ${reading.reason}`);
  return packRead(reading.ok ? reading.read : failedRead(reading.reason));
}
