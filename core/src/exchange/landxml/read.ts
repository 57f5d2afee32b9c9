import { METRES_IN_FILE, plainNumber } from '#core/measure';
import { SAGITTA } from '../chords.ts';
import type { LandXmlLineKind, LandXmlRead } from './content.ts';
import { factsOf, linesOfProfiles, linesOfSections, type OpenAlignment } from './course/alignment.ts';
import { Course } from './course/course.ts';
import type { ArcInLine, Place } from './course/piece.ts';
import { profileOf, straightProfile, type Intersection } from './course/profile.ts';
import { PipeNetwork } from './pipes.ts';
import { idOf, TinBuilder } from './tin.ts';
import { unitOfLandXml } from './unit.ts';
import { XmlWalk, type Attributes, type OpenElement, type Visitor } from './walk.ts';

const words = (list: string): ReadonlySet<string> => new Set(list.split(' '));

/** Elements that are read, or only hold what is. */
const READ = words(
  'LandXML CoordinateSystem Units Metric Imperial Project Application Author CgPoints CgPoint Surfaces Surface SourceData Breaklines Breakline PntList2D PntList3D Definition Pnts P Faces F PlanFeatures PlanFeature Parcels Parcel Alignments Alignment CoordGeom Line Curve Spiral IrregularLine Start End Center PI Contours Contour Boundaries Boundary DataPoints Feature Property StaEquation Profile ProfAlign ProfSurf PVI ParaCurve UnsymParaCurve CircCurve CrossSects CrossSect CrossSectSurf DesignCrossSectSurf CrossSectPnt PipeNetworks PipeNetwork Structs Struct Invert CircStruct RectStruct InletStruct OutletStruct Connection Pipes Pipe CircPipe EggPipe ElliPipe RectPipe Channel',
);
/** Elements whose own text is read. */
const SAYING = words('CgPoint P F PntList2D PntList3D Start End Center PI PVI ParaCurve UnsymParaCurve CircCurve CrossSectPnt'); // prettier-ignore
/** Elements that own the lists and the geometry in them. */
const OWNERS = words('Breakline PlanFeature Parcel Alignment Contour Boundary DataPoints');
/** Parts of a CoordGeom, with ends of their own. */
const PARTS = words('Line Curve Spiral IrregularLine');
const VERTICAL = words('PVI ParaCurve UnsymParaCurve CircCurve');
const MOST_PROBLEMS = 200;

/** What somebody draws: a part of a geometry with its ends. */
interface Part {
  ends: Partial<Record<string, Place>>;
  list: number[] | null;
}

/** Reads LandXML 1.0 … 1.2 as its elements come; problems carry the line. */
export class LandXmlReader implements Visitor {
  readonly saying = SAYING;
  readonly out: LandXmlRead = {
    encoding: 'utf-8',
    linearUnit: '',
    project: '',
    system: '',
    verticalDatum: '',
    points: [],
    breaklines: [],
    features: [],
    profiles: [],
    crossSections: [],
    sectionDrawings: [],
    chambers: [],
    pipes: [],
    alignments: [],
    surfaces: [],
    // An element may be called like something that every object has.
    unread: Object.create(null) as Record<string, number>,
    problems: [],
    problemCount: 0,
    whole: false,
  };
  readonly walk = new XmlWalk(this);
  /** The surface that is open. */
  tin = new TinBuilder('');
  private owner: OpenElement | null = null;
  /** What features of an element say of it. */
  private featureCode = '';
  private group = '';
  private course: Course | null = null;
  private part: Part = { ends: {}, list: null };
  private alignment: OpenAlignment | null = null;
  private intersections: Intersection[] = [];
  private profileName = '';
  private sectionAt = NaN;
  private sectionPoints: number[] = [];
  private network = new PipeNetwork('');
  private chamber = { inverts: new Map<string, number>(), place: null as Place | null };
  /** Places by the names of their points. */
  private readonly named = new Map<string, Place>();

  write(text: string): void {
    this.walk.write(text);
  }

  end(): LandXmlRead {
    this.out.whole = this.walk.end();
    return this.out;
  }

  problem(line: number, what: string): void {
    const { out } = this;
    out.problemCount++;
    if (out.problems.length < MOST_PROBLEMS) out.problems.push({ line, what });
  }

  foreign(name: string): void {
    this.count(name);
  }

