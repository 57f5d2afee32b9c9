import { formatFixed } from './units.ts';

/** How angles are written: degrees, minutes and seconds; decimal degrees; gon (400 to the circle). */
export type AngleForm = 'dms' | 'deg' | 'gon';
export const ANGLE_NAME: Record<AngleForm, string> = {
  dms: 'degrees, minutes, seconds',
  deg: 'decimal degrees',
  gon: 'gon',
};

const DEGREE = Math.PI / 180;
const GON = Math.PI / 200;

/**
 * An angle held in radians. `decimals` counts decimals of a second; decimal degrees and gon get as many
 * as resolve the same (four more).
 */
export function formatAngle(radians: number, form: AngleForm, decimals = 0): string {
  if (!Number.isFinite(radians)) return '–';
  if (form === 'gon')
    return `${formatFixed(belowFullTurn(radians / GON, 400, 10 ** (decimals + 4)), decimals + 4)} gon`;
  const degrees = radians / DEGREE;
  if (form === 'deg') return `${formatFixed(belowFullTurn(degrees, 360, 10 ** (decimals + 4)), decimals + 4)}°`;
  const scale = 10 ** decimals;
  const rounded = Math.round(Math.abs(degrees) * 3600 * scale);
  // What is less than a turn does not become a full one by rounding: after 359°59′59″ comes 0.
  const full = 1_296_000 * scale;
  const total = rounded === full && Math.abs(degrees) < 360 ? 0 : rounded;
  const seconds = (total % (60 * scale)) / scale;
  const minutes = Math.floor(total / (60 * scale)) % 60;
  const sign = degrees < 0 && total > 0 ? '−' : '';
  const two = (v: number, d = 0): string => v.toFixed(d).padStart(d ? d + 3 : 2, '0');
  return `${sign}${Math.floor(total / (3600 * scale))}°${two(minutes)}′${two(seconds, decimals)}″`;
}

const belowFullTurn = (value: number, full: number, scale: number): number =>
  Math.abs(value) < full && Math.round(Math.abs(value) * scale) === full * scale ? 0 : value;

export type ReadAngle = { ok: true; radians: number; echo: string } | { ok: false; reason: string };

const SIGN = '([+\\-−]?)';
const FORMS: [RegExp, (m: RegExpExecArray) => [degrees: number, minutes: number, seconds: number]][] = [
  // 123-45-06.7, 123°45′06.7″, 123 45 06.7, 123:45:06.7, with minutes alone too
  [
    new RegExp(
      `^${SIGN}(\\d{1,3})(?:\\s*[°d]\\s*|[-:\\s]\\s*)(\\d{1,2})(?:\\s*[′'m]\\s*|[-:\\s]\\s*)(\\d{1,2}(?:[.,]\\d+)?)\\s*(?:″|"|''|s)?$`,
      'i',
    ),
    (m) => [Number(m[2]), Number(m[3]), Number(m[4].replace(',', '.'))],
  ],
  [
    new RegExp(`^${SIGN}(\\d{1,3})(?:\\s*[°d]\\s*|[-:\\s]\\s*)(\\d{1,2}(?:[.,]\\d+)?)\\s*[′'m]?$`, 'i'),
    (m) => [Number(m[2]), Number(m[3].replace(',', '.')), 0],
  ],
];

/** The quarter behind an angle; the n of gon is none, nor is the s of seconds where d and m stand for the others. */
function partSide(given: string): { body: string; side: string } {
  const [, body, side] = /^(.*[\d°′″'"\s])([NSEW])$/i.exec(given) ?? [];
  return !side || (side === 's' && /[dm]/i.test(body)) ? { body: given, side: '' } : { body: body.trim(), side };
}

/**
 * Reads an angle as people type it: `123-45-06`, `123°45′06″`, `123.4506` when the form is degrees, minutes
 * and seconds (packed), decimal degrees or gon by the form, `100g` and `45.5°` by their own sign. N, S, E and W
 * behind it give its sign. The echo says how it was understood.
 */
export function readAngle(text: string, form: AngleForm): ReadAngle {
  const no = (reason: string): ReadAngle => ({ ok: false, reason });
  const given = text.trim().slice(0, 60);
  const { body, side } = partSide(given);
  const turn = /[SW]/i.test(side) ? -1 : 1;
  const yes = (radians: number): ReadAngle => ({
    ok: true,
    radians: turn * radians,
    echo: formatAngle(turn * radians, form, form === 'dms' ? 1 : 0),
  });
  for (const [pattern, parts] of FORMS) {
    const match = pattern.exec(body);
    if (!match) continue;
    const [degrees, minutes, seconds] = parts(match);
    if (minutes >= 60 || seconds >= 60) return no(`“${given}”: minutes and seconds stay below 60.`);
    const value = (degrees + minutes / 60 + seconds / 3600) * DEGREE;
    return yes(match[1] === '-' || match[1] === '−' ? -value : value);
  }
  const match = /^([+\-−]?)(\d+(?:[.,]\d*)?|[.,]\d+)\s*(g|gon|°|deg)?$/i.exec(body);
  if (!match) return no(`“${given}” is not an angle. Type it as 123-45-06, 123.7517° or 137.5019g.`);
  const sign = match[1] === '-' || match[1] === '−' ? -1 : 1;
  const number = match[2].replace(',', '.');
  const named = match[3]?.toLowerCase();
  if (named?.startsWith('g') || (!named && form === 'gon')) return yes(sign * Number(number) * GON);
  if (named || form === 'deg') return yes(sign * Number(number) * DEGREE);
  return packed(number, sign);

  function packed(digits: string, s: number): ReadAngle {
    const [whole, fraction = ''] = digits.split('.');
    const padded = fraction.padEnd(4, '0');
    const [minutes, seconds] = [Number(padded.slice(0, 2)), Number(`${padded.slice(2, 4)}.${padded.slice(4) || '0'}`)];
    if (minutes >= 60 || seconds >= 60)
      return no(
        `“${given}” read as degrees, minutes and seconds has ${minutes} minutes and ${seconds} seconds; both stay below 60. For decimal degrees type ${given}°.`,
      );
    return yes(s * (Number(whole || '0') + minutes / 60 + seconds / 3600) * DEGREE);
  }
}

/** A vertical angle as the project shows it: from the zenith, or from the horizon on either face. */
export function shownVertical(zenith: number, vertical: 'zenith' | 'elevation'): number {
  if (vertical === 'zenith' || Number.isNaN(zenith)) return zenith;
  return zenith > Math.PI ? zenith - 1.5 * Math.PI : Math.PI / 2 - zenith;
}
