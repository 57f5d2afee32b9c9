import { expose } from 'comlink';
import { hashBytes } from '#core/kernel';
import { failedRead, type ReadPoints } from '#core/exchange';
import { ChainMemory, previewChange, readKey, runChain, summarise, type ChangePreview } from '#core/chain';
import { applyChange, type Change, type Intake, type ProjectDocument } from '#core/project';
import { gridsOfPlan, readByPlan, readingPlan, unpackRead, type GridBytes } from '#core/sources';
import { packContours, packLines, packPoints, packReduction, packSurface } from '#core/stages';

// The page's own run of the chain, on a thread of its own: the same core as the server's.

const memory = new ChainMemory(40);
const reads = new Map<string, ReadPoints>();

export interface ReadSource {
  project: string;
  /** Content hash of each intake's read. */
  hashes: Record<string, string>;
}

/** How many files' points are kept beside those of the document, for an undo or another try. */
const SPARE = 6;

function forgetReads(needed: ReadonlySet<string>): void {
  const spare = [...reads.keys()].filter((hash) => !needed.has(hash));
  for (const hash of spare.slice(0, -SPARE)) reads.delete(hash);
}

async function loadReads(document: ProjectDocument, source: ReadSource): Promise<(intake: Intake) => ReadPoints> {
  for (const intake of document.intakes) {
    const hash = source.hashes[intake.id];
    if (!hash || reads.has(hash)) continue;
    const response = await fetch(`/api/projects/${source.project}/results/${hash}`);
    if (!response.ok) throw new Error(`What was read from ${intake.fileName} cannot be fetched.`);
    reads.set(hash, unpackRead(new Uint8Array(await response.arrayBuffer())));
  }
  forgetReads(new Set(Object.values(source.hashes)));
  return (intake) => {
    const read = reads.get(source.hashes[intake.id]);
    if (!read) throw new Error(`${intake.fileName} is not computed yet.`);
    return read;
  };
}

/** Another layout, system or geoid means reading originals anew; everything else has been read. */
async function readAnew(
  before: ProjectDocument,
  document: ProjectDocument,
  change: Change,
  source: ReadSource,
  readOf: (intake: Intake) => ReadPoints,
): Promise<(intake: Intake) => ReadPoints> {
  if (change.op === 'intake.add') throw new Error('What this does shows once it is done; it can be taken back.');
  const anew = new Map<string, ReadPoints>();
  for (const intake of document.intakes) {
    const old = before.intakes.find((i) => i.id === intake.id);
    if (old && readKey(before.basis, old) === readKey(document.basis, intake)) continue;
    const plan = readingPlan(document.basis, intake);
    const grids: GridBytes = {};
    for (const grid of gridsOfPlan(plan)) grids[grid.sha256] = await original(source.project, grid.fileId, grid.name);
    const reading = await readByPlan(await original(source.project, intake.fileId, intake.fileName), plan, grids);
    anew.set(intake.id, reading?.ok ? reading.read : failedRead(reading?.reason ?? 'stopped'));
  }
  return (i) => anew.get(i.id) ?? readOf(i);
}

async function original(project: string, fileId: string, name: string): Promise<Uint8Array> {
  const response = await fetch(`/api/projects/${project}/files/${fileId}`);
  if (!response.ok) throw new Error(`${name} cannot be fetched.`);
  return new Uint8Array(await response.arrayBuffer());
}

export interface PreviewAnswer {
  preview: ChangePreview;
  /** Places of changed points after the change, x, y, x, y … */
  places: Float64Array;
}

const work = {
  /** What a change would do, in figures and places, without doing it. */
  async preview(document: ProjectDocument, change: Change, source: ReadSource): Promise<PreviewAnswer> {
    const applied = applyChange(document, change);
    if (!applied.ok) throw new Error(applied.reason);
    const readOf = await loadReads(document, source);
    const before = runChain(document, readOf, memory);
    const after = runChain(
      applied.document,
      await readAnew(document, applied.document, change, source, readOf),
      memory,
    );
    const ids = (d: ProjectDocument): string[] => d.intakes.map((i) => i.id);
    const preview = previewChange(
      before,
      summarise(document, before),
      after,
      summarise(applied.document, after),
      ids(document),
      ids(applied.document),
    );
    return {
      preview,
      places: Float64Array.from(preview.rows.flatMap((row) => [after.points.x[row], after.points.y[row]])),
    };
  },

  /** Computes everything here and gives the content hash of each result, to be held against the server's. */
  async hashes(document: ProjectDocument, source: ReadSource): Promise<Record<string, string>> {
    const result = runChain(document, await loadReads(document, source), new ChainMemory());
    const out: Record<string, string> = {
      points: hashBytes(packPoints(result.points)),
      reduction: hashBytes(packReduction(result)),
      lines: hashBytes(packLines(result.linework)),
      summary: hashBytes(new TextEncoder().encode(JSON.stringify(summarise(document, result)))),
    };
    for (const s of result.surfaces) out[`surface ${s.id}`] = hashBytes(packSurface(s.surface));
    for (const [id, c] of result.contours) out[`contours of ${id}`] = hashBytes(packContours(c.list));
    return out;
  },
};

export type ChainWork = typeof work;
expose(work);
