import * as THREE from 'three';
import { strokePath, SYMBOLS, type Stroke } from '#core/codes';
import { COLOURS, type ColourName } from '../frame/colours.ts';
import { isNight } from '../frame/night.ts';
import { TINTED_SLOPES } from '#core/drawing';
import { LEVEL_SLOPE } from '#core/terrain';
import { ASPECT_TINTS, ELEVATION_TINTS, SLOPE_TINTS } from './ground-look.ts';

export const colour = (name: ColourName): THREE.Color => new THREE.Color(COLOURS[name][isNight() ? 1 : 0]);

/**
 * Tints of a surface by elevation (a ramp), by slope (steps) or by the way it falls (eight directions), shaded by the sun.
 * `stretch` is how many times as high as it is the surface is drawn; the slope told is its own.
 */
export function tintMaterial(): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    uniforms: {
      low: { value: 0 },
      high: { value: 1 },
      shade: { value: 0 },
      sun: { value: new THREE.Vector3(-0.5, 0.5, 0.7) },
      stretch: { value: 1 },
      tintedBy: { value: 0 },
      tints: { value: ELEVATION_TINTS.map(colour) },
      slopes: { value: SLOPE_TINTS.map(colour) },
      steps: { value: [...TINTED_SLOPES] },
      aspects: { value: ASPECT_TINTS.map(colour) },
      plain: { value: colour('leaf') },
    },
    side: THREE.DoubleSide,
    // A little behind the lines that lie on it, in 3D.
    polygonOffset: true,
    polygonOffsetFactor: 2,
    polygonOffsetUnits: 4,
    vertexShader: `
      varying float elevation;
      varying vec3 place;
      void main() {
        elevation = position.z;
        place = position;
        gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
      }`,
    fragmentShader: `
      uniform float low, high, shade, stretch;
      uniform int tintedBy;
      uniform vec3 sun, plain;
      uniform vec3 tints[5];
      uniform vec3 slopes[5];
      uniform float steps[4];
      uniform vec3 aspects[8];
      varying float elevation;
      varying vec3 place;
      vec3 ramp(float t) {
        float s = clamp(t, 0.0, 1.0) * 4.0;
        vec3 c = mix(tints[0], tints[1], clamp(s, 0.0, 1.0));
        c = mix(c, tints[2], clamp(s - 1.0, 0.0, 1.0));
        c = mix(c, tints[3], clamp(s - 2.0, 0.0, 1.0));
        return mix(c, tints[4], clamp(s - 3.0, 0.0, 1.0));
      }
      vec3 bySlope(float slope) {
        vec3 c = slopes[0];
        for (int i = 0; i < 4; i++) if (slope >= steps[i]) c = slopes[i + 1];
        return c;
      }
      vec3 byAspect(vec2 falls) {
        float eighth = mod(floor(atan(falls.x, falls.y) / 0.78539816 + 8.5), 8.0);
        vec3 c = aspects[0];
        for (int i = 1; i < 8; i++) if (int(eighth) == i) c = aspects[i];
        return c;
      }
      void main() {
        vec3 n = normalize(cross(dFdx(place), dFdy(place)));
        if (n.z < 0.0) n = -n;
        float slope = length(n.xy) / max(n.z, 1e-6);
        vec3 c = ramp((elevation - low) / max(high - low, 0.001));
        if (tintedBy == 1) c = bySlope(slope);
        if (tintedBy == 2) c = slope < ${LEVEL_SLOPE.toFixed(4)} ? plain : byAspect(n.xy);
        vec3 seen = normalize(vec3(n.xy * stretch, n.z));
        // Level ground keeps the tint that the legend shows.
        float light = clamp(1.0 + 0.8 * (dot(seen, sun) - sun.z), 0.3, 1.15);
        gl_FragColor = linearToOutputTexel(vec4(c * mix(1.0, light, shade), 1.0));
      }`,
  });
}

/** Cut and fill, told apart by the direction of their hatch as well as by hue. */
export function differenceMaterial(): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    uniforms: { cut: { value: colour('cut') }, fill: { value: colour('fill') }, deepest: { value: 1 } },
    transparent: true,
    depthWrite: false,
    side: THREE.DoubleSide,
    vertexShader: `
      attribute float difference;
      varying float d;
      void main() {
        d = difference;
        gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
      }`,
    fragmentShader: `
      uniform vec3 cut, fill;
      uniform float deepest;
      varying float d;
      void main() {
        float across = d > 0.0 ? gl_FragCoord.x + gl_FragCoord.y : gl_FragCoord.x - gl_FragCoord.y;
        float hatch = step(mod(across, 9.0), 1.6);
        float depth = clamp(abs(d) / deepest, 0.0, 1.0);
        gl_FragColor = linearToOutputTexel(vec4(d > 0.0 ? fill : cut, 0.10 + 0.30 * depth + 0.45 * hatch));
      }`,
  });
}

