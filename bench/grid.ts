import { mediansOf } from './timing.ts';
import { ChainRun, Previewer, STAGES } from '#core/chain';
import { StageMemory } from '#core/stages';
import { failedRead, type ReadPoints } from '#core/exchange';
import { applyChange, newDocument, plainIntake, type Change, type ProjectDocument } from '#core/project';

// One point of 200,000 on a grid edited: what the page shows beforehand, and what the server settles, packs included.

const SIDE = 447;

function gridRead(): ReadPoints {
  const n = SIDE * SIDE;
  const x = Float64Array.from({ length: n }, (_, i) => i % SIDE);
  const y = Float64Array.from({ length: n }, (_, i) => Math.floor(i / SIDE));
  return {
    ...failedRead(''),
    failure: undefined,
    number: Array.from({ length: n }, (_, i) => String(i + 1)),
    x,
    y,
    z: x.map((v, i) => 50 + 3 * Math.sin(v / 40) + 2 * Math.cos(y[i] / 55)),
    description: new Array<string>(n).fill('GR'),
    row: Uint32Array.from({ length: n }, (_, i) => i + 1),
    rows: n,
  };
}

/** A project of one file of points on a grid, and edits of one of them, each another. */
export function gridDoc(): { doc: ProjectDocument; read: ReadPoints; edit: () => Change } {
  const read = gridRead();
  const row = 100 * SIDE + 200;
  const ground = read.z[row - 1];
  let by = 0;
  const edit = (): Change => ({ op: 'points.edit', edits: { [`g:${row}`]: { set: { z: ground + 0.3 + (by += 0.001) }, undo: [] } } }); // prettier-ignore
  return { doc: { ...newDocument(), intakes: [plainIntake('g')] }, read, edit };
}

export async function gridFigure(): Promise<void> {
  const { doc, read, edit } = gridDoc();
  const settle = (of: ProjectDocument, memory: StageMemory): void => {
    const chain = new ChainRun(of, () => read, memory);
    for (const stage of STAGES) for (const subject of stage.subjects(of)) stage.pack?.(chain.result(stage, subject));
  };
  const edited = (): ProjectDocument => {
    const applied = applyChange(doc, edit());
    if (!applied.ok) throw new Error(applied.reason);
    return applied.document;
  };
  const [memory, previewer] = [new StageMemory(), new Previewer()];
  settle(doc, memory);
  for (let i = 0; i < 3; i++) {
    await previewer.preview(doc, edit(), () => read);
    settle(edited(), memory);
  }
  const t = await mediansOf({
    preview: () => previewer.preview(doc, edit(), () => read),
    settling: () => settle(edited(), memory),
    whole: () => settle(doc, new StageMemory()),
  });
  console.log(`One point edited among ${(SIDE * SIDE).toLocaleString('en')} on a grid beside a whole run with its packs (wanted: preview at most 0.05, settling at most 0.1)`); // prettier-ignore
  console.log(`  preview ${t.preview.toFixed(0)} ms, ratio ${(t.preview / t.whole).toFixed(3)}; settling ${t.settling.toFixed(0)} ms, ratio ${(t.settling / t.whole).toFixed(3)}; whole ${t.whole.toFixed(0)} ms (15 of each); ${(process.memoryUsage().rss / 1e6).toFixed(0)} MB held`); // prettier-ignore
}
