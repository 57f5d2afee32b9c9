import { parseArgs } from 'node:util';
import type { DxfVersion } from '#core/exchange';
import { readLength } from '#core/measure';
import { Account } from './account.ts';
import { CannotDo, WrongUsage } from './problems.ts';
import { factors, fit } from './verbs/basis.ts';
import { contours, heights, volume } from './verbs/analysis.ts';
import { convert } from './verbs/convert.ts';
import { inspect } from './verbs/inspect.ts';
import { lines } from './verbs/lines.ts';
import { adjust } from './verbs/adjust.ts';
import { reduce } from './verbs/reduce.ts';
import { surface } from './verbs/surface.ts';
import type { Options, Outcome } from './verb.ts';

interface Verb {
  run: (files: string[], options: Options) => Outcome | Promise<Outcome>;
  /** How many files: at least, at most. */
  files: [number, number];
  usage: string;
}

const VERBS: Record<string, Verb> = {
  inspect: { run: inspect, files: [1, 1], usage: 'inspect FILE [--layout FILE]' },
  reduce: {
    run: reduce,
    files: [1, 100],
    usage:
      'reduce BOOK… --control FILE [--layout FILE] [--factor F] [--refraction K] [--tolerance-plan L] [--tolerance-height L] [-o POINTS]',
  },
  adjust: {
    run: adjust,
    files: [1, 100],
    usage: 'adjust BOOK… --control FILE [--layout FILE] [--free] [--factor F] [--refraction K] [-o STATIONS]',
  },
  fit: { run: fit, files: [1, 1], usage: 'fit PAIRS [--scale free|fixed] [--space] [--unit m|ft|usft|mm|cm|in]' },
  factors: { run: factors, files: [1, 1], usage: 'factors SYSTEM --at POINTS [--project-factor F]' },
  lines: { run: lines, files: [1, 1], usage: 'lines POINTS [--codes LIST] [--words FILE] [-o OUT]' },
  surface: {
    run: surface,
    files: [1, 1000],
    usage: 'surface IN… [--lines F] [--boundary F] [--longest-side L] [--coincidence D] [-o OUT]',
  },
  contours: { run: contours, files: [1, 1], usage: 'contours SURFACE --interval I [--every N] [-o OUT]' },
  heights: { run: heights, files: [1, 1], usage: 'heights SURFACE --at POINTS [-o OUT]' },
  volume: {
    run: volume,
    files: [1, 1],
    usage:
      'volume SURFACE (--against SURFACE2 | --level Z) [--within F] [--method exact|grid|sections|all] [--cell L] [--spacing L]',
  },
  convert: {
    run: convert,
    files: [2, 2],
    usage:
      'convert IN OUT [--from SYSTEM] [--to SYSTEM] [--geoid FILE --heights to-orthometric|to-ellipsoidal] [--heights ellipsoidal] [--grids FILE…] [--to-order PENZD] [--to-unit m|ft|usft] [--decimals N] [--dxf R12|2000]',
  },
};

const usage = (): string =>
  [
    'usage: npm run dunrik -- VERB …, with --json for one JSON object, SI units',
    ...Object.values(VERBS).map((v) => `  ${v.usage}`),
    'A SYSTEM is EPSG:25833 or a definition beginning with +proj=.',
    'Text points take --order (letters P N E Z D, L line number, W line word, _ to skip) and --unit m|ft|usft|mm|cm|in unless a heading row says them; a spreadsheet --sheet NAME, the first otherwise.',
  ].join('\n');

function length(name: string, text: string | undefined, least = -Infinity): number | undefined {
  if (text === undefined) return undefined;
  const read = readLength(text, 'm');
  if (!read.ok || read.metres < least)
    throw new WrongUsage(
      `--${name} takes a length in metres${least >= 0 ? `, at least ${least}` : ''}, not “${text}”.`,
    );
  return read.metres;
}

function whole(name: string, text: string | undefined, most: number): number | undefined {
  if (text === undefined) return undefined;
  if (!/^\d{1,6}$/.test(text) || Number(text) > most)
    throw new WrongUsage(`--${name} takes a whole number up to ${most}, not “${text}”.`);
  return Number(text);
}

function number(name: string, text: string | undefined, min: number, max: number): number | undefined {
  if (text === undefined) return undefined;
  const value = Number(text.replace(',', '.'));
  if (text.trim() === '' || !(value >= min && value <= max))
    throw new WrongUsage(`--${name} is a number between ${min} and ${max}, not “${text}”.`);
  return value;
}

function choice<T extends string>(name: string, text: string | undefined, of: readonly T[]): T | undefined {
  if (text === undefined || of.includes(text as T)) return text as T | undefined;
  throw new WrongUsage(`--${name} is ${of.join(' or ')}, not “${text}”.`);
}

