import { extname } from 'node:path';
import { elevationsFromTexts, numberInName, writeGeoJson, writtenNumbers } from '#core/exchange';
import { columnsOf } from '#core/kernel';
import { METRES_IN_FILE } from '#core/measure';
import { checkContours, mendContours, type ContourFault, type GivenContour } from '#core/terrain';
import { onLayers } from '../layers.ts';
import { linesOf, load, unitIn, type Loaded, type PlainLine } from '../load.ts';
import { CannotDo, WrongUsage } from '../problems.ts';
import { save } from '../save.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { flag, length, OUTPUT, READING, text } from '../options.ts';

const OPTIONS = {
  ...READING,
  layer: text('--layer <layers>', 'of drawings only what is on these layers, separated by commas'),
  elevation: text('--elevation <where>', 'where a contour says its elevation: z, text (a number on it or beside it, of those that have no z), or layer (the number that its name ends in); z otherwise'), // prettier-ignore
  same: length('--same <length>', 'contours within this of each other all along are one; 1 mm otherwise', 0),
  mend: flag('--mend', 'writes the contours with what can be mended mended'),
  ...OUTPUT,
};
type Options = Values<typeof OPTIONS> & Common;

/** m; a contour whose elevations are within this is level. */
const LEVEL = 0.001;
const MOST_SHOWN = 40;

interface Given extends GivenContour {
  layer: string;
}

/** What is wrong with contours that somebody drew, before ground is made of them. */
function check([file]: string[], options: Options): Outcome {
  const where = options.elevation ?? 'z';
  if (where !== 'z' && where !== 'layer' && where !== 'text') throw new WrongUsage('--elevation is z, text or layer.');
  if (options.mend !== (options.output !== undefined)) throw new WrongUsage('--mend and -o go together: what is mended is written.'); // prettier-ignore
  if (options.output && extname(options.output).toLowerCase() !== '.geojson') throw new CannotDo(`Contours cannot be written to ${options.output}. Choose .geojson.`); // prettier-ignore
  const whole = load(file, options);
  const written = where === 'text' ? withTexts(whole, options) : null;
  const lines = linesOf(onLayers(written?.loaded ?? whole, options.layer), options);
  const read = lines.filter((l) => l.places.length >= 6).map((l) => givenOf(l, where));
  const contours = read.filter((c): c is Given => typeof c === 'object');
  const count = (what: string): number => read.filter((c) => c === what).length;
  const [withoutElevation, uneven] = [count('none'), count('uneven')];
  if (contours.length === 0) throw new CannotDo(`${file} holds no contours: ${lines.length} lines, ${withoutElevation} without an elevation, ${uneven} that are not level.`); // prettier-ignore
  const { interval, faults } = checkContours(contours, options.same);
  const mended = options.mend ? mendContours(contours, faults) : null;
  if (mended) save(options.output!, asGeoJson(mended));
  const told = faults.map((f) => ({
    ...f,
    elevation: contours[f.contour].elevation,
    layer: contours[f.contour].layer,
  }));
  return {
    json: { contours: contours.length, interval, withoutElevation, uneven, ...(written ? { unclear: written.unclear } : {}), faults: told, ...(mended ? { written: mended.length } : {}) }, // prettier-ignore
    text: [
      `${contours.length} contours, ${interval === null ? 'none beside another' : `${interval.toFixed(3)} m between neighbours`}; ${faults.length === 0 ? 'nothing wrong with them' : `${faults.length} to look at`}`, // prettier-ignore
      ...(withoutElevation ? [`  ${withoutElevation} lines have no elevation`] : []),
      ...(written?.unclear.length ? [`  two elevations are written beside ${written.unclear.length} lines`] : []),
      ...(uneven ? [`  ${uneven} lines are not level`] : []),
      ...faults.slice(0, MOST_SHOWN).map((f) => `  E ${f.x.toFixed(3)} N ${f.y.toFixed(3)}: ${sentence(f, contours)}`),
      ...(faults.length > MOST_SHOWN ? [`  … and ${faults.length - MOST_SHOWN} more; --json lists them all`] : []),
      ...(mended ? [`${options.output}: ${mended.length} contours`] : []),
    ].join('\n'),
  };
}

