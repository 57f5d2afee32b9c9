import { before } from '#core/kernel';
import type { FileUnit } from '#core/measure';
import type { Role } from './layout.ts';

// Headings as surveyors of several countries write them: English, German, French, Spanish, Portuguese, Dutch, Danish,
// Norwegian, Swedish, Finnish (from memory; common practice). Compared without accents and case.

const WORDS: Record<Exclude<Role, '_'>, string> = {
  P: 'p pt pnt pkt point punkt punkte punt ponto punto piste nr no num number nummer numero numer id name nom naam nome nombre matricule pid pointid pointnumber pointno pointname ptid ptno punktnummer punktnr pktnr punktname puntnummer puntnr numeropoint numerodupoint pistenumero pistenro numerodepunto numerodoponto',
  E: 'e x east easting aust eastings est este leste oost ost oest ostwert rechtswert ostra oster itakoordinaatti ita xkoordinate xkoordinat coordx coordenadax lon long longitude',
  N: 'n y north northing northings nord norte noord norr nordwert hochwert pohjoinen pohjoiskoordinaatti ykoordinate ykoordinat coordy coordenaday lat latitude',
  Z: 'z h el elev elevation height level hohe hoehe hoyde hoejde hojde hojd hoogte cota kote kota altitude alt altura altitud elevacion elevacao korkeus hae zkoordinate zkoordinat coordz rl ortho orthometric ellips ellipsoidal',
  L: 'line lineno linenr linenumber linename lineid linie linje',
  W: 'word words lineword linewords',
  S: 's sd sigma stddev stdev standarddeviation precision prec genauigkeit standardabweichung mfehler',
  D: 'd desc description descr code codes kode kod koodi codigo cod remark remarks note notes feature bemerkung beschreibung anmerkung libelle descripcion descricao observaciones observacoes omschrijving opmerking beskrivelse beskrivning anmarkning anmaerkning selite bezeichnung',
};
const ROLE_OF = new Map(Object.entries(WORDS).flatMap(([role, words]) => words.split(' ').map((w) => [w, role as Role]))); // prettier-ignore

/** Small letters without accents: Höhe and hohe are one, as are høyde and hoyde. */
const folded = (text: string): string =>
  text
    .toLowerCase()
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replaceAll('ø', 'o')
    .replaceAll('æ', 'ae')
    .replaceAll('ß', 'ss');

/** What stands in brackets is a unit or a remark. */
const withoutBrackets = (text: string): string => before(text, '[(');

function roleOf(field: string): Role {
  const words = folded(withoutBrackets(field)).split(/[^a-z]+/).filter(Boolean); // prettier-ignore
  if (words.length === 0) return '_';
  const whole = ROLE_OF.get(words.join(''));
  if (whole) return whole;
  // `North grid` is north; `Point code` is no point's number.
  const first = ROLE_OF.get(words[0]);
  return first && 'ENZD'.includes(first) ? first : '_';
}

/** Roles that headings name, where they name east and north once each; null otherwise. */
export function headingRoles(fields: readonly string[], width: number): Role[] | null {
  const roles = fields.slice(0, width).map(roleOf);
  while (roles.length < width) roles.push(roles.at(-1) === 'D' ? 'D' : '_');
  const once = (r: Role): boolean => roles.filter((q) => q === r).length === 1;
  return once('E') && once('N') ? roles : null;
}

const UNITS: Record<FileUnit, string[]> = {
  m: ['m', 'metres', 'meters', 'metre', 'meter', 'metros', 'metri', 'mtr'],
  ft: ['ft', 'feet', 'foot', 'international feet'],
  usft: ['us ft', 'usft', 'ftus', 'us feet', 'us foot', 'us survey ft', 'us survey feet', 'us survey foot', 'ussurveyfeet', 'survey feet'], // prettier-ignore
  mm: ['mm', 'millimetres', 'millimeters', 'millimeter'],
  cm: ['cm', 'centimetres', 'centimeters', 'centimeter'],
  in: ['inches', 'inch'],
};
const UNIT_OF = new Map(Object.entries(UNITS).flatMap(([unit, words]) => words.map((w) => [w, unit as FileUnit])));

/** The unit that headings name, in brackets, behind the name or in a row of their own; null where none does or they do not agree. */
export function unitFromHeadings(fields: readonly string[]): FileUnit | null {
  const named = new Set(fields.map((f) => unitOfHeading(f)).filter((u) => u !== null));
  return named.size === 1 ? [...named][0] : null;
}

function unitOfHeading(field: string): FileUnit | null {
  const text = folded(field).trim().slice(0, 200);
  const open = text.search(/[[(]/);
  const inside = open < 0 ? '' : before(text.slice(open + 1), '])');
  const words = text.split(/[^a-z0-9]+/).filter(Boolean);
  const behind = [3, 2, 1].map((n) => words.slice(-n).join(' '));
  for (const said of [inside.replace(/[^a-z]+/g, ' ').trim(), text, ...(words.length > 1 ? behind : [])]) {
    const unit = UNIT_OF.get(said);
    if (unit) return unit;
  }
  return null;
}
