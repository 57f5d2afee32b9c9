import { LAYER, textOf } from '../attributes.ts';
import type { FileContent } from '../content.ts';
import { drawingFrom, layerNamed, polylineOf } from '../drawing-from.ts';
import type { DxfPoint, DxfPolyline } from '../dxf/content.ts';

/** GeoJSON in lengths as a drawing: its geometries are its kinds. */
export function drawingOfGeoJson({
  content,
  unit,
}: Extract<FileContent, { kind: 'geojson' }>): Extract<FileContent, { kind: 'dxf' }> {
  const points = content.points.map(({ x, y, z, properties }): DxfPoint => ({ layer: layerOf(properties, 'POINTS'), kind: 'Point', x, y, z, number: textOf(properties.number), description: textOf(properties.description) })); // prettier-ignore
  const lines = content.lines.map(({ closed, coordinates, properties }): DxfPolyline => {
    const [x, y, z] = [0, 1, 2].map((k) => coordinates.map((c) => c[k] ?? NaN));
    return polylineOf(layerOf(properties), closed ? 'Polygon' : 'LineString', closed, x, y, z);
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

/** The first property that says one. */
const layerOf = (properties: Record<string, unknown>, otherwise?: string): string =>
  layerNamed(LAYER.map((name) => textOf(properties[name.toLowerCase()])).find(Boolean) ?? '', otherwise);
