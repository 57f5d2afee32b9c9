import { plainNumber } from '#core/measure';
import {
  Gathered,
  type DxfBlock,
  type DxfContent,
  type DxfInsert,
  type DxfLayerState,
  type DxfSink,
} from './content.ts';
import { asciiOfBinary, isBinaryDxf } from './binary.ts';
import { ENTITY, insertOf } from './entities.ts';
import { EntityFields } from './entity-fields.ts';
import { isFaceRecord, OpenPolyline } from './open-polyline.ts';
import { DxfRecords, type DxfRecord } from './records.ts';
import { decodeText } from '../text/decode.ts';
import { unescaped } from './text.ts';
import { encodingOf, lettersOf } from './written.ts';

// Reads the drawing exchange format on its own terms: it shares nothing with the writer, so that a file
// read back by it has really been checked.

/** What a drawing says of itself, besides what it draws. */
export type DxfFacts = Omit<DxfContent, keyof Gathered>;

const MOST_PROBLEMS = 200;
/** Bytes that are looked through at once. */
const PIECE = 1 << 20;
const MOST_BLOCKS = 100_000;

/** By its beginning: comments, then a section; or the mark of a binary drawing. Letters of two bytes have empty ones between. */
export const isDxf = (bytes: Uint8Array): boolean =>
  isBinaryDxf(bytes) || isDxfText(String.fromCharCode(...bytes.subarray(0, 8000).filter((b) => b !== 0 && b < 128)));

const isDxfText = (text: string): boolean =>
  /^\s{0,20}(?:999\r?\n[^\n]{0,300}\n\s{0,20}){0,20}0\s{0,10}\r?\n\s{0,10}SECTION/.test(text);

/** Counts by names that a file chooses: none of them is something that every object has. */
const counts = (): Record<string, number> => Object.create(null) as Record<string, number>;

const nothingYet = (): DxfFacts => ({
  version: '',
  encoding: 'windows-1252',
  units: null,
  blocks: new Map(),
  layerStates: new Map(),
  layersElsewhere: new Set(),
  kinds: counts(),
  layers: counts(),
  unread: counts(),
  unreadOn: new Map(),
  onPaper: 0,
  problems: [],
  problemCount: 0,
  whole: false,
});

/**
 * Reads a drawing, ASCII or binary, as its bytes come; anything else gives a problem, never an exception. A group that the
 * format lets be absent is 0; an entity with one that is no number, or without a coordinate in plan, is named and left out.
 */
export class DxfReader {
  readonly facts = nothingYet();
  private readonly records: DxfRecords;
  private section = '';
  private table = '';
  private page = '';
  /** Where entities go: model space, or the block that is being read; null in a block that is a sheet. */
  private into: DxfSink | null;
  /** Null where a POLYLINE is passed over: what follows it is too. */
  private open: OpenPolyline | 'passed' | null = null;
  /** The symbol that attributes are said of. */
  private owner: DxfInsert | 'passed' | null = null;
  private block: DxfBlock | null = null;

  constructor(private readonly sink: DxfSink) {
    this.into = sink;
    this.records = new DxfRecords((record) => this.take(record));
    this.records.record.written(lettersOf(''));
  }

  /** The next bytes; false where no more are wanted. */
  feed(bytes: Uint8Array, last = false): boolean {
    const more = this.records.feed(bytes, last);
    if (!last && more) return true;
    const { stopped, line } = this.records;
    if (stopped) this.problem(stopped.line, stopped.what);
    if (!this.facts.whole) {
      this.closeOpen('before the file ends');
      this.problem(line, 'the file has no end mark: it may be cut short');
    }
    return false;
  }

  private readonly problem = (line: number, what: string): void => {
    const { facts } = this;
    facts.problemCount++;
    if (facts.problems.length < MOST_PROBLEMS) facts.problems.push({ line, what });
  };

  /** One record; false at the end mark. */
  private take(record: DxfRecord): boolean {
    switch (record.kind) {
      case 'SECTION':
        // Its name is its first group; in a header others follow.
        this.section = record.count > 0 && record.codes[0] === 2 ? record.textAt(0).trim() : '';
        this.into = this.section === 'BLOCKS' ? null : this.sink;
        if (this.section === 'HEADER') this.header(record);
        return true;
      case 'ENDSEC':
        this.closeOpen('before its section ends');
        this.endBlock();
        this.section = '';
        return true;
      case 'EOF':
        this.closeOpen('before the file ends');
        this.facts.whole = true;
        return false;
    }
    if (this.section === 'TABLES') this.inTables(record);
    else if (this.section === 'BLOCKS') this.inBlocks(record);
    else if (this.section === 'ENTITIES') this.entity(record);
    return true;
  }

