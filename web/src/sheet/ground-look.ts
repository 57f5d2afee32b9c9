import { create } from 'zustand';
import { ASPECTS } from '#core/drawing';
import { TINTED_BY, type NamedLook } from '#core/project';
import type { ColourName } from '../frame/colours.ts';

export type TintedBy = (typeof TINTED_BY)[number];

/** How surfaces are seen. */
export type GroundLook = Omit<NamedLook, 'id' | 'name'>;

export const FIRST_LOOK: GroundLook = { tintedBy: 'elevation', shaded: false, sun: { bearing: 315, height: 45 }, stretch: 1 }; // prettier-ignore

export const SLOPE_TINTS = ['slope0', 'slope1', 'slope2', 'slope3', 'slope4'] as const satisfies readonly ColourName[];

export const ASPECT_TINTS = ['aspectN', 'aspectNE', 'aspectE', 'aspectSE', 'aspectS', 'aspectSW', 'aspectW', 'aspectNW'] as const satisfies readonly ColourName[]; // prettier-ignore
/** A bearing, radians, as one of the eight directions. */
export const compass = (bearing: number): (typeof ASPECTS)[number] => ASPECTS[Math.round(bearing / (Math.PI / 4)) % 8];

export const ELEVATION_TINTS = ['tint0', 'tint1', 'tint2', 'tint3', 'tint4'] as const satisfies readonly ColourName[];

/** The unit vector towards the sun: east, north, up. */
export function towardsSun({ bearing, height }: GroundLook['sun']): [number, number, number] {
  const [b, h] = [(bearing * Math.PI) / 180, (height * Math.PI) / 180];
  return [Math.sin(b) * Math.cos(h), Math.cos(b) * Math.cos(h), Math.sin(h)];
}

/** A look without its name. */
export const asLook = ({ tintedBy, shaded, sun, stretch }: GroundLook): GroundLook => ({
  tintedBy,
  shaded,
  sun,
  stretch,
});

/** The named look that is the same. */
export const namedAs = (looks: readonly NamedLook[], look: GroundLook): NamedLook | undefined =>
  looks.find((l) => JSON.stringify(asLook(l)) === JSON.stringify(asLook(look)));

const KEY = 'dunrik.ground-look';

/** What somebody kept on this machine, where it still makes sense. */
export function readLook(kept: string | null): GroundLook {
  let read: Partial<GroundLook>;
  try {
    read = (JSON.parse(kept ?? '{}') ?? {}) as Partial<GroundLook>;
  } catch {
    return FIRST_LOOK;
  }
  const within = (v: unknown, low: number, high: number, otherwise: number): number =>
    typeof v === 'number' && v >= low && v <= high ? v : otherwise;
  return {
    tintedBy: TINTED_BY.find((t) => t === read.tintedBy) ?? FIRST_LOOK.tintedBy,
    shaded: read.shaded === true,
    sun: {
      bearing: within(read.sun?.bearing, 0, 360, FIRST_LOOK.sun.bearing),
      height: within(read.sun?.height, 0, 90, FIRST_LOOK.sun.height),
    },
    stretch: within(read.stretch, 0.1, 100, FIRST_LOOK.stretch),
  };
}

export const useGroundLook = create<{ look: GroundLook; set: (part: Partial<GroundLook>) => void }>((set, get) => ({
  look: readLook(typeof localStorage === 'undefined' ? null : localStorage.getItem(KEY)),
  set(part) {
    const look = { ...get().look, ...part };
    localStorage.setItem(KEY, JSON.stringify(look));
    set({ look });
  },
}));
