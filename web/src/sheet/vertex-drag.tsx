import { Box } from '@chakra-ui/react';
import { useCallback, useEffect, useRef, useState, type PointerEvent, type RefObject } from 'react';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { contourSettings, pointKey } from '#core/stages';
import type { ProjectDocument, SurfaceRow } from '#core/project';
import { ofTriangles, type Surface } from '#core/terrain';
import { formatVolume, VOLUME_SIGN } from '../frame/volume-text.ts';
import { Num } from '../frame/controls.tsx';
import { useCanChange } from '../project-state/can.ts';
import { useParts, useProject } from '../project-state/store.ts';
import type { Tables } from '../project-state/tables.ts';
import type { Compared, LiveChange } from '../work/live-edit.ts';
import { sheetWork } from '../work/workers.ts';
import { contourLayer, courseLayer, markLayer, tintLayer } from './layers.ts';
import { ORDER, type SheetScene } from './scene.ts';
import { surfaceLook, useSurfacesShown } from './surfaces-shown.tsx';

/** How near the hand must come to the selected point to take it, CSS pixels. */
const REACH = 10;
/** Less than this is a click, CSS pixels. */
const STEP = 4;

interface Drag {
  surface: string;
  vertex: number;
  key: string;
  from: { x: number; y: number; z: number };
  to: { x: number; y: number; z: number };
  change: LiveChange | null;
}

/**
 * On the ground, the point that is selected is dragged: in plan to another place, in 3D up and down. Triangles, contours
 * and volumes follow the hand; where it lets go, the change is proposed.
 */
export function useVertexDrag(scene: RefObject<SheetScene | null>, on: boolean) {
  const { state, tables, selection, busy, traced, pending } = useParts('state', 'tables', 'selection', 'busy', 'traced', 'pending'); // prettier-ignore
  const view = useSurfacesShown();
  const may = useCanChange() && on && !busy && !traced && !pending;
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
      const [px, py] = [e.clientX - box.left, e.clientY - box.top];
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
        },
        about,
        { px, py },
        (next) => {
          // prettier-ignore
          setDrag(next);
          paint(s, state.document, tables, next);
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
  held: { surface: Surface; settings: ReturnType<typeof contourSettings>; compared: Compared[] },
  about: Omit<Drag, 'to' | 'change'>,
  pressed: { px: number; py: number },
  show: (drag: Drag | null) => void,
): () => void {
  const { from, vertex } = about;
  const work = sheetWork();
  const ready = work.hold(held.surface, held.settings, held.compared);
  const metres = s.metresAt(from);
  let [last, asking, over]: [Drag | null, boolean, boolean] = [null, false, false];
  const ask = async (): Promise<void> => {
    if (asking || !last) return;
    asking = true;
    await ready;
    const asked = last;
    const change = await work.moveHeld(vertex, asked.to.x, asked.to.y, asked.to.z);
    asking = false;
    if (over) return;
    // The newest place of the hand counts; what was asked meanwhile is shown at its own.
    show({ ...asked, change });
    if (last !== asked) void ask();
  };
  const move = (e: globalThis.PointerEvent): void => {
    const box = s.element.getBoundingClientRect();
    const [dx, dy] = [e.clientX - box.left - pressed.px, e.clientY - box.top - pressed.py];
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
    const { to } = done;
    const by = { x: to.x - from.x, y: to.y - from.y, z: to.z - from.z };
    const row: SurfaceRow = { id: crypto.randomUUID().slice(0, 13), on: true, kind: 'move', points: [about.key], by };
    void useProject.getState().propose('move a point', { op: 'surface.row', surface: about.surface, row });
  };
  window.addEventListener('pointermove', move);
  window.addEventListener('pointerup', up);
  useProject.setState({ dragged: end });
  return end;
}

/** Shifts to the millimetre: finer ones nobody means. */
const rounded = (to: Drag['to'], from: Drag['from']): Drag['to'] => {
  const by = (a: number, b: number): number => b + Math.round((a - b) * 1000) / 1000;
  return { x: by(to.x, from.x), y: by(to.y, from.y), z: by(to.z, from.z) };
};

