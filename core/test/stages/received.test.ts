import { describe, expect, it } from 'vitest';
import { runChain, type ChainResult } from '#core/chain';
import { rowsOfFile, writeLandXml, type ReadPoints } from '#core/exchange';
import { applyChange, fileIntoSurface, newDocument, plainIntake, removeFile, setPurpose, severalChanges, type Intake, type ProjectDocument } from '#core/project'; // prettier-ignore
import { buildSurface, measureSurface } from '#core/terrain';
import { changed, readAsKept } from './as-kept.ts';

// A surface that comes ready-made keeps its triangles: a terrace is no Delaunay triangulation, and must not become one.

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const xml = (surfaces: string, unit = '<Units><Metric linearUnit="meter"/></Units>', points = ''): Uint8Array =>
  bytes(`<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2">${unit}${points}<Surfaces>${surfaces}</Surfaces></LandXML>`); // prettier-ignore
/** Northing, easting, elevation, as LandXML has them. Two long thin triangles across a square: the diagonal that Delaunay would not take. */
const THIN = '<Surface name="Pad"><Definition surfType="TIN"><Pnts><P id="1">0 0 10</P><P id="2">0 20 10</P><P id="3">6 22 12</P><P id="4">6 2 12</P></Pnts><Faces><F>1 2 3</F><F>1 4 3</F></Faces></Definition></Surface>'; // prettier-ignore
const OTHER = '<Surface name="Pad"><Definition surfType="TIN"><Pnts><P id="1">50 50 1</P><P id="2">50 60 1</P><P id="3">60 50 1</P></Pnts><Faces><F>1 2 3</F></Faces></Definition></Surface>'; // prettier-ignore
const POINTS = '<CgPoints><CgPoint name="7">1 2 3</CgPoint></CgPoints>';

async function imported(file: Uint8Array, surface?: string): Promise<{ intake: Intake; read: ReadPoints }> {
  const rows = rowsOfFile(file, { surface });
  if (!rows.ok) throw new Error(rows.reason);
  const intake = plainIntake('s', {
    purpose: 'design',
    light: true,
    layout: { separator: '\t', decimal: '.', skipRows: 1, roles: ['P', 'E', 'N', 'Z', 'D'], unit: rows.claims.unit ?? 'm', ...(rows.surface ? { surface: rows.surface.name } : {}) }, // prettier-ignore
  });
  return { intake, read: await readAsKept(file, intake) };
}

const INTO = { surface: { id: 'pad', name: 'Pad as received' } };
const withFile = (intake: Intake): ProjectDocument =>
  changed(newDocument(), severalChanges([{ op: 'intake.add', intake }, fileIntoSurface(intake, INTO)]));
const of = (r: ChainResult) => r.surfaces.find((s) => s.id === 'pad')!;

