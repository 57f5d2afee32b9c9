import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { runChain, stageKey, STAGES, type ChainResult } from '#core/chain';
import { StageMemory } from '#core/stages';
import {
  applyChange,
  designRecipe,
  groundRecipe,
  type SurfaceRow,
  changeSchema,
  changeTouches,
  describeChange,
  newDocument,
  type Change,
  type ProjectDocument,
} from '#core/project';
import { readByPlan, readingPlan } from '#core/sources';
import { packContours, packLines, packPoints, packReduction, packSurface } from '#core/stages';
import type { ReadPoints } from '#core/exchange';
import { hashBytes } from '#core/kernel';
import { kessaProject } from '#demo';

// Whatever people do to a project, one after the other, in books, settings, files, codes and lines.

/** Keys of all results, as if every input held the same. */
const stageKeys = (doc: ProjectDocument): string[] =>
  STAGES.flatMap((stage) => stage.subjects(doc).map((subject) => stageKey(stage, doc, subject, () => 'same')));
const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};
const demo = kessaProject();
const start = demo.changes.reduce(apply, newDocument());
const reads = new Map<string, ReadPoints>();
for (const intake of start.intakes) {
  const { bytes } = demo.files.find((f) => f.id === intake.fileId)!;
  const reading = await readByPlan(bytes, readingPlan(start.basis, intake), {});
  if (!reading?.ok) throw new Error(intake.fileName);
  reads.set(intake.id, reading.read);
}
const readOf = (intake: { id: string }): ReadPoints => reads.get(intake.id)!;
const first = runChain(start, readOf);

/** Everything that a run gives, as the store keeps it: byte for byte. */
const printOf = (r: ChainResult): Record<string, string> => ({
  points: hashBytes(packPoints(r.points)),
  reduction: hashBytes(packReduction(r)),
  lines: hashBytes(packLines(r.linework)),
  ...Object.fromEntries([...r.contours].map(([id, c]) => [`contours ${id}`, hashBytes(packContours(c.list))])),
  summary: hashBytes(new TextEncoder().encode(JSON.stringify(r.summary))),
  ...Object.fromEntries(r.surfaces.map((g) => [`surface ${g.id}`, hashBytes(packSurface(g.surface))])),
});

const books = start.intakes.filter((i) => i.form === 'book').map((i) => i.id);
const recordKeys = start.intakes.flatMap((i) => (reads.get(i.id)!.book?.records ?? []).map((r) => `${i.id}:${r.row}`));
const decidable = first.reduction!.setups.flatMap((s) => [`${s.book}:${s.row}`, ...s.backsights.map((b) => `${s.book}:${b.row}`)]); // prettier-ignore
const lineKeys = first.linework.lines.map((l) => l.key);

