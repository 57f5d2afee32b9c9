import { INK_ON_PAPER } from '#core/codes';

export type Ink = keyof typeof INK_ON_PAPER;

const part = (v: number): string => Math.round(v * 255).toString(16).padStart(2, '0'); // prettier-ignore

/** An ink on paper as a picture names it. */
export const inkOf = (ink: Ink): string => `#${INK_ON_PAPER[ink].map(part).join('')}`;
