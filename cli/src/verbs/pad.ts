import { ringArea } from '#core/kernel';
import { writeDxf, writeGeoJson, writeLandXml } from '#core/exchange';
import {
  balancedPad,
  layPad,
  layStrip,
  readTemplate,
  type Pad,
  type PadMade,
  type PadShape,
  type StripShape,
} from '#core/quantities';
import { spatialCourseIn } from '../course.ts';
import { boundaryOf, surfaceOf } from '../load.ts';
import { CannotDo, WrongUsage } from '../problems.ts';
import { save } from '../save.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { choice, flag, length, number, OUTPUT, READING, text } from '../options.ts';

const OPTIONS = {
  ...READING,
  boundary: text('--boundary <file>', 'closed line of the pad'),
  along: text('--along <file>', 'in place of a boundary: the line of a bank or ditch, with elevations'),
  template: text(
    '--template <places>',
    'offset and height of every place across that line, m, places apart by semicolons',
  ),
  level: length('--level <elevation>', 'level of the pad'),
  balance: flag('--balance', 'finds the level at which cut and fill balance'),
  factor: number('--factor <k>', 'cut times this is fill; 1 otherwise', 0.1, 10),
  gradient: number('--gradient <g>', 'rise over run of the pad; level otherwise', 0, 10),
  direction: number('--direction <degrees>', 'bearing towards which it rises', -360, 360),
  cutSlope: number('--cut-slope <h>', 'batter in cut, horizontal to 1 vertical', 0, 1000),
  fillSlope: number('--fill-slope <h>', 'batter in fill, horizontal to 1 vertical', 0, 1000),
  corners: choice('--corners <which>', 'where batters meet at a corner that points outwards', ['mitred', 'rounded'] as const, 'mitred'), // prettier-ignore
  sagitta: length('--sagitta <length>', 'chords of rounded corners; 1 cm otherwise', 1e-6),
  batter: choice('--batter <how>', 'its slope square to the side in plan, or where it is steepest', ['square', 'steepest'] as const, 'square'), // prettier-ignore
  benchEvery: length('--bench-every <height>', 'level steps in the batters, so far above each other', 0.1),
  benchWidth: length('--bench-width <width>', 'how wide they are', 0),
  levelAt: choice('--level-at <where>', 'where the pad has its level', ['centre', 'first'] as const, 'centre'),
  ...OUTPUT,
};
type Options = Values<typeof OPTIONS> & Common;

/** A pad with batters to the ground. */
function pad([file]: string[], options: Options): Outcome {
  if (options.along !== undefined) return told(layStrip(surfaceOf(file, options), stripOf(options.along, options)), options); // prettier-ignore
  const shape = shapeOf(options);
  const ground = surfaceOf(file, options);
  if (!options.balance) return told(layPad(ground, shape), options);
  const found = balancedPad(ground, shape, options.factor ?? 1);
  return told(found.ok ? { ok: true, pad: found.balance.pad } : found, options);
}

function told(made: PadMade, options: Options): Outcome {
  if (!made.ok) throw new CannotDo(made.reason);
  const laid = made.pad;
  const { level, cut, fill, padArea, beyond, cutArea, fillArea, daylight, offSurvey } = laid;
  if (options.output) write(options.output, laid);
  const report = { level, cut, fill, net: cut - fill, padArea, beyond, cutArea, fillArea, daylight: daylight.map(places), offSurvey }; // prettier-ignore
  return {
    json: report,
    text: [
      `level    ${level.toFixed(3)} m${options.along === undefined ? '' : ' where its line begins'}${options.balance ? ', where cut and fill balance' : ''}`,
      `volume   cut ${cut.toFixed(3)} m³, fill ${fill.toFixed(3)} m³, cut − fill ${(cut - fill).toFixed(3)} m³`,
      `area     ${options.along === undefined ? 'pad' : 'strip'} ${padArea.toFixed(3)} m²; with its batters: cut ${cutArea.toFixed(3)} m², fill ${fillArea.toFixed(3)} m²`,
      `daylight ${daylight.length === 1 ? '1 line' : `${daylight.length} lines`}${daylight.length === 1 ? `, ${Math.abs(ringArea(inPlan(daylight[0]))).toFixed(3)} m² inside` : ''}`, // prettier-ignore
      ...(beyond > 1e-6 ? [`  ${beyond.toFixed(3)} m² of it lie beyond the ground; their volume is not known`] : []),
      ...(offSurvey.length ? [`  batters run off the survey before they meet the ground, at ${offSurvey.slice(0, 3).map(([x, y]) => `E ${x.toFixed(2)} N ${y.toFixed(2)}`).join(', ')}${offSurvey.length > 3 ? ' …' : ''}: volumes end there`] : []), // prettier-ignore
    ].join('\n'),
  };
}