const reading = fc.double({ min: 1, max: 3, noNaN: true });
const set = fc.oneof(
  fc.record({ height: reading }),
  fc.record({ distance: reading.map((v) => 10 * v) }),
  fc.record({ circle: reading, zenith: fc.double({ min: 1, max: 2, noNaN: true }) }),
  fc.record({ number: fc.constantFrom('KB2', 'KB5', 'FS1', '101', 'new') }),
  fc.record({ description: fc.constantFrom('BF1', 'BF1 END', 'nobody', '') }),
  fc.record({ off: fc.boolean() }),
  fc.record({ role: fc.constantFrom('back' as const, 'shot' as const, 'check' as const) }),
);
const undone = fc.constantFrom<('height' | 'number' | 'off')[]>([], ['height'], ['number', 'off']);
const settings = fc.oneof(
  fc.record({ checkPlan: fc.constantFrom(0.005, 0.03, 9), checkHeight: fc.constantFrom(0.001, 0.05, 9) }),
  fc.record({ backsightRule: fc.constantFrom('within' as const, 'ask' as const) }),
  fc.record({ network: fc.boolean(), networkDatum: fc.constantFrom('standing' as const, 'free' as const) }),
  fc.record({ traverse: fc.constantFrom('carried' as const, 'compass' as const, 'transit' as const) }),
  fc.record({ resectionScale: fc.constantFrom('fixed' as const, 'free' as const) }),
  fc.record({ gnssPlan: fc.constantFrom(0.001, 0.03, 5), gnssPdop: fc.constantFrom(1, 6) }),
  fc.record({ levelClosure: fc.constantFrom(0.0001, 0.01) }),
  fc.record({ refraction: fc.constantFrom(0, 0.13, 0.2) }),
  fc.record({ lineOrder: fc.constantFrom('observed' as const, 'number' as const, 'time' as const) }),
  fc.record({ longestSide: fc.constantFrom(5, 30, null), coincidence: fc.constantFrom(0, 0.01, 2) }),
  fc.record({ contourInterval: fc.constantFrom(0.1, 0.25, 1) }),
);
const instrument = {
  name: 'T1',
  direction: 1e-5,
  zenith: 2e-5,
  distance: 0.002,
  ppm: 2,
  constant: 0,
  wavelength: 0.658,
};
const surfaceId = fc.constantFrom('ground', 'pad', 'old');
const row = fc.oneof<fc.Arbitrary<SurfaceRow>[]>(
  fc.record({ id: fc.constant('survey'), on: fc.boolean(), kind: fc.constant('survey' as const) }),
  fc.record({ id: fc.constantFrom('a', 'b'), on: fc.boolean(), kind: fc.constant('file' as const), intake: fc.constantFrom(...start.intakes.map((i) => i.id), 'gone') }), // prettier-ignore
  fc.record({ id: fc.constantFrom('lines', 'c'), on: fc.boolean(), kind: fc.constant('lines' as const), codes: fc.constantFrom<(string[] | null)[]>(null, ['BF'], []) }), // prettier-ignore
  fc.record({ id: fc.constant('codes'), on: fc.boolean(), kind: fc.constant('exclude-codes' as const) }),
  fc.record({ id: fc.constant('boundary'), on: fc.boolean(), kind: fc.constant('boundary' as const), ring: fc.constant<number[]>([4300, 7700, 4400, 7700, 4400, 7800]) }), // prettier-ignore
);
const surfaceChange = fc.oneof<fc.Arbitrary<Change>[]>(
  fc.record({ op: fc.constant('surface.add' as const), surface: fc.constantFrom(designRecipe({ id: 'pad', name: 'A pad' }, [books[0]]), groundRecipe({ id: 'old', name: 'Before' })), at: fc.constantFrom(0, 1) }), // prettier-ignore
  fc.record({ op: fc.constant('surface.remove' as const), id: surfaceId }),
  fc.record({ op: fc.constant('surface.edit' as const), id: surfaceId, set: fc.constantFrom({ role: 'design' as const }, { name: 'Other', longestSide: 'none' as const }, { interval: 0.5, indexEvery: 2 }, { coincidence: 0.5 }) }), // prettier-ignore
  fc.record({ op: fc.constant('surface.row' as const), surface: surfaceId, row, at: fc.constantFrom(0, 1, 9) }),
  fc.record({ op: fc.constant('surface.rowRemove' as const), surface: surfaceId, id: fc.constantFrom('survey', 'lines', 'a', 'boundary') }), // prettier-ignore
  fc.record({ op: fc.constant('boundary.set' as const), ring: fc.constantFrom<(number[] | null)[]>(null, [4300, 7700, 4400, 7700, 4350, 7800]), surface: surfaceId }), // prettier-ignore
  fc.record({ op: fc.constant('several' as const), changes: fc.constant<Change[]>([{ op: 'surface.add', surface: designRecipe({ id: 'pad', name: 'A pad' }, []) }, { op: 'surface.row', surface: 'pad', row: { id: 'all', on: true, kind: 'survey' }, at: 0 }]) }), // prettier-ignore
);
const change: fc.Arbitrary<Change> = fc.oneof(
  { weight: 5, arbitrary: fc.record({ op: fc.constant('points.edit' as const), edits: fc.dictionary(fc.constantFrom(...recordKeys), fc.record({ set, undo: undone }), { minKeys: 1, maxKeys: 3 }) }) }, // prettier-ignore
  { weight: 2, arbitrary: fc.record({ op: fc.constant('record.decide' as const), key: fc.constantFrom(...decidable), decision: fc.constantFrom('used' as const, 'aside' as const, null) }) }, // prettier-ignore
  { weight: 4, arbitrary: fc.record({ op: fc.constant('settings.set' as const), settings }) },
  fc.record({ op: fc.constant('intake.switch' as const), id: fc.constantFrom(...start.intakes.map((i) => i.id)), on: fc.boolean() }), // prettier-ignore
  fc.record({ op: fc.constant('intake.purpose' as const), id: fc.constantFrom(...start.intakes.filter((i) => i.form !== 'book').map((i) => i.id)), purpose: fc.constantFrom('control' as const, 'survey' as const, 'design' as const) }), // prettier-ignore
  { weight: 4, arbitrary: surfaceChange },
  fc.record({ op: fc.constant('intake.prefix' as const), id: fc.constantFrom(...books), prefix: fc.constantFrom('', 'D2-') }), // prettier-ignore
  fc.record({ op: fc.constant('basis.set' as const), basis: fc.record({ factor: fc.constantFrom(1, 0.9996) }) }),
  fc.record({ op: fc.constant('register.set' as const), register: fc.record({ instruments: fc.subarray([instrument]), targets: fc.subarray([{ name: 'R1', constant: 0.03 }]) }) }), // prettier-ignore
  fc.record({ op: fc.constant('line.ground' as const), key: fc.constantFrom(...lineKeys), used: fc.boolean() }),
  fc.record({ op: fc.constant('query.follow' as const), to: fc.dictionary(fc.constantFrom(...first.queries.map((q) => q.key)), fc.constantFrom(...first.queries.map((q) => q.key), null), { minKeys: 1, maxKeys: 2 }) }), // prettier-ignore
  fc.record({ op: fc.constant('query.accept' as const), key: fc.constantFrom(...first.queries.map((q) => q.key)), accepted: fc.constantFrom(...first.queries.map((q) => ({ evidence: q.evidence, reason: 'seen', by: 'Ida', at: '2026-07-21T08:00:00Z' }))) }), // prettier-ignore
  fc.constantFrom<Change>({ op: 'codes.set', codeList: { ...start.codeList, codes: start.codeList.codes.slice(1) } }, { op: 'codes.set', codeList: start.codeList }), // prettier-ignore
);

