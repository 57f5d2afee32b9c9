import { Box, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import type { SystemsThereRequest } from '#contract';
import type { PublishedSystem } from '#core/basis';
import type { TextLayout } from '#core/exchange';
import { UNIT_NAME } from '#core/measure';
import type { Extent, SystemThere } from '#core/sources';
import { api, problemText } from '../frame/api.ts';
import { Act } from '../frame/controls.tsx';

/** Published systems in which the file lies where the project is. */
export function OtherSystems({
  near,
  project,
  layout,
  own,
  far,
  onSystem,
}: {
  /** The file as it is read, and the project, m. */
  near: Extent;
  project: Extent;
  layout: TextLayout;
  own: PublishedSystem | null;
  far: (metres: number) => string;
  onSystem: (there: SystemThere) => void;
}) {
  const asked = own && { file: [...near], unit: layout.unit, project: [...project], definition: own.definition };
  const found = useQuery({
    queryKey: ['systems there', asked],
    queryFn: () => api.systemsThere(asked as SystemsThereRequest),
    enabled: asked !== null,
  });
  if (found.isError)
    return <Box role="alert">Whether another system brings it there is not known: {problemText(found.error)}</Box>;
  if (own && found.isPending) return <>Looking for a system in which it does …</>;
  const { systems, more } = found.data ?? { systems: [], more: 0 };
  if (systems.length === 0)
    return (
      <>
        {own ? 'Nor does any published system that is used in this area: it is on an origin of its own.' : 'It is on an origin of its own or in another system.'}{' '}
        Import it, then fit it by points under Basis, Local to grid.
      </>
    ); // prettier-ignore
  const how = (s: SystemThere): string =>
    `${s.unit === layout.unit ? '' : `, in ${UNIT_NAME[s.unit]}`}${s.swapped ? ', east and north swapped' : ''}`;
  return (
    <>
      {systems.length + more === 1 ? 'In one published system it lies there:' : `In ${systems.length + more} published systems it lies there; ask the sender which one it is.`}
      {systems.map((s) => (
        <Flex key={s.code} gap="8px" align="center" wrap="wrap" mt="4px">
          <Act onClick={() => onSystem(s)}>
            Read it in {s.code}
            {how(s)}
          </Act>
          <span>
            {s.name}, {far(s.off)} between their middles{s.sameDatum ? ', on the project’s datum' : ''}
          </span>
        </Flex>
      ))}
      {more ? <Box mt="4px">{more} more are not listed; any is chosen under “Another system …”.</Box> : null}
    </>
  ); // prettier-ignore
}
