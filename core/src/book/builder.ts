import { atan2, cos, distance, sin } from '#core/kernel';
import { FILE_UNITS, METRES_IN_FILE, readAngle, type AngleForm, type FileUnit } from '#core/measure';
import {
  emptyRecord,
  NO_QUALITY,
  PLAIN_INSTRUMENT,
  type Book,
  type BookRecord,
  type GnssQuality,
  type SightingRole,
} from './records.ts';

const KEPT = 1000;
const SECOND = 4.84813681109536e-6;
const HALF_TURN = 3.141592653589793;
const QUARTER = 1.5707963267948966;

export interface BookHead {
  unit: FileUnit;
  /** Packed: 123.4506 is 123°45′06″. */
  angle: AngleForm | 'packed';
  vertical: 'zenith' | 'elevation';
  order: 'EN' | 'NE';
  /** Whether level distances and rises have curvature and refraction applied already. */
  flat: 'geometric' | 'reduced' | 'unsaid';
  earth: 'curved' | 'plane' | '';
  sealevel: 'yes' | 'no' | '';
}

/** One record as text: what stands behind its word in order, its named values, and all of it as it stands. */
export interface RecordText {
  words: string[];
  keys: ReadonlyMap<string, string>;
  rest: string;
}

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
        if (words[0] !== '1') this.refuse(`version ${words[0] ?? ''} of the form is none that is read; 1 is`);
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
        this.book.targets.push({ name: words[0] ?? '', constant: this.length(parts, 'constant', 0) });
        return;
      case 'remark':
        return this.push({ ...emptyRecord('remark', this.ownRow), text: parts.rest.slice(0, 2000), deleted });
      case 'weather': {
        const weather = {
          ...emptyRecord('weather', this.ownRow),
          temperature: this.number(parts, 't', -60, 70),
          pressure: this.number(parts, 'p', 400, 1200),
          humidity: this.number(parts, 'h', 0, 100),
          ppm: this.number(parts, 'ppm', -1000, 1000),
          deleted,
        };
        if (!this.spoilt) this.push(weather);
        return;
      }
      case 'setup':
        this.inSetup = true;
        return this.numbered('setup', parts, deleted, (r) => {
          r.height = this.length(parts, 'hi');
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
        if (!this.inSetup) return this.refuse('an azimuth stands before any setup');
        return this.numbered('azimuth', parts, deleted, (r) => {
          r.circle = this.angle(words[1] ?? '', 'the azimuth');
        });
      case 'point':
      case 'gnss':
        return this.numbered(word, parts, deleted, (r) => this.place(r, parts, word));
      case 'level':
        return this.level(parts, deleted);
      default:
        this.refuse(`“${word.slice(0, 30)}” is no word of a book`);
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
      const value = this.number(parts, key, 0, 3600);
      return Number.isNaN(value) ? PLAIN_INSTRUMENT.direction : value * SECOND;
    };
    const plain = PLAIN_INSTRUMENT;
    const or = (value: number, other: number): number => (Number.isNaN(value) ? other : value);
    this.book.instruments.push({
      name: parts.words[0] ?? '',
      direction: seconds('direction'),
      zenith: parts.keys.has('zenith') ? seconds('zenith') : seconds('direction'),
      distance: or(this.number(parts, 'distance', 0, 1000) / 1000, plain.distance),
      ppm: or(this.number(parts, 'ppm', 0, 1000), plain.ppm),
      constant: this.length(parts, 'constant', 0),
      wavelength: or(this.number(parts, 'wavelength', 0.3, 2), plain.wavelength),
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
    if (!this.inSetup) return this.refuse('a sighting stands before any setup');
    this.numbered('sighting', parts, deleted, (r) => {
      const { keys } = parts;
      r.role = role;
      r.face = this.whole(parts, 'face', 0, 2);
      r.round = this.whole(parts, 'round', 0, 10_000);
      r.height = this.length(parts, 'th');
      r.circle = keys.has('circle') ? this.angle(keys.get('circle')!, 'the circle') : NaN;
      r.zenith = keys.has('zenith') ? this.vertical(keys.get('zenith')!, r) : NaN;
      r.distance = this.length(parts, 'dist');
      if (Number.isNaN(r.distance) && keys.has('hdist')) this.laidFlat(r, parts);
      r.target = keys.get('target') ?? '';
      r.sd = this.deviations(parts);
      if (r.distance < 0) this.refuse('the distance is negative');
    });
  }

  /** What an observation states for itself: seconds of arc, and millimetres. */
  private deviations(parts: RecordText): BookRecord['sd'] {
    if (!parts.keys.has('sdir') && !parts.keys.has('szen') && !parts.keys.has('sdist')) return null;
    return {
      direction: this.number(parts, 'sdir', 0.001, 36_000) * SECOND,
      zenith: this.number(parts, 'szen', 0.001, 36_000) * SECOND,
      distance: this.number(parts, 'sdist', 0.001, 100_000) / 1000,
    };
  }

  /** Where the instrument wrote down a horizontal distance and a rise, the sloping reading that they come from. */
  private laidFlat(r: BookRecord, parts: RecordText): void {
    const flat = this.length(parts, 'hdist');
    const rise = this.length(parts, 'rise', Number.isNaN(r.zenith) ? NaN : (flat * cos(r.zenith)) / sin(r.zenith));
    if (Number.isNaN(flat)) return;
    r.flat = Number.isNaN(rise) ? 'plan' : this.head.flat;
    r.distance = Number.isNaN(rise) ? flat : distance(flat, rise);
    if (!Number.isNaN(r.zenith) || Number.isNaN(rise)) return;
    const zenith = atan2(flat, rise);
    r.zenith = r.face === 2 ? 4 * QUARTER - zenith : zenith;
  }

  /** Zenith angles stay; elevation angles count from the horizon, on the side that the face says. */
  private vertical(text: string, r: BookRecord): number {
    if (this.head.vertical === 'zenith') return this.angle(text, 'the vertical angle');
    const read = this.readAngle(text, 'the elevation angle');
    // Downhill is written with a minus, or as the rest of a turn.
    const elevation = read >= 3 * QUARTER && read < 4 * QUARTER ? read - 4 * QUARTER : read;
    if (Math.abs(elevation) > QUARTER) {
      this.refuse(`the elevation angle ${text.slice(0, 30)} is more than a right angle above or below the horizon`);
      return NaN;
    }
    return r.face === 2 ? 3 * QUARTER + elevation : QUARTER - elevation;
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
      r.code ||= parts.words.slice(4).join(' ');
      return;
    }
    r.height = this.length(parts, 'ah');
    const q: GnssQuality = { ...NO_QUALITY };
    q.plan = this.length(parts, 'sp');
    q.height = this.length(parts, 'sh');
    q.covariance = this.covariance(parts);
    if (q.covariance) {
      const [xx, yy, zz] = q.covariance;
      if (Number.isNaN(q.plan)) q.plan = Math.sqrt((xx + yy) / 2);
      if (Number.isNaN(q.height)) q.height = Math.sqrt(zz);
    }
    q.satellites = this.number(parts, 'sats', 0, 200);
    q.pdop = this.number(parts, 'pdop', 0, 1000);
    q.hdop = this.number(parts, 'hdop', 0, 1000);
    q.vdop = this.number(parts, 'vdop', 0, 1000);
    q.tilt = this.tilt(parts.keys.get('tilt'));
    q.fix = parts.keys.get('fix') ?? '';
    q.method = parts.keys.get('method') ?? '';
    q.base = parts.keys.get('base') ?? '';
    q.warning = parts.keys.get('warning') ?? '';
    r.gnss = q;
  }

  /** Six variances and covariances in mm², xx,yy,zz,xy,xz,yz, of a vector or a position. */
  private covariance(parts: RecordText): number[] | null {
    const text = parts.keys.get('cov');
    if (text === undefined) return null;
    const values = text.split(/[;/]/).map((v) => plainNumber(v.trim()) * 1e-6);
    const [xx, yy, zz, xy, xz, yz] = values;
    // Positive definite, by its leading minors: no combination of the axes is better than exact.
    const minor = xx * yy - xy * xy;
    const whole = zz * minor - xz * (xz * yy - xy * yz) - yz * (xx * yz - xy * xz);
    if (values.length === 6 && xx > 0 && minor > 0 && whole > 1e-6 * xx * yy * zz)
      return this.head.order === 'EN' ? values : [yy, xx, zz, xy, yz, xz];
    this.mention(`cov=${text.slice(0, 60)} is not what one place can have as variances and covariances in mm² (xx/yy/zz/xy/xz/yz): it does not count`); // prettier-ignore
    return null;
  }

  /** Of the pole off the vertical: plain degrees whatever the form of the book's angles, or degrees-minutes-seconds. */
  private tilt(text: string | undefined): number {
    if (text === undefined || text === '') return NaN;
    const plain = plainNumber(text);
    const read = Number.isNaN(plain) ? dms(text) : (plain / 180) * HALF_TURN;
    if (typeof read === 'number' && read >= 0 && read <= QUARTER) return read;
    // A word about quality that cannot be read does not take the position with it.
    this.mention(`tilt=${text.slice(0, 30)} is not degrees between 0 and 90, and is not kept`);
    return NaN;
  }

  private level(parts: RecordText, deleted: boolean): void {
    const role = parts.words.shift()?.toLowerCase();
    if (role !== 'back' && role !== 'inter' && role !== 'fore')
      return this.refuse('a level reading is back, inter or fore');
    this.numbered('level', parts, deleted, (r) => {
      r.role = role;
      r.height = this.length(parts, 'reading');
      r.distance = this.length(parts, 'dist');
      if (Number.isNaN(r.height)) this.refuse('the staff reading is missing');
    });
  }

  private number(parts: RecordText, key: string, min: number, max: number): number {
    const text = parts.keys.get(key);
    if (text === undefined || text === '') return NaN;
    const value = plainNumber(text);
    if (!(value >= min && value <= max)) {
      this.refuse(`${key}=${text.slice(0, 30)} is not between ${min} and ${max}`);
      return NaN;
    }
    return value;
  }

  private whole(parts: RecordText, key: string, min: number, max: number): number {
    const value = this.number(parts, key, min, max);
    if (Number.isNaN(value)) return 0;
    if (!Number.isInteger(value)) this.refuse(`${key} is a whole number`);
    return value;
  }

  private length(parts: RecordText, key: string, otherwise = NaN): number {
    const text = parts.keys.get(key);
    if (text === undefined || text === '') return otherwise;
    const value = plainNumber(text);
    if (Number.isNaN(value) || Math.abs(value) > 1e6) {
      this.refuse(`${key}=${text.slice(0, 30)} is not a length`);
      return NaN;
    }
    return value * METRES_IN_FILE[this.head.unit];
  }

  /** An angle as it is written, with its sign. */
  private readAngle(text: string, what: string): number {
    const { angle } = this.head;
    const read = angle === 'dms' ? dms(text) : angle === 'packed' ? packed(text) : plainAngle(text, angle);
    if (typeof read !== 'string') return read;
    this.refuse(`${what} ${read}`);
    return NaN;
  }

  private angle(text: string, what: string): number {
    const read = this.readAngle(text, what);
    if (read < 0 || read >= 2 * HALF_TURN + 1e-12) {
      this.refuse(`${what} ${text.slice(0, 30)} is not within one turn`);
      return NaN;
    }
    return read;
  }
}

