import { distanceToSide, sinCos } from '#core/kernel';

/** A rational B-spline (Piegl and Tiller, The NURBS Book): ellipses and splines of a drawing as one thing, exactly. */
export interface RationalCurve {
  degree: number;
  /** As many as control points, degree and one; never falling. */
  knots: number[];
  /** x y z of each. */
  control: number[];
  /** > 0, one a control point. */
  weights: number[];
}

/** Steps into which what stands between two knots is halved at the most. */
const MOST_HALVINGS = 10;
const MOST_DEGREE = 24;
/** Places along one curve at the most, whatever its file says. */
const MOST_PLACES = 500_000;

/** Why a curve can not be followed; null where it can. */
export function faultOf({ degree, knots, control, weights }: RationalCurve): string | null {
  const n = control.length / 3;
  if (!(Number.isInteger(degree) && degree >= 1 && degree <= MOST_DEGREE)) return `is of degree ${degree}`;
  if (n < degree + 1) return `has ${n} control points, too few for degree ${degree}`;
  if (knots.length !== n + degree + 1) return `has ${knots.length} knots where ${n + degree + 1} belong`;
  if (knots.some((k, i) => i > 0 && k < knots[i - 1])) return 'has knots that fall';
  if (!(knots[n] > knots[degree])) return 'goes nowhere between its knots';
  if (weights.length !== n || weights.some((w) => !(w > 0))) return 'has a weight that is not above 0';
  return null;
}

/** Place at a parameter, by de Boor's algorithm on weighted points; `span` is the knot that it lies behind. */
function placeAt(
  { degree, knots, control, weights }: RationalCurve,
  span: number,
  u: number,
): [number, number, number] {
  const d: number[][] = [];
  for (let j = 0; j <= degree; j++) {
    const i = span - degree + j;
    const w = weights[i];
    d.push([control[3 * i] * w, control[3 * i + 1] * w, control[3 * i + 2] * w, w]);
  }
  for (let r = 1; r <= degree; r++)
    for (let j = degree; j >= r; j--) {
      const i = span - degree + j;
      const wide = knots[i + degree - r + 1] - knots[i];
      const share = wide > 0 ? (u - knots[i]) / wide : 0;
      for (let k = 0; k < 4; k++) d[j][k] = (1 - share) * d[j - 1][k] + share * d[j][k];
    }
  const [x, y, z, w] = d[degree];
  return [x / w, y / w, z / w];
}

/** x y z … along a curve, nowhere farther from it than a sagitta: each piece between two knots halved while its middle or its quarters are. */
export function chordsOf(curve: RationalCurve, sagitta: number): number[] {
  const { degree, knots, control } = curve;
  const n = control.length / 3;
  const out: number[] = [];
  let end: [number, number, number] | null = null;
  let halvings = MOST_HALVINGS;
  while (halvings > 1 && (n - degree) * 2 ** halvings > MOST_PLACES) halvings--;
  for (let span = degree; span < n; span++) {
    const [from, to] = [knots[span], knots[span + 1]];
    if (!(to > from)) continue;
    const at = (u: number): [number, number, number] => placeAt(curve, span, u);
    const begin = at(from);
    out.push(...begin);
    end = at(to);
    halve(at, from, begin, to, end, sagitta, halvings, (p) => out.push(...p));
  }
  if (end) out.push(...end);
  return out;
}

type Place = [number, number, number];

function halve(
  at: (u: number) => Place,
  from: number,
  a: Place,
  to: number,
  b: Place,
  sagitta: number,
  left: number,
  put: (p: Place) => void,
): void {
  if (left === 0) return;
  const middle = (from + to) / 2;
  const m = at(middle);
  const far = [at((3 * from + to) / 4), m, at((from + 3 * to) / 4)].some((p) => distanceToSide(p, a, b) > sagitta);
  if (!far) return;
  halve(at, from, a, middle, m, sagitta, left - 1, put);
  put(m);
  halve(at, middle, m, to, b, sagitta, left - 1, put);
}

/**
 * A part of an ellipse, from its centre and its two half axes in space, between two parameters, radians: quarters at the
 * most, each a rational parabola, exactly (Piegl and Tiller, section 7.3).
 */
export function ellipse(centre: Place, major: Place, minor: Place, from: number, to: number): RationalCurve {
  const sweep = to - from;
  const pieces = Math.max(1, Math.ceil(sweep / (Math.PI / 2) - 1e-9));
  const control: number[] = [];
  const weights: number[] = [];
  const put = (c: number, s: number, w: number): void => {
    for (let k = 0; k < 3; k++) control.push(centre[k] + c * major[k] + s * minor[k]);
    weights.push(w);
  };
  const [, half] = sinCos(sweep / pieces / 2);
  for (let i = 0; i <= pieces; i++) {
    const [s, c] = sinCos(from + (sweep * i) / pieces);
    if (i > 0) {
      const [ms, mc] = sinCos(from + (sweep * (i - 0.5)) / pieces);
      put(mc / half, ms / half, half);
    }
    put(c, s, 1);
  }
  const knots = [0, 0, 0];
  for (let i = 1; i < pieces; i++) knots.push(i, i);
  knots.push(pieces, pieces, pieces);
  return { degree: 2, knots, control, weights };
}

/** A curve whose places have all been carried elsewhere by something that keeps straights straight. */
export function carried(curve: RationalCurve, place: (x: number, y: number, z: number) => Place): RationalCurve {
  const control: number[] = [];
  for (let i = 0; i < curve.control.length; i += 3)
    control.push(...place(curve.control[i], curve.control[i + 1], curve.control[i + 2]));
  return { ...curve, control };
}
