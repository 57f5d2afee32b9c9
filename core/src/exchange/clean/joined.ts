import { distance } from '#core/kernel';
import type { DxfPolyline } from '../dxf/content.ts';

/** An end of an open line. */
interface End {
  line: number;
  /** Whether it is the last vertex. */
  last: boolean;
}

const keyOf = ({ line, last }: End): string => `${line} ${last}`;

/**
 * Open lines of one layer joined where the ends of exactly two of them meet within a length, in plan and, where both lie in
 * space, in height; a line whose own two ends meet is closed. Where three or more meet, nothing says which belong together.
 */
export function joinedEnds(lines: readonly DxfPolyline[], within: number): { lines: DxfPolyline[]; joined: number } {
  if (!(within > 0)) return { lines: [...lines], joined: 0 };
  const partner = partners(lines, within);
  const done = new Set<number>();
  const out: DxfPolyline[] = [];
  let joined = 0;
  // Chains begin at their free ends, then what is left are rings.
  for (const ring of [false, true])
    for (let i = 0; i < lines.length; i++) {
      if (done.has(i)) continue;
      const free = [false, true].filter((last) => !partner.has(keyOf({ line: i, last })));
      if (!ring && free.length === 0) continue;
      if (!ring && free.length === 2) {
        done.add(i);
        out.push(lines[i]);
        continue;
      }
      const chain = follow({ line: i, last: ring ? true : !free[0] });
      joined += chain.closed ? chain.pieces.length : chain.pieces.length - 1;
      out.push(asOne(chain.pieces, chain.closed));
    }
  return { lines: out, joined };

  /** From a line out through one of its ends, on and on. */
  function follow(from: End): { pieces: DxfPolyline[]; closed: boolean } {
    const pieces: DxfPolyline[] = [];
    let at: End | undefined = from;
    for (;;) {
      pieces.push(at.last ? lines[at.line] : reversed(lines[at.line]));
      done.add(at.line);
      const next: End | undefined = partner.get(keyOf(at));
      if (!next) return { pieces, closed: false };
      if (done.has(next.line)) return { pieces, closed: true };
      at = { line: next.line, last: !next.last };
    }
  }
}

/** Which end each end meets, of those that meet exactly one. */
function partners(lines: readonly DxfPolyline[], within: number): ReadonlyMap<string, End> {
  const cells = new Map<string, End[]>();
  const cellAt = (x: number, y: number): [number, number] => [Math.floor(x / within), Math.floor(y / within)];
  const ends: End[] = [];
  lines.forEach((l, line) => {
    if (l.closed) return;
    for (const last of [false, true]) ends.push({ line, last });
  });
  const place = ({ line, last }: End): [number, number, number] => {
    const { x, y, z } = lines[line];
    const i = last ? x.length - 1 : 0;
    return [x[i], y[i], z[i]];
  };
  for (const end of ends) {
    const [x, y] = place(end);
    const key = `${lines[end.line].layer}\u0000${cellAt(x, y).join()}`;
    const cell = cells.get(key);
    if (cell) cell.push(end);
    else cells.set(key, [end]);
  }
  const meeting = (end: End): End[] => {
    const [x, y, z] = place(end);
    const [cx, cy] = cellAt(x, y);
    const { layer, spatial } = lines[end.line];
    const found: End[] = [];
    for (let dx = -1; dx <= 1; dx++)
      for (let dy = -1; dy <= 1; dy++)
        for (const other of cells.get(`${layer}\u0000${[cx + dx, cy + dy].join()}`) ?? []) {
          if (other.line === end.line && other.last === end.last) continue;
          const [ox, oy, oz] = place(other);
          const level = !(spatial && lines[other.line].spatial) || Math.abs(oz - z) <= within;
          if (level && distance(ox - x, oy - y) <= within) found.push(other);
        }
    return found;
  };
  const out = new Map<string, End>();
  for (const end of ends) {
    const [other, more] = meeting(end);
    if (!other || more) continue;
    const back = meeting(other);
    // Two vertices that meet themselves make no area.
    const tooShort = other.line === end.line && lines[end.line].x.length < 4;
    if (back.length === 1 && !tooShort) out.set(keyOf(end), other);
  }
  return out;
}

function reversed(line: DxfPolyline): DxfPolyline {
  const back = (v: readonly number[]): number[] => [...v].reverse();
  const n = line.x.length;
  // The side that leaves a vertex is the one that came to it before; its arc bends the other way.
  const bulge = line.x.map((_, i) => (i === n - 1 ? 0 : 0 - line.bulge[n - 2 - i]));
  return { ...line, x: back(line.x), y: back(line.y), z: back(line.z), bulge };
}

/** Pieces that follow one another as one line; where two meet the first one's vertex stays. */
function asOne(pieces: readonly DxfPolyline[], closed: boolean): DxfPolyline {
  const [first] = pieces;
  const out: DxfPolyline = { ...first, closed, spatial: pieces.some((p) => p.spatial), kind: 'POLYLINE', x: [], y: [], z: [], bulge: [] }; // prettier-ignore
  delete out.own;
  pieces.forEach((p, k) => {
    for (let i = k === 0 ? 0 : 1; i < p.x.length; i++) {
      out.x.push(p.x[i]);
      out.y.push(p.y[i]);
      out.z.push(p.z[i]);
      out.bulge.push(p.bulge[i]);
    }
    // The arc that leaves the first vertex of a piece leaves the one that stays.
    if (k > 0) out.bulge[out.bulge.length - p.x.length] = p.bulge[0];
  });
  if (closed) for (const v of [out.x, out.y, out.z, out.bulge]) v.pop();
  return out;
}
