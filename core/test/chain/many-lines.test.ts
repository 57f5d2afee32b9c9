import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { readPoints } from '#core/exchange';
import { applyChange, newDocument, type Intake, type ProjectDocument } from '#core/project';
import { StageMemory } from '#core/stages';

/** A survey of so many short kerbs, four shots each. */
function kerbs(lines: number): { doc: ProjectDocument; readOf: (i: Intake) => ReturnType<typeof readPoints> & object } {
  const rows: string[] = [];
  for (let line = 0; line < lines; line++)
    for (let k = 0; k < 4; k++) {
      const [x, y] = [(line % 30) * 12 + k * 2, Math.floor(line / 30) * 7 + (k % 2) * 0.5];
      rows.push(`${rows.length + 1},${x},${y},${(20 + 0.01 * x + 0.02 * y).toFixed(3)},KT${line + 1}${k === 0 ? ' BEG' : k === 3 ? ' END' : ''}`); // prettier-ignore
    }
  const doc = newDocument();
  doc.intakes.push({
    id: 'f0',
    fileId: 'f0',
    fileName: 'kerbs.csv',
    sha256: '0'.repeat(64),
    layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' },
    purpose: 'survey',
    on: true,
    numbers: { all: 'both', each: {} },
  });
  return { doc, readOf: (intake) => readPoints(rows.join('\n'), intake.layout)! };
}

describe('a survey of more lines than are looked at once', () => {
  it('is triangulated once, however many heights are edited afterwards', () => {
    const { doc, readOf } = kerbs(700);
    const memory = new StageMemory();
    expect(runChain(doc, readOf, memory).linework.lines).toHaveLength(700);
    const made = memory.computed['triangles made'];
    expect(made).toBeGreaterThan(4000);
    for (let i = 0; i < 3; i++) {
      const edited = applyChange(doc, { op: 'points.edit', edits: { [`f0:${100 + i}`]: { set: { z: 21 + i }, undo: [] } } }); // prettier-ignore
      if (!edited.ok) throw new Error(edited.reason);
      runChain(edited.document, readOf, memory);
    }
    expect(memory.computed['triangles made']).toBe(made);
  });
});
