import { Leaves, useLeaf } from '../../frame/leaves.tsx';
import { useParts } from '../../project-state/store.ts';
import { Ledger } from '../../frame/ledger.tsx';
import { Control } from './control.tsx';
import { Fit } from './fit.tsx';
import { Meaning } from './meaning.tsx';
import { Originals } from './originals.tsx';
import { Pictures } from './pictures.tsx';
import { PeopleLeaf } from './people.tsx';
import { Tolerances } from './tolerances.tsx';

export const BASIS_LEAVES = [
  { leaf: 'meaning', name: 'Meaning', about: 'what the numbers mean', page: Meaning },
  { leaf: 'control', name: 'Control', about: 'points whose coordinates are given', page: Control },
  { leaf: 'fit', name: 'Local to grid', about: 'files transformed onto control as a whole', page: Fit },
  { leaf: 'tolerances', name: 'Tolerances', about: 'what is asked about, and what is not', page: Tolerances },
  { leaf: 'pictures', name: 'Pictures', about: 'scans, photographs and pages under the drawing', page: Pictures },
  { leaf: 'originals', name: 'Originals', about: 'what was received, as received', page: Originals },
  { leaf: 'people', name: 'People', about: 'who works here, and who has checked what', page: PeopleLeaf },
] as const;

/** The basis in leaves: what the numbers mean, control, fits, tolerances, originals, people. */
export function Basis({ onTakeIn }: { onTakeIn: () => void }) {
  const { state, tables } = useParts('state', 'tables');
  const leaf = useLeaf('basis', BASIS_LEAVES);
  const here = BASIS_LEAVES.find((l) => l.leaf === leaf)!;
  return (
    <Ledger name="Basis" about={here.about}>
      <Leaves stage="basis" leaves={BASIS_LEAVES} here={here.leaf} />
      {state && tables ? <here.page onTakeIn={onTakeIn} /> : 'opening …'}
    </Ledger>
  );
}
