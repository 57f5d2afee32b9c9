import type { Adjustment, NetworkOutlier, Traverse } from '#core/adjustment';
import { fileRowOf, recordIn } from '#core/book';
import { CRITICAL } from '#core/kernel';
import { formatAngle, formatFixed, formatLength, UNIT_SIGN } from '#core/measure';
import type { Levelling, Reduction } from '#core/reduction';
import { type BookAt, angularAllowed, traverseKey, traverseWithin } from '#core/stages';
import { editOne } from '../remedies.ts';
import type { Remedy, Draft } from '../query.ts';
import type { ProjectDocument } from '#core/project';

/** Traverses that miss their end by more than the project allows, with what the gap points to. */
export function queryTraverses(
  doc: ProjectDocument,
  traverses: readonly Traverse[],
  { setups, known }: Reduction,
): Draft[] {
  const s = doc.settings;
  const length = (m: number): string => `${formatLength(m, s.unit, 3)} ${UNIT_SIGN[s.unit]}`;
  return traverses
    .filter((t) => !traverseWithin(t, s))
    .map((t) => {
      const end = known.get(t.stations.at(-1)!)!;
      const first = setups.find((x) => x.number === t.stations[0]);
      const said = [
        `${length(t.linear)} in plan on ${formatLength(t.length, s.unit, 0)} ${UNIT_SIGN[s.unit]}, one part in ${formatFixed(t.ratio, 0)} (${formatFixed(s.traverseRatio, 0)} asked for)`,
        Number.isNaN(t.angular)
          ? ''
          : `${formatAngle(t.angular, s.angle, s.angleDecimals)} in angle (${formatAngle(angularAllowed(t, s), s.angle, 0)} allowed)`,
        Number.isNaN(t.dz) ? '' : `${length(t.dz)} in height (${length(s.checkHeight)} allowed)`,
      ].filter(Boolean);
      return {
        key: `traverse-misclosure:${t.stations.join('-')}`,
        kind: 'traverse-misclosure',
        stage: 'book',
        weight: 'look',
        text: `The traverse ${t.stations.join(' – ')} misses ${end.number} by ${said.join(', ')}. ${doc.decisions[traverseKey(t)] === 'used' ? 'It is distributed all the same, as was decided by hand.' : 'It is not distributed.'}${t.waits ? ' One of its setups waits to be decided, which may be the reason.' : t.suspect ? ` The misclosure points to ${t.suspect}.` : ''}`,
        evidence: [t.stations, Math.round(t.linear * 1e4), Math.round((t.dz || 0) * 1e4)],
        place: { x: end.x, y: end.y },
        book: first?.book ?? '',
        rows: [],
        lines: [],
        remedies:
          doc.decisions[traverseKey(t)] === 'used'
            ? []
            : [
                {
                  label: 'Distribute it all the same',
                  change: { op: 'record.decide', key: traverseKey(t), decision: 'used' },
                },
              ],
      };
    });
}

/**
 * What the test of the whole network left out, where stations are adjusted together; sightings that something else
 * explains already are not asked about again.
 */
