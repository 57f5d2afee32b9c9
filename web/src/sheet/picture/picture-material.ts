import * as THREE from 'three';
import { shiftedBy, type PictureSize, type Projective } from '#core/pictures';

/** How a picture is laid and seen: `matrix` from pixels to metres, `origin` that of the scene. */
export interface LaidPicture extends PictureSize {
  matrix: Readonly<Projective>;
  opacity: number;
  brightness: number;
}

/**
 * A picture as one rectangle. Its corners are given to the graphics card with the weight of their projection, so that a
 * slanted one is drawn exactly and not in patches.
 */
export function pictureObject(texture: THREE.Texture): THREE.Mesh<THREE.BufferGeometry, THREE.ShaderMaterial> {
  const material = new THREE.ShaderMaterial({
    uniforms: {
      map: { value: texture },
      laid: { value: new THREE.Matrix3() },
      opacity: { value: 1 },
      brightness: { value: 0 },
    },
    // Drawn first, below what is not seen through either: the package would put what is transparent above that.
    blending: THREE.CustomBlending,
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
      varying vec2 at;
      void main() {
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
  { material }: THREE.Mesh<THREE.BufferGeometry, THREE.ShaderMaterial>,
  { matrix, width, height, opacity, brightness }: LaidPicture,
  origin: { x: number; y: number },
): void {
  const m = shiftedBy(matrix, origin.x, origin.y);
  // From the unit square: columns are told in widths, rows in heights.
  const steps = [width, height, 1];
  (material.uniforms.laid.value as THREE.Matrix3).set(...(m.map((v, i) => v * steps[i % 3]) as Projective));
  material.uniforms.opacity.value = opacity;
  material.uniforms.brightness.value = brightness;
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
