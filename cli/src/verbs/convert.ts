import { basename, extname } from 'node:path';
import { columnsOf } from '#core/kernel';
import {
  cleaningInUnit,
  cleanLines,
  USUAL_CLEANING,
  surfaceFromTin,
  writeDxf,
  writeGeoJson,
  writeLandXml,
  writeText,
  type Cleaned,
  type GeoJsonFeature,
  type Role,
} from '#core/exchange';
import type { PublishedSystem } from '#core/basis';
import type { Surface } from '#core/terrain';
import { convertBook, isBookFile } from '../books.ts';
import { carry, type Carried, type Places } from '../carry.ts';
import { ofKinds, loadedDrawing, onLayers } from '../layers.ts';
import {
  isInDegrees,
  linesOf,
  load,
  pointsOf,
  unitIn,
  unitOf,
  unitOption,
  type Loaded,
  type PlainLine,
  type PlainPoints,
} from '../load.ts';
import { CannotDo, WrongUsage } from '../problems.ts';
import { systemClaimed, systemNamed } from '../registry.ts';
import { save } from '../save.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { DXF, flag, LAYOUT, length, READING, text, TEXT_OUT, TRANSFORM } from '../options.ts';

const OPTIONS = {
  ...READING,
  ...LAYOUT,
  ...TRANSFORM,
  ...TEXT_OUT,
  ...DXF,
  layer: text('--layer <layers>', 'of drawings only what is on these layers, separated by commas'),
  kind: text(
    '--kind <kinds>',
    'of drawings only these kinds, as inspect lists them: POINT,LINE,TEXT,INSERT …, of LandXML CgPoint,PlanFeature,Profile,Pipe …',
  ),
  clean: flag(
    '--clean',
    'of a drawing lines alone, without doubles, lines of no length and lines at 0 among others, joined and straightened',
  ),
  join: length('--join <length>', 'with --clean: ends within this become one; 10 mm otherwise', 0),
  straight: length('--straight <length>', 'with --clean: vertices within this of a straight go; 5 mm otherwise', 0),
  textHeight: length('--text-height <length>', 'height of texts in a drawing', 0),
};
type Options = Values<typeof OPTIONS> & Common;

interface Content {
  points: PlainPoints;
  lines: PlainLine[];
  surfaces: { name: string; surface: Surface }[];
}

/** Of a drawing its lines, cleaned; texts and hatches go. */
function cleanedLines(loaded: Loaded, options: Options): { loaded: Loaded; cleaned: Cleaned | null } {
  if (!options.clean) {
    if (options.join !== undefined || options.straight !== undefined) throw new WrongUsage('--join and --straight say how --clean cleans.'); // prettier-ignore
    return { loaded, cleaned: null };
  }
  const drawing = loadedDrawing(loaded);
  if (!drawing) throw new CannotDo(`${loaded.file} is no drawing: --clean cleans the lines of a drawing.`);
  const { join = USUAL_CLEANING.join, straight = USUAL_CLEANING.straight } = options;
  const settings = cleaningInUnit({ ...USUAL_CLEANING, join, straight }, unitIn(options.unit) ?? drawing.unit ?? 'm');
  const { lines, cleaned } = cleanLines(drawing.content.polylines, settings);
  return { loaded: { ...drawing, content: { ...drawing.content, polylines: lines, texts: [], hatches: [] } }, cleaned };
}

