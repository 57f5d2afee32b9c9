import { before } from '#core/kernel';
import type { BookLayout, FieldPlace, LayoutField, LayoutKind, LayoutRole, RowRule } from './layout.ts';
import { fieldAt, partRow } from './read-layout.ts';

// What a sample of a table or of tagged text says of itself: headings, keys, the shape of its numbers. It is a
// proposal: the person sees it beside the rows, and says what each is.

/** Headings and keys as the trade writes them, in the order in which they are tried. */
const NAMED: [LayoutRole, RegExp][] = [
  ['hi', /^(hi|ih|i\.?h\.?|instr(ument)?[ _.-]*(h|height|ht).*)$/],
  ['th', /^(th|ht|t\.?h\.?|hr|rh|(target|reflector|prism|rod|pole)[ _.-]*(h|height|ht).*)$/],
  ['ah', /^(ah|antenna.*)$/],
  ['hdist', /^(hd|hor(iz(ontal)?)?[ _.-]*dist.*)$/],
  ['rise', /^(vd|dh|dz|rise|(height|vertical)[ _.-]*(diff|dist).*)$/],
  ['dist', /^(sd|s|d|slope.*|dist.*|range)$/],
  ['zenith', /^(v|va|vz|za|zd|ze|zen.*|vert.*|elevation angle)$/],
  ['circle', /^(h|ha|hz|hc|hor.*|circle|dir.*|azimuth|bearing)$/],
  ['sp', /^(sp|(sd|sigma|precision|rms|hrms|accuracy)[ _.-]*(h|hor.*|plan|2d|xy)?|hrms)$/],
  ['sh', /^(sh|vrms|(sd|sigma|precision|rms|accuracy)[ _.-]*(v|vert.*|height|z))$/],
  ['pdop', /^pdop$/],
  ['hdop', /^hdop$/],
  ['vdop', /^vdop$/],
  ['sats', /^(sats?|satellites|nsat|sv)$/],
  ['fix', /^(fix|solution|status)$/],
  ['method', /^(method|mode)$/],
  ['station', /^(station|setup|stn|occupied|at|from|standpoint)$/],
  ['number', /^(p|pt|pn|no|nr|num|number|point.*|target|to|name|id)$/],
  ['face', /^(face|f)$/],
  ['round', /^(round|set|r)$/],
  ['code', /^(code|c|cd|desc.*|feature)$/],
  ['time', /^(time|date.*|timestamp)$/],
  ['x', /^(x|e|east.*)$/],
  ['y', /^(y|n|north.*)$/],
  ['z', /^(z|elev.*|height|level)$/],
  ['reading', /^(reading|staff)$/],
  ['t', /^(temp.*)$/],
  ['p', /^(press.*|pressure)$/],
  ['text', /^(text|note|remark.*|comment.*)$/],
];

/** The role that a heading or a key names, or null. */
export function roleNamed(name: string): LayoutRole | null {
  const plain = before(name.toLowerCase(), '[(').trim();
  return NAMED.find(([, pattern]) => pattern.test(plain))?.[0] ?? null;
}

const KIND_NAMED: [LayoutKind, RegExp][] = [
  ['setup', /^(st|stn|station|setup|occ?|stand)/i],
  ['back', /^(b|bs|bk|back|ori)/i],
  ['check', /^(ch|ck|check)/i],
  ['target height', /^(th|hr|rod)$/i],
  ['gnss', /^(g|gn|gnss|gp|sat)/i],
  ['weather', /^(w|weather|atm|air)/i],
  ['remark', /^(n|note|r|rem|c|com|text)$/i],
  ['point', /^(p|pt|co|cp|xyz|point|coord)/i],
  ['shot', /^(s|ss|ob|obs|m|meas|shot|t|d|sd|sight)/i],
];

export const kindNamed = (tag: string): LayoutKind =>
  KIND_NAMED.find(([, pattern]) => pattern.test(tag.trim()))?.[0] ?? 'skip';

export interface GuessedBookLayout {
  layout: BookLayout;
  /** Whether the sample looks like readings at all. */
  likely: boolean;
  /** Types of rows as they come, with how often and the first of each. */
  tags: { tag: string; count: number; sample: string }[];
}

const SEPARATORS = ['\t', ';', '|', ','] as const;

