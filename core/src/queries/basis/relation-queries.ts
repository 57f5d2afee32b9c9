import { UNIT_NAME } from '#core/measure';
import type { Intake, Placement, ProjectDocument } from '#core/project';
import type { Doubt, NamedPair } from '#core/stages';
import { askAbout, type Query, type Remedy } from '../query.ts';
import { exchangedRoles, lengthText } from './basis-words.ts';

type Relation = Extract<Doubt, { kind: 'other-basis' }>;
type Match = Relation['match'];

/** What is asked about a file that stands on another basis than control of the same names. */
export function askAboutRelation(doc: ProjectDocument, doubt: Relation): Query {
  const { pairs, match } = doubt;
  const intake = doc.intakes[doubt.intake];
  const apart = lengthText(match.apart, doc.settings.unit, match.apart > 1000 ? 0 : 3);
  const told = describe(doc, match, intake, pairs);
  return askAbout(doubt, {
    kind: told.kind,
    stage: 'basis',
    weight: 'stop',
    text: `${intake.fileName} and control have ${pairs.length === 1 ? 'point' : 'points'} ${listed(pairs.map((p) => p.number))} in common, differing by up to ${apart}. ${told.text}`,
    place: { x: pairs[0].cx, y: pairs[0].cy },
    rows: pairs.map((p) => p.row),
    remedies: told.remedies,
  });
}

const listed = (names: string[]): string =>
  names.length <= 4
    ? names.join(', ').replace(/, ([^,]*)$/, ' and $1')
    : `${names.slice(0, 3).join(', ')} and ${names.length - 3} more`;

function describe(
  doc: ProjectDocument,
  match: Match,
  intake: Intake,
  pairs: NamedPair[],
): { kind: Query['kind']; text: string; remedies: Remedy[] } {
  const { unit } = doc.settings;
  const within = (worst: number): string => `to ${lengthText(worst, unit, 3)}`;
  const place = (label: string, placement: Placement): Remedy => ({
    label,
    change: { op: 'intake.place', ids: [intake.id], placements: [placement] },
  });
  const layout = (label: string, part: Partial<Intake['layout']>): Remedy => ({
    label,
    change: { op: 'intake.layout', id: intake.id, layout: { ...intake.layout, ...part } },
  });
  switch (match.kind) {
    case 'unit':
      return {
        kind: 'other-unit',
        text: `Multiplied by ${factorText(match.factor)} they agree ${within(match.worst)}: the file is in ${UNIT_NAME[match.unit]}, not in ${UNIT_NAME[intake.layout.unit]}.`,
        remedies: intake.placement ? [] : [layout(`Read it in ${UNIT_NAME[match.unit]}`, { unit: match.unit })],
      };
    case 'exchanged':
      return {
        kind: 'columns-exchanged',
        text: `With east and north swapped they agree ${within(match.worst)}.`,
        remedies: intake.placement
          ? []
          : [
              layout('Swap east and north', {
                roles: exchangedRoles(intake.layout.roles),
              }),
            ],
      };
    case 'mirrored':
      return {
        kind: 'mirrored',
        text: `With the sign of ${match.axis} reversed they agree ${within(match.worst)}: the file counts towards ${match.axis === 'east' ? 'west' : 'south'}.`,
        remedies: intake.placement
          ? []
          : [place(`Reverse the sign of ${match.axis}`, plain('mirror', mirror(match.axis)))],
      };
    case 'shifted':
      return {
        kind: 'shifted',
        text: `Shifted by ${lengthText(match.dx, unit, 3)} east and ${lengthText(match.dy, unit, 3)} north they agree ${within(match.worst)}: leading digits omitted, or a local origin.`,
        remedies: intake.placement ? [] : [place('Shift the file by that', plain('shift', shift(match.dx, match.dy)))],
      };
    case 'similar':
      return {
        kind: match.held ? 'held-back' : 'other-basis',
        text:
          `Rotated, shifted and scaled by ${match.scale.toFixed(7)} ` +
          (match.held
            ? `all but ${match.held.number} agree ${within(match.worst)}: the coordinates of ${match.held.number} in the file do not fit the others.`
            : `they agree ${within(match.worst)}: the file is on a local basis.`),
        remedies: intake.placement ? [] : [place('Fit it to control', similarityPlacement(match, pairs))],
      };
    case 'none':
      return {
        kind: 'other-basis',
        text: 'No unit, swap, reflection, shift or rotation makes them agree: look at the names, or fit chosen points under Basis.',
        remedies: [],
      };
  }
}

const factorText = (factor: number): string =>
  String(factor >= 1 ? Number(factor.toFixed(8)) : Number(factor.toPrecision(8)));

const plain = (kind: 'shift' | 'mirror', matrix: number[]): Placement => ({
  kind,
  scale: 'fixed',
  height: 'none',
  matrix,
  pairs: [],
  sigmaPlan: null,
  sigmaHeight: null,
});
const shift = (dx: number, dy: number): number[] => [1, 0, 0, dx, 0, 1, 0, dy, 0, 0, 1, 0];
const mirror = (axis: 'east' | 'north'): number[] =>
  axis === 'east' ? [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] : [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, 1, 0];

function similarityPlacement(match: Extract<Match, { kind: 'similar' }>, pairs: NamedPair[]): Placement {
  const { a, b, tx, ty } = match.plan;
  const used = pairs.filter((p) => p !== match.held);
  const heights = used.filter((p) => !Number.isNaN(p.z) && !Number.isNaN(p.cz));
  const dz = heights.length ? heights.reduce((s, p) => s + (p.cz - p.z) / heights.length, 0) : 0;
  return {
    kind: 'plan',
    scale: used.length >= 3 ? 'free' : 'fixed',
    height: heights.length ? 'shift' : 'none',
    matrix: [a, -b, 0, tx, b, a, 0, ty, 0, 0, 1, dz],
    pairs: pairs.map((p) => ({
      from: p.number,
      to: p.number,
      plan: p !== match.held,
      height: p !== match.held && heights.includes(p),
    })),
    sigmaPlan: null,
    sigmaHeight: null,
  };
}
