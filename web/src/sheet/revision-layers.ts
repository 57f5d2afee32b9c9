import { Group, type Object3D } from 'three';
import { boundaryOf, groundOf } from '#core/project';
import type { Surface } from '#core/terrain';
import type { ProjectState } from '#contract';
import { sheetWork } from '../work/workers.ts';
import type { Tables } from '../project-state/tables.ts';
import { ringCourse } from './extent.ts';
import {
  contourLayer,
  courseLayer,
  differenceLayer,
  lineLayer,
  pointLayer,
  tintLayer,
  triangleLayer,
} from './layers.ts';
import { ORDER, type SheetScene } from './scene.ts';
import { rangeOfTints } from './tint-legend.tsx';
import { surfaceLook } from './surfaces-shown.tsx';
import { underlayKey, underlayLayer, underlaysShown } from './underlay.ts';

/**
 * A layer that a revision has: its name, how it is made, where it stands in the order of drawing, and what it depends on;
 * while that stays the layer is not made again.
 */
export type LayerMaker = [
  name: string,
  make: () => Object3D | null | Promise<Object3D | null>,
  order: number,
  hangsOn: string,
];

/** What a revision puts on the drawing, the quickest first. */
export function layersOf(
  tables: Tables,
  state: ProjectState | null,
  s: SheetScene,
  sets: ReadonlyMap<string, Uint8Array> | null,
  byFile: boolean,
  /** Surfaces that are drawn, by id. */
  shown: readonly string[],
  /** Whether water is drawn. */
  flow: boolean,
): LayerMaker[] {
  const { stages } = tables;
  const doc = state?.document;
  const look = doc ? JSON.stringify([doc.codeList.codes, doc.drawing.layers]) : '';
  const named = doc ? JSON.stringify([doc.pointSets, sets ? [...sets.keys()] : null]) : '';
  const surface = shown.map((id) => `${id} ${stages.surfaces[id] ?? ''}`).join(' ');
  /** What is made of each surface that is drawn, together. */
  const all = (make: (id: string) => Object3D | null): Object3D | null => {
    const made = shown.flatMap((id) => {
      const o = make(id);
      if (o) o.userData.surface = id;
      return o ?? [];
    });
    if (made.length < 2) return made[0] ?? null;
    const group = new Group().add(...made);
    const finest = made.flatMap((m) => (m.userData.finest as number | undefined) ?? []);
    if (finest.length) group.userData.finest = Math.min(...finest);
    return group;
  };
  const measures = new Map(tables.summary.surfaces.map((m) => [m.id, m]));
  const range = rangeOfTints(tables.summary, shown);
  const rings = doc ? doc.surfaces.filter((r) => shown.includes(r.id)).flatMap((r) => [boundaryOf(r) ?? []]) : [];
  const boundaries = rings.filter((r) => r.length > 0);
  const order = doc ? [groundOf(doc).id, ...doc.surfaces.map((r) => r.id)].join(' ') : '';
  return [
    [
      'points',
      () => (state ? pointLayer(tables, state.document, s.origin, sets, byFile) : null),
      ORDER.points,
      `${stages.points} ${stages.lines} ${look} ${named} ${byFile}`,
    ],
    [
      'lines',
      () => (state ? lineLayer(tables, state.document, s.origin) : null),
      ORDER.lines,
      `${stages.lines} ${stages.points} ${look}`,
    ],
    [
      'underlay',
      () => (doc ? underlayLayer(underlaysShown(tables, doc), s.origin, s.meanElevation) : null),
      ORDER.underlay,
      doc ? underlayKey(tables, doc, (id) => tables.underlays.has(id)) : '',
    ],
    [
      'contours',
      () =>
        all((id) => {
          const { ink, style } = doc ? surfaceLook(doc, id) : { ink: 'brass' as const, style: 'solid' as const };
          return contourLayer(tables.contours.get(id) ?? [], s.origin, ink, style);
        }),
      ORDER.contours,
      shown.map((id) => `${id} ${stages.contours[id] ?? ''}`).join(' ') + order,
    ],
    [
      'triangles',
      () =>
        all((id) => {
          const one = tables.surfaces.get(id);
          const sides = tables.sides.get(id);
          return one && sides ? triangleLayer(one, sides, measures.get(id)?.planArea ?? 0, s.origin) : null;
        }),
      ORDER.triangles,
      surface,
    ],
    [
      'tints',
      () =>
        all((id) => {
          const one = tables.surfaces.get(id);
          if (!one || !range) return null;
          s.tintRange = range;
          return tintLayer(one, range.lowest, range.highest, s.origin);
        }),
      ORDER.tints,
      surface,
    ],
    [
      'flow',
      async () => {
        const one = flow && shown[0] ? tables.surfaces.get(shown[0]) : undefined;
        return one && one.triangles.length ? flowLayer(one, s) : null;
      },
      ORDER.contours,
      `${flow} ${shown[0]} ${stages.surfaces[shown[0]] ?? ''}`,
    ],
    [
      'boundary',
      () =>
        courseLayer(
          boundaries.map((ring) => ringCourse([...ring], s.meanElevation + s.origin.z)),
          s.origin,
          'pine',
          2,
        ),
      ORDER.marks,
      `${JSON.stringify(boundaries)} ${surface}`,
    ],
  ];
}

/** Lines along which water runs and the water that stands, worked out beside the page. */
async function flowLayer(surface: Surface, s: SheetScene): Promise<Object3D | null> {
  const { lines, water } = await sheetWork().flow(surface);
  const made = [
    courseLayer(
      lines.map((l) => [...l]),
      s.origin,
      'lake',
      1.3,
    ),
    differenceLayer(water, s.origin, () => s.origin.z + s.meanElevation),
  ].flatMap((o) => o ?? []);
  return made.length ? new Group().add(...made) : null;
}
