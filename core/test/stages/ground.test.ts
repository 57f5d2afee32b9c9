import { describe, expect, it } from 'vitest';
import { readPoints } from '#core/exchange';
import { runChain, type ChainResult } from '#core/chain';

import {
  applyChange,
  designRecipe,
  newDocument,
  type Change,
  type Intake,
  type Purpose,
  type ProjectDocument,
} from '#core/project';

/** A project of text files given in place: what they are, and their rows; each design is a surface of its own. */
function projectOf(...files: [purpose: Purpose, rows: string[]][]): {
  doc: ProjectDocument;
  run: (doc: ProjectDocument) => ChainResult;
} {
  const doc = newDocument();
  files.forEach(([purpose], i) => {
    doc.intakes.push({
      id: `f${i}`,
      fileId: `f${i}`,
      fileName: `file-${i}.csv`,
      sha256: String(i).repeat(64).slice(0, 64),
      layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' },
      purpose,
      on: true,
      numbers: { all: 'both', each: {} },
    });
    if (purpose === 'design') doc.surfaces.push(designRecipe({ id: 'pad', name: 'Pad' }, [`f${i}`]));
  });
  const readOf = (intake: Intake) => readPoints(files[Number(intake.id.slice(1))][1].join('\n'), intake.layout)!;
  return { doc, run: (d) => runChain(d, readOf) };
}
const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};
const SQUARE = ['1,0,0,10,GR', '2,20,0,10,GR', '3,20,20,10,GR', '4,0,20,10,GR'];

describe('what comes into the ground', () => {
  it('is decided by codes: any that belongs lets a point in, none and unknown ones too; the account says what stayed out', () => {
    const { doc, run } = projectOf([
      'survey',
      [...SQUARE, '5,10,10,17,OH', '6,5,5,8,IV', '7,6,6,10,LD IV', '8,7,7,10,', '9,8,8,10,XYZ', '10,9,9,,GR'],
    ]);
    const { account, surface } = run(doc).surfaces[0];
    expect(surface.x.length).toBe(7);
    expect(account.leftOut.map((l) => [l.why, l.count])).toEqual([
      ['height not used: OH overhead line', 1],
      ['height not used: IV chamber invert', 1],
      ['without elevation', 1],
    ]);
  });

  it('takes control and designs for themselves', () => {
    const { doc, run } = projectOf(
      ['control', ['C1,5,5,99,', 'C2,6,9,99,']],
      ['survey', SQUARE],
      ['design', ['1,2,2,12,PD1 BEG', '2,8,2,12,PD1', '3,8,8,12,PD1 CLOSE']],
    );
    const s = run(doc).summary;
    expect(s).toMatchObject({ control: 2, points: 4 });
    expect(s.surfaces.map((u) => [u.name, u.points, u.highest])).toEqual([
      ['Ground', 4, 10],
      ['Pad', 3, 12],
    ]);
  });

  it('takes arcs as chords that stand off them by no more than the stated tolerance', () => {
    const arc = [0, 0.25, 0.5, 0.75, 1].map(
      (t, i) =>
        `${i + 1},${(50 * Math.sin(t)).toFixed(6)},${(50 * Math.cos(t)).toFixed(6)},10,${['KT1 BEG CUR', 'KT1', 'KT1', 'KT1', 'KT1 CURX END'][i]}`,
    );
    const { doc, run } = projectOf(['survey', [...arc, '9,60,60,10,GR']]);
    const coarse = run(doc).surfaces[0];
    const fine = run(apply(doc, { op: 'settings.set', settings: { sagitta: 0.002 } })).surfaces[0];
    expect(coarse.account.chordPoints).toBeGreaterThan(0);
    expect(fine.account.chordPoints).toBeGreaterThan(coarse.account.chordPoints);
    for (let v = 0; v < fine.surface.x.length - 1; v++)
      if (fine.surface.z[v] === 10 && fine.surface.x[v] !== 60)
        expect(Math.hypot(fine.surface.x[v], fine.surface.y[v])).toBeCloseTo(50, 4);
  });

  it('is limited by a boundary, by the longest side, and by lines taken out', () => {
    const { doc, run } = projectOf(['survey', [...SQUARE, '5,5,10,12,BT1 BEG', '6,15,10,12,BT1 END']]);
    const whole = run(doc).summary.surfaces[0];
    expect(whole.planArea).toBeCloseTo(400, 9);
    expect(
      run(apply(doc, { op: 'boundary.set', ring: [2, 2, 18, 2, 18, 18, 2, 18] })).summary.surfaces[0].planArea,
    ).toBeCloseTo(256, 9);
    expect(
      run(apply(doc, { op: 'settings.set', settings: { longestSide: 12 } })).summary.surfaces[0].triangles,
    ).toBeLessThan(whole.triangles);
    expect(run(apply(doc, { op: 'line.ground', key: 'BT1', used: false })).surfaces[0].account.lines).toBe(0);
  });
});

describe('numbers that exist already', () => {
  const both: [Purpose, string[]][] = [
    ['survey', SQUARE],
    ['survey', ['3,20.002,20.001,10.01,GR', '4,5,5,10,GR', '50,7,7,10,GR']],
  ];
  const decided = (all: Intake['numbers']['all'], each: Intake['numbers']['each'] = {}): ChainResult => {
    const { doc, run } = projectOf(...both);
    return run(apply(doc, { op: 'intake.numbers', id: 'f1', numbers: { all, each } }));
  };
  it('are kept, merged, numbered anew or left out, for all or one by one', () => {
    expect(decided('both').queries.filter((q) => q.kind === 'number-twice')).toHaveLength(2);
    expect(decided('merge').surfaces[0].surface.x.length).toBe(5);
    expect(decided('renumber').points.number.slice(4)).toEqual(['51', '52', '50']);
    const mixed = decided('renumber', { '3': 'merge' });
    expect([...mixed.points.state.slice(4)]).toEqual([2, 0, 0]);
    expect(mixed.points.number[5]).toBe('51');
  });
});

describe('comparisons', () => {
  it('say why there is no volume when there is none', () => {
    const { doc, run } = projectOf(['survey', SQUARE], ['design', ['1,500,500,1,', '2,510,500,1,', '3,500,510,1,']]);
    const compared = (
      against: { level: number } | { surface: string },
      within: number[] | null = null,
    ): ChainResult['comparisons'][number] =>
      run(apply(doc, { op: 'comparison.set', comparison: { id: 'c', name: 'c', surface: 'ground', against, within } }))
        .comparisons[0];
    expect(compared({ level: 12 })).toMatchObject({ ok: true, volume: { cut: 0, area: 400 } });
    expect(compared({ surface: 'pad' })).toMatchObject({
      ok: false,
      reason: expect.stringContaining('do not overlap') as string,
    });
    expect(compared({ surface: 'gone' })).toMatchObject({
      ok: false,
      reason: expect.stringContaining('no longer in the project') as string,
    });
    expect(compared({ level: 12 }, [100, 100, 110, 100, 110, 110])).toMatchObject({
      ok: false,
      reason: expect.stringContaining('inside the boundary') as string,
    });
  });
});
