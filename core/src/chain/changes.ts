import { z } from 'zod';
import { codeListSchema, wordsSchema } from './code-list-schema.ts';
import { pointSetSchema } from './point-set-schema.ts';
import { drawingSchema, layerSchema, plotSchema } from './drawing-schema.ts';
import { changeDrawing, describeDrawing, drawingTouches } from './drawing-changes.ts';
import {
  acceptedSchema,
  basisSchema,
  bookLayoutSchema,
  givenSchema,
  handLineSchema,
  placementSchema,
  systemSchema,
  comparisonSchema,
  decisionSchema,
  intakeSchema,
  layoutSchema,
  numberDecisionSchema,
  pointEditSchema,
  registerSchema,
  ringSchema,
  settingsSchema,
  type HandLine,
  type Intake,
  type Placement,
  type PointEdit,
  type ProjectDocument,
} from './document.ts';

/** Fields of an edit to set; `undo` names those that go back to what was received. */
const editChange = z.object({
  set: pointEditSchema,
  undo: z.array(
    z.enum([
      'number',
      'description',
      'x',
      'y',
      'z',
      'off',
      'full',
      'standing',
      'height',
      'circle',
      'zenith',
      'distance',
      'face',
      'role',
    ]),
  ),
});

/** Why somebody did it, in their words; kept with the change. */
const whySchema = z.string().trim().max(500).optional();

/** One edit of a project. A change is data: it is applied, stored, and undone by its inverse, another change. */
export const changeSchema = z.discriminatedUnion('op', [
  z.object({ op: z.literal('intake.add'), intake: intakeSchema, at: z.int().min(0).optional() }),
  z.object({ op: z.literal('intake.remove'), id: z.string() }),
  z.object({ op: z.literal('intake.switch'), id: z.string(), on: z.boolean() }),
  z.object({ op: z.literal('intake.prefix'), id: z.string(), prefix: z.string().trim().max(12) }),
  z.object({ op: z.literal('intake.words'), id: z.string(), words: wordsSchema.nullable() }),
  z.object({ op: z.literal('intake.layout'), id: z.string(), layout: layoutSchema }),
  z.object({ op: z.literal('intake.bookLayout'), id: z.string(), layout: bookLayoutSchema.nullable() }),
  z.object({
    op: z.literal('intake.numbers'),
    id: z.string(),
    numbers: z.object({ all: numberDecisionSchema, each: z.record(z.string().max(200), numberDecisionSchema) }),
  }),
  z.object({
    op: z.literal('intake.place'),
    ids: z.array(z.string()).min(1).max(500),
    placements: z.array(placementSchema.nullable()),
  }),
  z.object({ op: z.literal('intake.given'), id: z.string(), given: givenSchema.nullable() }),
  z.object({
    op: z.literal('intake.system'),
    id: z.string(),
    system: systemSchema.nullable(),
    heights: z.enum(['orthometric', 'ellipsoidal']).nullable(),
  }),
  z.object({ op: z.literal('basis.set'), basis: basisSchema.partial() }),
  z.object({
    op: z.literal('points.edit'),
    edits: z.record(z.string().max(80), editChange),
    /** Why, in the words of whoever did it. */
    why: whySchema,
  }),
  z.object({
    op: z.literal('record.decide'),
    key: z.string().max(80),
    decision: decisionSchema.nullable(),
    why: whySchema,
  }),
  z.object({ op: z.literal('register.set'), register: registerSchema }),
  z.object({ op: z.literal('codes.set'), codeList: codeListSchema }),
  z.object({ op: z.literal('settings.set'), settings: settingsSchema.partial() }),
  z.object({ op: z.literal('boundary.set'), ring: ringSchema.nullable() }),
  z.object({ op: z.literal('comparison.set'), comparison: comparisonSchema, at: z.int().min(0).optional() }),
  z.object({ op: z.literal('comparison.remove'), id: z.string() }),
  z.object({ op: z.literal('query.accept'), key: z.string().max(300), accepted: acceptedSchema }),
  z.object({ op: z.literal('query.reopen'), key: z.string().max(300) }),
  z.object({
    op: z.literal('lines.hand'),
    /** Lines by hand to set; null takes one away, and its codes draw again. */
    set: z.record(z.string().max(200), handLineSchema.nullable()),
    what: z.string().trim().min(1).max(200),
  }),
  z.object({
    op: z.literal('drawing.set'),
    drawing: drawingSchema.omit({ moved: true, plots: true, layers: true }).partial(),
  }),
  z.object({ op: z.literal('drawing.layer'), layer: z.string().min(1).max(31), look: layerSchema.nullable() }),
  z.object({
    op: z.literal('drawing.plot'),
    id: z.string().min(1).max(40),
    plot: plotSchema.nullable(),
    at: z.int().min(0).optional(),
  }),
  z.object({
    op: z.literal('drawing.label'),
    key: z.string().max(120),
    to: z.tuple([z.number().min(-500).max(500), z.number().min(-500).max(500)]).nullable(),
  }),
  z.object({
    op: z.literal('points.set'),
    id: z.string().min(1).max(40),
    set: pointSetSchema.nullable(),
    at: z.int().min(0).optional(),
  }),
  z.object({ op: z.literal('intake.light'), id: z.string(), light: z.boolean() }),
  z.object({ op: z.literal('line.ground'), key: z.string().max(200), used: z.boolean() }),
]);
export type Change = z.infer<typeof changeSchema>;

