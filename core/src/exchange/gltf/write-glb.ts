import type { Surface } from '#core/terrain';

/**
 * A surface as binary glTF 2.0 (ISO/IEC 12113): one mesh, metres, y up, x east, z south, about its own south-west lowest corner,
 * which `asset.extras` tells as east, north and elevation.
 */
export function writeGlb(s: Surface, name: string): Uint8Array {
  const at = new Int32Array(s.x.length).fill(-1);
  const used: number[] = [];
  for (const v of s.triangles) if (at[v] < 0) at[v] = used.push(v) - 1;
  const least = (column: Float64Array): number => used.reduce((m, v) => Math.min(m, column[v]), Infinity);
  const origin = used.length ? [least(s.x), least(s.y), least(s.z)] : [0, 0, 0];
  const places = new Float32Array(3 * used.length);
  const [low, high] = [[Infinity, Infinity, Infinity], [-Infinity, -Infinity, -Infinity]]; // prettier-ignore
  used.forEach((v, i) => {
    places.set([s.x[v] - origin[0], s.z[v] - origin[2], -(s.y[v] - origin[1])], 3 * i);
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k], places[3 * i + k]);
      high[k] = Math.max(high[k], places[3 * i + k]);
    }
  });
  const indices = Uint32Array.from(s.triangles, (v) => at[v]);
  const json = {
    asset: { version: '2.0', generator: 'Dunrik', extras: { east: origin[0], north: origin[1], elevation: origin[2] } },
    scene: 0,
    scenes: [{ name, nodes: [0] }],
    nodes: [{ name, mesh: 0 }],
    meshes: [{ name, primitives: [{ attributes: { POSITION: 0 }, indices: 1, mode: 4, material: 0 }] }],
    materials: [{ name: 'ground', doubleSided: true, pbrMetallicRoughness: { baseColorFactor: [0.8, 0.76, 0.62, 1], metallicFactor: 0, roughnessFactor: 1 } }], // prettier-ignore
    accessors: [
      { bufferView: 0, componentType: 5126, count: used.length, type: 'VEC3', min: low, max: high },
      { bufferView: 1, componentType: 5125, count: indices.length, type: 'SCALAR' },
    ],
    bufferViews: [
      { buffer: 0, byteOffset: 0, byteLength: places.byteLength, target: 34962 },
      { buffer: 0, byteOffset: places.byteLength, byteLength: indices.byteLength, target: 34963 },
    ],
    buffers: [{ byteLength: places.byteLength + indices.byteLength }],
  };
  const text = new TextEncoder().encode(JSON.stringify(json));
  const padded = text.length + ((4 - (text.length % 4)) % 4);
  const binary = places.byteLength + indices.byteLength;
  const out = new Uint8Array(12 + 8 + padded + 8 + binary);
  const view = new DataView(out.buffer);
  const words = (at: number, ...list: number[]): void => list.forEach((v, i) => view.setUint32(at + 4 * i, v, true));
  words(0, 0x46546c67, 2, out.length, padded, 0x4e4f534a);
  out.set(text, 20);
  out.fill(0x20, 20 + text.length, 20 + padded);
  words(20 + padded, binary, 0x004e4942);
  out.set(new Uint8Array(places.buffer), 28 + padded);
  out.set(new Uint8Array(indices.buffer), 28 + padded + places.byteLength);
  return out;
}
