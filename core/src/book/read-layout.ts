import { withoutTail } from '#core/kernel';
import { BookBuilder } from './builder.ts';
import type { BookLayout, FieldPlace, LayoutField, LayoutKind, LayoutRole, RowRule } from './layout.ts';
import { eachRow, LONGEST_ROW } from './read-text.ts';
import type { Book } from './records.ts';

/** Fields of a row by their separator, quotes taken off; or the row itself where they stand in fixed columns. */
export interface RowFields {
  line: string;
  fields: string[];
  keys: ReadonlyMap<string, string> | null;
}

/** Parts a row as a layout says; keys are looked for only where something asks for them. */
export function partRow(line: string, layout: Pick<BookLayout, 'split' | 'separator'>, withKeys: boolean): RowFields {
  if (layout.split === 'fixed') return { line, fields: [], keys: null };
  const { separator } = layout;
  const fields =
    separator === ' '
      ? Array.from(line.matchAll(/[^\s"=]{1,60}="[^"]*"|"([^"]*)"|\S+/g), (m) => m[1] ?? m[0])
      : line.split(separator).map((f) => unquoted(f.trim()));
  return { line, fields, keys: withKeys ? keysOf(fields) : null };
}

const unquoted = (f: string): string => (f.length > 1 && f[0] === '"' && f.at(-1) === '"' ? f.slice(1, -1) : f);

function keysOf(fields: readonly string[]): Map<string, string> {
  const keys = new Map<string, string>();
  for (const f of fields) {
    const at = f.search(/[=:]/);
    if (at > 0) keys.set(f.slice(0, at).trim().toUpperCase(), unquoted(f.slice(at + 1).trim()));
  }
  return keys;
}

export function fieldAt(row: RowFields, place: FieldPlace): string {
  if ('column' in place) return row.fields[place.column] ?? '';
  if ('key' in place) return row.keys?.get(place.key.toUpperCase()) ?? '';
  return row.line.slice(place.from, place.to).trim();
}

/** Whether a layout looks for fields by their keys. */
export const usesKeys = (layout: BookLayout): boolean =>
  (layout.tag !== null && 'key' in layout.tag) || layout.rows.some((r) => r.fields.some((f) => 'key' in f.at));

/**
 * Reads a delimited table or tagged text as a field book, by a layout. The same checks as for the open text form
 * hold; rows that cannot be read are listed. Null when the caller stopped it.
 */
export function readByLayout(
  text: string,
  layout: BookLayout,
  onProgress?: (share: number) => boolean | void,
): Book | null {
  const reader = new LayoutReader(layout);
  const rows = eachRow(text, (line, row) => reader.read(line, row), onProgress);
  return rows === false ? null : reader.done(rows);
}

/** Roles that are named as the open text form names them. */
const KEYED = new Set<LayoutRole>(
  'hi th circle zenith dist hdist rise face round time target instrument ah sp sh fix method sats pdop hdop vdop base tilt warning reading t p h'.split(
    ' ',
  ) as LayoutRole[],
);
const ANGLES = new Set<LayoutRole>(['circle', 'zenith']);
const COUNTS = new Set<LayoutRole>(['face', 'round', 'sats', 'code', 'code2', 'time', 'text', 'number', 'station']);
const SIGHTINGS = new Set<LayoutKind>(['back', 'shot', 'check']);

class LayoutReader {
  private readonly builder = new BookBuilder();
  private readonly rules: Map<string, RowRule>;
  private readonly withKeys: boolean;
  /** Station and instrument height of the setup that is open. */
  private setup = '';
  private targetHeight = '';
  private sighted = 0;
  private last = { number: '', role: '' as LayoutKind };

  constructor(private readonly layout: BookLayout) {
    this.rules = new Map(layout.rows.map((r) => [r.tag.toUpperCase(), r]));
    this.withKeys = usesKeys(layout);
    if (layout.flat) this.builder.record('flat', { words: [layout.flat], keys: new Map(), rest: '' }, false);
    for (const word of ['unit', 'angle', 'vertical', 'order'] as const)
      this.builder.record(word, { words: [layout[word]], keys: new Map(), rest: '' }, false);
  }

  done(rows: number): Book {
    const book = this.builder.done(rows);
    // Such files have no end of their own; a row cut off in the middle is among the problems.
    return { ...book, complete: true };
  }

  read(line: string, row: number): void {
    if (row <= this.layout.skipRows || line.trim() === '') return;
    this.builder.at(row, line);
    if (line.length > LONGEST_ROW)
      return this.builder.refuse(`the row has ${line.length} characters; at most ${LONGEST_ROW} are read`);
    const parted = partRow(line, this.layout, this.withKeys);
    const tag = this.layout.tag ? fieldAt(parted, this.layout.tag) : '';
    const rule = this.rules.get(tag.toUpperCase()) ?? this.rules.get('');
    if (!rule) return this.builder.refuse(`“${tag.slice(0, 30)}” is not a type of row that the layout knows`);
    if (rule.kind === 'skip') return;
    const values = new Map<LayoutRole, string>();
    for (const field of rule.fields) {
      const value = this.value(field, fieldAt(parted, field.at));
      if (value !== '') values.set(field.role, value);
    }
    this.record(rule.kind, values, line);
  }

  private value({ role }: LayoutField, text: string): string {
    if (text === '') return '';
    if (ANGLES.has(role) && this.layout.angle === 'dms') return withDashes(text);
    if (this.layout.decimal === ',' && !COUNTS.has(role)) return text.replace(',', '.');
    return role === 'face' ? faceNumber(text) : text;
  }

  private record(kind: LayoutKind, values: Map<LayoutRole, string>, line: string): void {
    if (kind === 'target height') {
      this.targetHeight = values.get('th') ?? '';
      return;
    }
    if (kind === 'remark') {
      const rest = values.get('text') ?? line.trim();
      return this.builder.record('remark', { words: [], keys: new Map(), rest }, false);
    }
    const keys = new Map<string, string>();
    for (const [role, value] of values) if (KEYED.has(role)) keys.set(role, value);
    const code = [values.get('code'), values.get('code2')].filter(Boolean).join(' ');
    if (code) keys.set('code', code);
    if (kind === 'setup') return this.occupy(values.get('station') ?? values.get('number') ?? '', keys);
    if (SIGHTINGS.has(kind)) return this.sighting(kind, values, keys);
    const number = values.get('number') ?? values.get('station') ?? '';
    const words = [number];
    if (kind === 'gnss' || kind === 'point') words.push(...this.place(values));
    else if (kind === 'azimuth') words.push(values.get('circle') ?? '');
    const [word, role] = kind.split(' ');
    this.builder.record(word, { words: role ? [role, ...words] : words, keys, rest: '' }, false);
  }

  private place(values: ReadonlyMap<LayoutRole, string>): string[] {
    const [a, b] = this.layout.order === 'EN' ? (['x', 'y'] as const) : (['y', 'x'] as const);
    return [values.get(a) ?? '-', values.get(b) ?? '-', values.get('z') ?? '-'];
  }

  private occupy(station: string, keys: Map<string, string>): void {
    this.setup = `${station} ${keys.get('hi') ?? ''}`;
    this.sighted = 0;
    this.builder.record('setup', { words: [station], keys, rest: '' }, false);
  }

  /** A table that names the station in every row begins a setup where the station or its height changes. */
  private sighting(kind: LayoutKind, values: ReadonlyMap<LayoutRole, string>, keys: Map<string, string>): void {
    const station = values.get('station');
    if (station !== undefined) {
      const hi = keys.get('hi');
      if (this.setup !== `${station} ${hi ?? ''}`)
        this.builder.before(() => this.occupy(station, new Map(hi === undefined ? [] : [['hi', hi]])));
      keys.delete('hi');
    }
    if (!keys.has('th') && this.targetHeight) keys.set('th', this.targetHeight);
    const number = values.get('number') ?? '';
    const first = this.sighted++ === 0;
    // Both faces of the first target are backsights alike.
    const goesOn = this.last.role === 'back' && this.last.number === number && !first;
    const role = this.layout.backsight === 'first' && (first || goesOn) ? 'back' : kind;
    this.last = { number, role };
    this.builder.record(role, { words: [number], keys, rest: '' }, false);
  }
}

/** Whatever signs part degrees, minutes and seconds: the builder takes dashes. */
const withDashes = (text: string): string =>
  withoutTail(text.trim(), '″"sS')
    .trim()
    .split(/[°d:′'\s]+/i)
    .join('-')
    .replace(/-$/, '');

const faceNumber = (text: string): string =>
  /^(1|i|l|left|f1|true)$/i.test(text) ? '1' : /^(2|ii|r|right|f2|false)$/i.test(text) ? '2' : text;