const settingsOf = (doc: ProjectDocument, surface: string) => contourSettings(doc, doc.surfaces.find((r) => r.id === surface)!); // prettier-ignore

/** Comparisons that a surface has part in, with what it is compared with. */
function comparedWith(doc: ProjectDocument, tables: Tables, surface: string): Compared[] {
  return doc.comparisons.flatMap((c): Compared[] => {
    const { name, within } = c;
    const other = 'surface' in c.against ? c.against.surface : null;
    if (c.surface === surface && !other) return 'level' in c.against ? [{ name, ground: true, against: { level: c.against.level }, within }] : []; // prettier-ignore
    const of = c.surface === surface ? other : other === surface ? c.surface : null;
    const against = of ? tables.surfaces.get(of) : undefined;
    return against ? [{ name, ground: c.surface === surface, against: { surface: against }, within }] : [];
  });
}

/** Puts what changed over the drawing; null takes it away. */
function paint(s: SheetScene, doc: ProjectDocument, tables: Tables, drag: Drag | null): void {
  const measures = tables.summary.surfaces.find((m) => m.id === drag?.surface);
  const made = drag?.change?.made;
  const n = made ? made.length / 3 : 0;
  const part = made && n ? ofTriangles(made) : null;
  s.setLayer('live-tints', part && measures ? tintLayer(part, measures.lowest, measures.highest, s.origin) : null, ORDER.contours + 0.1); // prettier-ignore
  const sides = made ? Array.from({ length: n / 3 }, (_, t) => [...made.subarray(9 * t, 9 * t + 9), ...made.subarray(9 * t, 9 * t + 3)]) : []; // prettier-ignore
  s.setLayer('live-triangles', courseLayer(sides, s.origin, 'slate', 1), ORDER.contours + 0.2);
  const look = drag ? surfaceLook(doc, drag.surface) : null;
  s.setLayer('live-contours', look && drag?.change ? contourLayer(drag.change.contours, s.origin, look.ink, look.style) : null, ORDER.contours + 0.3); // prettier-ignore
  s.setLayer('live-point', drag ? markLayer([drag.to.x, drag.to.y], s.origin, 'pine', 'square', drag.to.z - s.origin.z) : null, ORDER.marks); // prettier-ignore
}

/** What the hand has moved so far, in figures. */
export function DragReading({ drag }: { drag: Drag | null }) {
  const { state } = useParts('state');
  if (!drag || !state) return null;
  const { settings } = state.document;
  const { unit } = settings;
  const signed = (m: number): string => `${m < 0 ? '−' : '+'}${formatLength(Math.abs(m), unit)}`;
  const { from, to, change } = drag;
  const plan = [`E ${signed(to.x - from.x)}`, `N ${signed(to.y - from.y)}`];
  if (settings.order === 'NE') plan.reverse();
  const volume = (v: number): string =>
    `${v < 0 ? '−' : '+'}${formatVolume(Math.abs(v), settings)} ${VOLUME_SIGN[settings.volumeUnit]}`;
  return (
    <Box
      role="status"
      position="absolute"
      left="50%"
      bottom="14px"
      transform="translateX(-50%)"
      bg="leaf"
      border="1px solid"
      borderColor="pine"
      borderRadius="4px"
      px="12px"
      py="6px"
      zIndex="6"
      fontSize="13px"
      pointerEvents="none"
      width="max-content"
      maxWidth="calc(100% - 20px)"
    >
      <Num>{`${plan.join('  ')}  elevation ${signed(to.z - from.z)} ${UNIT_SIGN[unit]}`}</Num>
      {change ? (
        <Box color="slate">
          {`under the surface ${volume(change.volume)}`}
          {change.compared
            .filter((c) => Math.abs(c.cut) > 1e-6 || Math.abs(c.fill) > 1e-6)
            .map((c) => (
              <Box key={c.name}>{`${c.name}: cut ${volume(c.cut)}, fill ${volume(c.fill)}`}</Box>
            ))}
        </Box>
      ) : (
        <Box color="slate">what this changes is computed when you let go</Box>
      )}
    </Box>
  );
}
