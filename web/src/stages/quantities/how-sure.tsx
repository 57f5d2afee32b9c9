import { Box } from '@chakra-ui/react';
import { UNIT_SIGN } from '#core/measure';
import type { Comparison } from '#core/project';
import { together, WITHIN_95 } from '#core/quantities';
import { Act, Aside, Num, Tick } from '../../frame/controls.tsx';
import { TypedLength } from '../../frame/typed-length.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import type { ComparisonFigures } from './comparison-figures.ts';
import { MoreShots } from './more-shots.tsx';

interface HowSureProps {
  comparison: Comparison;
  figures: ComparisonFigures;
  set: (to: Partial<Comparison>) => Promise<boolean>;
}

/** m; what ordinary shots are good for, to begin with. */
const USUAL = { plan: 0.02, height: 0.02 };
const MOST = 100;

function othersText({ against }: Comparison, surfaces: readonly { id: string; role: string }[]): string {
  if ('base' in against) return 'Points of the toe count in the heap and in its base.';
  const other = 'surface' in against ? surfaces.find((s) => s.id === against.surface) : undefined;
  return other && other.role !== 'design'
    ? 'What it is compared with was measured too, and counts alike; points that both have count once.'
    : 'What it is compared with counts as exact.';
}

/** How sure the volumes are: what measuring does to them, from how precise the points are, and what their spacing does. */
export function HowSure({ comparison, figures: { cut, fill, sd, spacing }, set }: HowSureProps) {
  const { state } = useParts('state');
  const can = useCanChange();
  const { settings } = state!.document;
  const { unit, volumeUnit } = settings;
  const given = comparison.sd;
  if (!given)
    return can ? (
      <Box mb="10px">
        <Act onClick={() => void set({ sd: USUAL })}>How sure is it …</Act>
      </Box>
    ) : null;
  const field = (of: 'plan' | 'height', label: string) =>
    can ? (
      <TypedLength
        key={`${of} ${given[of]}`}
        label={label}
        value={given[of]}
        unit={unit}
        least={0}
        most={MOST}
        must="A length of 0 or more."
        set={(metres) => void set({ sd: { ...given, [of]: metres! } })}
        field={{ width: '66px', height: '22px', px: '4px', fontSize: '12px' }}
      />
    ) : null;
  const all = sd && together(sd, spacing?.sd ?? null);
  const within = (volume: number, of: number) => (
    <Num whiteSpace="nowrap">
      {formatVolume(volume, settings)} ± {formatVolume(WITHIN_95 * of, settings)}
    </Num>
  );
  return (
    <Box mb="10px" fontSize="13px" display="flex" gap="6px" alignItems="center" flexWrap="wrap">
      Points good to {field('plan', 'standard deviation in plan')} {UNIT_SIGN[unit]} in plan,{' '}
      {field('height', 'standard deviation in height')} {UNIT_SIGN[unit]} in height (one standard deviation):
      {can ? (
        <Tick
          label="each point’s own where it is known"
          on={Boolean(given.own)}
          set={(own) => void set({ sd: { ...given, own: own || undefined } })}
        />
      ) : null}
      {sd ? (
        <span>
          cut {within(cut, all!.cut)}, fill {within(fill, all!.fill)}, cut − fill {within(cut - fill, all!.net)}{' '}
          {VOLUME_SIGN[volumeUnit]} (95 %){spacing ? '' : ', by measuring alone'}.
        </span>
      ) : null}
      {sd && spacing ? (
        <Aside>
          Of cut − fill ± <Num>{formatVolume(WITHIN_95 * sd.net, settings)}</Num> is measuring, ±{' '}
          <Num>{formatVolume(WITHIN_95 * spacing.sd.net, settings)}</Num> how well the points describe the ground.
        </Aside>
      ) : null}
      <Aside>
        {given.own ? 'Points without one are as typed.' : othersText(comparison, state!.document.surfaces)}
        {spacing ? '' : ' Too few points can be left out to tell how well they describe the ground.'}
      </Aside>
      {spacing?.wanted.length ? <MoreShots name={comparison.name} spacing={spacing} /> : null}
      {can ? (
        <Act look="quiet" height="22px" onClick={() => void set({ sd: undefined })}>
          Hide
        </Act>
      ) : null}
    </Box>
  );
}
