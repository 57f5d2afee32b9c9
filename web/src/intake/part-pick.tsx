import { Flex } from '@chakra-ui/react';
import type { FilePart } from '#core/exchange';
import { Aside, Pick, Tick } from '../frame/controls.tsx';
import type { Opened } from '../work/intake.worker.ts';

// Names of surfaces stand behind a sign that these have not.
const [POINTS, LINES, TICKED, SURFACE] = ['points', 'lines', 'ticked', 'surface:'];

interface PartPickProps {
  opened: Opened;
  /** Surfaces that are imported besides the one that is looked at. */
  also: readonly string[];
  onAlso: (names: readonly string[]) => void;
  onChange: (part: FilePart) => void;
}

/** A file that holds more than points: its points are imported, its lines, or ready-made surfaces as they are. */
export function PartPick({ opened, also, onAlso, onChange }: PartPickProps) {
  const { surfaces, surface, points, lines, drawing } = opened;
  const part = (value: string): FilePart =>
    value === POINTS
      ? {}
      : value === TICKED
        ? // Where nothing is proposed, nothing is ticked yet.
          { taken: opened.part.taken ?? [] }
        : value === LINES
          ? { lines: true }
          : { surface: value.slice(SURFACE.length) };
  return (
    <Flex gap="8px" align="center" mb="10px" wrap="wrap">
      Import
      <Pick
        aria-label="what of the file is imported"
        value={surface !== null ? SURFACE + surface : drawing ? TICKED : lines.taken ? LINES : POINTS}
        maxWidth="420px"
        onChange={(e) => onChange(part(e.target.value))}
      >
        {drawing ? <option value={TICKED}>what is ticked below</option> : null}
        {points && !drawing ? <option value={POINTS}>its points</option> : null}
        {lines.count && !drawing ? (
          <option value={LINES}>its {lines.count === 1 ? 'line' : `${lines.count} lines`}</option>
        ) : null}
        {surfaces.map((s) => (
          <option key={s.name} value={SURFACE + s.name}>
            the surface “{s.name}”: {s.triangles === 1 ? '1 triangle' : `${s.triangles} triangles`}
          </option>
        ))}
      </Pick>
      {surface !== null ? (
        <Aside>as received: its triangles stay, nothing is triangulated again; the rows are its vertices</Aside>
      ) : null}
      {surface !== null && surfaces.length > 1 ? (
        <Flex as="fieldset" gap="4px 14px" wrap="wrap" width="100%" aria-label="surfaces that are imported besides">
          Besides, each as a surface of its own:
          {surfaces
            .filter((s) => s.name !== surface)
            .map(({ name }) => (
              <Tick
                key={name}
                label={name}
                on={also.includes(name)}
                set={(on) => onAlso(on ? [...also, name] : also.filter((n) => n !== name))}
              />
            ))}
        </Flex>
      ) : null}
      {lines.taken && !drawing ? (
        <Aside>
          vertices as coded points, by layer; codes that the list does not know are asked about; arcs as chords to 5 mm
        </Aside>
      ) : null}
    </Flex>
  );
}
