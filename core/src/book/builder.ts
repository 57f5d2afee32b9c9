import { atan2, cos, distance, sin } from '#core/kernel';
import { FILE_UNITS, METRES_IN_FILE } from '#core/measure';
import {
  emptyRecord,
  NO_QUALITY,
  PLAIN_INSTRUMENT,
  type Book,
  type BookRecord,
  type GnssQuality,
  type SightingRole,
} from './records.ts';
import { plainNumber, RecordValues, type BookHead, type RecordText } from './record-values.ts';

const KEPT = 1000;
const SECOND = 4.84813681109536e-6;
const QUARTER = 1.5707963267948966;

/** Makes records out of texts, whichever form they stand in: bounds, units and angle forms are looked after here. */
export class BookBuilder {
  private readonly head: BookHead = {
    unit: 'm',
    angle: 'dms',
    vertical: 'zenith',
    order: 'EN',
    flat: 'unsaid',
    earth: '',
    sealevel: '',
  };
  private readonly values = new RecordValues(this.head, {
    refuse: (reason) => this.refuse(reason),
    mention: (reason) => this.mention(reason),
  });
  private readonly said = new Set<string>();
  private readonly book: Book = {
    name: '',
    unit: 'm',
    angle: 'dms',
    records: [],
    instruments: [],
    targets: [],
    problems: [],
    problemCount: 0,
    rows: 0,
    complete: false,
  };
  private inSetup = false;
  private spoilt = false;
  private row = 0;
  private half = 0;
  private line = '';

  get complete(): boolean {
    return this.book.complete;
  }

  /** Begins with a row of the file: what is refused from here on stands in it. */
  at(row: number, line: string): void {
    this.row = row;
    this.spoilt = false;
    this.line = line;
  }

  /** What `work` records shares the current row with what it is named by, and stands half a row before it. */
  before(work: () => void): void {
    this.half = 0.5;
    work();
    this.half = 0;
    this.spoilt = false;
  }

  private get ownRow(): number {
    return this.row - this.half;
  }

  done(rows: number): Book {
    this.book.rows = rows;
    if (this.head.earth) this.book.earth = this.head.earth;
    if (this.head.sealevel) this.book.seaLevel = this.head.sealevel === 'yes';
    this.book.unit = this.head.unit;
    this.book.angle = this.head.angle === 'packed' ? 'dms' : this.head.angle;
    return this.book;
  }

  refuse(reason: string): void {
    this.spoilt = true;
    // A row is listed once, with the first reason.
    if (this.book.problems.at(-1)?.row === this.row) return;
    this.book.problemCount++;
    if (this.book.problems.length < KEPT)
      this.book.problems.push({ row: this.row, text: this.line.slice(0, 200), reason });
  }

  /** Lists something of the current row that is not kept, while its record is. */
  private mention(reason: string): void {
    const spoilt = this.spoilt;
    this.refuse(reason);
    this.spoilt = spoilt;
  }

  /** One record of the current row: its word, its values. */
  record(word: string, parts: RecordText, deleted: boolean): void {
    const { words } = parts;
    switch (word) {
      case 'book':
        if (words[0] !== '1') this.refuse(`version ${words[0] ?? ''} of the format is not read; only 1 is`);
        return;
      case 'name':
        this.book.name = parts.rest.slice(0, 200);
        return;
      case 'end':
        this.book.complete = true;
        return;
      case 'unit':
      case 'angle':
      case 'vertical':
      case 'order':
      case 'flat':
      case 'earth':
      case 'sealevel':
        return this.setting(word, words[0] ?? '');
      case 'instrument':
        return this.instrument(parts);
      case 'target':
        this.book.targets.push({ name: words[0] ?? '', constant: this.values.length(parts, 'constant', 0) });
        return;
      case 'remark':
        return this.push({ ...emptyRecord('remark', this.ownRow), text: parts.rest.slice(0, 2000), deleted });
      case 'weather': {
        const weather = {
          ...emptyRecord('weather', this.ownRow),
          temperature: this.values.number(parts, 't', -60, 70),
          pressure: this.values.number(parts, 'p', 400, 1200),
          humidity: this.values.number(parts, 'h', 0, 100),
          ppm: this.values.number(parts, 'ppm', -1000, 1000),
          deleted,
        };
        if (!this.spoilt) this.push(weather);
        return;
      }
      case 'setup':
        this.inSetup = true;
        return this.numbered('setup', parts, deleted, (r) => {
          r.height = this.values.length(parts, 'hi');
          r.instrument = parts.keys.get('instrument') ?? '';
          r.target = parts.keys.get('target') ?? '';
        });
      case 'back':
        return this.sighting('back', parts, deleted);
      case 'shot':
        return this.sighting('shot', parts, deleted);
      case 'check':
        return this.sighting('check', parts, deleted);
      case 'azimuth':
        if (!this.inSetup) return this.refuse('an azimuth comes before any setup');
        return this.numbered('azimuth', parts, deleted, (r) => {
          r.circle = this.values.angle(words[1] ?? '', 'the azimuth');
        });
      case 'point':
      case 'gnss':
        return this.numbered(word, parts, deleted, (r) => this.place(r, parts, word));
      case 'level':
        return this.level(parts, deleted);
      default:
        this.refuse(`“${word.slice(0, 30)}” is not a keyword of a book`);
        // Only a setup has an instrument height, however its word is spelt.
        if (parts.keys.has('hi') && !deleted) this.holdPlace(words[0] ?? `row ${this.row}`);
        return;
    }
  }

