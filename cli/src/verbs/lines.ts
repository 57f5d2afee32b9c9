import { readFileSync } from 'node:fs';
import { basename, extname } from 'node:path';
import { DEFAULT_CODE_LIST, indexCodes, type CodeList, codeListSchema } from '#core/codes';
import {
  buildLines,
  drawnPieces,
  elevationsAlong,
  layerOf,
  planOf,
  VERTEX_WHY,
  type Line,
  type Slip,
} from '#core/linework';
import { readCodeTable, writeDxf, writeGeoJson, writeLandXml, type DrawnLine } from '#core/exchange';
import { issueText } from '#core/measure';
import { load, pointsOf } from '../load.ts';
import { CannotDo } from '../problems.ts';
import { save } from '../save.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { DXF, OUTPUT, READING, text } from '../options.ts';

const OPTIONS = {
  ...READING,
  codes: text('--codes <file>', 'code list, JSON or a table; the default list otherwise'),
  words: text('--words <file>', 'line words, JSON'),
  ...OUTPUT,
  ...DXF,
};
type Options = Values<typeof OPTIONS> & Common;

/** Chords of arcs stand off them by at most this, m. */
const SAGITTA = 0.01;

/** Coded points to linework. */
function lines([file]: string[], options: Options): Outcome {
  const list = codeList(options);
  const points = pointsOf(load(file, options), options);
  const { x, y, z, number, description } = points;
  const work = buildLines({ x, y, number, description, off: () => false, group: () => 0 }, list);
  const byCode = indexCodes(list).byCode;
  /** Pieces that are drawn, each x, y, z …; vertices without an elevation have none. */
  const spatial = (line: Line): { places: number[]; closed: boolean }[] =>
    drawnPieces(line, elevationsAlong(line, z) ?? line.x.map(() => NaN), SAGITTA);
  const places = (s: Slip): { line?: string; points: string[] } => ({
    ...('line' in s ? { line: s.line } : {}),
    points: [
      ...('row' in s ? [s.row] : []),
      ...('fromRow' in s ? [s.fromRow] : []),
      ...('rows' in s ? s.rows : []),
    ].map((row) => number[row]),
  });
  if (options.output) save(options.output, written());
  const unknown = [...new Set(work.pointCodes.filter((p) => !p.known).map((p) => p.code))];
  const report = {
    points: points.x.length,
    lines: work.lines.length,
    withoutElevation: work.lines.filter((l) => !spatial(l).every(hasElevations)).length,
    pointCodes: work.pointCodes.length,
    unknownCodes: unknown,
    curvesNotEnded: work.slips.flatMap((s) =>
      s.kind === 'curve-not-ended'
        ? [{ line: s.line, begin: number[s.beginRow], likelyEnd: number[s.likelyEndRow] }]
        : [],
    ),
    singlePointLines: work.slips.flatMap((s) =>
      s.kind === 'single-point-line' ? [{ line: s.line, point: number[s.row] }] : [],
    ),
    slips: work.slips.map((s) => ({ kind: s.kind, ...places(s), ...('reason' in s ? { reason: s.reason } : {}) })),
    list: work.lines.map((l) => ({
      key: l.key,
      code: l.code,
      closed: l.closed,
      points: l.rows.map((r) => (r >= 0 ? number[r] : null)),
      why: l.why.map((w) => VERTEX_WHY[w]),
      arcs: l.bulges.filter((b) => b !== 0).length,
    })),
  };
  return {
    json: report,
    text: [
      `${report.lines} lines from ${report.points} points`,
      ...report.list.map((l) => `  ${l.key}${l.closed ? ', closed' : ''}: ${l.points.map((p) => p ?? '·').join(' ')}`),
      ...(report.withoutElevation ? [`  ${report.withoutElevation} lines have vertices without elevation: drawings have them in plan, LandXML has not`] : []), // prettier-ignore
      ...unknown.map((c) => `  unknown code ${c}`),
      ...report.curvesNotEnded.map((c) => `  the curve begun at ${c.begin} on ${c.line} has no end`),
    ].join('\n'),
  };

  function written(): string {
    const layer = (l: Line): string => layerOf(byCode.get(l.code));
    switch (extname(options.output!).toLowerCase()) {
      case '.geojson':
        return writeGeoJson(
          work.lines.flatMap((l) =>
            spatial(l).map((piece) => ({
              kind: 'LineString' as const,
              coordinates: coordinatesOf(piece),
              properties: { line: l.key, code: l.code, closed: piece.closed, layer: layer(l) },
            })),
          ),
        );
      case '.dxf': {
        const drawn: DrawnLine[] = work.lines.flatMap((l) => {
          const pieces = spatial(l);
          return planOf(l).map((plan, i) => ({
            layer: layer(l),
            closed: plan.closed,
            // What lacks an elevation is drawn in plan alone.
            spatial: hasElevations(pieces[i]) ? pieces[i].places : [],
            plan: plan.places,
          }));
        });
        return writeDxf(
          { points: [], lines: drawn, contours: [], surface: null, colours: {} },
          { version: options.dxf, unit: 'm', decimals: 4, textHeight: 0 },
        );
      }
      case '.xml':
        return writeLandXml(
          {
            project: basename(file),
            made: new Date().toISOString(),
            points: [],
            breaklines: work.lines.flatMap((l) =>
              spatial(l)
                .filter(hasElevations)
                .map((piece) => ({
                  name: l.key,
                  code: l.code,
                  closed: piece.closed,
                  spatial: piece.places,
                })),
            ),
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

const hasElevations = (piece: { places: number[] } | undefined): boolean => piece !== undefined && !piece.places.some(Number.isNaN); // prettier-ignore

function coordinatesOf({ places, closed }: { places: number[]; closed: boolean }): number[][] {
  const out: number[][] = [];
  for (let i = 0; i < places.length; i += 3) out.push(places.slice(i, Number.isNaN(places[i + 2]) ? i + 2 : i + 3));
  if (closed) out.push(out[0]);
  return out;
}

/** A list as JSON, or its codes as a table with the first words of all. */
function listOf(file: string, read: (file: string) => unknown): CodeList {
  if (extname(file).toLowerCase() !== '.csv') return read(file) as CodeList;
  const { codes, problems } = readCodeTable(readFileSync(file, 'utf8'));
  if (problems.length) throw new CannotDo(`${file}, row ${problems[0].row}: ${problems[0].reason}`);
  return { codes, words: DEFAULT_CODE_LIST.words };
}

function codeList(options: Options): CodeList {
  const read = (file: string): unknown => {
    try {
      return JSON.parse(readFileSync(file, 'utf8')) as unknown;
    } catch (error) {
      throw new CannotDo(`${file} cannot be read as JSON: ${(error as Error).message}`);
    }
  };
  const base = options.codes ? listOf(options.codes, read) : DEFAULT_CODE_LIST;
  const words = options.words ? (read(options.words) as CodeList['words']) : base.words;
  const checked = codeListSchema.safeParse({ ...base, words: words ?? DEFAULT_CODE_LIST.words });
  if (!checked.success)
    throw new CannotDo(
      `The code list is not valid: ${checked.error.issues[0].path.join('.')}: ${issueText(checked.error.issues[0])}`,
    );
  return checked.data;
}

export const LINES = defineVerb({
  name: 'lines',
  about: 'builds lines from coded points',
  files: { name: 'POINTS', least: 1, most: 1 },
  options: OPTIONS,
  run: lines,
});
