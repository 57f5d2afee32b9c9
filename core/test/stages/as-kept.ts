import type { ReadPoints } from '#core/exchange';
import { applyChange, newDocument, type Change, type Intake, type ProjectDocument } from '#core/project';
import { packRead, readByPlan, readingPlan, unpackRead } from '#core/sources';

/** What a file is read as, as it is kept and given back. */
export async function readAsKept(file: Uint8Array, intake: Intake): Promise<ReadPoints> {
  const reading = await readByPlan(file, readingPlan(newDocument().basis, intake), {});
  if (!reading?.ok) throw new Error(reading?.reason);
  return unpackRead(packRead(reading.read));
}

/** The document after a change; one that is refused is an error here. */
export function changed(doc: ProjectDocument, change: Change): ProjectDocument {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
}