export type Applied = { ok: true; document: ProjectDocument; inverse: Change } | { ok: false; reason: string };

const no = (reason: string): Applied => ({ ok: false, reason });

/** Applies a change to a document without altering it, and gives the change that takes it back. */
export function applyChange(doc: ProjectDocument, change: Change): Applied {
  const yes = (part: Partial<ProjectDocument>, inverse: Change): Applied => ({
    ok: true,
    document: { ...doc, ...part },
    inverse,
  });
  switch (change.op) {
    case 'intake.add': {
      if (doc.intakes.some((i) => i.id === change.intake.id)) return no('This intake is in the project already.');
      const intakes = [...doc.intakes];
      intakes.splice(change.at ?? intakes.length, 0, change.intake);
      return yes({ intakes }, { op: 'intake.remove', id: change.intake.id });
    }
    case 'intake.remove': {
      const at = doc.intakes.findIndex((i) => i.id === change.id);
      if (at < 0) return no('This intake is no longer in the project.');
      return yes(
        { intakes: doc.intakes.filter((i) => i.id !== change.id) },
        { op: 'intake.add', intake: doc.intakes[at], at },
      );
    }
    case 'intake.switch':
    case 'intake.layout':
    case 'intake.words':
    case 'intake.light':
    case 'intake.bookLayout':
    case 'intake.prefix':
    case 'intake.numbers':
    case 'intake.given':
    case 'intake.system':
      return editIntake(doc, change);
    case 'intake.place':
      return placeIntakes(doc, change);
    case 'basis.set': {
      const before: Record<string, unknown> = {};
      for (const key of Object.keys(change.basis)) before[key] = doc.basis[key as keyof typeof doc.basis];
      return yes({ basis: { ...doc.basis, ...change.basis } }, { op: 'basis.set', basis: before });
    }
    case 'points.edit':
      return editPoints(doc, change);
    case 'record.decide': {
      const { [change.key]: before, ...decisions } = doc.decisions;
      if (change.decision !== null) decisions[change.key] = change.decision;
      return yes({ decisions }, { op: 'record.decide', key: change.key, decision: before ?? null });
    }
    case 'register.set':
      return yes({ register: change.register }, { op: 'register.set', register: doc.register });
    case 'codes.set':
      return yes({ codeList: change.codeList }, { op: 'codes.set', codeList: doc.codeList });
    case 'settings.set': {
      const before: Record<string, unknown> = {};
      for (const key of Object.keys(change.settings)) before[key] = doc.settings[key as keyof typeof doc.settings];
      return yes({ settings: { ...doc.settings, ...change.settings } }, { op: 'settings.set', settings: before });
    }
    case 'boundary.set':
      return yes({ boundary: change.ring }, { op: 'boundary.set', ring: doc.boundary });
    case 'comparison.set': {
      const before = doc.comparisons.find((c) => c.id === change.comparison.id);
      const comparisons = doc.comparisons.map((c) => (c === before ? change.comparison : c));
      if (!before) comparisons.splice(change.at ?? comparisons.length, 0, change.comparison);
      return yes(
        { comparisons },
        before ? { op: 'comparison.set', comparison: before } : { op: 'comparison.remove', id: change.comparison.id },
      );
    }
    case 'comparison.remove': {
      const at = doc.comparisons.findIndex((c) => c.id === change.id);
      if (at < 0) return no('This comparison is no longer in the project.');
      return yes(
        { comparisons: doc.comparisons.filter((c) => c.id !== change.id) },
        { op: 'comparison.set', comparison: doc.comparisons[at], at },
      );
    }
    case 'query.accept': {
      const before = doc.accepted[change.key];
      return yes(
        { accepted: { ...doc.accepted, [change.key]: change.accepted } },
        before ? { op: 'query.accept', key: change.key, accepted: before } : { op: 'query.reopen', key: change.key },
      );
    }
    case 'query.reopen': {
      const { [change.key]: before, ...accepted } = doc.accepted;
      if (!before) return no('This query is not accepted.');
      return yes({ accepted }, { op: 'query.accept', key: change.key, accepted: before });
    }
    case 'lines.hand': {
      const handLines = { ...doc.handLines };
      const before: Record<string, HandLine | null> = {};
      for (const [key, line] of Object.entries(change.set)) {
        before[key] = handLines[key] ?? null;
        if (line) handLines[key] = line;
        else delete handLines[key];
      }
      return yes({ handLines }, { op: 'lines.hand', set: before, what: `back: ${change.what}`.slice(0, 200) });
    }
    case 'points.set': {
      const at = doc.pointSets.findIndex((s) => s.id === change.id);
      if (!change.set && at < 0) return no('This set is no longer there.');
      const pointSets = doc.pointSets.filter((s) => s.id !== change.id);
      if (change.set) pointSets.splice(change.at ?? (at < 0 ? pointSets.length : at), 0, change.set);
      return yes(
        { pointSets },
        { op: 'points.set', id: change.id, set: at < 0 ? null : doc.pointSets[at], ...(at < 0 ? {} : { at }) },
      );
    }
    case 'drawing.set':
    case 'drawing.layer':
    case 'drawing.plot':
    case 'drawing.label':
      return changeDrawing(doc, change);
    case 'line.ground': {
      const out = doc.linesOutOfGround.includes(change.key);
      if (out === !change.used)
        return no(change.used ? 'This line is in the ground already.' : 'This line is out of the ground already.');
      const linesOutOfGround = change.used
        ? doc.linesOutOfGround.filter((k) => k !== change.key)
        : [...doc.linesOutOfGround, change.key].sort();
      return yes({ linesOutOfGround }, { op: 'line.ground', key: change.key, used: !change.used });
    }
  }
}

