import * as THREE from 'three';
import { LINE_STYLES, SYMBOLS, type Code, type LineStyle, type Stroke } from '#core/codes';
import { CONTROL_LAYER, layerLooks } from '#core/drawing';
import { drawnPieces, elevationsAlong, layerOf, pointLayerOf, type Line } from '#core/linework';
import type { Contour, Surface } from '#core/terrain';
import { type ProjectDocument } from '#core/project';
import { STATE } from '#core/stages';
import type { ColourName } from '../frame/colours.ts';
import type { Tables } from '../project-state/tables.ts';
import { fileInks } from './file-key.tsx';
import {
  colour,
  differenceMaterial,
  MOST_OWN,
  OWN_SHAPES,
  ownSymbols,
  symbolMaterial,
  tintMaterial,
} from './materials.ts';
import type { Place } from './place.ts';
import { thinLines, wideLines } from './segments.ts';

// Each layer is one object, or a few, whatever the number of things in it.

const positions = (count: number): Float32Array => new Float32Array(count * 3);

/** A surface's vertices about the origin, shared by what is drawn of it. */
function verticesOf(s: Surface, origin: Place): THREE.BufferAttribute {
  const place = positions(s.x.length);
  for (let i = 0; i < s.x.length; i++) {
    place[3 * i] = s.x[i] - origin.x;
    place[3 * i + 1] = s.y[i] - origin.y;
    place[3 * i + 2] = s.z[i] - origin.z;
  }
  return new THREE.BufferAttribute(place, 3);
}

export function tintLayer(s: Surface, lowest: number, highest: number, origin: Place): THREE.Object3D | null {
  if (s.triangles.length === 0) return null;
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', verticesOf(s, origin));
  geometry.setIndex(new THREE.BufferAttribute(s.triangles, 1));
  const material = tintMaterial();
  material.uniforms.low.value = lowest - origin.z;
  material.uniforms.high.value = highest - origin.z;
  return new THREE.Mesh(geometry, material);
}

/** Triangle sides; `finest` on the object is the mean side, m: where that is a few pixels they would only grey the sheet. */
export function triangleLayer(s: Surface, sides: Uint32Array, planArea: number, origin: Place): THREE.Object3D | null {
  if (sides.length === 0) return null;
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', verticesOf(s, origin));
  geometry.setIndex(new THREE.BufferAttribute(sides, 1));
  const material = new THREE.LineBasicMaterial({ color: colour('slate'), transparent: true, opacity: 0.28 });
  const lines = new THREE.LineSegments(geometry, material);
  lines.userData.finest = Math.sqrt((2 * planArea) / (s.triangles.length / 3));
  return lines;
}

export function contourLayer(
  contours: readonly Contour[],
  origin: Place,
  ink: ColourName = 'brass',
  style: LineStyle = 'solid',
): THREE.Object3D | null {
  if (contours.length === 0) return null;
  const group = new THREE.Group();
  for (const index of [false, true]) {
    const list = contours.filter((c) => c.index === index);
    let segments = 0;
    for (const c of list) segments += c.line.length / 2 - 1;
    if (segments <= 0) continue;
    const place = positions(segments * 2);
    let at = 0;
    for (const c of list)
      for (let i = 0; i + 3 < c.line.length; i += 2)
        for (let k = 0; k < 4; k += 2) {
          place[at++] = c.line[i + k] - origin.x;
          place[at++] = c.line[i + k + 1] - origin.y;
          place[at++] = c.elevation - origin.z;
        }
    if (index) group.add(wideLines(place, ink, 1.5, style, 0.95));
    else group.add(thinLines(place, ink, 0.5));
  }
  return group;
}

/** The pieces of a line as drawn, arcs as fine chords: x, y, z, x, y, z … in project coordinates. */
export function coursesOf(line: Line, z: ArrayLike<number>, sagitta: number): number[][] {
  return drawnPieces(line, elevationsAlong(line, z) ?? line.x.map(() => 0), sagitta).map(({ places, closed }) => {
    if (closed) places.push(places[0], places[1], places[2]);
    return places;
  });
}

const LINES_A_TASK = 2000;

export async function lineLayer(tables: Tables, doc: ProjectDocument, origin: Place): Promise<THREE.Object3D | null> {
  const byCode = new Map<string, Code>(doc.codeList.codes.map((c) => [c.code.toUpperCase(), c]));
  const look = layerLooks(doc);
  const inks = new Map<string, THREE.Color>();
  const drawn = new Map(LINE_STYLES.map((style) => [style, { place: [] as number[], colours: [] as number[] }]));
  const { lines } = tables.linework;
  for (let at = 0; at < lines.length; at++) {
    // So many lines a task, so that the page answers meanwhile.
    if (at % LINES_A_TASK === LINES_A_TASK - 1) await new Promise((r) => setTimeout(r));
    const line = lines[at];
    const code = byCode.get(line.code);
    const on = look(layerOf(code));
    if (!on.visible) continue;
    const name = on.ink ?? code?.ink ?? 'pole';
    let ink = inks.get(name);
    if (!ink) inks.set(name, (ink = colour(name)));
    const { place, colours } = drawn.get(code?.style ?? 'solid')!;
    for (const course of coursesOf(line, tables.points.z, 0.01))
      for (let i = 0; i + 5 < course.length; i += 3)
        for (let k = 0; k < 6; k += 3) {
          place.push(course[i + k] - origin.x, course[i + k + 1] - origin.y, course[i + k + 2] - origin.z);
          colours.push(ink.r, ink.g, ink.b);
        }
  }
  const group = new THREE.Group();
  for (const [style, { place, colours }] of drawn)
    if (place.length) group.add(wideLines(Float32Array.from(place), null, 1.7, style, 1, Float32Array.from(colours)));
  return group.children.length ? group : null;
}

