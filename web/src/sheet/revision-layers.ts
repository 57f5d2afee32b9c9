import { GROUND } from '#core/project';
import type { Object3D } from 'three';
import type { ProjectState } from '#contract';
import type { Tables } from '../project/tables.ts';
import { ringCourse } from './extent.ts';
import { contourLayer, courseLayer, lineLayer, pointLayer, tintLayer, triangleLayer } from './layers.ts';
import { ORDER, type SheetScene } from './scene.ts';

/**
 * A layer that a revision has: its name, how it is made, where it stands in the order of drawing, and what it hangs on;
 * while that stays the layer is not made again.
 */
export type LayerMaker = [
  name: string,
  make: () => Object3D | null | Promise<Object3D | null>,
  order: number,
  hangsOn: string,
];

/** What a revision puts on the sheet, the quickest first. */
export function layersOf(
  tables: Tables,
  state: ProjectState | null,
  s: SheetScene,
  sets: ReadonlyMap<string, Uint8Array> | null,
  byFile: boolean,
): LayerMaker[] {
  const ground = tables.surfaces.get('Ground');
  const boundary = state?.document.boundary;
  const measures = tables.summary.surfaces.find((g) => g.name === GROUND)!;
  const { stages } = tables;
  const doc = state?.document;
  const look = doc ? JSON.stringify([doc.codeList.codes, doc.drawing.layers]) : '';
  const named = doc ? JSON.stringify([doc.pointSets, sets ? [...sets.keys()] : null]) : '';
  const surface = stages.surfaces.Ground ?? '';
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
    ['contours', () => contourLayer(tables.contours, s.origin), ORDER.contours, stages.contours],
    [
      'triangles',
      () => (ground ? triangleLayer(ground, tables.sides, measures.planArea, s.origin) : null),
      ORDER.triangles,
      surface,
    ],
    [
      'tints',
      () => (ground ? tintLayer(ground, measures.lowest, measures.highest, s.origin) : null),
      ORDER.tints,
      surface,
    ],
    [
      'boundary',
      () => (boundary ? courseLayer([ringCourse(boundary, s.meanElevation + s.origin.z)], s.origin, 'pine', 2) : null),
      ORDER.marks,
      `${JSON.stringify(boundary ?? null)} ${surface}`,
    ],
  ];
}