type IntakeChange = Extract<
  Change,
  {
    op:
      | 'intake.switch'
      | 'intake.layout'
      | 'intake.words'
      | 'intake.light'
      | 'intake.bookLayout'
      | 'intake.prefix'
      | 'intake.numbers'
      | 'intake.given'
      | 'intake.system';
  }
>;

function editIntake(doc: ProjectDocument, change: IntakeChange): Applied {
  const before = doc.intakes.find((i) => i.id === change.id);
  if (!before) return no('This intake is no longer in the project.');
  const [part, inverse] = intakePart(before, change);
  // What is absent stays absent, so that a document put back is the document that was.
  const after = Object.fromEntries(Object.entries({ ...before, ...part }).filter(([, v]) => v !== undefined));
  const intakes = doc.intakes.map((i) => (i === before ? (after as Intake) : i));
  return { ok: true, document: { ...doc, intakes }, inverse };
}

function intakePart(before: Intake, change: IntakeChange): [Partial<Intake>, Change] {
  const { id } = change;
  switch (change.op) {
    case 'intake.switch':
      return [{ on: change.on }, { op: change.op, id, on: before.on }];
    case 'intake.layout':
      return [{ layout: change.layout }, { op: change.op, id, layout: before.layout }];
    case 'intake.prefix':
      return [{ prefix: change.prefix || undefined }, { op: change.op, id, prefix: before.prefix ?? '' }];
    case 'intake.bookLayout':
      return [{ bookLayout: change.layout ?? undefined }, { op: change.op, id, layout: before.bookLayout ?? null }];
    case 'intake.light':
      return [{ light: change.light || undefined }, { op: change.op, id, light: before.light ?? false }];
    case 'intake.words':
      return [{ words: change.words ?? undefined }, { op: change.op, id, words: before.words ?? null }];
    case 'intake.numbers':
      return [{ numbers: change.numbers }, { op: change.op, id, numbers: before.numbers }];
    case 'intake.given':
      return [{ given: change.given ?? undefined }, { op: change.op, id, given: before.given ?? null }];
    case 'intake.system':
      return [
        { system: change.system ?? undefined, heights: change.heights ?? undefined },
        { op: change.op, id, system: before.system ?? null, heights: before.heights ?? null },
      ];
  }
}

