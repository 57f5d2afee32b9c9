import { describe, expect, it } from 'vitest';
import { applyChange } from '#core/project';
import { StageMemory } from '#core/stages';
import { surveyOf } from '../stages/survey-of.ts';

/** A survey of so many short kerbs, four shots each. */
function kerbs(lines: number) {
  const rows: string[] = [];
  for (let line = 0; line < lines; line++)
    for (let k = 0; k < 4; k++) {
      const [x, y] = [(line % 30) * 12 + k * 2, Math.floor(line / 30) * 7 + (k % 2) * 0.5];
      rows.push(`${rows.length + 1},${x},${y},${(20 + 0.01 * x + 0.02 * y).toFixed(3)},KT${line + 1}${k === 0 ? ' BEG' : k === 3 ? ' END' : ''}`); // prettier-ignore
    }
  return surveyOf(rows);
}

describe('a survey of more lines than are looked at once', () => {
  it('is triangulated once, however many heights are edited afterwards', () => {
    const { doc, run } = kerbs(700);
    const memory = new StageMemory();
    expect(run(doc, memory).linework.lines).toHaveLength(700);
    const made = memory.computed['triangles made'];
    expect(made).toBeGreaterThan(4000);
    for (let i = 0; i < 3; i++) {
      const edited = applyChange(doc, { op: 'points.edit', edits: { [`f0:${100 + i}`]: { set: { z: 21 + i }, undo: [] } } }); // prettier-ignore
      if (!edited.ok) throw new Error(edited.reason);
      run(edited.document, memory);
    }
    expect(memory.computed['triangles made']).toBe(made);
  });
});
