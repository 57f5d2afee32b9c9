import { METRES_IN } from '#core/measure';

/** What is taken where coordinates say nothing of it: whole numbers, and those that were computed. */
const PLAIN = 0.001;
const COMPUTED = 0.0001;
const ASKED = 2000;

/**
 * The last decimal that coordinates were rounded to, m: of metres or feet, one to four decimals; a tenth of a millimetre
 * where they were not rounded at all. It depends on the coordinates, not on how many decimals somebody wants to see.
 */
export function lastDecimalOf(x: Float64Array, y: Float64Array): number {
  const stride = Math.max(1, Math.floor(x.length / ASKED));
  for (const unit of [METRES_IN.m, METRES_IN.ft, METRES_IN.usft])
    for (let decimals = 0; decimals <= 4; decimals++)
      if (isRounded(x, unit, decimals, stride) && isRounded(y, unit, decimals, stride))
        return decimals === 0 ? PLAIN : unit * 10 ** -decimals;
  return COMPUTED;
}

function isRounded(values: Float64Array, unit: number, decimals: number, stride: number): boolean {
  const times = 10 ** decimals / unit;
  for (let i = 0; i < values.length; i += stride) {
    const v = values[i] * times;
    // 64 bits hold a coordinate of ten million metres to some nanometres.
    if (Math.abs(v - Math.round(v)) > Math.max(1e-6, Math.abs(v) * 1e-14)) return false;
  }
  return true;
}
