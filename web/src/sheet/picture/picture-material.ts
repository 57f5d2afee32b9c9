import * as THREE from 'three';
import type { Part } from '../../work/picture/opened.ts';
import { shiftedBy, type PictureSize, type Projective } from '#core/pictures';

/** How a picture is laid and seen: `matrix` from pixels to metres, `origin` that of the scene. */
export interface LaidPicture extends PictureSize {
  matrix: Readonly<Projective>;
  opacity: number;
  brightness: number;
}

export type PictureMesh = THREE.Mesh<THREE.BufferGeometry, THREE.ShaderMaterial>;

/**
 * A picture as one rectangle. Its corners are given to the graphics card with the weight of their projection, so that a
 * slanted one is drawn exactly and not in patches.
 */
export function pictureObject(texture: THREE.Texture): PictureMesh {
  const material = new THREE.ShaderMaterial({
    uniforms: {
      map: { value: texture },
      laid: { value: new THREE.Matrix3() },
      opacity: { value: 1 },
      brightness: { value: 0 },
      // Left out where a finer part is drawn: west, north, east, south of it in the unit square.
      finer: { value: new THREE.Vector4(0, 0, 0, 0) },
    },
    // Drawn first, below what is not seen through either: the package would put what is transparent above that.
    blending: THREE.CustomBlending,
    // What is under the canvas never shines through.
    blendSrcAlpha: THREE.OneFactor,
    blendDstAlpha: THREE.OneMinusSrcAlphaFactor,
    depthWrite: false,
    side: THREE.DoubleSide,
    vertexShader: `
      uniform mat3 laid;
      varying vec2 at;
      void main() {
        at = position.xy;
        vec3 p = laid * vec3(position.xy, 1.0);
        gl_Position = projectionMatrix * modelViewMatrix * vec4(p.xy, 0.0, p.z);
      }`,
    fragmentShader: `
      uniform sampler2D map;
      uniform float opacity, brightness;
      uniform vec4 finer;
      varying vec2 at;
      void main() {
        if (at.x > finer.x && at.y > finer.y && at.x < finer.z && at.y < finer.w) discard;
        vec4 seen = texture2D(map, at);
        vec3 c = brightness > 0.0 ? mix(seen.rgb, vec3(1.0), brightness) : seen.rgb * (1.0 + brightness);
        gl_FragColor = vec4(c, seen.a * opacity);
      }`,
  });
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(Float32Array.of(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0), 3));
  geometry.setIndex([0, 1, 2, 0, 2, 3]);
  return new THREE.Mesh(geometry, material);
}

/** Lays a picture anew, and sets how it is seen. */
export function layPicture(
  { material }: PictureMesh,
  { matrix, width, height, opacity, brightness }: LaidPicture,
  origin: { x: number; y: number },
  part: Part = { column: 0, row: 0, width, height },
): void {
  const m = shiftedBy(matrix, origin.x, origin.y);
  // From the unit square to the part: columns are told in widths, rows in heights.
  const laid = [0, 3, 6].flatMap((i) => [m[i] * part.width, m[i + 1] * part.height, m[i] * part.column + m[i + 1] * part.row + m[i + 2]]); // prettier-ignore
  (material.uniforms.laid.value as THREE.Matrix3).set(...(laid as Projective));
  material.uniforms.opacity.value = opacity;
  material.uniforms.brightness.value = brightness;
}

/** Leaves a part of a picture to a finer one; null: draws it whole. */
export function leaveOut({ material }: PictureMesh, part: Part | null, { width, height }: PictureSize): void {
  const finer = material.uniforms.finer.value as THREE.Vector4;
  if (part)
    finer.set(part.column / width, part.row / height, (part.column + part.width) / width, (part.row + part.height) / height); // prettier-ignore
  else finer.set(0, 0, 0, 0);
}

/** A picture for the graphics card, its colours as they are stored. */
export function pictureTexture(bitmap: ImageBitmap): THREE.Texture {
  const texture = new THREE.Texture(bitmap);
  texture.flipY = false;
  texture.colorSpace = THREE.NoColorSpace;
  texture.minFilter = THREE.LinearMipmapLinearFilter;
  texture.anisotropy = 4;
  texture.needsUpdate = true;
  return texture;
}
