import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { readBookText, type Book, type BookRecord } from '#core/book';
import type { ChainResult } from '#core/chain';
import { readLandXmlSurvey, writeLandXmlSurvey } from '#core/exchange';
import type { ProjectDocument } from '#core/project';
import { PLAIN_SETTINGS, reduce, type Known } from '#core/reduction';
import { kessaProject } from '#demo';
import { computed } from '../../../demo/test/demo-results.ts';

const NAMES = ['kessa-one', 'kessa-two', 'kessa-three'];
const books = NAMES.map((n) => readBookText(readFileSync(`demo/kessa-bank/${n}.book`, 'utf8'))!);
const MADE = '2026-07-20T08:00:00Z';
const out = (book: Book, control: Known[] = []) => writeLandXmlSurvey({ project: 'Kessa', made: MADE, control, book });
const back = (text: string): Book => readLandXmlSurvey(text)!.book;
const ofKind = (b: Book, kind: BookRecord['kind']): BookRecord[] => b.records.filter((r) => r.kind === kind);

let doc: ProjectDocument;
let result: ChainResult;
let control: Known[];
beforeAll(async () => {
  ({ doc, result } = await computed(kessaProject()));
  control = [];
  for (let i = 0; i < result.points.x.length; i++)
    if (doc.intakes[result.points.intake[i]].purpose === 'control')
      control.push({ number: result.points.number[i], x: result.points.x[i], y: result.points.y[i], z: result.points.z[i], sdPlan: 0.003, sdHeight: 0.003, from: 'control' }); // prettier-ignore
});

describe('books by LandXML and back', () => {
  it('keep every kind of record: positions with their precision, level readings, whatever the project’s basis', () => {
    const kinds: Record<string, number> = {};
    for (const book of books) {
      const { text, notes } = out(book);
      expect(() => execFileSync('xmllint', ['--noout', '-'], { input: text })).not.toThrow();
      const again = back(text);
      expect(again.problems).toEqual([]);
      for (const kind of ['setup', 'sighting', 'gnss', 'level', 'remark'] as const) {
        const [a, b] = [ofKind(book, kind), ofKind(again, kind)];
        expect([kind, b.map((r) => [r.number, r.role, r.code, r.deleted])]).toEqual([kind, a.map((r) => [r.number, r.role, r.code, r.deleted])]); // prettier-ignore
        kinds[kind] = (kinds[kind] ?? 0) + a.length;
        a.forEach((r, i) => {
          for (const f of ['height', 'distance', 'x', 'y', 'z'] as const) expect(Math.abs(b[i][f] - r[f]) < 5.1e-5 || Number.isNaN(r[f])).toBe(true); // prettier-ignore
          if (r.gnss) for (const f of ['plan', 'height', 'pdop', 'satellites', 'tilt'] as const) expect(Math.abs(b[i].gnss![f] - r.gnss[f]) < 5e-5 || (Number.isNaN(r.gnss[f]) && Number.isNaN(b[i].gnss![f]))).toBe(true); // prettier-ignore
          if (r.gnss) expect([b[i].gnss!.fix, b[i].gnss!.method, b[i].gnss!.base]).toEqual([r.gnss.fix, r.gnss.method, r.gnss.base]); // prettier-ignore
        });
      }
      // What goes otherwise than the schema has it is said, with how often, and in the file too.
      for (const [kind, says] of [
        ['gnss', 'positions by satellite'],
        ['level', 'level readings'],
      ] as const) {
        const count = ofKind(book, kind).length;
        const said = notes.filter((n) => n.startsWith(says));
        expect(said.map((n) => Number(/\((\d+)\)$/.exec(n)![1]))).toEqual(count ? [count] : []);
        for (const n of said) expect(text).toContain(n.slice(0, 30));
      }
    }
    expect([kinds.gnss, kinds.level]).toEqual([expect.toSatisfy((n) => n >= 10), expect.toSatisfy((n) => n >= 10)]);
  });

  it('give the same stations and points to a tenth of a millimetre, control being control', () => {
    const direct = reduce(books.map((b, i) => ({ id: NAMES[i], ...b })), control, () => 'used', PLAIN_SETTINGS); // prettier-ignore
    const carried = reduce(books.map((b, i) => ({ id: NAMES[i], ...back(out(b, control).text) })), [], () => 'used', PLAIN_SETTINGS); // prettier-ignore
    expect(direct.points.count).toBeGreaterThan(100);
    expect(carried.points.count).toBe(direct.points.count);
    for (const [number, k] of direct.known) {
      const c = carried.known.get(number)!;
      expect([number, c.from, c.levelled]).toEqual([number, k.from, k.levelled]);
      for (const f of ['x', 'y', 'z'] as const) expect([number, f, Math.abs(c[f] - k[f]) < 1e-4 || Number.isNaN(k[f])]).toEqual([number, f, true]); // prettier-ignore
    }
    const at = new Map(carried.points.list().map((p) => [`${p.book} ${p.number} ${p.code}`, p]));
    for (const p of direct.points.list()) {
      const c = at.get(`${p.book} ${p.number} ${p.code}`)!;
      expect([p.number, Math.hypot(c.x - p.x, c.y - p.y) < 2e-4, Math.abs(c.z - p.z) < 2e-4]).toEqual([p.number, true, true]); // prettier-ignore
    }
  });

  it('keep sightings that come after a position taken while the instrument stood', () => {
    const rows = ['setup A hi=1.5', 'back B circle=0 zenith=90 dist=100 th=1.5', 'gnss G1 10 20 5 sp=0.01 sh=0.02 fix=fixed tilt=12.5 cov=100/90/400/10/0/5', 'shot 1 circle=90 zenith=90 dist=50 th=1.5']; // prettier-ignore
    const book = readBookText(['book 1', 'unit m', 'angle deg', 'order EN', 'point A 0 0 0 standing=control', 'point B 0 100 0', ...rows, 'end'].join('\n'))!; // prettier-ignore
    expect(book.problems).toEqual([]);
    const again = back(out(book).text);
    expect(ofKind(again, 'sighting').map((r) => r.number)).toEqual(['B', '1']);
    expect(ofKind(again, 'point').map((r) => [r.number, r.role])).toEqual([
      ['A', 'control'],
      ['B', ''],
    ]);
    const [a, b] = [book, again].map((x) => ofKind(x, 'gnss')[0].gnss!);
    expect(b.tilt).toBeCloseTo(a.tilt, 6);
    b.covariance!.forEach((v, i) => expect(v).toBeCloseTo(a.covariance![i], 12));
  });
});
