import { SaxesParser } from 'saxes';
import { BookBuilder, type Book } from '#core/book';
import { METRES_IN_FILE } from '#core/measure';

// The Survey part of LandXML 1.2 as a field book: instrument setups with their raw observations, backsights, GPS
// positions, and the given points of CgPoints. Values go through the same builder as the open text form, so that
// the same bounds hold; what it refuses carries the line of the XML.

const DEEPEST = 64;

type Attributes = Record<string, string>;

/** A GPS position whose coordinates are degrees: they have to be carried to the project's system. */
export interface ReadSurvey {
  book: Book;
  /** Rows of GNSS records whose x and y are longitude and latitude, degrees, and z a height over the ellipsoid. */
  geographic: number[];
}

/** Reads the survey of a LandXML file. No document type, no entities of its own, depth bounded; never throws. Null when stopped. */
export function readLandXmlSurvey(text: string, onProgress?: (share: number) => boolean | void): ReadSurvey | null {
  const reader = new SurveyReader();
  return reader.read(text, onProgress);
}

const ANGLE_FORM: Record<string, string> = {
  'decimal degrees': 'deg',
  'decimal dd.mm.ss': 'packed',
  grads: 'gon',
  gons: 'gon',
  radians: 'radians',
};
const LENGTH_UNIT: Record<string, string> = {
  meter: 'm',
  metre: 'm',
  millimeter: 'mm',
  centimeter: 'cm',
  foot: 'ft',
  ussurveyfoot: 'usft',
  inch: 'in',
};

/** What an observation was made for, in the schema's words. */
const ROLE: Record<string, 'back' | 'check' | 'shot'> = { backsight: 'back', check: 'check' };
/** Points that were given, among those that a file may also hold as results. */
const GIVEN = new Set(['', 'control', 'monument', 'reference', 'traverse', 'administrative']);

/** Words that say what values mean, and are no records. */
const SETTINGS = new Set(['unit', 'angle', 'vertical', 'order', 'instrument', 'target']);

interface Observation {
  line: number;
  source: string;
  attributes: Attributes;
  point: Attributes;
  place: string;
  deleted: boolean;
}

class SurveyReader {
  private readonly builder = new BookBuilder();
  private readonly parser = new SaxesParser();
  private readonly stack: string[] = [];
  private readonly geographic: number[] = [];
  private readonly targets = new Map<string, Attributes>();
  private readonly points = new Map<string, { name: string; place: string; code: string }>();
  private body = '';
  private stopped = false;
  private unitsSaid = false;
  private radians = false;
  private point: Attributes = {};
  private pointLine = 0;
  private observation: Observation | null = null;
  private backsight: Observation | null = null;
  private setup: { line: number; attributes: Attributes; name: string; begun: boolean } | null = null;
  private details: Attributes = {};
  private gps: Attributes = {};
  private position: Observation | null = null;
  private quality = new Map<string, string>();
  private line = 1;
  private source = '';
  private lastRow = 0;

  read(text: string, onProgress?: (share: number) => boolean | void): ReadSurvey | null {
    const { parser } = this;
    parser.on('doctype', () =>
      this.stop('a document type declaration is not read: it could pull in other files; ask for the file without it'),
    );
    parser.on('error', (e) => {
      if (!this.stopped) this.stop(`not well-formed: ${e.message.replace(/^\d+:\d+:\s*|\.$/g, '')}`);
    });
    parser.on('opentag', (tag) => {
      if (!this.stopped) this.open(tag.name.replace(/^.*:/, ''), tag.attributes as Attributes);
    });
    parser.on('text', (t) => {
      if (this.body.length < 4000) this.body += t;
    });
    parser.on('closetag', () => {
      if (!this.stopped) this.close(this.stack.pop()!);
    });
    const PIECE = 1 << 20;
    for (let i = 0; i < text.length && !this.stopped; i += PIECE) {
      parser.write(text.slice(i, i + PIECE));
      if (onProgress?.(Math.min(1, (i + PIECE) / text.length)) === false) return null;
    }
    if (!this.stopped) parser.close();
    const book = this.builder.done(parser.line);
    this.keepDegrees(book);
    return { book: { ...book, complete: !this.stopped }, geographic: this.geographic };
  }