/** Several files carried over at once are one change, and one undo. */
function placeIntakes(doc: ProjectDocument, change: Extract<Change, { op: 'intake.place' }>): Applied {
  if (change.ids.length !== change.placements.length) return no('Each file needs its own placement.');
  const before = change.ids.map((id) => doc.intakes.find((i) => i.id === id));
  if (before.some((i) => !i)) return no('This intake is no longer in the project.');
  const intakes = doc.intakes.map((intake) => {
    const at = change.ids.indexOf(intake.id);
    if (at < 0) return intake;
    const { placement: _, ...rest } = intake;
    const placement = change.placements[at];
    return placement ? { ...rest, placement } : rest;
  });
  return {
    ok: true,
    document: { ...doc, intakes },
    inverse: { op: 'intake.place', ids: change.ids, placements: before.map((i) => i!.placement ?? null) },
  };
}

function editPoints(doc: ProjectDocument, change: Extract<Change, { op: 'points.edit' }>): Applied {
  const edits = { ...doc.edits };
  const back: Extract<Change, { op: 'points.edit' }>['edits'] = {};
  for (const [key, { set, undo }] of Object.entries(change.edits)) {
    const intake = key.slice(0, key.lastIndexOf(':'));
    if (!doc.intakes.some((i) => i.id === intake)) return no(`Point ${key} belongs to no intake of this project.`);
    const before: PointEdit = edits[key] ?? {};
    const after: Record<string, unknown> = { ...before, ...set };
    for (const field of undo) delete after[field];
    const touched = new Set([...Object.keys(set), ...undo]) as Set<keyof PointEdit>;
    const restore: Record<string, unknown> = {};
    for (const field of touched) if (before[field] !== undefined) restore[field] = before[field];
    back[key] = { set: restore as PointEdit, undo: [...touched].filter((f) => before[f] === undefined) };
    if (Object.keys(after).length === 0) delete edits[key];
    else edits[key] = after as PointEdit;
  }
  return { ok: true, document: { ...doc, edits }, inverse: { op: 'points.edit', edits: back } };
}

/** A change in a few plain words, for the list of changes. */
/** Changes of what was measured or decided in the field: a checker asks why. */
export const asksWhy = (change: Change): change is Extract<Change, { why?: string }> =>
  change.op === 'points.edit' || change.op === 'record.decide';

const because = ({ why }: { why?: string }): string => (why ? `: ${why}` : '');

