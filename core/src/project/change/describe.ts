import { formatAngle, formatLength, UNIT_SIGN } from '#core/measure';
import type { Placement, Purpose } from '../document/intake-schema.ts';
import type { SurfaceRow } from '../document/surface-schema.ts';
import type { Settings } from '../document/settings-schema.ts';
import { describeDrawing } from './drawing.ts';
import type { Change } from './schema.ts';

/** What was decided on a record, in words. */
export const DECIDED = {
  used: 'use it',
  aside: 'set it aside',
  undecided: 'leave it open',
  direction: 'use its direction only',
  distance: 'use its distance only',
  turned: 'the circle was turned before it',
};

export const PURPOSE_NAME: Record<Purpose, string> = {
  survey: 'survey points',
  control: 'control',
  design: 'a design',
};

/** Rows of a recipe, as people read them. */
export const ROW_NAME: Record<SurfaceRow['kind'], string> = {
  survey: 'all survey files',
  file: 'a file',
  triangles: 'the triangles of a file',
  lines: 'breaklines',
  'exclude-codes': 'what is excluded by code',
  'exclude-lines': 'lines excluded by hand',
  points: 'points by a rule',
  'exclude-points': 'points excluded by a rule',
  boundary: 'the boundary',
  'line-boundary': 'the boundary along lines',
  void: 'a void',
  island: 'an island',
  meeting: 'the elevation where lines meet',
  thin: 'thinning',
  'fill-level': 'the filling of level parts',
  spot: 'a spot height',
  raise: 'an area raised',
  tilt: 'an area tilted onto three heights',
  'even-out': 'an area evened out',
  swap: 'a side swapped',
  'delete-triangles': 'deleted triangles',
  checks: 'check shots',
  contours: 'lines as contours',
  move: 'points moved',
  omit: 'points deleted by hand',
  breakline: 'a drawn breakline',
  traced: 'a traced line',
  'raise-lines': 'lines raised',
  surface: 'the points of another surface',
  'lay-in': 'a surface laid in',
  pad: 'a pad',
  strip: 'a bank or ditch',
  offset: 'an offset surface',
  'found-boundary': 'the boundary by longest side at the rim',
};
export const SURFACE_FIELD: Record<string, string> = {
  name: 'the name',
  role: 'what it is for',
  coincidence: 'the coincidence distance',
  keep: 'which of coincident points stays',
  meeting: 'the elevation where breaklines meet',
  longestSide: 'the longest side',
  interval: 'the contour interval',
  indexEvery: 'the index contours',
  smooth: 'whether contours are smoothed',
};

/** Changes of what was measured or decided in the field: a checker asks why. */
export const asksWhy = (change: Change): change is Extract<Change, { why?: string }> =>
  change.op === 'points.edit' || change.op === 'record.decide';

const because = ({ why }: { why?: string }): string => (why ? `: ${why}` : '');

/** In which units and forms a history is written. */
export type HistoryUnits = Pick<Settings, 'unit' | 'angle' | 'angleDecimals'>;

