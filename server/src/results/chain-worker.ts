import type { MessagePort } from 'node:worker_threads';
import { workerData } from 'piscina';
import { CHAIN_VERSION, ChainRun, stageKey, STAGES, summaryStage, volumeHistory, type ChainSummary, type KeptChange, type VolumeHistory } from '#core/chain'; // prettier-ignore
import { comparisonStage, contoursStage, linesStage, pointsStage, reductionStage, StageMemory, surfaceStage, type ResultRef, type Stage } from '#core/stages'; // prettier-ignore
import type { Intake, ProjectDocument } from '#core/project';
import { readKey, unpackRead } from '#core/sources';
import { makePackage, PackageRefused, type Made, type PackageSpec } from '#core/handover';
import type { ReadPoints } from '#core/exchange';
import type { SettledStages, Settling } from '#contract';
import { openPool, type Pool } from '../db/db.ts';
import { needsChild, readInChild } from '../jobs/decode.ts';
import type { ChildLimits } from '../jobs/child.ts';
import { readOriginal as read, type ReadTask } from '../jobs/read-original.ts';
import { newestDocument } from '../projects/documents.ts';
import { readTaskOf } from '../projects/read-task.ts';
import { blockOf, hashesOf, keepResult, NOTHING_HASH } from './kept-results.ts';

// What runs on the server's worker threads: the same core that the page runs for its previews. A thread asks the
// database itself, so that however much a project holds, nothing of it passes through the thread that answers requests.

/** Kept between tasks of one thread, so that an edit recomputes only what depends on it. */
const memory = new StageMemory(60);
const reads = new Map<string, ReadPoints>();
const { url, limits } = workerData as { url: string; limits: ChildLimits };
let opened: Pool | null = null;
const pool = (): Pool => (opened ??= openPool(url, 2));

/** Reads an original, telling its progress to whoever asked. */
export const readOriginal = ({ port, ...task }: ReadTask & { port: MessagePort }): Promise<Uint8Array> =>
  read(task, (share) => port.postMessage(share));

/** Hashes of what was read of each file; those that are not kept are read from their originals. */
async function readHashes(project: string, { basis, intakes }: ProjectDocument): Promise<Record<string, string>> {
  const keys = intakes.map((i) => readKey(basis, i));
  const kept = await hashesOf(pool(), project, keys);
  const out: Record<string, string> = {};
  for (const [i, intake] of intakes.entries())
    out[intake.id] = kept.get(keys[i]) ?? (await keepResult(pool(), project, keys[i], await readIntake(project, basis, intake))); // prettier-ignore
  return out;
}

async function readIntake(project: string, basis: ProjectDocument['basis'], intake: Intake): Promise<Uint8Array> {
  const task = await readTaskOf(pool(), project, basis, intake, true);
  return needsChild(task) ? readInChild(task, limits, {}) : read(task, () => {});
}

/** What was read of a document's files, from the thread's memory or unpacked from what is kept. */
async function readOfFiles(hashes: Record<string, string>): Promise<(intake: Intake) => ReadPoints> {
  for (const hash of Object.values(hashes)) {
    const known = reads.get(hash) ?? unpackRead(await blockOf(pool(), hash));
    reads.delete(hash);
    reads.set(hash, known);
  }
  const wanted = new Set(Object.values(hashes));
  for (const hash of reads.keys()) if (reads.size > MOST_READS && !wanted.has(hash)) reads.delete(hash);
  return (intake) => reads.get(hashes[intake.id])!;
}
const MOST_READS = 20;

/**
 * Settles a project's newest revision: of every stage what is kept under its key is taken, and what is not is computed.
 * Keys go by what inputs hold, so that one that comes out the same stops the recomputation there.
 */
export async function settle({
  project,
  port,
}: {
  project: string;
  port: MessagePort;
}): Promise<{ revision: number; stages: SettledStages }> {
  const { revision, document } = await newestDocument(pool(), project);
  const hashes = new Map<string, string>();
  const hashOf = ({ stage, subject }: ResultRef): string | undefined =>
    hashes.get(`${stage === 'reads' ? stage : stage.name} ${subject}`);
  const reads = await readHashes(project, document);
  for (const [subject, hash] of Object.entries(reads)) hashes.set(`reads ${subject}`, hash);
  let chain: ChainRun | null = null;
  const tell = teller(document, revision, port);
  for (const stage of STAGES) {
    if (!stage.pack) continue;
    for (const subjects of inTurns(stage, document)) {
      const keys = subjects.map((subject) => stageKey(stage, document, subject, hashOf));
      const kept = await hashesOf(pool(), project, keys);
      for (const [i, subject] of subjects.entries()) {
        let hash = kept.get(keys[i]);
        if (hash === undefined) {
          chain ??= new ChainRun(document, await readOfFiles(reads), memory, { progress: tell });
          hash = await keepResult(pool(), project, keys[i], stage.pack(chain.result(stage, subject)));
        }
        hashes.set(`${stage.name} ${subject}`, hash);
      }
    }
  }
  return { revision, stages: await settledStages(document, reads, hashOf) };
}

