import { buildSurface, clipToRing, measureSurface, NO_POINT } from '#core/terrain';
import { writeLandXml } from '#core/exchange';
import { load, linesOf, pointsOf, ringOf } from '../load.ts';
import { CannotDo } from '../problems.ts';
import { save } from '../save.ts';
import type { Options, Outcome } from '../main.ts';

/** Points and breaklines to a triangulated surface. */
export function surface(files: string[], options: Options): Outcome {
  const x: number[] = [];
  const y: number[] = [];
  const z: number[] = [];
  let without = 0;
  const refused: { file: string; row: number; reason: string }[] = [];
  for (const file of files) {
    const loaded = load(file, options);
    const p = pointsOf(loaded, options);
    if (loaded.kind === 'points')
      for (const r of loaded.read.refused) refused.push({ file: loaded.file, row: r.row, reason: r.reason });
    for (let i = 0; i < p.x.length; i++) {
      if (Number.isNaN(p.z[i])) without++;
      else {
        x.push(p.x[i]);
        y.push(p.y[i]);
        z.push(p.z[i]);
      }
    }
  }
  const segments: number[] = [];
  let lines = 0;
  if (options.lines)
    for (const line of linesOf(load(options.lines, options), options)) {
      let first = -1;
      let last = -1;
      for (let i = 0; i < line.places.length; i += 3) {
        if (Number.isNaN(line.places[i + 2])) continue;
        x.push(line.places[i]);
        y.push(line.places[i + 1]);
        z.push(line.places[i + 2]);
        if (last >= 0) segments.push(last, x.length - 1);
        else first = x.length - 1;
        last = x.length - 1;
      }
      if (line.closed && last > first) segments.push(last, first);
      lines++;
    }
  if (x.length < 3)
    throw new CannotDo(
      `${x.length} points with elevation; a surface needs three. ${refused[0] ? `First row left out: ${refused[0].file} row ${refused[0].row}: ${refused[0].reason}.` : ''}`,
    );
  const start = performance.now();
  const built = buildSurface({
    x: Float64Array.from(x),
    y: Float64Array.from(y),
    z: Float64Array.from(z),
    segments: Uint32Array.from(segments),
    coincidence: options.coincidence ?? 0,
    longestSide: options.longestSide ?? null,
  });
  const ring = options.boundary ? ringOf(options.boundary, options) : null;
  const made = ring ? clipToRing(built.surface, ring) : built.surface;
  const seconds = (performance.now() - start) / 1000;
  if (made.triangles.length === 0) {
    const why = ring
      ? 'nothing lies inside the boundary'
      : options.longestSide
        ? 'every triangle has a longer side than allowed, or the points stand in line'
        : 'all points stand in one line';
    throw new CannotDo(`The surface would have no triangle: ${why}.`);
  }
  const m = measureSurface(made);
  const report = {
    vertices: m.points,
    triangles: m.triangles,
    planArea: m.planArea,
    slopeArea: m.slopeArea,
    lowest: m.lowest,
    highest: m.highest,
    extent: m.extent,
    breaklines: lines,
    coincidentPoints: built.account.coincident.length / 2,
    crossings: built.account.crossings.map((c) => ({
      x: c.x,
      y: c.y,
      kept: c.keptElevation,
      leftOut: c.leftOutElevation,
    })),
    tooLong: built.account.tooLong,
    verticesOnBoundary: made.point.filter((p) => p === NO_POINT).length,
    withoutElevation: without,
    refused,
    seconds,
  };
  if (options.output)
    save(
      options.output,
      writeLandXml(
        {
          project: '',
          made: new Date().toISOString(),
          points: [],
          breaklines: [],
          surfaces: [{ name: options.name ?? 'Ground', surface: made }],
        },
        'm',
        6,
      ),
    );
  return {
    json: report,
    text: [
      `${report.vertices} vertices, ${report.triangles} triangles`,
      `  area ${report.planArea.toFixed(3)} m² in plan, ${report.slopeArea.toFixed(3)} m² along the slope`,
      `  elevation ${report.lowest.toFixed(3)} … ${report.highest.toFixed(3)} m`,
      `  ${report.coincidentPoints} coincident points, ${report.crossings.length} crossing breaklines, ${report.tooLong} triangles left out for their longest side`,
      ...(without ? [`  ${without} points without elevation left out`] : []),
      ...refused.slice(0, 10).map((r) => `  left out: ${r.file} row ${r.row}: ${r.reason}`),
    ].join('\n'),
  };
}
