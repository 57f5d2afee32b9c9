import type { Code } from './code.ts';

/** As many letters as a layer may have. */
const LAYER_LENGTH = 31;

/** How a code is drawn and what it is in the ground: what the codes of one group have in common. */
export type Drawn = Pick<Code, 'kind' | 'layer' | 'pointLayer' | 'ink' | 'symbol' | 'style' | 'breakline' | 'ground' | 'scale'>; // prettier-ignore

/**
 * How a new code of a group is drawn: as most codes of the group are, of the kind that most of them are where `kind` is
 * null. Where each has a layer of its own, the new one gets one by its name. Null of a group that has no codes yet.
 */
export function drawnLikeGroup(
  group: string,
  kind: Code['kind'] | null,
  { code, name }: Pick<Code, 'code' | 'name'>,
  codes: readonly Code[],
): Drawn | null {
  const same = (a: string, b: string): boolean => a.trim().toUpperCase() === b.trim().toUpperCase();
  const all = codes.filter((c) => c.code !== code && same(c.group ?? '', group));
  if (group.trim() === '' || all.length === 0) return null;
  const what = kind ?? most(all.map((c) => c.kind));
  const alike = all.filter((c) => c.kind === what);
  // A group of points alone says no more of a line than its ink.
  const from = alike.length ? alike : all;
  const shared = sharedLayer(from.map((c) => c.layer));
  return {
    kind: what,
    layer: shared ?? [name, code, group].map(layerByName).find(Boolean) ?? 'POINTS',
    ...part('pointLayer', sharedLayer(from.flatMap((c) => (c.pointLayer ? [c.pointLayer] : [])))),
    ink: most(from.map((c) => c.ink)),
    symbol: most(from.map((c) => c.symbol)),
    style: most(from.map((c) => c.style)),
    breakline: what === 'line' && most(from.map((c) => c.breakline)),
    ground: most(from.map((c) => c.ground)),
    ...part('scale', most(from.map((c) => c.scale))),
  };
}

const part = <K extends string, V>(key: K, value: V | null | undefined): Partial<Record<K, V>> =>
  value === null || value === undefined ? {} : ({ [key]: value } as Partial<Record<K, V>>);

/** The value that comes most often; of those alike, the first. */
function most<T>(values: readonly T[]): T {
  const counts = new Map<T, number>();
  for (const v of values) counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].reduce((a, b) => (b[1] > a[1] ? b : a))[0];
}

/** A layer that several codes share, or the only one there is of several codes. */
function sharedLayer(layers: readonly string[]): string | null {
  if (layers.length === 0) return null;
  const layer = most(layers);
  return layers.filter((l) => l === layer).length > 1 ? layer : null;
}

const layerByName = (name: string): string =>
  name
    .toUpperCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-/, '')
    .slice(0, LAYER_LENGTH)
    .replace(/-$/, '');
