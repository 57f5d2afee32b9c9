import { formatAngle, formatLength, UNIT_NAME, UNIT_SIGN } from '#core/measure';
import type { Stage } from '../stage-name.ts';
import type { Change } from './schema.ts';
import { DECIDED, FIELD_NAME, SETTING_NAME, SURFACE_FIELD, valueText, type HistoryUnits } from './describe.ts';
import type { ReceivedValue } from '#core/exchange';

/** One value that a change set: of which point or record (`intake:row`; null of the project itself), and from what to what. */
export interface ChangeDetail {
  key: string | null;
  /** The field’s name in the document, and as people read it. */
  name: string;
  field: string;
  /** As people read them; null is the value as received, or as the rules have it. */
  before: string | null;
  after: string | null;
  /** The value as received, where the file has one. */
  received?: string;
}

const LENGTH_SETTINGS = new Set(['checkPlan', 'checkHeight', 'coincidence', 'longestSide', 'contourInterval', 'spike', 'sagitta', 'interval', 'pairReach', 'gnssPlan', 'gnssHeight', 'centring', 'levelClosure', 'levelDeviation']); // prettier-ignore
const ANGLE_SETTINGS = new Set(['angleSpread', 'gnssTilt']);

/** Settings that are a choice, each as people read it. */
const SETTING_VALUES: Record<string, Record<string, string>> = {
  unit: UNIT_NAME,
  order: { EN: 'east before north', NE: 'north before east' },
  angle: { dms: 'degrees, minutes, seconds', deg: 'decimal degrees', gon: 'gon' },
  vertical: { zenith: 'from the zenith', elevation: 'from the horizon' },
  areaUnit: { m2ha: 'm², large ones ha', m2: 'm²', ha: 'ha', ft2: 'ft²', ac: 'acres' },
  volumeUnit: { m3: 'm³', yd3: 'yd³' },
  chainage: { plain: 'plain', thousands: '0+000', hundreds: '0+00' },
  lineOrder: { observed: 'as observed', number: 'by number', time: 'by time' },
  distanceParts: { squares: 'as the root of their squares', sum: 'as their sum' },
  orientationWeights: { precision: 'by their precision', length: 'by their length', equal: 'all alike' },
  typedOrGnss: { typed: 'typed ones', gnss: 'those by satellite' },
  earth: { curved: 'curvature and refraction applied', plane: 'taken as a plane' },
  flatDistances: { ask: 'asked for each book', geometric: 'as measured', reduced: 'reduced already' },
  gnssMean: { fixed: 'fixed positions before others', all: 'all readings' },
  traverse: { carried: 'carried forward', compass: 'compass rule', transit: 'transit rule' },
  resectionScale: { fixed: 'distances as measured', free: 'found with the station' },
  networkDatum: { standing: 'control as it stands', free: 'free, laid onto control' },
  backsightRule: { within: 'used when within tolerance', ask: 'each waits for a decision' },
};

/** A setting as people read it. */
export function settingText(name: string, value: unknown, s: HistoryUnits): string {
  if (value === null) return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number' && LENGTH_SETTINGS.has(name)) return `${formatLength(value, s.unit, 3)} ${UNIT_SIGN[s.unit]}`; // prettier-ignore
  if (typeof value === 'number' && ANGLE_SETTINGS.has(name)) return formatAngle(value, s.angle, s.angleDecimals);
  return SETTING_VALUES[name]?.[String(value)] ?? String(value);
}

/** What a change set, value by value, as far as it sets single values; the old ones are its inverse's. */
export function changeDetails(change: Change, inverse: Change, s: HistoryUnits): ChangeDetail[] {
  if (change.op === 'points.edit') {
    const back = inverse.op === 'points.edit' ? inverse.edits : {};
    return Object.entries(change.edits).flatMap(([key, { set, undo }]) => {
      const old = (back[key]?.set ?? {}) as Record<string, unknown>;
      const text = (values: Record<string, unknown>, name: string): string | null =>
        name in values ? editText(name, values[name], s) : null;
      return [...Object.keys(set), ...undo].map((name) => ({ key, name, field: FIELD_NAME[name] ?? name, before: text(old, name), after: text(set, name) })); // prettier-ignore
    });
  }
  if (change.op === 'settings.set') {
    const old = (inverse.op === 'settings.set' ? inverse.settings : {}) as Record<string, unknown>;
    const text = (name: string, value: unknown): string => settingText(name, value, s);
    return Object.entries(change.settings).map(([name, value]) => ({ key: null, name, field: SETTING_NAME[name] ?? name, before: name in old ? text(name, old[name]) : null, after: text(name, value) })); // prettier-ignore
  }
  if (change.op === 'surface.edit') {
    const old = (inverse.op === 'surface.edit' ? inverse.set : {}) as Record<string, unknown>;
    const text = (name: string, value: unknown): string =>
      value === null ? 'as the project has it' : settingText(name, value, s);
    return Object.entries(change.set).map(([name, value]) => ({ key: null, name, field: SURFACE_FIELD[name] ?? name, before: text(name, old[name]), after: text(name, value) })); // prettier-ignore
  }
  if (change.op === 'several') {
    const back = inverse.op === 'several' ? [...inverse.changes].reverse() : [];
    return change.changes.flatMap((c, i) => changeDetails(c, back[i] ?? inverse, s));
  }
  if (change.op === 'record.decide')
    return [{ key: change.key, name: DECISION, field: 'decision', before: inverse.op === 'record.decide' ? decisionText(inverse.decision) : null, after: decisionText(change.decision) }]; // prettier-ignore
  return [];
}

const decisionText = (decision: keyof typeof DECIDED | null): string | null => decision && DECIDED[decision];

/** The name of a decision among the fields of a record. */
export const DECISION = 'decision';

/** A value of an edit as people read it. */
export const editText = (name: string, value: unknown, s: HistoryUnits): string =>
  name === 'off' ? (value ? 'excluded' : 'used') : valueText(name, value, s);

/** Whether a detail speaks of a value that came with the file, and was not there before the change or is not after it. */
export const asksReceived = (d: ChangeDetail): boolean =>
  d.key !== null && d.name !== DECISION && (d.before === null || d.after === null);

/** A detail with the value as received beside it. */
export const withReceived = (d: ChangeDetail, value: ReceivedValue | undefined, s: HistoryUnits): ChangeDetail =>
  value === undefined ? d : { ...d, received: value === null ? 'nothing' : valueText(d.name, value, s) };

/** Where a change was from and to, in words: what stands for “as received” is said with its value. */
export function detailText({ name, before, after, received }: ChangeDetail): string {
  const asReceived = name === DECISION ? 'by the rules' : received === undefined ? 'as received' : `${received} (as received)`; // prettier-ignore
  return `${before ?? asReceived} → ${after ?? asReceived}`;
}

/** The stage that a change belongs to: where one would go to look at it. */
export function changeStage(change: Change): Stage {
  if (change.op === 'several') return changeStage(change.changes[0]);
  const [family] = change.op.split('.');
  const of: Record<string, Stage> = { intake: 'book', points: 'book', record: 'book', register: 'book', query: 'book', codes: 'lines', lines: 'lines', drawing: 'lines', line: 'ground', boundary: 'ground', surface: 'ground', comparison: 'quantities', basis: 'basis', settings: 'basis' }; // prettier-ignore
  return of[family] ?? 'basis';
}
