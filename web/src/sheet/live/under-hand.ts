import { useCallback, useEffect, useRef, useState, type PointerEvent, type RefObject } from 'react';
import { create } from 'zustand';
import { useParts, useProject } from '../../project-state/store.ts';
import type { HeldEdit, LiveChange } from '../../work/live-edit.ts';
import { sheetWork } from '../../work/workers.ts';
import { markLayer } from '../layers.ts';
import type { Place } from '../place.ts';
import { ORDER, type SheetScene } from '../scene.ts';
import { comparedWith, madeFrom, paintEdited, settingsOf } from './live-paint.ts';

/** An edit whose figures are being typed: what it would do is seen on the drawing, and a handle of it may be dragged. */
export interface UnderHand {
  surface: string;
  /** What it is with the figures as they are typed; null where they are none yet. */
  edit: HeldEdit | null;
  /** Where the hand takes it, in its project's coordinates. */
  handle: Place;
  /** Whether it goes up and down alone, also in plan. */
  upright: boolean;
  /** How far it is by its figures; null where it has no handle. */
  by: Place | null;
  /** The hand has it so far from where it was. */
  onDrag: (by: Place) => void;
}

export const useUnderHand = create<{ now: UnderHand | null }>(() => ({ now: null }));

/** How near the hand must come to the handle, CSS pixels. */
const REACH = 12;
/** In plan, where up and down are no directions, a pixel upwards raises by so much, m. */
const A_PIXEL = 0.01;

/** Shows an edit as its figures are typed, and lets its handle be dragged. */
export function useEditUnderHand(scene: RefObject<SheetScene | null>, ready: boolean) {
  const { state, tables } = useParts('state', 'tables');
  const { now } = useUnderHand();
  const [change, setChange] = useState<LiveChange | null>(null);
  const surface = now?.surface;
  const one = surface ? tables?.surfaces.get(surface) : undefined;
  const stop = useRef<(() => void) | null>(null);
  const held = useRef<Promise<void> | null>(null);
  const newest = useRef(0);
  useEffect(() => () => stop.current?.(), []);

  // The surface is held as long as an edit of it is asked for.
  useEffect(() => {
    if (!one || !surface || !state || !tables) return;
    held.current = sheetWork().hold(one, settingsOf(state.document, surface), comparedWith(state.document, tables, surface), madeFrom(state.document, surface, one)); // prettier-ignore
    return () => {
      held.current = null;
      void sheetWork().letGo();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the document comes with its tables
  }, [one, surface, tables]);

  const key = JSON.stringify(now?.edit ?? null);
  useEffect(() => {
    const asked = ++newest.current;
    const edit = JSON.parse(key) as HeldEdit | null;
    const ask = async (): Promise<void> => {
      await held.current;
      const made = edit && held.current ? await sheetWork().changeHeld(edit) : null;
      // The newest figures count.
      if (asked === newest.current) setChange(made);
    };
    void ask();
  }, [key, one]);

  useEffect(() => {
    const s = scene.current;
    if (!s || !ready || !state || !tables) return;
    paintEdited(s, state.document, now && change ? { surface: now.surface, change, at: null } : null);
    const grip = now && gripOf(now);
    s.setLayer('live-handle', grip ? markLayer([grip.x, grip.y], s.origin, 'pole', 'diamond', grip.z - s.origin.z) : null, ORDER.marks); // prettier-ignore
  }, [scene, ready, state, tables, now, change]);

  const onPointerDownCapture = useCallback(
    (e: PointerEvent<HTMLElement>): void => {
      const s = scene.current;
      const before = useUnderHand.getState().now;
      const grip = before && gripOf(before);
      if (!s || !before?.by || !grip || e.button !== 0) return;
      const { by } = before;
      const box = e.currentTarget.getBoundingClientRect();
      const at = s.toScreen(grip);
      const pressed = { x: s.onFirst(e.clientX - box.left), y: e.clientY - box.top };
      if (at.behind || Math.hypot(at.x - pressed.x, at.y - pressed.y) > REACH) return;
      e.stopPropagation();
      e.preventDefault();
      const metres = s.metresAt(grip);
      const move = (to: globalThis.PointerEvent): void => {
        const [dx, dy] = [s.onFirst(to.clientX - box.left) - pressed.x, to.clientY - box.top - pressed.y];
        const up = s.isSpatial ? metres.up : A_PIXEL;
        const next =
          s.isSpatial || before.upright
            ? { ...by, z: by.z - dy * up }
            : { ...by, x: by.x + dx * metres.plan, y: by.y - dy * metres.plan };
        useUnderHand.getState().now?.onDrag(toMillimetre(next));
      };
      const end = (): void => {
        window.removeEventListener('pointermove', move);
        window.removeEventListener('pointerup', end);
        useProject.setState({ dragged: null });
        stop.current = null;
      };
      window.addEventListener('pointermove', move);
      window.addEventListener('pointerup', end);
      const undo = (): void => {
        end();
        useUnderHand.getState().now?.onDrag(by);
      };
      useProject.setState({ dragged: undo });
      stop.current = end;
    },
    [scene],
  );
  return {
    isAsked: (now?.edit ?? null) !== null,
    change: now ? change : null,
    by: now?.by && now.upright ? { z: now.by.z } : (now?.by ?? null),
    onPointerDownCapture,
  };
}

/** Where the handle is by the figures; null where it has none. */
function gripOf({ handle, by, upright }: UnderHand): Place | null {
  if (!by) return null;
  const { x, y } = upright ? { x: 0, y: 0 } : by;
  return { x: handle.x + x, y: handle.y + y, z: handle.z + by.z };
}

/** Finer shifts nobody means. */
const toMillimetre = ({ x, y, z }: Place): Place => {
  const round = (v: number): number => Math.round(v * 1000) / 1000;
  return { x: round(x), y: round(y), z: round(z) };
};
