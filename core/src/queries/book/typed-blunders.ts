import { difference, distance } from '#core/kernel';
import { formatAngle } from '#core/measure';
import { fileRowOf, recordsOfSetup } from '#core/book';
import { resect, type Reduction, type SetupResult } from '#core/reduction';
import { projectLength } from './blunders.ts';
import type { BookAt } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import { editOne } from '../remedies.ts';
import type { QueryKind, Remedy } from '../query.ts';

/** The cause that explains why a setup does not fit what is known. */
export interface Blunder {
  kind: QueryKind;
  text: string;
  evidence: unknown;
  remedies: Remedy[];
  /** Rows that it explains. */
  rows: number[];
}

// What somebody typed in the field to get started, and what holds points where it put them.

/**
 * A setup oriented by an azimuth that somebody typed, whose known points all come out turned by the same: the azimuth
 * holds the cluster. Without it, one of them serves as backsight.
 */
export function typedAzimuth(
  doc: ProjectDocument,
  setup: SetupResult,
  reduction: Reduction,
  b: BookAt,
): Blunder | null {
  const used = setup.backsights.filter((c) => c.state === 'used');
  const typed = recordsOfSetup(b.records, setup.row, 'azimuth').filter((r) => used.some((c) => c.number === r.number));
  const seen = [...setup.checks, ...setup.backsights].filter((c) => c.distance > 0 && reduction.known.has(c.number));
  const off = seen.filter((c) => !c.within);
  if (typed.length === 0 || off.length === 0 || off.length < setup.checks.length) return null;
  const { checkPlan } = doc.settings;
  const turn = off[0].difference;
  const same = off.every(
    (c) =>
      Math.abs(difference(c.difference - turn)) * c.distance <= checkPlan &&
      Math.abs(c.distanceDifference) <= checkPlan,
  );
  if (!same) return null;
  const [azimuth] = typed;
  const back = off.reduce((a, c) => (c.distance > a.distance ? c : a));
  const { angle, angleDecimals } = doc.settings;
  return {
    kind: 'typed-holds',
    text: `its azimuth to ${azimuth.number} was typed, and ${off.length === 1 ? `${off[0].number} is` : `${off.length} known points are`} rotated by ${formatAngle(turn, angle, angleDecimals)} against it. All its ${setup.shots} points depend on the typed azimuth.`,
    evidence: [azimuth.number, Math.round(turn * 1e7)],
    remedies: [
      {
        label: `Exclude the typed azimuth, orient by ${back.number}`,
        change: {
          op: 'points.edit',
          edits: {
            [`${b.id}:${azimuth.row}`]: { set: { off: true }, undo: [] },
            [`${b.id}:${back.row}`]: { set: { role: 'back' }, undo: [] },
          },
        },
      },
    ],
    rows: off.map((c) => c.row),
  };
}

/**
 * What the setup sights fits together, but at another place than its station's: coordinates that were typed for it, its
 * number, which another setup has too, or a mark that was measured under another number.
 */
export function standsElsewhere(
  doc: ProjectDocument,
  setup: SetupResult,
  reduction: Reduction,
  b: BookAt,
): Blunder | null {
  const station = setup.station!;
  const index = reduction.setups.indexOf(setup);
  const sights = reduction.sights.flatMap((s) => {
    const target = s.setup === index ? reduction.known.get(s.number) : undefined;
    return target && target.number !== station.number && target.from !== 'carried' ? [{ ...s, target }] : [];
  });
  if (new Set(sights.map((s) => s.number)).size < 2) return null;
  const { checkPlan, checkHeight } = doc.settings;
  const given = Math.max(...sights.map((s) => s.target.sdPlan));
  const tolerance = { plan: Math.max(checkPlan, 4 * given), height: checkHeight };
  const found = resect(sights, doc.settings.resectionScale === 'free', tolerance);
  if (!found.ok || found.redundancy < 1) return null;
  // One sight that the others contradict is asked about next, when the station is where it stood.
  const doubted = new Set(found.doubts.flatMap((d) => (d.what === 'height' ? [] : [d.sight])));
  if (doubted.size > 1 || found.doubts.some((d) => !d.sure && d.what !== 'height')) return null;
  if (found.residuals.some((r, i) => !doubted.has(i) && Math.abs(r.distance) > tolerance.plan)) return null;
  const apart = distance(found.x - station.x, found.y - station.y);
  if (apart <= 3 * tolerance.plan) return null;
  const rows = [...setup.backsights, ...setup.checks].map((c) => c.row);
  const where = `what it sights puts it ${projectLength(doc, apart)} from there`;
  const evidence = [setup.number, Math.round(apart * 1000)];
  const record = b.records.find((r) => r.kind === 'point' && !r.deleted && r.number === setup.number);
  if (station.from === 'typed' && record)
    return {
      kind: 'typed-holds',
      text: `the coordinates of ${setup.number} were typed, and ${where}. All its ${setup.shots} points depend on them.`,
      evidence,
      remedies: [
        {
          label: `Exclude the typed coordinates of ${setup.number}`,
          change: editOne(`${b.id}:${record.row}`, { off: true }),
        },
      ],
      rows,
    };
  const renamed = (label: string, number: string): Remedy[] => [
    { label, change: editOne(`${b.id}:${setup.row}`, { number }) },
  ];
  const mark = pointAt(reduction, found, tolerance.plan);
  if (mark !== null)
    return {
      kind: 'station-wrong',
      text: `what it sights puts it on ${mark}. Did the instrument stand there?`,
      evidence,
      remedies: renamed(`The station is ${mark}`, mark),
      rows,
    };
  if (station.from === 'control') return null;
  const earlier = reduction.setups.find((s) => s !== setup && s.number === setup.number && s.station && !s.failed);
  const free = freeName(reduction, setup.number);
  return {
    kind: earlier ? 'station-twice' : 'station-wrong',
    text: earlier
      ? `another setup, in row ${fileRowOf(earlier.row)}, is called ${setup.number} too, and ${where}. Did the instrument stand on a new point?`
      : `${where}. Did the instrument stand on another point?`,
    evidence,
    remedies: renamed(`Name it ${free}, found from what it sights`, free),
    rows,
  };
}

/** The one number under which a place was measured; null where none or several were. */
function pointAt({ points }: Reduction, at: { x: number; y: number }, within: number): string | null {
  const numbers = new Set<string>();
  for (let i = 0; i < points.count; i++)
    if (points.waits[i] === 0 && distance(points.x[i] - at.x, points.y[i] - at.y) <= within)
      numbers.add(points.name[i].number);
  return numbers.size === 1 ? [...numbers][0] : null;
}

function freeName(reduction: Reduction, number: string): string {
  const used = new Set([...reduction.known.keys(), ...reduction.setups.map((s) => s.number)]);
  for (let i = 2; ; i++) if (!used.has(`${number}-${i}`)) return `${number}-${i}`;
}
