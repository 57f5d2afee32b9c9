import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import { tiffPlace } from '#core/pictures';
import { FAR_APART, MOST_NODES, type ReadGrid } from './elevation-grid.ts';
import { tiffTags } from './tiff-tags.ts';
import { holdsNumbers, tiffValues } from './tiff-values.ts';

const TAG = { scale: 33550, tie: 33922, transformation: 34264, none: 42113 };
const KEY = { model: 1024, raster: 1025, geographic: 2048, angle: 2054, system: 3072, unit: 3076, verticalUnit: 4099 };
const IN_DEGREES = 2;
/** The unit of angles (EPSG). */
const DEGREE = 9102;
const UNIT_OF: Readonly<Record<number, FileUnit>> = { 9001: 'm', 9002: 'ft', 9003: 'usft' };

/** Whether a TIFF holds elevations: one number a pixel, and in degrees nodes that are so close that they tell of ground. */
export function isTiffGrid(bytes: Uint8Array): boolean {
  const tags = tiffTags(bytes);
  if (!tags || !holdsNumbers(tags)) return false;
  const [step = tags.numbers(TAG.transformation)[0] ?? 0] = tags.numbers(TAG.scale);
  return tags.key(KEY.model) !== IN_DEGREES || Math.abs(step) < FAR_APART;
}

/** A GeoTIFF of elevations: one number a node, where its tags say. */
export function readTiffGrid(bytes: Uint8Array): ReadGrid {
  const tags = tiffTags(bytes);
  if (!tags) return { ok: false, reason: 'The grid is cut short: it has no directory.' };
  const degrees = tags.key(KEY.model) === IN_DEGREES;
  const angle = tags.key(KEY.angle) || DEGREE;
  if (degrees && angle !== DEGREE) return { ok: false, reason: `The places of the grid are angles in another unit than degrees (EPSG ${angle}). Ask for it in degrees or in a plane system.` }; // prettier-ignore
  const unit = degrees ? 'm' : (UNIT_OF[tags.key(KEY.unit)] ?? null);
  const place = tiffPlace({
    tie: tags.numbers(TAG.tie),
    scale: tags.numbers(TAG.scale),
    transformation: tags.numbers(TAG.transformation),
    // Where a place in degrees is, is worked out in the same way.
    modelType: degrees ? 1 : tags.key(KEY.model),
    rasterType: tags.key(KEY.raster) || 1,
    lengthUnit: degrees ? 0 : tags.key(KEY.unit),
    system: tags.key(degrees ? KEY.geographic : KEY.system),
  });
  if (!place.matrix) return { ok: false, reason: `The grid does not say where it is. ${place.remark ?? 'Ask for it with its place in its tags (GeoTIFF).'}` }; // prettier-ignore
  const read = tiffValues(bytes, tags, MOST_NODES);
  if (!read.ok) return read;
  const { values, columns, rows } = read;
  const none = Number(tags.text(TAG.none).trim() || NaN);
  const vertical = UNIT_OF[tags.key(KEY.verticalUnit)];
  // Elevations in the unit of the places, where both are said.
  const factor = vertical && unit ? METRES_IN_FILE[vertical] / METRES_IN_FILE[unit] : 1;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    values[i] = v === none || Math.abs(v) > HIGHEST ? NaN : v * factor;
  }
  // Values belong to the middles of pixels; the place's matrix counts from their corners.
  const [a, b, c, d, e, f] = place.matrix.map((v) => v / METRES_IN_FILE[unit ?? 'm']);
  return { ok: true, grid: { columns, rows, place: [a, b, c + (a + b) / 2, d, e, f + (d + e) / 2], values, unit, system: place.system, degrees } }; // prettier-ignore
}

/** Beyond this, in whatever unit, nothing is an elevation: files mark what they lack by it. */
const HIGHEST = 1e5;
