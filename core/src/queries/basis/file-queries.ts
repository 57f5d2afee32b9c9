import { isPublished } from '#core/basis';
import { formatFixed, formatLength, UNIT_NAME, UNIT_SIGN, type FileUnit } from '#core/measure';
import type { Intake, ProjectDocument } from '#core/project';
import { EXCHANGED_DEGREES } from '#core/sources';
import type { Doubt, PointTable } from '#core/stages';
import { askAbout, settleQuery, type Query, type Remedy } from '../query.ts';
import { askAboutRelation } from './relation-queries.ts';
import { exchangedRoles, footDifference, lengthText } from './basis-words.ts';

// What a file says of itself, and where it lies, held against the project.

/** A file that could not be brought in at all. */
export function notRead(doc: ProjectDocument, intake: Intake, failure: string): Query {
  return settleQuery(doc, {
    key: `not-read:${intake.id}`,
    kind: 'not-read',
    stage: 'basis',
    weight: 'stop',
    text: `${intake.fileName} could not be imported: ${failure}`,
    evidence: [intake.sha256, failure],
    place: null,
    rows: [],
    lines: [],
    remedies: !failure.startsWith(EXCHANGED_DEGREES)
      ? intake.system
        ? [takeAsOwn(intake)]
        : []
      : intake.layout.degrees
        ? [exchangeColumns(intake, 'Swap latitude and longitude')]
        : [],
  });
}

const takeAsOwn = (intake: Intake): Remedy => ({
  label: 'Take its numbers as the project’s own',
  change: { op: 'intake.system', id: intake.id, system: null, heights: intake.heights ?? null },
});

const exchangeColumns = (intake: Intake, label = 'Swap east and north'): Remedy => ({
  label,
  change: { op: 'intake.layout', id: intake.id, layout: { ...intake.layout, roles: exchangedRoles(intake.layout.roles) } }, // prettier-ignore
});

/** What the file says of itself, held against how it is read; what makes its points wait is asked about apart. */
export function claimsOf(
  doc: ProjectDocument,
  intake: Intake,
  points: PointTable,
  rows: readonly number[],
  heightsLack: boolean,
): Query[] {
  const out: Query[] = [];
  const { unit } = doc.settings;
  const read = intake.layout.unit;
  const first = rows[0];
  const place = first === undefined ? null : { x: points.x[first], y: points.y[first] };
  const base = { stage: 'basis' as const, weight: 'look' as const, place, rows: rows.slice(0, 500), lines: [] };
  const byUnit = (to: FileUnit): Remedy => ({
    label: `Read it in ${UNIT_NAME[to]}`,
    change: { op: 'intake.layout', id: intake.id, layout: { ...intake.layout, unit: to } },
  });
  const claimed = intake.claims?.unit;
  if (claimed && claimed !== read)
    out.push(
      settleQuery(doc, {
        ...base,
        key: `unit-differs:${intake.id}`,
        kind: 'unit-differs',
        text: `${intake.fileName} says that it is in ${UNIT_NAME[claimed]}, but it is read in ${UNIT_NAME[read]}.`,
        evidence: [claimed, read],
        remedies: [byUnit(claimed)],
      }),
    );
  else if ((read === 'ft' && unit === 'usft') || (read === 'usft' && unit === 'ft')) {
    const size = rows.reduce((most, r) => Math.max(most, Math.abs(points.x[r]), Math.abs(points.y[r])), 0);
    out.push(
      settleQuery(doc, {
        ...base,
        key: `foot-differs:${intake.id}`,
        kind: 'foot-differs',
        text: `${intake.fileName} is read in ${UNIT_NAME[read]}; the project works in ${UNIT_NAME[unit]}. At its coordinates the two differ by ${formatFixed(footDifference(size), 3)} ft (2 ppm).`,
        evidence: [read, unit],
        remedies: [byUnit(unit)],
      }),
    );
  }
  const own = intake.system ?? doc.basis.system;
  const named = intake.claims?.system;
  if (named && !namesSystem(named, own))
    out.push(
      settleQuery(doc, {
        ...base,
        key: `system-differs:${intake.id}`,
        kind: 'system-differs',
        text: `${intake.fileName} names the system “${named}”; its numbers are taken as ${isPublished(own) ? own.name : 'local ground'}. Choose its system under Basis, or accept it as it is.`,
        evidence: [named, isPublished(own) ? own.definition : 'local'],
        remedies: [],
      }),
    );
  const geoid = intake.claims?.geoid;
  if (geoid && !heightsLack && !sameName(geoid, doc.basis.geoid?.name ?? ''))
    out.push(
      settleQuery(doc, {
        ...base,
        key: `geoid-lacking:${intake.id}`,
        kind: 'geoid-lacking',
        text: `${intake.fileName} names the geoid “${geoid}”, ${doc.basis.geoid ? `the project has ${doc.basis.geoid.name}` : 'which the project lacks'}. Import its grid under Basis, or accept its elevations as they are.`,
        evidence: [geoid, intake.heights ?? doc.basis.heights, doc.basis.geoid?.sha256 ?? ''],
        remedies: [],
      }),
    );
  return out;
}

