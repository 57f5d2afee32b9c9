import { closeSync, openSync, readSync } from 'node:fs';
import { basename } from 'node:path';
import { DxfReader, DxfTally, decodeText, notReadOf, drawingUnit, emptyLayers, feedWhole, formatOfEnding, isDxf, isPlainFile, tallyOf, type Box, type EmptyLayers, type LayerKind } from '#core/exchange'; // prettier-ignore
import { METRES_IN_FILE } from '#core/measure';
import { boundedBytes, unitIn, type Loaded, type TextOptions } from '../load.ts';
import { systemClaimed } from '../registry.ts';
import { cannotOpen, CannotDo } from '../problems.ts';
import type { Outcome } from '../verb.ts';

const PIECE = 1 << 20;
const HEAD = 8192;
export const MOST_ROWS = 60;

/** Whether a file is a drawing: by its beginning, or by its name where it begins otherwise. */
export function isDrawing(file: string): boolean {
  const head = pieces(file, HEAD).next().value ?? new Uint8Array(0);
  return isDxf(head) || formatOfEnding(basename(file)).name === 'dxf';
}

/** A drawing as a table of layers and kinds. It is looked at as it is read, piece by piece: nothing is kept but what is counted. */
export function inspectDrawing(path: string, options: TextOptions): Outcome {
  const file = basename(path);
  const tally = new DxfTally();
  const reader = new DxfReader(tally);
  feedFile(reader, path);
  const { version, kinds, layers, onPaper, problems, units, blocks } = reader.facts;
  if (Object.keys(kinds).length + onPaper === 0) {
    const [why] = problems;
    throw new CannotDo(`${file} holds nothing that can be read${why ? `: line ${why.line}: ${why.what}` : ''}.`);
  }
  const unit = unitIn(options.unit) ?? drawingUnit(units);
  const { rows, extent } = inMetres(tally.table(reader.facts), METRES_IN_FILE[unit ?? 'm']);
  const empty = emptyLayers(reader.facts);
  const external = [...blocks.values()].flatMap(({ name, external: of }) => (of === null ? [] : [{ where: `block ${name}`, why: `it is kept in another file, ${of}` }])); // prettier-ignore
  const notRead = [...problems.map((p) => ({ where: `line ${p.line}`, why: p.what })), ...external];
  const put = [...tally.puts].map(([name, count]) => ({ name, count }));
  const basis = { unit, system: null, known: null, geoid: null, degrees: false, insideArea: null };
  return {
    json: { file, kind: 'dxf', unit, version, inPaperSpace: onPaper, counts: kinds, layers, emptyLayers: empty.names, extent, rows, blocks: put, notRead, basis }, // prettier-ignore
    text: [
      `${file}: dxf ${version}, unit ${unit ?? 'not stated'}`,
      ...rowsAsText(rows, MOST_ROWS),
      ...(put.length ? [`  blocks: ${put.slice(0, 20).map(({ name, count }) => `${name} × ${count}`).join(', ')}${put.length > 20 ? ' …' : ''}`] : []), // prettier-ignore
      ...(empty.count ? [`  ${emptyText(empty)}`] : []),
      ...(onPaper ? [`  ${onPaper} in paper space, on sheets: no part of the site`] : []),
      `  ${extent ? `E ${extent[0].toFixed(3)} … ${extent[2].toFixed(3)}, N ${extent[1].toFixed(3)} … ${extent[3].toFixed(3)} m` : 'no extent'}`, // prettier-ignore
      `  basis claimed: ${unit ? `unit ${unit}` : 'no unit'}, no system, no geoid`,
      ...notRead.slice(0, 20).map((p) => `  not read: ${p.where}: ${p.why}`),
    ].join('\n'),
  };
}

