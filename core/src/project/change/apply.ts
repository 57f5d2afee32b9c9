import { followed } from './follow.ts';
import type { Applied } from './applied.ts';
import { editAt, withEdits } from '../edits.ts';
import { recordOfKey } from '../record-key.ts';
import type { HandLine, PointEdit, ProjectDocument } from '../document.ts';
import type { Intake } from '../document/intake-schema.ts';
import { changeDrawing } from './drawing.ts';
import type { Change, SeveralChanges } from './schema.ts';
import { changeSurfaces } from './surfaces.ts';

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
    case 'intake.file':
    case 'intake.switch':
    case 'intake.layout':
    case 'intake.words':
    case 'intake.light':
    case 'intake.purpose':
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
    case 'query.follow':
      return followQueries(doc, change.to);
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
    case 'volume.hand': {
      const at = doc.handVolumes.findIndex((v) => v.id === change.id);
      if (change.volume === null && at < 0) return no('This volume is no longer in the project.');
      const handVolumes = doc.handVolumes.filter((v) => v.id !== change.id);
      if (change.volume) handVolumes.splice(change.at ?? (at < 0 ? handVolumes.length : at), 0, change.volume);
      return yes(
        { handVolumes },
        { op: 'volume.hand', id: change.id, volume: at < 0 ? null : doc.handVolumes[at], ...(at < 0 ? {} : { at }) },
      );
    }
    case 'series.set': {
      const at = doc.series.findIndex((s) => s.id === change.id);
      if (change.series === null && at < 0) return no('This series is no longer in the project.');
      const series = doc.series.filter((s) => s.id !== change.id);
      if (change.series) series.splice(change.at ?? (at < 0 ? series.length : at), 0, change.series);
      return yes(
        { series },
        { op: 'series.set', id: change.id, series: at < 0 ? null : doc.series[at], ...(at < 0 ? {} : { at }) },
      );
    }
    case 'points.set': {
      const at = doc.pointSets.findIndex((s) => s.id === change.id);
      if (!change.set && at < 0) return no('This set is no longer in the project.');
      const pointSets = doc.pointSets.filter((s) => s.id !== change.id);
      if (change.set) pointSets.splice(change.at ?? (at < 0 ? pointSets.length : at), 0, change.set);
      return yes(
        { pointSets },
        { op: 'points.set', id: change.id, set: at < 0 ? null : doc.pointSets[at], ...(at < 0 ? {} : { at }) },
      );
    }
    case 'picture.set': {
      const at = doc.pictures.findIndex((p) => p.id === change.id);
      if (!change.picture && at < 0) return no('This picture is no longer in the project.');
      const pictures = doc.pictures.filter((p) => p.id !== change.id);
      if (change.picture) pictures.splice(change.at ?? (at < 0 ? pictures.length : at), 0, change.picture);
      return yes(
        { pictures },
        { op: 'picture.set', id: change.id, picture: at < 0 ? null : doc.pictures[at], ...(at < 0 ? {} : { at }) },
      );
    }
    case 'drawing.set':
    case 'drawing.layer':
    case 'drawing.plot':
    case 'drawing.series':
    case 'drawing.label':
      return changeDrawing(doc, change);
    case 'surface.add':
    case 'surface.remove':
    case 'surface.edit':
    case 'surface.row':
    case 'surface.rowRemove':
    case 'boundary.set':
    case 'line.ground':
      return changeSurfaces(doc, change);
    case 'several':
      return applySeveral(doc, change);
  }
}

/** One after the other, or none at all; undone in the other order. */
function applySeveral(doc: ProjectDocument, { changes }: SeveralChanges): Applied {
  let document = doc;
  const inverses: Change[] = [];
  for (const change of changes) {
    const applied = applyChange(document, change);
    if (!applied.ok) return applied;
    ({ document } = applied);
    inverses.unshift(...(applied.inverse.op === 'several' ? applied.inverse.changes : [applied.inverse]));
  }
  return { ok: true, document, inverse: { op: 'several', changes: inverses } };
}

/** All at once: one key may go where another was. */
function followQueries(doc: ProjectDocument, to: Record<string, string | null>): Applied {
  const before = doc.accepted;
  const accepted = { ...before };
  for (const from of Object.keys(to)) delete accepted[from];
  for (const [from, now] of Object.entries(to)) if (now !== null && from in before) accepted[now] = before[from];
  const changes = followed(to).flatMap((key): Change[] =>
    key in before
      ? [{ op: 'query.accept', key, accepted: before[key] }]
      : key in accepted
        ? [{ op: 'query.reopen', key }]
        : [],
  );
  return { ok: true, document: { ...doc, accepted }, inverse: { op: 'several', changes } };
}

type IntakeChange = Extract<
  Change,
  {
    op:
      | 'intake.file'
      | 'intake.switch'
      | 'intake.layout'
      | 'intake.words'
      | 'intake.light'
      | 'intake.purpose'
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
    case 'intake.file': {
      const { fileId, fileName, sha256 } = change;
      return [{ fileId, fileName, sha256 }, { op: change.op, id, fileId: before.fileId, fileName: before.fileName, sha256: before.sha256 }]; // prettier-ignore
    }
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
    case 'intake.purpose':
      return [{ purpose: change.purpose }, { op: change.op, id, purpose: before.purpose }];
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
  const files = new Set<string | undefined>(doc.intakes.map((i) => i.id));
  const made = new Map<string, PointEdit | null>();
  const back: Extract<Change, { op: 'points.edit' }>['edits'] = {};
  for (const [key, { set, undo }] of Object.entries(change.edits)) {
    const intake = recordOfKey(key)?.intake;
    if (!files.has(intake)) return no(`Point ${key} belongs to no intake of this project.`);
    const before: PointEdit = editAt(doc, key) ?? {};
    const after: Record<string, unknown> = { ...before, ...set };
    for (const field of undo) delete after[field];
    const touched = new Set([...Object.keys(set), ...undo]) as Set<keyof PointEdit>;
    const restore: Record<string, unknown> = {};
    for (const field of touched) if (before[field] !== undefined) restore[field] = before[field];
    back[key] = { set: restore as PointEdit, undo: [...touched].filter((f) => before[f] === undefined) };
    made.set(key, Object.keys(after).length === 0 ? null : (after as PointEdit));
  }
  return {
    ok: true,
    document: { ...doc, edits: withEdits(doc.edits, made) },
    inverse: { op: 'points.edit', edits: back },
  };
}