  /** Degrees were read as lengths of the file's unit: they are put back as they stand. */
  private keepDegrees(book: Book): void {
    const factor = METRES_IN_FILE[book.unit];
    const rows = new Set(this.geographic);
    for (const r of book.records) {
      if (r.kind !== 'gnss' || !rows.has(r.row)) continue;
      r.x /= factor;
      r.y /= factor;
    }
  }

  private stop(what: string): void {
    this.at();
    this.builder.refuse(what);
    this.stopped = true;
  }

  private at(line = this.parser.line, source = ''): void {
    this.line = line;
    this.source = source;
    this.builder.at(line, source);
  }

  /** Records are known by their line: where several begin on one, as in a file without line ends, the next is taken. */
  private record(word: string, words: string[], keys: Record<string, string | undefined> = {}, deleted = false): void {
    if (!SETTINGS.has(word)) {
      this.lastRow = Math.max(this.line, this.lastRow + 1);
      this.builder.at(this.lastRow, this.source);
    }
    const said = Object.entries(keys).filter((e): e is [string, string] => e[1] !== undefined && e[1] !== '');
    this.builder.record(word, { words, keys: new Map(said), rest: words.join(' ') }, deleted);
  }

  private open(name: string, a: Attributes): void {
    this.stack.push(name);
    this.body = '';
    if (this.stack.length > DEEPEST) return this.stop(`elements are nested more than ${DEEPEST} deep`);
    if (this.stack.length === 1 && name !== 'LandXML') return this.stop(`the outermost element is ${name}`);
    switch (name) {
      case 'Metric':
      case 'Imperial':
        return this.units(a);
      case 'CgPoint':
        this.point = a;
        this.pointLine = this.parser.line;
        return;
      case 'InstrumentDetails':
        this.details = a;
        this.quality = new Map();
        return;
      case 'TargetSetup': {
        const again = this.targets.has(a.id ?? '');
        this.targets.set(a.id ?? '', a);
        if (a.prismConstant && !again) this.named('target', a.id ?? '', { constant: a.prismConstant });
        return;
      }
      case 'InstrumentSetup':
        this.setup = { line: this.parser.line, attributes: a, name: a.stationName ?? '', begun: false };
        return;
      case 'InstrumentPoint':
        if (this.setup && !this.setup.name) this.setup.name = this.numberOf(a);
        this.point = a;
        return;
      case 'Backsight':
        this.backsight = this.observed(a);
        return;
      case 'RawObservation':
        this.observation = this.observed(a);
        return;
      case 'TargetPoint':
      case 'BacksightPoint': {
        const of = this.position ?? (name === 'BacksightPoint' ? this.backsight : this.observation);
        if (of) of.point = a;
        return;
      }
      case 'GPSSetup':
        this.gps = a;
        return;
      case 'GPSPosition':
        this.position = this.observed(a);
        this.quality = new Map();
        return;
      case 'GPSQCInfoLevel1':
      case 'GPSQCInfoLevel2':
        for (const [key, value] of Object.entries(a)) this.quality.set(key, value);
        return;
      case 'Feature':
        if (a.code === 'weather' || a.code === 'level') this.quality = new Map([[a.code, '1']]);
        return;
      case 'Property':
        this.quality.set(a.label ?? '', a.value ?? '');
        return;
    }
  }

  private observed(attributes: Attributes): Observation {
    const source = `${this.stack.at(-1)} ${attributes.id ?? attributes.pntRef ?? ''}`.trim();
    // An observation that was taken out stays in the file with a status of its own.
    const deleted = /^(deleted|rejected)$/i.test(attributes.state ?? attributes.status ?? '');
    return { line: this.parser.line, source, attributes, point: {}, place: '', deleted };
  }

  private close(name: string): void {
    const text = this.body.trim();
    this.body = '';
    switch (name) {
      case 'CgPoint':
        return this.givenPoint(text);
      case 'InstrumentDetails':
        return this.instrument(this.details);
      case 'InstrumentPoint':
        // A station's own coordinates are typed ones, where control has none of its number.
        if (text && this.setup) this.typed(this.setup.name, text, this.point.code ?? '', this.setup.line);
        return;
      case 'TargetPoint':
      case 'BacksightPoint': {
        const of = this.position ?? (name === 'BacksightPoint' ? this.backsight : this.observation);
        if (of) of.place = text;
        return;
      }
      case 'Backsight':
        return this.endBacksight();
      case 'RawObservation':
        return this.endObservation();
      case 'InstrumentSetup':
        this.begin();
        this.setup = null;
        return;
      case 'GPSPosition':
        return this.endPosition();
      case 'GPSSetup':
        this.gps = {};
        return;
      case 'FieldNote':
        if (!text) return;
        this.at();
        return this.record('remark', [text]);
      case 'Feature':
        if (this.quality.has('weather')) this.weather();
        else if (this.quality.has('level')) this.level();
        return;
    }
  }

