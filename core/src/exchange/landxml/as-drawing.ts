import { columnsOf, withoutTail } from '#core/kernel';
import type { FileContent } from '../content.ts';
import type { DxfPoint, DxfPolyline } from '../dxf/content.ts';
import { drawingFrom, layerNamed, polylineOf } from '../drawing-from.ts';
import type { LandXmlLine, LandXmlRead } from './content.ts';

/**
 * LandXML as a drawing, to be ticked layer by layer and kind by kind: kinds are its elements, layers the groups of points and
 * the names of lines without the numbers behind them.
 */
export function drawingOfLandXml({
  content,
  unit,
}: Extract<FileContent, { kind: 'landxml' }>): Extract<FileContent, { kind: 'dxf' }> {
  const { breaklines, features, profiles, crossSections, pipes, system } = content;
  const lines = [...breaklines, ...features, ...profiles, ...crossSections, ...pipes].map(lineOf);
  return {
    kind: 'dxf',
    content: drawingFrom(pointsOf(content), lines, content),
    unit,
    called: 'LandXML',
    saysElevations: true,
    system: system || null,
    surfaces: content.surfaces,
  };
}

function pointsOf({ points, chambers }: LandXmlRead): DxfPoint[] {
  return [
    ...points.map(({ name, code, desc, x, y, z, kind = 'CgPoint' }): DxfPoint => ({ layer: layerNamed(desc ?? '', kind === 'CgPoint' ? 'POINTS' : 'GROUND'), kind, x, y, z, number: name, description: code || desc || '' })), // prettier-ignore
    ...chambers.map(({ name, network, x, y, rim }): DxfPoint => ({ layer: layerNamed(`${network} chambers`), kind: 'Struct', x, y, z: rim, number: name })), // prettier-ignore
    ...chambers.filter((c) => !Number.isNaN(c.sump)).map(({ name, network, x, y, sump }): DxfPoint => ({ layer: layerNamed(`${network} chambers`), kind: 'Sump', x, y, z: sump, number: `${name}-SUMP` })), // prettier-ignore
  ];
}

function lineOf({ kind, name, code, spatial, arcs = [] }: LandXmlLine): DxfPolyline {
  const [x, y, z] = columnsOf(spatial);
  const last = x.length - 1;
  // The last vertex of a closed line is the first one again.
  const closed = last > 2 && x[0] === x[last] && y[0] === y[last];
  // Of an arc its ends are enough.
  const within = new Uint8Array(x.length);
  for (const { from, to } of arcs) within.fill(1, from + 1, to);
  const of = (v: number[]): number[] => v.filter((_, i) => !within[i] && !(closed && i === last));
  const layer = layerNamed(withoutTail(name, '0123456789').trim() || code || name);
  const line = polylineOf(layer, kind, closed, of(x), of(y), of(z));
  if (arcs.length === 0) return line;
  const bulge = x.map(() => 0);
  for (const a of arcs) bulge[a.from] = a.bulge;
  return { ...line, bulge: of(bulge) };
}