/** Shapes from here on are symbols of one's own, tiles of a square picture. */
export const OWN_SHAPES = 20;
const TILES = 8;
const TILE_PIXELS = 64;
/** Most symbols of one's own that a sheet tells apart; further ones are drawn as dots. */
export const MOST_OWN = TILES * TILES;

/** Symbols of one's own, each drawn into its tile; null without any. */
export function ownSymbols(list: readonly (readonly Stroke[])[]): THREE.Texture | null {
  if (list.length === 0) return null;
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = TILES * TILE_PIXELS;
  const context = canvas.getContext('2d')!;
  list.slice(0, MOST_OWN).forEach((strokes, i) => {
    const half = TILE_PIXELS / 2;
    context.setTransform(half * 0.94, 0, 0, half * 0.94, (i % TILES) * TILE_PIXELS + half, Math.floor(i / TILES) * TILE_PIXELS + half); // prettier-ignore
    context.lineWidth = 0.16;
    context.lineJoin = 'round';
    for (const stroke of strokes) {
      const path = new Path2D(strokePath(stroke));
      if (stroke.filled) context.fill(path);
      context.stroke(path);
    }
  });
  return new THREE.CanvasTexture(canvas);
}

/** All point symbols in one draw call: the shape is chosen by number in SYMBOLS. */
export function symbolMaterial(own: THREE.Texture | null = null): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    uniforms: { ratio: { value: 1 }, scale: { value: 1 }, own: { value: own } },
    transparent: true,
    depthTest: true,
    vertexShader: `
      attribute vec3 ink;
      attribute float shape, size, turn;
      uniform float ratio, scale;
      varying vec3 tint;
      varying float kind;
      varying vec2 turned;
      void main() {
        tint = ink;
        kind = shape;
        turned = vec2(cos(turn), sin(turn));
        gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
        gl_PointSize = shape > 90.0 ? 0.0 : (shape < 0.5 ? 7.0 : 15.0) * size * ratio * scale;
        // A point of a layer that is not shown stands outside all views.
        if (shape > 90.0) gl_Position = vec4(2.0, 2.0, 2.0, 1.0);
      }`,
    fragmentShader: `
      uniform sampler2D own;
      varying vec3 tint;
      varying float kind;
      varying vec2 turned;
      float box(vec2 p, float r) { return max(abs(p.x), abs(p.y)) - r; }
      float tri(vec2 p) { return max(max(-p.y - 0.55, p.y * 0.5 + p.x * 0.87 - 0.38), p.y * 0.5 - p.x * 0.87 - 0.38); }
      float outline(float d) { return abs(d) - 0.085; }
      void main() {
        vec2 p = vec2(gl_PointCoord.x, 1.0 - gl_PointCoord.y) * 2.0 - 1.0;
        p = vec2(p.x * turned.x - p.y * turned.y, p.x * turned.y + p.y * turned.x);
        int k = int(kind + 0.5);
        if (k >= ${OWN_SHAPES}) {
          if (max(abs(p.x), abs(p.y)) > 1.0) discard;
          int tile = k - ${OWN_SHAPES};
          vec2 cell = vec2(float(tile % ${TILES}), float(${TILES - 1} - tile / ${TILES}));
          float own_a = texture2D(own, (cell + p * 0.5 + 0.5) / ${TILES}.0).a;
          if (own_a < 0.05) discard;
          gl_FragColor = linearToOutputTexel(vec4(tint, own_a));
          return;
        }
        float d;
        // ${SYMBOLS.join(', ')}
        if (k == 0) d = min(max(abs(p.x) - 0.85, abs(p.y) - 0.13), max(abs(p.y) - 0.85, abs(p.x) - 0.13));
        else if (k == 1) d = min(max(abs(p.x + p.y) * 0.7 - 0.09, box(p, 0.6)), max(abs(p.x - p.y) * 0.7 - 0.09, box(p, 0.6)));
        else if (k == 2) d = outline(box(p, 0.5));
        else if (k == 3) d = outline(tri(p));
        else if (k == 4) d = outline((abs(p.x) + abs(p.y)) * 0.7 - 0.5);
        else if (k == 5) d = outline(length(p) - 0.55);
        else if (k == 6) { float a = atan(p.y, p.x); d = min(outline(length(p) - 0.66 - 0.1 * cos(a * 7.0)), length(p) - 0.13); }
        else if (k == 7) d = min(outline(length(p) - 0.62), max(outline(abs(p.x) * 0.0 + abs(p.y)), length(p) - 0.62));
        else if (k == 8) d = min(length(p) - 0.26, max(abs(p.x) - 0.08, abs(p.y) - 0.8));
        else d = min(outline(box(p, 0.55)), length(p) - 0.16);
        float edge = fwidth(d) + 0.02;
        float a = 1.0 - smoothstep(-edge, edge, d);
        if (a < 0.05) discard;
        gl_FragColor = linearToOutputTexel(vec4(tint, a));
      }`,
  });
}
