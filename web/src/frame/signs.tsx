import { chakra } from '@chakra-ui/react';
import type { Weight } from '#core/queries';

const Svg = chakra('svg', { base: { flexShrink: 0, display: 'inline-block', verticalAlign: '-2px' } });

const WEIGHT_NAME: Record<Weight, string> = { stop: 'stop', look: 'look', note: 'note' };

/** A query's weight: eight corners for stop, three for look, a ring for note. Told apart by shape, not by colour alone. */
export function WeightSign({
  weight,
  size = 13,
  inherit = false,
}: {
  weight: Weight;
  size?: number;
  inherit?: boolean;
}) {
  const color = inherit ? 'currentColor' : weight === 'stop' ? 'pole' : weight === 'look' ? 'brass' : 'slate';
  return (
    <Svg
      width={`${size}px`}
      height={`${size}px`}
      viewBox="0 0 14 14"
      role="img"
      aria-label={WEIGHT_NAME[weight]}
      color={color}
    >
      {weight === 'stop' ? <path d="M4.3 1h5.4L13 4.3v5.4L9.7 13H4.3L1 9.7V4.3z" fill="currentColor" /> : null}
      {weight === 'look' ? (
        <path d="M7 1.5 13 12.5H1z" fill="none" stroke="currentColor" strokeWidth="1.6" strokeLinejoin="round" />
      ) : null}
      {weight === 'note' ? <circle cx="7" cy="7" r="4.6" fill="none" stroke="currentColor" strokeWidth="1.8" /> : null}
    </Svg>
  );
}

/** A piece of ranging pole: our sign. */
export function PoleSign() {
  return (
    <Svg width="8px" height="22px" viewBox="0 0 8 22" aria-hidden="true" color="pole">
      <rect x="1" y="1" width="6" height="20" rx="1" fill="none" stroke="currentColor" />
      <path d="M1.5 4h5v4h-5zM1.5 12h5v4h-5z" fill="currentColor" />
    </Svg>
  );
}