  private setting(word: keyof BookHead, value: string): void {
    const allowed: Record<keyof BookHead, string[]> = {
      unit: [...FILE_UNITS],
      angle: ['dms', 'deg', 'gon', 'packed'],
      vertical: ['zenith', 'elevation'],
      order: ['EN', 'NE'],
      flat: ['geometric', 'reduced'],
      earth: ['curved', 'plane'],
      sealevel: ['yes', 'no'],
    };
    if (!allowed[word].includes(value)) return this.refuse(`${word} is ${allowed[word].join(', ')}, not “${value}”`);
    if (this.book.records.length && this.said.has(word) && this.head[word] !== value)
      return this.refuse(`${word} changes in the middle of the book; begin another book`);
    this.said.add(word);
    (this.head as unknown as Record<string, string>)[word] = value;
  }

  private instrument(parts: RecordText): void {
    const seconds = (key: string): number => {
      const value = this.values.number(parts, key, 0, 3600);
      return Number.isNaN(value) ? PLAIN_INSTRUMENT.direction : value * SECOND;
    };
    const plain = PLAIN_INSTRUMENT;
    const or = (value: number, other: number): number => (Number.isNaN(value) ? other : value);
    this.book.instruments.push({
      name: parts.words[0] ?? '',
      direction: seconds('direction'),
      zenith: parts.keys.has('zenith') ? seconds('zenith') : seconds('direction'),
      distance: or(this.values.number(parts, 'distance', 0, 1000) / 1000, plain.distance),
      ppm: or(this.values.number(parts, 'ppm', 0, 1000), plain.ppm),
      constant: this.values.length(parts, 'constant', 0),
      wavelength: or(this.values.number(parts, 'wavelength', 0.3, 2), plain.wavelength),
    });
  }

  private push(record: BookRecord): void {
    this.book.records.push(record);
  }

  private numbered(
    kind: BookRecord['kind'],
    parts: RecordText,
    deleted: boolean,
    fill: (record: BookRecord) => void,
  ): void {
    const number = parts.words[0];
    if (!number) {
      this.refuse(`the ${kind} has no number`);
      if (kind === 'setup' && !deleted) this.holdPlace(`row ${this.row}`);
      return;
    }
    const record = {
      ...emptyRecord(kind, this.ownRow),
      number: number.slice(0, 200),
      code: (parts.keys.get('code') ?? '').slice(0, 2000),
      time: (parts.keys.get('time') ?? '').slice(0, 40),
      deleted,
    };
    fill(record);
    // A value that cannot be read leaves the whole record out: half a reading is none.
    if (!this.spoilt) this.push(record);
    else if (kind === 'setup' && !deleted) this.holdPlace(record.number);
  }

  /** A setup that could not be read keeps its place without its height: what follows is not seen from the one before. */
  holdPlace(number: string): void {
    this.inSetup = true;
    this.push({ ...emptyRecord('setup', this.ownRow), number });
  }

