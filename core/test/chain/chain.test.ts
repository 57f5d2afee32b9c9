import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeText, readPoints, type ReadPoints } from '#core/exchange';
import { ChainRun, Previewer, runChain, stageKey, STAGES } from '#core/chain';
import { StageMemory } from '#core/stages';
import {
  applyChange,
  documentSchema,
  newDocument,
  type Change,
  type Intake,
  type ProjectDocument,
} from '#core/project';
import type { Query } from '#core/queries';
import { packRead, unpackRead } from '#core/sources';
import {
  packContours,
  packLines,
  packPoints,
  packSurface,
  STATE,
  StageCancelled,
  unpackContours,
  unpackLines,
  unpackPoints,
  unpackSurface,
} from '#core/stages';
import { makePackage, PackageRefused, type PackageSpec } from '#core/handover';
import { demoFiles, demoProject } from '#demo';

const demo = demoProject();
const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};
const start = demo.changes.reduce(apply, newDocument());
const readOf = (intake: Intake): ReadPoints => {
  const decoded = decodeText(demo.files.find((f) => f.id === intake.fileId)!.bytes);
  if (!decoded.ok) throw new Error(decoded.reason);
  return readPoints(decoded.text, intake.layout)!;
};
const queriesOf = (doc: ProjectDocument): Query[] => runChain(doc, readOf).queries;
const open = (doc: ProjectDocument): Query[] => queriesOf(doc).filter((q) => !q.accepted);
const first = runChain(start, readOf);

describe('the demo’s slips', () => {
  for (const slip of demoFiles().slips)
    it(`${slip.kind} at ${slip.where} is found`, () => {
      if (slip.kind === 'refused-row') {
        const intake = start.intakes.find((i) => i.fileName === slip.where)!;
        expect(readOf(intake).refused).toHaveLength(1);
        return;
      }
      const about = (q: Query): boolean =>
        q.key.includes(slip.where) || q.text.includes(slip.where) || q.lines.includes(slip.where);
      expect(first.queries.some((q) => q.kind === slip.kind && about(q))).toBe(true);
    });

  it('are all settled by their first remedies, one after the other, and no query is left but the notes', () => {
    let doc = start;
    for (let step = 0; step < 20; step++) {
      const query = open(doc).find((q) => q.remedies.length > 0);
      if (!query) break;
      doc = apply(doc, query.remedies[0].change);
      expect(open(doc).map((q) => q.key)).not.toContain(query.key);
    }
    expect(open(doc)).toEqual([]);
    // The sounding is now among the ground; nothing waits any more.
    expect(runChain(doc, readOf).points.state.every((s) => s !== STATE.waits)).toBe(true);
  });

  it('keep suspects out of the ground until somebody decides', () => {
    const { points, surfaces } = first;
    const inGround = new Set(surfaces[0].surface.point);
    for (let row = 0; row < points.x.length; row++)
      if (points.state[row] === STATE.waits) expect(inGround.has(row)).toBe(false);
    expect(points.state.filter((s) => s === STATE.waits).length).toBe(77);
  });
});

describe('queries', () => {
  it('stay accepted while their evidence stays, and come back when it changes', () => {
    const query = first.queries.find((q) => q.kind === 'spike')!;
    const accepted = apply(start, {
      op: 'query.accept',
      key: query.key,
      accepted: { evidence: query.evidence, reason: 'a hole dug for a sample', by: 'IK', at: '' },
    });
    expect(queriesOf(accepted).find((q) => q.key === query.key)!.accepted?.reason).toContain('hole');
    const key = query.key.replace('spike:', '');
    const lower = apply(accepted, { op: 'points.edit', edits: { [key]: { set: { z: 62.5 }, undo: [] } } });
    expect(queriesOf(lower).find((q) => q.key === query.key)!.accepted).toBeNull();
  });

  it('let a point into the ground when it is accepted as it is', () => {
    const query = first.queries.find((q) => q.kind === 'zero-elevation')!;
    const doc = apply(start, {
      op: 'query.accept',
      key: query.key,
      accepted: { evidence: query.evidence, reason: 'a shaft', by: 'IK', at: '' },
    });
    expect(runChain(doc, readOf).points.state[query.rows[0]]).toBe(STATE.used);
  });

  it('ask once about a file most of whose numbers exist already, and decide for all', () => {
    const again: Intake = { ...start.intakes[1], id: 'again', fileName: 'day1-again.csv' };
    const doc = apply(start, { op: 'intake.add', intake: again });
    const query = open(doc).find((q) => q.key === 'number-twice:file:again')!;
    // 214 is asked about on its own: day two has used it too.
    expect(query.text).toContain('479 numbers');
    const decided = apply(doc, query.remedies.find((r) => r.label.startsWith('Same points'))!.change);
    const { points } = runChain(decided, readOf);
    expect(points.state.filter((s) => s === STATE.leftOut).length).toBe(480);
    expect(open(decided).some((q) => q.key.includes('again'))).toBe(false);
  });
});

