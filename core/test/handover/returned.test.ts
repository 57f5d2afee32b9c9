import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { readDxf, sentWith, writeDxf, type DxfVersion } from '#core/exchange';
import { drawingOf, returnedDrawing, type Returned } from '#core/handover';
import { applyChange, type ProjectDocument } from '#core/project';
import { surveyOf } from '../stages/survey-of.ts';

// HO8: a drawing of ours comes back. It is edited by ezdxf, as its recipient's program would.

const dir = mkdtempSync(join(tmpdir(), 'dunrik-returned-'));
afterAll(() => rmSync(dir, { recursive: true }));

const SHOTS = [
  '1,100,200,5.1,KT1 BEG',
  '2,110,200,5.2,KT1',
  '3,120,204,5.3,KT1 END',
  '4,100,220,6,FN1 BEG',
  '5,125,221,6.2,FN1 END',
  '6,140,200,7,TR',
  '7,150,210,7.5,TR',
  '8,160,205,,GR',
];
const SENT = '2026-11-29T08:00:00.000Z';
const { doc, run } = surveyOf(SHOTS);
const result = run(doc);

function sentOut(version: DxfVersion, symbols = true): string {
  const drawing = { ...drawingOf(doc, result, { points: true, lines: true, contours: false, surface: false, symbols }), sent: SENT }; // prettier-ignore
  return writeDxf(drawing, { version, unit: 'm', decimals: 3, textHeight: 0 });
}

type Operation = [string, ...unknown[]];
function edited(text: string, operations: Operation[]): Uint8Array {
  const [from, to] = ['sent.dxf', 'back.dxf'].map((name) => join(dir, name));
  writeFileSync(from, text);
  const said = execFileSync('/usr/bin/python3', ['core/test/exchange/outside/edit_returned.py', from, to], { input: JSON.stringify(operations), encoding: 'utf8' }); // prettier-ignore
  expect(JSON.parse(said)).toEqual([]);
  return readFileSync(to);
}

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
function back(
  operations: Operation[],
  { version = '2000' as DxfVersion, against = true, to = doc as ProjectDocument } = {},
): Returned {
  // prettier-ignore
  const sent = sentOut(version);
  return returnedDrawing(to, to === doc ? result : run(to), readDxf(edited(sent, operations)), against ? readDxf(bytes(sent)) : null); // prettier-ignore
}

/** The project's document with the first choice of all that is sure. */
function applied({ items }: Returned) {
  const changes = items.filter((i) => i.sure).map((i) => i.choices[0].change);
  const done = applyChange(doc, { op: 'several', changes });
  if (!done.ok) throw new Error(done.reason);
  return done;
}

function taken(got: Returned) {
  const done = applied(got);
  const after = run(done.document);
  return { points: after.points, lines: after.linework.lines, undone: applyChange(done.document, done.inverse) };
}
const line = (lines: ReturnType<typeof taken>['lines'], key: string) => lines.find((l) => l.key === key)!;

