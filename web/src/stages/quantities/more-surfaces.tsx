import { type Comparison } from '#core/project';
import { Act, Pick } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';

interface MoreSurfacesProps {
  comparison: Comparison;
  also: readonly string[];
  set: (also: string[]) => void;
}

/** Surfaces that sections go through beside those that are compared. */
export function MoreSurfaces({ comparison, also, set }: MoreSurfacesProps) {
  const { surfaces } = useParts('state').state!.document;
  const { surface, against } = comparison;
  const compared = [surface, ...('surface' in against ? [against.surface] : [])];
  const others = surfaces.filter((s) => !compared.includes(s.id));
  const more = others.filter((s) => !also.includes(s.id));
  return (
    <>
      {more.length ? (
        <Pick
          aria-label="one more surface in the sections"
          height="24px"
          maxWidth="190px"
          value=""
          onChange={(e) => set([...also, e.target.value])}
        >
          <option value="">through one more surface …</option>
          {more.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </Pick>
      ) : null}
      {others
        .filter((s) => also.includes(s.id))
        .map((s) => (
          <Act key={s.id} height="22px" title="without it" onClick={() => set(also.filter((a) => a !== s.id))}>
            without {s.name}
          </Act>
        ))}
    </>
  );
}
