import { formatLength, UNIT_SIGN } from '#core/measure';
import type { ProjectDocument, TracedRow } from '#core/project';
import { drawnKey, type BuiltSurface } from '#core/stages';
import { drawnName, lineName } from './line-name.ts';
import { MOST_OF_A_KIND, settleQuery, type Query } from '../query.ts';

type Fault = BuiltSurface['account']['contourFaults'][number];

/** What is asked of lines that come in as contours. */
export const queryContours = (doc: ProjectDocument, built: BuiltSurface): Query[] => [
  ...askUneven(doc, built),
  ...built.account.contourFaults
    .filter((f) => !isBridged(doc, built.id, f) && !isMeeting(doc, f))
    .slice(0, MOST_OF_A_KIND)
    .map((f) => askFault(doc, built, f)),
];

/** Whether a traced contour meets others where its elevation does not: there it is asked which of them counts. */
const isMeeting = (doc: ProjectDocument, { kind, key, others }: Fault): boolean =>
  (kind === 'cross' || kind === 'closing-side') && [key, ...others.map((o) => o.key)].some((k) => tracedRow(doc, k));

/** The row of a traced line; undefined for lines of the survey. */
const tracedRow = (doc: ProjectDocument, key: string, surface?: string): TracedRow | undefined =>
  doc.surfaces
    .filter((s) => surface === undefined || s.id === surface)
    .flatMap((s) => s.rows)
    .find((r): r is TracedRow => r.kind === 'traced' && drawnKey(r.id) === key);

/** Whether a gap has a breakline drawn from one end to the other. */
function isBridged(doc: ProjectDocument, surface: string, { kind, bridge: [ax, ay, bx, by] }: Fault): boolean {
  if (kind !== 'gap') return false;
  const rows = doc.surfaces.find((s) => s.id === surface)?.rows ?? [];
  return rows.some((r) => {
    if (r.kind !== 'breakline' || !r.on) return false;
    const at = (x: number, y: number): boolean => r.course.some((p) => p.x === x && p.y === y);
    return at(ax, ay) && at(bx, by);
  });
}

/** Lines that were to come in as contours and are not level: which of their elevations counts nobody can say. */
function askUneven(doc: ProjectDocument, { id, name, account }: BuiltSurface): Query[] {
  const { unit } = doc.settings;
  return account.uneven.slice(0, MOST_OF_A_KIND).map(({ row, key, low, high, x, y }) =>
    settleQuery(doc, {
      key: `contour-uneven:${id}:${row}:${key}`,
      kind: 'contour-uneven',
      stage: 'ground',
      weight: 'look',
      text: `Line ${key} is to be a contour of “${name}”, and runs from ${formatLength(low, unit)} to ${formatLength(high, unit)} ${UNIT_SIGN[unit]}. It is left out; correct its elevations, or bring it in as a breakline.`,
      evidence: [low, high],
      place: { x, y },
      rows: [],
      lines: [key],
      remedies: [],
    }),
  );
}

/** A contour that does not go with the others. */
function askFault(doc: ProjectDocument, { id, name }: BuiltSurface, f: Fault): Query {
  const others = f.others.map((o) => o.key);
  const isLine = (key: string): boolean => !tracedRow(doc, key);
  return settleQuery(doc, {
    key: `contour-fault:${id}:${f.kind}:${f.key}:${f.kind === 'gap' ? others.join() : ''}`,
    kind: 'contour-fault',
    stage: 'ground',
    weight: f.kind === 'gap' || f.kind === 'open' ? 'note' : 'look',
    text: `${textOf(doc, f)} It is in “${name}” as it is.`,
    evidence: [f.elevation, f.others.map((o) => [o.key, o.elevation]), f.fits],
    place: { x: f.x, y: f.y },
    rows: [],
    lines: [f.key, ...others.slice(0, 20)].filter(isLine),
    remedies: remediesOf(doc, id, f),
  });
}

function textOf(doc: ProjectDocument, { kind, key, elevation, others, fits }: Fault): string {
  const { unit } = doc.settings;
  const at = (z: number): string => `${formatLength(z, unit)} ${UNIT_SIGN[unit]}`;
  const named = tracedRow(doc, key) ? `The traced contour at ${at(elevation)}` : `Contour ${key} at ${at(elevation)}`;
  const list = others.slice(0, 4).map((o) => `${lineName(doc, o.key)} at ${at(o.elevation)}`).join(', '); // prettier-ignore
  const all = others.length > 4 ? `${list} and ${others.length - 4} more` : list;
  switch (kind) {
    case 'double':
      return `${named} runs over ${all} all along.`;
    case 'closing-side':
      return `${named} is closed, and the side that closes it cuts ${all}.`;
    case 'cross':
      return `${named} crosses or touches ${all}.`;
    case 'elevation':
      return `${named} does not fit between its neighbours: ${all}.${fits === null ? '' : ` ${at(fits)} would.`}`;
    case 'open':
      return `${named} ends between neighbours that go on.`;
    case 'gap':
      return `${named} has a gap; both ends line up.`;
  }
}

function remediesOf(
  doc: ProjectDocument,
  surface: string,
  { kind, key, elevation, fits, bridge }: Fault,
): Query['remedies'] {
  const { unit } = doc.settings;
  const rowId = (what: string): string => `${what}-${key}`.slice(0, 40);
  const traced = tracedRow(doc, key, surface);
  if (kind === 'open') return [];
  if (kind === 'gap') {
    const course = [0, 2].map((k) => ({ x: bridge[k], y: bridge[k + 1], z: elevation }));
    return [{ label: 'Bridge it with a breakline', change: { op: 'surface.row', surface, row: { id: rowId('bridge'), on: true, kind: 'breakline', course } } }]; // prettier-ignore
  }
  const exclude: Query['remedies'][number] = traced
    ? { label: `Delete the ${drawnName(traced)}`, change: { op: 'surface.rowRemove', surface, id: traced.id } }
    : { label: 'Exclude the line from this surface', change: { op: 'line.ground', surface, key, used: false } };
  if (fits === null) return [exclude];
  const raise: Query['remedies'][number] = {
    label: `Set it to ${formatLength(fits, unit)} ${UNIT_SIGN[unit]} in this surface`,
    change: {
      op: 'surface.row',
      surface,
      row: traced
        ? { ...traced, course: traced.course.map((p) => ({ ...p, z: fits })) }
        : { id: rowId('contour'), on: true, kind: 'raise-lines', lines: [key], by: fits - elevation },
    },
  };
  return [raise, exclude];
}
