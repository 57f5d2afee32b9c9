import { runChain, type ChainResult } from '#core/chain';
import type { ReadPoints } from '#core/exchange';
import { applyChange, newDocument, type ProjectDocument } from '#core/project';
import { packRead, readByPlan, readingPlan, unpackRead } from '#core/sources';
import type { DemoProject } from '#demo';

/** A demo project as the server would have it: its document and everything computed from it. */
export async function computed(demo: DemoProject): Promise<{ doc: ProjectDocument; result: ChainResult }> {
  const doc = demo.changes.reduce((before, change) => {
    const applied = applyChange(before, change);
    if (!applied.ok) throw new Error(applied.reason);
    return applied.document;
  }, newDocument());
  const reads = new Map<string, ReadPoints>();
  for (const intake of doc.intakes) {
    const file = demo.files.find((f) => f.id === intake.fileId)!;
    const reading = await readByPlan(file.bytes, readingPlan(doc.basis, intake), {});
    if (!reading?.ok) throw new Error(`${intake.fileName} is not read`);
    reads.set(intake.id, unpackRead(packRead(reading.read)));
  }
  return { doc, result: runChain(doc, (i) => reads.get(i.id)!) };
}