  /** `role` is a word of the program, not the file's own letters: the one compares at once, the others letter by letter. */
  private sighting(role: SightingRole, parts: RecordText, deleted: boolean): void {
    if (!this.inSetup) return this.refuse('a sighting comes before any setup');
    this.numbered('sighting', parts, deleted, (r) => {
      const { keys } = parts;
      r.role = role;
      r.face = this.values.whole(parts, 'face', 0, 2);
      r.round = this.values.whole(parts, 'round', 0, 10_000);
      r.height = this.values.length(parts, 'th');
      r.circle = keys.has('circle') ? this.values.angle(keys.get('circle')!, 'the circle') : NaN;
      r.zenith = keys.has('zenith') ? this.values.vertical(keys.get('zenith')!, r) : NaN;
      r.distance = this.values.length(parts, 'dist');
      if (Number.isNaN(r.distance) && keys.has('hdist')) this.laidFlat(r, parts);
      r.target = keys.get('target') ?? '';
      r.sd = this.values.deviations(parts);
      if (r.distance < 0) this.refuse('the distance is negative');
    });
  }

  /** Where the instrument wrote down a horizontal distance and a rise, the sloping reading that they come from. */
  private laidFlat(r: BookRecord, parts: RecordText): void {
    const flat = this.values.length(parts, 'hdist');
    const rise = this.values.length(
      parts,
      'rise',
      Number.isNaN(r.zenith) ? NaN : (flat * cos(r.zenith)) / sin(r.zenith),
    );
    if (Number.isNaN(flat)) return;
    r.flat = Number.isNaN(rise) ? 'plan' : this.head.flat;
    r.distance = Number.isNaN(rise) ? flat : distance(flat, rise);
    if (!Number.isNaN(r.zenith) || Number.isNaN(rise)) return;
    const zenith = atan2(flat, rise);
    r.zenith = r.face === 2 ? 4 * QUARTER - zenith : zenith;
  }

  private place(r: BookRecord, parts: RecordText, word: 'point' | 'gnss'): void {
    const factor = METRES_IN_FILE[this.head.unit];
    const [a, b, c] = [1, 2, 3].map((i) => {
      const text = parts.words[i];
      if (text === undefined || text === '-') return NaN;
      const value = plainNumber(text);
      if (Number.isNaN(value)) this.refuse(`“${text.slice(0, 30)}” is not a coordinate`);
      return value * factor;
    });
    if (Number.isNaN(a) || Number.isNaN(b)) return this.refuse('two coordinates are needed');
    if (Math.abs(a) > 1e8 || Math.abs(b) > 1e8) return this.refuse('the coordinates are farther away than any place');
    [r.x, r.y] = this.head.order === 'EN' ? [a, b] : [b, a];
    r.z = c;
    if (word === 'point') {
      if (parts.keys.get('use') === 'plan') r.z = NaN;
      else if (parts.keys.has('use')) this.refuse('use is plan, or is not said');
      if (parts.keys.get('standing') === 'control') r.role = 'control';
      else if (parts.keys.has('standing')) this.refuse('standing is control, or is not said');
      r.code ||= parts.words.slice(4).join(' ');
      return;
    }
    r.height = this.values.length(parts, 'ah');
    const q: GnssQuality = { ...NO_QUALITY };
    q.plan = this.values.length(parts, 'sp');
    q.height = this.values.length(parts, 'sh');
    q.covariance = this.values.covariance(parts);
    if (q.covariance) {
      const [xx, yy, zz] = q.covariance;
      if (Number.isNaN(q.plan)) q.plan = Math.sqrt((xx + yy) / 2);
      if (Number.isNaN(q.height)) q.height = Math.sqrt(zz);
    }
    q.satellites = this.values.number(parts, 'sats', 0, 200);
    q.pdop = this.values.number(parts, 'pdop', 0, 1000);
    q.hdop = this.values.number(parts, 'hdop', 0, 1000);
    q.vdop = this.values.number(parts, 'vdop', 0, 1000);
    q.tilt = this.values.tilt(parts.keys.get('tilt'));
    q.fix = parts.keys.get('fix') ?? '';
    q.method = parts.keys.get('method') ?? '';
    q.base = parts.keys.get('base') ?? '';
    q.warning = parts.keys.get('warning') ?? '';
    r.gnss = q;
  }

  private level(parts: RecordText, deleted: boolean): void {
    const role = parts.words.shift()?.toLowerCase();
    if (role !== 'back' && role !== 'inter' && role !== 'fore')
      return this.refuse('a level reading is back, inter or fore');
    this.numbered('level', parts, deleted, (r) => {
      r.role = role;
      r.height = this.values.length(parts, 'reading');
      r.distance = this.values.length(parts, 'dist');
      if (Number.isNaN(r.height)) this.refuse('the staff reading is missing');
    });
  }
}
