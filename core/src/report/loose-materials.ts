import type { Comparison } from '#core/project';
import type { MaterialVolumes } from '#core/quantities';

/** A material of a cut with the factor that makes it loose: its own, or that of all cut. */
export interface LooseMaterial {
  name: string;
  /** m³, as it lies and loose. */
  cut: number;
  loose: number;
  factor: number;
  /** m² in plan of the cut that reaches it; null of what lies above the first. */
  area: number | null;
}

/** What lies above the first material, and every material, from above. */
export function looseMaterials(
  { materials = [], factors }: Pick<Comparison, 'materials' | 'factors'>,
  { above, materials: volumes }: MaterialVolumes,
): { above: LooseMaterial; materials: LooseMaterial[]; loose: number } {
  const general = factors?.cut ?? 1;
  const of = (name: string, cut: number, area: number | null, factor: number): LooseMaterial => ({ name, cut, area, factor, loose: cut * factor }); // prettier-ignore
  const first = of('above the first', above, null, general);
  const all = volumes.map((v, i) => of(v.name, v.cut, v.area, materials[i]?.factors?.cut ?? general));
  return { above: first, materials: all, loose: all.reduce((sum, m) => sum + m.loose, first.loose) };
}

/** m² of a cut on which a top is unknown by rounding alone. */
export const LEAST_UNKNOWN = 0.01;
