import { applyChange, type Change, type ProjectDocument } from '#core/project';
import type { ReadOf } from '#core/stages';
import { ChainRun } from './chain-run.ts';
import { previewChange, type ChangePreview, type Computed, type MovedRows } from './difference.ts';
import { ChainMemory } from './memory.ts';
import { summarise } from './summary.ts';

/** Shows what changes would do. What stands before them is computed once for a document, however many are tried. */
export class Previewer {
  private before: Computed | null = null;

  constructor(private readonly memory = new ChainMemory(40)) {}

  private compute(doc: ProjectDocument, readOf: ReadOf): Computed {
    const result = new ChainRun(doc, readOf, this.memory).all();
    return { doc, result, summary: summarise(doc, result) };
  }

  /** Throws Error with the reason where the change cannot be made. */
  async preview(
    doc: ProjectDocument,
    change: Change,
    readOf: ReadOf,
    /** Files that the change has read anew. */
    readAfter: (after: ProjectDocument) => Promise<ReadOf> = async () => Promise.resolve(readOf),
    /** Where the change puts a later export in a file’s place. */
    moved: MovedRows | null = null,
  ): Promise<{ preview: ChangePreview; after: Computed }> {
    const applied = applyChange(doc, change);
    if (!applied.ok) throw new Error(applied.reason);
    if (this.before?.doc !== doc) this.before = this.compute(doc, readOf);
    const after = this.compute(applied.document, await readAfter(applied.document));
    return { preview: previewChange(this.before, after, moved), after };
  }
}
