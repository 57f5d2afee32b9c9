import { applyChange, type Change, type ProjectDocument } from '#core/project';
import { StageMemory, type ReadOf } from '#core/stages';
import { ChainRun } from './chain-run.ts';
import { previewChange, type ChangePreview, type Computed, type MovedRows } from './difference.ts';
import { STAGES } from './stages.ts';

/** How a preview gives way to what has come meanwhile. */
export interface Yielding {
  /** Lets others have a turn. */
  pause: () => Promise<void>;
  /** Whether something newer is asked for. */
  cancelled: () => boolean;
}
const NEVER: Yielding = { pause: () => Promise.resolve(), cancelled: () => false };

/** Shows what changes would do. What stands before them is computed once for a document, however many are tried. */
export class Previewer {
  private before: Computed | null = null;

  constructor(private readonly memory = new StageMemory(60)) {}

  /** Stage by stage, with a pause behind each that took time. */
  private async compute(doc: ProjectDocument, readOf: ReadOf, { pause, cancelled }: Yielding): Promise<Computed> {
    const run = new ChainRun(doc, readOf, this.memory, { cancelled });
    for (const stage of STAGES)
      for (const subject of stage.subjects(doc)) {
        const before = this.memory.computed[stage.name];
        run.result(stage, subject);
        if (this.memory.computed[stage.name] !== before) await pause();
      }
    return { doc, result: run.all() };
  }

  /** Throws Error with the reason where the change cannot be made, StageCancelled where something newer is asked for. */
  async preview(
    doc: ProjectDocument,
    change: Change,
    readOf: ReadOf,
    /** Files that the change has read anew. */
    readAfter: (after: ProjectDocument) => Promise<ReadOf> = async () => Promise.resolve(readOf),
    /** Where the change puts a later export in a file’s place. */
    moved: MovedRows | null = null,
    yielding: Yielding = NEVER,
  ): Promise<{ preview: ChangePreview; after: Computed }> {
    const applied = applyChange(doc, change);
    if (!applied.ok) throw new Error(applied.reason);
    if (this.before?.doc !== doc) this.before = await this.compute(doc, readOf, yielding);
    const { before } = this;
    const after = await this.compute(applied.document, await readAfter(applied.document), yielding);
    return { preview: previewChange(before, after, moved), after };
  }
}
