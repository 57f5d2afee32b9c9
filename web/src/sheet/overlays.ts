import type { SheetViewed } from './view.ts';
import { useRef, useEffect, useState, type RefObject } from 'react';
import { heldAt, type Snapped } from '../project-state/snap.ts';
import { coursesOfChange } from '../project-state/line-edit.ts';
import { useParts, useProject } from '../project-state/store.ts';
import { proposedIn } from '#core/project';
import { ringCourse } from './extent.ts';
import { courseLayer, coursesOf, differenceLayer, markLayer, sideLayer } from './layers.ts';
import { ORDER, type SheetScene } from './scene.ts';
import type { SelectionMarks } from './selection-marks.ts';
import { sightingsOf } from './sightings.ts';

/** Places of a file that is being looked at before it is taken in. */
export interface Visitors {
  x: Float64Array;
  y: Float64Array;
  /** Sides of its lines: x, y of both ends. */
  sides: Float64Array;
  /** What the sheet shows of them: without those far from all others. */
  near: [number, number, number, number] | null;
}

/** What stands over the drawing for the moment depends on the scene, on whether it is ready, and on the colours. */
export interface Over {
  scene: RefObject<SheetScene | null>;
  ready: string;
  colours: number;
}

/** The comparison that is selected, or the first one. */
function comparisonShown({ state, selection }: Pick<ReturnType<typeof useProject.getState>, 'state' | 'selection'>) {
  const comparisons = state?.document.comparisons ?? [];
  return selection?.kind === 'comparison' ? comparisons.find((c) => c.id === selection.id) : comparisons.at(0);
}

/** What lies between its two sides, or is painted in its place; null where nothing does, or nothing is computed yet. */
export function piecesShown(): Float64Array | null {
  const { state, tables, selection, sketch } = useProject.getState();
  return sketch?.pieces ?? tables?.pieces.get(comparisonShown({ state, selection })?.id ?? '') ?? null;
}

/** Cut and fill of the comparison that is shown, its boundary, its zones, and the line across which its sections stand. */
export function useDifference({ scene, ready, colours }: Over, shown: boolean): void {
  const { state, tables, selection, sketch } = useParts('state', 'tables', 'selection', 'sketch');
  const painted = sketch?.pieces;
  const comparison = comparisonShown({ state, selection });
  const id = comparison?.id;
  useEffect(() => {
    const s = scene.current;
    if (!s || !tables) return;
    const pieces = painted ?? (id ? tables.pieces.get(id) : undefined);
    const flat = s.origin.z + s.meanElevation;
    const at = sketch?.flat ? () => flat : (x: number, y: number): number => tables.ground.at(x, y)?.elevation ?? s.origin.z; // prettier-ignore
    s.setLayer('difference', pieces && shown ? differenceLayer(pieces, s.origin, at) : null, ORDER.difference);
    const figures = tables.summary.comparisons.find((c) => c.id === id);
    const toe = figures?.ok && figures.heap?.toe;
    // A heap's toe is drawn where it runs, a boundary at the usual elevation.
    const usual = (ring: number[]): number[] => ringCourse(ring, s.meanElevation + s.origin.z);
    const rims = toe ? [[...toe, toe[0]].flat()] : comparison?.within ? [usual(comparison.within)] : [];
    const proposed = comparison && state ? proposedIn(state.document, comparison) : null;
    const areas = [...(proposed?.rows ?? []), ...(comparison?.zones ?? [])];
    for (const area of areas)
      if ('course' in area) rims.push(area.course.flatMap(({ x, y, z }) => [x, y, z]));
      else if (area.ring) rims.push(usual(area.ring));
    if (comparison?.along) rims.push(spatialCourse(comparison.along, s.meanElevation + s.origin.z));
    s.setLayer('within', rims.length && shown ? courseLayer(rims, s.origin, 'plum', 2) : null, ORDER.marks);
  }, [scene, tables, id, comparison, shown, colours, ready, state, painted, sketch?.flat]);
}