/** A Shapefile or a GeoPackage as a table of layers and kinds. */
export function inspectShapes(loaded: Extract<Loaded, { kind: 'dxf' }>, options: TextOptions): Outcome {
  const { file, content, called = 'drawing', system = null } = loaded;
  if (Object.keys(content.kinds).length === 0) throw new CannotDo(`${file} holds nothing that can be read: ${content.problems[0]?.what ?? 'no shapes'}.`); // prettier-ignore
  const unit = unitIn(options.unit) ?? loaded.unit;
  const tally = tallyOf(content);
  const { rows, extent } = inMetres(tally.table(content), METRES_IN_FILE[unit ?? 'm']);
  const notRead = notReadOf(loaded).notRead;
  const known = systemClaimed(system);
  const basis = { unit, system, known: known ? { code: known.code, name: known.name } : null, geoid: null, degrees: false, insideArea: null }; // prettier-ignore
  return {
    json: {
      file,
      kind: called.toLowerCase(),
      unit,
      counts: content.kinds,
      layers: content.layers,
      extent,
      rows,
      notRead,
      basis,
    },
    text: [
      `${file}: ${called}, unit ${unit ?? 'not stated'}, ${system ? `system ${system}` : 'no system'}`,
      ...rowsAsText(rows, MOST_ROWS),
      `  ${extent ? `E ${extent[0].toFixed(3)} … ${extent[2].toFixed(3)}, N ${extent[1].toFixed(3)} … ${extent[3].toFixed(3)} m` : 'no extent'}`, // prettier-ignore
      ...notRead.slice(0, 20).map((p) => `  not read: ${p.where}: ${p.why}`),
    ].join('\n'),
  };
}

export function inMetres({ rows, box }: ReturnType<DxfTally['table']>, factor: number) {
  const scaled = (list: Box): Box => list.map((v) => v * factor) as Box;
  const metres = (v: number | null): number | null => (v === null ? null : v * factor);
  return {
    rows: rows.map((r) => ({
      ...r,
      box: r.box && scaled(r.box),
      lowest: metres(r.lowest),
      highest: metres(r.highest),
    })),
    extent: box && scaled(box),
  };
}

/** Plain files are read as they come; what has to be turned into something else first, whole. */
function feedFile(reader: DxfReader, file: string): void {
  let first = true;
  for (const piece of pieces(file, PIECE)) {
    if (first && !isPlainFile(piece)) return feedWhole(reader, wholeDrawing(file));
    first = false;
    if (!reader.feed(piece)) return;
  }
  reader.feed(new Uint8Array(0), true);
}

/** The bytes of a drawing that is no plain text; what is no drawing at all is refused with what to ask for. */
function wholeDrawing(file: string): Uint8Array {
  const bytes = boundedBytes(file);
  const decoded = isDxf(bytes) ? null : decodeText(bytes);
  if (decoded && !decoded.ok) throw new CannotDo(`${basename(file)}: ${decoded.reason}`);
  return bytes;
}

/** A file in pieces, each of its own: who takes one may keep it. */
function* pieces(file: string, size: number): Generator<Uint8Array, void> {
  let open: number | null = null;
  try {
    open = openSync(file, 'r');
    for (;;) {
      const piece = new Uint8Array(size);
      const n = readSync(open, piece, 0, size, null);
      if (n === 0) return;
      yield piece.subarray(0, n);
    }
  } catch (error) {
    throw error instanceof CannotDo ? error : cannotOpen(file, error);
  } finally {
    if (open !== null) closeSync(open);
  }
}

const emptyText = ({ names, count }: EmptyLayers): string =>
  `empty layers: ${names.slice(0, 20).join(', ')}${count > 20 ? ` and ${count - 20} more` : ''}`;

const extentText = ([w, s, e, n]: Box): string => `E ${w.toFixed(1)} … ${e.toFixed(1)}, N ${s.toFixed(1)} … ${n.toFixed(1)} m`; // prettier-ignore

/** A table of layers and kinds, as lines of text. */
export function rowsAsText(rows: readonly LayerKind[], most: number): string[] {
  const said = rows.slice(0, most).map((r) => [
    r.layer,
    r.block === undefined ? r.kind : `${r.kind} ${r.block}`,
    String(r.count),
    r.lowest === null ? (r.read ? 'no elevation' : 'not read') : `${r.lowest.toFixed(3)} … ${r.highest!.toFixed(3)} m`,
    r.box ? extentText(r.box) : '',
    [r.flat && r.lowest !== null ? `${r.flat} without elevation` : '', r.far ? `${r.far} far away` : '', r.hidden ? 'layer hidden' : ''].filter(Boolean).join(', '), // prettier-ignore
  ]);
  const wide = [0, 1, 2, 3, 4].map((k) => Math.max(0, ...said.map((row) => row[k].length)));
  const lines = said.map((row) => `  ${row.map((cell, k) => (k === 2 ? cell.padStart(wide[k]) : k < 5 ? cell.padEnd(wide[k]) : cell)).join('  ').trimEnd()}`); // prettier-ignore
  return rows.length > most ? [...lines, `  … and ${rows.length - most} more layers and kinds`] : lines;
}
