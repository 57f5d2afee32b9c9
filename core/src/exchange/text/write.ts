import { fromMetres, type LengthUnit } from '#core/measure';
import type { Role } from './layout.ts';

export interface PointRow {
  number: string;
  x: number;
  y: number;
  z: number;
  description: string;
}

export interface TextOutSettings {
  /** Columns in order, of P N E Z D. */
  order: Exclude<Role, '_'>[];
  decimals: number;
  unit: LengthUnit;
  separator: ',' | ';' | '\t';
  headings: boolean;
  /** Plan coordinates are degrees already, longitude as x and latitude as y; written to a tenth of a millimetre. */
  degrees?: boolean;
}

/** Decimals of a degree that resolve a tenth of a millimetre on the earth. */
export const DEGREE_DECIMALS = 9;

const HEADING: Record<Exclude<Role, '_'>, (unit: LengthUnit) => string> = {
  P: () => 'Number',
  N: (u) => `North [${u}]`,
  E: (u) => `East [${u}]`,
  Z: (u) => `Elevation [${u}]`,
  D: () => 'Description',
};

/** Writes points as delimited text; a missing elevation stays empty. Rows end with CR LF, as devices expect. */
export function writeText(points: Iterable<PointRow>, settings: TextOutSettings): string {
  const { order, decimals, unit, separator } = settings;
  const out: string[] = [];
  if (settings.headings)
    out.push(
      order
        .map((r) =>
          settings.degrees && r === 'E' ? 'Longitude' : settings.degrees && r === 'N' ? 'Latitude' : HEADING[r](unit),
        )
        .join(separator),
    );
  const value = (p: PointRow, role: Exclude<Role, '_'>): string => {
    if (role === 'P') return quoted(p.number, separator);
    if (role === 'D') return quoted(p.description, separator);
    if (settings.degrees && role !== 'Z') return (role === 'E' ? p.x : p.y).toFixed(DEGREE_DECIMALS);
    const metres = role === 'E' ? p.x : role === 'N' ? p.y : p.z;
    return Number.isNaN(metres) ? '' : fromMetres(metres, unit).toFixed(decimals);
  };
  for (const p of points) out.push(order.map((r) => value(p, r)).join(separator));
  return out.join('\r\n') + '\r\n';
}

const quoted = (text: string, separator: string): string => {
  const line = text.replace(/[\r\n]+/g, ' ');
  return line.includes(separator) || line.includes('"') ? `"${line.replaceAll('"', '""')}"` : line;
};