/** Any readable file to any that can be written; what the target cannot hold is said. */
async function convert([from, to]: string[], options: Options): Promise<Outcome> {
  if (!to) throw new WrongUsage('convert needs a file to read and one to write.');
  if (['.book', '.xml'].includes(extname(to).toLowerCase()) && (options.layout || isBookFile(from)))
    return convertBook(from, to, options);
  const given = options.from ? systemNamed(options.from) : null;
  const reading = { ...options, geographic: true };
  const all = load(from, given ? { ...reading, degrees: given.kind === 'geographic' } : reading);
  const chosen = ofKinds(onLayers(all, options.layer), options.kind, unitIn(options.unit));
  const { loaded, cleaned } = cleanedLines(chosen, options);
  const content = contentOf(loaded, options, given?.kind === 'geographic');
  const target = options.to ? systemNamed(options.to) : given;
  const carried = target ? await carryContent(content, given ?? claimedSystem(loaded), target, options) : null;
  if (!carried && (options.geoid || options.heights))
    throw new WrongUsage('A geoid needs a system: give that of the file by --from.');
  const degrees = target ? target.kind === 'geographic' : isInDegrees(loaded);
  if (degrees && !['.csv', '.txt', '.geojson'].includes(extname(to).toLowerCase()))
    throw new CannotDo(
      'Latitude and longitude are written as .csv, .txt or .geojson; drawings and LandXML hold plane coordinates.',
    );
  const unit = unitOption(options.toUnit) ?? 'm';
  const flat = content.lines.filter((l) => l.places.some(Number.isNaN)).length;
  const leftOut: string[] = [];
  const without = (count: number, what: string): void => {
    if (count) leftOut.push(`${count} ${what}`);
  };
  const written = ((): string => {
    switch (extname(to).toLowerCase()) {
      case '.csv':
      case '.txt': {
        without(content.lines.length, 'lines');
        without(content.surfaces.length, 'surfaces');
        const order = [...(options.toOrder ?? 'PENZD')] as Exclude<Role, '_' | 'S'>[];
        if (!order.every((r) => 'PNEZD'.includes(r))) throw new WrongUsage('--to-order takes letters P N E Z D.');
        return writeText(rows(content.points), {
          order,
          decimals: options.decimals ?? 3,
          unit,
          separator: ',',
          headings: true,
          ...(degrees ? { degrees } : {}),
        });
      }
      case '.geojson':
        without(content.surfaces.length, 'surfaces');
        if (unit !== 'm') throw new WrongUsage('GeoJSON is written in metres.');
        return writeGeoJson(
          features(content),
          !target
            ? undefined
            : target.code === 'EPSG:4326'
              ? null
              : {
                  name: `${target.name}, ${degrees ? 'longitude and latitude' : 'metres: east, north, elevation'}`,
                  code: target.code,
                },
        );
      case '.dxf':
        without(flat, 'lines without elevation in space: they are drawn in plan');
        without(content.points.z.filter(Number.isNaN).length, 'elevations that are missing: a drawing has those points at 0'); // prettier-ignore
        return writeDxf(
          {
            points: [...rows(content.points)].map((p) => ({
              layer: p.description.split(/\s/)[0] || 'POINTS',
              x: p.x,
              y: p.y,
              z: p.z,
              label: p.number,
            })),
            lines: content.lines.map((l) => ({
              layer: l.layer || 'LINES',
              closed: l.closed,
              // A line that lacks an elevation is drawn in plan alone.
              spatial: l.places.some(Number.isNaN) ? [] : l.places,
              plan: l.places.flatMap((v, i) => (i % 3 === 2 ? [0] : [v])),
            })),
            contours: [],
            surface: content.surfaces[0]?.surface ?? null,
            colours: {},
          },
          { version: options.dxf, unit, decimals: options.decimals ?? 4, textHeight: options.textHeight ?? 0.5 },
        );
      case '.xml':
        without(flat, 'lines without elevation');
        return writeLandXml(
          {
            project: basename(from),
            made: new Date().toISOString(),
            points: [...rows(content.points)],
            breaklines: content.lines
              .filter((l) => !l.places.some(Number.isNaN))
              .map((l, i) => ({
                name: `L${i + 1}`,
                code: l.layer,
                closed: l.closed,
                spatial: l.places,
              })),
            surfaces: content.surfaces,
          },
          unit,
          options.decimals ?? 4,
        );
      default:
        throw new CannotDo(`Nothing can be written to ${to}. Choose .csv, .txt, .geojson, .dxf or .xml.`);
    }
  })();
  const held = content.points.x.length + content.lines.length + content.surfaces.length;
  if (held === 0) throw new CannotDo(`${loaded.file} holds nothing that can be converted. Nothing was written.`);
  save(to, written);
  const report = {
    from: loaded.file,
    to,
    points: content.points.x.length,
    lines: content.lines.length,
    surfaces: content.surfaces.length,
    leftOut,
    ...(carried ? { carried } : {}),
    ...(cleaned ? { cleaned } : {}),
  };
  return {
    json: report,
    text: `${report.points} points, ${report.lines} lines, ${report.surfaces} surfaces${leftOut.length ? `; not held by the target: ${leftOut.join(', ')}` : ''}${carried ? `; from ${carried.from} to ${carried.to}${carried.geoid ? `, heights ${carried.heights} by ${carried.geoid}` : ''}` : ''}${cleaned ? `\n${cleanedText(cleaned)}` : ''}`,
  };
}

const cleanedText = ({ before, after, doubled, noLength, atZero, joined }: Cleaned): string =>
  `cleaned: ${before.lines} lines of ${before.vertices} vertices became ${after.lines} of ${after.vertices}; ${doubled} doubled, ${noLength} of no length, ${atZero} at elevation 0, ${joined} ends joined`;

