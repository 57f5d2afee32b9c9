// @vitest-environment jsdom
import { describe, expect, it } from 'vitest';
import { newDocument, plainIntake, type ProjectDocument, type SurfaceRecipe } from '#core/project';
import { usesText } from '../../src/intake/in-its-place.tsx';

const surface = (id: string, rows: SurfaceRecipe['rows']): SurfaceRecipe => ({ ...newDocument().surfaces[0], id, name: id.toUpperCase(), role: 'design', rows }); // prettier-ignore
const start = newDocument();
const doc: ProjectDocument = {
  ...start,
  intakes: [plainIntake('a', { purpose: 'design' }), plainIntake('b')],
  surfaces: [
    ...start.surfaces,
    surface('walk', [{ id: 'r', kind: 'file', intake: 'a', on: true }]),
    // One that the walk is laid into.
    surface('whole', [{ id: 'l', kind: 'lay-in', surface: 'walk', ring: null, on: true }]),
    surface('off', [{ id: 'o', kind: 'file', intake: 'a', on: false }]),
  ],
  comparisons: [
    { id: 'c', name: 'Walk to 62', surface: 'whole', against: { level: 62 }, within: null },
    { id: 'd', name: 'Ground', surface: 'ground', against: { level: 60 }, within: null },
  ],
  edits: { a: { 3: { off: true }, 4: { z: 5 } } },
  handLines: {
    'KT~1': { code: 'KT', lineNumber: '', closed: false, vertices: [{ point: 'a:4', x: 0, y: 0, z: null, bulge: 0, side: 0 }], replaces: null }, // prettier-ignore
    'KT~2': { code: 'KT', lineNumber: '', closed: false, vertices: [{ point: 'b:4', x: 0, y: 0, z: null, bulge: 0, side: 0 }], replaces: null }, // prettier-ignore
  },
};

describe('what uses an issue of a drawing', () => {
  it('is told before another takes its place, through other surfaces too', () => {
    expect(usesText(doc, 'a')).toBe('These would follow: surfaces WALK, WHOLE; comparison Walk to 62; 1 line changed by hand or tied to points; 2 edited records.'); // prettier-ignore
  });

  it('is the ground of a survey file, and nothing of a file that nobody uses', () => {
    expect(usesText(doc, 'b')).toContain('surface Ground; comparison Ground; 1 line');
    const alone = { ...doc, intakes: [plainIntake('z', { purpose: 'design' })], handLines: {}, edits: {} };
    expect(usesText(alone, 'z')).toBe('Nothing else uses it.');
  });
});
