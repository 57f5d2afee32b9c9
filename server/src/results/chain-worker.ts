import type { MessagePort } from 'node:worker_threads';
import { ChainMemory, runChain, summarise } from '#core/chain';
import type { Intake, ProjectDocument } from '#core/project';
import { unpackRead } from '#core/sources';
import { packContours, packLines, packPieces, packPoints, packReduction, packSurface } from '#core/stages';
import { makePackage, PackageRefused, type Made, type PackageSpec } from '#core/handover';
import type { ReadPoints } from '#core/exchange';
import { readOriginal as read, type ReadTask } from '../jobs/read-original.ts';

// What runs on the server's worker threads: the same core that the page runs for its previews.

/** Kept between tasks of one thread, so that an edit recomputes only what hangs on it. */
const memory = new ChainMemory(40);
const reads = new Map<string, ReadPoints>();

/** Reads an original, telling its progress to whoever asked. */
export const readOriginal = ({ port, ...task }: ReadTask & { port: MessagePort }): Promise<Uint8Array> =>
  read(task, (share) => port.postMessage(share));

export interface ChainTask {
  document: ProjectDocument;
  /** Packed reads by intake, with their keys. */
  reads: Record<string, { key: string; block: Uint8Array }>;
}

export interface ChainPacks {
  points: Uint8Array;
  reduction: Uint8Array;
  lines: Uint8Array;
  surfaces: Record<string, Uint8Array>;
  contours: Record<string, Uint8Array>;
  pieces: Record<string, Uint8Array>;
  summary: Uint8Array;
}

function run({ document, reads: given }: ChainTask) {
  const readOf = (intake: Intake): ReadPoints => {
    const { key, block } = given[intake.id];
    let read = reads.get(key);
    if (!read) {
      read = unpackRead(block);
      reads.set(key, read);
      if (reads.size > 20) reads.delete(reads.keys().next().value!);
    }
    return read;
  };
  return runChain(document, readOf, memory);
}

export function runStages(task: ChainTask): ChainPacks {
  const result = run(task);
  return {
    points: packPoints(result.points),
    reduction: packReduction(result),
    lines: packLines(result.linework),
    surfaces: Object.fromEntries(result.surfaces.map((g) => [g.id, packSurface(g.surface)])),
    contours: Object.fromEntries([...result.contours].map(([id, c]) => [id, packContours(c.list)])),
    pieces: Object.fromEntries(result.comparisons.flatMap((c) => (c.ok ? [[c.id, packPieces(c.volume.pieces)]] : []))),
    summary: new TextEncoder().encode(JSON.stringify(summarise(task.document, result))),
  };
}

export type PackageOutcome =
  { ok: true; manifest: ReturnType<typeof makePackage>['manifest']; zip: Uint8Array } | { ok: false; reason: string };

export function packageFiles({ spec, made, ...task }: ChainTask & { spec: PackageSpec; made: Made }): PackageOutcome {
  try {
    return { ok: true, ...makePackage(task.document, run(task), spec, made) };
  } catch (error) {
    if (error instanceof PackageRefused) return { ok: false, reason: error.message };
    throw error;
  }
}