describe('a surface that comes ready-made', () => {
  it('keeps its triangles, its unit and its diagonal', async () => {
    const { intake, read } = await imported(xml(THIN));
    const doc = withFile(intake);
    const { surface, account } = of(runChain(doc, () => read));
    expect([...surface.triangles]).toEqual([0, 1, 2, 0, 2, 3]);
    expect([...surface.x, ...surface.y]).toEqual([0, 20, 22, 2, 0, 0, 6, 6]);
    expect(account.rows).toEqual({ 'file-s': 2 });
    // Delaunay takes the other diagonal: it would be another ground.
    const anew = buildSurface({ x: surface.x, y: surface.y, z: surface.z, segments: new Uint32Array(), coincidence: 0, longestSide: null }).surface; // prettier-ignore
    expect([...anew.triangles].sort().join()).not.toBe([...surface.triangles].sort().join());
    expect(measureSurface(surface).planArea).toBeCloseTo(120, 12);
    const feet = await imported(xml(THIN, '<Units><Imperial linearUnit="USSurveyFoot"/></Units>'));
    const inFeet = of(runChain(withFile(feet.intake), () => feet.read)).surface;
    expect(inFeet.x[1]).toBe((20 * 1200) / 3937);
  });

  it('is chosen by name where a file holds several, of one name too, and points besides', async () => {
    const file = xml(THIN + OTHER, undefined, POINTS);
    const rows = rowsOfFile(file);
    expect(rows).toMatchObject({ ok: true, surfaces: [{ name: 'Pad', vertices: 4, triangles: 2 }, { name: 'Pad (2)', vertices: 3, triangles: 1 }] }); // prettier-ignore
    expect(rows.ok && rows.surface).toBeUndefined();
    const { read } = await imported(file, 'Pad (2)');
    expect([read.x.length, read.triangles?.length]).toEqual([3, 3]);
    expect(rowsOfFile(file, { surface: 'gone' })).toMatchObject({ ok: false, reason: expect.stringContaining('“gone”') as string }); // prettier-ignore
  });

  it('follows its vertices: an edited one moves it, one that is switched off takes its triangles, a boundary cuts', async () => {
    const { intake, read } = await imported(xml(THIN));
    const doc = withFile(intake);
    const row = read.row[1];
    const raised = changed(doc, { op: 'points.edit', edits: { [`s:${row}`]: { set: { z: 14 }, undo: [] } } });
    expect(of(runChain(raised, () => read)).surface.z[1]).toBe(14);
    const off = changed(doc, { op: 'points.edit', edits: { [`s:${row}`]: { set: { off: true }, undo: [] } } });
    const cut = of(runChain(off, () => read));
    expect([...cut.surface.triangles]).toEqual([0, 2, 3]);
    expect(cut.account.leftOut).toEqual([{ why: 'excluded or waiting', count: 1, rows: [1] }]);
    const ring = [0, 0, 10, 0, 10, 6, 0, 6];
    const inside = of(runChain(changed(doc, { op: 'boundary.set', ring, surface: 'pad' }), () => read)).surface;
    expect(measureSurface(inside).planArea).toBeLessThan(60);
    // Of the ground, which is made of survey files, nothing changes.
    expect(runChain(doc, () => read).surfaces.find((s) => s.id === 'ground')!.surface.triangles).toHaveLength(0);
  });

  it('goes with its file and comes back; a row whose file is gone is asked about', async () => {
    const { intake, read } = await imported(xml(THIN));
    const doc = withFile(intake);
    const removed = applyChange(doc, removeFile(doc, 's'));
    if (!removed.ok) throw new Error(removed.reason);
    expect(removed.document.surfaces.map((s) => s.id)).toEqual(['ground']);
    expect(changed(removed.document, removed.inverse)).toEqual(doc);
    const kept = runChain(changed(doc, { op: 'intake.remove', id: 's' }), () => read);
    expect(kept.queries.map((q) => q.kind)).toContain('recipe-source-gone');
    const control = changed(doc, setPurpose(doc, 's', 'control', null));
    expect(control.surfaces.find((s) => s.id === 'pad')!.rows).toEqual([]);
    expect(changed(control, setPurpose(control, 's', 'design', { id: 'pad' })).surfaces[1].rows[0].kind).toBe(
      'triangles',
    );
  });

  it('is what Dunrik wrote itself, read back', async () => {
    const { intake, read } = await imported(xml(THIN));
    const { surface } = of(runChain(withFile(intake), () => read));
    const text = writeLandXml({ project: 'x', made: '2026-11-28T00:00:00Z', points: [], breaklines: [], surfaces: [{ name: 'Pad', surface }] }, 'm', 6); // prettier-ignore
    const again = await imported(bytes(text));
    const back = of(runChain(withFile(again.intake), () => again.read)).surface;
    expect([[...back.x], [...back.y], [...back.z], [...back.triangles]]).toEqual([[...surface.x], [...surface.y], [...surface.z], [...surface.triangles]]); // prettier-ignore
  });

  it('comes of the faces of a drawing, layer by layer: four corners are two triangles, corners in one place one vertex', async () => {
    const face = (layer: string, ...c: number[]): string[] => ['0', '3DFACE', '8', layer, ...c.flatMap((v, i) => [String(10 * (1 + (i % 3)) + Math.floor(i / 3)), String(v)])]; // prettier-ignore
    const dxf = ['0', 'SECTION', '2', 'ENTITIES', ...face('PAD', 0, 0, 1, 10, 0, 1, 10, 5, 2, 0, 5, 2), ...face('PAD', 10, 0, 1, 20, 0, 1, 10, 5, 2, 10, 5, 2), ...face('SLAB', 0, 0, 9, 1, 0, 9, 0, 1, 9, 0, 1, 9), '0', 'ENDSEC', '0', 'EOF', ''].join('\n'); // prettier-ignore
    const rows = rowsOfFile(bytes(dxf));
    expect(rows.ok && rows.surfaces).toEqual([{ name: 'PAD', vertices: 5, triangles: 3 }, { name: 'SLAB', vertices: 3, triangles: 1 }]); // prettier-ignore
    const { read } = await imported(bytes(dxf), 'PAD');
    expect([...read.triangles!]).toEqual([0, 1, 2, 0, 2, 3, 1, 4, 2]);
  });
});
