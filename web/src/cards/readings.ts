import type { Change, PointEdit, Settings } from '#core/project';
import { formatAngle, formatLength, readAngle, readLength, shownVertical } from '#core/measure';
import type { ReadingField } from '../work/book-columns.ts';

const QUARTER = Math.PI / 2;
const TURN = 2 * Math.PI;

export const FIELD_LABEL: Record<ReadingField, string> = {
  height: 'target height',
  circle: 'circle',
  zenith: 'vertical angle',
  distance: 'distance',
};

export const editRecord = (key: string, set: PointEdit, why?: string): Change => ({
  op: 'points.edit',
  edits: { [key]: { set, undo: [] } },
  ...(why ? { why } : {}),
});

export const verticalName = (s: Pick<Settings, 'vertical'>): string =>
  s.vertical === 'zenith' ? 'zenith' : 'elevation angle';

/** A reading as text, in the project's unit or form; empty where there is none. */
export function readingText(field: ReadingField, value: number, s: Settings, extra = 0): string {
  if (Number.isNaN(value)) return '';
  if (field === 'height' || field === 'distance') return formatLength(value, s.unit, s.decimals);
  return formatAngle(
    field === 'zenith' ? shownVertical(value, s.vertical) : value,
    s.angle,
    Math.max(extra, s.angleDecimals),
  );
}

/** A reading as people type it, with its echo. `before` is the zenith that stands: it says on which face it was read. */
export function readField(
  field: ReadingField,
  typed: string,
  s: Settings,
  before: number,
): { ok: true; value: number; echo: string } | { ok: false; reason: string } {
  if (field === 'circle' || field === 'zenith') {
    const read = readAngle(typed, s.angle);
    if (!read.ok) return read;
    if (field === 'zenith' && s.vertical === 'elevation') {
      if (Math.abs(read.radians) > QUARTER)
        return { ok: false, reason: 'An angle from the horizon is within a quarter turn, up or down.' };
      const value = before > Math.PI ? 3 * QUARTER + read.radians : QUARTER - read.radians;
      return { ok: true, value, echo: read.echo };
    }
    if (read.radians < 0 || read.radians >= TURN)
      return { ok: false, reason: 'An angle of a reading is within one turn.' };
    return { ok: true, value: read.radians, echo: read.echo };
  }
  const read = readLength(typed, s.unit);
  if (!read.ok) return read;
  if (field === 'distance' && !(read.metres > 0)) return { ok: false, reason: 'A distance is more than zero.' };
  return { ok: true, value: read.metres, echo: read.echo };
}
