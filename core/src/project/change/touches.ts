import { drawingTouches } from './drawing.ts';
import { followed } from './follow.ts';
import type { Change } from './schema.ts';

/** Which surfaces are ground: the last one cannot go. */
const GROUND = 'ground';

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
    case 'intake.file':
    case 'intake.switch':
    case 'intake.layout':
    case 'intake.words':
    case 'intake.light':
    case 'intake.bookLayout':
    case 'intake.purpose':
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
      // Which surface is the ground depends on all of them.
      return change.surface === undefined ? ['surface', GROUND] : [`surface/${change.surface}/row`];
    case 'surface.add':
      return [`surface/${change.surface.id}`, ...(change.surface.role === 'ground' ? [GROUND] : [])];
    case 'surface.remove':
      return [`surface/${change.id}`, GROUND];
    case 'surface.edit':
      return [...Object.keys(change.set).map((k) => `surface/${change.id}/${k}`), ...(change.set.role ? [GROUND] : [])];
    case 'surface.row':
      return [`surface/${change.surface}/row/${change.row.id}`];
    case 'surface.rowRemove':
      return [`surface/${change.surface}/row/${change.id}`];
    case 'several':
      return change.changes.flatMap(changeTouches);
    case 'comparison.set':
      return [`comparison/${change.comparison.id}`];
    case 'comparison.remove':
      return [`comparison/${change.id}`];
    case 'query.accept':
    case 'query.reopen':
      return [`query/${change.key}`];
    case 'query.follow':
      return followed(change.to).map((key) => `query/${key}`);
    case 'lines.hand':
      return Object.keys(change.set).map((k) => `hand/${k}`);
    case 'picture.set':
      return [`picture/${change.id}`];
    case 'volume.hand':
      return [`hand volume/${change.id}`];
    case 'series.set':
      return [`series/${change.id}`];
    case 'points.set':
      return [`set/${change.id}`];
    case 'drawing.set':
    case 'drawing.layer':
    case 'drawing.plot':
    case 'drawing.series':
    case 'drawing.label':
      return drawingTouches(change);
    case 'line.ground':
      return change.surface === undefined ? ['surface', GROUND] : [`surface/${change.surface}/row`];
  }
}
