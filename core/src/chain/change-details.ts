import { formatLength, UNIT_SIGN } from '#core/measure';
import type { Stage } from './query.ts';
import type { Change } from './change-schema.ts';
import { FIELD_NAME, SETTING_NAME, valueText, type HistoryUnits } from './describe-change.ts';

/** One value that a change set: of which point or record (`intake:row`; null of the project itself), and from what to what. */
export interface ChangeDetail {
  key: string | null;
  field: string;
  /** As people read them; null is the value as received, or as the rules have it. */
  before: string | null;
  after: string | null;
}

const LENGTH_SETTINGS = new Set(['checkPlan', 'checkHeight', 'coincidence', 'longestSide', 'contourInterval', 'spike', 'sagitta', 'pairReach', 'gnssPlan', 'gnssHeight', 'centring']); // prettier-ignore

/** What a change set, value by value, as far as it sets single values; the old ones are its inverse's. */
export function changeDetails(change: Change, inverse: Change, s: HistoryUnits): ChangeDetail[] {
  if (change.op === 'points.edit') {
    const back = inverse.op === 'points.edit' ? inverse.edits : {};
    return Object.entries(change.edits).flatMap(([key, { set, undo }]) => {
      const old = (back[key]?.set ?? {}) as Record<string, unknown>;
      const text = (values: Record<string, unknown>, field: string): string | null =>
        field in values
          ? field === 'off'
            ? values.off
              ? 'excluded'
              : 'used'
            : valueText(field, values[field], s)
          : null;
      return [...Object.keys(set), ...undo].map((field) => ({ key, field: FIELD_NAME[field] ?? field, before: text(old, field), after: text(set, field) })); // prettier-ignore
    });
  }
  if (change.op === 'settings.set') {
    const old = (inverse.op === 'settings.set' ? inverse.settings : {}) as Record<string, unknown>;
    const text = (name: string, value: unknown): string =>
      value === null ? 'none' : typeof value === 'number' && LENGTH_SETTINGS.has(name) ? `${formatLength(value, s.unit, 3)} ${UNIT_SIGN[s.unit]}` : String(value); // prettier-ignore
    return Object.entries(change.settings).map(([name, value]) => ({ key: null, field: SETTING_NAME[name] ?? name, before: name in old ? text(name, old[name]) : null, after: text(name, value) })); // prettier-ignore
  }
  if (change.op === 'record.decide')
    return [{ key: change.key, field: 'decision', before: inverse.op === 'record.decide' ? inverse.decision : null, after: change.decision }]; // prettier-ignore
  return [];
}

/** The stage that a change belongs to: where one would go to look at it. */
export function changeStage(change: Change): Stage {
  const [family] = change.op.split('.');
  const of: Record<string, Stage> = { intake: 'book', points: 'book', record: 'book', register: 'book', query: 'book', codes: 'lines', lines: 'lines', drawing: 'lines', line: 'ground', boundary: 'ground', comparison: 'quantities', basis: 'basis', settings: 'basis' }; // prettier-ignore
  return of[family] ?? 'basis';
}
