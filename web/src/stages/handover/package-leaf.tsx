import { type PackageCard } from '#contract';
import { Aside, Cut, Leaf, Num } from '../../frame/controls.tsx';
import { when } from '../../frame/page.tsx';
import { useParts } from '../../project-state/store.ts';
import { Box, Flex, chakra } from '@chakra-ui/react';

export function PackageLeaf({ card }: { card: PackageCard }) {
  const { state, id } = useParts('state', 'id');
  const outdated = (state?.revision ?? card.revision) - card.revision;
  return (
    <Leaf mb="10px" p="10px 12px">
      <Flex align="center" gap="10px">
        <Cut fontWeight="700">{card.name}</Cut>
        <Aside whiteSpace="nowrap">
          revision {card.revision}, {when(card.madeAt)}, {card.madeBy}
        </Aside>
        <Box flex="1" />
        <a href={`/api/projects/${id}/packages/${card.id}`} download>
          <chakra.span textDecoration="underline" fontWeight="600">
            Download
          </chakra.span>
        </a>
      </Flex>
      <Cut display="block" color="slate" fontSize="13px">
        {card.manifest.basis}
      </Cut>
      {outdated > 0 ? (
        <Box color="brass" fontSize="13px">
          {outdated} {outdated === 1 ? 'change' : 'changes'} since
        </Box>
      ) : null}
      <chakra.table width="100%" mt="4px" borderCollapse="collapse" fontSize="13px">
        <tbody>
          {card.manifest.files.map((f) => (
            <tr key={f.name}>
              <chakra.td maxWidth="220px" py="2px">
                <Flex>
                  <Cut>{f.name}</Cut>
                </Flex>
              </chakra.td>
              <chakra.td textAlign="right" whiteSpace="nowrap" px="8px">
                <Num fontSize="12px">{Math.ceil(f.bytes / 1024)} KB</Num>
              </chakra.td>
              <chakra.td
                color="pine"
                whiteSpace="nowrap"
                textAlign="right"
                title={Object.entries(f.readBack.counts)
                  .map(([k, v]) => `${v} ${k}`)
                  .join(', ')}
              >
                read back, off by at most <Num fontSize="12px">{(f.readBack.largestDeviation * 1000).toFixed(3)}</Num>{' '}
                mm
              </chakra.td>
            </tr>
          ))}
        </tbody>
      </chakra.table>
    </Leaf>
  );
}
