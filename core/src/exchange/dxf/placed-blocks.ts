import { sinCos } from '#core/kernel';
import { chorded } from './arcs.ts';
import {
  Gathered,
  type DxfBlock,
  type DxfContent,
  type DxfEntities,
  type DxfInsert,
  type TextLine,
} from './content.ts';
import { planeOf } from './plane.ts';
import { carried, type RationalCurve } from './rational-curve.ts';

// What blocks draw where they are put: nested, in rows and columns, scaled, rotated, mirrored, in planes of their own.

/** So deep do blocks put blocks. */
const MOST_DEPTH = 32;
const MOST_ENTITIES = 1_000_000;
const SAME = 1e-9;

export interface PlacedBlocks {
  entities: DxfEntities;
  /** Blocks that are not drawn, and why. */
  problems: { block: string; what: string }[];
}

/** Three columns that the axes go to, and where the origin goes. */
type Affine = readonly number[];
const STILL: Affine = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];

const place = (m: Affine, x: number, y: number, z: number): [number, number, number] => [
  m[0] * x + m[3] * y + m[6] * z + m[9],
  m[1] * x + m[4] * y + m[7] * z + m[10],
  m[2] * x + m[5] * y + m[8] * z + m[11],
];
const turned = (m: Affine, x: number, y: number, z: number): [number, number, number] => [
  m[0] * x + m[3] * y + m[6] * z,
  m[1] * x + m[4] * y + m[7] * z,
  m[2] * x + m[5] * y + m[8] * z,
];

/** Where a block's own places go, of one of its rows and columns. */
function affineOf(
  { x, y, z, scale, rotation, normal }: DxfInsert,
  base: DxfBlock['base'],
  along: number,
  up: number,
): Affine {
  const [s, c] = sinCos(rotation);
  const plane = planeOf(...normal);
  const axis = (ax: number, ay: number, az: number): [number, number, number] => plane?.at(ax, ay, az) ?? [ax, ay, az];
  const [ux, uy, uz] = [axis(c, s, 0), axis(-s, c, 0), axis(0, 0, 1)];
  const linear = [...ux.map((v) => v * scale[0]), ...uy.map((v) => v * scale[1]), ...uz.map((v) => v * scale[2])];
  const moved = [0, 1, 2].map((k) => [x, y, z][k] + ux[k] * along + uy[k] * up);
  const [bx, by, bz] = turned([...linear, 0, 0, 0], ...base);
  return [...linear, moved[0] - bx, moved[1] - by, moved[2] - bz];
}

/** One after the other: first `b`, then `a`. */
const after = (a: Affine, b: Affine): Affine => [
  ...turned(a, b[0], b[1], b[2]),
  ...turned(a, b[3], b[4], b[5]),
  ...turned(a, b[6], b[7], b[8]),
  ...place(a, b[9], b[10], b[11]),
];

/**
 * What the blocks of a drawing draw where they are put, as entities in space. What lies on layer 0 of a block is on the layer
 * that it is put on (DXF reference). Counted before it is drawn: a block that would be more than a million entities, that
 * contains itself, or that is kept in another file is named instead.
 */
export function placedBlocks(content: Pick<DxfContent, 'blocks' | 'inserts'>, most = MOST_ENTITIES): PlacedBlocks {
  const out = new Gathered();
  const problems = new Map<string, string>();
  const size = sizes(content.blocks);
  let left = most;
  const named = (block: string, what: string): void => void problems.set(block, problems.get(block) ?? what);
  const draw = (insert: DxfInsert, within: Affine, as: Look): void => {
    const block = content.blocks.get(insert.block.toUpperCase());
    if (!block) return named(insert.block, 'is put in the drawing, which does not hold it');
    if (block.external !== null)
      return named(block.name, `is kept in another file, ${block.external}: ask the sender for it`);
    const n = insert.columns * insert.rows;
    for (let k = 0; k < n; k++) {
      const [column, row] = [k % insert.columns, Math.floor(k / insert.columns)];
      const to = after(within, affineOf(insert, block.base, column * insert.spacing[0], row * insert.spacing[1]));
      put(block.entities, to, as, out);
      for (const inner of block.entities.inserts) draw(inner, to, inBlock(inner, as));
    }
  };
  for (const insert of content.inserts) {
    const each = size(insert.block.toUpperCase());
    const all = each === null ? null : each * insert.columns * insert.rows;
    if (all === null) named(insert.block, `contains itself, or blocks within blocks deeper than ${MOST_DEPTH}`);
    else if (all > left)
      named(insert.block, `would be more than ${most.toLocaleString('en-GB')} entities where it is put`);
    else {
      left -= all;
      draw(insert, STILL, insert);
    }
  }
  return { entities: out, problems: [...problems].map(([block, what]) => ({ block, what })) };
}

