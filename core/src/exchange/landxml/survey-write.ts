import type { Book, BookRecord } from '#core/book';
import { cos, sin } from '#core/kernel';
import { METRES_IN_FILE } from '#core/measure';
import { escaped } from './write.ts';

export interface SurveyContent {
  project: string;
  /** ISO date and time. */
  made: string;
  /** Where the project's basis can say it: latitude and longitude degrees, height over the ellipsoid m or NaN. */
  geographic?: (x: number, y: number, z: number) => { latitude: number; longitude: number; height: number } | null;
  /** Given points that the setups stand on and orient by; metres. */
  control: { number: string; x: number; y: number; z: number }[];
  book: Book;
}

export interface WrittenSurvey {
  text: string;
  /** What LandXML has no place for, a sentence each: left away, or said in a way that other programs may not read. */
  notes: string[];
}

const DEGREE = 3.141592653589793 / 180;
const SECOND = DEGREE / 3600;

/**
 * Writes a book as the Survey of LandXML 1.2: decimal degrees, lengths in the book's unit, coordinates north, east,
 * elevation. What the schema has no element for goes as its Feature of named properties and is noted, as is what cannot go at
 * all. Records deleted in the field go out with that state.
 */
export function writeLandXmlSurvey({ project, made, geographic, control, book }: SurveyContent): WrittenSurvey {
  const factor = METRES_IN_FILE[book.unit];
  const length = (m: number): string => (m / factor).toFixed(4);
  const metric = book.unit === 'm' || book.unit === 'mm' || book.unit === 'cm';
  const [date, time] = made.replace(/\.\d+Z?$|Z$/, '').split('T');
  const linear = { m: 'meter', mm: 'millimeter', cm: 'centimeter', ft: 'foot', usft: 'USSurveyFoot', in: 'inch' }[
    book.unit
  ];
  const rest = metric
    ? 'areaUnit="squareMeter" volumeUnit="cubicMeter" temperatureUnit="celsius" pressureUnit="HPA"'
    : 'areaUnit="squareFoot" volumeUnit="cubicYard" temperatureUnit="fahrenheit" pressureUnit="inHG"';
  const system = metric ? 'Metric' : 'Imperial';
  const out = [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2" date="${date}" time="${time}" readOnly="false" language="English">`,
    `<Units><${system} linearUnit="${linear}" ${rest} angularUnit="decimal degrees" directionUnit="decimal degrees"/></Units>`,
    `<Project name="${escaped(project)}"/>`,
    '<Application name="Dunrik"/>',
  ];
  const given = new Map(control.map((c) => [c.number, { ...c, code: '', control: true }]));
  for (const r of book.records)
    if (r.kind === 'point' && !r.deleted && !given.has(r.number))
      given.set(r.number, { ...r, control: r.role === 'control' });
  if (given.size) {
    out.push('<CgPoints>');
    for (const p of given.values()) {
      const place = [p.y, p.x, ...(Number.isNaN(p.z) ? [] : [p.z])].map(length).join(' ');
      out.push(
        `<CgPoint name="${escaped(p.number)}" code="${escaped(p.code)}" pntSurv="${p.control ? 'control' : 'reference'}">${place}</CgPoint>`,
      );
    }
    out.push('</CgPoints>');
  }
  const survey = new SurveyWriter(length, geographic);
  survey.equipment(book);
  for (const r of book.records) survey.add(r);
  out.push(...survey.end(escaped(book.name)), '</LandXML>', '');
  const notes = survey.notes();
  // Said in the file too, for whoever has nothing else to go by.
  if (notes.length) out.splice(1, 0, `<!-- ${notes.join('; ').replaceAll('--', '- -')} -->`);
  return { text: out.join('\n'), notes };
}

/** What the schema has no attribute for, as its Feature of named properties; nothing where nothing was said. */
function properties(code: string, list: [string, string | number][]): string {
  const said = list.filter(([, v]) => v !== '' && !(typeof v === 'number' && Number.isNaN(v)));
  if (said.length === 0) return '';
  const inner = said.map(([label, v]) => `<Property label="${label}" value="${escaped(String(v))}"/>`);
  return `<Feature code="${code}">${inner.join('')}</Feature>`;
}

type Format = (m: number) => string;

