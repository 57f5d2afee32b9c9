import { describe, expect, it } from 'vitest';
import { runChain } from '#core/chain';
import { newDocument, type Intake, type ProjectDocument } from '#core/project';
import { setPointsOf } from '#core/stages';
import { readDxf, readPoints } from '#core/exchange';
import { pointsOut, type OutSettings } from '../../src/work/points-out.ts';

const intake: Intake = { id: 'a', fileId: 'a', fileName: 'a.csv', sha256: '0'.repeat(64), layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' }, purpose: 'survey', on: true, numbers: { all: 'both', each: {} } }; // prettier-ignore
const empty = newDocument();
const codes = empty.codeList.codes.map((c) => c.code === 'TR' ? { ...c, attributes: [{ name: 'girth', type: 'number' as const }] } : c); // prettier-ignore
const doc: ProjectDocument = { ...empty, intakes: [intake], codeList: { ...empty.codeList, codes }, settings: { ...empty.settings, plotScale: 250 } }; // prettier-ignore
const { points } = runChain(doc, (i) => readPoints('1,100,200,5,TR girth=0.4\n2,110,210,6,GR\n3,120,220,7,KT1\n', i.layout)!); // prettier-ignore
const settings: OutSettings = { what: 'text', order: ['P', 'E', 'N', 'Z', 'D'], separator: ',', decimal: '.', none: '', design: false, decimals: 3, unit: 'm', headings: false, system: 'grid', control: false, light: false, best: false, sorted: false, words: null }; // prettier-ignore
const out = (what: OutSettings['what'], members: Uint8Array | null = null) => pointsOut(doc, { ...setPointsOf(points), light: points.light }, members, { ...settings, what }); // prettier-ignore

describe('points for somebody else', () => {
  it('go as symbols with their attributes by name, and as points where no symbol is', () => {
    const { text, count } = out('symbols');
    const read = readDxf(text);
    expect(read.problems).toEqual([]);
    expect(count).toBe(3);
    const tree = read.inserts.find((i) => i.block === 'TR')!;
    expect([tree.x, tree.y]).toEqual([100, 200]);
    expect(tree.attributes).toMatchObject({ NUMBER: '1', GIRTH: '0.4' });
    expect(read.inserts.length + read.points.length).toBe(3);
  });

  it('go as texts alone, or beside points, as large as on paper at the plot scale', () => {
    const written = out('texts').text;
    const alone = readDxf(written);
    expect(alone.points).toHaveLength(0);
    expect(alone.texts.map((t) => t.text)).toEqual(['1 TR', '2 GR', '3 KT']);
    // 1 : 250, letters in mm.
    const height = ((doc.drawing.labels.number.size * 250) / 1000).toFixed(3);
    expect(written).toContain(` 40\n${height}\n  1\n1 TR\n`);
    const beside = readDxf(out('drawing').text);
    expect([beside.points.length, beside.texts.length]).toEqual([3, 3]);
  });

  it('are those that were chosen, whatever the drawing hides', () => {
    const hidden = { ...doc, drawing: { ...doc.drawing, layers: { TREE: { visible: false } } } }; // prettier-ignore
    const { count, text } = pointsOut(hidden, { ...setPointsOf(points), light: points.light }, Uint8Array.of(1, 0, 0), { ...settings, what: 'drawing' }); // prettier-ignore
    expect([count, readDxf(text).points.length]).toEqual([1, 1]);
  });
});
