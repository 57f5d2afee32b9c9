import { describe, expect, it } from 'vitest';
import type { SavedLayout } from '#contract';
import { plainIntake } from '#core/project';
import { controlOf, keptChoices, numbersOf, placesOf, savedChoices } from '../../src/intake/project-facts.ts';
import { projectOf } from '../tables.ts';

const taken = [{ layer: 'KERB', kind: 'LINE', as: 'breaklines' as const }];
const withControl = projectOf({ control: [['C1', 100, 200, 5]], points: [['1', 101, 201, 5], ['2', 102, 202, 6]] }); // prettier-ignore
const without = projectOf({ points: [['1', 101, 201, 5], ['', 102, 202, 6]] }); // prettier-ignore

describe('what a file is held against', () => {
  it('are the control points, and where there are none the points', () => {
    expect(placesOf(withControl.doc, withControl.tables)).toEqual([{ x: 100, y: 200 }]);
    expect(controlOf(withControl.doc, withControl.tables)).toEqual([{ number: 'C1', x: 100, y: 200, z: 5 }]);
    expect(placesOf(without.doc, without.tables)).toEqual([{ x: 101, y: 201 }, { x: 102, y: 202 }]); // prettier-ignore
    expect(controlOf(without.doc, without.tables)).toEqual([]);
  });

  it('are the numbers of all that is no control', () => {
    expect(numbersOf(withControl.doc, withControl.tables)).toEqual(['1', '2']);
  });
});

describe('what was ticked of drawings', () => {
  it('in the project comes last first, each with its own key; what holds nothing ticked is left out', () => {
    const file = (id: string, layout: object) => plainIntake(id, { fileName: 'design.dxf', layout: { ...plainIntake('x').layout, ...layout } }); // prettier-ignore
    expect(keptChoices([file('a', { taken }), file('b', {}), file('c', { taken }), file('d', { taken: [] })]).map((k) => k.id)).toEqual(['c', 'a']); // prettier-ignore
  });

  it('and saved under a name serves in every project', () => {
    const plain = plainIntake('x').layout;
    const saved = [{ id: 'l1', name: 'drawings of the landing', signature: '', team: null, layout: { ...plain, taken } }, { id: 'l2', name: 'text', signature: '', team: null, layout: plain }] as SavedLayout[]; // prettier-ignore
    expect(savedChoices(saved)).toEqual([{ id: 'layout l1', name: 'drawings of the landing', taken }]);
  });
});
