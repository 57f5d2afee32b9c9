import { groundOf, type IntoSurface, type ProjectDocument, type Purpose } from '#core/project';
import { Field, Pick } from '../frame/controls.tsx';

/** What a file's points are as somebody chose it: with the surface of a design, one that is there or a new one's name. */
export interface ChosenPurpose {
  purpose: Purpose;
  /** The surface that they belong to; null for a new one. */
  surface: string | null;
  name: string;
}

const freshId = (): string => crypto.randomUUID().slice(0, 13);

/** The surface that a design goes into; none for survey points and control. */
export const intoOf = ({ purpose, surface, name }: ChosenPurpose): IntoSurface | undefined =>
  purpose !== 'design'
    ? undefined
    : surface !== null
      ? { id: surface }
      : { surface: { id: freshId(), name: name.trim() || 'Design' } };

/** Survey points, control, or a design: of a new surface, or of one that is there. */
export function PurposePick({
  doc,
  chosen,
  onChange,
  label,
  nameLabel,
  disabled,
  onName,
}: {
  doc: Pick<ProjectDocument, 'surfaces'>;
  chosen: ChosenPurpose;
  onChange: (chosen: ChosenPurpose) => void;
  label: string;
  nameLabel: string;
  disabled?: boolean;
  /** Told when the name is finished: by Enter, or on leaving the field. */
  onName?: (chosen: ChosenPurpose) => void;
}) {
  const others = doc.surfaces.filter((s) => s.id !== groundOf(doc).id);
  const value =
    chosen.purpose !== 'design' ? chosen.purpose : chosen.surface === null ? 'design' : `into:${chosen.surface}`;
  return (
    <>
      <Pick
        aria-label={label}
        disabled={disabled}
        value={value}
        onChange={(e) => {
          const to = e.target.value;
          if (to.startsWith('into:')) onChange({ ...chosen, purpose: 'design', surface: to.slice(5) });
          else onChange({ ...chosen, purpose: to as Purpose, surface: null });
        }}
      >
        <option value="survey">survey points of the ground</option>
        <option value="control">control</option>
        <option value="design">points of a new surface</option>
        {others.map((s) => (
          <option key={s.id} value={`into:${s.id}`}>
            points of “{s.name}”
          </option>
        ))}
      </Pick>
      {value === 'design' ? (
        <Field
          aria-label={nameLabel}
          placeholder={onName ? 'name, then Enter' : 'name of the surface'}
          width="170px"
          value={chosen.name}
          maxLength={120}
          onChange={(e) => onChange({ ...chosen, name: e.target.value })}
          onBlur={() => onName?.(chosen)}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') onName?.(chosen);
          }}
        />
      ) : null}
    </>
  );
}