  private header(record: DxfRecord): void {
    let variable = '';
    for (let i = 0; i < record.count; i++) {
      if (record.codes[i] === 9) variable = record.textAt(i).trim();
      else if (variable === '$ACADVER') this.facts.version = record.textAt(i).trim();
      else if (variable === '$DWGCODEPAGE') this.page = record.textAt(i).trim().toUpperCase();
      else if (variable === '$INSUNITS') {
        const said = record.textAt(i);
        const units = plainNumber(said);
        if (Number.isNaN(units))
          this.problem(record.line + 2 * i + 2, `$INSUNITS is “${said.slice(0, 30)}”, not a number`); // prettier-ignore
        else this.facts.units = units;
      }
    }
    record.written(lettersOf(this.page));
    this.facts.encoding = encodingOf(this.facts.version, this.page);
  }

  private inTables(record: DxfRecord): void {
    if (record.kind === 'TABLE') this.table = record.name(2);
    else if (record.kind === 'LAYER' && this.table === 'LAYER') {
      const [flags, colour] = [record.indexOf(70), record.indexOf(62)].map((i) => (i < 0 ? 0 : record.numberAt(i)));
      const name = unescaped(record.name(2));
      const state: DxfLayerState = {
        name,
        hidden: (flags & 1) !== 0 || colour < 0,
        colour: colour ? Math.abs(colour) : null,
      };
      this.facts.layerStates.set(name.toUpperCase(), state);
    }
  }

  private inBlocks(record: DxfRecord): void {
    if (record.kind === 'BLOCK') {
      this.closeOpen('before the next block');
      this.endBlock();
      const of = new EntityFields(record, 'BLOCK', '', this.problem);
      const name = unescaped(record.name(2));
      // Sheets stand among the blocks: they are put nowhere.
      const sheet = /^[*$](?:paper|model)_space/i.test(name);
      const external = (of.value(70) & 4) !== 0 ? unescaped(record.name(1)) || name : null;
      const base: [number, number, number] = [of.value(10), of.value(20), of.value(30)];
      const entities = new Gathered();
      this.into = sheet || of.spoilt ? null : entities;
      if (this.facts.blocks.size >= MOST_BLOCKS) this.into = null;
      else if (this.into) this.block = { name, base, external, entities };
    } else if (record.kind === 'ENDBLK') {
      this.closeOpen('before its block ends');
      this.endBlock();
    } else this.entity(record);
  }

  private endBlock(): void {
    if (this.block) this.facts.blocks.set(this.block.name.toUpperCase(), this.block);
    this.block = null;
    this.owner = null;
    // What stands between blocks is of none, and of no model space either.
    if (this.section === 'BLOCKS') this.into = null;
  }

  private closeOpen(why: string | null): void {
    const { open } = this;
    if (open && open !== 'passed') {
      if (why) this.problem(open.line, `a POLYLINE has no SEQEND ${why}; what it has is kept`);
      if (this.into) open.finish(this.into, this.problem);
    }
    this.open = null;
  }

  private entity(record: DxfRecord): void {
    const { kind } = record;
    const { open, owner } = this;
    if (kind === 'VERTEX') {
      if (!open) this.problem(record.line, 'a VERTEX outside any POLYLINE');
      else if (open !== 'passed') vertex(new EntityFields(record, kind, '', this.problem), open);
      return;
    }
    if (kind === 'ATTRIB') {
      if (!owner) this.problem(record.line, 'an ATTRIB outside any INSERT');
      else if (owner !== 'passed') owner.attributes[unescaped(record.name(2))] = unescaped(record.text(1));
      return;
    }
    if (kind === 'SEQEND') return this.closeOpen(null);
    this.closeOpen('before the next entity');
    this.owner = null;
    const of = new EntityFields(record, kind, unescaped(record.name(8)) || '0', this.problem);
    if (this.passedOver(of)) {
      // What follows belongs to it.
      if (kind === 'POLYLINE') this.open = 'passed';
      if (kind === 'INSERT') this.owner = 'passed';
      return;
    }
    if (kind === 'POLYLINE') this.open = openPolyline(of);
    else if (kind === 'INSERT') {
      const insert = insertOf(of);
      this.owner = insert ?? 'passed';
      if (insert) this.into!.insert(insert);
    } else ENTITY[kind](of, this.into!);
  }

