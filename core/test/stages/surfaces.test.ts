import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { previewChange, runChain, type ChainResult } from '#core/chain';
import { StageMemory } from '#core/stages';
import { readPoints } from '#core/exchange';
import { makePackage, PackageRefused } from '#core/handover';
import {
  applyChange,
  designRecipe,
  groundRecipe,
  newDocument,
  plainIntake,
  removeFile,
  setPurpose,
  type Change,
  type ProjectDocument,
  type SurfaceRow,
} from '#core/project';

// Files of one project: a square of ground in two days, and a higher square that somebody designed.
const FILES: Record<string, string[]> = {
  day1: ['1,0,0,10,GR', '2,20,0,10,GR', '3,20,20,10,GR', '4,0,20,10,GR', '5,5,10,12,BT1 BEG', '6,15,10,12,BT1 END'],
  day2: ['11,10,4,14,GR', '12,10,4.004,15,GR', '13,10,16,9,OH'],
  pad: ['1,2,2,12,', '2,8,2,12,', '3,8,8,13,', '4,2,8,13,'],
};
function start(): ProjectDocument {
  const doc = newDocument();
  for (const id of Object.keys(FILES))
    doc.intakes.push(
      plainIntake(id, {
        layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' },
        purpose: id === 'pad' ? 'design' : 'survey',
      }),
    );
  doc.surfaces.push(designRecipe({ id: 'pad', name: 'A pad' }, ['pad']));
  return doc;
}
const run = (doc: ProjectDocument, memory?: StageMemory): ChainResult =>
  runChain(doc, (i) => readPoints(FILES[i.id].join('\n'), i.layout)!, memory);
const apply = (doc: ProjectDocument, ...changes: Change[]): ProjectDocument =>
  changes.reduce((d, change) => {
    const applied = applyChange(d, change);
    if (!applied.ok) throw new Error(applied.reason);
    return applied.document;
  }, doc);
const refusal = (doc: ProjectDocument, change: Change): string => {
  const applied = applyChange(doc, change);
  return applied.ok ? '' : applied.reason;
};
const summary = (doc: ProjectDocument) => run(doc).summary;
const of = (doc: ProjectDocument, id: string) => summary(doc).surfaces.find((s) => s.id === id)!;
const row = (surface: string, r: SurfaceRow, at?: number): Change => ({ op: 'surface.row', surface, row: r, ...(at === undefined ? {} : { at }) }); // prettier-ignore

