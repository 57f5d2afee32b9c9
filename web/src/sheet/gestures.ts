import { useEffect, type RefObject } from 'react';
import type { SheetScene } from './scene.ts';

/** Dragging moves and the wheel zooms, in plan; in 3D the orbit controls have the hand. */
export function usePlanGestures(scene: RefObject<SheetScene | null>, ready: boolean): void {
  useEffect(() => {
    const element = scene.current?.element;
    if (!element || !ready) return;
    let last: { x: number; y: number } | null = null;
    const down = (e: PointerEvent): void => {
      if (scene.current?.isSpatial) return;
      last = { x: e.clientX, y: e.clientY };
      element.setPointerCapture(e.pointerId);
    };
    const move = (e: PointerEvent): void => {
      if (!last || scene.current?.isSpatial) return;
      scene.current?.pan(e.clientX - last.x, e.clientY - last.y);
      last = { x: e.clientX, y: e.clientY };
    };
    const up = (): void => {
      last = null;
    };
    const wheel = (e: WheelEvent): void => {
      if (scene.current?.isSpatial) return;
      e.preventDefault();
      const box = element.getBoundingClientRect();
      scene.current?.zoom(
        Math.exp(Math.max(-300, Math.min(300, e.deltaY)) * 0.0016),
        e.clientX - box.left,
        e.clientY - box.top,
      );
    };
    element.addEventListener('pointerdown', down);
    element.addEventListener('pointermove', move);
    element.addEventListener('pointerup', up);
    element.addEventListener('pointercancel', up);
    element.addEventListener('wheel', wheel, { passive: false });
    return () => {
      element.removeEventListener('pointerdown', down);
      element.removeEventListener('pointermove', move);
      element.removeEventListener('pointerup', up);
      element.removeEventListener('pointercancel', up);
      element.removeEventListener('wheel', wheel);
    };
  }, [scene, ready]);
}