describe('changes of every kind, one after the other', () => {
  it('are taken back to the letter, say what they are, and leave what computing everything anew would give', () => {
    const memory = new StageMemory();
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 4 }), (changes) => {
        let doc = start;
        for (const c of changes) {
          expect(changeSchema.parse(c)).toBeTruthy();
          const applied = applyChange(doc, c);
          if (!applied.ok) continue;
          const back = applyChange(applied.document, applied.inverse);
          if (!back.ok) throw new Error(back.reason);
          expect(back.document).toEqual(doc);
          // To be stored: nothing is lost on the way into text.
          expect(JSON.parse(JSON.stringify(applied.document))).toEqual(applied.document);
          expect(describeChange(c, start.settings).length).toBeGreaterThan(3);
          doc = applied.document;
        }
        expect(printOf(runChain(doc, readOf, memory))).toEqual(printOf(runChain(doc, readOf)));
      }),
      { numRuns: 60 },
    );
    // And back at the beginning, whatever was in between.
    expect(printOf(runChain(start, readOf, memory))).toEqual(printOf(first));
  });

  it('come to the same bits whatever order a store gives its records back in', () => {
    const turned = <T>(value: T): T => {
      if (Array.isArray(value)) return value.map(turned) as T;
      if (typeof value !== 'object' || value === null) return value;
      return Object.fromEntries(Object.entries(value).reverse().map(([k, v]) => [k, turned(v)])) as T; // prettier-ignore
    };
    const open = first.queries.find((q) => q.weight === 'look' && !q.accepted)!;
    const accepted = { evidence: open.evidence, reason: 'seen', by: 'Ida', at: '2026-07-21T08:00:00Z' };
    const accept: Change = { op: 'query.accept', key: open.key, accepted };
    fc.assert(
      fc.property(fc.array(change, { minLength: 2, maxLength: 5 }), (changes) => {
        let doc = start;
        for (const c of [accept, ...changes]) {
          const applied = applyChange(doc, c);
          if (applied.ok) doc = applied.document;
        }
        const other = turned(doc);
        expect(stageKeys(other)).toEqual(stageKeys(doc));
        expect(printOf(runChain(other, readOf))).toEqual(printOf(runChain(doc, readOf)));
      }),
      { numRuns: 15 },
    );
  });

  it('that speak of different things come to the same in either order', () => {
    // Which of two that were added stands first is who came first.
    const byId = <T extends { id: string }>(list: T[]): T[] => [...list].sort((a, b) => (a.id < b.id ? -1 : 1));
    const inNoOrder = (doc: ProjectDocument | null) =>
      doc && { ...doc, surfaces: byId(doc.surfaces.map((s) => ({ ...s, rows: byId(s.rows) }))) };
    const under = (a: string, b: string): boolean => a === b || a.startsWith(`${b}/`);
    fc.assert(
      fc.property(change, change, (a, b) => {
        const [p, q] = [changeTouches(a), changeTouches(b)];
        expect(p.length).toBeGreaterThan(0);
        fc.pre(!p.some((x) => q.some((y) => under(x, y) || under(y, x))));
        const both = (c: Change, d: Change): ProjectDocument | null => {
          const one = applyChange(start, c);
          const two = one.ok ? applyChange(one.document, d) : null;
          return two?.ok ? two.document : null;
        };
        expect(inNoOrder(both(a, b))).toEqual(inNoOrder(both(b, a)));
      }),
      { numRuns: 300 },
    );
  });
});