  open(element: OpenElement, parent?: OpenElement): void {
    const { name, attributes } = element;
    if (!READ.has(name)) this.count(name);
    if (OWNERS.has(name)) {
      this.owner = element;
      this.featureCode = '';
    }
    if (PARTS.has(name)) this.part = { ends: {}, list: null };
    switch (name) {
      case 'Metric':
      case 'Imperial':
        this.out.linearUnit = attributes.linearUnit ?? '';
        break;
      case 'CoordinateSystem':
        this.out.system = attributes.epsgCode ? `EPSG:${attributes.epsgCode.replace(/^EPSG:/i, '')}` : (attributes.horizontalCoordinateSystemName ?? attributes.name ?? ''); // prettier-ignore
        this.out.verticalDatum = attributes.verticalDatum ?? attributes.verticalCoordinateSystemName ?? '';
        break;
      case 'Project':
        this.out.project = attributes.name ?? '';
        break;
      case 'CgPoints':
        this.group = attributes.code ?? attributes.desc ?? attributes.name ?? '';
        break;
      case 'Surface':
        this.tin = new TinBuilder(attributes.name ?? '');
        break;
      case 'Feature':
        if (parent === this.owner) this.featureCode ||= attributes.code ?? attributes.name ?? '';
        break;
      case 'CoordGeom':
        this.course = parent && parent === this.owner ? new Course(this.sagitta) : null;
        break;
      case 'Alignment':
        this.alignment = { name: attributes.name ?? '', start: this.said(attributes, 'staStart', 'alignment') ?? 0, course: null, profiles: [], sections: [], equations: [] }; // prettier-ignore
        break;
      case 'StaEquation':
        this.equation(attributes);
        break;
      case 'ProfAlign':
      case 'ProfSurf':
        this.intersections = [];
        this.profileName = attributes.name ?? '';
        break;
      case 'CrossSect':
        this.sectionAt = this.said(attributes, 'sta', 'cross section') ?? NaN;
        break;
      case 'DesignCrossSectSurf':
        this.sectionPoints = [];
        break;
      case 'PipeNetwork':
        this.network = new PipeNetwork(attributes.name ?? '');
        break;
      case 'Struct':
        this.chamber = { inverts: new Map(), place: null };
        break;
      case 'Invert':
        this.invert(attributes);
        break;
      case 'Pipe':
        this.network.pipe({ name: attributes.name ?? '', desc: attributes.desc ?? '', from: attributes.refStart ?? '', to: attributes.refEnd ?? '' }); // prettier-ignore
        break;
    }
  }

  close(element: OpenElement, parent?: OpenElement): void {
    const { name } = element;
    if (name === 'CgPoint') this.cgPoint(element);
    else if (name === 'P') this.vertex(element, parent);
    else if (name === 'F') this.face(element, parent);
    else if (name === 'PntList3D' || name === 'PntList2D') this.list(element, parent);
    else if (name === 'Start' || name === 'End' || name === 'Center') this.place(element, parent);
    else if (PARTS.has(name)) this.endPart(element);
    else if (name === 'CoordGeom') this.endCourse();
    else if (VERTICAL.has(name)) this.intersection(element);
    else if (name === 'ProfAlign') this.endProfile();
    else if (name === 'CrossSectPnt')
      this.sectionPoints.push(...(this.numbers(element, 'a place of a cross section') ?? []).slice(0, 2)); // prettier-ignore
    else if (name === 'DesignCrossSectSurf') this.section(this.sectionPoints, element.attributes);
    else if (name === 'Alignment') this.endAlignment();
    else if (name === 'Struct') this.endChamber(element);
    else if (name === 'PipeNetwork') this.endNetwork();
    else if (name === 'Surface') this.endSurface();
  }

  private count(name: string): void {
    this.out.unread[name] = (this.out.unread[name] ?? 0) + 1;
  }

  private tell(what: string): void {
    this.problem(this.walk.line, what);
  }

  /** How far chords may be from curves, in the file's unit. */
  private get sagitta(): number {
    return SAGITTA / METRES_IN_FILE[unitOfLandXml(this.out.linearUnit) ?? 'm'];
  }

  /** The numbers of an element; null, and said, where one of them is none: half a place is no place. */
  private numbers({ said }: OpenElement, what: string): number[] | null {
    const text = said.trim();
    const list = text === '' ? [] : text.split(/\s+/);
    const numbers = list.map(plainNumber);
    const wrong = numbers.findIndex(Number.isNaN);
    if (wrong < 0) return numbers;
    this.tell(`${what} holds “${list[wrong].slice(0, 30)}”, which is not a number; it is left out`);
    return null;
  }

