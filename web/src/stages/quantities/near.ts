import { useMemo } from 'react';
import { nearOf } from '#core/report';
import { useParts } from '../../project-state/store.ts';

/** Finds what of the project lies near a section; null while nobody asks. */
export function useNear(asked: boolean): ReturnType<typeof nearOf> | null {
  const { tables } = useParts('tables');
  return useMemo(() => {
    if (!asked) return null;
    const { points, linework } = tables!;
    const text = { number: (i: number) => points.number.get(i), description: (i: number) => points.description.get(i) };
    return nearOf({ x: points.x, y: points.y, z: points.z, state: points.state, ...text }, linework.lines);
  }, [asked, tables]);
}
