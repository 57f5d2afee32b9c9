import { Box } from '@chakra-ui/react';
import type { Code } from '#core/codes';
import { saysAs, type TakenRow } from '#core/exchange';
import type { IntoSurface, ProjectDocument } from '#core/project';
import { Aside, Field, Pick, Tick } from '../frame/controls.tsx';
import { intoOf, type ChosenPurpose } from './purpose-pick.tsx';

/** What a drawing's groups are for: `alone`, they belong to no surface. */
export interface DrawingPurpose extends ChosenPurpose {
  alone: boolean;
}

const IN_SURFACE = new Set(['ground points', 'breaklines', 'contours', 'boundary']);

/** Whether something of what is ticked makes a surface. */
export const makesSurface = (taken: readonly TakenRow[] | undefined): boolean =>
  saysAs(taken) && taken!.some((t) => IN_SURFACE.has(t.as ?? ''));

/** Whether all of what is ticked lies under the drawing. */
export const isUnderlay = (taken: readonly TakenRow[] | undefined): boolean =>
  (taken?.length ?? 0) > 0 && taken!.every((t) => t.as === 'underlay');

/** What a drawing is taken as: a design of the surface that was chosen, or whatever was said of it. */
export const purposeOfDrawing = (taken: readonly TakenRow[] | undefined, chosen: DrawingPurpose): DrawingPurpose =>
  makesSurface(taken)
    ? { ...chosen, purpose: 'design', alone: false }
    : isUnderlay(taken)
      ? { ...chosen, purpose: 'design', surface: null, alone: true }
      : { ...chosen, surface: null, alone: chosen.alone || chosen.purpose === 'design' };

/** The surface that they go into, as somebody chose it. */
export const intoOfDrawing = (chosen: DrawingPurpose): IntoSurface | undefined =>
  chosen.alone || chosen.purpose !== 'design' ? undefined : intoOf(chosen);

/** Where ground points, breaklines, contours and boundary of a drawing belong; without any, whether it is survey, control or only drawn. */
export function DrawingPurposePick({
  doc,
  taken,
  chosen,
  onChange,
}: {
  doc: Pick<ProjectDocument, 'surfaces'>;
  taken: readonly TakenRow[] | undefined;
  chosen: DrawingPurpose;
  onChange: (chosen: DrawingPurpose) => void;
}) {
  const surface = makesSurface(taken);
  const value = surface ? (chosen.surface ?? 'new') : chosen.alone ? 'alone' : chosen.purpose;
  if (isUnderlay(taken))
    return <Aside>It lies under the drawing: it is seen, and is no point, no line and part of no surface.</Aside>;
  if (!surface)
    return (
      <>
        It is
        <Pick
          aria-label="what the drawing is"
          value={value}
          onChange={(e) => {
            const to = e.target.value;
            onChange({ ...chosen, surface: null, alone: to === 'alone', purpose: to === 'alone' ? 'design' : (to as ChosenPurpose['purpose']) }); // prettier-ignore
          }}
        >
          <option value="alone">a drawing, in no surface</option>
          <option value="survey">a survey of the ground</option>
          <option value="control">control</option>
        </Pick>
      </>
    );
  return (
    <>
      Ground points, breaklines, contours and boundary go into
      <Pick
        aria-label="surface of the drawing"
        value={value}
        onChange={(e) => {
          const to = e.target.value;
          onChange({ ...chosen, purpose: 'design', alone: false, surface: to === 'new' ? null : to });
        }}
      >
        <option value="new">a new surface</option>
        {doc.surfaces.map((s) => (
          <option key={s.id} value={s.id}>
            “{s.name}”
          </option>
        ))}
      </Pick>
      {value === 'new' ? (
        <Field
          aria-label="name of the surface"
          placeholder="name of the surface"
          width="170px"
          value={chosen.name}
          maxLength={120}
          onChange={(e) => onChange({ ...chosen, name: e.target.value })}
        />
      ) : (
        <Aside>as rows of its recipe</Aside>
      )}
    </>
  );
}

const NAMED = 6;

/** Codes that the list lacks: without them, lines of these layers are not built. */
export function NewCodes({ codes, on, set }: { codes: readonly Code[]; on: boolean; set: (on: boolean) => void }) {
  const names = codes.slice(0, NAMED).map((c) => c.code).join(', '); // prettier-ignore
  const more = codes.length > NAMED ? ` and ${codes.length - NAMED} more` : '';
  return (
    <Box mb="6px">
      <Tick
        label={`add ${codes.length === 1 ? 'the code' : `${codes.length} codes`} ${names}${more} to the code list, on layers of the same names`}
        on={on}
        set={set}
      />
      {on ? null : (
        <Box color="brass">What has no code of the list is imported and asked about; its lines are not drawn.</Box>
      )}
    </Box>
  );
}