/** Keys of all results, as if every input held the same. */
const stageKeys = (doc: ProjectDocument): string[] =>
  STAGES.flatMap((stage) => stage.subjects(doc).map((subject) => stageKey(stage, doc, subject, () => 'same')));

const key = (i: number): string => `demo-2:${2 + (i % 400)}`;
const anyChange: fc.Arbitrary<Change> = fc.oneof(
  fc.record({
    op: fc.constant('points.edit' as const),
    edits: fc.dictionary(
      fc.nat(400).map(key),
      fc.record({
        set: fc.record(
          {
            z: fc.option(fc.integer({ min: -10, max: 99 })),
            description: fc.constantFrom('GR', 'KT1', ''),
            off: fc.boolean(),
          },
          { requiredKeys: [] },
        ),
        undo: fc.constantFrom<('number' | 'x')[]>([], ['number'], ['x']),
      }),
      { maxKeys: 3 },
    ),
  }) as fc.Arbitrary<Change>,
  fc.record({ op: fc.constant('intake.switch' as const), id: fc.constantFrom('demo-2', 'demo-3'), on: fc.boolean() }),
  fc.record({
    op: fc.constant('settings.set' as const),
    settings: fc.record(
      { longestSide: fc.option(fc.integer({ min: 5, max: 50 })), contourInterval: fc.constantFrom(0.5, 1) },
      { requiredKeys: [] },
    ),
  }) as fc.Arbitrary<Change>,
  fc.constantFrom<Change>(
    { op: 'boundary.set', ring: [4240, 7690, 4380, 7700, 4300, 7790] },
    { op: 'boundary.set', ring: null },
    { op: 'comparison.remove', id: 'heap' },
    { op: 'line.ground', key: 'KT1', used: false },
    { op: 'query.reopen', key: 'nothing' },
    { op: 'intake.remove', id: 'demo-4' },
  ),
);

describe('changes', () => {
  it('are taken back by their inverses, to the same document', () => {
    fc.assert(
      fc.property(fc.array(anyChange, { maxLength: 12 }), (changes) => {
        let doc = start;
        const inverses: Change[] = [];
        for (const change of changes) {
          const applied = applyChange(doc, change);
          if (!applied.ok) continue;
          doc = applied.document;
          expect(documentSchema.safeParse(doc).success).toBe(true);
          inverses.push(applied.inverse);
        }
        for (const inverse of inverses.reverse()) doc = apply(doc, inverse);
        expect(doc).toEqual(start);
        expect(stageKeys(doc)).toEqual(stageKeys(start));
      }),
      { numRuns: 200 },
    );
  });

  it('rebuild lines, surface, contours and volumes when one elevation changes, and come back when undone', () => {
    const heap = first.points.number.indexOf('691');
    const edit: Change = {
      op: 'points.edit',
      edits: { [`demo-3:${first.points.fileRow[heap]}`]: { set: { z: 70 }, undo: [] } },
    };
    const before = first.summary;
    const after = runChain(apply(start, edit), readOf).summary;
    expect(after.surfaces[0].highest).toBe(70);
    const cut = (s: typeof before): number => {
      const c = s.comparisons.find((k) => k.id === 'heap')!;
      return c.ok ? c.cut : NaN;
    };
    expect(cut(after)).toBeGreaterThan(cut(before) + 10);
    expect(after.surfaces[0].contours).toBeGreaterThan(before.surfaces[0].contours);
  });

  it('recompute only what depends on them', () => {
    const memory = new StageMemory();
    runChain(start, readOf, memory);
    const counts = { ...memory.computed };
    runChain(apply(start, { op: 'settings.set', settings: { contourInterval: 1 } }), readOf, memory);
    const { 'contour levels drawn': levels, ...others } = memory.computed;
    const { 'contour levels drawn': before, ...counted } = counts;
    const asked = { summary: 2, 'ground queries': 2 };
    expect(others).toEqual({ ...counted, ...asked, contours: counts.contours + start.surfaces.length });
    expect(levels).toBeGreaterThan(before);
    runChain(apply(start, { op: 'comparison.remove', id: 'heap' }), readOf, memory);
    expect(memory.computed.surfaces).toBe(counts.surfaces);
    runChain(start, readOf, memory);
    expect(memory.computed.points).toBe(counts.points);
  });
});

