import { distance } from '#core/kernel';
import { courseToEdit, elevationsBetween, placeVertex, type HandVertex, type Line } from '#core/linework';
import type { Own, Thing } from '#core/exchange';
import type { HandLine } from '#core/project';
import { courseKey, numberedPointsNear, pointKey } from '#core/stages';
import type { Differing } from './differing.ts';
import { flat, NEW_LINE, type ReturnedItem, type ReturnedTo } from './item.ts';
import { codesOnLayer } from './layers.ts';
import type { MovedPoints } from './points.ts';

/** A line of ours as it was sent: its course in plan and in space, and how many parts between gaps it has. */
export interface SentLine {
  entities: number;
  parts: number;
}

/** Kinds of entities that become lines. */
const LINES = new Set('LINE POLYLINE LWPOLYLINE ARC CIRCLE'.split(' '));
export const isLine = ({ kind }: Thing): boolean => LINES.has(kind);

/** Lines that came back otherwise than they were sent; those whose points explain it all are not told. */
export function returnedLines(
  to: ReturnedTo,
  pairs: readonly Differing[],
  { sent, moved }: { sent: ReadonlyMap<string, SentLine>; moved: MovedPoints },
): ReturnedItem[] {
  const { doc, points, tolerance } = to;
  const byKey = new Map(to.lines.map((l) => [l.key, l]));
  const of = new Map<string, { own: Own; pair: Differing }[]>();
  for (const pair of pairs) {
    const { own } = pair;
    if (own?.kind !== 'line' && own?.kind !== 'plan') continue;
    const list = of.get(own.key);
    if (list) list.push({ own, pair });
    else of.set(own.key, [{ own, pair }]);
  }
  return [...of].flatMap(([key, entities]) => itemFor(key, entities) ?? []);

  function itemFor(key: string, entities: { own: Own; pair: Differing }[]): ReturnedItem | null {
    const plan = entities.find((e) => e.own.kind === 'plan')?.pair;
    const space = entities.find((e) => e.own.kind === 'line')?.pair;
    const first = plan ?? space!;
    const seen = first.is ?? first.was!;
    const item: ReturnedItem = {
      of: 'line',
      name: key,
      what: [...new Set(entities.flatMap((e) => e.pair.what))].join(', '),
      layer: seen.layer,
      x: seen.at[0],
      y: seen.at[1],
      was: first.is ? flat(first.was!.at) : [],
      is: first.is ? flat(first.is.at) : [],
      choices: [],
      note: null,
      sure: false,
    };
    const line = byKey.get(key);
    const told = (note: string): ReturnedItem => ({ ...item, note });
    if (!line) return first.is ? told('It is no longer in the project.') : null;
    if ((sent.get(key)?.parts ?? 1) > 1) return told('It has gaps: change it by hand.');
    const gone = entities.filter((e) => !e.pair.is).length;
    if (gone && gone < (sent.get(key)?.entities ?? gone)) return told('Its course in plan or the one in space is deleted, the other is there.'); // prettier-ignore
    if (changedSince(line, plan)) item.note = 'It was changed here since, too.';
    const set = (hand: HandLine, label: string): void =>
      void item.choices.push({ label, change: { op: 'lines.hand', set: { [key]: hand }, what: `${label} as the drawing that came back has it: ${key}`.slice(0, 200) } }); // prettier-ignore
    if (gone) set(handOf(line, { vertices: [], closed: false }, line.code), 'delete the line');
    else {
      const course = courseFor(line, plan, space);
      const code = codeFor(line, seen.layer, item, first.was!.layer);
      const relayered = entities.filter((e) => e.pair.is && e.pair.is.layer !== e.pair.was!.layer).length;
      if (course === null && code === line.code) return item.note?.startsWith('No code') ? item : null;
      set(handOf(line, course ?? courseNow(line), code), course ? 'take the new course' : `give it the code ${code}`);
      // A draughter who moved one of the two may have meant both.
      const alone = course !== null && (plan === undefined) !== (space === undefined) && (sent.get(key)?.entities ?? 1) > 1 && line.bulges.every((b) => b === 0); // prettier-ignore
      if (relayered === 1 && (sent.get(key)?.entities ?? 1) > 1) item.note ??= `Only its course in ${plan ? 'plan' : 'space'} is on another layer.`; // prettier-ignore
      if (alone) item.note ??= plan ? 'Only its course in plan differs, not the one in space.' : 'Only its course in space differs, not the one in plan.'; // prettier-ignore
    }
    item.sure = item.note === null;
    return item;
  }

  function courseNow(line: Line): { vertices: HandVertex[]; closed: boolean } {
    const z = elevationsBetween(line, (row) => points.z[row]);
    return courseToEdit(line, (row) => pointKey(doc, points, row), z);
  }

  /** The course that came back, following what it followed; null where it is the one that the line will have by its points. */
  function courseFor(
    line: Line,
    plan?: Differing,
    space?: Differing,
  ): { vertices: HandVertex[]; closed: boolean } | null {
    const now = courseNow(line);
    const z = elevationsBetween(line, (row) => points.z[row]);
    const arcs = line.bulges.some((b) => b !== 0);
    const shape = plan ?? (arcs ? undefined : space);
    if (!shape?.is || !shape.was) return null;
    const [was, is] = [shape.was, shape.is];
    const heights = !arcs && space?.is && space.is.at.length === is.at.length ? space.is.at : null;
    if (isNow(line, is, plan !== undefined)) return null;
    const same = is.at.length === was.at.length && was.at.length / 3 === now.vertices.length;
    const left = new Set(now.vertices.keys());
    let differs = is.closed !== line.closed || is.at.length / 3 !== now.vertices.length;
    const vertices = Array.from({ length: is.at.length / 3 }, (_, i): HandVertex => {
      const [x, y] = [is.at[3 * i], is.at[3 * i + 1]];
      const height = heights ? heights[3 * i + 2] : NaN;
      const bulge = plan ? (is.form[i] ?? 0) : 0;
      const k = same ? i : near(left, x, y);
      const old = k === null ? undefined : now.vertices[k];
      if (k !== null) left.delete(k);
      const side = old?.side ?? 0;
      if (old && stays(old, was, k!, x, y, height, z[k!])) {
        if (Math.abs(old.bulge - bulge) > 1e-6 && plan) differs = true;
        return { ...old, bulge: plan ? bulge : old.bulge };
      }
      differs = true;
      const elevation = Number.isNaN(height) ? (old ? z[k!] : NaN) : height;
      return { ...placeVertex(x, y, Number.isNaN(elevation) ? null : elevation), bulge, side };
    });
    return differs ? { vertices, closed: is.closed } : null;

    function near(of: ReadonlySet<number>, x: number, y: number): number | null {
      let best: number | null = null;
      let least = tolerance;
      for (const k of of) {
        const off = distance(now.vertices[k].x - x, now.vertices[k].y - y);
        if (off <= least) [best, least] = [k, off];
      }
      return best;
    }
  }

  /** Whether a line is as it came back: it was taken before, or done on both sides. */
  function isNow(line: Line, is: Thing, inPlan: boolean): boolean {
    if (line.closed !== is.closed || line.x.length !== is.at.length / 3) return false;
    const z = elevationsBetween(line, (row) => points.z[row]);
    return line.x.every((x, i) => {
      const [px, py, pz] = is.at.slice(3 * i, 3 * i + 3);
      const same = distance(x - px, line.y[i] - py) <= tolerance && Math.abs(line.bulges[i] - (is.form[i] ?? 0)) < 1e-6;
      return same && (inPlan || !(Math.abs(z[i] - pz) > tolerance));
    });
  }

  /** Whether a vertex is where it was sent, or where its point goes. */
  function stays(old: HandVertex, was: Thing, k: number, x: number, y: number, height: number, z: number): boolean {
    const to = old.point === null ? undefined : moved.get(old.point);
    const at = to ?? { x: was.at[3 * k] ?? old.x, y: was.at[3 * k + 1] ?? old.y, z };
    const isThere = distance(at.x - x, at.y - y) <= 2 * tolerance;
    return isThere && !(Math.abs(height - at.z) > 2 * tolerance);
  }

  function changedSince(line: Line, plan: Differing | undefined): boolean {
    if (!plan?.was) return false;
    const { at } = plan.was;
    if (at.length / 3 !== line.x.length) return true;
    return line.x.some((x, i) => distance(x - at[3 * i], line.y[i] - at[3 * i + 1]) > 2 * tolerance);
  }

  function codeFor(line: Line, layer: string, item: ReturnedItem, layerWas: string): string {
    if (layer === layerWas) return line.code;
    const codes = codesOnLayer(doc, layer, 'line');
    if (codes.length === 1) return codes[0].code.toUpperCase();
    item.note = `No code, or more than one, has its lines on layer ${layer}: change its code by hand.`;
    return line.code;
  }

  function handOf(line: Line, course: { vertices: HandVertex[]; closed: boolean }, code: string): HandLine {
    const hand = doc.handLines[line.key] as HandLine | undefined;
    return {
      ...(hand?.file === undefined ? {} : { file: hand.file }),
      ...(hand?.insteadOf ? { insteadOf: hand.insteadOf } : {}),
      code,
      lineNumber: line.lineNumber,
      closed: course.closed,
      vertices: course.vertices,
      replaces: hand ? hand.replaces : { key: line.key, course: courseKey(doc, points, line) },
    };
  }
}

