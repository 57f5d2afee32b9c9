import { ringArea } from '#core/kernel';

/** A convex area in plan: x, y of its corners, counter-clockwise. */
export type Convex = readonly number[];

/** Corners nearer to a line than this lie on it, m. */
const ON_LINE = 1e-9;

/** The part of an area on which a linear function a + b x + c y is not below 0. */
export function cutBy(area: Convex, a: number, b: number, c: number): number[] {
  const out: number[] = [];
  const n = area.length;
  const size = Math.abs(b) + Math.abs(c) || 1;
  const value = (i: number): number => {
    const v = a + b * area[i] + c * area[i + 1];
    return Math.abs(v) <= ON_LINE * size ? 0 : v;
  };
  for (let i = 0; i < n; i += 2) {
    const j = (i + 2) % n;
    const [here, next] = [value(i), value(j)];
    if (here >= 0) out.push(area[i], area[i + 1]);
    if ((here > 0 && next < 0) || (here < 0 && next > 0)) {
      const f = here / (here - next);
      out.push(area[i] + f * (area[j] - area[i]), area[i + 1] + f * (area[j + 1] - area[i + 1]));
    }
  }
  return out.length >= 6 ? out : [];
}

/** Areas smaller than this are none, m². */
const NO_AREA = 1e-9;

/** What two areas have in common; empty where they only touch. */
export function common(a: Convex, b: Convex): number[] {
  let out: number[] = [...a];
  for (let i = 0; i < b.length && out.length; i += 2) out = cutBy(out, ...inwards(b, i));
  return ringArea(out) > NO_AREA ? out : [];
}

/** An area without another, in convex parts. */
export function minus(a: Convex, b: Convex): number[][] {
  const parts: number[][] = [];
  let rest: number[] = [...a];
  for (let i = 0; i < b.length && rest.length; i += 2) {
    const [c0, c1, c2] = inwards(b, i);
    const off = cutBy(rest, -c0, -c1, -c2);
    if (ringArea(off) > NO_AREA) parts.push(off);
    rest = cutBy(rest, c0, c1, c2);
  }
  return parts;
}

/** The line along a side, positive inside, as distances in m. */
function inwards(area: Convex, i: number): [number, number, number] {
  const j = (i + 2) % area.length;
  const [dx, dy] = [area[j] - area[i], area[j + 1] - area[i + 1]];
  const length = Math.sqrt(dx * dx + dy * dy) || 1;
  const [b, c] = [-dy / length, dx / length];
  return [-(b * area[i] + c * area[i + 1]), b, c];
}