/** How many entities a block is with all that it puts; null of one that contains itself. */
function sizes(blocks: DxfContent['blocks']): (name: string, depth?: number) => number | null {
  const known = new Map<string, number | null>();
  const of = (name: string, depth = 0): number | null => {
    if (depth > MOST_DEPTH) return null;
    const seen = known.get(name);
    if (seen !== undefined) return seen;
    const block = blocks.get(name);
    if (!block || block.external !== null) return 1;
    // While it is counted it is one that contains itself.
    known.set(name, null);
    const { points, polylines, curves, faces, texts, inserts } = block.entities;
    let sum: number | null = 1 + points.length + polylines.length + curves.length + faces.length + texts.length;
    for (const insert of inserts) {
      const each = of(insert.block.toUpperCase(), depth + 1);
      sum = sum === null || each === null ? null : sum + each * insert.columns * insert.rows;
    }
    known.set(name, sum);
    return sum;
  };
  return of;
}

function lineAt({ from, to, height }: TextLine, m: Affine): TextLine {
  const put = ([x, y]: [number, number]): [number, number] => place(m, x, y, 0).slice(0, 2) as [number, number];
  return { from: put(from), to: put(to), height: height * Math.sqrt(Math.abs(m[0] * m[4] - m[1] * m[3])) };
}

/** The layer and the colour that an entity is drawn in. */
type Look = Pick<DxfInsert, 'layer' | 'drawnIn'>;
/** The colour of what takes that of its block where it is put (DXF reference, group 62). */
const BY_BLOCK = 0;

/** An entity of a block as it looks where that is put: on layer 0 it is on the block’s layer, and may take its colour. */
function inBlock<T extends Look>(e: T, as: Look): T {
  if (e.layer !== '0' && e.drawnIn !== BY_BLOCK) return e;
  const { drawnIn, ...rest } = e;
  const colour = drawnIn === BY_BLOCK ? as.drawnIn : drawnIn;
  return { ...rest, layer: e.layer === '0' ? as.layer : e.layer, ...(colour === undefined ? {} : { drawnIn: colour }) } as T; // prettier-ignore
}

/** What a block draws, itself, where it is put. */
function put(of: DxfEntities, m: Affine, as: Look, out: Gathered): void {
  const on = <T extends Look>(e: T): T => inBlock(e, as);
  const at = <T extends { x: number; y: number; z: number }>(e: T): T => {
    const [x, y, z] = place(m, e.x, e.y, e.z);
    return { ...e, x, y, z };
  };
  for (const p of of.points) out.point(on(at(p)));
  for (const { line, ...t } of of.texts) out.text(on(at({ ...t, ...(line ? { line: lineAt(line, m) } : {}) })));
  for (const f of of.faces) {
    const corners = [0, 3, 6, 9].flatMap((k) => place(m, f.corners[k], f.corners[k + 1], f.corners[k + 2]));
    out.face(on({ ...f, corners }));
  }
  for (const c of of.curves) out.curve(on({ ...c, curve: carriedCurve(c.curve, m) }));
  for (const line of of.polylines) {
    const kept = keepsArcs(m);
    const own = kept === null ? chorded(line) : line;
    const [x, y, z]: [number[], number[], number[]] = [[], [], []];
    own.x.forEach((ox, i) => {
      const p = place(m, ox, own.y[i], own.z[i]);
      x.push(p[0]);
      y.push(p[1]);
      z.push(p[2]);
    });
    const bulge = kept === -1 ? own.bulge.map((b) => 0 - b) : own.bulge;
    const spatial = own.spatial || m[2] !== 0 || m[5] !== 0;
    out.polyline(on({ ...own, x, y, z, bulge, spatial }));
  }
}

const carriedCurve = (curve: RationalCurve, m: Affine): RationalCurve => carried(curve, (x, y, z) => place(m, x, y, z));

/** Whether circles in plan stay circles: 1, mirrored −1; null where they do not. */
function keepsArcs(m: Affine): 1 | -1 | null {
  const [a, b] = [
    [m[0], m[1]],
    [m[3], m[4]],
  ];
  const level = Math.abs(m[2]) < SAME && Math.abs(m[5]) < SAME;
  const [la, lb] = [a, b].map(([x, y]) => x * x + y * y);
  const across = a[0] * b[0] + a[1] * b[1];
  if (!level || Math.abs(la - lb) > SAME * Math.max(la, lb) || Math.abs(across) > SAME * Math.max(la, lb)) return null;
  return a[0] * b[1] - a[1] * b[0] > 0 ? 1 : -1;
}
