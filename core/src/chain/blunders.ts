import { difference, distance, sin } from '#core/kernel';
import { formatLength, UNIT_SIGN } from '#core/measure';
import type { BookRecord } from '#core/book';
import { bearingTo, type Compared, type Known, type Reduction, type SetupResult } from '#core/reduction';
import { recordIn, recordsOfSetup, runOfHeight, targetHeightsOf } from './book-index.ts';
import type { BookAt } from './books.ts';
import type { ProjectDocument } from './document.ts';
import { editOne } from './point-queries.ts';
import type { PointTable } from './points.ts';
import type { Query, Remedy } from './query.ts';
import { typedAzimuth, typedStation } from './typed-blunders.ts';

/** The single cause that explains best why a setup does not fit what is known. */
export interface Blunder {
  kind: Query['kind'];
  text: string;
  evidence: unknown;
  remedies: Remedy[];
  /** Rows that it explains. */
  rows: number[];
}

export function findBlunder(doc: ProjectDocument, setup: SetupResult, reduction: Reduction, b: BookAt): Blunder | null {
  if (setup.failed) return setup.station ? null : wrongStation(doc, setup, reduction, b);
  const typed = typedAzimuth(doc, setup, reduction, b);
  if (typed) return typed;
  const seen = [...setup.backsights, ...setup.checks];
  if (seen.every((c) => c.within)) return null;
  return (
    instrumentHeight(doc, setup, seen, b) ??
    wrongBacksight(doc, setup, reduction, b) ??
    wrongStation(doc, setup, reduction, b) ??
    typedStation(doc, setup, reduction, b) ??
    targetHeight(doc, seen, b)
  );
}

export const lengthText = (doc: ProjectDocument, m: number): string =>
  `${formatLength(m, doc.settings.unit, 3)} ${UNIT_SIGN[doc.settings.unit]}`;

/** Every known point comes out too high by the same: it is the instrument's height. */
function instrumentHeight(doc: ProjectDocument, setup: SetupResult, seen: Compared[], b: BookAt): Blunder | null {
  const heights = seen.filter((c) => !Number.isNaN(c.heightDifference));
  const { checkPlan, checkHeight } = doc.settings;
  if (heights.length < 2 || seen.some((c) => c.off > checkPlan)) return null;
  const mean = heights.reduce((s, c) => s + c.heightDifference / heights.length, 0);
  if (Math.abs(mean) <= checkHeight) return null;
  if (heights.some((c) => Math.abs(c.heightDifference - mean) > checkHeight / 2)) return null;
  const height = Number((setup.height - mean).toFixed(3));
  return {
    kind: 'instrument-height',
    text: `all ${heights.length} known points come out ${lengthText(doc, Math.abs(mean))} too ${mean > 0 ? 'high' : 'low'}. Its instrument height is ${lengthText(doc, setup.height)}; ${lengthText(doc, height)} would explain it.`,
    evidence: [setup.height, Math.round(mean * 1000)],
    remedies: [
      { label: `Instrument height ${lengthText(doc, height)}`, change: editOne(`${b.id}:${setup.row}`, { height }) },
    ],
    rows: heights.map((c) => c.row),
  };
}

/** Another known point lies where the backsight's distance and height say, and makes the checks agree. */
function wrongBacksight(doc: ProjectDocument, setup: SetupResult, reduction: Reduction, b: BookAt): Blunder | null {
  const station = setup.station!;
  const { checkPlan, checkHeight } = doc.settings;
  for (const back of setup.backsights) {
    if (back.within || back.decided) continue;
    const rise = back.heightDifference;
    const given = reduction.known.get(back.number);
    const level = given && !Number.isNaN(rise) ? given.z + rise : NaN;
    const fits: { known: Known; score: number }[] = [];
    for (const k of reduction.known.values()) {
      if (k.number === back.number || k.number === setup.number) continue;
      const off = Math.abs(distance(k.x - station.x, k.y - station.y) - back.distance);
      if (!(off <= checkPlan) || Math.abs(level - k.z) > checkHeight) continue;
      // With this point as backsight, do the checks and the other backsights come right?
      const turn = bearingTo(station, k) - back.observed;
      const others = [...setup.checks, ...setup.backsights.filter((o) => o !== back)];
      const agree = others.filter((o) => {
        const angle = Math.abs(difference(o.observed + turn - o.bearing));
        return angle * (Number.isNaN(o.distance) ? 1 : o.distance) <= checkPlan;
      }).length;
      if (others.length && agree === 0) continue;
      fits.push({ known: k, score: agree - off });
    }
    fits.sort((p, q) => q.score - p.score);
    if (fits.length === 0 || (fits[1] && fits[1].score === fits[0].score)) continue;
    const { known } = fits[0];
    const rows = recordsOfSetup(b.records, setup.row).filter((r) => r.role === 'back' && r.number === back.number);
    return {
      kind: 'backsight-wrong',
      text: `the backsight called ${back.number} is ${lengthText(doc, Math.abs(back.distanceDifference))} off in distance; ${known.number} lies where it was measured${setup.checks.length ? ' and makes the checks agree' : ''}. Was ${known.number} sighted?`,
      evidence: [back.number, known.number, Math.round(back.distance * 1000)],
      remedies: [
        {
          label: `The backsight is ${known.number}`,
          change: {
            op: 'points.edit',
            edits: Object.fromEntries(
              rows.map((r) => [`${b.id}:${r.row}`, { set: { number: known.number }, undo: [] }]),
            ),
          },
        },
      ],
      rows: [back.row, ...setup.checks.map((c) => c.row)],
    };
  }
  return null;
}

