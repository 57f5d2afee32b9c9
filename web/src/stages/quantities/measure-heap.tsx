import { groundOf, type Comparison } from '#core/project';
import { Act } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';

/** Measures the heap in the ground at once: its toe is found, its base can be chosen afterwards. */
export function MeasureHeap() {
  const { state, make, select } = useParts('state', 'make', 'select');
  const doc = state!.document;
  const add = async (): Promise<void> => {
    const taken = new Set(doc.comparisons.map((c) => c.name));
    let n = 1;
    while (taken.has(n === 1 ? 'Heap' : `Heap ${n}`)) n++;
    const comparison: Comparison = {
      id: crypto.randomUUID().slice(0, 8),
      name: n === 1 ? 'Heap' : `Heap ${n}`,
      surface: groundOf(doc).id,
      against: { base: 'toe' },
      within: null,
    };
    if (await make({ op: 'comparison.set', comparison })) select({ kind: 'comparison', id: comparison.id });
  };
  return (
    <Act title="finds the toe of the heap in the ground, and its volume above every base" onClick={() => void add()}>
      Measure a heap
    </Act>
  );
}