  /** A number that is an attribute; null, and said, where it is none; null in silence where it is not there. */
  private said(attributes: Attributes, name: string, what: string): number | null {
    const text = attributes[name];
    if (text === undefined) return null;
    const value = plainNumber(text);
    if (!Number.isNaN(value)) return value;
    this.tell(`${what} ${shown(attributes.name)} has ${name} “${text.slice(0, 30)}”, which is not a number`);
    return null;
  }

  private cgPoint(element: OpenElement): void {
    const { name = '', code = '', desc = this.group } = element.attributes;
    const place = this.placeOf(element, `point ${shown(element.attributes.name)}`);
    if (!place) return;
    const [x, y, z] = place;
    this.out.points.push({ name, code, x, y, z, ...(desc && desc !== code ? { desc } : {}) });
    if (name) this.named.set(name, place);
  }

  /** North, east and, where it is said, elevation; or those of a point that is named. */
  private placeOf(element: OpenElement, what: string): Place | null {
    const ref = element.attributes.pntRef;
    if (ref !== undefined && element.said.trim() === '') {
      const place = this.named.get(ref);
      if (!place) this.tell(`${what} names point ${ref.slice(0, 40)}, which is not in the file or behind it`);
      return place ?? null;
    }
    const read = this.numbers(element, what);
    if (!read) return null;
    const [north, east, elevation = NaN] = read;
    if (north !== undefined && east !== undefined) return [east, north, elevation];
    this.tell(`${what} has no coordinates`);
    return null;
  }

  private vertex(element: OpenElement, parent?: OpenElement): void {
    if (parent?.name !== 'Pnts') return;
    const { id } = element.attributes;
    const read = this.numbers(element, `surface point ${shown(id)}`);
    if (!read) return;
    const [north, east, elevation] = read;
    if (elevation === undefined) return this.tell(`surface point ${shown(id)} has fewer than three numbers`);
    this.tin.vertex(id === undefined ? this.tin.vertices + 1 : idOf(id), east, north, elevation);
  }

  private face({ attributes, said }: OpenElement, parent?: OpenElement): void {
    // i="1" marks a face that is not part of the surface.
    if (parent?.name !== 'Faces' || attributes.i === '1') return;
    const text = said.trim();
    const [a, b, c, ...more] = text.split(/\s+/).map((id) => this.tin.vertexOf(idOf(id)));
    if (a >= 0 && b >= 0 && c >= 0 && more.length === 0) this.tin.face(a, b, c);
    else this.tell(`face “${text.slice(0, 40)}” does not name three known points`);
  }

  /** As people would find it again. */
  private get ownerName(): string {
    if (!this.owner) return '';
    const { name, attributes } = this.owner;
    if (name === 'Contour') return 'CONTOUR';
    if (name === 'Boundary') return `BOUNDARY-${(attributes.bndType ?? 'outer').toUpperCase()}`;
    return attributes.name ?? '';
  }

  /** A list of places: a line of its own, a part of a geometry, points of the ground, elevations along or across an alignment. */
  private list(element: OpenElement, parent?: OpenElement): void {
    const within = parent?.name;
    const isProfile = within === 'ProfSurf';
    const isSection = within === 'CrossSectSurf' || within === 'DesignCrossSectSurf';
    const isOwn = parent !== undefined && parent === this.owner;
    if (!isProfile && !isSection && !isOwn && !(within === 'IrregularLine' && this.course)) return;
    const what = isProfile ? `profile “${this.profileName}”` : isSection ? 'a cross section' : `line “${this.ownerName}”`; // prettier-ignore
    const size = element.name === 'PntList3D' && !isProfile && !isSection ? 3 : 2;
    const read = this.numbers(element, what);
    if (!read) return;
    if (read.length % size)
      return this.tell(`the places of ${what} do not come in ${size === 3 ? 'threes' : 'twos'}; it is left out`);
    if (isProfile) return this.surfaceProfile(read);
    // Of several lists of one surface each is a line of its own.
    if (isSection) return this.section(read, parent!.attributes);
    const z = isOwn ? this.elevationOfOwner() : NaN;
    const spatial: number[] = [];
    for (let i = 0; i < read.length; i += size) spatial.push(read[i + 1], read[i], size === 3 ? read[i + 2] : z);
    if (!isOwn) this.part.list = spatial;
    else if (parent.name === 'DataPoints')
      for (let i = 0; i < spatial.length; i += 3) this.out.points.push({ name: '', code: '', x: spatial[i], y: spatial[i + 1], z: spatial[i + 2], kind: 'DataPoint' }); // prettier-ignore
    else this.keep(spatial);
  }