describe('surfaces of one project', () => {
  it('stand beside one another, each with contours and settings of its own', () => {
    const doc = apply(
      start(),
      { op: 'surface.add', surface: { ...groundRecipe({ id: 'day1', name: 'Before' }), role: 'other', rows: [{ id: 'a', on: true, kind: 'file', intake: 'day1' }] } }, // prettier-ignore
      { op: 'surface.edit', id: 'day1', set: { interval: 1, indexEvery: 0, longestSide: 'none' } },
      { op: 'surface.edit', id: 'pad', set: { interval: 'none' } },
    );
    const result = run(doc);
    expect(result.surfaces.map((s) => s.id)).toEqual(['ground', 'pad', 'day1']);
    const levels = (id: string): number[] => [...new Set(result.contours.get(id)!.list.map((c) => c.elevation))];
    expect(levels('pad')).toEqual([]);
    expect(levels('day1')).toEqual([11, 12]);
    // The ground as the project has it: every 0.25 m, with the point of the second day in it.
    expect(levels('ground')).toContain(13.75);
    expect(of(doc, 'day1').highest).toBe(12);
    expect(of(doc, 'ground').highest).toBe(14);
  });

  it('are what their recipes say: a row that is off does nothing, and each says what it did', () => {
    const doc = start();
    const ground = (...changes: Change[]) => of(apply(doc, ...changes), 'ground').account;
    expect(ground().rows).toEqual({ survey: 8, codes: 1, lines: 1 });
    expect(ground(row('ground', { id: 'x', on: true, kind: 'exclude-lines', lines: [] })).rows.x).toBe(0);
    expect(ground(row('ground', { id: 'codes', on: false, kind: 'exclude-codes' })).rows.survey).toBe(9);
    expect(ground(row('ground', { id: 'lines', on: false, kind: 'lines', codes: null })).lines).toBe(0);
    expect(ground(row('ground', { id: 'lines', on: true, kind: 'lines', codes: ['kb'] })).lines).toBe(0);
    expect(ground(row('ground', { id: 'survey', on: false, kind: 'survey' })).points).toBe(0);
    const ring = [1, 1, 9, 1, 9, 9, 1, 9];
    expect(of(apply(doc, { op: 'boundary.set', ring, surface: 'pad' }), 'pad').planArea).toBeCloseTo(36, 9);
    expect(of(apply(doc, { op: 'boundary.set', ring, surface: 'ground' }), 'ground').planArea).toBeCloseTo(64, 9);
    expect(of(apply(doc, { op: 'boundary.set', ring, surface: 'ground' }), 'pad').planArea).toBeCloseTo(36, 9);
  });

  it('take one file into several of them, and the first row that names it decides about its place', () => {
    const doc = apply(start(), row('pad', { id: 'd', on: true, kind: 'file', intake: 'day2' }, 0));
    expect(of(doc, 'pad').account.rows).toMatchObject({ d: 3, 'file-pad': 4 });
    expect(of(doc, 'ground').points).toBe(7);
    // Of two points in one place, the one that comes in first stands.
    const close = apply(start(), { op: 'surface.edit', id: 'ground', set: { coincidence: 5 } });
    expect(of(close, 'ground').account.coincident).toHaveLength(1);
    expect(of(close, 'pad').account.coincident).toHaveLength(0);
  });

  it('leave the ground alone whatever their names and their order are', () => {
    const doc = start();
    const first = apply(doc, { op: 'surface.remove', id: 'pad' }, { op: 'surface.add', surface: { ...doc.surfaces[1], name: 'AAA' }, at: 0 }); // prettier-ignore
    expect(first.surfaces.map((s) => s.id)).toEqual(['pad', 'ground']);
    const [a, b] = [run(doc), run(first)];
    expect(a.surfaces.find((s) => s.id === 'ground')).toEqual(b.surfaces.find((s) => s.id === 'ground'));
    expect(a.queries).toEqual(b.queries);
    const made = { project: 'P', revision: 1, at: '2026-07-21T08:00:00Z', by: 'Ina' };
    const spec = (of?: string) => ({ name: 'S', unit: 'm' as const, coordinates: { kind: 'grid' as const }, files: [{ kind: 'dxf' as const, version: '2000' as const, decimals: 3, textHeight: 0, parts: { points: false, lines: false, contours: false, surface: true, ...(of ? { of } : {}) } }] }); // prettier-ignore
    const faces = (r: ChainResult, d: ProjectDocument, id?: string): string => JSON.stringify(makePackage(d, r, spec(id), made).manifest.files[0].sha256); // prettier-ignore
    expect(faces(a, doc)).toBe(faces(b, first));
    expect(faces(a, doc, 'pad')).not.toBe(faces(a, doc));
    expect(() => makePackage(doc, a, spec('gone'), made)).toThrow(PackageRefused);
  });

  it('cannot lose the only ground, nor one that is compared; what is gone is said', () => {
    const doc = apply(start(), { op: 'comparison.set', comparison: { id: 'c', name: 'Pad', surface: 'ground', against: { surface: 'pad' }, within: null } }); // prettier-ignore
    expect(refusal(doc, { op: 'surface.remove', id: 'ground' })).toContain('only ground');
    expect(refusal(doc, { op: 'surface.edit', id: 'ground', set: { role: 'design' } })).toContain('only ground');
    expect(refusal(doc, { op: 'surface.remove', id: 'pad' })).toContain('used by the comparison “Pad”');
    expect(refusal(doc, { op: 'surface.remove', id: 'gone' })).toContain('no longer in the project');
    expect(refusal(doc, row('gone', { id: 'x', on: true, kind: 'survey' }))).toContain('no longer in the project');
    expect(refusal(doc, { op: 'surface.rowRemove', surface: 'pad', id: 'gone' })).toContain('no longer in the recipe');
    const twice = { ...designRecipe({ id: 'x', name: 'x' }, []), rows: [1, 2].map(() => ({ id: 'a', on: true, kind: 'survey' as const })) }; // prettier-ignore
    expect(refusal(doc, { op: 'surface.add', surface: twice })).toContain('same identity');
    // With a second ground the first may go.
    const two = apply(start(), { op: 'surface.add', surface: groundRecipe({ id: 'g2', name: 'After' }) });
    expect(apply(two, { op: 'surface.remove', id: 'ground' }).surfaces.map((s) => s.id)).toEqual(['pad', 'g2']);
  });

  it('ask about a row whose file is gone; deleting the file with its rows asks nothing', () => {
    const gone = apply(start(), { op: 'intake.remove', id: 'pad' });
    const [query] = summary(gone).queries.filter((q) => q.kind === 'recipe-source-gone');
    expect(query.text).toContain('“A pad” is made from a file that is no longer in the project');
    expect(of(gone, 'pad').account.rows['file-pad']).toBeNull();
    const mended = apply(gone, query.remedies[0].change);
    expect(summary(mended).queries.some((q) => q.kind === 'recipe-source-gone')).toBe(false);
    // From the page the surface goes with its file, and comes back with it.
    const doc = start();
    const applied = applyChange(doc, removeFile(doc, 'pad'));
    if (!applied.ok) throw new Error(applied.reason);
    expect(applied.document.surfaces.map((s) => s.id)).toEqual(['ground']);
    expect(apply(applied.document, applied.inverse)).toEqual(doc);
    // One that is compared stays, without the row.
    const compared = apply(doc, { op: 'comparison.set', comparison: { id: 'c', name: 'Pad', surface: 'ground', against: { surface: 'pad' }, within: null } }); // prettier-ignore
    const left = apply(compared, removeFile(compared, 'pad'));
    expect(left.surfaces[1].rows.map((r) => r.kind)).toEqual(['lines']);
    expect(summary(left).comparisons[0]).toMatchObject({ ok: false });
  });

  it('change hands as one change when a file turns out to be something else', () => {
    const doc = start();
    const applied = applyChange(doc, setPurpose(doc, 'day2', 'design', { id: 'pad' }));
    if (!applied.ok) throw new Error(applied.reason);
    expect(of(applied.document, 'ground').points).toBe(6);
    expect(of(applied.document, 'pad').account.rows).toMatchObject({ 'file-day2': 3 });
    expect(apply(applied.document, applied.inverse)).toEqual(doc);
    const control = apply(doc, setPurpose(doc, 'pad', 'control', null));
    expect(control.surfaces[1].rows.map((r) => r.kind)).toEqual(['lines']);
  });

  it('are said one by one in what a change would do', () => {
    const doc = start();
    const memory = new StageMemory();
    const edited = apply(doc, { op: 'points.edit', edits: { 'pad:1': { set: { z: 14 }, undo: [] } } });
    const [before, after] = [run(doc, memory), run(edited, memory)];
    const p = previewChange({ doc, result: before }, { doc: edited, result: after });
    expect(p.surfaces).toMatchObject([{ id: 'pad', name: 'A pad', largestHeight: 2 }]); // prettier-ignore
  });

  it('are made of ten thousand rows as of one', () => {
    const doc = start();
    const many = Array.from({ length: 10_000 }, (_, i): SurfaceRow => ({ id: `r${i}`, on: true, kind: 'file', intake: i === 9999 ? 'pad' : `gone-${i}` })); // prettier-ignore
    const large = apply(doc, { op: 'surface.add', surface: { ...designRecipe({ id: 'large', name: 'Large' }, []), rows: many } }); // prettier-ignore
    expect(of(large, 'large').planArea).toBeCloseTo(of(doc, 'pad').planArea, 12);
    const asked = summary(large).queries.filter((q) => q.kind === 'recipe-source-gone');
    expect(asked).toHaveLength(200);
  });
});

