import { cutByMaterial, type DifferencePieces, type MaterialBed, type MaterialVolumes } from '#core/quantities';
import type { Comparison } from '#core/project';
import type { Surface } from '#core/terrain';
import type { BuiltSurface } from '../surface/build.ts';

/** The cut of a comparison by materials. Depths count from the ground as surveyed, above the topsoil that goes first. */
export function materialsOf(
  { strip = 0 }: Comparison,
  materials: NonNullable<Comparison['materials']>,
  of: { ground: Surface; pieces: DifferencePieces | null },
  surfaces: readonly BuiltSurface[],
): MaterialVolumes | { reason: string } {
  if (!of.pieces) return { reason: 'The cut has too many pieces to be told by materials: choose a smaller boundary.' };
  const beds: MaterialBed[] = [];
  for (const { name, top } of materials) {
    if ('depth' in top) beds.push({ name, top: { depth: Math.max(0, top.depth - strip) } });
    else {
      const built = surfaces.find((s) => s.id === top.surface);
      if (!built) return { reason: `The surface at the top of “${name}” is no longer in the project.` };
      if (built.surface.triangles.length === 0) return { reason: `The surface “${built.name}”, the top of “${name}”, has no triangles yet.` }; // prettier-ignore
      beds.push({ name, top: { surface: built.surface } });
    }
  }
  return cutByMaterial(of.pieces, of.ground, beds);
}
