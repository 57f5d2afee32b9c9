import { describe, expect, it } from 'vitest';
import { stringColumn } from '#core/kernel';
import { newDocument } from '#core/project';
import { editOf } from '../../src/project-state/edit.ts';
import { selectionFromText, selectionToText } from '../../src/project-state/selection.ts';
import { LazyText } from '../../src/work/columns.ts';
import type { Tables } from '../../src/project-state/tables.ts';

const doc = newDocument({ unit: 'ft' });
doc.intakes.push({
  id: 'day:1',
  fileId: 'x',
  fileName: 'x.csv',
  sha256: '0'.repeat(64),
  layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['E', 'N'], unit: 'm' },
  purpose: 'survey',
  on: true,
  numbers: { all: 'both', each: {} },
});
const tables = {
  points: {
    intake: Uint32Array.of(0, 0),
    fileRow: Uint32Array.of(2, 7),
    number: new LazyText(stringColumn(['1', '2'])),
    description: new LazyText(stringColumn(['GR', 'KT1'])),
    x: Float64Array.of(3.048, 6.096),
    y: Float64Array.of(0, 0),
    z: Float64Array.of(1.524, NaN),
  },
} as unknown as Tables;

describe('what is typed into a cell', () => {
  it('is a change in metres, in words of the project’s unit', () => {
    expect(editOf(doc, tables, 0, 'z', '6')).toEqual({
      label: 'elevation of 1: 6.000 ft',
      change: {
        op: 'points.edit',
        edits: { 'day:1:2': { set: { z: expect.closeTo(1.8288, 9) as number }, undo: [] } },
      },
    });
    expect(editOf(doc, tables, 0, 'z', '-')).toMatchObject({ change: { edits: { 'day:1:2': { set: { z: null } } } } });
    expect(editOf(doc, tables, 1, 'description', ' KT1 END ')).toMatchObject({
      change: { edits: { 'day:1:7': { set: { description: 'KT1 END' } } } },
    });
  });

  it('is nothing when it says what stands there, and a sentence when it cannot be read', () => {
    expect(editOf(doc, tables, 0, 'z', '5.000')).toBeNull();
    expect(editOf(doc, tables, 1, 'z', '')).toBeNull();
    expect(editOf(doc, tables, 0, 'number', '1')).toBeNull();
    expect(editOf(doc, tables, 0, 'x', 'ten')).toMatchObject({ problem: expect.stringContaining('“ten”') as string });
  });
});

describe('the address', () => {
  it('holds what is selected, and finds it again', () => {
    for (const selection of [
      { kind: 'point', row: 1 },
      { kind: 'line', key: 'KT1.2' },
      { kind: 'query', key: 'spike:day:1:7' },
      { kind: 'comparison', id: 'heap', still: true },
    ] as const)
      expect(selectionFromText(selectionToText(selection, doc, tables), doc, tables)).toEqual(selection);
    expect(selectionFromText('point:gone:3', doc, tables)).toBeNull();
    expect(selectionFromText('rubbish', doc, tables)).toBeNull();
    expect(selectionToText(null, doc, tables)).toBeNull();
  });
});
