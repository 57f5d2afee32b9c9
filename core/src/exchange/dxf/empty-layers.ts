import type { DxfFacts } from './read.ts';

/** Layers that a drawing has and that hold nothing: the first of them by name, and how many there are. */
export interface EmptyLayers {
  names: string[];
  count: number;
}

const MOST_NAMED = 200;

/** Layers of its table on which nothing stands, in no block and on no sheet either; every drawing has layer 0, so that one is no news. */
export function emptyLayers({
  layerStates,
  layersElsewhere,
  layers,
}: Pick<DxfFacts, 'layerStates' | 'layersElsewhere' | 'layers'>): EmptyLayers {
  const used = new Set(Object.keys(layers).map((name) => name.toUpperCase()));
  const names: string[] = [];
  for (const [key, { name }] of layerStates)
    if (key !== '0' && !used.has(key) && !layersElsewhere.has(key)) names.push(name);
  names.sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
  return { names: names.slice(0, MOST_NAMED), count: names.length };
}
