import {
  ATTRIBUTE_TYPES,
  codeSchema,
  INKS,
  LINE_STYLES,
  symbolOfText,
  SYMBOLS,
  symbolText,
  type Code,
  type CodeAttribute,
  type CodeOffset,
} from '#core/codes';
import { plainNumber } from '#core/measure';
import { csvTable } from './text/cell.ts';
import { splitRow, type Separator } from './text/layout.ts';

const COLUMNS = ['code', 'name', 'kind', 'group', 'layer', 'point layer', 'ink', 'symbol', 'own symbol', 'scale', 'rotation deg', 'style', 'breakline', 'ground', 'attributes', 'label', 'offsets', 'lower', 'pipe'] as const; // prettier-ignore
type Heading = (typeof COLUMNS)[number];

/** As many codes as a list may have. */
const MOST_CODES = 2000;

/** A code list as a table: one row a code; the form is described in docs/formats/code-strings.md. */
export function writeCodeTable(codes: readonly Code[]): string {
  const yes = (v: boolean | undefined): string => (v ? 'yes' : 'no');
  const rows = codes.map((c): Record<Heading, string> => ({
    code: c.code,
    name: c.name,
    kind: c.kind,
    group: c.group ?? '',
    layer: c.layer,
    'point layer': c.pointLayer ?? '',
    ink: c.ink,
    symbol: c.symbol,
    'own symbol': c.strokes ? symbolText(c.strokes) : '',
    scale: c.scale === undefined ? '' : String(c.scale),
    'rotation deg': c.rotation === undefined ? '' : String(Math.round((c.rotation / Math.PI) * 180 * 1e6) / 1e6),
    style: c.style,
    breakline: yes(c.breakline),
    ground: yes(c.ground),
    attributes: (c.attributes ?? []).map(attributeText).join('; '),
    label: (c.label ?? []).join(' '),
    offsets: (c.offsets ?? []).map((o) => `${o.code} ${o.across} ${o.height}`).join('; '),
    lower: c.lower ?? '',
    pipe: yes(c.pipe),
  }));
  return csvTable([COLUMNS, ...rows.map((r) => COLUMNS.map((c) => r[c]))]);
}

const attributeText = (a: CodeAttribute): string =>
  a.name + (a.required ? '!' : '') + (a.type === 'text' ? '' : `:${a.type}`) + (a.choices?.length ? `:${a.choices.join('|')}` : ''); // prettier-ignore

export interface CodeTable {
  codes: Code[];
  problems: { row: number; reason: string }[];
}

/** Reads a table of codes; a row that does not hold is listed with its number and reason, the others are read. */
export function readCodeTable(text: string): CodeTable {
  const rows = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);
  const separator = ([';', '\t', ','] as Separator[]).find((s) => (rows[0] ?? '').includes(s)) ?? ',';
  const heads = splitRow((rows[0] ?? '').toLowerCase(), separator).map((h) => h.trim());
  const at = new Map(COLUMNS.map((c) => [c, heads.indexOf(c)]));
  const out: CodeTable = { codes: [], problems: [] };
  if (at.get('code')! < 0)
    return { codes: [], problems: [{ row: 1, reason: `no column is headed “code”; the headings are ${COLUMNS.join(', ')}` }] }; // prettier-ignore
  const seen = new Map<string, number>();
  heads.forEach((head, i) => {
    if (head !== '' && !COLUMNS.includes(head as Heading))
      out.problems.push({
        row: 1,
        reason: `column ${i + 1}, “${head.slice(0, 30)}”, is not read; the headings are ${COLUMNS.join(', ')}`,
      });
  });
  rows.slice(1).forEach((line, i) => {
    if (line.trim() === '') return;
    const fields = splitRow(line, separator);
    const read = codeOfRow((c) => (at.get(c)! < 0 ? '' : (fields[at.get(c)!] ?? '')).trim());
    const row = i + 2;
    if (typeof read === 'string') out.problems.push({ row, reason: read });
    else if (seen.has(read.code))
      out.problems.push({ row, reason: `code ${read.code} stands in row ${seen.get(read.code)} already` }); // prettier-ignore
    else if (out.codes.length >= MOST_CODES)
      out.problems.push({ row, reason: `a list has at most ${MOST_CODES} codes` });
    else {
      seen.set(read.code, row);
      out.codes.push(read);
    }
  });
  return out;
}

class RowProblem extends Error {}

