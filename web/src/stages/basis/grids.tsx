import { Box, Flex } from '@chakra-ui/react';
import { useRef, useState } from 'react';
import { isPublished } from '#core/basis';
import type { Basis } from '#core/project';
import { api, problemText } from '../../frame/api.ts';
import { Act, Aside, Leaf, Num } from '../../frame/controls.tsx';
import { Choice, Sentence } from '../../frame/sentence.tsx';
import { useParts } from '../../project-state/store.ts';

/** What elevations are, the geoid between them and GNSS heights, and the grids that shift datums. */
export function GridLeaf({
  basis,
  setBasis,
  canChange,
}: {
  basis: Basis;
  setBasis: (label: string, part: Partial<Basis>) => void;
  canChange: boolean;
}) {
  const { id, tables } = useParts('id', 'tables');
  const picker = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState<{ text: string; bad: boolean } | null>(null);
  const takeIn = async (file: File): Promise<void> => {
    setSaid({ text: `reading ${file.name} …`, bad: false });
    try {
      const received = await api.upload(id, file, () => {}, new AbortController().signal);
      const facts = await api.gridFacts(id, received.id);
      const [a] = facts.areas;
      setSaid({
        text: `${file.name}: ${facts.rows} × ${facts.columns} nodes, ${a.south.toFixed(2)}° to ${a.north.toFixed(2)}°, ${a.west.toFixed(2)}° to ${a.east.toFixed(2)}°`,
        bad: false,
      });
      if (facts.use === 'geoid') setBasis(`geoid ${file.name}`, { geoid: facts.ref });
      else
        setBasis(`datum grid ${file.name}`, {
          datumGrids: [...basis.datumGrids.filter((g) => g.name !== facts.ref.name), facts.ref],
        });
    } catch (error) {
      setSaid({ text: problemText(error), bad: true });
    }
  };
  return (
    <Leaf head="Heights and grids" pb="6px">
      <Sentence>
        The project’s elevations are
        <Choice
          name="what elevations are"
          value={basis.heights}
          options={[
            ['orthometric', 'orthometric, above the sea'],
            ['ellipsoidal', 'ellipsoidal heights'],
          ]}
          onChange={(heights) => setBasis(`elevations are ${heights}`, { heights })}
        />
      </Sentence>
      <Sentence>
        {basis.geoid ? (
          <>
            <span>
              The geoid is <b>{basis.geoid.name}</b>, interpolated
            </span>
            <Choice
              name="interpolation"
              value={basis.interpolation}
              options={[
                ['bilinear', 'bilinearly'],
                ['biquadratic', 'biquadratically'],
              ]}
              onChange={(interpolation) => setBasis(`geoid interpolated ${interpolation}ly`, { interpolation })}
            />
          </>
        ) : (
          <span>No geoid: ellipsoidal and orthometric heights cannot be converted to each other.</span>
        )}
      </Sentence>
      {basis.datumGrids.length ? (
        <Sentence>
          Datum grids:{' '}
          {basis.datumGrids.map((g) => (
            <Flex key={g.fileId} align="center">
              <b>{g.name}</b>
              {canChange ? (
                <Act
                  look="quiet"
                  aria-label={`remove ${g.name}`}
                  onClick={() => setBasis(`without ${g.name}`, { datumGrids: basis.datumGrids.filter((o) => o !== g) })}
                >
                  ×
                </Act>
              ) : null}
            </Flex>
          ))}
        </Sentence>
      ) : null}
      <input
        ref={picker}
        type="file"
        hidden
        data-testid="grid-file"
        accept=".gtx,.tif,.tiff,.gsb"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          if (chosen) void takeIn(chosen);
          e.target.value = '';
        }}
      />
      <Flex gap="8px" px="12px" py="4px" wrap="wrap" align="center">
        {canChange ? <Act onClick={() => picker.current?.click()}>Import a grid (GTX, GeoTIFF, NTv2) …</Act> : null}
        {canChange && basis.geoid ? (
          <Act onClick={() => setBasis('without a geoid', { geoid: null })}>Without a geoid</Act>
        ) : null}
        {basis.geoid && isPublished(basis.system) && tables!.points.x.length ? (
          <a href={`/api/projects/${id}/geoid-piece`} download>
            <Aside textDecoration="underline">The site’s part as GTX</Aside>
          </a>
        ) : null}
      </Flex>
      {said ? (
        <Box px="12px" role={said.bad ? 'alert' : 'status'} color={said.bad ? 'pole' : 'slate'}>
          <Num>{said.text}</Num>
        </Box>
      ) : null}
    </Leaf>
  );
}
