import { distance } from '#core/kernel';
import type { ProjectDocument } from '#core/project';
import { isSurvey, pointKey, STATE, type PointTable } from '../points.ts';
import { found, type Doubt } from './doubt.ts';
import { middleOf } from './whole-files.ts';

const REFERENCE = /\b(base|ref|reference|rtcm|cors|vrs|station)\b|^(base|ref|rtcm|cors|vrs)/i;

/** Points of the survey far from all the others; a correction reference station's row reads like one. */
export function farPoints(doc: ProjectDocument, points: PointTable): Doubt[] {
  const { x, y, state, number, description } = points;
  const rows: number[] = [];
  for (let row = 0; row < x.length; row++) if (state[row] === STATE.used && isSurvey(doc, points, row)) rows.push(row);
  if (rows.length < 8) return [];
  const [cx, cy] = [x, y].map((v) => middleOf(rows.map((r) => v[r])));
  const away = Float64Array.from(rows, (r) => distance(x[r] - cx, y[r] - cy));
  const reach = away.slice().sort()[Math.floor(0.9 * rows.length)];
  // Six times the distance within which 90 % are, and never less than 200 m.
  const limit = Math.max(200, 6 * reach);
  return rows.flatMap((row, i): Doubt[] => {
    if (away[i] <= limit) return [];
    const reference = REFERENCE.test(number[row]) || REFERENCE.test(description[row]);
    const name = reference ? 'reference-row' : 'far-outlier';
    const restsOn = [x[row], y[row], description[row]];
    return [
      {
        ...found(doc, name, pointKey(doc, points, row), restsOn),
        kind: 'far-point',
        row,
        distance: away[i],
        reach,
        reference,
      },
    ];
  });
}

/** Points at elevation 0 where the ground is nowhere near it. */
export function zeroElevations(doc: ProjectDocument, points: PointTable): Doubt[] {
  const { x, y, z, state } = points;
  const zero: number[] = [];
  for (let row = 0; row < z.length; row++) if (z[row] === 0 && state[row] === STATE.used) zero.push(row);
  if (zero.length === 0) return [];
  const others = z.filter((v, row) => state[row] === STATE.used && v !== 0 && !Number.isNaN(v)).sort();
  if (others.length < 3) return [];
  const [low, high] = [others[Math.floor(0.02 * others.length)], others[Math.floor(0.98 * (others.length - 1))]];
  // Where the ground itself passes through zero, a zero says nothing.
  if (low - 2 <= 0 && high + 2 >= 0) return [];
  return zero.map((row) => {
    const settled = found(doc, 'zero-elevation', pointKey(doc, points, row), [x[row], y[row], 0]);
    return { ...settled, kind: 'zero-elevation', row, low, high };
  });
}