/** A drawing whose lines have the elevations that texts beside them say, and lines beside which two are written, m. */
function withTexts(loaded: Loaded, options: Options) {
  if (loaded.kind !== 'dxf') throw new CannotDo(`${loaded.file} is no drawing: --elevation text reads the texts of a DXF.`); // prettier-ignore
  const unit = unitIn(options.unit) ?? loaded.unit ?? 'm';
  const { content } = loaded;
  const { lines, told } = elevationsFromTexts(content.polylines, writtenNumbers(content.texts, unit));
  const metres = METRES_IN_FILE[unit];
  const unclear = told.unclear.map(({ x, y, elevations }) => ({ x: x * metres, y: y * metres, elevations: elevations.map((e) => e * metres) })); // prettier-ignore
  return { loaded: { ...loaded, content: { ...content, polylines: lines } }, unclear };
}

/** A line as a contour; why it is none where it has no elevation or more than one. */
function givenOf({ layer, closed, places }: PlainLine, where: string): Given | 'none' | 'uneven' {
  const [x, y, z] = columnsOf(places);
  if (where === 'layer') {
    const said = numberInName(layer);
    return said === undefined ? 'none' : { layer, closed, x, y, elevation: Number(said) };
  }
  const said = z.filter((v) => !Number.isNaN(v));
  if (said.length === 0) return 'none';
  const [low, high] = said.reduce(([a, b], v) => [Math.min(a, v), Math.max(b, v)], [Infinity, -Infinity]);
  return high - low > LEVEL ? 'uneven' : { layer, closed, x, y, elevation: said[0] };
}

const metres = (v: number): string => `${v.toFixed(3)} m`;

function sentence(f: ContourFault, contours: readonly Given[]): string {
  const of = (k: number): string => `contour ${contours[k].elevation.toFixed(3)}`;
  const own = of(f.contour);
  switch (f.kind) {
    case 'double':
      return `${own} runs over ${of(f.other)} all along; leave one out`;
    case 'closing-side':
      return `${own} is marked closed, and the side that closes it cuts ${f.cuts.slice(0, 4).map(of).join(', ')}${f.cuts.length > 4 ? ' …' : ''}; open it`; // prettier-ignore
    case 'cross':
      return `${own} crosses or touches ${f.others.slice(0, 4).map(of).join(', ')}${f.others.length > 4 ? ` and ${f.others.length - 4} more` : ''}${f.places > 1 ? `, in ${f.places} places` : ''}`; // prettier-ignore
    case 'elevation':
      return `${own} does not fit between ${f.neighbours.slice(0, 4).map(of).join(', ')}${f.fits === null ? '; check its elevation' : `; ${metres(f.fits)} would`}`; // prettier-ignore
    case 'open':
      return `${own} ends here, and its neighbours go on`;
    case 'gap':
      return `${own} has a gap of ${metres(f.length)}; both ends line up`;
  }
}

const asGeoJson = (contours: readonly GivenContour[]): string =>
  writeGeoJson(
    contours.map(({ x, y, elevation, closed }) => ({
      kind: 'LineString' as const,
      coordinates: [...Array.from(x, (v, i) => [v, y[i], elevation]), ...(closed ? [[x[0], y[0], elevation]] : [])],
      properties: { elevation, closed },
    })),
  );

export const CHECK_CONTOURS = defineVerb({
  name: 'check-contours',
  about: 'names what is wrong with drawn contours before ground is made of them',
  files: { name: 'FILE', least: 1, most: 1 },
  options: OPTIONS,
  run: check,
});