/** What is selected. How many times as large its ellipses are drawn is told; 0 without any. */
export function useSelectionMarks(
  { scene, ready, colours }: Over,
  show: (marks: SelectionMarks) => void,
  tellEllipses: (times: number) => void,
): void {
  const { state, tables, selection } = useParts('state', 'tables', 'selection');
  useEffect(() => {
    const s = scene.current;
    if (!s || !tables) return;
    const rings: number[] = [];
    const courses: number[][] = [];
    const { points, linework } = tables;
    const course = (key: string): void => {
      const line = linework.lines.find((l) => l.key === key);
      if (line) courses.push(...coursesOf(line, points.z, 0.01));
    };
    if (selection?.kind === 'point' && selection.row < points.x.length)
      rings.push(points.x[selection.row], points.y[selection.row]);
    if (selection?.kind === 'line') course(selection.key);
    if (selection?.kind === 'query') {
      const query = tables.summary.queries.find((q) => q.key === selection.key);
      for (const row of query?.rows ?? []) rings.push(points.x[row], points.y[row]);
      for (const key of query?.lines ?? []) course(key);
      if (query?.place && rings.length === 0) rings.push(query.place.x, query.place.y);
    }
    const seen = sightingsOf(selection, tables, state?.document ?? { intakes: [] }, s.meanElevation + s.origin.z);
    show({
      courses: [
        ...seen.rays.map((places) => ({ places, ink: 'slate' as const, width: 1.2 })),
        ...seen.ellipses.map((places) => ({ places, ink: 'pine' as const, width: 1.4 })),
        ...courses.map((places) => ({ places, ink: 'pole' as const, width: 3.4 })),
      ],
      rings,
    });
    tellEllipses(seen.times);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the document comes with its tables
  }, [scene, show, tellEllipses, selection, tables, colours, ready]);
}

/** Where points would stand, and lines run, after a change that is only proposed. */
export function usePreviewMarks({ scene, ready }: Over): void {
  const { pending } = useParts('pending');
  useEffect(() => {
    const s = scene.current;
    if (!s) return;
    s.setLayer(
      'preview',
      pending?.places ? markLayer(pending.places, s.origin, 'pine', 'diamond', s.meanElevation) : null,
      ORDER.marks,
    );
    const z = s.meanElevation + s.origin.z;
    // Lines by hand at once; those that follow from the change as soon as they are computed.
    const drawn = pending ? coursesOfChange(pending.change) : [];
    const keys = new Set(drawn.map(({ line }) => line.key));
    const lines = [
      ...drawn.map(({ line }) => line),
      ...(pending?.preview?.lines ?? []).filter((l) => !keys.has(l.key)),
    ];
    s.setLayer(
      'preview-lines',
      courseLayer(
        lines.flatMap((line) =>
          coursesOf(
            line,
            line.x.map(() => z),
            0.01,
          ),
        ),
        s.origin,
        'pine',
        2.6,
      ),
      ORDER.marks,
    );
  }, [scene, pending, ready]);
}

/** What a fit would do: the points where it puts them, and its residuals drawn larger. */
export function useSketch({ scene, ready, colours }: Over): void {
  const { sketch } = useParts('sketch');
  useEffect(() => {
    const s = scene.current;
    if (!s) return;
    const z = s.meanElevation + s.origin.z;
    s.setLayer(
      'sketch',
      sketch ? markLayer(sketch.places, s.origin, 'pine', sketch.mark ?? 'dot', s.meanElevation) : null,
      ORDER.marks,
    );
    s.setLayer(
      'sketch-courses',
      courseLayer(
        (sketch?.courses ?? []).map((c) => spatialCourse(c, z)),
        s.origin,
        'plum',
        1.8,
      ),
      ORDER.marks,
    );
    s.setLayer(
      'sketch-arrows',
      sketch
        ? courseLayer(
            sketch.arrows.map(([x, y, u, v]) => [x, y, z, u, v, z]),
            s.origin,
            'pole',
            2.4,
          )
        : null,
      ORDER.marks,
    );
  }, [scene, sketch, colours, ready]);
}

/** How near the hand must come to be held, CSS pixels. */
export const SNAP_PIXELS = 10;
const HELD_MARK = { point: 'ring', end: 'square', crossing: 'cross', middle: 'triangle', nearest: 'diamond' } as const;

