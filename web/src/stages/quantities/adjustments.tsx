import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { UNIT_SIGN } from '#core/measure';
import { isHeap, type Comparison } from '#core/project';
import { Act } from '../../frame/controls.tsx';
import { TypedLength } from '../../frame/typed-length.tsx';
import { TypedNumber } from '../../frame/typed-number.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';

/** m */
const DEEPEST = 10;
const FIELD = { width: '66px', height: '22px', px: '4px', fontSize: '12px' };
const FACTOR = { ...FIELD, width: '48px' };

interface AdjustmentsProps {
  comparison: Comparison;
  set: (to: Partial<Comparison>) => Promise<boolean>;
}

/** What a comparison takes off or adds: topsoil, a band that counts as neither, factors, voids. */
export function Adjustments({ comparison, set }: AdjustmentsProps) {
  const { state, trace, traced } = useParts('state', 'trace', 'traced');
  const can = useCanChange();
  const { unit } = state!.document.settings;
  const { strip, neither, factors, voids = [] } = comparison;
  const isUsed = Boolean(strip ?? neither ?? factors) || voids.length > 0;
  const [open, setOpen] = useState(isUsed);
  if (!can) return null;
  if (!open)
    return (
      <Box mb="10px">
        <Act onClick={() => setOpen(true)}>Topsoil, factors, voids …</Act>
      </Box>
    );
  const { cut, fill } = factors ?? { cut: 1, fill: 1 };
  const length = (of: 'strip' | 'neither', label: string) => (
    <TypedLength
      key={`${of} ${comparison[of] ?? 0}`}
      label={label}
      value={comparison[of] ?? 0}
      unit={unit}
      least={0}
      most={DEEPEST}
      must="A length of 0 or more."
      set={(metres) => void set({ [of]: metres || undefined })}
      field={FIELD}
    />
  );
  return (
    <Box mb="10px" fontSize="13px" role="group" aria-label="topsoil, factors and voids">
      {isHeap(comparison) ? null : (
        <Flex gap="6px" align="center" wrap="wrap">
          {length('strip', 'topsoil that goes first')} {UNIT_SIGN[unit]} of topsoil go first;{' '}
          {length('neither', 'depth that counts as neither')} {UNIT_SIGN[unit]} and less count as neither
        </Flex>
      )}
      <Flex gap="6px" align="center" wrap="wrap" mt="4px">
        cut ×{' '}
        <TypedNumber
          key={`cut ${cut}`}
          label="factor of cut, loose"
          value={cut}
          least={0.1}
          most={10}
          set={(v) => void set({ factors: { cut: v, fill } })}
          field={FACTOR}
        />{' '}
        loose, fill ×{' '}
        <TypedNumber
          key={`fill ${fill}`}
          label="factor of fill, to bring"
          value={fill}
          least={0.1}
          most={10}
          set={(v) => void set({ factors: { cut, fill: v } })}
          field={FACTOR}
        />{' '}
        to bring; {voids.length === 0 ? 'no voids' : voids.length === 1 ? '1 void' : `${voids.length} voids`}
        <Act
          disabled={traced !== null}
          height="22px"
          onClick={() =>
            trace({
              purpose: `a void of “${comparison.name}”`,
              places: [],
              finish: (ring) => void set({ voids: [...voids, ring] }),
            })
          }
        >
          Draw a void
        </Act>
        {voids.length ? (
          <Act height="22px" onClick={() => void set({ voids: undefined })}>
            Without voids
          </Act>
        ) : null}
      </Flex>
    </Box>
  );
}
