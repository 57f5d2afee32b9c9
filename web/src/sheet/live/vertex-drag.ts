import { useCallback, useEffect, useRef, useState, type PointerEvent, type RefObject } from 'react';
import { pointKey } from '#core/stages';
import type { SurfaceRow } from '#core/project';
import type { Surface } from '#core/terrain';
import { useCanChange } from '../../project-state/can.ts';
import { useParts, useProject } from '../../project-state/store.ts';
import type { Compared, LiveChange, MadeFrom } from '../../work/live-edit.ts';
import { sheetWork } from '../../work/workers.ts';
import { comparedWith, madeFrom, paintEdited, settingsOf } from './live-paint.ts';
import { useUnderHand } from './under-hand.ts';
import type { Place } from '../place.ts';
import type { SheetScene } from '../scene.ts';
import { useSurfacesShown } from '../surfaces-shown.tsx';

/** How near the hand must come to the selected point to take it, CSS pixels. */
const REACH = 10;
/** Less than this is a click, CSS pixels. */
const STEP = 4;

interface Drag {
  surface: string;
  vertex: number;
  key: string;
  from: Place;
  to: Place;
  change: LiveChange | null;
}

/**
 * On the ground, the point that is selected is dragged: in plan to another place, in 3D up and down. Triangles, contours
 * and volumes follow the hand; where it lets go, the change is proposed.
 */
export function useVertexDrag(scene: RefObject<SheetScene | null>, on: boolean) {
  const { state, tables, selection, busy, traced, pending } = useParts('state', 'tables', 'selection', 'busy', 'traced', 'pending'); // prettier-ignore
  const view = useSurfacesShown();
  const { now: asked } = useUnderHand();
  const may = useCanChange() && on && !busy && !traced && !pending && !asked;
  const [drag, setDrag] = useState<Drag | null>(null);
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => () => stop.current?.(), []);

  const onPointerDownCapture = useCallback(
    (e: PointerEvent<HTMLElement>): void => {
      const s = scene.current;
      if (!s || !may || !state || !tables || !view || e.button !== 0 || selection?.kind !== 'point') return;
      const surface = tables.surfaces.get(view.current);
      const recipe = state.document.surfaces.find((r) => r.id === view.current);
      // Triangles as received are made from no points that could stand elsewhere.
      if (recipe?.rows.some((r) => r.kind === 'triangles' && r.on)) return;
      const vertex = surface ? surface.point.indexOf(selection.row) : -1;
      if (!surface || vertex < 0) return;
      const from = { x: surface.x[vertex], y: surface.y[vertex], z: surface.z[vertex] };
      const box = e.currentTarget.getBoundingClientRect();
      const at = s.toScreen(from);
      const [px, py] = [s.onFirst(e.clientX - box.left), e.clientY - box.top];
      if (at.behind || Math.hypot(at.x - px, at.y - py) > REACH) return;
      // Neither panned, rotated nor picked: the hand has the point.
      e.stopPropagation();
      e.preventDefault();
      const key = pointKey(state.document, tables.points, selection.row);
      const about = { surface: view.current, vertex, key, from };
      stop.current = follow(
        s,
        {
          surface,
          settings: settingsOf(state.document, view.current),
          compared: comparedWith(state.document, tables, view.current),
          madeFrom: madeFrom(state.document, view.current, surface),
        },
        about,
        { px, py },
        (next) => {
          setDrag(next);
          paintEdited(s, state.document, next && { surface: next.surface, change: next.change, at: next.to });
        },
      );
    },
    [scene, may, state, tables, view, selection],
  );
  return { drag, onPointerDownCapture };
}

/** Follows the hand until it lets go or Escape is pressed; gives what ends it early. */
function follow(
  s: SheetScene,
  held: { surface: Surface; settings: ReturnType<typeof settingsOf>; compared: Compared[]; madeFrom: MadeFrom | null },
  about: Omit<Drag, 'to' | 'change'>,
  pressed: { px: number; py: number },
  show: (drag: Drag | null) => void,
): () => void {
  const { from, vertex } = about;
  const work = sheetWork();
  const ready = work.hold(held.surface, held.settings, held.compared, held.madeFrom);
  const metres = s.metresAt(from);
  let [last, asking, over]: [Drag | null, boolean, boolean] = [null, false, false];
  const ask = async (): Promise<void> => {
    if (asking || !last) return;
    asking = true;
    await ready;
    const asked = last;
    const change = await work.changeHeld({ kind: 'move', vertices: [vertex], by: shiftOf(asked) });
    asking = false;
    if (over) return;
    // The newest place of the hand counts; what was asked meanwhile is shown at its own.
    show({ ...asked, change });
    if (last !== asked) void ask();
  };
  const move = (e: globalThis.PointerEvent): void => {
    const box = s.element.getBoundingClientRect();
    const [dx, dy] = [s.onFirst(e.clientX - box.left) - pressed.px, e.clientY - box.top - pressed.py];
    if (!last && Math.hypot(dx, dy) < STEP) return;
    const to = s.isSpatial
      ? { ...from, z: from.z - dy * metres.up }
      : { x: from.x + dx * metres.plan, y: from.y - dy * metres.plan, z: from.z };
    last = { ...about, to: rounded(to, from), change: null };
    void ask();
  };
  const end = (): void => {
    over = true;
    window.removeEventListener('pointermove', move);
    window.removeEventListener('pointerup', up);
    useProject.setState({ dragged: null });
    void work.letGo();
    show(null);
  };
  const up = (): void => {
    const done = last;
    end();
    if (!done) return;
    const by = shiftOf(done);
    const row: SurfaceRow = { id: crypto.randomUUID().slice(0, 13), on: true, kind: 'move', points: [about.key], by };
    void useProject.getState().propose('move a point', { op: 'surface.row', surface: about.surface, row });
  };
  window.addEventListener('pointermove', move);
  window.addEventListener('pointerup', up);
  useProject.setState({ dragged: end });
  return end;
}

export const shiftOf = ({ from, to }: Drag): Place => ({ x: to.x - from.x, y: to.y - from.y, z: to.z - from.z });

/** Shifts to the millimetre: finer ones nobody means. */
const rounded = (to: Drag['to'], from: Drag['from']): Drag['to'] => {
  const by = (a: number, b: number): number => b + Math.round((a - b) * 1000) / 1000;
  return { x: by(to.x, from.x), y: by(to.y, from.y), z: by(to.z, from.z) };
};
