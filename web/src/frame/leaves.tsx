import { chakra, Flex } from '@chakra-ui/react';
import { useCallback, useEffect } from 'react';
import { Link, useLocation, useParams, useSearchParams } from 'react-router';
import type { Stage } from '#core/project';

/** One of the leaves of a stage's ledger, by its word in the address. */
export interface LeafName<N extends string = string> {
  leaf: N;
  name: string;
}

/** The leaf last looked at in each stage, in this tab: a stage is found as it was left. */
const last = new Map<Stage, string>();

/** Where a stage is found, at the leaf last looked at. */
export const addressOf = (project: string, stage: Stage): string => {
  const leaf = last.get(stage);
  return `/p/${project}/${stage}${leaf ? `/${leaf}` : ''}`;
};

/** The leaf that the address names, or the first. */
export function useLeaf<N extends string>(stage: Stage, leaves: readonly LeafName<N>[]): N {
  const { leaf } = useParams();
  const here = leaves.find((l) => l.leaf === leaf) ?? leaves[0];
  const known = here.leaf === leaf;
  useEffect(() => {
    if (known) last.set(stage, here.leaf);
    else last.delete(stage);
  }, [stage, here.leaf, known]);
  return here.leaf;
}

/** What is chosen inside a leaf (a code, a plot), as the address has it. */
export function useAt(): [string | null, (at: string | null) => void] {
  const [search, setSearch] = useSearchParams();
  const setAt = useCallback(
    (at: string | null): void => {
      const next = new URLSearchParams(window.location.search);
      if (at) next.set('at', at);
      else next.delete('at');
      setSearch(next, { replace: true });
    },
    [setSearch],
  );
  return [search.get('at'), setAt];
}

/** What is selected and shown goes along to another leaf; what was chosen in this one does not. */
export function useCarried(): string {
  const search = new URLSearchParams(useLocation().search);
  search.delete('at');
  return search.toString();
}

const Tab = chakra(Link, {
  base: {
    display: 'inline-flex',
    alignItems: 'center',
    px: '2px',
    mr: '14px',
    height: '26px',
    color: 'slate',
    textDecoration: 'none',
    whiteSpace: 'nowrap',
    borderBottom: '2px solid transparent',
    _hover: { color: 'ink' },
    '&[aria-current=page]': { color: 'ink', fontWeight: 600, borderColor: 'pole' },
  },
});

/** The leaves of a stage, alike in every stage: each an address of its own. */
export function Leaves<N extends string>({
  stage,
  leaves,
  here,
}: {
  stage: Stage;
  leaves: readonly LeafName<N>[];
  here: N;
}) {
  const { project } = useParams();
  const search = useCarried();
  return (
    <Flex as="nav" aria-label={`leaves of ${stage}`} wrap="wrap" mb="4px" mt="-4px" flexShrink="0">
      {leaves.map(({ leaf, name }) => (
        <Tab
          key={leaf}
          to={{ pathname: `/p/${project}/${stage}/${leaf}`, search }}
          aria-current={leaf === here ? 'page' : undefined}
        >
          {name}
        </Tab>
      ))}
    </Flex>
  );
}
