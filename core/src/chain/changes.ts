import { z } from 'zod';
import {
  acceptedSchema,
  codeListSchema,
  comparisonSchema,
  intakeSchema,
  layoutSchema,
  numberDecisionSchema,
  pointEditSchema,
  ringSchema,
  settingsSchema,
  type PointEdit,
  type ProjectDocument,
} from './document.ts';

/** Fields of an edit to set; `undo` names those that go back to what was received. */
const editChange = z.object({
  set: pointEditSchema,
  undo: z.array(z.enum(['number', 'description', 'x', 'y', 'z', 'off'])),
});

/** One edit of a project. A change is data: it is applied, stored, and undone by its inverse, another change. */
export const changeSchema = z.discriminatedUnion('op', [
  z.object({ op: z.literal('intake.add'), intake: intakeSchema, at: z.int().min(0).optional() }),
  z.object({ op: z.literal('intake.remove'), id: z.string() }),
  z.object({ op: z.literal('intake.switch'), id: z.string(), on: z.boolean() }),
  z.object({ op: z.literal('intake.layout'), id: z.string(), layout: layoutSchema }),
  z.object({
    op: z.literal('intake.numbers'),
    id: z.string(),
    numbers: z.object({ all: numberDecisionSchema, each: z.record(z.string().max(200), numberDecisionSchema) }),
  }),
  z.object({ op: z.literal('points.edit'), edits: z.record(z.string().max(80), editChange) }),
  z.object({ op: z.literal('codes.set'), codeList: codeListSchema }),
  z.object({ op: z.literal('settings.set'), settings: settingsSchema.partial() }),
  z.object({ op: z.literal('boundary.set'), ring: ringSchema.nullable() }),
  z.object({ op: z.literal('comparison.set'), comparison: comparisonSchema, at: z.int().min(0).optional() }),
  z.object({ op: z.literal('comparison.remove'), id: z.string() }),
  z.object({ op: z.literal('query.accept'), key: z.string().max(300), accepted: acceptedSchema }),
  z.object({ op: z.literal('query.reopen'), key: z.string().max(300) }),
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
    case 'intake.numbers':
      return editIntake(doc, change);
    case 'points.edit':
      return editPoints(doc, change);
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

type IntakeChange = Extract<Change, { op: 'intake.switch' | 'intake.layout' | 'intake.numbers' }>;

function editIntake(doc: ProjectDocument, change: IntakeChange): Applied {
  const before = doc.intakes.find((i) => i.id === change.id);
  if (!before) return no('This intake is no longer in the project.');
  const { id } = change;
  const [part, inverse]: [Partial<typeof before>, Change] =
    change.op === 'intake.switch'
      ? [{ on: change.on }, { op: change.op, id, on: before.on }]
      : change.op === 'intake.layout'
        ? [{ layout: change.layout }, { op: change.op, id, layout: before.layout }]
        : [{ numbers: change.numbers }, { op: change.op, id, numbers: before.numbers }];
  const intakes = doc.intakes.map((i) => (i === before ? { ...before, ...part } : i));
  return { ok: true, document: { ...doc, intakes }, inverse };
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
    case 'intake.numbers':
      return 'decided on numbers that exist already';
    case 'points.edit':
      return describeEdits(change.edits);
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
    case 'line.ground':
      return change.used ? `put line ${change.key} into the ground` : `took line ${change.key} out of the ground`;
  }
}

const SETTING_NAME: Record<string, string> = {
  unit: 'the unit',
  order: 'the coordinate order',
  decimals: 'the decimals',
  volumeUnit: 'the volume unit',
  coincidence: 'the coincidence distance',
  longestSide: 'the longest side',
  contourInterval: 'the contour interval',
  indexEvery: 'the index contours',
  spike: 'the spike tolerance',
  sagitta: 'the arc tolerance',
};

const FIELD_NAME: Record<string, string> = {
  number: 'number',
  description: 'code',
  x: 'east',
  y: 'north',
  z: 'elevation',
  off: 'use',
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