export function describeChange(change: Change): string {
  switch (change.op) {
    case 'intake.add':
      return `took in ${change.intake.fileName}`;
    case 'intake.remove':
      return 'took an intake out';
    case 'intake.switch':
      return change.on ? 'switched a file on' : 'switched a file off';
    case 'intake.layout':
      return 'read a file by another layout';
    case 'intake.prefix':
      return change.prefix
        ? `put ${change.prefix} before the numbers of a file`
        : 'took the sign off the numbers of a file';
    case 'intake.light':
      return change.light ? 'made the points of a file light' : 'made the points of a file full';
    case 'points.set':
      return change.set ? `set the points “${change.set.name}”` : 'took a set of points away';
    case 'intake.words':
      return change.words ? 'said which line words a crew uses' : 'put a file back to the words of the list';
    case 'intake.bookLayout':
      return 'read a book by another layout';
    case 'intake.numbers':
      return 'decided on numbers that exist already';
    case 'intake.place':
      return change.placements.every((p) => p === null)
        ? 'put files back as received, off the fit'
        : `carried ${change.ids.length === 1 ? 'a file' : `${change.ids.length} files`} over by ${describePlacement(change.placements.find((p) => p !== null)!)}`;
    case 'intake.given':
      return 'said who gave a file';
    case 'intake.system':
      return change.system && change.system.kind !== 'local'
        ? `said that a file is in ${change.system.name}`
        : 'said in which system a file is';
    case 'basis.set':
      return describeBasis(change.basis);
    case 'points.edit':
      return describeEdits(change.edits) + because(change);
    case 'record.decide':
      return change.decision === null
        ? `left a backsight to the rule${because(change)}`
        : `decided: ${change.decision === 'used' ? 'use it' : change.decision === 'aside' ? 'set it aside' : 'leave it open'}${because(change)}`;
    case 'register.set':
      return 'changed the register of instruments and targets';
    case 'codes.set':
      return 'changed the code list';
    case 'settings.set':
      return `set ${Object.keys(change.settings)
        .map((k) => SETTING_NAME[k] ?? k)
        .join(', ')}`;
    case 'boundary.set':
      return change.ring ? 'drew a boundary of the ground' : 'took the boundary of the ground away';
    case 'comparison.set':
      return `set the comparison “${change.comparison.name}”`;
    case 'comparison.remove':
      return 'took a comparison out';
    case 'query.accept':
      return `accepted a query: ${change.accepted.reason}`;
    case 'query.reopen':
      return 'reopened a query';
    case 'lines.hand':
      return change.what;
    case 'drawing.set':
    case 'drawing.layer':
    case 'drawing.plot':
    case 'drawing.label':
      return describeDrawing(change);
    case 'line.ground':
      return change.used ? `put line ${change.key} into the ground` : `took line ${change.key} out of the ground`;
  }
}

function describePlacement(placement: Placement): string {
  const used = placement.pairs.filter((p) => p.plan).length;
  if (placement.kind === 'shift') return 'a shift';
  if (placement.kind === 'mirror') return 'a reflection';
  return `${placement.kind === 'space' ? 'seven parameters' : 'a similarity'} from ${used} common points`;
}

const BASIS_NAME: Record<string, string> = {
  system: 'the system',
  factor: 'the project scale factor',
  factorSource: 'where the factor comes from',
  base: 'the base point',
  heights: 'what elevations are',
  geoid: 'the geoid',
  interpolation: 'how the geoid is interpolated',
  datumGrids: 'the datum grids',
  epoch: 'the epoch',
};

function describeBasis(basis: Extract<Change, { op: 'basis.set' }>['basis']): string {
  const { system } = basis;
  if (system && Object.keys(basis).length === 1)
    return `set the system to ${system.kind === 'local' ? 'local ground' : system.name}`;
  return `set ${Object.keys(basis)
    .map((k) => BASIS_NAME[k] ?? k)
    .join(', ')}`;
}