function readCommand(args: string[]): { verb: Verb; files: string[]; options: Options } {
  const text = { type: 'string' } as const;
  let parsed;
  try {
    parsed = parseArgs({
      args: joinNegative(args),
      allowPositionals: true,
      options: {
        json: { type: 'boolean' },
        output: { type: 'string', short: 'o' },
        order: text,
        unit: text,
        sheet: text,
        'to-order': text,
        'to-unit': text,
        codes: text,
        words: text,
        lines: text,
        boundary: text,
        within: text,
        at: text,
        against: text,
        name: text,
        method: text,
        dxf: text,
        'longest-side': text,
        coincidence: text,
        interval: text,
        every: text,
        level: text,
        cell: text,
        spacing: text,
        decimals: text,
        'text-height': text,
        from: text,
        to: text,
        geoid: text,
        heights: text,
        interpolation: text,
        grids: { type: 'string', multiple: true },
        'outside-area': { type: 'boolean' },
        control: text,
        layout: text,
        free: { type: 'boolean' },
        'tolerance-plan': text,
        'tolerance-height': text,
        refraction: text,
        factor: text,
        scale: text,
        space: { type: 'boolean' },
        'project-factor': text,
      },
    });
  } catch (error) {
    throw new WrongUsage((error as Error).message);
  }
  const { values: v, positionals } = parsed;
  const [name, ...files] = positionals;
  const verb = VERBS[name ?? ''];
  if (!verb) throw new WrongUsage(name ? `There is no verb “${name}”.` : 'A verb is missing.');
  if (files.length < verb.files[0] || files.length > verb.files[1]) throw new WrongUsage(`usage: ${verb.usage}`);
  if (v.dxf !== undefined && v.dxf !== 'R12' && v.dxf !== '2000') throw new WrongUsage('--dxf is R12 or 2000.');
  const options: Options = {
    json: v.json ?? false,
    account: new Account(),
    output: v.output,
    order: v.order,
    unit: v.unit,
    sheet: v.sheet,
    toOrder: v['to-order'],
    toUnit: v['to-unit'],
    codes: v.codes,
    words: v.words,
    lines: v.lines,
    boundary: v.boundary,
    within: v.within,
    at: v.at,
    against: v.against,
    name: v.name,
    method: v.method,
    dxf: (v.dxf ?? '2000') as DxfVersion,
    longestSide: length('longest-side', v['longest-side'], 1e-6),
    coincidence: length('coincidence', v.coincidence, 0),
    interval: length('interval', v.interval, 1e-6),
    every: whole('every', v.every, 100_000),
    level: length('level', v.level),
    cell: length('cell', v.cell, 1e-3),
    spacing: length('spacing', v.spacing, 1e-3),
    decimals: whole('decimals', v.decimals, 9),
    textHeight: length('text-height', v['text-height'], 0),
    from: v.from,
    to: v.to,
    geoid: v.geoid,
    heights: choice('heights', v.heights, ['to-orthometric', 'to-ellipsoidal', 'ellipsoidal'] as const),
    interpolation: choice('interpolation', v.interpolation, ['bilinear', 'biquadratic'] as const) ?? 'bilinear',
    grids: v.grids ?? [],
    outsideArea: v['outside-area'] ?? false,
    control: v.control,
    layout: v.layout,
    free: v.free ?? false,
    tolerancePlan: length('tolerance-plan', v['tolerance-plan'], 1e-6),
    toleranceHeight: length('tolerance-height', v['tolerance-height'], 1e-6),
    refraction: number('refraction', v.refraction, -2, 2),
    factor: number('factor', v.factor, 0.9, 1.1),
    scale: choice('scale', v.scale, ['free', 'fixed'] as const),
    space: v.space ?? false,
    projectFactor: number('project-factor', v['project-factor'], 0.9, 1.1),
  };
  return { verb, files, options };
}

/** A level below zero is a value, not an option. */
const joinNegative = (args: string[]): string[] =>
  args.reduce<string[]>((out, a) => {
    const last = out.at(-1);
    if (/^-[\d.]/.test(a) && last?.startsWith('--') && !last.includes('=')) out[out.length - 1] = `${last}=${a}`;
    else out.push(a);
    return out;
  }, []);

/** A verb that lists what it did not read says it itself. */
const saysItself = (json: unknown): boolean => (json as { notRead?: unknown }).notRead !== undefined;

const withAccount = (json: unknown, account: Account): unknown =>
  saysItself(json) ? json : { ...(json as object), notRead: account.list, notReadCount: account.count };

const linesOf = (outcome: Outcome, account: Account): string[] => (saysItself(outcome.json) ? [] : account.lines());

async function main(): Promise<void> {
  try {
    const { verb, files, options } = readCommand(process.argv.slice(2));
    const outcome = await verb.run(files, options);
    process.stdout.write(
      (options.json
        ? JSON.stringify(withAccount(outcome.json, options.account))
        : [outcome.text, ...linesOf(outcome, options.account)].join('\n')) + '\n',
    );
  } catch (error) {
    if (error instanceof WrongUsage) {
      process.stderr.write(`dunrik: ${error.message}\n${usage()}\n`);
      process.exitCode = 2;
    } else {
      const message =
        error instanceof CannotDo ? error.message : `this should not have happened: ${(error as Error).message}`;
      process.stderr.write(`dunrik: ${message}\n`);
      process.exitCode = 1;
    }
  }
}

await main();