const benchesOf = ({ benchEvery, benchWidth }: Options): PadShape['benches'] => {
  if ((benchEvery === undefined) !== (benchWidth === undefined)) throw new WrongUsage('--bench-every and --bench-width go together.'); // prettier-ignore
  return benchEvery === undefined ? null : { every: benchEvery, width: benchWidth! };
};

function stripOf(along: string, options: Options): StripShape {
  const { template, cutSlope, fillSlope, corners, sagitta = 0.01, boundary, level, balance } = options;
  if (boundary !== undefined || level !== undefined || balance)
    throw new WrongUsage('--along has the elevations of its line: it goes with no --boundary, --level or --balance.');
  if (template === undefined) throw new WrongUsage('--along needs --template, as in "-0.5 0; 0.5 0".');
  if (cutSlope === undefined || fillSlope === undefined) throw new WrongUsage(NEEDS_SLOPES);
  const read = readTemplate(template, 'm');
  if (!read.ok) throw new WrongUsage(read.reason);
  return { course: spatialCourseIn(along, options), template: read.template, cutSlope, fillSlope, corners, sagitta, benches: benchesOf(options) }; // prettier-ignore
}

const NEEDS_SLOPES = 'pad needs --cut-slope and --fill-slope, horizontal to 1 vertical.';

function shapeOf(options: Options): PadShape {
  const { boundary, level, balance, gradient = 0, direction, cutSlope, fillSlope, corners, sagitta = 0.01, batter, levelAt } = options; // prettier-ignore
  if (boundary === undefined)
    throw new WrongUsage('pad needs --boundary, a closed line, or --along, a line with elevations.');
  if ((level === undefined) !== balance) throw new WrongUsage('pad needs either --level or --balance.');
  if (cutSlope === undefined || fillSlope === undefined) throw new WrongUsage(NEEDS_SLOPES);
  if (gradient !== 0 && direction === undefined)
    throw new WrongUsage('A pad with a gradient needs --direction, the bearing towards which it rises.');
  const { ring, holes } = boundaryOf(boundary, options);
  if (holes.length) throw new CannotDo(`The boundary of a pad has no holes; that in ${boundary} has ${holes.length}.`);
  return { ring, level: level ?? 0, levelAt, gradient, direction: ((direction ?? 0) * Math.PI) / 180, cutSlope, fillSlope, corners, sagitta, batter, benches: benchesOf(options) }; // prettier-ignore
}

const places = (line: readonly number[]): number[][] => Array.from({ length: line.length / 3 }, (_, i) => line.slice(3 * i, 3 * i + 3)); // prettier-ignore
const inPlan = (line: readonly number[]): number[] => line.filter((_, i) => i % 3 !== 2);

/** Pad and batters as LandXML or as faces of a drawing; as GeoJSON the daylight line. */
function write(file: string, { surface, daylight }: Pad): void {
  if (/\.xml$/i.test(file))
    return save(file, writeLandXml({ project: 'Pad', made: new Date().toISOString(), points: [], breaklines: [], surfaces: [{ name: 'Pad', surface: surface() }] }, 'm', 6)); // prettier-ignore
  if (/\.geojson$/i.test(file))
    return save(file, writeGeoJson(daylight.map((line) => ({ kind: 'LineString', coordinates: places(line), properties: { layer: 'DAYLIGHT' } })))); // prettier-ignore
  if (/\.dxf$/i.test(file))
    return save(file, writeDxf({ points: [], lines: [], contours: [], surface: surface(), colours: {} }, { version: '2000', unit: 'm', decimals: 4, textHeight: 0 })); // prettier-ignore
  throw new CannotDo(`A pad cannot be written to ${file}. Choose .xml, .dxf or .geojson.`);
}

export const PAD = defineVerb({
  name: 'pad',
  about: 'lays a pad, or a bank or ditch along a line, into the ground, with batters',
  files: { name: 'SURFACE', least: 1, most: 1 },
  options: OPTIONS,
  run: pad,
});