export function guessBookLayout(sample: readonly string[]): GuessedBookLayout {
  const rows = sample.filter((r) => r.trim() !== '').slice(0, 400);
  const separator = separatorOf(rows);
  const layout: BookLayout = {
    split: 'separator',
    separator,
    decimal: rows.some((r) => /\d,\d/.test(r)) && separator !== ',' && !rows.some((r) => /\d\.\d/.test(r)) ? ',' : '.',
    skipRows: 0,
    unit: 'm',
    angle: 'dms',
    vertical: 'zenith',
    order: 'EN',
    tag: null,
    rows: [],
    backsight: 'said',
  };
  const headings = headingsOf(sample, layout);
  if (headings) byHeadings(layout, headings, rows);
  else byTags(layout, rows);
  Object.assign(layout, { angle: angleForm(layout, rows) });
  const said = unitSaid(sample);
  if (said) layout.unit = said;
  const roles = new Set(layout.rows.flatMap((r) => r.fields.map((f) => f.role)));
  const likely = (roles.has('circle') || roles.has('zenith')) && (roles.has('dist') || roles.has('hdist'));
  return { layout, likely, tags: tagsOf(rows.slice(headings ? 1 : 0), layout) };
}

/** A unit that the text states in words of its own, in a header row or a remark; null where it does not. */
export function unitSaid(sample: readonly string[]): BookLayout['unit'] | null {
  const near = /\b(units?|lengths?|distances?|linear|coordinates?)\b/i;
  for (const line of sample.slice(0, 60)) {
    if (!near.test(line)) continue;
    if (
      /\b(us|u\.s\.)[\s_-]{0,3}(survey[\s_-]{0,3})?(feet|foot|ft)\b|\busft\b|\bsurvey[\s_-]{0,3}(feet|foot|ft)\b/i.test(
        line,
      )
    )
      return 'usft';
    if (/\b(international[\s_-]*)?(feet|foot|ft)\b/i.test(line)) return 'ft';
    if (/\b(millimet(er|re)s?|mm)\b/i.test(line)) return 'mm';
    if (/\b(met(er|re)s?|m)\b/i.test(line)) return 'm';
  }
  return null;
}

/** Types of rows by their tag, in the order met. */
export function tagsOf(rows: readonly string[], layout: BookLayout): GuessedBookLayout['tags'] {
  const out = new Map<string, { tag: string; count: number; sample: string }>();
  const { tag: place } = layout;
  if (!place) return [];
  for (const line of rows) {
    if (line.trim() === '') continue;
    const tag = fieldAt(partRow(line, layout, 'key' in place), place);
    const seen = out.get(tag.toUpperCase());
    if (seen) seen.count++;
    else if (out.size < 60) out.set(tag.toUpperCase(), { tag: tag.slice(0, 30), count: 1, sample: line.slice(0, 400) });
  }
  return [...out.values()];
}

function separatorOf(rows: readonly string[]): BookLayout['separator'] {
  let best: BookLayout['separator'] = ' ';
  let most = 0;
  for (const s of SEPARATORS) {
    const counts = rows.map((r) => r.split(s).length - 1);
    const steady = counts.filter((c) => c >= 1).length;
    // A separator stands in nearly every row.
    if (steady > rows.length * 0.8 && steady > most) [best, most] = [s, steady];
  }
  return best;
}

/** The first row that names a circle and a distance, or at least three fields, in words. */
function headingsOf(sample: readonly string[], layout: BookLayout): { at: number; names: string[] } | null {
  for (let at = 0; at < Math.min(10, sample.length); at++) {
    const names = partRow(sample[at], layout, false).fields;
    if (names.some((n) => /^[+-]?\d+([.,]\d+)?$/.test(n))) continue;
    const roles = names.map(roleNamed).filter((r) => r !== null);
    if (new Set(roles).size >= 3 && names.every((n) => !n.includes('='))) return { at, names };
  }
  return null;
}

