import { useEffect, type RefObject } from 'react';
import { extentOfPicture } from '#core/pictures';
import type { Picture } from '#core/project';
import { useProject } from '../project-state/store.ts';
import { extentOf } from './extent.ts';
import { extentOfUnderlays, underlaysShown } from './underlay.ts';
import { useLook } from './look.ts';
import type { SheetScene } from './scene.ts';
import type { SheetViewed } from './view.ts';

const extentOfPictures = (pictures: readonly Picture[]): ReturnType<typeof extentOf> => {
  const extents = pictures.filter((p) => !p.hidden).map((p) => extentOfPicture(p.matrix, p));
  return extentOf(extents.flatMap(([w, , e]) => [w, e]), extents.flatMap(([, s, , n]) => [s, n]), null); // prettier-ignore
};

/** What the page lets others do with the sheet that is open. */
export const sheetHandle: {
  current: {
    fit: () => void;
    show: (x: number, y: number) => void;
    /** Shows all of something; `beside`: clear of its card. */
    fitTo: (x: ArrayLike<number>, y: ArrayLike<number>, beside?: boolean) => void;
    screen: (x: number, y: number) => { x: number; y: number; width: number };
    /** Shows what was shown before. */
    look: (view: SheetViewed) => void;
    viewed: () => SheetViewed | null;
    /** Middle of what is seen in plan, m; null before anything is drawn or in 3D. */
    middle: () => { x: number; y: number } | null;
    /** West, south, east and north of what is seen in plan, m; null in 3D. */
    window: () => [number, number, number, number] | null;
    figures: () => SheetScene['drawn'];
  } | null;
} = { current: null };

/** Puts the sheet into others' hands as long as it is open. */
export function useSheetHandle(scene: RefObject<SheetScene | null>, ready: string): void {
  useEffect(() => {
    sheetHandle.current = {
      fit() {
        const { tables: t, state } = useProject.getState();
        // A project that has nothing but pictures is all of those.
        const extent =
          (t && extentOf(t.points.x, t.points.y, t.points.state)) ??
          (t && state && extentOfUnderlays(underlaysShown(t, state.document))) ??
          extentOfPictures(state?.document.pictures ?? []);
        if (extent) scene.current?.fit(...extent);
      },
      show: (x, y) => scene.current?.show(x, y),
      fitTo(x, y, beside = true) {
        const extent = extentOf(x, y, null);
        if (extent) scene.current?.fit(...extent, beside);
      },
      look(view) {
        useLook.getState().setSpatial(view.kind === '3d');
        scene.current?.look(view);
      },
      viewed: () => scene.current?.viewed ?? null,
      screen: (x, y) => ({ ...scene.current!.toScreen({ x, y, z: 0 }), width: scene.current!.sides[0].width }),
      middle() {
        const s = scene.current;
        if (!s || s.isSpatial) return null;
        return s.toPlan(s.sides[0].width / 2, s.element.clientHeight / 2);
      },
      window() {
        const s = scene.current;
        if (!s || s.isSpatial) return null;
        const [a, b] = [s.toPlan(0, s.element.clientHeight), s.toPlan(s.sides[0].width, 0)];
        return a && b ? [a.x, a.y, b.x, b.y] : null;
      },
      figures: () => scene.current!.drawn,
    };
    return () => {
      sheetHandle.current = null;
    };
  }, [scene, ready]);
}
