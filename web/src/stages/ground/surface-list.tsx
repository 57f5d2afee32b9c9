import { chakra, Flex } from '@chakra-ui/react';
import type { ProjectDocument } from '#core/project';
import { formatArea } from '#core/measure';
import type { Summary } from '#contract';
import { Act, Aside, Cut, Leaf, Num } from '../../frame/controls.tsx';
import { BODY_CELL, HEAD_CELL } from '../../frame/table.tsx';
import { Changing } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';
import { SurfaceStroke, useSurfacesShown } from '../../sheet/surfaces-shown.tsx';
import { copyOf, newSurface } from './new-surface.ts';

const Head = chakra('th', { base: { ...HEAD_CELL, px: '8px', height: '28px' } });
const Cell = chakra('td', { base: { ...BODY_CELL, px: '8px', height: '30px' } });

/** Every surface of the project: which are drawn, which one's recipe is read below. */
export function SurfaceList({ doc, summary }: { doc: ProjectDocument; summary: Summary }) {
  const { make, busy } = useParts('make', 'busy');
  const view = useSurfacesShown()!;
  const { areaUnit, unit } = doc.settings;
  const current = doc.surfaces.find((s) => s.id === view.current)!;
  const add = async (surface: ReturnType<typeof newSurface>): Promise<void> => {
    if (await make({ op: 'surface.add', surface })) view.stand(surface.id);
  };
  return (
    <Leaf mb="12px">
      <chakra.table width="100%" borderCollapse="collapse" aria-label="surfaces">
        <thead>
          <tr>
            <Head scope="col">Drawn</Head>
            <Head scope="col" textAlign="left">
              Surface
            </Head>
            <Head scope="col" textAlign="left">
              Use
            </Head>
            <Head scope="col">Points</Head>
            <Head scope="col">Triangles</Head>
            <Head scope="col">Plan area</Head>
          </tr>
        </thead>
        <tbody>
          {doc.surfaces.map((s) => {
            const m = summary.surfaces.find((one) => one.id === s.id);
            const on = s.id === view.current;
            return (
              <chakra.tr key={s.id} bg={on ? 'mark' : undefined} cursor="pointer" onClick={() => view.stand(s.id)}>
                <Cell onClick={(e) => e.stopPropagation()}>
                  <Flex as="label" gap="6px" align="center" cursor="pointer">
                    <input
                      type="checkbox"
                      aria-label={`draw ${s.name}`}
                      checked={view.shown.includes(s.id)}
                      onChange={() => view.toggle(s.id)}
                    />
                    <SurfaceStroke doc={doc} id={s.id} />
                  </Flex>
                </Cell>
                <Cell maxWidth="170px" textAlign="left">
                  <chakra.button
                    type="button"
                    aria-pressed={on}
                    bg="transparent"
                    border="0"
                    p="0"
                    width="100%"
                    textAlign="left"
                    cursor="pointer"
                    display="flex"
                  >
                    <Cut fontWeight={on ? '700' : '400'}>{s.name}</Cut>
                  </chakra.button>
                </Cell>
                <Cell textAlign="left">
                  <Aside>{s.role}</Aside>
                </Cell>
                <Cell>
                  <Num>{m?.points ?? '…'}</Num>
                </Cell>
                <Cell>
                  <Num>{m?.triangles ?? '…'}</Num>
                </Cell>
                <Cell>
                  <Num whiteSpace="nowrap">{m ? formatArea(m.planArea, areaUnit, unit) : '…'}</Num>
                </Cell>
              </chakra.tr>
            );
          })}
        </tbody>
      </chakra.table>
      <Changing>
        <Flex gap="6px" p="8px" wrap="wrap">
          <Act disabled={busy} onClick={() => void add(newSurface(doc))}>
            New surface
          </Act>
          <Act disabled={busy} onClick={() => void add(copyOf(doc, current))}>
            Copy “{current.name.slice(0, 24)}”
          </Act>
          <Act disabled={busy} onClick={() => void make({ op: 'surface.remove', id: current.id })}>
            Delete “{current.name.slice(0, 24)}”
          </Act>
        </Flex>
      </Changing>
    </Leaf>
  );
}
