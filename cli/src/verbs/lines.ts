import { readFileSync } from 'node:fs';
import { extname } from 'node:path';
import { DEFAULT_CODE_LIST, indexCodes, type CodeList } from '#core/codes';
import { buildLines, chordPlaces, layerOf } from '#core/linework';
import { writeDxf, writeGeoJson, writeLandXml, type DrawnLine } from '#core/exchange';
import { codeListSchema } from '#core/chain';
import { load, pointsOf } from '../load.ts';
import { CannotDo } from '../problems.ts';
import { save } from '../save.ts';
import type { Options, Outcome } from '../main.ts';

/** Chords of arcs stand off them by at most this, m. */
const SAGITTA = 0.01;

/** Coded points to linework. */
export function lines([file]: string[], options: Options): Outcome {
  const list = codeList(options);
  const points = pointsOf(load(file, options), options);
  const work = buildLines({ ...points, off: () => false, group: () => 0 }, list);
  const byCode = indexCodes(list).byCode;
  const spatial = (line: (typeof work.lines)[number]): number[] => {
    const out: number[] = [];
    const n = line.rows.length;
    for (let i = 0; i < n; i++) {
      const [a, b] = [line.rows[i], line.rows[(i + 1) % n]];
      out.push(points.x[a], points.y[a], points.z[a]);
      if (line.bulges[i] !== 0 && (i < n - 1 || line.closed))
        for (const p of chordPlaces(
          { x: points.x[a], y: points.y[a] },
          { x: points.x[b], y: points.y[b] },
          line.bulges[i],
          SAGITTA,
        ))
          out.push(p.x, p.y, points.z[a] + p.along * (points.z[b] - points.z[a]));
    }
    return out;
  };
  if (options.output) save(options.output, written());
  const unknown = [...new Set(work.pointCodes.filter((p) => !p.known).map((p) => p.code))];
  const report = {
    points: points.x.length,
    lines: work.lines.length,
    pointCodes: work.pointCodes.length,
    unknownCodes: unknown,
    curvesNotEnded: work.openCurves.map((c) => ({
      line: c.line,
      begin: points.number[c.beginRow],
      likelyEnd: points.number[c.likelyEndRow],
    })),
    singlePointLines: work.single.map((s) => ({ line: s.line, point: points.number[s.row] })),
    list: work.lines.map((l) => ({
      key: l.key,
      code: l.code,
      closed: l.closed,
      points: l.rows.map((r) => points.number[r]),
      arcs: l.bulges.filter((b) => b !== 0).length,
    })),
  };
  return {
    json: report,
    text: [
      `${report.lines} lines from ${report.points} points`,
      ...report.list.map((l) => `  ${l.key}${l.closed ? ', closed' : ''}: ${l.points.join(' ')}`),
      ...unknown.map((c) => `  unknown code ${c}`),
      ...report.curvesNotEnded.map((c) => `  the curve begun at ${c.begin} on ${c.line} has no end`),
    ].join('\n'),
  };

  function written(): string {
    const places = (l: (typeof work.lines)[number]): number[][] => {
      const s = spatial(l);
      const out: number[][] = [];
      for (let i = 0; i < s.length; i += 3)
        out.push(Number.isNaN(s[i + 2]) ? [s[i], s[i + 1]] : [s[i], s[i + 1], s[i + 2]]);
      if (l.closed) out.push(out[0]);
      return out;
    };
    switch (extname(options.output!).toLowerCase()) {
      case '.geojson':
        return writeGeoJson(
          work.lines.map((l) => ({
            kind: 'LineString',
            coordinates: places(l),
            properties: { line: l.key, code: l.code, closed: l.closed, layer: layerOf(byCode.get(l.code)) },
          })),
        );
      case '.dxf': {
        const drawn: DrawnLine[] = work.lines.map((l) => ({
          layer: layerOf(byCode.get(l.code)),
          closed: l.closed,
          spatial: spatial(l).map((v) => (Number.isNaN(v) ? 0 : v)),
          plan: l.rows.flatMap((r, i) => [points.x[r], points.y[r], l.bulges[i]]),
        }));
        return writeDxf(
          { points: [], lines: drawn, contours: [], surface: null, colours: {} },
          { version: options.dxf, unit: 'm', decimals: 4, textHeight: 0 },
        );
      }
      case '.xml':
        return writeLandXml(
          {
            project: '',
            made: new Date().toISOString(),
            points: [],
            breaklines: work.lines.map((l) => ({
              name: l.key,
              code: l.code,
              closed: l.closed,
              spatial: spatial(l).map((v) => (Number.isNaN(v) ? 0 : v)),
            })),
            surfaces: [],
          },
          'm',
          4,
        );
      default:
        throw new CannotDo(`Lines cannot be written to ${options.output}. Choose .geojson, .dxf or .xml.`);
    }
  }
}

function codeList(options: Options): CodeList {
  const read = (file: string): unknown => {
    try {
      return JSON.parse(readFileSync(file, 'utf8')) as unknown;
    } catch (error) {
      throw new CannotDo(`${file} cannot be read as JSON: ${(error as Error).message}`);
    }
  };
  const base = options.codes ? (read(options.codes) as CodeList) : DEFAULT_CODE_LIST;
  const words = options.words ? (read(options.words) as CodeList['words']) : base.words;
  const checked = codeListSchema.safeParse({ ...base, words: words ?? DEFAULT_CODE_LIST.words });
  if (!checked.success)
    throw new CannotDo(
      `The code list does not hold: ${checked.error.issues[0].path.join('.')}: ${checked.error.issues[0].message}`,
    );
  return checked.data;
}
