import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import type { Account, PackageCard } from '#contract';
import { UNIT_NAME, type LengthUnit } from '#core/measure';
import { api, problemText } from '../frame/api.ts';
import { Page, when } from '../frame/page.tsx';
import { Aside, Num } from '../frame/controls.tsx';

const Fetch = chakra('a', {
  base: {
    display: 'flex',
    alignItems: 'center',
    justifyContent: 'center',
    height: '52px',
    mt: '10px',
    bg: 'ink',
    color: 'paper',
    borderRadius: '4px',
    fontSize: '17px',
    fontWeight: 600,
    _hover: { bg: 'slate' },
  },
});

/** What the crew sees of a project: the packages that were made for it, newest first, on a phone with gloves. */
export function CrewPackages({ account }: { account: Account }) {
  const { project = '' } = useParams();
  const projects = useQuery({ queryKey: ['projects'], queryFn: api.projects });
  const packages = useQuery({ queryKey: ['packages', project], queryFn: () => api.packages(project) });
  const card = projects.data?.find((p) => p.id === project);
  return (
    <Page account={account} title={card?.name ?? 'Packages'} about="packages for the crew" width="560px">
      {packages.isError ? (
        <Box role="alert" color="pole">
          {problemText(packages.error)}
        </Box>
      ) : null}
      {packages.data?.length === 0 ? (
        <Box color="slate" py="24px" fontSize="16px">
          Nothing has been made for you yet. It appears here when the office makes a package.
        </Box>
      ) : null}
      {(packages.data ?? []).map((p, i) => (
        <CrewPackage key={p.id} project={project} card={p} newest={i === 0} />
      ))}
    </Page>
  );
}

function CrewPackage({ project, card, newest }: { project: string; card: PackageCard; newest: boolean }) {
  return (
    <Box
      as="section"
      aria-label={`package ${card.name}`}
      bg="leaf"
      border={newest ? '2px solid' : '1px solid'}
      borderColor={newest ? 'ink' : 'rule'}
      borderRadius="4px"
      p="14px"
      mb="12px"
      fontSize="16px"
    >
      <Flex justify="space-between" gap="10px" wrap="wrap">
        <b>{card.name}</b>
        {newest ? <Aside>the newest</Aside> : null}
      </Flex>
      <Aside fontSize="14px">
        revision {card.revision}, {when(card.madeAt)}, {card.madeBy}
      </Aside>
      <Box fontSize="14px" mt="4px">
        {UNIT_NAME[card.manifest.unit as LengthUnit]}; {card.manifest.basis}
      </Box>
      <Box as="ul" m="6px 0 0" pl="18px" fontSize="14px">
        {card.manifest.files.map((f) => (
          <li key={f.name} style={{ overflowWrap: 'anywhere' }}>
            {f.name} <Num color="slate">{Math.ceil(f.bytes / 1024)} kB</Num>
          </li>
        ))}
      </Box>
      {card.withdrawn ? (
        <Box color="pole" mt="8px">
          Withdrawn {when(card.withdrawn.at)}: {card.withdrawn.why} Do not use it.
        </Box>
      ) : (
        <Fetch href={`/api/projects/${project}/packages/${card.id}`} download>
          Download
        </Fetch>
      )}
    </Box>
  );
}
