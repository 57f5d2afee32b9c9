import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEFAULT_CODE_LIST } from '#core/codes';
import { applyChange, changeSchema, followStart, newDocument, newStart, START_PARTS, startDifferences, type ProjectDocument, type Settings, type Start } from '#core/project'; // prettier-ignore

const follow = (doc: ProjectDocument, team: Start, parts: readonly (typeof START_PARTS)[number][]): ProjectDocument => {
  const change = followStart(doc, team, parts);
  if (!change) return doc;
  expect(changeSchema.safeParse(change).success).toBe(true);
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  expect(applyChange(applied.document, applied.inverse)).toMatchObject({ ok: true, document: doc });
  return applied.document;
};
const team = (settings: Partial<Settings>): Start => newStart(settings);

describe('a project and its team’s start settings', () => {
  it('that are the same differ in nothing, and nothing follows', () => {
    expect(startDifferences(newDocument(), newStart())).toEqual([]);
    expect(followStart(newDocument(), newStart(), START_PARTS)).toBeNull();
  });

  it('that differ say in what, with both values in the project’s own unit', () => {
    const differences = startDifferences(newDocument({ unit: 'ft' }), team({ unit: 'm', checkPlan: 0.3048, angleSpread: Math.PI / 180 / 60 })); // prettier-ignore
    expect(differences.map((d) => [d.part, d.what, d.here, d.there])).toEqual([
      ['display', 'the unit', 'international feet', 'metres'],
      ['practice', 'the tolerance of checks in plan', expect.stringMatching(/ ft$/), '1.000 ft'],
      ['practice', 'the tolerance of repeated angles', expect.stringMatching(/^0°00′/), '0°01′00″'],
    ]);
  });

  it('where codes differ count them, and keep those that only the project has', () => {
    const mine = { ...DEFAULT_CODE_LIST.codes[0], code: 'OWN' };
    const theirs = { ...DEFAULT_CODE_LIST.codes[0], code: 'NEW' };
    const changed = { ...DEFAULT_CODE_LIST.codes[1], name: 'another name' };
    const own = { ...newDocument(), codeList: { ...DEFAULT_CODE_LIST, codes: [...DEFAULT_CODE_LIST.codes, mine] } };
    const start = { ...newStart(), codeList: { ...DEFAULT_CODE_LIST, codes: [DEFAULT_CODE_LIST.codes[0], changed, ...DEFAULT_CODE_LIST.codes.slice(2), theirs] } }; // prettier-ignore
    expect(startDifferences(own, start)).toMatchObject([{ part: 'codes', there: '1 new, 1 different' }]);
    const { codes } = follow(own, start, ['codes']).codeList;
    expect(codes.map((c) => c.code).slice(-2)).toEqual(['NEW', 'OWN']);
    expect(codes[1].name).toBe('another name');
    expect(startDifferences(follow(own, start, ['codes']), start)).toEqual([]);
  });

  it('never leave a code that is a line word of the team in the list', () => {
    const mine = { ...DEFAULT_CODE_LIST.codes[0], code: 'HALT' };
    const own = { ...newDocument(), codeList: { ...DEFAULT_CODE_LIST, codes: [...DEFAULT_CODE_LIST.codes, mine] } };
    const start = { ...newStart(), codeList: { ...DEFAULT_CODE_LIST, words: { ...DEFAULT_CODE_LIST.words, end: 'HALT' } } }; // prettier-ignore
    expect(follow(own, start, ['codes']).codeList.codes.some((c) => c.code === 'HALT')).toBe(false);
  });

  it('of which some parts follow leaves the others and the basis alone: any settings', () => {
    const part = fc.constantFrom(...START_PARTS);
    const settings = fc.record({ decimals: fc.integer({ min: 0, max: 6 }), spike: fc.double({ min: 0.01, max: 9, noNaN: true }), traverse: fc.constantFrom('carried', 'compass', 'transit') } as const); // prettier-ignore
    fc.assert(
      fc.property(settings, settings, fc.uniqueArray(part), (own, theirs, parts) => {
        const doc = newDocument(own);
        const start = { ...newStart(theirs), basis: { ...newStart().basis, factor: 0.9997 } };
        const after = follow(doc, start, parts);
        expect(after.basis).toEqual(doc.basis);
        const left = startDifferences(after, start).map((d) => d.part);
        expect(left.filter((p) => parts.includes(p))).toEqual([]);
        const before = startDifferences(doc, start).filter((d) => !parts.includes(d.part));
        expect(left).toEqual(before.map((d) => d.part));
      }),
    );
  });
});
