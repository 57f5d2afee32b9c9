import { Flex } from '@chakra-ui/react';
import type { FilePart } from '#core/exchange';
import { Aside, Pick } from '../frame/controls.tsx';
import type { Opened } from '../work/intake.worker.ts';

const POINTS = '';

/** A file that holds ready-made surfaces: one of them is imported as it is, or the file's points. */
export function PartPick({ opened, onChange }: { opened: Opened; onChange: (part: FilePart) => void }) {
  const { surfaces, surface, points } = opened;
  return (
    <Flex gap="8px" align="center" mb="10px" wrap="wrap">
      Import
      <Pick
        aria-label="what of the file is imported"
        value={surface ?? POINTS}
        maxWidth="420px"
        onChange={(e) => onChange(e.target.value === POINTS ? {} : { surface: e.target.value })}
      >
        {points ? <option value={POINTS}>its points</option> : null}
        {surfaces.map((s) => (
          <option key={s.name} value={s.name}>
            the surface “{s.name}”: {s.triangles} triangles
          </option>
        ))}
      </Pick>
      {surface !== null ? (
        <Aside>as received: its triangles stay, nothing is triangulated again; the rows are its vertices</Aside>
      ) : null}
    </Flex>
  );
}
