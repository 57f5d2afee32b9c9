import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { Stage } from '#core/project';
import { api } from '../frame/api.ts';
import { addressOf, useCarried } from '../frame/leaves.tsx';
import { WeightSign } from '../frame/signs.tsx';
import { isSettled, openQueries, useParts, useProject } from '../project-state/store.ts';
import { STAGES } from '../frame/stage-names.ts';

const Band = chakra(Link, {
  base: {
    position: 'relative',
    display: 'flex',
    flexDirection: 'column',
    justifyContent: 'center',
    flex: '1 1 0',
    minWidth: 0,
    height: '46px',
    px: '14px',
    textDecoration: 'none',
    borderRight: '1px solid',
    borderColor: 'ink',
    bg: 'leaf',
    color: 'ink',
    textAlign: 'left',
    cursor: 'pointer',
    _last: { borderRight: 0 },
    _hover: { bg: 'wash' },
    '&[aria-current=page], &[aria-current=page]:hover:not(:disabled)': { bg: 'pole', color: 'onPole' },
  },
});

/** The chain as a ranging pole, one band a stage: where one is, what each holds, what needs an eye. */
export function StageBand({ stage }: { stage: Stage }) {
  const { id, state, tables } = useParts('id', 'state', 'tables');
  const working = !useProject(isSettled);
  const search = useCarried();
  const sent = useQuery({ queryKey: ['packages', id], queryFn: () => api.packages(id), enabled: id !== '' }).data;
  const s = tables?.summary;
  const n = (count: number, one: string, many = `${one}s`): string =>
    `${count.toLocaleString('en').replaceAll(',', '\u2009')} ${count === 1 ? one : many}`;
  const ground = s?.surfaces.find((g) => g.id === tables?.groundId);
  const count: Record<Stage, string> = {
    basis: s ? `${n(s.control, 'control point')}` : '…',
    book: s ? `${n(state?.document.intakes.length ?? 0, 'file')}, ${n(s.points, 'point')}` : '…',
    lines: s ? `${n(s.lines, 'line')}, ${n(s.linePoints, 'point')}` : '…',
    ground: ground
      ? ground.triangles
        ? `${n(ground.points, 'point')}, ${n(ground.triangles, 'triangle')}`
        : 'no surface yet'
      : '…',
    quantities: s ? n(s.comparisons.length, 'comparison') : '…',
    handover: sent
      ? sent.length === 0
        ? 'no package yet'
        : `${n(sent.length, 'package')}${sent[0].revision < (state?.revision ?? 0) ? ', out of date' : ''}`
      : '…',
  };
  return (
    <Box as="nav" aria-label="stages" px="16px" pb="10px">
      <Flex border="1px solid" borderColor="ink" borderRadius="4px" overflow="hidden" position="relative">
        {STAGES.map(({ stage: to, name }, i) => {
          const open = s ? openQueries(s.queries, to) : [];
          const stops = open.filter((q) => q.weight === 'stop').length;
          const looks = open.filter((q) => q.weight === 'look').length;
          return (
            <Band
              key={to}
              aria-current={to === stage ? 'page' : undefined}
              to={{ pathname: addressOf(id, to), search }}
              title={`${name} (${i + 1})`}
            >
              <Flex align="center" gap="8px" fontWeight="700" lineHeight="19px" whiteSpace="nowrap" fontSize="15px">
                {name}
                {stops > 0 ? <Tally weight="stop" count={stops} here={to === stage} /> : null}
                {looks > 0 ? <Tally weight="look" count={looks} here={to === stage} /> : null}
              </Flex>
              <Box
                fontSize="12px"
                lineHeight="15px"
                whiteSpace="nowrap"
                overflow="hidden"
                textOverflow="ellipsis"
                opacity={working ? 0.6 : 1}
                style={working ? { animation: 'dunrik-pulse 1.4s infinite' } : undefined}
              >
                {count[to]}
              </Box>
            </Band>
          );
        })}
        <Box
          position="absolute"
          left="0"
          right="0"
          bottom="0"
          height="4px"
          pointerEvents="none"
          bgImage="repeating-linear-gradient(90deg, var(--chakra-colors-pole) 0 14px, transparent 14px 28px)"
        />
      </Flex>
    </Box>
  );
}

const Tally = ({ weight, count, here }: { weight: 'stop' | 'look'; count: number; here: boolean }) => (
  <Flex align="center" gap="3px" fontSize="13px" fontWeight="600">
    <WeightSign weight={weight} inherit={here} size={12} />
    {count}
  </Flex>
);
