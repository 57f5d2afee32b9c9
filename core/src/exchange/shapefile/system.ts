import type { FileUnit } from '#core/measure';

/** What a .prj says (OGC 01-009, well-known text): longitude and latitude or plane, its unit, its name or code. */
export interface SaidSystem {
  degrees: boolean;
  unit: FileUnit | null;
  name: string | null;
}

const UNITS: [factor: number, unit: FileUnit][] = [[1, 'm'], [0.3048, 'ft'], [1200 / 3937, 'usft'], [0.01, 'cm'], [0.001, 'mm']]; // prettier-ignore

export function systemSaid(prj: string | null): SaidSystem {
  const text = prj?.trim() ?? '';
  const named = /^(PROJCS|GEOGCS|LOCAL_CS|COMPD_CS)\s*\[\s*"([^"]{0,200})"/i.exec(text);
  if (!named) return { degrees: false, unit: null, name: null };
  const [, kind, name] = named;
  const code = /AUTHORITY\s*\[\s*"EPSG"\s*,\s*"?(\d{4,6})"?\s*\]\s*\]\s*$/i.exec(text)?.[1];
  const factors = [...text.matchAll(/UNIT\s*\[\s*"[^"]{0,60}"\s*,\s*([\d.eE+-]{1,30})/gi)].map((m) => Number(m[1]));
  const factor = factors[factors.length - 1] ?? NaN;
  return {
    degrees: kind.toUpperCase() === 'GEOGCS',
    unit: UNITS.find(([f]) => Math.abs(f / factor - 1) < 1e-8)?.[1] ?? null,
    name: code ? `EPSG:${code}` : name.replaceAll('_', ' ').trim() || null,
  };
}
