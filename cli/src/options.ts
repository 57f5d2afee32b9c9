import { readLength } from '#core/measure';
import { WrongUsage } from './problems.ts';
import type { Given, OptionOf, Values } from './verb.ts';

// Kinds of options, and the groups of them that several verbs share.

const one = (given: Given): string | undefined => (typeof given === 'string' ? given : undefined);

/** Reads what was typed; undefined where nothing was. */
const typed =
  <V>(read: (text: string, name: string) => V) =>
  (given: Given, name: string): V | undefined => {
    const text = one(given);
    return text === undefined ? undefined : read(text, name);
  };

export const text = (flags: string, about: string): OptionOf<string | undefined> => ({ flags, about, read: one });

export const flag = (flags: string, about: string): OptionOf<boolean> => ({
  flags,
  about,
  read: (given) => given === true,
});

export const several = (flags: string, about: string): OptionOf<string[]> => ({
  flags,
  about,
  many: true,
  read: (given) => (Array.isArray(given) ? given : given === undefined || given === true ? [] : [given]),
});

/** A length in metres, or with its unit. */
export const length = (flags: string, about: string, least = -Infinity): OptionOf<number | undefined> => ({
  flags,
  about,
  read: typed((text, name) => {
    const read = readLength(text, 'm');
    if (!read.ok || read.metres < least)
      throw new WrongUsage(
        `--${name} takes a length in metres${least >= 0 ? `, at least ${least}` : ''}, not “${text}”.`,
      );
    return read.metres;
  }),
});

export const whole = (flags: string, about: string, most: number): OptionOf<number | undefined> => ({
  flags,
  about,
  read: typed((text, name) => {
    if (!/^\d{1,6}$/.test(text) || Number(text) > most)
      throw new WrongUsage(`--${name} takes a whole number up to ${most}, not “${text}”.`);
    return Number(text);
  }),
});

export const number = (flags: string, about: string, min: number, max: number): OptionOf<number | undefined> => ({
  flags,
  about,
  read: typed((text, name) => {
    const value = Number(text.replace(',', '.'));
    if (text.trim() === '' || !(value >= min && value <= max))
      throw new WrongUsage(`--${name} is a number between ${min} and ${max}, not “${text}”.`);
    return value;
  }),
});

export function choice<T extends string>(flags: string, about: string, of: readonly T[]): OptionOf<T | undefined>;
export function choice<T extends string>(flags: string, about: string, of: readonly T[], otherwise: T): OptionOf<T>;
export function choice<T extends string>(
  flags: string,
  about: string,
  of: readonly T[],
  otherwise?: T,
): OptionOf<T | undefined> {
  return {
    flags,
    about: `${about}: ${of.join(' or ')}`,
    read: (given, name) => {
      const text = one(given);
      if (text === undefined) return otherwise;
      if (of.includes(text as T)) return text as T;
      throw new WrongUsage(`--${name} is ${of.join(' or ')}, not “${text}”.`);
    },
  };
}

/** How text, spreadsheets and what does not say its unit are read. */
export const READING = {
  order: text('--order <letters>', 'columns of text points: P N E Z D, L line number, W line word, _ to skip'),
  unit: text('--unit <unit>', 'unit of what does not say one: m, ft, usft, mm, cm, in'),
  sheet: text('--sheet <name>', 'sheet of a spreadsheet; the first otherwise'),
};

export const OUTPUT = { output: text('-o, --output <file>', 'file to write, its kind by its ending') };

/** How points go out as text. */
export const TEXT_OUT = {
  toOrder: text('--to-order <letters>', 'columns of the text to write'),
  toUnit: text('--to-unit <unit>', 'unit of what is written: m, ft, usft'),
  decimals: whole('--decimals <n>', 'decimals of what is written', 9),
};

export const DXF = {
  dxf: choice('--dxf <version>', 'version of a drawing to write', ['R12', '2000'] as const, '2000'),
};

export const LAYOUT = {
  layout: text('--layout <file>', 'layout of a field book in a table or tagged text, a JSON file'),
};

/** How books are reduced. */
export const REDUCING = {
  control: text('--control <file>', 'given coordinates'),
  ...LAYOUT,
  factor: number('--factor <f>', 'length on the grid over length on the ground', 0.9, 1.1),
  refraction: number('--refraction <k>', 'coefficient of refraction', -2, 2),
  tolerancePlan: length('--tolerance-plan <length>', 'tolerance of a check in plan', 1e-6),
  toleranceHeight: length('--tolerance-height <length>', 'tolerance of a check in height', 1e-6),
};

/** How coordinates are transformed from one system to another, and heights with them. */
export const TRANSFORM = {
  from: text('--from <system>', 'system of the file: EPSG:32612, or a definition beginning with +proj='),
  to: text('--to <system>', 'system to transform to'),
  geoid: text('--geoid <file>', 'geoid, GTX or GeoTIFF'),
  heights: choice('--heights <what>', 'what happens to heights', [
    'to-orthometric',
    'to-ellipsoidal',
    'ellipsoidal',
  ] as const),
  interpolation: choice(
    '--interpolation <kind>',
    'how the geoid is interpolated',
    ['bilinear', 'biquadratic'] as const,
    'bilinear',
  ),
  grids: several('--grids <file>', 'a datum grid file; given again for another'),
  outsideArea: flag('--outside-area', 'transform places outside the area that the system is meant for'),
};
export type TransformOptions = Values<typeof TRANSFORM>;
