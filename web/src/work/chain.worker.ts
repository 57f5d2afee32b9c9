import { expose } from 'comlink';
import { hashBytes } from '#core/kernel';
import { failedRead, readDxf, type ReadPoints } from '#core/exchange';
import { returnedDrawing, type Returned } from '#core/handover';
import type { FileUnit } from '#core/measure';
import { linesStage, pointsStage, StageMemory } from '#core/stages';
import { ChainRun, Previewer, STAGES, type ChangePreview, type MovedRows } from '#core/chain';
import { readKey } from '#core/sources';
import { replaceFile, type Carried, type Change, type Intake, type NewFile, type ProjectDocument } from '#core/project';
import { goneRecords, gridsOfPlan, matchRecords, readByPlan, readingPlan, rowsBeside, unpackRead, type GoneRecord, type GridBytes } from '#core/sources'; // prettier-ignore
import { api } from '../frame/api.ts';
import { knownOf, receive, type Received } from '../frame/received.ts';

// The page's own run of the chain, on a thread of its own: the same core as the server's.

const previewer = new Previewer();
const returnedMemory = new StageMemory();
const reads = new Map<string, ReadPoints>();

/** The document is asked for here, not handed over: however much it holds, the page's own thread does nothing for it. */
let known: { project: string; received: Received } | null = null;

async function documentAt(project: string, revision: number): Promise<ProjectDocument> {
  const before = known?.project === project ? known.received : null;
  if (before && before.state.revision >= revision) return before.state.document;
  const received = receive(before, await api.moved(project, knownOf(before)));
  known = { project, received };
  return received.state.document;
}

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
  if (change.op === 'intake.add') throw new Error('Its effect shows once it is applied; it can be undone.');
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

/** A later export beside the file that is there: records found again, new ones, and those that are in it no more. */
export interface Matched extends Carried {
  change: Change;
  found: number;
  fresh: number;
  gone: number;
  /** The first of those that are gone, for a person to look at. */
  goneRecords: GoneRecord[];
}

/** So many records that are gone are asked about one by one. */
const MOST_ASKED = 500;

/** Which records of the file that was matched last stand in which rows before. */
let lastMatch: { sha256: string; moved: MovedRows } | null = null;

function movedBy(change: Change): MovedRows | null {
  const all = change.op === 'several' ? change.changes : [change];
  return all.some((c) => c.op === 'intake.file' && c.sha256 === lastMatch?.sha256) ? lastMatch!.moved : null;
}

export interface PreviewAnswer {
  preview: ChangePreview;
  /** Places of changed points after the change, x, y, x, y … */
  places: Float64Array;
}

/** The preview that was asked for last: those before it are given up between two stages. */
let newest = 0;

/** Lets the messages in that came meanwhile. */
const pause = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));

const work = {
  /** What a change would do, in figures and places, without doing it. */
  async preview(revision: number, change: Change, source: ReadSource): Promise<PreviewAnswer> {
    const document = await documentAt(source.project, revision);
    const readOf = await loadReads(document, source);
    const anew = (applied: ProjectDocument): Promise<(intake: Intake) => ReadPoints> =>
      readAnew(document, applied, change, source, readOf);
    const mine = ++newest;
    const { preview, after } = await previewer.preview(document, change, readOf, anew, movedBy(change), {
      pause,
      cancelled: () => mine !== newest,
    });
    const { x, y } = after.result.points;
    return { preview, places: Float64Array.from(preview.rows.flatMap((row) => [x[row], y[row]])) };
  },

  /** Nobody waits for the preview any more. */
  cancelPreview(): void {
    newest++;
  },

  /**
   * What a later export of a file's job changes: which of its records are found again, and the change that replaces it.
   * `remaining`: rows of the earlier export that stay although the later one has them no more.
   */
  async matchFile(
    revision: number,
    intakeId: string,
    bytes: Uint8Array,
    file: NewFile,
    source: ReadSource,
    remaining: readonly number[] = [],
  ): Promise<Matched> {
    // prettier-ignore
    const document = await documentAt(source.project, revision);
    const intake = document.intakes.find((i) => i.id === intakeId);
    if (!intake) throw new Error('This file is no longer in the project.');
    const before = (await loadReads(document, source))(intake);
    const plan = readingPlan(document.basis, intake);
    const grids: GridBytes = {};
    for (const grid of gridsOfPlan(plan)) grids[grid.sha256] = await original(source.project, grid.fileId, grid.name);
    const reading = await readByPlan(bytes, plan, grids);
    if (!reading?.ok) throw new Error(`${file.fileName}: ${reading?.reason ?? 'reading was cancelled'}`);
    const rows = matchRecords(before, reading.read);
    lastMatch = { sha256: file.sha256, moved: { intake: intakeId, before: new Map([...rows].map(([old, now]) => [now, old])) } }; // prettier-ignore
    const count = (read: ReadPoints): number => read.book?.records.length ?? read.x.length;
    const gone = goneRecords(before, rows);
    const kept = new Set(remaining.filter((row) => gone.some((g) => g.row === row)));
    const beside = kept.size ? { as: crypto.randomUUID().slice(0, 13), rows: kept, others: rowsBeside(before, kept) } : null; // prettier-ignore
    return {
      ...replaceFile(document, intakeId, file, rows, beside),
      found: rows.size,
      fresh: count(reading.read) - rows.size,
      gone: gone.length,
      goneRecords: gone.slice(0, MOST_ASKED),
    };
  },

  /**
   * What the recipient of a drawing of ours did to it. `sent`: the drawings of the package that it went out in; of several,
   * the one that most of it is as it was in.
   */
  async returned(
    revision: number,
    back: Uint8Array,
    sent: readonly Uint8Array[],
    units: { back?: FileUnit; sent?: FileUnit },
    source: ReadSource,
  ): Promise<Returned> {
    const document = await documentAt(source.project, revision);
    const run = new ChainRun(document, await loadReads(document, source), returnedMemory);
    const { points } = run.result(pointsStage);
    const result = { points, linework: run.result(linesStage), contours: new Map<string, never>(), surfaces: [] };
    const content = readDxf(back);
    const against = sent.length ? sent.map((bytes) => readDxf(bytes)) : [null];
    const all = against.map((of) => returnedDrawing(document, result, content, of, units));
    return all.reduce((best, one) => (one.unchanged > best.unchanged ? one : best));
  },

  /** Computes everything here and gives the content hash of each result by its stage and subject, to be held against the server's. */
  async hashes(revision: number, source: ReadSource): Promise<Record<string, string>> {
    const document = await documentAt(source.project, revision);
    const chain = new ChainRun(document, await loadReads(document, source));
    const hashes: Record<string, string> = {};
    for (const stage of STAGES)
      for (const subject of stage.pack ? stage.subjects(document) : [])
        hashes[`${stage.name} ${subject}`.trim()] = hashBytes(stage.pack!(chain.result(stage, subject)));
    return hashes;
  },
};

export type ChainWork = typeof work;
expose(work);
