import type { ProjectDocument, SurfaceRecipe } from '#core/project';
import { Pick } from '../../../frame/controls.tsx';

/** Stands for a surface that is made of what is traced alone. */
export const NEW_TRACED = 'new';

interface TraceIntoProps {
  doc: ProjectDocument;
  current: SurfaceRecipe;
  busy: boolean;
  onTrace: (into: string) => void;
}

/** Begins to trace over a picture: into a surface of its own, or into the one that is read. */
export function TraceInto({ doc, current, busy, onTrace }: TraceIntoProps) {
  return (
    <Pick
      aria-label="trace over a picture"
      value=""
      disabled={busy || doc.pictures.length === 0}
      title={doc.pictures.length ? undefined : 'There is no picture under the drawing yet: Basis, Pictures'}
      onChange={(e) => onTrace(e.target.value)}
    >
      <option value="">Trace over a picture …</option>
      <option value={NEW_TRACED}>into a new surface</option>
      <option value={current.id}>into “{current.name}”</option>
    </Pick>
  );
}
