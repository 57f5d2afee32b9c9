import { createRequire } from 'node:module';
import { makeSystem, systemByCode, type PublishedSystem, type RegistryEntry } from '#core/basis';
import { CannotDo } from './problems.ts';

let list: RegistryEntry[] | null = null;
const registry = (): RegistryEntry[] =>
  (list ??= Object.values(createRequire(import.meta.url)('epsg-index/all.json') as Record<string, RegistryEntry>));

/** A system as the command line names it: `EPSG:28356`, `28356`, or a PROJ definition beginning with `+proj=`. */
export function systemNamed(text: string): PublishedSystem {
  const made = text.trim().startsWith('+')
    ? makeSystem({ name: text.slice(0, 100), code: null, definition: text, area: null })
    : systemByCode(registry(), text);
  if (!made.ok) throw new CannotDo(made.reason);
  return made.system;
}

/** The system that a file names by its code, or null when it names none that is known. */
export function systemClaimed(claim: string | null): PublishedSystem | null {
  const code = /\b(\d{4,6})\b/.exec(claim ?? '')?.[1];
  if (!code) return null;
  const made = systemByCode(registry(), code);
  return made.ok ? made.system : null;
}