/** The system that the file itself names; nothing is guessed. */
function claimedSystem(loaded: Loaded): PublishedSystem {
  const claim =
    loaded.kind === 'points' ? loaded.claims.system : loaded.kind === 'landxml' ? loaded.content.system : loaded.kind === 'dxf' ? (loaded.system ?? null) : null; // prettier-ignore
  const system = systemClaimed(claim);
  if (system) return system;
  throw new CannotDo(
    `${loaded.file} does not say in which system its coordinates are. Give it: --from EPSG:32735, for example.`,
  );
}

/** Everything in the file goes over, each part in place. */
async function carryContent(
  content: Content,
  from: PublishedSystem,
  to: PublishedSystem,
  options: Options,
): Promise<Carried> {
  const columns: Places[] = [{ what: 'points', x: content.points.x, y: content.points.y, z: content.points.z }];
  for (const { name, surface } of content.surfaces)
    columns.push({ what: `vertices of ${name}`, x: surface.x, y: surface.y, z: surface.z });
  const lines = content.lines.map((l): Places => {
    const [x, y, z] = columnsOf(l.places).map((column) => Float64Array.from(column));
    return { what: 'vertices of a line', x, y, z };
  });
  const carried = await carry(
    [...columns, ...lines].filter((c) => c.x.length),
    from,
    to,
    options,
  );
  content.lines.forEach((l, i) => {
    l.places = Array.from(lines[i].x).flatMap((x, k) => [x, lines[i].y[k], lines[i].z[k]]);
  });
  return carried;
}

function contentOf(whole: Loaded, options: Options, degrees = false): Content {
  if (degrees && whole.kind !== 'points' && whole.kind !== 'geojson')
    throw new CannotDo(`${whole.file} is in plane coordinates; latitude and longitude come as text or GeoJSON.`);
  // With its chambers, profiles and sections.
  const loaded = whole.kind === 'landxml' ? loadedDrawing(whole)! : whole;
  const tins = (loaded.kind === 'dxf' && loaded.surfaces) || [];
  const surfaces = tins.map((s) => ({ name: s.name, surface: surfaceFromTin(s, unitOf(loaded as Extract<Loaded, { kind: 'dxf' }>, options)) })); // prettier-ignore
  if (loaded.kind === 'dxf' && loaded.content.faces.length) surfaces.push({ name: 'faces', surface: fromFaces(loaded, options) }); // prettier-ignore
  return {
    points: pointsOf(loaded, options),
    lines: loaded.kind === 'points' ? [] : linesOf(loaded, options),
    surfaces,
  };
}

/** Faces of a drawing as a surface: corners that coincide exactly become one vertex. */
function fromFaces(loaded: Extract<Loaded, { kind: 'dxf' }>, options: Options): Surface {
  const known = new Map<string, number>();
  const places: number[][] = [];
  const faces: number[] = [];
  for (const { corners } of loaded.content.faces) {
    const own = [0, 3, 6, 9].map((k) => {
      const place = corners.slice(k, k + 3);
      const key = place.join(' ');
      if (!known.has(key)) known.set(key, places.push(place) - 1);
      return known.get(key)!;
    });
    faces.push(...own.slice(0, 3));
    // A face of four corners is two.
    if (own[3] !== own[2] && own[3] !== own[0]) faces.push(own[0], own[2], own[3]);
  }
  const column = (k: number): Float64Array => Float64Array.from(places, (p) => p[k]);
  return surfaceFromTin(
    { name: 'faces', x: column(0), y: column(1), z: column(2), faces: Uint32Array.from(faces) },
    unitOf(loaded, options),
  );
}

function* rows(p: PlainPoints) {
  for (let i = 0; i < p.x.length; i++)
    yield { number: p.number[i], x: p.x[i], y: p.y[i], z: p.z[i], description: p.description[i] };
}

function features(content: Content): GeoJsonFeature[] {
  const out: GeoJsonFeature[] = [];
  for (const p of rows(content.points))
    out.push({
      kind: 'Point',
      coordinates: Number.isNaN(p.z) ? [p.x, p.y] : [p.x, p.y, p.z],
      properties: { number: p.number, description: p.description },
    });
  for (const l of content.lines) {
    const coordinates: number[][] = [];
    for (let i = 0; i < l.places.length; i += 3)
      coordinates.push(Number.isNaN(l.places[i + 2]) ? l.places.slice(i, i + 2) : l.places.slice(i, i + 3));
    if (l.closed && coordinates.length) coordinates.push(coordinates[0]);
    out.push({
      kind: 'LineString',
      coordinates,
      properties: { closed: l.closed, ...(l.layer ? { layer: l.layer } : {}) },
    });
  }
  return out;
}

export const CONVERT = defineVerb({
  name: 'convert',
  about: 'writes a file in another format, unit, order or system',
  files: { name: 'IN OUT', least: 2, most: 2 },
  options: OPTIONS,
  run: convert,
});