/** Subjects of a stage, those that are made from others of it behind them. */
function inTurns(stage: Stage<unknown>, doc: ProjectDocument): string[][] {
  const turns: string[][] = [];
  const done = new Set<string>();
  let left = stage.subjects(doc);
  while (left.length) {
    const ready = left.filter((s) => stage.inputs(doc, s).every((i) => i.stage !== stage || done.has(i.subject)));
    // Nothing is made from itself; were it so, all at once would still end.
    const turn = ready.length ? ready : left;
    turns.push(turn);
    for (const s of turn) done.add(s);
    left = left.filter((s) => !done.has(s));
  }
  return turns;
}

/** Tells what is computed, and how far all of it is: results one by one, and each by its own share. */
function teller(
  doc: ProjectDocument,
  revision: number,
  port: MessagePort,
): (stage: Stage<unknown>, subject: string, share: number) => void {
  const order = STAGES.flatMap((stage) => stage.subjects(doc).map((subject) => `${stage.name} ${subject}`));
  return (stage, subject, share) => {
    const at = order.indexOf(`${stage.name} ${subject}`);
    const told: Settling = { revision, doing: stage.doing(doc, subject), share: (at + share) / order.length };
    port.postMessage(told);
  };
}

/** Where the results of a document are kept, for pages. */
async function settledStages(
  document: ProjectDocument,
  reads: Record<string, string>,
  hashOf: (ref: ResultRef) => string | undefined,
): Promise<SettledStages> {
  const one = (stage: Stage<unknown>): string => hashOf({ stage, subject: '' })!;
  const each = (stage: Stage<unknown>): Record<string, string> =>
    Object.fromEntries(stage.subjects(document).map((subject) => [subject, hashOf({ stage, subject })!]).filter(([, hash]) => hash !== NOTHING_HASH)); // prettier-ignore
  const summary = one(summaryStage);
  const { points, lines, queries } = JSON.parse(new TextDecoder().decode(await blockOf(pool(), summary))) as ChainSummary; // prettier-ignore
  return {
    reads,
    points: one(pointsStage),
    reduction: one(reductionStage),
    lines: one(linesStage),
    surfaces: each(surfaceStage),
    contours: each(contoursStage),
    pieces: each(comparisonStage),
    summary,
    intakes: document.intakes.map((i) => i.id),
    version: CHAIN_VERSION,
    figures: { points, lines, openQueries: queries.filter((q) => !q.accepted).length },
  };
}

export type PackageOutcome =
  | { ok: true; manifest: ReturnType<typeof makePackage>['manifest']; zip: Uint8Array }
  | { ok: false; reason: string; couldBe: string[] };

export async function packageFiles({
  project,
  spec,
  made,
}: {
  project: string;
  spec: PackageSpec;
  made: Made;
}): Promise<PackageOutcome> {
  // prettier-ignore
  const { revision, document } = await newestDocument(pool(), project);
  if (revision !== made.revision)
    return { ok: false, reason: 'Somebody changed the project while the package was made. Look at what changed and try again.', couldBe: [] }; // prettier-ignore
  const readOf = await readOfFiles(await readHashes(project, document));
  try {
    return { ok: true, ...makePackage(document, new ChainRun(document, readOf, memory).all(), spec, made) };
  } catch (error) {
    if (error instanceof PackageRefused) return { ok: false, reason: error.message, couldBe: error.couldBe };
    throw error;
  }
}

export type VolumesBefore = VolumeHistory & { revision: number };

/** So many changes are taken back at the most. */
const MOST_CHANGES = 1000;

/** What a comparison's volumes were before each change, by the computation as it is today. */
export async function volumesBefore({
  project,
  comparison,
}: {
  project: string;
  comparison: string;
}): Promise<VolumesBefore> {
  // prettier-ignore
  const { revision, document } = await newestDocument(pool(), project);
  const found = await pool().query<KeptChange>(
    'select revision, change, inverse from change where project_id = $1 and revision <= $2 order by revision desc limit $3',
    [project, revision, MOST_CHANGES + 1],
  );
  const changes = found.rows.slice(0, MOST_CHANGES);
  const volumeOf = async (doc: ProjectDocument): Promise<{ cut: number; fill: number } | null> => {
    const chain = new ChainRun(doc, await readOfFiles(await readHashes(project, doc)), memory);
    const result = chain.result(comparisonStage, comparison);
    return result.ok ? { cut: result.volume.cut, fill: result.volume.fill } : null;
  };
  const history = await volumeHistory(document, changes, comparison, volumeOf);
  const more = found.rows.length > MOST_CHANGES && history.end === 'begins';
  return { revision, ...history, ...(more ? { end: 'many' as const } : {}) };
}