describe('an input that comes out the same', () => {
  const counted = (change: Change): Record<string, number> => {
    const memory = new StageMemory();
    runChain(start, readOf, memory);
    const before = { ...memory.computed };
    const kept = runChain(apply(start, change), readOf, memory);
    expect(kept.summary).toEqual(runChain(apply(start, change), readOf).summary);
    return Object.fromEntries(Object.entries(memory.computed).map(([k, n]) => [k, n - (before[k] ?? 0)]));
  };
  const nothing = { surfaces: 0, contours: 0, pieces: 0, 'triangles made': 0, 'contour levels drawn': 0, 'lines built': 0 }; // prettier-ignore

  it('stops the recomputation there: an accepted query leaves lines, surfaces, contours and comparisons', () => {
    const query = first.queries.find((q) => q.kind === 'number-twice' || q.kind === 'unknown-code')!;
    const accepted = { evidence: query.evidence, reason: 'seen', by: 'Ina', at: '2026-07-21T08:00:00Z' };
    expect(counted({ op: 'query.accept', key: query.key, accepted })).toMatchObject({
      reduction: 0,
      points: 0,
      summary: 1,
      ...nothing,
    });
  });

  it('leaves what depends on another surface: one design’s point moves one surface and what is compared with it', () => {
    const pad = start.intakes.findIndex((i) => i.purpose === 'design');
    const row = first.points.intake.indexOf(pad);
    const key = `${start.intakes[pad].id}:${first.points.fileRow[row]}`;
    const counts = counted({ op: 'points.edit', edits: { [key]: { set: { z: 64 }, undo: [] } } });
    // Both surfaces are laid over the new table; the ground comes out as it was, and what depends on it stands.
    expect(counts).toMatchObject({ reduction: 0, points: 1, surfaces: 2, contours: 1, pieces: 1, 'lines built': 0 });
  });

  it('leaves everything but itself where a surface is only named anew', () => {
    expect(counted({ op: 'surface.edit', id: 'pad', set: { interval: 2 } })).toMatchObject({ ...nothing, contours: 1, surfaces: 1 }); // prettier-ignore
  });
});

describe('a run that is followed', () => {
  it('says stage by stage and surface by surface what it computes, and nothing of what it has', () => {
    const memory = new StageMemory();
    const said: string[] = [];
    const watch = { progress: (stage: { name: string }, subject: string, share: number) => void (share === 0 && said.push(`${stage.name} ${subject}`.trim())) }; // prettier-ignore
    new ChainRun(start, readOf, memory, watch).all();
    const all = STAGES.flatMap((s) => s.subjects(start).map((subject) => `${s.name} ${subject}`.trim()));
    expect([...said].sort()).toEqual([...all].sort());
    said.length = 0;
    new ChainRun(start, readOf, memory, watch).all();
    expect(said).toEqual([]);
  });

  it('ends between two stages when nobody wants it any more, and what is asked next is right', async () => {
    const previewer = new Previewer();
    const edit = (z: number): Change => ({ op: 'points.edit', edits: { [key(7)]: { set: { z }, undo: [] } } });
    let pauses = 0;
    const impatient = { pause: async () => void (await Promise.resolve(pauses++)), cancelled: () => pauses >= 3 };
    await expect(previewer.preview(start, edit(70), readOf, undefined, null, impatient)).rejects.toThrow(
      StageCancelled,
    );
    const { preview } = await previewer.preview(start, edit(71), readOf);
    expect(preview).toEqual((await new Previewer().preview(start, edit(71), readOf)).preview);
    expect(preview.pointsChanged).toBe(1);
  });
});