class SurveyWriter {
  private readonly left = new Map<string, number>();
  private readonly head: string[] = [];
  private readonly body: string[] = [];
  private setups = 0;
  private open = false;
  private antennas = 0;
  private weather: string[] = [];
  /** Positions taken while an instrument stood. */
  private readonly between: string[] = [];

  constructor(
    private readonly length: Format,
    private readonly geographic: SurveyContent['geographic'],
  ) {}

  end(name: string): string[] {
    this.endSetup();
    return ['<Survey>', `<SurveyHeader name="${name}"/>`, ...this.head, ...this.body, '</Survey>'];
  }

  equipment({ instruments, targets }: Book): void {
    const seconds = (a: number): string => (a / SECOND).toFixed(3);
    if (instruments.length) this.head.push('<Equipment>');
    for (const i of instruments)
      this.head.push(
        `<InstrumentDetails id="${escaped(i.name)}" edmAccuracyConstant="${i.distance.toFixed(6)}" edmAccuracyppm="${i.ppm}" horizAngleAccuracy="${seconds(i.direction)}" zenithAngleAccuracy="${seconds(i.zenith)}" carrierWavelength="${i.wavelength}">` +
          (i.constant ? properties('instrument', [['constant', this.length(i.constant)]]) : '') +
          '</InstrumentDetails>',
      );
    if (instruments.length) this.head.push('</Equipment>');
    for (const t of targets)
      this.head.push(`<TargetSetup id="${escaped(t.name)}" prismConstant="${this.length(t.constant)}"/>`);
  }

  add(r: BookRecord): void {
    switch (r.kind) {
      case 'setup':
        return r.deleted ? this.leave('setups deleted in the field') : this.setup(r);
      case 'sighting':
        return this.sighting(r);
      case 'azimuth':
        if (this.open && !r.deleted)
          this.body.push(
            `<Backsight id="B${r.row}" azimuth="${degrees(r.circle)}"><BacksightPoint name="${escaped(r.number)}"/></Backsight>`,
          );
        return;
      case 'gnss':
        return this.position(r);
      case 'weather': {
        this.weather = [
          properties('weather', [
            ['temperature', r.temperature],
            ['pressure', r.pressure],
            ['humidity', r.humidity],
          ]),
        ];
        if (this.open) this.body.push(...this.weather);
        return;
      }
      case 'remark':
        this.body.push(`<FieldNote>${escaped(r.text)}</FieldNote>`);
        return;
      case 'level':
        return this.level(r);
      case 'point':
        if (r.deleted) this.leave('points deleted in the field');
    }
  }

  private leave(what: string): void {
    this.left.set(what, (this.left.get(what) ?? 0) + 1);
  }

  notes = (): string[] => [...this.left].map(([what, count]) => `${what} (${count})`);

  private level(r: BookRecord): void {
    this.leave('level readings, as features of their own: the schema has no element for them');
    this.body.push(
      properties('level', [
        ['role', r.role],
        ['point', r.number],
        ['reading', this.length(r.height)],
        ['distance', Number.isNaN(r.distance) ? NaN : this.length(r.distance)],
        ['code', r.code],
        ['state', r.deleted ? 'deleted' : ''],
      ]),
    );
  }

  private endSetup(): void {
    if (this.open) this.body.push('</InstrumentSetup>', ...this.between.splice(0));
    this.open = false;
  }

  private setup(r: BookRecord): void {
    this.endSetup();
    this.open = true;
    this.setups++;
    const height = Number.isNaN(r.height) ? '' : ` instrumentHeight="${this.length(r.height)}"`;
    const by = r.instrument ? ` instrumentDetailsID="${escaped(r.instrument)}"` : '';
    const time = r.time ? ` timeStamp="${escaped(r.time)}"` : '';
    this.body.push(
      `<InstrumentSetup id="S${this.setups}" stationName="${escaped(r.number)}"${height}${by}${time}>`,
      `<InstrumentPoint name="${escaped(r.number)}"/>`,
    );
    this.body.push(...this.weather);
    this.target = r.target;
  }

  private target = '';

