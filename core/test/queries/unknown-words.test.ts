import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { applyChange, newDocument, plainIntake, type Intake, type ProjectDocument } from '#core/project';
import { failedRead, type ReadPoints } from '#core/exchange';

// A word that a crew uses and the list does not know is a word, not a misspelt code.

function project(descriptions: string[], words?: Intake['words']): { doc: ProjectDocument; readOf: () => ReadPoints } {
  const read: ReadPoints = {
    ...failedRead(''),
    failure: undefined,
    rows: descriptions.length,
    number: descriptions.map((_, i) => String(101 + i)),
    x: Float64Array.from(descriptions, (_, i) => (i % 4) * 6),
    y: Float64Array.from(descriptions, (_, i) => Math.floor(i / 4) * 9),
    z: Float64Array.from(descriptions, () => 10),
    description: descriptions,
    row: Uint32Array.from(descriptions, (_, i) => i + 1),
  };
  const doc = { ...newDocument(), intakes: [plainIntake('day', words ? { words } : {})] };
  return { doc, readOf: () => read };
}
const LINES = ['KT1', 'KT2', 'KT3', 'KT4'].flatMap((l) => [`${l} BEG`, l, l, `${l} S`]);
const about = (doc: ProjectDocument, readOf: () => ReadPoints, code: string) =>
  runChain(doc, readOf).queries.filter((q) => q.kind === 'unknown-code' && q.text.includes(code));

describe('a word that the list does not know', () => {
  it('is named as a word with what it most likely means, and no code near it is proposed', () => {
    const { doc, readOf } = project(LINES);
    const [query, ...more] = about(doc, readOf, 'S');
    expect(more).toEqual([]);
    expect(query.text).toMatch(/^S on 4 shots \(104, 108, 112, 116\) reads like a line word, not a code: 100 % of its uses are on the last shot of a line\. Does it end the line\?$/); // prettier-ignore
    expect(query.text).not.toContain('shrub');
    const read = applyChange(doc, query.remedies[0].change);
    expect(read.ok && about(read.document, readOf, 'S')).toEqual([]);
    const lines = read.ok ? runChain(read.document, readOf).linework.lines : [];
    expect(lines.map((l) => l.key)).toEqual(['KT1', 'KT2', 'KT3', 'KT4']);
  });

  it('goes into the words of its file where that has its own', () => {
    const { doc, readOf } = project(LINES, { begin: 'BEG', end: 'FIN' });
    const [query] = about(doc, readOf, 'S');
    expect(query.remedies[0].change).toMatchObject({ op: 'intake.words', id: 'day', words: { end: 'FIN', also: { S: 'end' } } }); // prettier-ignore
  });

  it('stays a code where it stands alone too, or once only', () => {
    const alone = project([...LINES, 'S', 'S', 'S']);
    expect(about(alone.doc, alone.readOf, 'S')[0].text).toMatch(/^Code S on shots .* is not in the list/);
    const once = project(['KT1 BEG', 'KT1', 'KT1 S']);
    expect(about(once.doc, once.readOf, 'S')[0].text).toMatch(/^Code S on shot 103 is not in the list/);
    const point = project(['GR', 'GR S', 'GR', 'GR S', 'GR S']);
    expect(about(point.doc, point.readOf, 'S')[0].text).toMatch(/^Code S on shots/);
  });
});