function codeOfRow(get: (column: Heading) => string): Code | string {
  try {
    const code = get('code').toUpperCase();
    if (!/^[^\s/"=]{1,16}$/.test(code))
      throw new RowProblem(`“${code.slice(0, 20)}” is not a code: one word of at most 16 characters`);
    const wide = (column: Heading, most: number): string => {
      const text = get(column);
      if (text.length > most)
        throw new RowProblem(`the ${column} has ${text.length} characters; at most ${most} are kept`);
      return text;
    };
    const kind = oneOf('kind', get('kind') || 'point', ['point', 'line'] as const);
    const part = <K extends keyof Code>(key: K, value: Code[K] | undefined): Partial<Code> =>
      value === undefined ? {} : { [key]: value };
    const attributes = listOf(get('attributes'), attributeOf);
    const offsets = listOf(get('offsets'), offsetOf);
    const label = get('label')
      .split(/[\s;]+/)
      .filter(Boolean);
    const row: Code = {
      code,
      name: wide('name', 80),
      kind,
      layer: (wide('layer', 31) || (kind === 'line' ? 'LINES' : 'POINTS')).toUpperCase(),
      ink: oneOf('ink', get('ink') || 'ink', INKS),
      symbol: oneOf('symbol', get('symbol') || 'dot', SYMBOLS),
      style: oneOf('style', get('style') || 'solid', LINE_STYLES),
      breakline: yesNo('breakline', get('breakline'), kind === 'line'),
      ground: yesNo('ground', get('ground'), true),
      ...part('group', wide('group', 40) || undefined),
      ...part('pointLayer', wide('point layer', 31).toUpperCase() || undefined),
      ...part('strokes', ownSymbol(get('own symbol'))),
      ...part('scale', numberOf('scale', get('scale'), 0.1, 20)),
      ...part('rotation', turnOf(get('rotation deg'))),
      ...part('attributes', attributes.length ? attributes : undefined),
      ...part('label', label.length ? label : undefined),
      ...part('offsets', offsets.length ? offsets : undefined),
      ...part('lower', get('lower').toUpperCase() || undefined),
      ...(yesNo('pipe', get('pipe'), false) ? { pipe: true } : {}),
    };
    // What a project would refuse later is refused here, by its row.
    const checked = codeSchema.safeParse(row);
    if (checked.success) return row;
    const [issue] = checked.error.issues;
    throw new RowProblem(`${issue.path.join(' ')}: ${issue.message}`);
  } catch (error) {
    if (error instanceof RowProblem) return error.message;
    throw error;
  }
}

function oneOf<T extends string>(what: string, text: string, of: readonly T[]): T {
  const found = of.find((v) => v === text.toLowerCase());
  if (!found) throw new RowProblem(`${what} “${text.slice(0, 20)}” is none of ${of.join(', ')}`);
  return found;
}

function yesNo(what: string, text: string, otherwise: boolean): boolean {
  if (text === '') return otherwise;
  if (/^(yes|y|1|true)$/i.test(text)) return true;
  if (/^(no|n|0|false)$/i.test(text)) return false;
  throw new RowProblem(`${what} is yes or no, not “${text.slice(0, 20)}”`);
}

function numberOf(what: string, text: string, min: number, max: number): number | undefined {
  if (text === '') return undefined;
  const value = plainNumber(text.replace(',', '.'));
  if (Number.isNaN(value)) throw new RowProblem(`${what} “${text.slice(0, 20)}” is not a number`);
  if (!(value >= min && value <= max)) throw new RowProblem(`${what} “${text.slice(0, 20)}” is not between ${min} and ${max}`); // prettier-ignore
  return value;
}

function ownSymbol(text: string): Code['strokes'] {
  if (text === '') return undefined;
  const strokes = symbolOfText(text);
  if (!strokes) throw new RowProblem(`own symbol “${text.slice(0, 20)}” is not path data in a square from −1 to 1`);
  return strokes;
}

const turnOf = (text: string): number | undefined => {
  const degrees = numberOf('rotation', text, -360, 360);
  return degrees === undefined ? undefined : (degrees / 180) * Math.PI;
};

const listOf = <T>(text: string, read: (part: string) => T): T[] =>
  text
    .split(';')
    .map((p) => p.trim())
    .filter(Boolean)
    .map(read);

function attributeOf(text: string): CodeAttribute {
  const [named, type = 'text', choices = ''] = text.split(':');
  const name = named.replace(/!$/, '').trim().toLowerCase();
  if (!/^[^\s/"=]{1,30}$/.test(name))
    throw new RowProblem(`“${named.slice(0, 20)}” cannot be the name of an attribute`);
  const list = choices
    .split('|')
    .map((c) => c.trim())
    .filter(Boolean);
  return {
    name,
    type: oneOf('type of an attribute', type.trim(), ATTRIBUTE_TYPES),
    ...(list.length ? { choices: list } : {}),
    ...(named.trim().endsWith('!') ? { required: true } : {}),
  };
}

function offsetOf(text: string): CodeOffset {
  const [code = '', across = '', height = '0'] = text.split(/\s+/);
  const [a, h] = [numberOf('offset', across, -100, 100), numberOf('height of an offset', height, -100, 100)];
  if (!code || a === undefined || h === undefined) throw new RowProblem(`“${text.slice(0, 30)}” is not an offset: a code, metres to the right, metres up`); // prettier-ignore
  return { code: code.toUpperCase(), across: a, height: h };
}