/** A short solid and a short dashed line with colours of their own, as lines are drawn. */
export function wideLayer(): THREE.Object3D[] {
  const place = Float32Array.of(0, 0, 0, 1, 1, 0);
  const colours = Float32Array.of(0, 0, 0, 0, 0, 0);
  return [wideLines(place, null, 1.7, 'solid', 1, colours), wideLines(place, null, 1.7, 'dashed', 1, colours)];
}

/** One line drawn heavily, for what is selected. */
export function courseLayer(
  courses: number[][],
  origin: Place,
  name: ColourName,
  width: number,
): THREE.Object3D | null {
  const place: number[] = [];
  for (const course of courses)
    for (let i = 0; i + 5 < course.length; i += 3)
      for (let k = 0; k < 6; k += 3)
        place.push(course[i + k] - origin.x, course[i + k + 1] - origin.y, course[i + k + 2] - origin.z);
  return place.length ? wideLines(Float32Array.from(place), name, width, 'solid') : null;
}

/** Sides in plan, x and y of both ends, at one elevation. */
export function sideLayer(
  sides: Float64Array,
  { x, y, z }: Place,
  name: ColourName,
  elevation: number,
): THREE.Object3D | null {
  const place = new Float32Array((sides.length / 2) * 3);
  for (let i = 0, at = 0; i < sides.length; i += 2) {
    place[at++] = sides[i] - x;
    place[at++] = sides[i + 1] - y;
    place[at++] = elevation - z;
  }
  return place.length ? wideLines(place, name, 1.7, 'solid') : null;
}

/** The shape of a point whose layer is not shown. */
const UNSEEN = 99;

/** Every point with its symbol; points left out are drawn as crosses in slate, waiting ones in brass. */
export function pointLayer(
  tables: Tables,
  doc: ProjectDocument,
  origin: Place,
  /** Members of the sets that are coloured or hidden, by their names. */
  sets: ReadonlyMap<string, Uint8Array> | null = null,
  /** An ink for each file, in the place of what codes and layers say. */
  byFile = false,
): THREE.Object3D | null {
  const { points, linework } = tables;
  const n = points.x.length;
  if (n === 0) return null;
  const shape = new Float32Array(n);
  const ink = new Float32Array(n * 3);
  const place = positions(n);
  const size = new Float32Array(n).fill(1);
  const turn = new Float32Array(n);
  const list = new Map<string, { shape: number; r: number; g: number; b: number; size: number; turn: number }>();
  const layerLook = layerLooks(doc);
  const own: (readonly Stroke[])[] = [];
  for (const c of doc.codeList.codes) {
    const on = layerLook(pointLayerOf(c));
    const { r, g, b } = colour(on.ink ?? c.ink);
    list.set(c.code.toUpperCase(), { shape: !on.visible ? UNSEEN : c.kind === 'point' ? shapeOf(c, own) : 0, r, g, b, size: Math.min(c.scale ?? 1, 4), turn: c.rotation ?? 0 }); // prettier-ignore
  }
  const controls = doc.intakes.map((intake) => intake.purpose === 'control');
  // Points without a code that the list knows are on a layer of their own, and control on its.
  const [uncoded, given] = [layerLook(pointLayerOf(undefined)), layerLook(CONTROL_LAYER)];
  const plain = colour(uncoded.ink ?? 'ink');
  const waiting = colour('brass');
  const left = colour('slate');
  const control = colour(given.ink ?? 'pine');
  for (let i = 0; i < n; i++) {
    place[3 * i] = points.x[i] - origin.x;
    place[3 * i + 1] = points.y[i] - origin.y;
    place[3 * i + 2] = Number.isNaN(points.z[i]) ? 0 : points.z[i] - origin.z;
    const state = points.state[i];
    const isControl = controls[points.intake[i]];
    const c = state === STATE.waits ? waiting : state !== STATE.used ? left : isControl ? control : plain;
    const seen = (isControl ? given : uncoded).visible;
    shape[i] = !seen ? UNSEEN : state !== STATE.used ? 1 : isControl ? 3 : 0;
    ink[3 * i] = c.r;
    ink[3 * i + 1] = c.g;
    ink[3 * i + 2] = c.b;
  }
  const unknown = colour(uncoded.ink ?? 'pole');
  const looks = linework.codeNames.map(
    (code) =>
      list.get(code) ?? {
        shape: uncoded.visible ? 4 : UNSEEN,
        r: unknown.r,
        g: unknown.g,
        b: unknown.b,
        size: 1,
        turn: 0,
      },
  );
  for (let i = 0; i < linework.pointRow.length; i++) {
    const row = linework.pointRow[i];
    const look = looks[linework.pointCode[i]];
    shape[row] = look.shape;
    ink[3 * row] = look.r;
    ink[3 * row + 1] = look.g;
    ink[3 * row + 2] = look.b;
    size[row] = look.size;
    turn[row] = look.turn;
  }
  if (byFile) {
    const inks = fileInks(doc).map((i) => i && colour(i));
    for (let i = 0; i < n; i++) {
      const c = inks[points.intake[i]];
      if (c) [ink[3 * i], ink[3 * i + 1], ink[3 * i + 2]] = [c.r, c.g, c.b];
    }
  }
  // Sets come last: what a person named and coloured is seen so.
  for (const set of doc.pointSets) {
    if (!set.ink && !set.hidden) continue;
    const members = sets?.get(set.id);
    if (members?.length !== n) continue;
    const { r, g, b } = colour(set.ink ?? 'ink');
    for (let row = 0; row < n; row++) {
      if (!members[row]) continue;
      if (set.hidden) shape[row] = UNSEEN;
      else [ink[3 * row], ink[3 * row + 1], ink[3 * row + 2]] = [r, g, b];
    }
  }
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(place, 3));
  geometry.setAttribute('shape', new THREE.BufferAttribute(shape, 1));
  geometry.setAttribute('ink', new THREE.BufferAttribute(ink, 3));
  for (let row = 0; row < n; row++) if (points.light[row]) size[row] = 0.5;
  sizeAndTurn(geometry, size, turn);
  return new THREE.Points(geometry, symbolMaterial(ownSymbols(own)));
}