const SETTING_NAME: Record<string, string> = {
  unit: 'the unit',
  order: 'the coordinate order',
  decimals: 'the decimals',
  elevationDecimals: 'the decimals of elevations',
  angle: 'how angles are written',
  angleDecimals: 'the decimals of angles',
  areaUnit: 'the area unit',
  volumeUnit: 'the volume unit',
  volumeDecimals: 'the decimals of volumes',
  chainage: 'how chainage is written',
  plotScale: 'the plot scale',
  lineOrder: 'the order in which lines are built',
  checkPlan: 'the tolerance of checks in plan',
  checkHeight: 'the tolerance of checks in height',
  fitOutlier: 'the limit of standardised residuals',
  angleSpread: 'the tolerance of repeated angles',
  refraction: 'the coefficient of refraction',
  vertical: 'how vertical angles are written',
  gnssPlan: 'the precision in plan that satellites must promise',
  gnssHeight: 'the precision in height that satellites must promise',
  gnssPdop: 'the largest dilution of satellites',
  gnssSatellites: 'the fewest satellites',
  gnssTilt: 'the largest tilt of the pole',
  levelClosure: 'the misclosure of levelling',
  traverseRatio: 'the misclosure of traverses',
  traverse: 'the rule for traverses',
  resectionScale: 'the scale of resections',
  networkDatum: 'what holds the network',
  backsightRule: 'the rule for backsights',
  network: 'whether stations are adjusted together',
  coincidence: 'the coincidence distance',
  longestSide: 'the longest side',
  contourInterval: 'the contour interval',
  indexEvery: 'the index contours',
  spike: 'the spike tolerance',
  sagitta: 'the arc tolerance',
  pairReach: 'how far apart the two levels of a place may lie',
};

/** Names of a point’s fields, as people read them. */
export const FIELD_NAME: Record<string, string> = {
  number: 'number',
  description: 'code',
  x: 'east',
  y: 'north',
  z: 'elevation',
  off: 'use',
  full: 'light or full',
  standing: 'standing',
  height: 'height',
  circle: 'circle',
  zenith: 'vertical angle',
  distance: 'distance',
  face: 'face',
  role: 'what it is sighted for',
};

function describeEdits(edits: Extract<Change, { op: 'points.edit' }>['edits']): string {
  const keys = Object.keys(edits);
  const fields = new Set(keys.flatMap((k) => [...Object.keys(edits[k].set), ...edits[k].undo]));
  const what = [...fields].map((f) => FIELD_NAME[f] ?? f).join(', ');
  if (keys.length !== 1) return `edited ${what} of ${keys.length} points`;
  const { set } = edits[keys[0]];
  if (set.off !== undefined) return set.off ? 'left a point out' : 'took a point back in';
  const value = Object.values(set)[0];
  return value === undefined
    ? `put ${what} of a point back as received`
    : `set ${what} of a point to ${value === null ? 'none' : String(value)}`;
}

/**
 * What a change speaks of, as paths: `settings/unit`, `edit/intake:row/x`, `intake/id/layout` …; two changes
 * meet when one's path is the other's or lies under it.
 */
export function changeTouches(change: Change): string[] {
  switch (change.op) {
    case 'intake.add':
      return [`intake/${change.intake.id}`];
    case 'intake.remove':
      return [`intake/${change.id}`];
    case 'intake.switch':
    case 'intake.layout':
    case 'intake.words':
    case 'intake.light':
    case 'intake.bookLayout':
    case 'intake.prefix':
    case 'intake.numbers':
    case 'intake.given':
    case 'intake.system':
      return [`intake/${change.id}/${change.op}`];
    case 'intake.place':
      return change.ids.map((id) => `intake/${id}/place`);
    case 'points.edit':
      return Object.entries(change.edits).flatMap(([key, { set, undo }]) => {
        const intake = key.slice(0, key.lastIndexOf(':'));
        return [...Object.keys(set), ...undo].map((field) => `intake/${intake}/edit/${key}/${field}`);
      });
    case 'record.decide':
      return [`decision/${change.key}`];
    case 'register.set':
      return ['register'];
    case 'codes.set':
      return ['codes'];
    case 'settings.set':
      return Object.keys(change.settings).map((k) => `settings/${k}`);
    case 'basis.set':
      return Object.keys(change.basis).map((k) => `basis/${k}`);
    case 'boundary.set':
      return ['boundary'];
    case 'comparison.set':
      return [`comparison/${change.comparison.id}`];
    case 'comparison.remove':
      return [`comparison/${change.id}`];
    case 'query.accept':
    case 'query.reopen':
      return [`query/${change.key}`];
    case 'lines.hand':
      return Object.keys(change.set).map((k) => `hand/${k}`);
    case 'points.set':
      return [`set/${change.id}`];
    case 'drawing.set':
    case 'drawing.layer':
    case 'drawing.plot':
    case 'drawing.label':
      return drawingTouches(change);
    case 'line.ground':
      return [`line/${change.key}`];
  }
}
