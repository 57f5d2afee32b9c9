import * as THREE from 'three';
import { contourLayer, markLayer, tintLayer, triangleLayer, wideLayer, differenceLayer } from './layers.ts';
import type { Surface } from '#core/terrain';

const TINY: Surface = {
  x: Float64Array.of(0, 1, 0),
  y: Float64Array.of(0, 0, 1),
  z: Float64Array.of(0, 0, 0),
  triangles: Uint32Array.of(0, 1, 2),
  neighbours: Int32Array.of(-1, -1, -1),
  breakSides: new Uint8Array(3),
  point: new Uint32Array(3),
};

/**
 * One small object for every way of drawing that the sheet has. Compiled once beside the page and kept,
 * they spare the page from waiting for a shader when the first real layer comes.
 */
export function warmObjects(): THREE.Group {
  const origin = { x: 0, y: 0, z: 0 };
  const line = Float64Array.of(0, 0, 1, 1);
  const group = new THREE.Group();
  for (const object of [
    tintLayer(TINY, 0, 1, origin),
    triangleLayer(TINY, Uint32Array.of(0, 1), 1, origin),
    markLayer([0, 0], origin, 'ink', 'dot'),
    differenceLayer(Float64Array.of(0, 0, 1, 1, 0, 1, 0, 1, 1), origin, () => 0),
    contourLayer(
      [
        { elevation: 0, index: false, closed: false, line },
        { elevation: 0, index: true, closed: false, line },
      ],
      origin,
    ),
    ...wideLayer(),
  ])
    if (object) group.add(object);
  return group;
}
