// Sines and arc tangents from sums, products and quotients alone, so that every engine gives the same bits
// (docs/decisions/001-same-bits.md). Polynomials and breakpoints are those of the freely distributable math
// library fdlibm (k_sin, k_cos, s_atan; Sun Microsystems 1993), from memory, held against Math in the tests.

/** Right angles in a radian. */
const RIGHT_ANGLES = 0.6366197723675814;
const HALF_PI_HIGH = 1.5707963267341256;
const HALF_PI_MIDDLE = 6.077100506303966e-11;
const HALF_PI_LOW = 2.0222662487959506e-21;

/** sin of |x| ≤ π/4, `y` the tail of x. */
function sinKernel(x: number, y: number): number {
  const z = x * x;
  const v = z * x;
  const r =
    8.33333333332248946124e-3 +
    z *
      (-1.98412698298579493134e-4 +
        z * (2.75573137070700676789e-6 + z * (-2.50507602534068634195e-8 + z * 1.58969099521155010221e-10)));
  return x - (z * (0.5 * y - v * r) - y - v * -1.66666666666666324348e-1);
}

/** cos of |x| ≤ π/4, `y` the tail of x. */
function cosKernel(x: number, y: number): number {
  const z = x * x;
  const r =
    z *
    (4.16666666666666019037e-2 +
      z *
        (-1.38888888888741095749e-3 +
          z *
            (2.48015872894767294178e-5 +
              z * (-2.75573143513906633035e-7 + z * (2.0875723212981748279e-9 + z * -1.13596475577881948265e-11)))));
  const h = 0.5 * z;
  const w = 1 - h;
  return w + (1 - w - h + (z * r - x * y));
}

/** Room for a sine and a cosine, so that a hundred thousand sightings make no garbage. */
export interface SinCos {
  sin: number;
  cos: number;
}

/** Sine and cosine of an angle in radians, |x| below 10⁴, into `out`. */
export function sinCosInto(x: number, out: SinCos): void {
  // The nearest right angle; at the half either of two will do. A product is sooner done than a quotient.
  const n = Math.floor(x * RIGHT_ANGLES + 0.5);
  // Less a whole number of right angles, in three parts of π/2, the first two with room for exact products.
  const first = x - n * HALF_PI_HIGH;
  const second = n * HALF_PI_MIDDLE;
  const sum = first - second;
  const rest = first - sum - second - n * HALF_PI_LOW;
  const high = sum + rest;
  const low = sum - high + rest;
  const s = sinKernel(high, low);
  const c = cosKernel(high, low);
  const quarter = n & 3;
  if (quarter === 0) {
    out.sin = s;
    out.cos = c;
  } else if (quarter === 1) {
    out.sin = c;
    out.cos = -s;
  } else if (quarter === 2) {
    out.sin = -s;
    out.cos = -c;
  } else {
    out.sin = -c;
    out.cos = s;
  }
}

const room: SinCos = { sin: 0, cos: 0 };

/** Sine and cosine of an angle in radians, |x| below 10⁴. */
export function sinCos(x: number): [sin: number, cos: number] {
  sinCosInto(x, room);
  return [room.sin, room.cos];
}
export function sin(x: number): number {
  sinCosInto(x, room);
  return room.sin;
}
export function cos(x: number): number {
  sinCosInto(x, room);
  return room.cos;
}

const ATAN_HIGH = [
  4.63647609000806093515e-1, 7.85398163397448278999e-1, 9.82793723247329054082e-1, 1.570796326794896558,
];
const ATAN_LOW = [
  2.26987774529616870924e-17, 3.06161699786838301793e-17, 1.39033110312309984516e-17, 6.12323399573676603587e-17,
];

/** Arc tangent, −π/2 … π/2. */
export function atan(value: number): number {
  if (Number.isNaN(value)) return NaN;
  const negative = value < 0;
  let x = negative ? -value : value;
  if (x > 1e18) return negative ? -ATAN_HIGH[3] : ATAN_HIGH[3];
  let id = -1;
  if (x >= 0.4375) {
    if (x < 0.6875) {
      id = 0;
      x = (2 * x - 1) / (2 + x);
    } else if (x < 1.1875) {
      id = 1;
      x = (x - 1) / (x + 1);
    } else if (x < 2.4375) {
      id = 2;
      x = (x - 1.5) / (1 + 1.5 * x);
    } else {
      id = 3;
      x = -1 / x;
    }
  }
  const z = x * x;
  const w = z * z;
  const s1 =
    z *
    (3.33333333333329318027e-1 +
      w *
        (1.42857142725034663711e-1 +
          w *
            (9.09088713343650656196e-2 +
              w * (6.66107313738753120669e-2 + w * (4.97687799461593236017e-2 + w * 1.62858201153657823623e-2)))));
  const s2 =
    w *
    (-1.99999999998764832476e-1 +
      w *
        (-1.1111110405462355788e-1 +
          w * (-7.69187620504482999495e-2 + w * (-5.83357013379057348645e-2 + w * -3.6531572744216915527e-2))));
  const result = id < 0 ? x - x * (s1 + s2) : ATAN_HIGH[id] - (x * (s1 + s2) - ATAN_LOW[id] - x);
  return negative ? -result : result;
}

/** Direction of (x, y) from the x axis, −π … π. */
export function atan2(y: number, x: number): number {
  if (x === 0) return y > 0 ? ATAN_HIGH[3] : y < 0 ? -ATAN_HIGH[3] : 0;
  const part = atan(y / x);
  if (x > 0) return part;
  return y >= 0 ? part + PI_HIGH + PI_LOW : part - PI_HIGH - PI_LOW;
}
const PI_HIGH = 3.141592653589793;
const PI_LOW = 1.2246467991473532e-16;

/** Arc sine by the arc tangent of its half-angle form. */
export const asin = (x: number): number => atan2(x, Math.sqrt((1 - x) * (1 + x)));
export const acos = (x: number): number => atan2(Math.sqrt((1 - x) * (1 + x)), x);

/** An angle brought into 0 … 2π. */
export function turned(angle: number): number {
  const full = 6.283185307179586;
  // Sums of two directions lie within a turn of where they belong; a remainder is slow.
  if (angle >= 0 && angle < full) return angle;
  if (angle < 0 && angle >= -full) return angle + full < full ? angle + full : 0;
  if (angle >= full && angle < 2 * full) return angle - full;
  const rest = angle % full;
  return rest < 0 ? rest + full : rest;
}

/** An angle brought into −π … π: a difference of directions. */
export function difference(angle: number): number {
  const rest = turned(angle);
  return rest > 3.141592653589793 ? rest - 6.283185307179586 : rest;
}

const LN2_HIGH = 0.6931471803691238;
const LN2_LOW = 1.9082149292705877e-10;

/** e to the power x by its series within half of ln 2; relative error some last bits. */
export function exp(x: number): number {
  if (x > 700) return Infinity;
  if (x < -700) return 0;
  const k = Math.round(x / 0.6931471805599453);
  const r = x - k * LN2_HIGH - k * LN2_LOW;
  let sum = 1;
  for (let n = 14; n >= 1; n--) sum = 1 + (r / n) * sum;
  for (let i = 0; i < k; i++) sum *= 2;
  for (let i = 0; i > k; i--) sum /= 2;
  return sum;
}
