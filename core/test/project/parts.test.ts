import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import {
  ALWAYS_READ,
  applyChange,
  changeReads,
  designRecipe,
  documentOf,
  layParts,
  newDocument,
  partsBetween,
  partsOf,
  plainIntake,
  type Change,
  type Part,
  type PartsWanted,
  type ProjectDocument,
  type SurfaceRow,
} from '#core/project';
import { ranksOf } from '../../src/project/ranks.ts';
import { demoProject, kessaProject, selmarProject, tarnProject } from '#demo';

// Parts are kept by a store that hands out only what is asked for, in whatever order it likes.

const demos = [demoProject, kessaProject, selmarProject, tarnProject].map((make) =>
  make().changes.reduce<ProjectDocument>((doc, change) => {
    const applied = applyChange(doc, change);
    if (!applied.ok) throw new Error(applied.reason);
    return applied.document;
  }, newDocument()),
);
const [start] = demos;

class Store {
  private readonly parts = new Map<string, Part>();

  constructor(document: ProjectDocument) {
    this.write(partsOf(document));
  }

  write(parts: readonly Part[]): void {
    for (const part of parts) {
      // What is kept is text: no object is shared with what was written.
      const kept = JSON.parse(JSON.stringify(part)) as Part;
      if (part.value === null) this.parts.delete(`${part.kind}/${part.key}`);
      else this.parts.set(`${part.kind}/${part.key}`, kept);
    }
  }

  read(wanted: readonly PartsWanted[]): Part[] {
    const fits = (part: Part): boolean =>
      wanted.some(
        (w) =>
          w.kind === part.kind &&
          ('all' in w || ('keys' in w ? w.keys.includes(part.key) : part.key.startsWith(w.under))),
      );
    return this.all().filter(fits);
  }

  /** Turned round each time, so that no order is to be relied on. */
  all(): Part[] {
    return [...this.parts.values()].reverse();
  }
}

/** Makes a change as a server does, on the parts that it asks for; null where it cannot be made. */
function makeChange(store: Store, change: Change): { inverse: Change; parts: Part[] } | null {
  const before = documentOf(store.read([...ALWAYS_READ, ...changeReads(change)]));
  const applied = applyChange(before.document, change);
  if (!applied.ok) return null;
  const parts = partsBetween(before, applied.document);
  store.write(parts);
  return { inverse: applied.inverse, parts };
}