/** What somebody draws, up to the cursor; tells what holds the place under the hand. */
export function useTracedCourse(
  { scene, ready }: Over,
  drawnTo: { x: number; y: number } | null,
): Snapped['by'] | null {
  const { tables, traced } = useParts('tables', 'traced');
  const [held, setHeld] = useState<Snapped['by'] | null>(null);
  useEffect(() => {
    const s = scene.current;
    if (!s) return;
    const places = traced?.places ?? [];
    const z = s.meanElevation + s.origin.z;
    const course = places.flatMap((p) => [p.x, p.y, z]);
    const held =
      traced?.course && drawnTo && tables
        ? heldAt(traced.course, places, tables, drawnTo, SNAP_PIXELS * s.scale)
        : null;
    setHeld(held?.by ?? null);
    if (drawnTo && places.length) course.push(held?.x ?? drawnTo.x, held?.y ?? drawnTo.y, z);
    if (drawnTo && places.length && !traced?.course) course.push(places[0].x, places[0].y, z);
    s.setLayer(
      'held',
      held && held.by !== 'free'
        ? markLayer([held.x, held.y], s.origin, 'pole', HELD_MARK[held.by], s.meanElevation)
        : null,
      ORDER.marks,
    );
    s.setLayer('drawing', courseLayer([course], s.origin, 'pine', 2), ORDER.marks);
    s.setLayer(
      'drawing-points',
      markLayer(
        places.flatMap((p) => [p.x, p.y]),
        s.origin,
        'pine',
        'square',
        s.meanElevation,
      ),
      ORDER.marks,
    );
  }, [scene, traced, drawnTo, tables, ready]);
  return held;
}

/** Points of a file that is being looked at. */
export function useVisitors({ scene, ready }: Over, visitors: Visitors | null): void {
  const before = useRef<SheetViewed | null>(null);
  const shown = useRef<Visitors['near']>(null);
  useEffect(() => {
    const s = scene.current;
    if (!s) return;
    const { tables } = useProject.getState();
    if (visitors && !tables?.points.x.length && visitors.x.length)
      Object.assign(s.origin, { x: Math.round(visitors.near?.[0] ?? 0), y: Math.round(visitors.near?.[1] ?? 0) });
    const places = visitors ? interleave(visitors.x, visitors.y) : [];
    s.setLayer('visitors', markLayer(places, s.origin, 'pine', 'dot', s.meanElevation), ORDER.marks);
    s.setLayer('visiting lines', visitors ? sideLayer(visitors.sides, s.origin, 'pine', s.meanElevation + s.origin.z) : null, ORDER.marks); // prettier-ignore
    if (!visitors) shown.current = null;
    if (visitors?.near) {
      before.current ??= tables?.points.x.length ? s.viewed : null;
      // Another part of what is in view already moves nothing.
      if (!liesWithin(visitors.near, shown.current)) s.fit(...(shown.current = visitors.near));
    } else if (!visitors && before.current) {
      // The file has been looked at: the drawing shows what it showed.
      s.look(before.current);
      before.current = null;
    }
  }, [scene, visitors, ready]);
}

/** Whether a box lies in another, give or take half its size, and is not much smaller. */
function liesWithin([w, s, e, n]: NonNullable<Visitors['near']>, last: Visitors['near']): boolean {
  if (!last) return false;
  const more = Math.max(last[2] - last[0], last[3] - last[1]) / 2;
  const isIn = w >= last[0] - more && s >= last[1] - more && e <= last[2] + more && n <= last[3] + more;
  return isIn && Math.max(e - w, n - s) > more / 10;
}

const spatialCourse = (plan: readonly number[], z: number): number[] => plan.flatMap((v, i) => (i % 2 ? [v, z] : [v]));

const interleave = (x: Float64Array, y: Float64Array): Float64Array => {
  const out = new Float64Array(x.length * 2);
  for (let i = 0; i < x.length; i++) {
    out[2 * i] = x[i];
    out[2 * i + 1] = y[i];
  }
  return out;
};
