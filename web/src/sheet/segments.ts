import * as THREE from 'three';
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js';
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/examples/jsm/lines/LineSegmentsGeometry.js';
import type { LineStyle } from '#core/codes';
import type { ColourName } from '../frame/colours.ts';
import { colour } from './materials.ts';
import { inOrder, Tiled, tilesOf } from './tiles.ts';

const DASHES: Record<LineStyle, [dash: number, gap: number] | null> = {
  solid: null,
  dashed: [7, 5],
  dotted: [1.6, 4.4],
  'long-dashed': [14, 5],
  'dash-dot': [11, 7],
};

/**
 * Segments of a stated width in pixels: x, y, z of both ends one after another (m about the origin), in one ink or each
 * with colours of its own (r, g, b at both ends). Many of them come in tiles: every one takes the graphics eight
 * vertices, in view or not.
 */
export function wideLines(
  place: Float32Array,
  ink: ColourName | null,
  width: number,
  style: LineStyle,
  opacity = 1,
  colours?: Float32Array,
): THREE.Object3D {
  const dash = DASHES[style];
  const material = new LineMaterial({
    linewidth: width,
    transparent: true,
    opacity,
    vertexColors: colours !== undefined,
    ...(dash ? { dashed: true, dashSize: dash[0], gapSize: dash[1] } : {}),
  });
  if (ink) material.color = colour(ink);
  // Dashes run on from segment to segment of a line, whatever the tiles.
  const along = dash && distancesAlong(place);
  const parted = tilesOf(place);
  if (!parted) return new LineSegments2(geometryOf(place, colours, along), material);
  const { order, tiles } = parted;
  const whole = geometryOf(inOrder(place, order), colours && inOrder(colours, order), along && inOrder(along, order));
  return new Tiled(
    new LineSegments2(whole, material),
    tiles.map(({ from, count, box }) => ({ box, object: new LineSegments2(partOf(whole, from, count), material) })),
  );
}

function geometryOf(
  place: Float32Array,
  colours: Float32Array | undefined,
  along: Float32Array | null,
): LineSegmentsGeometry {
  const geometry = new LineSegmentsGeometry();
  // Not by setPositions: it works out how far they reach, which nobody asks.
  setPair(geometry, ['instanceStart', 'instanceEnd'], place, 3);
  if (colours) setPair(geometry, ['instanceColorStart', 'instanceColorEnd'], colours, 3);
  if (along) setPair(geometry, ['instanceDistanceStart', 'instanceDistanceEnd'], along, 1);
  geometry.instanceCount = place.length / 6;
  return geometry;
}

/** Values of both ends of each segment, one behind the other. */
function setPair(
  geometry: LineSegmentsGeometry,
  [start, end]: [string, string],
  values: Float32Array,
  size: number,
): void {
  // prettier-ignore
  const buffer = new THREE.InstancedInterleavedBuffer(values, 2 * size, 1);
  geometry.setAttribute(start, new THREE.InterleavedBufferAttribute(buffer, size, 0));
  geometry.setAttribute(end, new THREE.InterleavedBufferAttribute(buffer, size, size));
}

/** Where each segment begins and ends along all of them, m. */
function distancesAlong(place: Float32Array): Float32Array {
  const out = new Float32Array(place.length / 3);
  let run = 0;
  for (let i = 0; i < place.length / 6; i++) {
    const at = 6 * i;
    out[2 * i] = run;
    run += Math.hypot(place[at + 3] - place[at], place[at + 4] - place[at + 1], place[at + 5] - place[at + 2]);
    out[2 * i + 1] = run;
  }
  return out;
}

/** Some of the segments of a geometry, from the same buffers. */
function partOf(whole: LineSegmentsGeometry, from: number, count: number): LineSegmentsGeometry {
  const part = new LineSegmentsGeometry();
  for (const [name, attribute] of Object.entries(whole.attributes)) {
    if (!(attribute instanceof THREE.InterleavedBufferAttribute)) continue;
    const { data, itemSize, offset } = attribute;
    part.setAttribute(name, new THREE.InterleavedBufferAttribute(data, itemSize, offset + from * data.stride));
  }
  part.instanceCount = count;
  return part;
}

/** Segments one pixel wide, x, y, z of both ends one after another (m about the origin); many of them come in tiles. */
export function thinLines(place: Float32Array, ink: ColourName, opacity: number): THREE.Object3D {
  const material = new THREE.LineBasicMaterial({ color: colour(ink), transparent: true, opacity });
  const parted = tilesOf(place);
  const position = new THREE.BufferAttribute(parted ? inOrder(place, parted.order) : place, 3);
  const lines = (): THREE.LineSegments =>
    new THREE.LineSegments(new THREE.BufferGeometry().setAttribute('position', position), material);
  if (!parted) return lines();
  const tiles = parted.tiles.map(({ from, count, box }) => {
    const object = lines();
    object.geometry.setDrawRange(2 * from, 2 * count);
    return { box, object };
  });
  return new Tiled(lines(), tiles);
}