function byHeadings(layout: BookLayout, { at, names }: { at: number; names: string[] }, rows: readonly string[]): void {
  layout.skipRows = at + 1;
  const fields: LayoutField[] = [];
  names.forEach((name, column) => {
    const role = roleNamed(name);
    if (role && !fields.some((f) => f.role === role)) fields.push({ role, at: { column } });
    if (/^(type|record|kind|what|role)$/i.test(name.trim())) layout.tag = { column };
    const unit = /[[(]\s*(m|ft|usft|gon|deg|dms)\s*[\])]/i.exec(name)?.[1]?.toLowerCase();
    if (unit === 'm' || unit === 'ft' || unit === 'usft') layout.unit = unit;
  });
  const bare = names.findIndex((n) => /^(height|ht)$/.test(before(n.toLowerCase(), '[(').trim()));
  const rule = (tag: string, kind: LayoutKind): RowRule => ({ tag, kind, fields: withHeight(fields, bare, kind) });
  if (!layout.tag) {
    layout.rows = [rule('', 'shot')];
    layout.backsight = 'first';
    return;
  }
  layout.rows = tagsOf(rows.slice(1), layout).map(({ tag }) => rule(tag, kindNamed(tag)));
}

/** Whose height a column called height alone holds: the instrument’s in a setup, the target’s in a sighting; else an elevation. */
function withHeight(fields: readonly LayoutField[], column: number, kind: LayoutKind): LayoutField[] {
  const role = kind === 'setup' ? 'hi' : kind === 'back' || kind === 'check' || kind === 'shot' ? 'th' : null;
  const sighted = fields.some((f) => f.role === 'circle' || f.role === 'zenith');
  if (column < 0 || role === null || !sighted || fields.some((f) => f.role === role)) return [...fields];
  return [...fields.filter((f) => !isIn(f, column)), { role, at: { column } }];
}

const isIn = ({ at }: LayoutField, column: number): boolean => 'column' in at && at.column === column;

/** Each row begins with its type: fields by keys where it holds them, by place else. */
function byTags(layout: BookLayout, rows: readonly string[]): void {
  const firsts = rows.map((r) => partRow(r, layout, false).fields[0] ?? '');
  const distinct = new Set(firsts.map((f) => f.toUpperCase()));
  const words = firsts.filter((f) => /^[A-Za-z_]/.test(f) || /^\d{1,2}$/.test(f)).length;
  if (words < rows.length * 0.75 || distinct.size > Math.max(8, rows.length / 2) || distinct.size > 40) return;
  layout.tag = { column: 0 };
  layout.rows = tagsOf(rows, layout).map(({ tag, sample }): RowRule => {
    const kind = kindNamed(tag);
    return { tag, kind, fields: fieldsOf(sample, layout) };
  });
}

function fieldsOf(sample: string, layout: BookLayout): LayoutField[] {
  const { fields } = partRow(sample, layout, false);
  const out: LayoutField[] = [];
  fields.forEach((f, column) => {
    if (column === 0) return;
    const key = /^([A-Za-z][A-Za-z0-9_ ]{0,20})\s*[=:]/.exec(f)?.[1];
    const role = key ? roleNamed(key) : column === 1 && !key ? 'number' : null;
    if (role && !out.some((o) => o.role === role)) out.push({ role, at: key ? { key } : { column } });
  });
  return out;
}

/** How angles look: signs or dashes; beyond 360 or around 100 they are gon; never sixty behind the point, packed. */
function angleForm(layout: BookLayout, rows: readonly string[]): BookLayout['angle'] {
  const of = (role: LayoutRole): string[] =>
    rows.slice(layout.skipRows).flatMap((line) => {
      const tag = layout.tag ? fieldAt(partRow(line, layout, true), layout.tag) : '';
      const rule = layout.rows.find((r) => r.tag.toUpperCase() === tag.toUpperCase()) ?? layout.rows[0];
      const at: FieldPlace | undefined = rule?.fields.find((f) => f.role === role)?.at;
      const text = at ? fieldAt(partRow(line, layout, true), at) : '';
      return text === '' ? [] : [text];
    });
  const texts = [...of('circle'), ...of('zenith')];
  if (texts.some((t) => /\d\s*[-°:]\s*\d/.test(t))) return 'dms';
  const numbers = texts.map((t) => Number(t.replace(',', '.'))).filter(Number.isFinite);
  if (numbers.length === 0) return 'dms';
  if (numbers.some((v) => v > 360)) return 'gon';
  const zeniths = of('zenith').map((t) => Number(t.replace(',', '.')));
  const middle = zeniths.sort((a, b) => a - b)[zeniths.length >> 1];
  if (middle > 97 && middle < 103) return 'gon';
  const sixty = numbers.some((v) => {
    const digits = Math.round(v * 10_000);
    return Math.floor(digits / 100) % 100 >= 60 || digits % 100 >= 60;
  });
  return !sixty && numbers.length >= 20 ? 'packed' : 'deg';
}