  private sighting(r: BookRecord): void {
    if (!this.open) return this.leave('sightings without a setup');
    const said = (key: string, v: number, text: Format): string => (Number.isNaN(v) ? '' : ` ${key}="${text(v)}"`);
    const target = r.target || this.target;
    const purpose = r.role === 'back' ? 'backsight' : r.role === 'check' ? 'check' : 'sideshot';
    this.body.push(
      `<RawObservation id="O${r.row}" setupID="S${this.setups}"${target ? ` targetSetupID="${escaped(target)}"` : ''}${r.round ? ` setID="${r.round}"` : ''} purpose="${purpose}"${said('targetHeight', r.height, this.length)}${said('horizAngle', r.circle, degrees)}${this.distanceOf(r, said)}${r.face ? ` directFace="${r.face === 1}"` : ''}${r.time ? ` timeStamp="${escaped(r.time)}"` : ''}${r.deleted ? ' state="deleted"' : ''}>` +
        `<TargetPoint name="${escaped(r.number)}"${r.code ? ` code="${escaped(r.code)}"` : ''}/></RawObservation>`,
    );
  }

  /** Level distances and rises go out as such; whoever reads them is not told whether curvature is in them. */
  private distanceOf(r: BookRecord, said: (key: string, v: number, text: Format) => string): string {
    if (!r.flat) return said('zenithAngle', r.zenith, degrees) + said('slopeDistance', r.distance, this.length);
    if (r.flat === 'plan')
      return said('zenithAngle', r.zenith, degrees) + said('horizDistance', r.distance, this.length);
    if (r.flat === 'reduced') this.leave('level distances with curvature in them already: that is not said');
    return said('horizDistance', Math.abs(r.distance * sin(r.zenith)), this.length) + said('vertDistance', r.distance * cos(r.zenith), this.length); // prettier-ignore
  }

  private position(r: BookRecord): void {
    const at = this.geographic?.(r.x, r.y, r.z);
    if (!at)
      this.leave(
        'positions by satellite without latitude and longitude, the project being on no published grid: in its coordinates',
      );
    const q = r.gnss!;
    const id = `G${++this.antennas}`;
    const said = (key: string, v: number | string): string =>
      v === '' || (typeof v === 'number' && Number.isNaN(v)) ? '' : ` ${key}="${escaped(String(v))}"`;
    const square = (v: number): number => Number((v * v).toFixed(9));
    // A position is no part of an instrument’s setup: it stands behind the one that was open.
    const to = this.open ? this.between : this.body;
    to.push(
      `<GPSSetup id="${id}" stationName="${escaped(r.number)}" antennaHeight="${this.length(Number.isNaN(r.height) ? 0 : r.height)}"${said('startTime', r.time)}>`,
      `<GPSPosition setupID="${id}" purpose="sideshot"${at ? ` wgsLatitude="${at.latitude.toFixed(10)}" wgsLongitude="${at.longitude.toFixed(10)}"${said('wgsHeight', Number.isNaN(at.height) ? NaN : this.length(at.height))}` : ''}${r.deleted ? ' state="deleted"' : ''}>`,
      `<GPSQCInfoLevel2${said('covarianceXX', square(q.plan))}${said('covarianceYY', square(q.plan))}${said('covarianceZZ', square(q.height))}${said('GPSSolnType', q.fix)}${said('nbrSatellites', q.satellites)}/>`,
      properties('gnss', [
        ['PDOP', q.pdop],
        ['HDOP', q.hdop],
        ['VDOP', q.vdop],
        ['method', q.method],
        ['base', q.base],
        ['warning', q.warning],
        ['tilt', Number((q.tilt / DEGREE || NaN).toFixed(4))],
        [
          'covariance',
          q.covariance ? NORTH_FIRST.map((i) => Number((q.covariance![i] * 1e6).toPrecision(9))).join('/') : '',
        ],
      ]),
      `<TargetPoint name="${escaped(r.number)}"${r.code ? ` code="${escaped(r.code)}"` : ''}>${this.place(r)}</TargetPoint>`,
      '</GPSPosition>',
      '</GPSSetup>',
    );
  }

  private place(r: BookRecord): string {
    return [r.y, r.x, ...(Number.isNaN(r.z) ? [] : [r.z])].map(this.length).join(' ');
  }
}

/** Variances and covariances xx, yy, zz, xy, xz, yz with north for x, as the file’s order has it. */
const NORTH_FIRST = [1, 0, 2, 3, 5, 4];

/** Eight decimals of a degree: less than a ten-thousandth of a second. */
const degrees = (radians: number): string => (radians / DEGREE).toFixed(8);