/** Lines that are new in a drawing that came back: each becomes one by hand, of the code that its layer is of. */
export function addedLines(to: ReturnedTo, pairs: readonly Differing[]): ReturnedItem[] {
  const { doc, points, tolerance } = to;
  const near = numberedPointsNear(points, (row) => points.number[row]);
  const used = new Set(Object.keys(doc.handLines));
  return pairs.flatMap(({ was, is, what }) => {
    if (was || !is || !isLine(is) || is.at.length < 6) return [];
    const [x, y] = is.at;
    const item: ReturnedItem = { of: 'line', name: NEW_LINE, what: what.join(', '), layer: is.layer, x, y, was: [], is: flat(is.at), choices: [], note: null, sure: false }; // prettier-ignore
    const codes = codesOnLayer(doc, is.layer, 'line');
    if (
      codes.length === 1 &&
      to.lines.some((l) => l.code === codes[0].code.toUpperCase() && goesThrough(l, is, tolerance))
    )
      return [];
    if (codes.length !== 1)
      return [{ ...item, note: `${codes.length ? 'Several codes have' : 'No code has'} its lines on layer ${is.layer}: import it as a drawing.` }]; // prettier-ignore
    const code = codes[0].code.toUpperCase();
    let n = 1;
    while (used.has(`${code}~${n}`)) n++;
    used.add(`${code}~${n}`);
    const vertices = Array.from({ length: is.at.length / 3 }, (_, i): HandVertex => {
      const [px, py, pz] = is.at.slice(3 * i, 3 * i + 3);
      const [row, more] = near(px, py, tolerance);
      const bulge = is.form[i] ?? 0;
      if (row !== undefined && more === undefined)
        return { ...placeVertex(px, py), point: pointKey(doc, points, row), bulge };
      return { ...placeVertex(px, py, Number.isNaN(pz) ? null : pz), bulge };
    });
    const hand: HandLine = { code, lineNumber: '', closed: is.closed && vertices.length > 2, vertices, replaces: null };
    item.choices.push({ label: `a new line of code ${code}`, change: { op: 'lines.hand', set: { [`${code}~${n}`]: hand }, what: `new line ${code}~${n} from the drawing that came back` } }); // prettier-ignore
    return [{ ...item, sure: !what.some((w) => w.includes('copy')) }];
  });
}

/** Whether a line has the vertices of a thing, in plan. */
const goesThrough = (line: Line, { at }: Thing, tolerance: number): boolean =>
  line.x.length === at.length / 3 &&
  line.x.every((x, i) => distance(x - at[3 * i], line.y[i] - at[3 * i + 1]) <= tolerance);