  private units(a: Attributes): void {
    this.at();
    const unit = LENGTH_UNIT[(a.linearUnit ?? '').toLowerCase()];
    if (unit) this.record('unit', [unit]);
    else this.builder.refuse(`linearUnit “${a.linearUnit ?? ''}” is not read; lengths are taken as metres`);
    const form = ANGLE_FORM[(a.angularUnit ?? 'radians').toLowerCase()];
    this.at();
    if (!form) this.builder.refuse(`angularUnit “${a.angularUnit}” is not read`);
    this.radians = form === 'radians';
    this.record('angle', [this.radians ? 'deg' : (form ?? 'deg')]);
    this.record('order', ['NE']);
    this.unitsSaid = true;
  }

  /** Radians, the schema's own default, become degrees with digits to spare. */
  private angle(text: string | undefined): string | undefined {
    if (text === undefined || !this.radians) return text;
    const value = Number(text);
    return Number.isFinite(value) ? ((value * 180) / 3.141592653589793).toFixed(12) : text;
  }

  private named(word: 'instrument' | 'target', name: string, keys: Record<string, string | undefined>): void {
    this.at();
    this.record(word, [name], keys);
  }

  /** Accuracies stand in seconds of arc, the constant part of a distance in metres or, from 0.1 on, in millimetres. */
  private instrument(a: Attributes): void {
    const constant = a.edmAccuracyConstant === undefined ? NaN : Number(a.edmAccuracyConstant);
    this.named('instrument', a.id ?? '', {
      direction: a.horizAngleAccuracy,
      zenith: a.zenithAngleAccuracy,
      distance: Number.isNaN(constant) ? undefined : String(constant < 0.1 ? constant * 1000 : constant),
      ppm: a.edmAccuracyppm,
      constant: this.quality.get('constant'),
      wavelength: a.carrierWavelength && Number(a.carrierWavelength) < 2 ? a.carrierWavelength : undefined,
    });
  }

  private numberOf(a: Attributes): string {
    return a.name ?? this.points.get(a.pntRef ?? '')?.name ?? a.pntRef ?? '';
  }

  private givenPoint(text: string): void {
    const { point } = this;
    const name = point.name ?? point.oID ?? '';
    if (!text && point.pntRef) return;
    this.points.set(name, { name, place: text, code: point.code ?? point.desc ?? '' });
    const standing = (point.pntSurv ?? '').toLowerCase();
    if (GIVEN.has(standing))
      this.typed(name, text, point.code ?? point.desc ?? '', this.pointLine, standing === 'control');
  }

  private typed(number: string, place: string, code: string, line: number, isControl = false): void {
    this.needUnits();
    this.at(line, `CgPoint ${number}`);
    const [north = '-', east = '-', elevation = '-'] = place.split(/\s+/);
    this.record('point', [number, north, east, elevation], { code, standing: isControl ? 'control' : undefined });
  }

  private needUnits(): void {
    if (this.unitsSaid) return;
    this.unitsSaid = true;
    this.at();
    this.builder.refuse('the file says no units; lengths are taken as metres, angles as radians');
    this.radians = true;
    this.record('angle', ['deg']);
    this.record('order', ['NE']);
  }

  /** The setup's record stands before the first thing seen from it. */
  private begin(): void {
    const { setup } = this;
    if (!setup || setup.begun) return;
    setup.begun = true;
    this.needUnits();
    this.at(setup.line, `InstrumentSetup ${setup.attributes.id ?? ''}`);
    this.record('setup', [setup.name], {
      hi: setup.attributes.instrumentHeight,
      instrument: setup.attributes.instrumentDetailsID ?? setup.attributes.InstrumentDetailsID,
      time: setup.attributes.timeStamp,
    });
  }