describe('a drawing that comes back', () => {
  it.each(['R12', '2000'] as const)(
    'says in %s what its things are to us, and which package it was, through another program',
    (version) => {
      const content = readDxf(edited(sentOut(version), []));
      expect(sentWith(content)).toEqual({ ours: 8 + 2 * 2, sent: SENT });
      expect(returnedDrawing(doc, result, content, readDxf(bytes(sentOut(version))))).toMatchObject({ items: [], newPoints: [], unchanged: 12 }); // prettier-ignore
      // Held against the project as it is now, without the package, nothing differs either.
      expect(returnedDrawing(doc, result, content, null)).toMatchObject({ against: 'now', items: [], newPoints: [] });
    },
  );

  it('has points moved and deleted: taken in, lines follow, and the drawing of its lines says nothing new', () => {
    const moved: Operation[] = [['move', ['point 0 f0:2'], 0.5, -0.25], ['vertex', 'line 0 KT1', 1, 0.5, -0.25], ['vertex', 'plan 0 KT1', 1, 0.5, -0.25], ['delete', ['point 0 f0:8']]]; // prettier-ignore
    const got = back(moved);
    expect(got.items.map((i) => [i.of, i.name, i.what, i.sure])).toEqual([['point', '2', 'moved 0.559 m', true], ['point', '8', 'deleted', true]]); // prettier-ignore
    const { points, lines, undone } = taken(got);
    expect([points.x[1], points.y[1], points.z[1]]).toEqual([110.5, 199.75, 5.2]);
    expect([line(lines, 'KT1').x[1], line(lines, 'KT1').rows[1]]).toEqual([110.5, 1]);
    expect(undone).toMatchObject({ ok: true, document: doc });
  });

  it('has a line whose vertex left its point, in plan and in space: that vertex alone is free', () => {
    const got = back([['vertex', 'line 0 KT1', 2, 1, 2, 0.4], ['vertex', 'plan 0 KT1', 2, 1, 2]]); // prettier-ignore
    expect(got.items).toMatchObject([
      { of: 'line', name: 'KT1', sure: true, choices: [{ label: 'take the new course' }] },
    ]);
    const { lines, points } = taken(got);
    const kerb = line(lines, 'KT1');
    expect([kerb.x, kerb.y, kerb.rows]).toEqual([[100, 110, 121], [200, 200, 206], [0, 1, -1]]); // prettier-ignore
    expect(kerb.made).toEqual([expect.objectContaining({ at: 2, rise: 5.7 })]);
    expect(points.x[2]).toBe(120);
  });

  it('has a line changed in plan alone: it is shown, and asked', () => {
    const got = back([['vertex', 'plan 0 KT1', 2, 1, 2]]);
    expect(got.items).toMatchObject([{ name: 'KT1', sure: false, note: 'Only its course in plan differs, not the one in space.' }]); // prettier-ignore
  });

  it('has a line deleted, one drawn anew through points, and one on another layer', () => {
    const fence = doc.codeList.codes.find((c) => c.code === 'FN')!.layer;
    const got = back([['delete', ['line 0 FN1', 'plan 0 FN1']], ['line', fence, [[100, 220, 6], [150, 210, 7.5], [155, 215, 8]]]]); // prettier-ignore
    expect(got.items.map((i) => [i.name, i.what, i.sure])).toEqual([['FN1', 'deleted', true], ['new line', 'added', true]]); // prettier-ignore
    const { lines } = taken(got);
    expect(lines.some((l) => l.key === 'FN1')).toBe(false);
    expect(line(lines, 'FN~1')).toMatchObject({ code: 'FN', rows: [3, 6, -1], x: [100, 150, 155] });
    const other = back([
      ['layer', ['line 0 KT1'], fence],
      ['layer', ['plan 0 KT1'], `${fence}-PLAN`],
    ]);
    expect(line(taken(other).lines, 'KT1').code).toBe('FN');
    expect(back([['layer', ['line 0 KT1'], fence]]).items).toMatchObject([{ sure: false, note: 'Only its course in space is on another layer.' }]); // prettier-ignore
    const unknown = back([['layer', ['line 0 KT1', 'plan 0 KT1'], 'NOBODYS']]);
    expect(unknown.items).toMatchObject([{ name: 'KT1', choices: [], note: expect.stringContaining('layer NOBODYS') as string }]); // prettier-ignore
  });

  it('has a group rotated about a point of it: each that went is told with the angle', () => {
    const group = ['point 0 f0:1', 'point 0 f0:2', 'point 0 f0:3', 'line 0 KT1', 'plan 0 KT1'];
    const got = back([['rotate', group, 10, 100, 200]]);
    expect(got.items.map((i) => i.what)).toEqual(['2', '3'].map(() => 'rotated by 10.0000° with 3 more'));
    const { points, lines } = taken(got);
    expect([points.x[1], points.y[1]]).toEqual([expect.closeTo(100 + 10 * Math.cos(Math.PI / 18), 3), expect.closeTo(200 + 10 * Math.sin(Math.PI / 18), 3)]); // prettier-ignore
    expect(line(lines, 'KT1').rows).toEqual([0, 1, 2]);
  });

  it('has a symbol raised whose attribute still says what it said: both are there to be chosen', () => {
    const got = back([['move', ['point 0 f0:6'], 0, 0, 0.3]]);
    expect(got.items).toMatchObject([{ name: '6', sure: false, note: 'Its attribute says 7.000 m, its place 7.300 m.' }]); // prettier-ignore
    expect(got.items[0].choices.map((c) => c.change)).toMatchObject([{ edits: { 'f0:6': { set: { z: 7.3 } } } }, { edits: { 'f0:6': { set: { z: 7 } } } }]); // prettier-ignore
    const written = back([['attribute', 'point 0 f0:6', 'ELEVATION', '7.250'], ['attribute', 'point 0 f0:7', 'NUMBER', '7A']]); // prettier-ignore
    expect(written.items).toMatchObject([{ name: '6', sure: false, note: 'Its attribute says 7.250 m, its place 7.000 m.' }, { name: '7', sure: true, choices: [{ change: { edits: { 'f0:7': { set: { number: '7A' } } } } }] }]); // prettier-ignore
  });

  it('has copies and new points: copies are not taken unasked, new points come as rows', () => {
    const got = back([
      ['copy', 'line 0 KT1', 0, 5],
      ['point', 'TREES', [130, 230, 8.25]],
    ]);
    expect(got.items).toMatchObject([{ name: 'new line', what: 'added, a copy', sure: false }]);
    expect(got.newPoints).toEqual(['\t130.0000\t230.0000\t8.2500\tTREES']);
  });

  it('is understood without its identities too, by place, shape, layer and text', () => {
    const operations: Operation[] = [['move', ['point 0 f0:7'], 0.5, 0], ['vertex', 'line 0 KT1', 2, 1, 2], ['vertex', 'plan 0 KT1', 2, 1, 2], ['delete', ['line 0 FN1', 'plan 0 FN1']]]; // prettier-ignore
    const names = (r: Returned): string[][] => r.items.map((i) => [i.of, i.name]);
    const stripped = back([...operations, ['strip']]);
    expect(names(stripped)).toEqual(names(back(operations)));
    expect(taken(stripped).points.x[6]).toBe(150.5);
    expect(names(back([...operations, ['strip']], { against: false }))).toEqual(names(stripped));
  });

  it('meets a project that went on: what was changed here too is not taken unasked', () => {
    const done = applyChange(doc, { op: 'points.edit', edits: { 'f0:7': { set: { x: 151 }, undo: [] }, 'f0:6': { set: { x: 141 }, undo: [] } } }); // prettier-ignore
    if (!done.ok) throw new Error(done.reason);
    const got = back([['move', ['point 0 f0:7'], 0.5, 0]], { to: done.document });
    // What they left alone is not undone: 6 stays where it went here.
    expect(got.items).toMatchObject([{ name: '7', sure: false, note: 'It was changed here since, too.' }]);
  });

  it('says nothing more of what was taken: it is so here already', () => {
    const fence = doc.codeList.codes.find((c) => c.code === 'FN')!.layer;
    const operations: Operation[] = [['move', ['point 0 f0:7'], 0.5, 0, 0.1], ['attribute', 'point 0 f0:7', 'ELEVATION', '7.6'], ['delete', ['point 0 f0:8', 'line 0 FN1', 'plan 0 FN1']], ['vertex', 'line 0 KT1', 2, 1, 2, 0.4], ['vertex', 'plan 0 KT1', 2, 1, 2], ['line', fence, [[100, 240, 6], [150, 240, 7.5]]]]; // prettier-ignore
    const got = back(operations);
    expect(got.items.map((i) => i.sure)).toEqual([true, true, true, true, true]);
    const changes = got.items.map((i) => i.choices[0].change);
    const done = applyChange(doc, { op: 'several', changes });
    if (!done.ok) throw new Error(done.reason);
    expect(back(operations, { to: done.document }).items).toEqual([]);
  });

  it('has labels put elsewhere: they stay there; those that went along with their points are not told', () => {
    const drawing = { ...drawingOf(doc, result, { points: true, lines: true, contours: false, surface: false, labels: true }), sent: SENT }; // prettier-ignore
    const sent = writeDxf(drawing, { version: '2000', unit: 'm', decimals: 3, textHeight: 0 });
    const [six, seven] = ['label 0 f0:6:elevation', 'label 0 f0:7:elevation'];
    const back = edited(sent, [
      ['move', [six], 2, -1],
      ['move', [seven, 'point 0 f0:7'], 0.5, 0.25],
    ]);
    const got = returnedDrawing(doc, result, readDxf(back), readDxf(bytes(sent)));
    expect(got.items.map((i) => [i.of, i.name, i.sure])).toEqual([['point', '7', true], ['label', '7.000', true]]); // prettier-ignore
    const { drawing: after } = applied(got).document;
    const text = drawingOf({ ...doc, drawing: after }, result, { points: true, lines: true, contours: false, surface: false, labels: true }).texts!; // prettier-ignore
    const was = drawing.texts!.find((t) => t.own?.key === 'f0:6:elevation')!;
    const is = text.find((t) => t.own?.key === 'f0:6:elevation')!;
    expect([is.x - was.x, is.y - was.y]).toEqual([expect.closeTo(2, 3), expect.closeTo(-1, 3)]);
    expect(returnedDrawing({ ...doc, drawing: after }, result, readDxf(back), readDxf(bytes(sent))).items.map((i) => i.of)).toEqual(['point']); // prettier-ignore
  });

  it('in feet of an older version, which does not say so, is read in the unit that its package went out in', () => {
    const drawing = { ...drawingOf(doc, result, { points: true, lines: true, contours: false, surface: false }), sent: SENT }; // prettier-ignore
    const sent = writeDxf(drawing, { version: 'R12', unit: 'ft', decimals: 3, textHeight: 0 });
    const content = readDxf(edited(sent, [['move', ['point 0 f0:7'], 1, 0]]));
    const got = returnedDrawing(doc, result, content, readDxf(bytes(sent)), { sent: 'ft' });
    expect(got.items).toMatchObject([{ name: '7', what: 'moved 0.305 m', sure: true }]);
    const [{ change }] = got.items[0].choices;
    expect(change.op === 'points.edit' && change.edits['f0:7'].set).toEqual({
      x: expect.closeTo(150.3048, 3) as number,
    });
  });

  it('does not type over what readings give', () => {
    const asBook = { ...doc, intakes: doc.intakes.map((i) => ({ ...i, form: 'book' as const })) };
    const sent = sentOut('2000');
    const got = returnedDrawing(asBook, result, readDxf(edited(sent, [['move', ['point 0 f0:7'], 0.5, 0]])), readDxf(bytes(sent))); // prettier-ignore
    expect(got.items).toMatchObject([{ name: '7', choices: [], note: expect.stringContaining('come from readings') as string }]); // prettier-ignore
  });
});
