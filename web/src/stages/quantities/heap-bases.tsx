import { Box, chakra } from '@chakra-ui/react';
import { useState } from 'react';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import type { Comparison } from '#core/project';
import { HEAP_BASES, type HeapBase, type HeapVolume } from '#core/quantities';
import type { Summary } from '#contract';
import { Aside, Num, Pick } from '../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import { BASE_NAME } from '#core/report';

type Heap = NonNullable<Extract<Summary['comparisons'][number], { ok: true }>['heap']>;

interface HeapBasesProps {
  comparison: Comparison;
  heap: Heap;
  set: (to: Partial<Comparison>) => Promise<boolean>;
}

/** What was there before the heap, beside the bases that its toe gives. */
const EARLIER = 'earlier';
type Base = HeapBase | typeof EARLIER;

const baseOf = ({ against }: Comparison): Base | null => ('base' in against ? against.base : 'surface' in against ? EARLIER : null); // prettier-ignore
/** m² of the heap without an earlier surface under it that are rounding. */
const LEAST_BARE = 0.01;

/** What a heap holds above every base, and what choosing another one costs. */
export function HeapBases({ comparison, heap, set }: HeapBasesProps) {
  const { state } = useParts('state');
  const can = useCanChange();
  const { settings, surfaces } = state!.document;
  const { unit, areaUnit } = settings;
  const chosen = baseOf(comparison);
  // What the hand chose stands at once; refused, it goes back.
  const [picked, setPicked] = useState(chosen);
  const choose = async (base: Base): Promise<void> => {
    setPicked(base);
    const against: Comparison['against'] = base === EARLIER ? { surface: comparison.earlier!, heap: true } : { base };
    if (!(await set({ against }))) setPicked(chosen);
  };
  const nameEarlier = (surface: string): void => void set({ earlier: surface || undefined, ...(chosen === EARLIER ? { against: surface ? { surface, heap: true as const } : { base: 'toe' as const } } : {}) }); // prettier-ignore
  const volumeOf = (base: Base): HeapVolume | null | undefined => (base === EARLIER ? heap.earlier?.volume : heap.volumes[base]); // prettier-ignore
  const net = chosen && volumeOf(chosen)?.net;
  const volume = (id: string, head: string, of: (base: Base) => number | undefined): SmallColumn<Base> => ({
    id,
    head,
    mono: true,
    by: of,
    cell: (base) => {
      const v = of(base);
      if (v !== undefined) return formatVolume(v, settings);
      return base !== EARLIER ? 'no plane' : comparison.earlier ? 'not under it' : '';
    },
  });
  const others = surfaces.filter((s) => s.id !== comparison.surface);
  const columns: SmallColumn<Base>[] = [
    {
      id: 'base',
      head: 'base',
      cell: (base) => (
        <chakra.label display="inline-flex" gap="6px" alignItems="center">
          <input
            type="radio"
            name={`base of ${comparison.id}`}
            aria-label={base === EARLIER ? 'earlier surface' : BASE_NAME[base]}
            checked={base === picked}
            disabled={!can || !volumeOf(base)}
            onChange={() => void choose(base)}
          />
          {base !== EARLIER ? (
            BASE_NAME[base]
          ) : (
            <Pick
              aria-label="surface of what was there before the heap"
              height="24px"
              width="150px"
              disabled={!can}
              value={comparison.earlier ?? ''}
              onChange={(e) => nameEarlier(e.target.value)}
            >
              <option value="">an earlier surface …</option>
              {others.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
            </Pick>
          )}
        </chakra.label>
      ),
    },
    volume('above', `above ${VOLUME_SIGN[settings.volumeUnit]}`, (b) => volumeOf(b)?.above),
    volume('below', 'below', (b) => volumeOf(b)?.below),
    volume('net', 'net', (b) => volumeOf(b)?.net),
    volume('other', 'to the chosen', (b) => {
      const v = volumeOf(b);
      return v && net !== null && net !== undefined ? v.net - net : undefined;
    }),
  ];
  const bare = heap.earlier ? heap.planArea - heap.earlier.area : 0;
  return (
    <Box mb="12px">
      <Aside display="block" mb="4px">
        toe of {heap.toe.length} corners, {formatArea(heap.planArea, areaUnit, unit)} in plan, elevations{' '}
        <Num>
          {formatLength(heap.lowest, unit, 2)} to {formatLength(heap.highest, unit, 2)}
        </Num>
        , mean <Num>{formatLength(heap.mean, unit, 2)}</Num>, top <Num>{formatLength(heap.top, unit, 2)}</Num>{' '}
        {UNIT_SIGN[unit]}
      </Aside>
      <SmallTable
        label="the heap above every base"
        columns={columns}
        rows={others.length ? [...HEAP_BASES, EARLIER] : HEAP_BASES}
        rowKey={(b) => b}
      />{' '}
      {/* prettier-ignore */}
      {bare > LEAST_BARE ? (
        <Aside display="block" color="brass">
          The earlier surface does not lie under {formatArea(bare, areaUnit, unit)} of the heap: they have no part in
          the volume above it.
        </Aside>
      ) : null}
    </Box>
  );
}
