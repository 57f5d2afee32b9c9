import type { AngleForm, FileUnit } from '#core/measure';

/** Which kind of record a row is, as a layout says it; `skip` rows are skipped. */
export const LAYOUT_KINDS = [
  'setup',
  'back',
  'shot',
  'check',
  'gnss',
  'point',
  'azimuth',
  'weather',
  'level back',
  'level inter',
  'level fore',
  'target height',
  'remark',
  'skip',
] as const;
export type LayoutKind = (typeof LAYOUT_KINDS)[number];

/** What a field of a row can be. */
export const LAYOUT_ROLES = [
  'number',
  'station',
  'hi',
  'th',
  'circle',
  'zenith',
  'dist',
  'hdist',
  'rise',
  'face',
  'round',
  'code',
  'code2',
  'time',
  'target',
  'instrument',
  'x',
  'y',
  'z',
  'ah',
  'sp',
  'sh',
  'fix',
  'method',
  'sats',
  'pdop',
  'hdop',
  'vdop',
  'base',
  'tilt',
  'warning',
  'reading',
  't',
  'p',
  'h',
  'text',
] as const;
export type LayoutRole = (typeof LAYOUT_ROLES)[number];

export const LAYOUT_ROLE_NAME: Record<LayoutRole, string> = {
  number: 'number',
  station: 'station',
  hi: 'instrument height',
  th: 'target height',
  circle: 'circle',
  zenith: 'vertical angle',
  dist: 'slope distance',
  hdist: 'horizontal distance',
  rise: 'height difference',
  face: 'face',
  round: 'round',
  code: 'code',
  code2: 'more of the code',
  time: 'time',
  target: 'target name',
  instrument: 'instrument name',
  x: 'east',
  y: 'north',
  z: 'elevation',
  ah: 'antenna height',
  sp: 'precision in plan',
  sh: 'precision in height',
  fix: 'solution',
  method: 'method',
  sats: 'satellites',
  pdop: 'PDOP',
  hdop: 'HDOP',
  vdop: 'VDOP',
  base: 'base',
  tilt: 'tilt',
  warning: 'warning',
  reading: 'staff reading',
  t: 'temperature °C',
  p: 'pressure hPa',
  h: 'humidity %',
  text: 'text',
};

/** Where a field stands: in a column (from 0), behind a key, or between two characters of the row (from 0, to excluded). */
export type FieldPlace = { column: number } | { key: string } | { from: number; to: number };

export interface LayoutField {
  role: LayoutRole;
  at: FieldPlace;
}

/** One kind of row: how it is known, what it becomes, where its fields stand. */
export interface RowRule {
  /** What its type field holds; empty for every row that no other rule knows. */
  tag: string;
  kind: LayoutKind;
  fields: LayoutField[];
}

/** How rows of a table, or of tagged text, become records of a book. */
export interface BookLayout {
  /** Fields stand apart at a separator, or in fixed columns. */
  split: 'separator' | 'fixed';
  separator: ',' | ';' | '\t' | '|' | ' ';
  decimal: '.' | ',';
  skipRows: number;
  unit: FileUnit;
  angle: AngleForm | 'packed';
  vertical: 'zenith' | 'elevation';
  order: 'EN' | 'NE';
  /** Whether level distances and rises have curvature and refraction applied already; absent: nobody says. */
  flat?: 'geometric' | 'reduced';
  /** Where a row says of which type it is; null when all are of one. */
  tag: FieldPlace | null;
  rows: RowRule[];
  /** Which sighting of a setup is its backsight where no row says so. */
  backsight: 'said' | 'first';
  /** The sheet of a spreadsheet by its name; absent: the first. */
  sheet?: string;
}

/** Why a layout cannot be used as it stands, or null. */
export function bookLayoutProblem(layout: BookLayout): string | null {
  const used = layout.rows.filter((r) => r.kind !== 'skip');
  if (used.length === 0) return 'No row becomes a record. Say what at least one type of row is.';
  if (layout.tag === null && used.length > 1)
    return 'Rows of several types are known by a type field. Say where it is.';
  for (const rule of used) {
    const has = (role: LayoutRole): boolean => rule.fields.some((f) => f.role === role);
    const name = rule.tag === '' ? 'Every row' : `A row “${rule.tag}”`;
    if (['back', 'shot', 'check'].includes(rule.kind) && !has('circle') && !has('dist') && !has('hdist'))
      return `${name} is a sighting, but neither a circle nor a distance is among its fields.`;
    if ((rule.kind === 'gnss' || rule.kind === 'point') && !(has('x') && has('y')))
      return `${name} is a position, but east and north are not both among its fields.`;
    if (rule.kind === 'setup' && !has('station') && !has('number'))
      return `${name} is a setup, but its station is not among its fields.`;
    if (rule.kind === 'target height' && !has('th')) return `${name} sets a target height, but does not hold one.`;
    const roles = rule.fields.map((f) => f.role);
    const twice = roles.find((r, i) => roles.indexOf(r) !== i);
    if (twice) return `${name} takes ${LAYOUT_ROLE_NAME[twice]} from two places. Keep one.`;
  }
  return null;
}
