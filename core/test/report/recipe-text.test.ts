import { describe, expect, it } from 'vitest';
import { newDocument, type ProjectDocument, type SurfaceRow } from '#core/project';
import { effectText, rowText, ruleText } from '#core/report';

const doc: ProjectDocument = newDocument();
const inFeet: ProjectDocument = { ...doc, settings: { ...doc.settings, unit: 'ft' } };
const ring = [0, 0, 10, 0, 10, 10];
const base = { id: 'r', on: true };

describe('a rule as it is read', () => {
  it('names its parts, in the project’s unit, and says when it has none', () => {
    expect(ruleText({}, doc)).toBe('no rule yet');
    expect(ruleText({ codes: ['GR', 'BT*'], elevations: [60, 62.5] }, doc)).toBe(
      'codes GR BT*, elevation 60.00 – 62.50 m',
    );
    expect(ruleText({ elevations: [0, 30.48] }, inFeet)).toBe('elevation 0.00 – 100.00 ft');
    expect(ruleText({ numbers: [1, 50], dates: ['2026-05-01', '2026-05-31'], area: ring }, doc)).toBe('numbers 1–50, observed 2026-05-01 to 2026-05-31, within an area'); // prettier-ignore
    expect(ruleText({ files: ['gone'] }, doc)).toBe('of a file that is gone');
  });
});

describe('a row of a recipe as it is read', () => {
  it.each<[SurfaceRow, string]>([
    [{ ...base, kind: 'survey' }, 'points of all survey files'],
    [{ ...base, kind: 'file', intake: 'gone' }, 'points of a file that is gone'],
    [{ ...base, kind: 'lines', codes: ['KB', 'DT'] }, 'lines KB, DT as breaklines'],
    [{ ...base, kind: 'exclude-points', rule: { codes: ['IV'] } }, 'excluded by rule: codes IV'],
    [{ ...base, kind: 'raise', ring, by: -0.3048 }, 'area lowered by 1.000 ft'],
    [{ ...base, kind: 'spot', x: 1, y: 2, z: 3.048 }, 'spot height 10.000 ft'],
    [{ ...base, kind: 'even-out', ring, strength: 0.5, rounds: 1 }, 'area evened out, 50 %, 1 round'],
    [{ ...base, kind: 'delete-triangles', places: [1, 2, 3, 4] }, '2 triangles deleted'],
    [{ ...base, kind: 'meeting', x: 0, y: 0, lines: ['KT1', 'ED1'], use: { line: 'ED1' } }, 'where KT1 and ED1 meet: elevation of ED1'], // prettier-ignore
    [{ ...base, kind: 'meeting', x: 0, y: 0, lines: ['KT1', 'ED1'], use: 'mean' }, 'where KT1 and ED1 meet: the mean'],
  ])('%o', (row, text) => expect(rowText(inFeet, row)).toBe(text));

  it('says what it did, what it has lost, and that it is off', () => {
    const UNITS = { areaUnit: 'm2ha', unit: 'm' } as const;
    const raise: SurfaceRow = { ...base, kind: 'raise', ring, by: 1 };
    expect(effectText(raise, 13, UNITS)).toBe('13 points');
    expect(effectText(raise, null, UNITS)).toBe('place lost');
    expect(effectText(raise, undefined, UNITS)).toBe('…');
    expect(effectText({ ...raise, on: false }, 13, UNITS)).toBe('off');
    expect(effectText({ ...base, kind: 'file', intake: 'f' }, null, UNITS)).toBe('its file is gone');
    expect(effectText({ ...base, kind: 'lines', codes: null }, 4, UNITS)).toBe('4 lines');
    expect(effectText({ ...base, kind: 'void', ring }, 7.04, UNITS)).toBe('7.0 m² less');
    expect(effectText({ ...base, kind: 'fill-level', summit: 0.5 }, 1, UNITS)).toBe('1 point more');
    expect(effectText({ ...base, kind: 'found-boundary', longest: 5 }, 7, UNITS)).toBe('7 triangles less');
    expect(effectText({ ...base, kind: 'delete-triangles', places: [1, 2] }, 1, UNITS)).toBe('1 triangle');
  });
});
