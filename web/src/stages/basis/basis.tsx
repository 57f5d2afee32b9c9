import { chakra, Flex } from '@chakra-ui/react';
import { useNavigate, useParams } from 'react-router';
import { useProject } from '../../project-state/store.ts';
import { Ledger } from '../../frame/ledger.tsx';
import { Control } from './control.tsx';
import { Fit } from './fit.tsx';
import { Meaning } from './meaning.tsx';
import { Originals } from './originals.tsx';
import { PeopleLeaf } from './people.tsx';
import { Tolerances } from './tolerances.tsx';

const LEAVES = [
  { leaf: 'meaning', name: 'Meaning', about: 'what the numbers mean', page: Meaning },
  { leaf: 'control', name: 'Control', about: 'points whose coordinates are given', page: Control },
  { leaf: 'fit', name: 'Local to grid', about: 'files carried onto control as a whole', page: Fit },
  { leaf: 'tolerances', name: 'Tolerances', about: 'what is asked about, and what is not', page: Tolerances },
  { leaf: 'originals', name: 'Originals', about: 'what was received, as received', page: Originals },
  { leaf: 'people', name: 'People', about: 'who works here, and who has checked what', page: PeopleLeaf },
] as const;

const Way = chakra('button', {
  base: {
    border: 0,
    bg: 'transparent',
    px: '2px',
    mr: '14px',
    height: '26px',
    cursor: 'pointer',
    color: 'slate',
    borderBottom: '2px solid transparent',
    _hover: { color: 'ink' },
    '&[aria-current=true]': { color: 'ink', fontWeight: 600, borderColor: 'pole' },
  },
});

/** The basis in leaves: what the numbers mean, control, fits, tolerances, originals, people. */
export function Basis({ onTakeIn }: { onTakeIn: () => void }) {
  const { state, tables, id } = useProject();
  const { leaf } = useParams();
  const navigate = useNavigate();
  const here = LEAVES.find((l) => l.leaf === leaf) ?? LEAVES[0];
  return (
    <Ledger name="Basis" about={here.about}>
      <Flex as="nav" aria-label="leaves of the basis" wrap="wrap" mb="10px" mt="-4px">
        {LEAVES.map((l) => (
          <Way
            key={l.leaf}
            aria-current={l === here ? 'true' : undefined}
            onClick={() => void navigate(`/p/${id}/basis/${l.leaf}`)}
          >
            {l.name}
          </Way>
        ))}
      </Flex>
      {state && tables ? <here.page onTakeIn={onTakeIn} /> : 'opening …'}
    </Ledger>
  );
}
