import { useCallback, useEffect, useRef, type PointerEvent, type RefObject } from 'react';
import { useParts } from '../../project-state/store.ts';
import { courseLayer, markLayer } from '../layers.ts';
import { ORDER, type SheetScene } from '../scene.ts';
import { movedCourse, placeAlong, underHand, useSection } from './section-store.ts';

/** How near the hand must come to the line to take it, CSS pixels. */
const REACH = 9;

/** The line of the section on the drawing: its corners are dragged, or the whole of it, and the section follows. */
export function useSectionLine(scene: RefObject<SheetScene | null>, ready: boolean, on: boolean) {
  const { id, tables, traced } = useParts('id', 'tables', 'traced');
  const { courses, at, put } = useSection();
  const course = on ? courses[id] : undefined;
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => () => stop.current?.(), []);

  useEffect(() => {
    const s = scene.current;
    if (!s || !ready) return;
    const level = s.meanElevation + s.origin.z;
    const flat = course ? course.flatMap((v, i) => (i % 2 ? [v, level] : [v])) : [];
    s.setLayer('section', course ? courseLayer([flat], s.origin, 'pole', 2) : null, ORDER.marks);
    s.setLayer('section-corners', course ? markLayer([...course], s.origin, 'pole', 'square', s.meanElevation) : null, ORDER.marks); // prettier-ignore
  }, [scene, course, ready, tables]);

  useEffect(() => {
    const s = scene.current;
    if (!s || !ready) return;
    const p = course && at !== null ? placeAlong(course, at) : null;
    s.setLayer('section-at', p ? markLayer([p.x, p.y], s.origin, 'pole', 'ring', s.meanElevation) : null, ORDER.marks);
  }, [scene, course, at, ready]);

  return useCallback(
    (e: PointerEvent<HTMLElement>): void => {
      const s = scene.current;
      if (!s || !course || traced || s.isSpatial || e.button !== 0) return;
      const box = e.currentTarget.getBoundingClientRect();
      const pixel = (to: { clientX: number; clientY: number }) => ({ px: s.onFirst(to.clientX - box.left), py: to.clientY - box.top }); // prettier-ignore
      const corners = Array.from({ length: course.length / 2 }, (_, i) => s.toScreen({ x: course[2 * i], y: course[2 * i + 1], z: 0 })); // prettier-ignore
      const pressed = pixel(e);
      const corner = underHand(corners, pressed.px, pressed.py, REACH);
      if (corner === undefined) return;
      // Neither panned nor picked: the hand has the line.
      e.stopPropagation();
      e.preventDefault();
      const from = s.toPlan(pressed.px, pressed.py);
      const move = (to: globalThis.PointerEvent): void => {
        const now = pixel(to);
        const { x, y } = s.toPlan(now.px, now.py);
        put(id, movedCourse(course, corner, x - from.x, y - from.y));
      };
      const end = (): void => {
        window.removeEventListener('pointermove', move);
        window.removeEventListener('pointerup', end);
        stop.current = null;
      };
      window.addEventListener('pointermove', move);
      window.addEventListener('pointerup', end);
      stop.current = end;
    },
    [scene, course, traced, id, put],
  );
}
