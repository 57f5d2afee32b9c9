import type { Traverse } from '#core/adjustment';
import { formatAngle, formatFixed, formatLength, UNIT_SIGN } from '#core/measure';
import type { Reduction } from '#core/reduction';
import type { ProjectDocument } from './document.ts';
import type { Draft } from './point-queries.ts';
import { angularAllowed, traverseWithin } from './traverse-tolerance.ts';

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
        text: `The traverse ${t.stations.join(' – ')} misses ${end.number} by ${said.join(', ')}. It is not shared out.${t.suspect ? ` The gap points to ${t.suspect}.` : ''}`,
        evidence: [t.stations, Math.round(t.linear * 1e4), Math.round((t.dz || 0) * 1e4)],
        place: { x: end.x, y: end.y },
        book: first?.book ?? '',
        rows: [],
        lines: [],
        remedies: [],
      };
    });
}