/** Degrees, minutes and seconds with dashes; anything else is refused, so that decimals are never taken for them. */
function dms(text: string): number | string {
  if (!/^[+-]?\d{1,3}-\d{1,2}(-\d{1,2}([.,]\d+)?)?$/.test(text))
    return `“${text.slice(0, 30)}” is not degrees-minutes-seconds; the book says angle dms`;
  const read = readAngle(text, 'dms');
  return read.ok ? read.radians : read.reason;
}

/** Degrees before the point, two digits of minutes and two of seconds behind it. */
function packed(text: string): number | string {
  if (Number.isNaN(plainNumber(text)))
    return `“${text.slice(0, 30)}” is not degrees, minutes and seconds written as 123.4506`;
  const read = readAngle(text, 'dms');
  return read.ok ? read.radians : read.reason;
}

function plainAngle(text: string, form: AngleForm): number | string {
  const value = plainNumber(text);
  if (Number.isNaN(value)) return `“${text.slice(0, 30)}” is not ${form === 'gon' ? 'gon' : 'decimal degrees'}`;
  return (value / (form === 'gon' ? 200 : 180)) * HALF_TURN;
}

const plainNumber = (text: string): number =>
  /^[+-]?(\d+([.,]\d*)?|[.,]\d+)$/.test(text) ? Number(text.replace(',', '.')) : NaN;
