import { api } from '../../frame/api.ts';
import { Empty, Ledger } from '../../frame/ledger.tsx';
import { Changing } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';
import { NewPackage } from './new-package.tsx';
import { PackageLeaf } from './package-leaf.tsx';
import { useQuery } from '@tanstack/react-query';

/** Packages for a recipient: chosen, written, read back, and on record. */
export function Handover() {
  const { state, tables, id } = useParts('state', 'tables', 'id');
  const packages = useQuery({ queryKey: ['packages', id], queryFn: () => api.packages(id), enabled: id !== '' });
  if (!state || !tables)
    return (
      <Ledger name="Handover" about="opening …">
        {null}
      </Ledger>
    );
  return (
    <Ledger name="Handover" about="every file is read back before it can leave">
      <Changing>
        <NewPackage tables={tables} />
      </Changing>
      {packages.data?.length ? (
        packages.data.map((p) => <PackageLeaf key={p.id} card={p} />)
      ) : (
        <Empty>
          No package has been made yet. Choose above what the recipient needs; each one is kept here with its revision,
          as a record of what was sent.
        </Empty>
      )}
    </Ledger>
  );
}
