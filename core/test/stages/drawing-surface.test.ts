import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { codesOfDrawing, DRAWN_WORDS, type TakenRow } from '#core/exchange';
import { applyChange, fileIntoSurface, newDocument, plainIntake, removeFile, severalChanges, type Intake, type IntoSurface, type ProjectDocument } from '#core/project'; // prettier-ignore
import { measureSurface } from '#core/terrain';
import { changed, readAsKept } from './as-kept.ts';

// Groups of a drawing become what they are ticked as: points of the ground, breaklines, contours and the boundary of a surface.

const line = (layer: string, ...p: number[]) => [0, 'LINE', 8, layer, 10, p[0], 20, p[1], 30, p[2], 11, p[3], 21, p[4], 31, p[5]]; // prettier-ignore
const ring = (layer: string, west: number, south: number, east: number, north: number) => [0, 'LWPOLYLINE', 8, layer, 90, 4, 70, 1, 10, west, 20, south, 10, east, 20, south, 10, east, 20, north, 10, west, 20, north]; // prettier-ignore
const level = (text: string, x: number, y: number) => [0, 'TEXT', 8, 'LEVELS', 1, text, 10, x, 20, y];
const tree = (x: number, y: number) => [0, 'INSERT', 8, 'GARDEN', 2, 'TREE', 10, x, 20, y];

// A roof along y = 10, 2 m above its eaves; its rim, a hole in it, a rim elsewhere; levels at the corners; a tree.
const DRAWING = [
  ...line('RIDGE 1', 0, 10, 52, 40, 10, 52),
  ...line('EAVES', 0, 0, 50, 40, 0, 50),
  ...line('EAVES', 0, 20, 50, 40, 20, 50),
  ...line('FENCE', 0, 5, 90, 40, 5, 90),
  ...ring('SITE', 5, 2, 35, 18),
  ...ring('SITE', 10, 4, 14, 8),
  ...ring('SITE', 100, 100, 101, 101),
  ...level('50.00', -5, 10),
  ...level('see sheet 2', 3, 3),
  ...tree(20, 30),
];
const TAKEN: TakenRow[] = [
  { layer: 'RIDGE 1', kind: 'LINE', as: 'breaklines', code: 'RG' },
  { layer: 'EAVES', kind: 'LINE', as: 'contours' },
  { layer: 'FENCE', kind: 'LINE', as: 'lines' },
  { layer: 'SITE', kind: 'LWPOLYLINE', as: 'boundary' },
  { layer: 'LEVELS', kind: 'TEXT', as: 'ground points' },
  { layer: 'GARDEN', kind: 'INSERT', as: 'points' },
];

async function imported(taken: TakenRow[], entities: (string | number)[] = DRAWING) {
  const file = new TextEncoder().encode([0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 6, 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES', ...entities, 0, 'ENDSEC', 0, 'EOF', ''].join('\n')); // prettier-ignore
  const intake: Intake = plainIntake('d', {
    words: DRAWN_WORDS,
    purpose: 'design',
    layout: { separator: '\t', decimal: '.', skipRows: 1, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm', taken },
  });
  return { intake, read: await readAsKept(file, intake) };
}

const NEW: IntoSurface = { surface: { id: 'roof', name: 'Roof' } };
const withFile = (intake: Intake, into: IntoSurface): ProjectDocument => {
  const start = newDocument();
  const codes = [...start.codeList.codes, ...codesOfDrawing([], intake.layout.taken!, start.codeList.codes)];
  return changed(start, severalChanges([{ op: 'codes.set', codeList: { ...start.codeList, codes } }, { op: 'intake.add', intake }, fileIntoSurface(intake, into)])); // prettier-ignore
};

describe('a drawing whose groups are ticked as what they are', () => {
  it('is one file: points with what they are, then the vertices of its lines', async () => {
    const { intake, read } = await imported(TAKEN);
    const { points, linework } = runChain(withFile(intake, NEW), () => read);
    expect(read.description.slice(0, 2)).toEqual(['TREE', 'LEVELS']);
    expect(read.z[1]).toBe(50);
    // Of the tree a label is drawn; nobody needs numbers of levels and vertices.
    expect([...points.light.subarray(0, 4)]).toEqual([0, 1, 1, 1]);
    expect(points.light.every((v, i) => v === (i === 0 ? 0 : 1))).toBe(true);
    const counts = new Map<string, number>();
    for (const { code } of linework.lines) counts.set(code, (counts.get(code) ?? 0) + 1);
    expect([...counts].sort()).toEqual([['EAVES', 2], ['FENCE', 1], ['RG', 1], ['SITE', 3]]); // prettier-ignore
  });

  it('makes a surface of ground points, breaklines and contours, bounded by its rim without what lies in it', async () => {
    const { intake, read } = await imported(TAKEN);
    const roof = runChain(withFile(intake, NEW), () => read).surfaces.find((s) => s.id === 'roof')!;
    // 30 m × 16 m less 4 m × 4 m; the fence 40 m up is not in it.
    expect(measureSurface(roof.surface).planArea).toBeCloseTo(30 * 16 - 16, 9);
    expect(Math.max(...roof.surface.z)).toBe(52);
    expect(roof.account.rows).toMatchObject({ 'd-points': 7, 'd-lines': 1, 'd-contours': 2 });
    expect(roof.account.rows['d-boundary']).toBeGreaterThan(100);
  });

  it('goes into a surface that is there as rows of its recipe, and leaves it when the file is deleted', async () => {
    const { intake, read } = await imported(TAKEN);
    const doc = withFile(intake, { id: 'ground' });
    expect(doc.surfaces).toHaveLength(1);
    expect(doc.surfaces[0].rows.slice(-4).map((r) => r.kind)).toEqual(['points', 'lines', 'contours', 'line-boundary']);
    const unbounded = changed(doc, { op: 'settings.set', settings: { longestSide: 1000 } });
    const { surface } = runChain(unbounded, () => read).surfaces[0];
    expect(measureSurface(surface).planArea).toBeCloseTo(464, 9);
    expect(changed(doc, removeFile(doc, 'd')).surfaces).toEqual(newDocument().surfaces);
  });

  it('that made a surface of its own takes it along when it is deleted, and comes back with it', async () => {
    const { intake } = await imported(TAKEN);
    const doc = withFile(intake, NEW);
    const removed = applyChange(doc, removeFile(doc, 'd'));
    if (!removed.ok) throw new Error(removed.reason);
    expect(removed.document.surfaces.map((s) => s.id)).toEqual(['ground']);
    expect(changed(removed.document, removed.inverse).surfaces).toEqual(doc.surfaces);
  });

  it('bounds nothing where no line of the boundary is closed, and says so', async () => {
    const { intake, read } = await imported(
      [...TAKEN.slice(0, 2), { layer: 'FENCE', kind: 'LINE', as: 'boundary' }],
    ); // prettier-ignore
    const roof = runChain(withFile(intake, NEW), () => read).surfaces.find((s) => s.id === 'roof')!;
    expect(roof.account.rows['d-boundary']).toBeNull();
    expect(measureSurface(roof.surface).planArea).toBeCloseTo(800, 9);
  });

  it('takes in no point of its own that is only drawn', async () => {
    const { intake } = await imported([{ layer: 'SITE', kind: 'LWPOLYLINE', as: 'boundary' }]);
    const into = fileIntoSurface(intake, { id: 'ground' });
    expect(into).toMatchObject({ op: 'surface.row', row: { kind: 'line-boundary', codes: ['SITE'], files: ['d'] } });
  });
});