describe('what is kept from one run to the next', () => {
  it('never mixes surfaces: any changes of recipes give what a run from nothing gives', () => {
    const memory = new StageMemory();
    const surface = fc.constantFrom('ground', 'pad', 'copy');
    const change = fc.oneof<fc.Arbitrary<Change>[]>(
      fc.record({ op: fc.constant('surface.add' as const), surface: fc.constant(groundRecipe({ id: 'copy', name: 'Copy' })), at: fc.nat(2) }), // prettier-ignore
      fc.record({ op: fc.constant('surface.remove' as const), id: surface }),
      fc.record({ op: fc.constant('surface.edit' as const), id: surface, set: fc.record({ longestSide: fc.constantFrom(null, 8, 'none' as const), interval: fc.constantFrom(null, 0.5) }) }), // prettier-ignore
      fc.record({ op: fc.constant('surface.row' as const), surface, row: fc.record({ id: fc.constantFrom('a', 'b'), on: fc.boolean(), kind: fc.constant('file' as const), intake: fc.constantFrom('day1', 'day2', 'pad') }), at: fc.nat(4) }), // prettier-ignore
    );
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 5 }), (changes) => {
        let doc = start();
        for (const c of changes) {
          const applied = applyChange(doc, c);
          if (applied.ok) doc = applied.document;
        }
        const [kept, anew] = [run(doc, memory), run(doc)];
        expect(kept.surfaces).toEqual(anew.surfaces);
        expect([...kept.contours]).toEqual([...anew.contours]);
      }),
      { numRuns: 100 },
    );
  });
});
