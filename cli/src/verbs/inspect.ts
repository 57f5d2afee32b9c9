import { METRES_IN } from '#core/measure';
import { load, type Loaded } from '../load.ts';
import type { Options, Outcome } from '../main.ts';

/** Kinds, counts by layer, extents, units, and what could not be read and why. */
export function inspect([file]: string[], options: Options): Outcome {
  const loaded = load(file, options);
  const report = { file: loaded.file, kind: loaded.kind, ...of(loaded) };
  const extent = report.extent
    ? `E ${report.extent[0].toFixed(3)} … ${report.extent[2].toFixed(3)}, N ${report.extent[1].toFixed(3)} … ${report.extent[3].toFixed(3)} m`
    : 'no extent';
  return {
    json: report,
    text: [
      `${report.file}: ${report.kind}, unit ${report.unit ?? 'not said'}`,
      ...Object.entries(report.counts).map(([k, v]) => `  ${v} ${k}`),
      ...Object.entries(report.layers).map(([k, v]) => `  layer ${k}: ${v}`),
      `  ${extent}`,
      ...report.notRead.slice(0, 20).map((p) => `  not read: ${p.where}: ${p.why}`),
    ].join('\n'),
  };
}

function of(loaded: Loaded) {
  if (loaded.kind === 'points') {
    const { read, layout, encoding } = loaded;
    return {
      unit: layout.unit,
      counts: {
        points: read.x.length,
        'without elevation': read.z.filter((z) => Number.isNaN(z)).length,
        'rows left out': read.refusedCount,
      } as Record<string, number>,
      layers: {} as Record<string, number>,
      extent: extentOf(read.x, read.y),
      layout: { ...layout, encoding },
      notRead: read.refused.map((r) => ({ where: `row ${r.row}`, why: r.reason })),
    };
  }
  if (loaded.kind === 'dxf') {
    const { content, unit } = loaded;
    const factor = METRES_IN[unit ?? 'm'];
    const x = [...content.points.map((p) => p.x), ...content.polylines.flatMap((p) => p.x)].map((v) => v * factor);
    const y = [...content.points.map((p) => p.y), ...content.polylines.flatMap((p) => p.y)].map((v) => v * factor);
    return {
      unit,
      version: content.version,
      counts: content.kinds,
      layers: content.layers,
      extent: extentOf(x, y),
      notRead: content.problems.map((p) => ({ where: `line ${p.line}`, why: p.what })),
    };
  }
  if (loaded.kind === 'landxml') {
    const { content, unit } = loaded;
    const factor = METRES_IN[unit ?? 'm'];
    const counts: Record<string, number> = {
      points: content.points.length,
      breaklines: content.breaklines.length,
      'plan features': content.features.length,
      surfaces: content.surfaces.length,
    };
    for (const s of content.surfaces) counts[`faces of ${s.name}`] = s.faces.length / 3;
    const x = [...content.points.map((p) => p.x), ...content.surfaces.flatMap((s) => Array.from(s.x))].map(
      (v) => v * factor,
    );
    const y = [...content.points.map((p) => p.y), ...content.surfaces.flatMap((s) => Array.from(s.y))].map(
      (v) => v * factor,
    );
    return {
      unit,
      counts,
      layers: content.unread,
      extent: extentOf(x, y),
      notRead: content.problems.map((p) => ({ where: `line ${p.line}`, why: p.what })),
    };
  }
  const { content } = loaded;
  const x = [...content.points.map((p) => p.x), ...content.lines.flatMap((l) => l.coordinates.map((c) => c[0]))];
  const y = [...content.points.map((p) => p.y), ...content.lines.flatMap((l) => l.coordinates.map((c) => c[1]))];
  return {
    unit: null,
    counts: { points: content.points.length, lines: content.lines.length } as Record<string, number>,
    layers: {} as Record<string, number>,
    extent: extentOf(x, y),
    notRead: content.problems.map((why) => ({ where: 'file', why })),
  };
}

function extentOf(x: ArrayLike<number>, y: ArrayLike<number>): [number, number, number, number] | null {
  const out: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < x.length; i++) {
    out[0] = Math.min(out[0], x[i]);
    out[1] = Math.min(out[1], y[i]);
    out[2] = Math.max(out[2], x[i]);
    out[3] = Math.max(out[3], y[i]);
  }
  return x.length ? out : null;
}