export function queryNetworkOutliers(
  doc: ProjectDocument,
  adjustment: Adjustment | null,
  outliers: readonly NetworkOutlier[],
  books: ReadonlyMap<string, BookAt>,
  explained: (book: string, row: number) => boolean,
): Draft[] {
  const s = doc.settings;
  if (!s.network || !adjustment?.ok) return [];
  const { points } = adjustment;
  return outliers.flatMap(({ observation: o, slip, standardised, alike }): Draft[] => {
    const at = o.source.lastIndexOf(':');
    const [book, row] = [o.source.slice(0, at), Number(o.source.slice(at + 1))];
    const b = books.get(book);
    if (!b || explained(book, row)) return [];
    const name = (p: typeof o): string => `the ${KIND_NAME[p.kind]} from ${points[p.from].number} to ${p.to < 0 ? '' : points[p.to].number}`; // prettier-ignore
    const by = o.kind === 'direction' ? formatAngle(Math.abs(slip), s.angle, s.angleDecimals) : `${formatLength(Math.abs(slip), s.unit, 3)} ${UNIT_SIGN[s.unit]}`; // prettier-ignore
    const role = recordIn(b.records, row)?.role;
    const key = `${book}:${row}`;
    const remedies: Remedy[] =
      role === 'back'
        ? [{ label: `Set ${points[o.to].number} aside`, change: { op: 'record.decide', key, decision: 'aside' } }]
        : [{ label: `Exclude the sighting of ${points[o.to].number}`, change: editOne(key, { off: true }) }];
    const other = alike.length ? ` ${alike.map(name).join(' or ')} would explain the misfit as well.` : '';
    return [
      {
        key: `network-outlier:${key}:${o.kind}`,
        kind: 'network-outlier',
        stage: 'book',
        weight: alike.length ? 'stop' : 'look',
        text: `Adjusted together, ${name(o)} (row ${fileRowOf(row)} of ${b.name}) is off by ${by}, ${formatFixed(standardised, 1)} of its standard deviations. It is not in the adjustment.${other}`,
        evidence: [o.source, o.kind, slip.toPrecision(4), alike.map((p) => p.source)],
        place: { x: points[o.from].x, y: points[o.from].y },
        book,
        rows: [],
        lines: [],
        remedies,
      },
    ];
  });
}

const KIND_NAME: Record<NetworkOutlier['observation']['kind'], string> = {
  direction: 'direction',
  distance: 'distance',
  rise: 'height difference',
  east: 'east coordinate',
  north: 'north coordinate',
  elevation: 'elevation',
};

/** 3 mm in 30 m: a level with more is adjusted before it is used (common practice). */
const COLLIMATION = 1e-4;

/** Loops of level runs that do not close, and levels whose line of sight is not level. */
export function queryLevelling(doc: ProjectDocument, levelling: Levelling | null): Draft[] {
  const s = doc.settings;
  const length = (m: number, d = 4): string => `${formatLength(m, s.unit, d)} ${UNIT_SIGN[s.unit]}`;
  const base = { stage: 'book' as const, place: null, rows: [], lines: [], remedies: [] };
  const loops = (levelling?.loops ?? [])
    .filter((l) => !l.within)
    .map((l): Draft => ({
      ...base,
      key: `level-misclosure:loop:${l.points.join('-').slice(0, 200)}`,
      kind: 'level-misclosure',
      weight: 'look',
      book: l.rows[0].book,
      text: `The level loop ${l.points.join(' – ')} misses itself by ${length(l.misclosure)}; ${length(l.allowed)} is allowed on ${length(l.length, 0)}.`,
      evidence: [l.points, Math.round(l.misclosure * 1e5)],
    }));
  const tests = (levelling?.tests ?? [])
    .filter((t) => Math.abs(t.collimation) > COLLIMATION && Math.abs(t.collimation) > CRITICAL * t.sd)
    .map((t): Draft => {
      const unequal = Math.max(0, ...(levelling?.runs ?? []).flatMap((r) => r.differences.map((d) => (t.rows.includes(d.rows[0]) || Number.isNaN(d.imbalance) ? 0 : Math.abs(d.imbalance))))); // prettier-ignore
      return {
        ...base,
        key: `level-collimation:${t.book}:${t.rows.join('-')}`,
        kind: 'level-collimation',
        weight: 'look',
        book: t.book,
        text: `The two-peg test between ${t.from} and ${t.to} (rows ${t.rows.map(fileRowOf).join(' and ')}): the line of sight ${t.collimation > 0 ? 'rises' : 'falls'} by ${length(Math.abs(t.collimation) * 30)} in 30 m. Elsewhere sights behind and before differ by up to ${length(unequal, 1)}, which makes ${length(Math.abs(t.collimation) * unequal)} in a set-up.`,
        evidence: [t.rows, t.collimation.toPrecision(3)],
      };
    });
  return [...loops, ...tests];
}
