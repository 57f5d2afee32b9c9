import type { FileContent } from '../content.ts';
import { drawingFrom, polylineOf } from '../drawing-from.ts';
import type { DxfPoint, DxfPolyline } from '../dxf/content.ts';

/** Properties that say on which layer something is; the first that is there. */
const LAYER = ['layer', 'code', 'type', 'kind', 'class'];
const UNNAMED = 'UNNAMED';
const LONGEST_LAYER = 120;

/** GeoJSON in lengths as a drawing: its geometries are its kinds. */
export function drawingOfGeoJson({
  content,
  unit,
}: Extract<FileContent, { kind: 'geojson' }>): Extract<FileContent, { kind: 'dxf' }> {
  // prettier-ignore
  const points = content.points.map(({ x, y, z, properties }): DxfPoint => ({ layer: layerOf(properties) ?? 'POINTS', kind: 'Point', x, y, z, number: textOf(properties.number), description: textOf(properties.description) })); // prettier-ignore
  const lines = content.lines.map(({ closed, coordinates, properties }): DxfPolyline => {
    const [x, y, z] = [0, 1, 2].map((k) => coordinates.map((c) => c[k] ?? NaN));
    return polylineOf(layerOf(properties) ?? UNNAMED, closed ? 'Polygon' : 'LineString', closed, x, y, z);
  });
  const problems = content.problems.map(({ where, why }) => ({ line: 0, what: `${where}: ${why}` }));
  const said = { encoding: 'utf-8', unread: {}, problems, problemCount: content.problemCount, whole: content.whole };
  const system = content.system?.code ?? null;
  return {
    kind: 'dxf',
    content: drawingFrom(points, lines, said),
    unit,
    called: 'GeoJSON',
    saysElevations: true,
    system,
  };
}

const textOf = (value: unknown): string =>
  typeof value === 'string' || typeof value === 'number' ? String(value) : '';

function layerOf(properties: Record<string, unknown>): string | null {
  for (const name of LAYER) {
    const said = textOf(properties[name]).trim().slice(0, LONGEST_LAYER);
    if (said) return said;
  }
  return null;
}
