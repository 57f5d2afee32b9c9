import { withoutTail } from '#core/kernel';
import proj4 from 'proj4';
import type { GeographicArea } from './system.ts';

// Datum grids by file name. What computes with them is proj4; what it would take on trust is checked here first.

interface Held {
  key: string;
  boxes: GeographicArea[];
}

const held = new Map<string, Held>();

/** Where a grid that has been taken in applies, degrees; undefined when it has not been. */
export const gridBoxes = (name: string): GeographicArea[] | undefined => held.get(name)?.boxes;
/** The name under which proj4 knows the grid: names of two projects may be alike, contents never. */
export const gridKey = (name: string): string => held.get(name)?.key ?? name;

export interface DatumGridFacts {
  subgrids: { name: string; parent: string; area: GeographicArea; rows: number; columns: number }[];
  /** Ellipsoid names or systems as the file states them. */
  from: string;
  to: string;
}

export type ReadDatumGrid = { ok: true; facts: DatumGridFacts } | { ok: false; reason: string };

/**
 * Checks an NTv2 grid file (overview header of 11 records of 16 bytes, then each subgrid's header of 11
 * records and its nodes of 16 bytes, as the PROJ documentation lays it out; seconds of arc, longitude west).
 */
export const isNtv2 = (bytes: Uint8Array): boolean => String.fromCharCode(...bytes.subarray(0, 8)) === 'NUM_OREC';

export function readNtv2(bytes: Uint8Array): ReadDatumGrid {
  const no = (reason: string): ReadDatumGrid => ({ ok: false, reason });
  if (bytes.length < 352) return no('The file is too short for an NTv2 grid.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const text = (at: number): string => withoutTail(String.fromCharCode(...bytes.subarray(at, at + 8)), '\0 ');
  if (text(0) !== 'NUM_OREC') return no('This is not an NTv2 grid: it does not begin with NUM_OREC.');
  const little = view.getInt32(8, true) === 11;
  if (!little && view.getInt32(8, false) !== 11) return no('The overview of this NTv2 grid does not have 11 records.');
  const count = view.getInt32(40, little);
  if (count < 1 || count > 10_000) return no(`The grid file states ${count} subgrids, which cannot be.`);
  if (text(56) !== 'SECONDS') return no(`The shifts are in “${text(56)}”; seconds of arc are read.`);
  const subgrids: DatumGridFacts['subgrids'] = [];
  let at = 176;
  for (let i = 0; i < count; i++) {
    if (at + 176 > bytes.length) return no(`The grid file is cut short: subgrid ${i + 1} of ${count} is missing.`);
    const f = (record: number): number => view.getFloat64(at + 16 * record + 8, little);
    const [south, north, eastW, westW, dLat, dLon] = [f(4), f(5), f(6), f(7), f(8), f(9)];
    const nodes = view.getInt32(at + 168, little);
    const name = text(at + 8) || `subgrid ${i + 1}`;
    if (
      ![south, north, eastW, westW].every(Number.isFinite) ||
      !(dLat > 0 && dLon > 0 && north > south && westW > eastW)
    )
      return no(`The limits of subgrid ${name} make no area.`);
    const rows = Math.round((north - south) / dLat) + 1;
    const columns = Math.round((westW - eastW) / dLon) + 1;
    if (rows * columns !== nodes)
      return no(`Subgrid ${name} states ${nodes} nodes, but its limits make ${rows} × ${columns} = ${rows * columns}.`);
    if (at + 176 + nodes * 16 > bytes.length)
      return no(
        `The grid file is cut short: subgrid ${name} needs ${nodes} nodes, ${Math.floor((bytes.length - at - 176) / 16)} are there.`,
      );
    subgrids.push({
      name,
      parent: text(at + 24),
      area: { south: south / 3600, north: north / 3600, west: -westW / 3600, east: -eastW / 3600 },
      rows,
      columns,
    });
    at += 176 + nodes * 16;
  }
  return { ok: true, facts: { subgrids, from: text(88), to: text(104) } };
}

/** Takes a checked NTv2 grid in under its file name; `hash` tells contents of one name apart. */
export function holdNtv2(name: string, hash: string, bytes: Uint8Array): ReadDatumGrid {
  const read = readNtv2(bytes);
  if (!read.ok) return read;
  const key = `${hash.slice(0, 16)}.gsb`;
  const known = held.get(name);
  if (known?.key === key) return read;
  const grid = proj4.nadgrid(key, bytes.slice().buffer as ArrayBuffer) as unknown as { subgrids: unknown[] };
  // The finest first: a place in a subgrid and in its parent belongs to the subgrid.
  const depth = read.facts.subgrids.map((s) => depthOf(s.name, read.facts));
  const order = grid.subgrids.map((_, i) => i).sort((a, b) => depth[b] - depth[a] || a - b);
  const sorted = order.map((i) => grid.subgrids[i]);
  grid.subgrids.splice(0, sorted.length, ...sorted);
  held.set(name, { key, boxes: read.facts.subgrids.map((s) => s.area) });
  return read;
}

function depthOf(name: string, facts: DatumGridFacts): number {
  let depth = 0;
  let at = facts.subgrids.find((s) => s.name === name);
  while (at && at.parent !== 'NONE' && at.parent !== '' && depth < 20) {
    depth++;
    const { parent } = at;
    at = facts.subgrids.find((s) => s.name === parent);
  }
  return depth;
}

/** A part of `geotiff`'s image that is needed here, so that core does not depend on how the file was opened. */
export interface OpenedTiff {
  getImageCount: () => Promise<number>;
  getImage: (i: number) => Promise<{
    getWidth: () => number;
    getHeight: () => number;
    getSamplesPerPixel: () => number;
    getBoundingBox: () => number[];
  }>;
}

/** Takes a GeoTIFF datum grid in: two bands or more, latitude and longitude offsets in seconds of arc, as PROJ documents them. */
export async function holdTiffGrid(name: string, hash: string, tiff: OpenedTiff): Promise<ReadDatumGrid> {
  const key = `${hash.slice(0, 16)}.tif`;
  const subgrids: DatumGridFacts['subgrids'] = [];
  for (let i = 0; i < (await tiff.getImageCount()); i++) {
    const image = await tiff.getImage(i);
    if (image.getSamplesPerPixel() < 2)
      return { ok: false, reason: `${name} has one band; a datum grid has latitude and longitude offsets in two.` };
    const [west, south, east, north] = image.getBoundingBox();
    subgrids.push({
      name: `image ${i + 1}`,
      parent: 'NONE',
      area: { west, south, east, north },
      rows: image.getHeight(),
      columns: image.getWidth(),
    });
  }
  await (proj4.nadgrid(key, tiff as never) as unknown as { ready: Promise<unknown> }).ready;
  held.set(name, { key, boxes: subgrids.map((s) => s.area) });
  return { ok: true, facts: { subgrids, from: '', to: '' } };
}