/** Another known point from which the measured distances to two known targets or more come out right. */
function wrongStation(doc: ProjectDocument, setup: SetupResult, reduction: Reduction, b: BookAt): Blunder | null {
  const { checkPlan } = doc.settings;
  // Horizontal distances of sighted known points, however the setup was oriented.
  const sighted = recordsOfSetup(b.records, setup.row).flatMap((r) => {
    const target = reduction.known.get(r.number);
    if (!target || Number.isNaN(r.distance + r.zenith)) return [];
    return [{ target, flat: flatOf(r) }];
  });
  if (new Set(sighted.map((s) => s.target.number)).size < 2) return null;
  const fits = [...reduction.known.values()].filter(
    (k) =>
      k.number !== setup.number &&
      sighted.every(
        (s) =>
          s.target.number !== k.number &&
          Math.abs(distance(s.target.x - k.x, s.target.y - k.y) - s.flat * doc.basis.factor) <=
            checkPlan + 2e-5 * s.flat,
      ),
  );
  if (fits.length !== 1) return null;
  const [known] = fits;
  return {
    kind: 'station-wrong',
    text: `the distances to ${[...new Set(sighted.map((s) => s.target.number))].join(' and ')} fit ${known.number}. Did the instrument stand there?`,
    evidence: [setup.number, known.number],
    remedies: [
      { label: `The station is ${known.number}`, change: editOne(`${b.id}:${setup.row}`, { number: known.number }) },
    ],
    rows: [...setup.backsights, ...setup.checks].map((c) => c.row),
  };
}

/** Near enough to compare with known distances: a slope distance laid flat, in either face. */
const flatOf = (r: BookRecord): number => r.distance * Math.abs(sin(r.zenith));

/** One known point is off in height alone, by what another target height of the book would explain. */
function targetHeight(doc: ProjectDocument, seen: Compared[], b: BookAt): Blunder | null {
  const { checkPlan, checkHeight } = doc.settings;
  for (const c of seen) {
    if (c.within || c.off > checkPlan || !(Math.abs(c.heightDifference) > checkHeight)) continue;
    const record = recordIn(b.records, c.row)!;
    const meant = otherHeight(b.records, record, record.height + c.heightDifference, checkHeight / 2);
    if (meant === null) continue;
    return {
      kind: 'target-height',
      text: `${c.number} comes out ${lengthText(doc, Math.abs(c.heightDifference))} too ${c.heightDifference > 0 ? 'high' : 'low'}. Its target height is ${lengthText(doc, record.height)}; ${lengthText(doc, meant)}, which the crew used too, would explain it.`,
      evidence: [record.height, Math.round(c.heightDifference * 1000)],
      remedies: heightRemedies(doc, b, record, meant),
      rows: [c.row],
    };
  }
  return null;
}

/** A target height that the book uses elsewhere and that lies where it would have to; null when there is none. */
export function otherHeight(
  records: readonly BookRecord[],
  record: BookRecord,
  wanted: number,
  within: number,
): number | null {
  let best: number | null = null;
  for (const height of targetHeightsOf(records)) {
    if (height === record.height) continue;
    const off = Math.abs(height - wanted);
    if (off <= within && off < Math.abs((best ?? Infinity) - wanted)) best = height;
  }
  return best;
}

/**
 * Another target height of the book for a shot whose point stands `off` m above (below) what lies around it: offered
 * where one that the crew used explains at least three quarters of it.
 */
export function shotHeightRemedies(
  doc: ProjectDocument,
  points: PointTable,
  row: number,
  off: number,
  books: ReadonlyMap<string, BookAt>,
): Remedy[] {
  const b = books.get(doc.intakes[points.intake[row]].id);
  const record = b && recordIn(b.records, points.fileRow[row]);
  if (!b || !record || record.kind !== 'sighting' || Number.isNaN(record.height)) return [];
  const meant = otherHeight(b.records, record, record.height + off, Math.abs(off) / 4);
  return meant === null ? [] : heightRemedies(doc, b, record, meant);
}

/** A height that holds for more is no slip of one run. */
const LONGEST_RUN = 200;

/** The one record, or the run of records around it that carry the same height. */
export function heightRemedies(doc: ProjectDocument, b: BookAt, record: BookRecord, meant: number): Remedy[] {
  const run = runOfHeight(b.records, record, LONGEST_RUN + 1);
  const text = lengthText(doc, meant);
  const out: Remedy[] = [
    { label: `Target height ${text}`, change: editOne(`${b.id}:${record.row}`, { height: meant }) },
  ];
  if (run.length > 1 && run.length <= LONGEST_RUN)
    out.push({
      label: `${text} for its run of ${run.length}`,
      change: {
        op: 'points.edit',
        edits: Object.fromEntries(run.map((r) => [`${b.id}:${r.row}`, { set: { height: meant }, undo: [] }])),
      },
    });
  return out;
}

/** Deciding where the evidence is: use each backsight, or set it aside, or let the setup through as it is. */
export function decideRemedies(book: string, setup: SetupResult): Remedy[] {
  const open = setup.backsights.filter((c) => c.state === 'undecided');
  return [
    ...open.map((c): Remedy => ({
      label: `Use ${c.number} all the same`,
      change: { op: 'record.decide', key: `${book}:${c.row}`, decision: 'used' },
    })),
    ...(setup.backsights.length > 1
      ? open.map((c): Remedy => ({
          label: `Set ${c.number} aside`,
          change: { op: 'record.decide', key: `${book}:${c.row}`, decision: 'aside' },
        }))
      : []),
  ];
}