  /** What a contour says of itself; NaN of all else. */
  private elevationOfOwner(): number {
    if (this.owner?.name !== 'Contour') return NaN;
    const text = this.owner.attributes.elev ?? '';
    const z = plainNumber(text);
    if (Number.isNaN(z)) this.tell(`a contour has the elevation “${text.slice(0, 30)}”, which is not a number`);
    return z;
  }

  private keep(spatial: number[], arcs: ArcInLine[] = []): void {
    const { name, attributes } = this.owner!;
    const code = attributes.desc ?? (this.featureCode || undefined);
    const line = { kind: name as LandXmlLineKind, name: this.ownerName, ...(code === undefined ? {} : { code }), spatial, ...(arcs.length ? { arcs } : {}) }; // prettier-ignore
    (name === 'Breakline' ? this.out.breaklines : this.out.features).push(line);
  }

  private place(element: OpenElement, parent?: OpenElement): void {
    const within = parent?.name ?? '';
    if (within === 'Struct') this.chamber.place = this.placeOf(element, `structure ${shown(parent!.attributes.name)}`);
    else if (PARTS.has(within)) {
      const place = this.placeOf(element, `${element.name} of “${this.ownerName}”`);
      if (place) this.part.ends[element.name] = place;
    }
  }

  private endPart({ name: kind, attributes }: OpenElement): void {
    const { course, ownerName: of } = this;
    const { ends, list } = this.part;
    if (!course) return;
    if (kind === 'IrregularLine' && list) return course.list(list);
    const { Start: start, End: end, Center: centre } = ends;
    // Half a part is none; which number was wrong is said already.
    if (!start || !end) return;
    const rot = attributes.rot === 'cw' || attributes.rot === 'ccw' ? attributes.rot : null;
    if (kind === 'Curve' && centre && rot) return course.curve(start, end, centre, rot);
    if (kind === 'Curve') this.tell(`a curve of “${of}” has no centre or no sense of rotation; it is drawn straight`);
    if (kind === 'Spiral') {
      const problem = rot ? this.spiral(course, start, end, rot, attributes) : 'has no sense of rotation';
      if (problem === null) return;
      this.tell(`a spiral of “${of}” ${problem}; it is drawn straight from its start to its end`);
    }
    course.straight(start, end);
  }

  /** Why a spiral cannot be drawn as one; null where it is. */
  private spiral(course: Course, start: Place, end: Place, rot: 'cw' | 'ccw', attributes: Attributes): string | null {
    const { spiType = 'clothoid' } = attributes;
    if (spiType !== 'clothoid') return `is a ${spiType.slice(0, 30)}, not a clothoid`;
    const length = plainNumber(attributes.length ?? '');
    const side = rot === 'ccw' ? 1 : -1;
    const curvature = (of: string | undefined): number => /^\s*inf/i.test(of ?? '') ? 0 : side / plainNumber(of ?? ''); // prettier-ignore
    const [k0, k1] = [curvature(attributes.radiusStart), curvature(attributes.radiusEnd)];
    if (!(length > 0) || !Number.isFinite(k0 + k1)) return 'has no length or no radii';
    return course.spiral(start, end, length, k0, k1) ? null : 'does not lead from its start to its end by its length and radii'; // prettier-ignore
  }

  private endCourse(): void {
    const { course } = this;
    this.course = null;
    if (!course) return;
    for (const { spatial, arcs } of course.lines()) this.keep(spatial, arcs);
    if (this.owner!.name === 'Alignment' && this.alignment) this.alignment.course = course;
  }

  private equation(attributes: Attributes): void {
    const { alignment } = this;
    if (!alignment) return;
    const of = (name: string): number => this.said(attributes, name, 'a chainage equation') ?? NaN;
    const [back, ahead] = [of('staBack'), of('staAhead')];
    const last = alignment.equations.at(-1);
    // Back is counted in the chainage that the equation before it gave.
    const counted = last ? last.along + back - last.ahead : back - alignment.start;
    const along = attributes.staInternal === undefined ? counted : of('staInternal') - alignment.start;
    if (Number.isFinite(along + back + ahead)) alignment.equations.push({ along, back, ahead });
    else this.tell(`a chainage equation of alignment “${alignment.name}” lacks a figure; it is left out`);
  }

