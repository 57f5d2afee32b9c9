import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { isPublished, systemLine, type PublishedSystem } from '#core/basis';
import type { Intake } from '#core/project';
import type { TextLayout } from '#core/exchange';
import { UNIT_NAME } from '#core/measure';
import { Act, Aside } from '../frame/controls.tsx';
import { Choice } from '../frame/sentence.tsx';
import { useProject } from '../project-state/store.ts';
import { GivenFields, type GivenFormOf } from './given.tsx';
import { SystemFinder } from './system-finder.tsx';
import type { Opened } from '../work/intake.worker.ts';

/** In which system a file's numbers are, and what its elevations are; null as the project's. */
export interface FileBasis {
  system: PublishedSystem | null;
  heights: Intake['heights'] | null;
}

/** What a file's numbers mean: its system, its heights, what it says of itself, and who gave it. */
export function Standing({
  opened,
  layout,
  setLayout,
  fileBasis,
  setFileBasis,
  given,
  isControl,
}: {
  opened: Opened;
  layout: TextLayout;
  setLayout: (layout: TextLayout) => void;
  fileBasis: FileBasis;
  setFileBasis: (basis: FileBasis) => void;
  given: GivenFormOf;
  isControl: boolean;
}) {
  const { basis, settings } = useProject((p) => p.state!.document);
  const [choosing, setChoosing] = useState(false);
  const [saying, setSaying] = useState(isControl);
  const { system, heights } = fileBasis;
  const take = (chosen: PublishedSystem | null): void => {
    setChoosing(false);
    setFileBasis({ ...fileBasis, system: chosen });
    const { degrees: _, ...rest } = layout;
    setLayout(chosen?.kind === 'geographic' ? { ...rest, degrees: true } : rest);
  };
  const says = [
    opened.claims.unit && UNIT_NAME[opened.claims.unit],
    opened.claims.system && `system ${opened.claims.system}`,
    opened.claims.geoid && `geoid ${opened.claims.geoid}`,
  ].filter(Boolean);
  return (
    <Box mb="8px">
      <Flex gap="8px" align="center" wrap="wrap" minHeight="32px">
        {system ? (
          <span>
            in <b>{systemLine(system)}</b>, to be transformed to{' '}
            {isPublished(basis.system) ? basis.system.name : 'a system that the project lacks'}
          </span>
        ) : (
          <span>in the project’s own system, {systemLine(basis.system)}</span>
        )}
        <Act aria-expanded={choosing} onClick={() => setChoosing(!choosing)}>
          Another system …
        </Act>
        {system ? <Act onClick={() => take(null)}>The project’s own</Act> : null}
      </Flex>
      {choosing ? (
        <SystemFinder geographic onLeave={() => setChoosing(false)} onChoose={(s) => take(isPublished(s) ? s : null)} />
      ) : null}
      {layout.degrees && system && !opened.claims.system ? (
        <Box color="brass">
          The file does not say on which datum its latitudes and longitudes are. {system.name} is taken unless you
          choose another.
        </Box>
      ) : null}
      {layout.degrees && !system ? (
        <Box color="pole" role="alert">
          Latitudes and longitudes need a system: choose which they are on.
        </Box>
      ) : null}
      <Flex gap="8px" align="center" wrap="wrap" minHeight="32px">
        Its elevations are
        <Choice
          name="heights of the file"
          value={heights ?? ''}
          options={[
            ['', `as the project’s, ${basis.heights}`],
            ['orthometric', 'orthometric, above the sea'],
            ['ellipsoidal', 'ellipsoidal heights'],
          ]}
          onChange={(h) => setFileBasis({ ...fileBasis, heights: h === '' ? null : h })}
        />
        {says.length ? <Aside>The file says: {says.join(', ')}.</Aside> : null}
      </Flex>
      {saying || isControl ? (
        <GivenFields form={given} isControl={isControl} unit={settings.unit} />
      ) : (
        <Act look="quiet" onClick={() => setSaying(true)}>
          State its source …
        </Act>
      )}
    </Box>
  );
}
