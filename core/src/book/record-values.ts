import { METRES_IN_FILE, readAngle, type AngleForm, type FileUnit } from '#core/measure';
import type { BookRecord } from './records.ts';

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

/** Where it is said that a value cannot be read: with its record, or alone. */
export interface ValueSink {
  refuse(reason: string): void;
  mention(reason: string): void;
}

/** Reads the values of a record's text in the units and angle form of the book: metres and radians, NaN where none stands or it is refused. */
export class RecordValues {
  constructor(
    private readonly head: BookHead,
    private readonly sink: ValueSink,
  ) {}

  /** What an observation states for itself: seconds of arc, and millimetres. */
  deviations(parts: RecordText): BookRecord['sd'] {
    if (!parts.keys.has('sdir') && !parts.keys.has('szen') && !parts.keys.has('sdist')) return null;
    return {
      direction: this.number(parts, 'sdir', 0.001, 36_000) * SECOND,
      zenith: this.number(parts, 'szen', 0.001, 36_000) * SECOND,
      distance: this.number(parts, 'sdist', 0.001, 100_000) / 1000,
    };
  }

  /** Zenith angles stay; elevation angles count from the horizon, on the side that the face says. */
  vertical(text: string, r: BookRecord): number {
    if (this.head.vertical === 'zenith') return this.angle(text, 'the vertical angle');
    const read = this.readAngle(text, 'the elevation angle');
    // Downhill is written with a minus, or as the rest of a turn.
    const elevation = read >= 3 * QUARTER && read < 4 * QUARTER ? read - 4 * QUARTER : read;
    if (Math.abs(elevation) > QUARTER) {
      this.sink.refuse(
        `the elevation angle ${text.slice(0, 30)} is more than a right angle above or below the horizon`,
      );
      return NaN;
    }
    return r.face === 2 ? 3 * QUARTER + elevation : QUARTER - elevation;
  }

  /** Six variances and covariances in mm², xx,yy,zz,xy,xz,yz, of a vector or a position. */
  covariance(parts: RecordText): number[] | null {
    const text = parts.keys.get('cov');
    if (text === undefined) return null;
    const values = text.split(/[;/]/).map((v) => plainNumber(v.trim()) * 1e-6);
    const [xx, yy, zz, xy, xz, yz] = values;
    // Positive definite, by its leading minors: no combination of the axes is better than exact.
    const minor = xx * yy - xy * xy;
    const whole = zz * minor - xz * (xz * yy - xy * yz) - yz * (xx * yz - xy * xz);
    if (values.length === 6 && xx > 0 && minor > 0 && whole > 1e-6 * xx * yy * zz)
      return this.head.order === 'EN' ? values : [yy, xx, zz, xy, yz, xz];
    this.sink.mention(`cov=${text.slice(0, 60)} is not what one place can have as variances and covariances in mm² (xx/yy/zz/xy/xz/yz): it does not count`); // prettier-ignore
    return null;
  }

  /** Of the pole off the vertical: plain degrees whatever the form of the book's angles, or degrees-minutes-seconds. */
  tilt(text: string | undefined): number {
    if (text === undefined || text === '') return NaN;
    const plain = plainNumber(text);
    const read = Number.isNaN(plain) ? dms(text) : (plain / 180) * HALF_TURN;
    if (typeof read === 'number' && read >= 0 && read <= QUARTER) return read;
    // A word about quality that cannot be read does not take the position with it.
    this.sink.mention(`tilt=${text.slice(0, 30)} is not degrees between 0 and 90, and is not kept`);
    return NaN;
  }

  number(parts: RecordText, key: string, min: number, max: number): number {
    const text = parts.keys.get(key);
    if (text === undefined || text === '') return NaN;
    const value = plainNumber(text);
    if (!(value >= min && value <= max)) {
      this.sink.refuse(`${key}=${text.slice(0, 30)} is not between ${min} and ${max}`);
      return NaN;
    }
    return value;
  }

  whole(parts: RecordText, key: string, min: number, max: number): number {
    const value = this.number(parts, key, min, max);
    if (Number.isNaN(value)) return 0;
    if (!Number.isInteger(value)) this.sink.refuse(`${key} is a whole number`);
    return value;
  }

  length(parts: RecordText, key: string, otherwise = NaN): number {
    const text = parts.keys.get(key);
    if (text === undefined || text === '') return otherwise;
    const value = plainNumber(text);
    if (Number.isNaN(value) || Math.abs(value) > 1e6) {
      this.sink.refuse(`${key}=${text.slice(0, 30)} is not a length`);
      return NaN;
    }
    return value * METRES_IN_FILE[this.head.unit];
  }

  /** An angle as it is written, with its sign. */
  readAngle(text: string, what: string): number {
    const { angle } = this.head;
    const read = angle === 'dms' ? dms(text) : angle === 'packed' ? packed(text) : plainAngle(text, angle);
    if (typeof read !== 'string') return read;
    this.sink.refuse(`${what} ${read}`);
    return NaN;
  }

  angle(text: string, what: string): number {
    const read = this.readAngle(text, what);
    if (read < 0 || read >= 2 * HALF_TURN + 1e-12) {
      this.sink.refuse(`${what} ${text.slice(0, 30)} is not within one turn`);
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

export const plainNumber = (text: string): number =>
  /^[+-]?(\d+([.,]\d*)?|[.,]\d+)$/.test(text) ? Number(text.replace(',', '.')) : NaN;