  private intersection(element: OpenElement): void {
    const what = `a vertical point of profile “${this.profileName}”`;
    const read = this.numbers(element, what);
    if (!read) return;
    const [chainage, elevation] = read;
    if (elevation === undefined) return this.tell(`${what} has no chainage and elevation`);
    this.intersections.push({ chainage, elevation, curve: this.verticalCurve(element) });
  }

  private verticalCurve({ name, attributes }: OpenElement): Intersection['curve'] {
    const of = (attribute: string): number => this.said(attributes, attribute, 'a vertical curve') ?? NaN;
    if (name === 'PVI') return null;
    const curve: Intersection['curve'] =
      name === 'CircCurve'
        ? { kind: 'circle', radius: Math.abs(of('radius')) }
        : name === 'UnsymParaCurve'
          ? { kind: 'parabola', before: of('lengthIn'), behind: of('lengthOut') }
          : { kind: 'parabola', before: of('length') / 2, behind: of('length') / 2 };
    const size = curve.kind === 'circle' ? curve.radius : curve.before + curve.behind;
    if (Number.isFinite(size)) return curve;
    this.tell(`a vertical curve of profile “${this.profileName}” has no length or radius; it is left out`);
    return null;
  }

  private endProfile(): void {
    const of = profileOf(this.intersections, this.sagitta, (what) => this.tell(`profile “${this.profileName}”: ${what}`)); // prettier-ignore
    if (of) this.alignment?.profiles.push({ name: this.profileName, of });
  }

  private surfaceProfile(list: readonly number[]): void {
    const of = straightProfile(list, (what) => this.tell(`profile “${this.profileName}”: ${what}`));
    if (of) this.alignment?.profiles.push({ name: this.profileName, of });
  }

  /** Offsets and elevations of a section, whether as a list or point by point. */
  private section(list: readonly number[], { name: surface = '' }: Attributes): void {
    if (!this.alignment || list.length === 0) return;
    if (Number.isNaN(this.sectionAt)) this.tell('a cross section has no chainage; it is left out');
    else this.alignment.sections.push({ chainage: this.sectionAt, surface, list });
  }

  private endAlignment(): void {
    const { alignment, out } = this;
    this.alignment = null;
    if (!alignment) return;
    const tell = (what: string): void => this.tell(what);
    for (const line of linesOfProfiles(alignment, tell)) out.profiles.push(line);
    for (const line of linesOfSections(alignment, tell)) out.crossSections.push(line);
    for (const drawn of alignment.sections) out.sectionDrawings.push({ alignment: alignment.name, ...drawn });
    out.alignments.push(factsOf(alignment));
  }

  private invert(attributes: Attributes): void {
    const elevation = this.said(attributes, 'elev', 'a pipe in a structure');
    if (elevation !== null && attributes.refPipe !== undefined) this.chamber.inverts.set(attributes.refPipe, elevation);
  }

  private endChamber({ attributes }: OpenElement): void {
    const { place, inverts } = this.chamber;
    const { name = '', desc = '' } = attributes;
    if (!place) return this.tell(`structure ${shown(attributes.name)} has no place; it is left out`);
    const of = (which: string): number => this.said(attributes, which, 'structure') ?? NaN;
    const rim = attributes.elevRim === undefined ? place[2] : of('elevRim');
    this.network.chamber({ name, desc, x: place[0], y: place[1], rim, sump: of('elevSump'), inverts });
  }

  private endNetwork(): void {
    const { chambers, pipes } = this.network.finish((what) => this.tell(what));
    for (const c of chambers) this.out.chambers.push(c);
    for (const p of pipes) this.out.pipes.push(p);
  }

  private endSurface(): void {
    // One that only says what it was made of is no surface to take as it is.
    if (this.tin.vertices) this.out.surfaces.push(this.tin.tin());
    this.tin = new TinBuilder('');
  }
}

const shown = (name: string | undefined): string => (name === undefined ? '?' : name.slice(0, 40));

/** In pieces, so that a file stopped early is not read to its end. */
const PIECE = 1 << 20;

/** Reads LandXML 1.0 … 1.2 as text. */
export function readLandXml(text: string): LandXmlRead {
  const reader = new LandXmlReader();
  for (let i = 0; i < text.length && !reader.walk.stopped; i += PIECE) reader.write(text.slice(i, i + PIECE));
  return reader.end();
}
