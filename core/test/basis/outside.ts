import { execFileSync } from 'node:child_process';
import { createRequire } from 'node:module';
import { makeSystem, systemByCode, type PublishedSystem, type RegistryEntry } from '#core/basis';

// What the tests of the basis ask of outside programs, and of the registry of systems.

export const list = Object.values(
  createRequire(import.meta.url)('epsg-index/all.json') as Record<string, RegistryEntry>,
);

export const system = (definition: string): PublishedSystem => {
  const made = makeSystem({ name: 'test', code: null, definition, area: null });
  if (!made.ok) throw new Error(made.reason);
  return made.system;
};
export const byCode = (code: string): PublishedSystem => {
  const made = systemByCode(list, code);
  if (!made.ok) throw new Error(made.reason);
  return made.system;
};

/** A repeatable stream in [0, 1). */
export function stream(seed: number): () => number {
  let s = seed;
  return () => (s = (s * 1103515245 + 12345) % 2147483648) / 2147483648;
}

/** PROJ's own answers: places lon/lat in degrees to a projected system. */
export function cs2cs(from: string, to: string, places: [number, number][]): [number, number][] {
  const out = execFileSync('cs2cs', ['-f', '%.6f', ...from.split(' '), '+to', ...to.split(' ')].filter(Boolean), {
    input: places.map((p) => p.join(' ')).join('\n') + '\n',
    encoding: 'utf8',
  });
  return out
    .trim()
    .split('\n')
    .map((l) => l.trim().split(/\s+/).slice(0, 2).map(Number) as [number, number]);
}