const ids = ['demo-1', 'demo-2', 'demo-3', 'demo-4'];
const names = ['a', 'b', 'c', 'd'];
const at = fc.option(fc.nat(3), { nil: undefined });
const picture = (id: string, opacity: number) => ({ id, name: 'Scan', opacity }) as never;
const plot = (id: string) => ({ id, title: 'Plot', surface: undefined }) as never;
const rowId = fc.constantFrom('r1', 'r2', 'codes', 'lines');
const surface = fc.constantFrom('ground', 's1', 's2', start.surfaces[1].id);
const rowOf: fc.Arbitrary<SurfaceRow> = fc.oneof(
  fc.record({ id: rowId, on: fc.boolean(), kind: fc.constant('file' as const), intake: fc.constantFrom(...ids) }),
  fc.record({ id: rowId, on: fc.boolean(), kind: fc.constant('lay-in' as const), surface, ring: fc.constant(null) }),
);
const single: fc.Arbitrary<Change> = fc.oneof(
  fc.record({ op: fc.constant('points.edit' as const), edits: fc.dictionary(fc.tuple(fc.constantFrom(...ids, 'gone'), fc.nat(30)).map(([i, r]) => `${i}:${r}`), fc.record({ set: fc.record({ z: fc.integer({ min: 0, max: 9 }), off: fc.boolean() }, { requiredKeys: [] }), undo: fc.constantFrom<('number' | 'z')[]>([], ['z'], ['number']) }), { maxKeys: 3 }) }), // prettier-ignore
  fc.record({
    op: fc.constant('intake.add' as const),
    intake: fc.constantFrom(...names).map((id) => plainIntake(id)),
    at,
  }),
  fc.record({ op: fc.constant('intake.remove' as const), id: fc.constantFrom(...ids, ...names) }),
  fc.record({ op: fc.constant('intake.switch' as const), id: fc.constantFrom(...ids, ...names), on: fc.boolean() }),
  fc.record({ op: fc.constant('intake.file' as const), id: fc.constantFrom(...ids), fileId: fc.constantFrom('f1', 'f2'), fileName: fc.constant('later.csv'), sha256: fc.constant('1'.repeat(64)) }), // prettier-ignore
  fc.record({
    op: fc.constant('intake.prefix' as const),
    id: fc.constantFrom(...ids),
    prefix: fc.constantFrom('', 'K'),
  }),
  fc.record({ op: fc.constant('settings.set' as const), settings: fc.record({ decimals: fc.nat(4) }) }),
  fc.record({ op: fc.constant('comparison.set' as const), comparison: fc.record({ id: fc.constantFrom(...names), name: fc.constantFrom('x', 'y'), surface: fc.constant('ground'), against: fc.constant({ level: 3 }), within: fc.constant(null) }), at }), // prettier-ignore
  fc.record({ op: fc.constant('comparison.remove' as const), id: fc.constantFrom('heap', ...names) }),
  fc.record({ op: fc.constant('points.set' as const), id: fc.constantFrom(...names), set: fc.option(fc.constantFrom(...names).map((name) => ({ id: 'a', name, rules: [] }) as never)), at }).map((c) => ({ ...c, set: c.set && ({ ...(c.set as object), id: c.id } as never) })), // prettier-ignore
  fc.record({ op: fc.constant('picture.set' as const), id: fc.constantFrom(...names), picture: fc.option(fc.constantFrom(0.25, 1)), at }).map((c) => ({ ...c, picture: c.picture && picture(c.id, c.picture) })), // prettier-ignore
  fc.record({ op: fc.constant('drawing.plot' as const), id: fc.constantFrom(...names), plot: fc.boolean(), at }).map((c) => ({ ...c, plot: c.plot ? plot(c.id) : null })), // prettier-ignore
  fc.record({
    op: fc.constant('drawing.set' as const),
    drawing: fc.record({ symbolSize: fc.integer({ min: 1, max: 9 }) }),
  }),
  fc.record({ op: fc.constant('drawing.label' as const), key: fc.constantFrom('demo-2:1/code', 'demo-2:2/code'), to: fc.option(fc.constant([1, 2] as [number, number])) }), // prettier-ignore
  fc.record({ op: fc.constant('record.decide' as const), key: fc.constantFrom('demo-2:1', 'demo-2:2'), decision: fc.constantFrom('used' as const, 'aside' as const, null) }), // prettier-ignore
  fc.record({ op: fc.constant('query.follow' as const), to: fc.dictionary(fc.constantFrom('a', 'b', 'c'), fc.constantFrom('a', 'b', 'd', null), { maxKeys: 2 }) }), // prettier-ignore
  fc.record({ op: fc.constant('query.accept' as const), key: fc.constantFrom('a', 'b'), accepted: fc.constant({ evidence: 'e', reason: 'r', by: 'b', at: '' }) }), // prettier-ignore
  fc.record({ op: fc.constant('query.reopen' as const), key: fc.constantFrom('a', 'b') }),
  fc.record({ op: fc.constant('surface.add' as const), surface: fc.tuple(fc.constantFrom('s1', 's2'), fc.option(rowOf)).map(([id, row]) => ({ ...designRecipe({ id, name: id }, ['demo-2']), ...(row ? { rows: [row] } : {}) })), at }), // prettier-ignore
  fc.record({ op: fc.constant('surface.remove' as const), id: surface }),
  fc.record({ op: fc.constant('surface.edit' as const), id: surface, set: fc.record({ name: fc.constantFrom('one', 'two'), role: fc.constantFrom('ground' as const, 'design' as const) }, { requiredKeys: [] }) }), // prettier-ignore
  fc.record({ op: fc.constant('surface.row' as const), surface, row: rowOf, at }),
  fc.record({ op: fc.constant('surface.rowRemove' as const), surface, id: fc.constantFrom('r1', 'r2', 'codes') }),
  fc.record({ op: fc.constant('boundary.set' as const), surface: fc.option(surface, { nil: undefined }), ring: fc.option(fc.constant([0, 0, 9, 0, 9, 9])) }), // prettier-ignore
  fc.record({ op: fc.constant('line.ground' as const), key: fc.constantFrom('KT1', 'KT2'), used: fc.boolean(), surface: fc.option(surface, { nil: undefined }) }), // prettier-ignore
) as fc.Arbitrary<Change>;
const anyChange: fc.Arbitrary<Change> = fc.oneof(
  { weight: 8, arbitrary: single },
  { weight: 1, arbitrary: fc.array(single, { minLength: 1, maxLength: 4 }).map((changes): Change => ({ op: 'several', changes })) }, // prettier-ignore
);

