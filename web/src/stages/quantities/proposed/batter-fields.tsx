import { Flex } from '@chakra-ui/react';
import { UNIT_SIGN } from '#core/measure';
import type { PadRow, StripRow } from '#core/project';
import { LEAST_SLOPE, LEAST_STEP, MOST_SLOPE } from '#core/quantities';
import { Pick } from '../../../frame/controls.tsx';
import { TypedLength } from '../../../frame/typed-length.tsx';
import { TypedNumber } from '../../../frame/typed-number.tsx';
import { useParts } from '../../../project-state/store.ts';

type Batters = Pick<PadRow | StripRow, 'cutSlope' | 'fillSlope' | 'corners' | 'benches'>;

export const FIELD = { width: '74px', height: '24px', px: '4px', fontSize: '12px' };
const NARROW = { ...FIELD, width: '54px' };

/** Slopes from what is proposed to the ground, their corners, and the benches in them: an empty height is none. */
export function BatterFields({ row, set }: { row: Batters; set: (to: Partial<Batters>) => void }) {
  const { unit } = useParts('state').state!.document.settings;
  const slope = (of: 'cutSlope' | 'fillSlope', label: string) =>
    <TypedNumber key={`${of} ${row[of]}`} label={label} value={row[of]} least={LEAST_SLOPE} most={MOST_SLOPE} set={(v) => set({ [of]: v })} field={NARROW} />; // prettier-ignore
  const { benches } = row;
  return (
    <>
      <Flex gap="6px" align="center" wrap="wrap" mt="6px">
        Batters 1 : {slope('cutSlope', 'slope in cut, horizontal to 1 vertical')} in cut, 1 :{' '}
        {slope('fillSlope', 'slope in fill, horizontal to 1 vertical')} in fill, corners{' '}
        <Pick
          aria-label="corners of the batters"
          height="24px"
          value={row.corners}
          onChange={(e) => set({ corners: e.target.value as Batters['corners'] })}
        >
          <option value="mitred">mitred</option>
          <option value="rounded">rounded</option>
        </Pick>
      </Flex>
      <Flex gap="6px" align="center" wrap="wrap" mt="6px">
        Benches every{' '}
        <TypedLength
          key={`every ${benches?.every}`}
          label="height between benches"
          value={benches?.every}
          unit={unit}
          least={LEAST_STEP}
          most={1000}
          optional
          title="Empty: no benches."
          must="Benches are 0.1 m or more above each other."
          set={(every) =>
            set({ benches: every === undefined ? null : { every, width: benches?.width ?? USUAL_WIDTH } })
          }
          field={FIELD}
        />{' '}
        {UNIT_SIGN[unit]} of height
        {benches ? (
          <>
            {', '}
            <TypedLength
              key={`width ${benches.width}`}
              label="width of the benches"
              value={benches.width}
              unit={unit}
              least={0}
              most={1000}
              must="A width is 0 or more."
              set={(width) => set({ benches: { ...benches, width: width! } })}
              field={FIELD}
            />{' '}
            {UNIT_SIGN[unit]} wide
          </>
        ) : null}
      </Flex>
    </>
  );
}

/** m; a machine's width. */
const USUAL_WIDTH = 3;
