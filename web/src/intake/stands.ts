import type { PublishedSystem } from '#core/basis';
import type { Intake } from '#core/project';
import { api } from '../frame/api.ts';
import type { Opened } from '../work/intake.worker.ts';
import type { FileBasis } from './standing.tsx';

/** The system that a file names, where it can be found and is not the project's; ellipsoidal heights where a heading says so. */
export async function claimedBasis(
  opened: Opened,
  project: { kind: string; code?: string | null },
): Promise<FileBasis> {
  const heights = opened.rows.slice(0, 6).some((r) => /ellips/i.test(r)) ? ('ellipsoidal' as const) : null;
  const code = /\b(\d{4,6})\b/.exec(opened.claims.system ?? '')?.[1];
  if (code && project.code !== `EPSG:${code}`) {
    const system = await api.system(code).catch(() => null);
    if (system) return { system, heights };
  }
  if (!opened.guess.layout.degrees) return { system: null, heights };
  return { system: await api.system('4326').catch((): PublishedSystem | null => null), heights };
}

/** The parts of an intake that say what its numbers are. */
export function standingOf(
  opened: Opened,
  { system, heights }: FileBasis,
  given: Intake['given'] | null,
): Pick<Intake, 'system' | 'heights' | 'given' | 'claims'> {
  const { claims } = opened;
  return {
    ...(system ? { system } : {}),
    ...(heights ? { heights } : {}),
    ...(given ? { given } : {}),
    ...(claims.unit || claims.system || claims.geoid ? { claims } : {}),
  };
}