/** A change in a few plain words, for the list of changes. */
export function describeChange(change: Change, units: HistoryUnits): string {
  switch (change.op) {
    case 'intake.add':
      return `imported ${change.intake.fileName}`;
    case 'intake.remove':
      return 'deleted a file';
    case 'intake.file':
      return `replaced a file by ${change.fileName}`;
    case 'intake.switch':
      return change.on ? 'switched a file on' : 'switched a file off';
    case 'intake.layout':
      return 'read a file by another layout';
    case 'intake.prefix':
      return change.prefix
        ? `added the prefix ${change.prefix} to the numbers of a file`
        : 'removed the prefix from the numbers of a file';
    case 'intake.purpose':
      return `said that a file is ${PURPOSE_NAME[change.purpose]}`;
    case 'intake.light':
      return change.light ? 'made the points of a file ground-only' : 'gave the points of a file numbers';
    case 'picture.set':
      return change.picture ? `set the picture “${change.picture.name}”` : 'deleted a picture';
    case 'volume.hand':
      return change.volume ? `worked “${change.volume.name}” out by hand` : 'deleted a volume by hand';
    case 'series.set':
      return change.series ? `set the series “${change.series.name}”` : 'deleted a series';
    case 'points.set':
      return change.set ? `set the points “${change.set.name}”` : 'deleted a point set';
    case 'intake.words':
      return change.words ? 'said which line words a crew uses' : 'put a file back to the words of the list';
    case 'intake.bookLayout':
      return 'read a book by another layout';
    case 'intake.numbers':
      return 'decided on numbers that exist already';
    case 'intake.place':
      return change.placements.every((p) => p === null)
        ? 'restored files as received, without the fit'
        : `carried ${change.ids.length === 1 ? 'a file' : `${change.ids.length} files`} over by ${describePlacement(change.placements.find((p) => p !== null)!)}`;
    case 'intake.given':
      return 'said who gave a file';
    case 'intake.system':
      return change.system && change.system.kind !== 'local'
        ? `said that a file is in ${change.system.name}`
        : 'said in which system a file is';
    case 'basis.set':
      return describeBasis(change.basis);
    case 'points.edit':
      return describeEdits(change.edits, units) + because(change);
    case 'record.decide':
      return change.decision === null
        ? `left a backsight to the rule${because(change)}`
        : `decided: ${DECIDED[change.decision]}${because(change)}`;
    case 'register.set':
      return 'changed the instrument list';
    case 'codes.set':
      return 'changed the code list';
    case 'settings.set':
      return `set ${Object.keys(change.settings)
        .map((k) => SETTING_NAME[k] ?? k)
        .join(', ')}`;
    case 'boundary.set':
      return `${change.ring ? 'drew' : 'deleted'} the boundary of ${change.surface ? 'a surface' : 'the ground'}`;
    case 'surface.add':
      return `made the surface “${change.surface.name}”`;
    case 'surface.remove':
      return 'deleted a surface';
    case 'surface.edit':
      return `set ${Object.keys(change.set).map((k) => SURFACE_FIELD[k] ?? k).join(', ')} of a surface`; // prettier-ignore
    case 'surface.row':
      return change.row.on ? `set ${ROW_NAME[change.row.kind]} of a surface` : `switched off ${ROW_NAME[change.row.kind]} of a surface`; // prettier-ignore
    case 'surface.rowRemove':
      return 'deleted a row of a surface';
    case 'several':
      return change.what ?? change.changes.map((c) => describeChange(c, units)).slice(0, 4).join(', '); // prettier-ignore
    case 'comparison.set':
      return `set the comparison “${change.comparison.name}”`;
    case 'comparison.remove':
      return 'deleted a comparison';
    case 'query.accept':
      return `accepted a query: ${change.accepted.reason}`;
    case 'query.reopen':
      return 'reopened a query';
    case 'query.follow':
      return 'accepted queries followed their records';
    case 'lines.hand':
      return change.what;
    case 'drawing.set':
    case 'drawing.layer':
    case 'drawing.plot':
    case 'drawing.series':
    case 'drawing.label':
      return describeDrawing(change);
    case 'line.ground':
      return change.used ? `used line ${change.key} in the ground` : `excluded line ${change.key} from the ground`;
  }
}

function describePlacement(placement: Placement): string {
  const used = placement.pairs.filter((p) => p.plan).length;
  if (placement.kind === 'shift') return 'a shift';
  if (placement.kind === 'mirror') return 'a reflection';
  return `${placement.kind === 'space' ? 'seven parameters' : 'four parameters in plan'} from ${used} common points`;
}

const BASIS_NAME: Record<string, string> = {
  system: 'the system',
  factor: 'the project scale factor',
  factorSource: 'where the factor comes from',
  base: 'the base point',
  heights: 'what elevations are',
  geoid: 'the geoid',
  interpolation: 'how the geoid is interpolated',
  datumGrids: 'the datum grids',
  epoch: 'the epoch',
};

function describeBasis(basis: Extract<Change, { op: 'basis.set' }>['basis']): string {
  const { system } = basis;
  if (system && Object.keys(basis).length === 1)
    return `set the system to ${system.kind === 'local' ? 'local ground' : system.name}`;
  return `set ${Object.keys(basis)
    .map((k) => BASIS_NAME[k] ?? k)
    .join(', ')}`;
}

