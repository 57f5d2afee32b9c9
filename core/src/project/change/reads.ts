import type { PartKind } from '../parts.ts';
import { recordOfKey } from '../record-key.ts';
import { followed } from './follow.ts';
import { surfacesIn } from '../document/surface-schema.ts';
import type { Change } from './schema.ts';

/** Which parts of a kind: those of some keys, of keys that begin so, or all. */
export type PartsWanted = { kind: PartKind } & ({ keys: readonly string[] } | { under: string } | { all: true });

const all = (kind: PartKind): PartsWanted => ({ kind, all: true });
const some = (kind: PartKind, keys: readonly string[]): PartsWanted => ({ kind, keys });
const single = (kind: PartKind): PartsWanted => ({ kind, keys: [''] });

/** Settings are read with every change: its words are in the project's unit. */
export const ALWAYS_READ: PartsWanted[] = [single('settings')];

/**
 * What a change has to know of a document to be made: on a document of these parts it does what it does on the whole. A
 * list whose members may move, come or go is read whole.
 */
export function changeReads(change: Change): PartsWanted[] {
  switch (change.op) {
    case 'intake.add':
    case 'intake.remove':
      return [all('intake')];
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
      return [some('intake', [change.id])];
    case 'intake.place':
      return [some('intake', change.ids)];
    case 'basis.set':
      return [single('basis')];
    case 'points.edit': {
      const keys = Object.keys(change.edits);
      return [some('edit', keys), some('intake', [...new Set(keys.flatMap((k) => recordOfKey(k)?.intake ?? []))])];
    }
    case 'record.decide':
      return [some('decision', [change.key])];
    case 'register.set':
      return [single('register')];
    case 'codes.set':
      return [single('codes')];
    case 'settings.set':
      return ALWAYS_READ;
    case 'comparison.set':
    case 'comparison.remove':
      return [all('comparison')];
    case 'query.accept':
    case 'query.reopen':
      return [some('accepted', [change.key])];
    case 'query.follow':
      return [some('accepted', followed(change.to))];
    case 'lines.hand':
      return [some('hand-line', Object.keys(change.set))];
    case 'volume.hand':
      return [all('hand-volume')];
    case 'series.set':
      return [all('series')];
    case 'points.set':
      return [all('point-set')];
    case 'picture.set':
      return [all('picture')];
    case 'drawing.set':
      return [single('drawing')];
    case 'drawing.layer':
      return [some('layer', [change.layer])];
    case 'drawing.label':
      return [some('label', [change.key])];
    case 'drawing.plot':
    case 'drawing.series':
      return [all('plot')];
    case 'surface.add':
      // Whether it is made from itself depends on what the others are made from.
      return surfacesIn(change.surface).length ? [all('surface'), rowsOf(undefined)] : [all('surface')];
    case 'surface.remove':
      return [all('surface'), rowsOf(change.id), all('comparison')];
    case 'surface.edit':
      return [all('surface')];
    case 'surface.row':
      return [all('surface'), rowsOf('surface' in change.row ? undefined : change.surface)];
    case 'surface.rowRemove':
    case 'boundary.set':
    case 'line.ground':
      return [all('surface'), rowsOf(change.surface)];
    case 'several':
      return change.changes.flatMap(changeReads);
  }
}

/** Rows of one surface; of all, where the ground is meant without its name. */
const rowsOf = (surface: string | undefined): PartsWanted =>
  surface === undefined ? all('surface-row') : { kind: 'surface-row', under: `${surface}/` };
