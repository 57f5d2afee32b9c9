import { asDrawing, partOfDrawing } from '#core/exchange';
import type { FileUnit } from '#core/measure';
import { CannotDo } from './problems.ts';
import type { Loaded } from './load.ts';

type LoadedDrawing = Extract<Loaded, { kind: 'dxf' }>;

/** A file as a drawing, by layers and kinds; null of points in rows, and of longitude and latitude. */
export function loadedDrawing(loaded: Loaded): LoadedDrawing | null {
  const drawing = loaded.kind === 'points' ? null : asDrawing(loaded);
  return drawing && { ...drawing, file: loaded.file };
}

/** What of a drawing is on some layers; of other files all of it. A layer that the drawing has not is refused, with those it has. */
export function onLayers(whole: Loaded, wanted: string | undefined): Loaded {
  if (wanted === undefined || whole.kind === 'points') return whole;
  const loaded = whole.kind === 'landxml' ? loadedDrawing(whole)! : whole;
  const names = wanted.split(',').map((l) => l.trim()).filter(Boolean); // prettier-ignore
  if (loaded.kind === 'dxf') {
    const { content } = loaded;
    const there = Object.keys(content.layers);
    needAll(loaded.file, names, there);
    const on = (of: { layer: string }): boolean => names.some((n) => n.toUpperCase() === of.layer.toUpperCase());
    return {
      ...loaded,
      surfaces: [],
      content: {
        ...content,
        points: content.points.filter(on),
        polylines: content.polylines.filter(on),
        curves: content.curves.filter(on),
        hatches: content.hatches.filter(on),
        faces: content.faces.filter(on),
        inserts: content.inserts.filter(on),
        texts: content.texts.filter(on),
      },
    };
  }
  const layerOf = ({ properties }: { properties: Record<string, unknown> }): string => String(properties.layer ?? '');
  const { content } = loaded;
  needAll(loaded.file, names, [...new Set([...content.points, ...content.lines].map(layerOf).filter(Boolean))]);
  const on = (of: { properties: Record<string, unknown> }): boolean => names.some((n) => n.toUpperCase() === layerOf(of).toUpperCase()); // prettier-ignore
  return { ...loaded, content: { ...content, points: content.points.filter(on), lines: content.lines.filter(on) } };
}

/** What of a drawing is of some kinds, as its table names them, on what is left of its layers: symbols and texts that are elevations as points, areas as their rims. */
export function ofKinds(whole: Loaded, wanted: string | undefined, unit?: FileUnit): Loaded {
  if (wanted === undefined) return whole;
  const loaded = loadedDrawing(whole);
  if (!loaded) throw new CannotDo(`${whole.file} is no drawing: --kind chooses among the kinds of things of a DXF, LandXML or GeoJSON.`); // prettier-ignore
  const names = wanted.split(',').map((k) => k.trim().toUpperCase()).filter(Boolean); // prettier-ignore
  const { rows } = partOfDrawing(loaded, {}).table;
  const there = [...new Set(rows.filter((r) => r.read).map((r) => r.kind))];
  const missing = names.filter((n) => !there.some((k) => k.toUpperCase() === n));
  if (missing.length) throw new CannotDo(`${loaded.file} has no ${missing.join(', ')}. It has ${there.join(', ')}.`);
  const taken = rows.filter((r) => names.includes(r.kind.toUpperCase())).map(({ layer, kind }) => ({ layer, kind }));
  return { ...loaded, ...partOfDrawing(loaded, { taken, ...(unit ? { unit } : {}) }).file, surfaces: [] };
}

function needAll(file: string, names: readonly string[], there: readonly string[]): void {
  const has = new Set(there.map((l) => l.toUpperCase()));
  const missing = names.filter((n) => !has.has(n.toUpperCase()));
  if (missing.length === 0) return;
  const list = there.length
    ? `It has ${there.slice(0, 20).join(', ')}${there.length > 20 ? ' …' : ''}.`
    : 'It has none.';
  throw new CannotDo(`${file} has no layer ${missing.join(', ')}. ${list}`);
}
