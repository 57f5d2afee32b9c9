import { expect, it } from 'vitest';
import { applyChange, newDocument, type ProjectDocument, type SurfaceRow } from '#core/project';
import { buildSurface } from '#core/terrain';
import { madeFrom } from '../../src/sheet/live/live-paint.ts';

const { surface } = buildSurface({
  x: Float64Array.from([0, 10.25, 3.5, 7]),
  y: Float64Array.from([0, 1, 12, 4.75]),
  z: new Float64Array(4),
  segments: new Uint32Array(),
  longestSide: null,
  coincidence: 0,
});
const withRow = (row: Partial<SurfaceRow>): ProjectDocument => {
  const doc = newDocument();
  const applied = applyChange(doc, { op: 'surface.row', surface: doc.surfaces[0].id, row: { id: 'r', on: true, ...row } as SurfaceRow }); // prettier-ignore
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};

it('says how a surface is made of its vertices, by its own settings before the project’s', () => {
  const doc = newDocument();
  const { id } = doc.surfaces[0];
  const longest = doc.settings.longestSide;
  expect(madeFrom(doc, id, surface)).toEqual({ longestSide: longest, coincidence: doc.settings.coincidence, rounding: 0.01 }); // prettier-ignore
  const own = { ...doc, surfaces: [{ ...doc.surfaces[0], longestSide: 12 }] };
  expect(madeFrom(own, id, surface)?.longestSide).toBe(12);
  expect(madeFrom(doc, 'gone', surface)).toBeNull();
});

it.each([
  ['a void', { kind: 'void', ring: [0, 0, 1, 0, 1, 1] }],
  ['an area raised', { kind: 'raise', ring: [0, 0, 1, 0, 1, 1], by: 1 }],
  ['thinning', { kind: 'thin', error: 0.1 }],
] as const)('is none where %s is done to the triangles, unless that is switched off', (_, row) => {
  const doc = withRow(row as unknown as Partial<SurfaceRow>);
  const { id } = doc.surfaces[0];
  expect(madeFrom(doc, id, surface)).toBeNull();
  expect(madeFrom(withRow({ ...row, on: false } as unknown as Partial<SurfaceRow>), id, surface)).not.toBeNull();
});

it('is of what is placed by hand too: a spot height is a point like others', () => {
  const doc = withRow({ kind: 'spot', x: 1, y: 1, z: 1 } as Partial<SurfaceRow>);
  expect(madeFrom(doc, doc.surfaces[0].id, surface)).not.toBeNull();
});
