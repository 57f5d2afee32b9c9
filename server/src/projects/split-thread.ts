import type { Comparison } from '#core/project';
import type { SplitCause } from '#core/quantities';
import { packPieces, paintedSplit, unpackSurface } from '#core/stages';

// Laying two parties' surfaces over each other takes its time: it goes on a thread.

export interface SplitTask {
  comparison: Comparison;
  cause: SplitCause;
  /** Packed surfaces that it needs, and the names of all, by their ids. */
  triangles: Record<string, Uint8Array>;
  names: Record<string, string>;
}

/** Where one cause of the difference acts, packed; or why it cannot be told. */
export function splitPieces({
  comparison,
  cause,
  triangles,
  names,
}: SplitTask): { pieces: Uint8Array } | { reason: string } {
  const surfaces = Object.entries(triangles).map(([id, packed]) => ({ id, name: names[id] ?? id, surface: unpackSurface(packed) })); // prettier-ignore
  const painted = paintedSplit(comparison, surfaces, cause);
  return 'reason' in painted ? painted : { pieces: packPieces(painted) };
}