const letters = (text: string): string =>
  text
    .toLowerCase()
    .replace(/\.(gtx|tiff?|gsb)$/, '')
    .replace(/[^a-z0-9]+/g, '');
const sameName = (a: string, b: string): boolean =>
  letters(b) !== '' && (letters(a).includes(letters(b)) || letters(b).includes(letters(a)));

function namesSystem(named: string, system: ProjectDocument['basis']['system']): boolean {
  if (!isPublished(system)) return /local|ground|arbitrary/i.test(named);
  const code = /(\d{4,6})/.exec(named)?.[1];
  if (code && system.code) return system.code === `EPSG:${code}`;
  return sameName(named, system.name);
}

export type FileDoubt = Extract<Doubt, { intake: number }>;

/** What is asked about a file whose points wait. */
export function askAboutFile(
  doc: ProjectDocument,
  doubt: FileDoubt,
  points: PointTable,
  rows: readonly number[],
): Query {
  if (doubt.kind === 'other-basis') return askAboutRelation(doc, doubt);
  const intake = doc.intakes[doubt.intake];
  const { unit } = doc.settings;
  const { heights, geoid } = doc.basis;
  const first = rows[0];
  const place = first === undefined ? null : { x: points.x[first], y: points.y[first] };
  const base = { stage: 'basis' as const, weight: 'stop' as const, place, rows: rows.slice(0, 500) };
  switch (doubt.kind) {
    case 'system-lacking': {
      const of = doubt.system;
      const set: Remedy = {
        label: `Set the project’s system to ${of.name}`,
        change: { op: 'basis.set', basis: { system: of } },
      };
      return askAbout(doubt, {
        ...base,
        kind: 'system-lacking',
        text: `${intake.fileName} is in ${of.name}; the project is local ground. Its points wait until the project has a published system, or the file’s numbers are taken as local.`,
        remedies: [...(of.kind === 'projected' ? [set] : []), takeAsOwn(intake)],
      });
    }
    case 'heights-lacking':
      return askAbout(doubt, {
        ...base,
        kind: 'geoid-lacking',
        text: `${intake.fileName} holds ${intake.heights} heights, the project ${heights} ones. ${geoid ? 'The project has no published system to apply the geoid in' : 'The project has no geoid to convert one to the other'}: its points wait.`,
        remedies: [],
      });
    case 'outside-area': {
      const { out, swapped, system } = doubt;
      const at = `${lengthText(place!.x, unit, 0)} east, ${lengthText(place!.y, unit, 0)} north`;
      return askAbout(doubt, {
        ...base,
        kind: 'outside-area',
        text: `${out === rows.length ? 'All' : `${out} of ${rows.length}`} points of ${intake.fileName} are outside the area of ${system.name} (the first at ${at}). ${swapped ? 'With east and north swapped they are inside.' : 'Another grid, local coordinates, or a projection that is not meant for here?'}`,
        remedies: swapped && !intake.placement ? [exchangeColumns(intake)] : [],
      });
    }
    case 'far-file':
      return askAbout(doubt, {
        ...base,
        kind: 'other-basis',
        text: `${intake.fileName} is ${lengthText(doubt.apart, unit, 0)} from everything else in the project, and no number of it is in control. Another grid, or local coordinates? Name common points under Local to grid, or say in which system the file is.`,
        place: doubt.at,
        remedies: [{ label: 'Switch the file off', change: { op: 'intake.switch', id: intake.id, on: false } }],
      });
    case 'swapped-columns': {
      const far = (m: number): string => `${formatLength(m, unit, 0)} ${UNIT_SIGN[unit]}`;
      return askAbout(doubt, {
        ...base,
        kind: 'columns-exchanged',
        stage: 'book',
        text: `The points of ${intake.fileName} are ${far(doubt.straight)} from control; with east and north swapped they lie within it (${far(doubt.swapped)}).`,
        place: doubt.at,
        rows: rows.slice(0, 1000),
        remedies: [exchangeColumns(intake)],
      });
    }
  }
}
