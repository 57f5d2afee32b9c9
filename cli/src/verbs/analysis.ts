import { extname } from 'node:path';
import {
  contours as contoursOf,
  groundFinder,
  NSSDA_SHOTS,
  verticalAccuracy,
  type VerticalAccuracy,
} from '#core/terrain';
import { writeDxf, writeGeoJson, writeText } from '#core/exchange';
import { load, pointsOf, surfaceOf } from '../load.ts';
import { CannotDo, WrongUsage } from '../problems.ts';
import { save } from '../save.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { DXF, flag, length, OUTPUT, READING, text, whole } from '../options.ts';

const CONTOURING = {
  ...READING,
  interval: length('--interval <length>', 'between contours', 1e-6),
  every: whole('--every <n>', 'an index contour every so many; 5 otherwise, 0 for none', 100_000),
  smooth: flag(
    '--smooth',
    'cuts the corners of contours; they neither cross nor leave the band between their neighbours',
  ),
  ...OUTPUT,
  ...DXF,
};
const PLACES = {
  ...READING,
  at: text('--at <points>', 'places'),
  check: flag('--check', 'takes the places as check shots: how far the surface is from their elevations'),
  ...OUTPUT,
};
/** Contours of a surface. */
function contours([file]: string[], options: Values<typeof CONTOURING> & Common): Outcome {
  if (options.interval === undefined) throw new WrongUsage('contours needs --interval, in metres.');
  const surface = surfaceOf(file, options);
  let list;
  try {
    list = contoursOf(surface, {
      interval: options.interval,
      indexEvery: options.every ?? 5,
      smooth: options.smooth === true,
    });
  } catch (error) {
    if (error instanceof RangeError) throw new CannotDo(error.message);
    throw error;
  }
  if (options.output) {
    const ending = extname(options.output).toLowerCase();
    if (ending === '.geojson')
      save(
        options.output,
        writeGeoJson(
          list.map((c) => ({
            kind: 'LineString',
            coordinates: Array.from({ length: c.line.length / 2 }, (_, i) => [
              c.line[2 * i],
              c.line[2 * i + 1],
              c.elevation,
            ]),
            properties: { elevation: c.elevation, index: c.index, closed: c.closed },
          })),
        ),
      );
    else if (ending === '.dxf')
      save(
        options.output,
        writeDxf(
          { points: [], lines: [], contours: list, surface: null, colours: {} },
          { version: options.dxf, unit: 'm', decimals: 4, textHeight: 0 },
        ),
      );
    else throw new CannotDo(`Contours cannot be written to ${options.output}. Choose .geojson or .dxf.`);
  }
  const levels = new Map<number, { lines: number; closed: number; length: number }>();
  for (const c of list) {
    const level = levels.get(c.elevation) ?? { lines: 0, closed: 0, length: 0 };
    level.lines++;
    if (c.closed) level.closed++;
    for (let i = 0; i + 3 < c.line.length; i += 2)
      level.length += Math.hypot(c.line[i + 2] - c.line[i], c.line[i + 3] - c.line[i + 1]);
    levels.set(c.elevation, level);
  }
  const report = {
    interval: options.interval,
    contours: list.length,
    levels: [...levels].map(([elevation, l]) => ({ elevation, ...l })),
  };
  return {
    json: report,
    text: [
      `${report.contours} contours`,
      ...report.levels.map(
        (l) => `  ${l.elevation.toFixed(3)} m: ${l.lines} lines (${l.closed} closed), ${l.length.toFixed(2)} m`,
      ),
    ].join('\n'),
  };
}

/** How far a surface is from the elevations that the places themselves have. */
function checkOf(list: { elevation: number | null }[], z: Float64Array): VerticalAccuracy {
  const differences = list.flatMap(({ elevation }, i) =>
    elevation === null || Number.isNaN(z[i]) ? [] : [elevation - z[i]],
  );
  if (differences.length === 0)
    throw new CannotDo('No place with an elevation lies on the surface: nothing is checked.');
  return verticalAccuracy(differences);
}

const checkText = (c: VerticalAccuracy, off: number): string =>
  [
    `${c.shots} check shots, ${off} off the surface; surface − shot: mean ${c.mean.toFixed(4)} m, largest ${c.largest.toFixed(4)} m`,
    `  root mean square ${c.rmse.toFixed(4)} m, 95 % within ${c.nssda.toFixed(4)} m (NSSDA, 1.96 × RMSE)`,
    ...(c.enough ? [] : [`  fewer than the ${NSSDA_SHOTS} that NSSDA asks for`]),
  ].join('\n');

/** Elevations of a surface at places. */
function heights([file]: string[], options: Values<typeof PLACES> & Common): Outcome {
  if (!options.at) throw new WrongUsage('heights needs --at, a file of places.');
  const finder = groundFinder(surfaceOf(file, options));
  const places = pointsOf(load(options.at, options), options);
  const list = Array.from(places.x, (x, i) => {
    const at = finder.at(x, places.y[i]);
    return { number: places.number[i], x, y: places.y[i], elevation: at?.elevation ?? null, slope: at?.slope ?? null };
  });
  if (options.output)
    save(
      options.output,
      writeText(
        list.map((p) => ({
          number: p.number,
          x: p.x,
          y: p.y,
          z: p.elevation ?? NaN,
          description: p.elevation === null ? 'off the surface' : '',
        })),
        { order: ['P', 'E', 'N', 'Z', 'D'], decimals: 4, unit: 'm', separator: ',', headings: true },
      ),
    );
  const off = list.filter((p) => p.elevation === null).length;
  const check = options.check ? checkOf(list, places.z) : null;
  return {
    json: { places: list.length, off, ...(check ? { check } : {}), list },
    text: check
      ? checkText(check, off)
      : list
          .map(
            (p) =>
              `${p.number} ${p.x.toFixed(3)} ${p.y.toFixed(3)} ${p.elevation === null ? 'off the surface' : p.elevation.toFixed(4)}`,
          )
          .join('\n'),
  };
}

const SURFACE_FILE = { name: 'SURFACE', least: 1, most: 1 };

export const CONTOURS = defineVerb({
  name: 'contours',
  about: 'draws contours of a surface',
  files: SURFACE_FILE,
  options: CONTOURING,
  run: contours,
});

export const HEIGHTS = defineVerb({
  name: 'heights',
  about: 'gives elevation and slope of a surface at places',
  files: SURFACE_FILE,
  options: PLACES,
  run: heights,
});