  private endBacksight(): void {
    const seen = this.backsight;
    this.backsight = null;
    if (!seen) return;
    this.begin();
    const number = this.numberOf({ ...seen.attributes, ...seen.point });
    this.at(seen.line, seen.source);
    const { azimuth, circle } = seen.attributes;
    if (azimuth !== undefined) this.record('azimuth', [number, this.angle(azimuth)!]);
    this.at(seen.line, seen.source);
    if (circle !== undefined)
      this.record('back', [number], { circle: this.angle(circle), th: seen.attributes.targetHeight });
    if (seen.place && !this.points.has(number)) this.typed(number, seen.place, '', seen.line);
  }

  private endObservation(): void {
    const seen = this.observation;
    this.observation = null;
    if (!seen || !this.setup) return;
    this.begin();
    const a = seen.attributes;
    const target = this.targets.get(a.targetSetupID ?? '') ?? {};
    this.at(seen.line, seen.source);
    this.record(
      ROLE[(a.purpose ?? '').toLowerCase()] ?? 'shot',
      [this.numberOf({ ...a, ...seen.point })],
      {
        circle: this.angle(a.horizAngle ?? a.azimuth),
        zenith: this.angle(a.zenithAngle),
        dist: a.slopeDistance,
        hdist: a.slopeDistance === undefined ? a.horizDistance : undefined,
        rise: a.vertDistance,
        th: a.targetHeight ?? target.targetHeight,
        face: a.directFace === undefined ? undefined : /^(true|1)$/i.test(a.directFace) ? '1' : '2',
        round: a.setID && /^\d+$/.test(a.setID) ? a.setID : undefined,
        target: target.prismConstant === undefined ? undefined : a.targetSetupID,
        code: seen.point.code ?? seen.point.desc,
        time: a.timeStamp,
      },
      seen.deleted,
    );
  }

  private endPosition(): void {
    const seen = this.position;
    this.position = null;
    if (!seen) return;
    this.needUnits();
    const a = seen.attributes;
    const number = this.numberOf(seen.point) || this.gps.stationName || '';
    const [north, east, elevation = '-'] = seen.place.split(/\s+/);
    const projected = east !== undefined;
    const q = (key: string): string | undefined => this.quality.get(key);
    const root = (v: string | undefined): number => (v === undefined ? NaN : Math.sqrt(Number(v)));
    const [sx, sy, sz] = [root(q('covarianceXX')), root(q('covarianceYY')), root(q('covarianceZZ'))];
    const plan = Math.sqrt((sx * sx + sy * sy) / 2);
    const keys = {
      ah: this.gps.antennaHeight,
      sp: Number.isFinite(plan) ? plan.toFixed(5) : undefined,
      sh: Number.isFinite(sz) ? sz.toFixed(5) : undefined,
      fix: q('GPSSolnType'),
      sats: q('nbrSatellites'),
      pdop: q('PDOP'),
      hdop: q('HDOP'),
      vdop: q('VDOP'),
      method: q('method'),
      base: q('base'),
      warning: q('warning'),
      tilt: q('tilt'),
      cov: q('covariance'),
      code: seen.point.code ?? seen.point.desc,
      time: a.timeStamp ?? this.gps.startTime,
    };
    this.at(seen.line, seen.source);
    const words = projected
      ? [number, north, east, elevation]
      : [number, a.wgsLatitude ?? '-', a.wgsLongitude ?? '-', a.wgsHeight ?? '-'];
    this.record('gnss', words, keys, seen.deleted);
    if (!projected) this.geographic.push(this.lastRow);
  }

  /** A staff reading, which the schema has no element for. */
  private level(): void {
    this.needUnits();
    this.at();
    const q = (key: string): string | undefined => this.quality.get(key);
    const [role, point, reading, distance, state, code] = ['role', 'point', 'reading', 'distance', 'state', 'code'].map(
      q,
    );
    this.quality = new Map();
    this.record('level', [role ?? '', point ?? ''], { reading, dist: distance, code }, state === 'deleted');
  }

  /** Said at the top of a setup it holds for that setup: its record stands before the setup's. */
  private weather(): void {
    this.at();
    const [t, p, h] = ['temperature', 'pressure', 'humidity'].map((k) => this.quality.get(k));
    this.quality = new Map();
    this.record('weather', [], { t, p, h });
  }
}