describe('a document in parts', () => {
  it('is the document again, whatever order its parts come in', () => {
    for (const doc of demos) {
      const parts = partsOf(doc);
      expect(documentOf(parts).document).toEqual(doc);
      expect(documentOf([...parts].reverse()).document).toEqual(doc);
      expect(new Set(parts.map((p) => `${p.kind}/${p.key}`)).size).toBe(parts.length);
    }
  });

  it('takes any changes from the parts that they ask for as from the whole, and comes back when they are undone', () => {
    fc.assert(
      fc.property(fc.array(anyChange, { maxLength: 14 }), (changes) => {
        const store = new Store(start);
        let whole = start;
        let laid = documentOf(store.all());
        const inverses: Change[] = [];
        const make = (change: Change): void => {
          const applied = applyChange(whole, change);
          const made = makeChange(store, change);
          expect(made === null).toBe(!applied.ok);
          if (!applied.ok || !made) return;
          whole = applied.document;
          inverses.push(made.inverse);
          // A page that lays what moved over what it has is where the server is.
          laid = layParts(laid, made.parts);
          expect(laid.document).toEqual(whole);
        };
        for (const change of changes) make(change);
        expect(documentOf(store.all()).document).toEqual(whole);
        for (const inverse of inverses.splice(0).reverse()) make(inverse);
        expect(documentOf(store.all()).document).toEqual(start);
      }),
      { numRuns: 300 },
    );
  });

  it('is written where it changed and nowhere else', () => {
    const store = new Store(start);
    const kinds = (change: Change): string[] => makeChange(store, change)!.parts.map((p) => `${p.kind}/${p.key}`);
    expect(kinds({ op: 'points.edit', edits: { 'demo-2:7': { set: { z: 3 }, undo: [] } } })).toEqual(['edit/demo-2:7']);
    expect(kinds({ op: 'intake.remove', id: 'demo-2' })).toEqual(['intake/demo-2']);
    expect(kinds({ op: 'intake.add', intake: start.intakes[1], at: 1 })).toEqual(['intake/demo-2']);
    expect(kinds({ op: 'surface.row', surface: 'ground', row: { id: 'codes', on: false, kind: 'exclude-codes' } })).toEqual(['surface-row/ground/codes']); // prettier-ignore
    expect(kinds({ op: 'surface.edit', id: 'ground', set: { name: 'Site' } })).toEqual(['surface/ground']);
    expect(kinds({ op: 'settings.set', settings: { decimals: 1 } })).toEqual(['settings/']);
    expect(kinds({ op: 'drawing.label', key: 'demo-2:1/code', to: [1, 1] })).toEqual(['label/demo-2:1/code']);
  });

  it('says why a change cannot be made whose part another one has removed meanwhile', () => {
    const store = new Store(start);
    makeChange(store, { op: 'intake.remove', id: 'demo-2' });
    const change: Change = { op: 'points.edit', edits: { 'demo-2:7': { set: { z: 3 }, undo: [] } } };
    const applied = applyChange(documentOf(store.read([...ALWAYS_READ, ...changeReads(change)])).document, change);
    expect(applied).toMatchObject({ ok: false, reason: 'Point demo-2:7 belongs to no intake of this project.' });
  });

  it('shares with the document before what did not change', () => {
    const before = documentOf(partsOf(start));
    const { document } = layParts(before, [{ kind: 'edit', key: 'demo-2:7', rank: null, value: { z: 1 } }]);
    expect(document.intakes).toBe(before.document.intakes);
    expect(document.surfaces).toBe(before.document.surfaces);
    expect(before.document.edits['demo-2']?.[7]).toBeUndefined();
  });
});

describe('ranks of a list', () => {
  it('rise in its order, and as many as can be stay as they were', () => {
    fc.assert(
      fc.property(fc.array(fc.option(fc.integer({ min: -5, max: 50 }))), (had) => {
        const once = had.map((rank, i) => (had.indexOf(rank) === i ? rank : null));
        const ranks = ranksOf(once);
        expect(ranks.every((rank, i) => i === 0 || rank > ranks[i - 1])).toBe(true);
      }),
    );
    expect(ranksOf([0, null, 1, 2])).toEqual([0, 0.5, 1, 2]);
    expect(ranksOf([3, 0, 1, 2])).toEqual([-1, 0, 1, 2]);
    expect(ranksOf([null, null])).toEqual([0, 1]);
    expect(ranksOf([5, null, null])).toEqual([5, 6, 7]);
  });

  it('are counted anew where there is no room between two', () => {
    let list: number[] = [0, 1];
    for (let i = 0; i < 100; i++) list = ranksOf([list[0], null, ...list.slice(1)]);
    expect(new Set(list).size).toBe(102);
    expect([...list].sort((a, b) => a - b)).toEqual(list);
  });
});