export const SETTING_NAME: Record<string, string> = {
  unit: 'the unit',
  order: 'the coordinate order',
  decimals: 'the decimals',
  elevationDecimals: 'the decimals of elevations',
  angle: 'how angles are written',
  angleDecimals: 'the decimals of angles',
  areaUnit: 'the area unit',
  volumeUnit: 'the volume unit',
  volumeDecimals: 'the decimals of volumes',
  chainage: 'how chainage is written',
  plotScale: 'the plot scale',
  lineOrder: 'the order in which lines are built',
  checkPlan: 'the tolerance of checks in plan',
  checkHeight: 'the tolerance of checks in height',
  fitOutlier: 'the limit of standardised residuals',
  angleSpread: 'the tolerance of repeated angles',
  refraction: 'the coefficient of refraction',
  vertical: 'how vertical angles are written',
  gnssPlan: 'the precision in plan required of GNSS',
  gnssHeight: 'the precision in height required of GNSS',
  gnssPdop: 'the largest PDOP',
  gnssSatellites: 'the fewest satellites',
  gnssTilt: 'the largest tilt of the pole',
  levelClosure: 'the misclosure of levelling',
  traverseRatio: 'the misclosure of traverses',
  traverse: 'the rule for traverses',
  resectionScale: 'the scale of resections',
  centring: 'the centring',
  distanceParts: 'how the two parts of a distance’s deviation add',
  orientationWeights: 'how backsights count',
  typedOrGnss: 'whether typed or satellite coordinates come first',
  levelDeviation: 'the precision of levelling',
  earth: 'whether the earth’s curvature is applied',
  seaLevel: 'whether distances are reduced to sea level',
  flatDistances: 'what level distances are',
  gnssMean: 'which satellite readings are in a mean',
  networkDatum: 'what holds the network',
  backsightRule: 'the rule for backsights',
  network: 'whether stations are adjusted together',
  coincidence: 'the coincidence distance',
  longestSide: 'the longest side',
  contourInterval: 'the contour interval',
  indexEvery: 'the index contours',
  spike: 'the spike tolerance',
  sagitta: 'the arc tolerance',
  pairReach: 'how far apart the two levels of a place may be',
};

/** Names of a point’s fields, as people read them. */
export const FIELD_NAME: Record<string, string> = {
  number: 'number',
  description: 'code',
  x: 'east',
  y: 'north',
  z: 'elevation',
  off: 'use',
  full: 'ground-only or full',
  standing: 'standing',
  height: 'height',
  circle: 'circle',
  zenith: 'vertical angle',
  distance: 'distance',
  face: 'face',
  role: 'what it is sighted for',
};

const LENGTHS = new Set(['x', 'y', 'z', 'height', 'distance']);
const ANGLES = new Set(['circle', 'zenith']);

/** A value as people read it: lengths in the project's unit, angles in its form. */
export function valueText(field: string, value: unknown, s: HistoryUnits): string {
  if (value === null) return 'none';
  if (typeof value !== 'number') return String(value);
  if (LENGTHS.has(field)) return `${formatLength(value, s.unit, 3)} ${UNIT_SIGN[s.unit]}`;
  return ANGLES.has(field) ? formatAngle(value, s.angle, s.angleDecimals) : String(value);
}

function describeEdits(edits: Extract<Change, { op: 'points.edit' }>['edits'], s: HistoryUnits): string {
  const keys = Object.keys(edits);
  const fields = new Set(keys.flatMap((k) => [...Object.keys(edits[k].set), ...edits[k].undo]));
  const what = [...fields].map((f) => FIELD_NAME[f] ?? f).join(', ');
  if (keys.length !== 1) return `edited ${what} of ${keys.length} points`;
  const { set } = edits[keys[0]];
  if (set.off !== undefined) return set.off ? 'excluded a point' : 'used a point again';
  const [first] = Object.entries(set);
  return first === undefined
    ? `put ${what} of a point back as received`
    : `set ${what} of a point to ${valueText(first[0], first[1], s)}`;
}