/** The number of a code's symbol; a symbol of its own is added to those that are drawn into a picture. */
function shapeOf(code: Code, own: (readonly Stroke[])[]): number {
  if (!code.strokes) return SYMBOLS.indexOf(code.symbol);
  if (own.length >= MOST_OWN) return 0;
  return OWN_SHAPES + own.push(code.strokes) - 1;
}

function sizeAndTurn(geometry: THREE.BufferGeometry, size: Float32Array, turn: Float32Array): void {
  geometry.setAttribute('size', new THREE.BufferAttribute(size, 1));
  geometry.setAttribute('turn', new THREE.BufferAttribute(turn, 1));
}

/** Marks at places (x, y, x, y …), all alike. */
export function markLayer(
  places: ArrayLike<number>,
  origin: Place,
  name: ColourName,
  symbol: (typeof SYMBOLS)[number],
  elevation = 0,
): THREE.Object3D | null {
  const n = places.length / 2;
  if (n < 1) return null;
  const { r, g, b } = colour(name);
  const place = positions(n);
  const shape = new Float32Array(n).fill(SYMBOLS.indexOf(symbol));
  const ink = new Float32Array(n * 3);
  for (let i = 0; i < n; i++) {
    place[3 * i] = places[2 * i] - origin.x;
    place[3 * i + 1] = places[2 * i + 1] - origin.y;
    place[3 * i + 2] = elevation;
    ink[3 * i] = r;
    ink[3 * i + 1] = g;
    ink[3 * i + 2] = b;
  }
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(place, 3));
  geometry.setAttribute('shape', new THREE.BufferAttribute(shape, 1));
  geometry.setAttribute('ink', new THREE.BufferAttribute(ink, 3));
  sizeAndTurn(geometry, new Float32Array(n).fill(1), new Float32Array(n));
  return new THREE.Points(geometry, symbolMaterial());
}

/** Cut and fill as painted pieces: x, y, difference, three corners a piece. */
export function differenceLayer(
  pieces: Float64Array,
  origin: Place,
  elevationAt: (x: number, y: number) => number,
): THREE.Object3D | null {
  const n = pieces.length / 3;
  if (n === 0) return null;
  const place = positions(n);
  const difference = new Float32Array(n);
  let deepest = 0.05;
  for (let i = 0; i < n; i++) {
    place[3 * i] = pieces[3 * i] - origin.x;
    place[3 * i + 1] = pieces[3 * i + 1] - origin.y;
    place[3 * i + 2] = n < 60_000 ? elevationAt(pieces[3 * i], pieces[3 * i + 1]) - origin.z : 0;
    difference[i] = pieces[3 * i + 2];
    deepest = Math.max(deepest, Math.abs(difference[i]));
  }
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(place, 3));
  geometry.setAttribute('difference', new THREE.BufferAttribute(difference, 1));
  const material = differenceMaterial();
  material.uniforms.deepest.value = deepest;
  return new THREE.Mesh(geometry, material);
}