describe('packed results', () => {
  it('come back as they were', () => {
    expect(unpackPoints(packPoints(first.points))).toEqual(first.points);
    expect(unpackLines(packLines(first.linework))).toEqual(first.linework);
    expect(unpackSurface(packSurface(first.surfaces[0].surface))).toEqual(first.surfaces[0].surface);
    const { list } = first.contours.get('ground')!;
    expect(unpackContours(packContours(list))).toEqual(list);
    const read = readOf(start.intakes[1]);
    expect(unpackRead(packRead(read))).toEqual(read);
  });

  it('are refused when they are cut short', () => {
    const block = packPoints(first.points);
    expect(() => unpackPoints(block.slice(0, 200))).toThrow();
    expect(() => unpackPoints(new Uint8Array(64))).toThrow(/not a block/);
  });
});

describe('a package', () => {
  const spec: PackageSpec = {
    coordinates: { kind: 'grid' },
    name: 'Design office',
    unit: 'usft',
    files: [
      { kind: 'csv', order: ['P', 'N', 'E', 'Z', 'D'], decimals: 3, separator: ',', headings: true, control: true },
      {
        kind: 'dxf',
        version: 'R12',
        decimals: 4,
        parts: { points: true, lines: true, contours: true, surface: true },
        textHeight: 0.5,
      },
      {
        kind: 'dxf',
        version: '2000',
        decimals: 4,
        parts: { points: true, lines: true, contours: false, surface: false, symbols: true, labels: true },
        textHeight: 0.5,
      },
      { kind: 'landxml', decimals: 4 },
    ],
  };
  const made = { project: 'Ostrel Landing', revision: 8, at: '2026-05-12T16:55:00.000Z', by: 'Ina Quillow' };

  it('holds every file, read back within half of its last decimal, and is the same when made again', () => {
    const { manifest, zip } = makePackage(start, first, spec, made);
    expect(manifest.files.map((f) => f.name)).toEqual([
      'Ostrel-Landing-points-2026-05-12-r8.csv',
      'Ostrel-Landing-drawing-R12-2026-05-12-r8.dxf',
      'Ostrel-Landing-drawing-2000-2026-05-12-r8.dxf',
      'Ostrel-Landing-ground-2026-05-12-r8.xml',
    ]);
    for (const f of manifest.files) {
      expect(f.readBack.ok).toBe(true);
      expect(f.readBack.largestDeviation).toBeLessThanOrEqual(f.readBack.allowed);
      expect(f.readBack.largestDeviation).toBeGreaterThan(0);
    }
    expect(manifest.openQueries).toBe(open(start).length);
    expect(makePackage(start, first, spec, made).zip).toEqual(zip);
  });

  it('is refused when nothing is chosen or nothing is there', () => {
    const none: PackageSpec = {
      ...spec,
      files: [
        {
          kind: 'dxf',
          version: '2000',
          decimals: 3,
          parts: { points: false, lines: false, contours: false, surface: false },
          textHeight: 0,
        },
      ],
    };
    expect(() => makePackage(start, first, none, made)).toThrow(PackageRefused);
    const empty = newDocument();
    expect(() => makePackage(empty, runChain(empty, readOf), spec, made)).toThrow(/no points/);
  });
});

describe('an empty project', () => {
  it('has an empty ground, no queries and no failure', () => {
    const doc = newDocument();
    const s = runChain(doc, readOf).summary;
    expect(s).toMatchObject({ points: 0, lines: 0, queries: [] });
    expect(s.surfaces.map((u) => [u.name, u.triangles])).toEqual([['Ground', 0]]);
  });
});