  /** Counts an entity, and whether nothing more comes of it: it is on a sheet, of a kind that is not read, or of a block's wording. */
  private passedOver(of: EntityFields): boolean {
    const { facts } = this;
    const { kind, layer } = of;
    const known = kind === 'POLYLINE' || Object.hasOwn(ENTITY, kind);
    if (this.section === 'BLOCKS') {
      facts.layersElsewhere.add(layer.toUpperCase());
      return !this.into || !known;
    }
    if (of.value(67) === 1) {
      facts.layersElsewhere.add(layer.toUpperCase());
      facts.onPaper++;
      return true;
    }
    facts.kinds[kind] = (facts.kinds[kind] ?? 0) + 1;
    facts.layers[layer] = (facts.layers[layer] ?? 0) + 1;
    if (!known) this.notRead(kind, layer);
    return !known;
  }

  private notRead(kind: string, layer: string): void {
    const { unread, unreadOn } = this.facts;
    unread[kind] = (unread[kind] ?? 0) + 1;
    const on = unreadOn.get(layer) ?? new Map<string, number>();
    unreadOn.set(layer, on.set(kind, (on.get(kind) ?? 0) + 1));
  }
}

function openPolyline(of: EntityFields): OpenPolyline {
  const [m, n, smoothM, smoothN, smoothed] = [71, 72, 73, 74, 75].map((code) => of.value(code));
  const size = { m, n, smoothM, smoothN, smoothed: smoothed !== 0 };
  const head = { layer: of.layer, flags: of.value(70), elevation: of.value(30), plane: of.plane(), size, ...of.said() };
  return new OpenPolyline({ ...head, spoilt: of.spoilt }, of.record.line);
}

/** A place of a polyline, or a face of a mesh, which stands nowhere. */
function vertex(of: EntityFields, open: OpenPolyline): void {
  const flags = of.value(70);
  const [x, y] = isFaceRecord(flags) ? [0, 0] : [of.place(10), of.place(20)];
  const z = of.record.has(30) ? of.value(30) : null;
  const face = [71, 72, 73, 74].map((code) => of.value(code));
  open.add({ x, y, z, bulge: of.value(42), flags, face, line: of.record.line });
  open.spoilt ||= of.spoilt;
}

/** All that a drawing holds, from its bytes or its text. */
export function readDxf(file: Uint8Array | string): DxfContent {
  const all = new Gathered();
  const reader = new DxfReader(all);
  feedWhole(reader, typeof file === 'string' ? new TextEncoder().encode(file) : file);
  const { points, polylines, curves, faces, texts, inserts, hatches } = all;
  return { ...reader.facts, points, polylines, curves, faces, texts, inserts, hatches };
}

/** Gives a reader a file whose bytes are all there, however it is written. */
export function feedWhole(reader: DxfReader, bytes: Uint8Array): void {
  if (isBinaryDxf(bytes)) asciiOfBinary(bytes, (piece, last) => reader.feed(piece, last));
  else feedPieces(reader, isPlainFile(bytes) ? bytes : asPlainRows(bytes));
}

function feedPieces(reader: DxfReader, bytes: Uint8Array): void {
  for (let at = 0; at < bytes.length; at += PIECE) if (!reader.feed(bytes.subarray(at, at + PIECE))) return;
  reader.feed(bytes.subarray(0, 0), true);
}

/** Whether rows end in line feeds and letters are of one byte, as nearly all have them: those are read as they come. */
export function isPlainFile(head: Uint8Array): boolean {
  const some = head.subarray(0, 4096);
  return !some.includes(0) && (some.includes(10) || !some.includes(13));
}

function asPlainRows(bytes: Uint8Array): Uint8Array {
  const decoded = decodeText(bytes);
  return decoded.ok ? new TextEncoder().encode(decoded.text) : bytes;
}
