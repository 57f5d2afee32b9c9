import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { previewChange, runChain, type ChainResult } from '#core/chain';
import { StageMemory } from '#core/stages';
import { applyChange, type ProjectDocument } from '#core/project';
import { shotProject, withHeight } from '../../../bench/edit.ts';

const { doc, readOf, book } = shotProject(1000);
const shots = book.records.filter((r) => r.role === 'shot');
const setups = book.records.filter((r) => r.kind === 'setup');
const plain = (r: ChainResult): unknown => JSON.parse(JSON.stringify(r, (_, v: unknown) => (ArrayBuffer.isView(v) ? Array.from(v as Float64Array) : v instanceof Map ? [...v] : v))); // prettier-ignore

describe('one edited reading', () => {
  it('reduces its own setup, keeps every triangle and line, and draws only the levels that it moves', () => {
    const memory = new StageMemory();
    runChain(doc, readOf, memory);
    const before = { ...memory.computed };
    expect(before['sightings reduced']).toBe(shots.length + setups.length);
    runChain(withHeight(doc, book, 1.2), readOf, memory);
    const after = memory.computed;
    expect(after['sightings reduced'] - before['sightings reduced']).toBe(shots.length / setups.length + 1);
    expect(after['triangles made']).toBe(before['triangles made']);
    expect(after['lines built']).toBe(before['lines built']);
    const levels = after['contour levels drawn'] - before['contour levels drawn'];
    expect(levels).toBeGreaterThan(0);
    expect(levels).toBeLessThan(before['contour levels drawn'] / 3);
  });

  it('says before it is done what it would change: of a height, the point, the line that goes through it, the ground', () => {
    const memory = new StageMemory();
    const edited = withHeight(doc, book, 1.2);
    const [before, after] = [runChain(doc, readOf, memory), runChain(edited, readOf, memory)];
    const p = previewChange({ doc, result: before }, { doc: edited, result: after });
    expect(p.pointsChanged).toBe(1);
    expect(p.linesChanged).toBe(1);
    expect(p.lines.map((l) => after.linework.lines.find((o) => o.key === l.key))).toEqual(p.lines);
    expect(p.largestMove).toBeGreaterThan(0);
    // Nothing moves the ground by more than the point that moved.
    expect(p.surfaces).toHaveLength(1);
    expect(p.surfaces[0].largestHeight).toBeGreaterThan(0);
    expect(p.surfaces[0].largestHeight).toBeLessThanOrEqual(p.largestMove + 1e-9);
  });

  it('gives what computing everything anew gives, to the last bit, whatever is edited, one after the other', () => {
    const memory = new StageMemory();
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            at: fc.nat(shots.length + setups.length - 1),
            field: fc.constantFrom('height', 'distance', 'circle', 'description', 'off', 'number'),
            value: fc.double({ min: 1, max: 3, noNaN: true }),
          }),
          { minLength: 1, maxLength: 3 },
        ),
        (edits) => {
          let edited: ProjectDocument = doc;
          for (const { at, field, value } of edits) {
            const record = [...shots, ...setups][at];
            const set = field === 'description' ? { description: 'KT2' } : field === 'off' ? { off: true } : field === 'number' ? { number: 'A3' } : { [field]: value }; // prettier-ignore
            const applied = applyChange(edited, { op: 'points.edit', edits: { [`b:${record.row}`]: { set, undo: [] } } }); // prettier-ignore
            if (applied.ok) edited = applied.document;
          }
          expect(plain(runChain(edited, readOf, memory))).toEqual(plain(runChain(edited, readOf)));
        },
      ),
      { numRuns: 25 },
    );
  });
});
