import type { Settings } from '#core/project';

/** Small angles are typed in seconds, or milligon: how many of them a radian has. */
export const smallAngle = (s: Pick<Settings, 'angle'>): { per: number; sign: string } =>
  s.angle === 'gon' ? { per: 63_661.977236758, sign: 'mgon' } : { per: 206_264.806247096, sign: '″' };
