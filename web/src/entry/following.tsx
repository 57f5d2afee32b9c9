import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { FollowingProject } from '#contract';
import { START_PART_NAME, START_PARTS, type StartDifference, type StartPart } from '#core/project';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Cut } from '../frame/controls.tsx';

/** Projects of a team that began earlier: in what they differ from what new ones begin with, and which are to follow. */
export function Following({ team, name }: { team: string; name: string }) {
  const queries = useQueryClient();
  const key = ['team-projects', team];
  const projects = useQuery({ queryKey: key, queryFn: () => api.projectsOfTeam(team) });
  const [chosen, setChosen] = useState<ReadonlyMap<string, readonly StartPart[]>>(new Map());
  const [said, setSaid] = useState<ReadonlyMap<string, string>>(new Map());
  const [busy, setBusy] = useState(false);
  const differing = (projects.data ?? []).filter((p) => p.differences.length);
  const wanted = differing.filter((p) => chosen.get(p.id)?.length);
  const choose = (id: string, part: StartPart, on: boolean): void => {
    const parts = START_PARTS.filter((p) => (p === part ? on : chosen.get(id)?.includes(p)));
    setChosen(new Map(chosen).set(id, parts));
  };
  const follow = async (): Promise<void> => {
    setBusy(true);
    const outcomes = new Map<string, string>();
    for (const p of wanted)
      await api.followStart(team, p.id, chosen.get(p.id)!, p.revision).then(
        () => outcomes.set(p.id, '✓ follows; it can be undone in the project'),
        (error: unknown) => outcomes.set(p.id, `▲ ${problemText(error)}`),
      );
    setSaid(outcomes);
    setChosen(new Map());
    setBusy(false);
    await queries.invalidateQueries({ queryKey: key });
  };
  return (
    <Box pt="6px">
      <Box fontWeight="600">Projects that have begun already</Box>
      {projects.data === undefined ? (
        <Aside>comparing …</Aside>
      ) : differing.length === 0 ? (
        <Aside>All projects of {name} that you may change have these settings.</Aside>
      ) : (
        <>
          <Aside display="block" mb="4px">
            They keep their own settings. Mark what is to follow; each project can undo it.
          </Aside>
          {differing.map((p) => (
            <Project
              key={p.id}
              project={p}
              chosen={chosen.get(p.id) ?? []}
              said={said.get(p.id) ?? ''}
              onChoose={(part, on) => choose(p.id, part, on)}
            />
          ))}
          <Act look="solid" mt="6px" disabled={busy || wanted.length === 0} onClick={() => void follow()}>
            {wanted.length === 0
              ? 'Follow'
              : wanted.length === 1
                ? 'Follow in one project'
                : `Follow in ${wanted.length} projects`}
          </Act>
        </>
      )}
      {[...said].flatMap(([id, text]) => {
        const gone = !differing.some((p) => p.id === id);
        return gone ? [<Done key={id} name={projects.data?.find((p) => p.id === id)?.name ?? ''} text={text} />] : [];
      })}
    </Box>
  );
}

const Done = ({ name, text }: { name: string; text: string }) => (
  <Flex gap="8px" role="status" color="pine">
    <span>{name}</span>
    <span>{text}</span>
  </Flex>
);

function Project({
  project: p,
  chosen,
  said,
  onChoose,
}: {
  project: FollowingProject;
  chosen: readonly StartPart[];
  said: string;
  onChoose: (part: StartPart, on: boolean) => void;
}) {
  return (
    <Box role="group" aria-label={p.name} borderTop="1px solid" borderColor="rule" py="4px">
      <Flex gap="10px" minWidth="0" align="baseline">
        <Link to={`/p/${p.id}/basis`} style={{ minWidth: 0, display: 'flex' }}>
          <Cut textDecoration="underline">{p.name}</Cut>
        </Link>
        {said ? <Aside color={said.startsWith('✓') ? 'pine' : 'pole'}>{said}</Aside> : null}
      </Flex>
      {START_PARTS.map((part) => {
        const of = p.differences.filter((d) => d.part === part);
        return of.length ? (
          <chakra.label key={part} display="flex" gap="8px" alignItems="baseline" minWidth="0" minHeight="24px">
            <input
              type="checkbox"
              checked={chosen.includes(part)}
              onChange={(e) => onChoose(part, e.target.checked)}
              aria-label={`${p.name} follows: ${START_PART_NAME[part]}`}
            />
            <Box flexShrink="0">{START_PART_NAME[part]}</Box>
            <Box color="slate" fontSize="13px" overflowWrap="anywhere" minWidth="0">
              {of.map(words).join('; ')}
            </Box>
          </chakra.label>
        ) : null;
      })}
    </Box>
  );
}

const words = ({ what, here, there }: StartDifference): string => `${what}: ${here} → ${there}`;
