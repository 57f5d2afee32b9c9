import * as THREE from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { Frames } from './frames.ts';
import { colour } from './materials.ts';
import { warmObjects } from './warm.ts';
import type { Place } from './place.ts';
import { isInTheClear, takenByCard, whereToShow } from './room.ts';
import type { SheetViewed } from './view.ts';
import { TINTED_BY } from '#core/project';
import { FIRST_LOOK, towardsSun, type GroundLook } from './ground-look.ts';
import { onFirst, showSurfaces, sidesOf, type Side } from './sides.ts';
import { Tiled } from './tiles.ts';

/** Draw order in plan: what stands later covers what stands earlier. */
export const ORDER = {
  tints: 0,
  underlay: 0.5,
  difference: 1,
  triangles: 2,
  contours: 3,
  lines: 4,
  points: 5,
  marks: 6,
} as const;

/** Sides shorter than this on the screen are not drawn, CSS pixels. */
const FEWEST_PIXELS = 5;

/** How many times the thinnest margin of a fit is left free around what is shown. */
const FIT_MARGIN = 1.08;

/** What the second side of the drawing shows: a surface, and how it is seen. */
export interface SecondSide {
  surface: string;
  look: GroundLook;
}

/**
 * One scene, two cameras: plan (orthographic, north up) and 3D. Draws only when something changed.
 * Everything in it is relative to a local origin, so that 32-bit numbers keep millimetres.
 */
export class SheetScene {
  readonly root = new THREE.Group();
  readonly origin: Place = { x: 0, y: 0, z: 0 };
  private readonly scene = new THREE.Scene();
  private readonly renderer: THREE.WebGLRenderer;
  private readonly plan = new THREE.OrthographicCamera(-1, 1, 1, -1, -1e6, 1e6);
  private readonly space = new THREE.PerspectiveCamera(40, 1, 0.1, 1e5);
  private readonly orbit: OrbitControls;
  /** What of the canvas is seen: it holds the canvas, cuts it, and takes the pointer. */
  private readonly pane: HTMLElement;
  private readonly layers = new Map<string, THREE.Object3D>();
  private readonly hidden = new Set<string>();
  private readonly warm: THREE.Group;
  private readonly frames: Frames;
  private spatial = false;
  /** Metres in one CSS pixel in plan, and what lies in the middle, relative to the origin. */
  private metresPerPixel = 0.2;
  private centre = { x: 0, y: 0 };
  /** CSS pixels of one side: of the whole drawing where there is one. */
  private size = { width: 1, height: 1 };
  private whole = { width: 1, height: 1 };
  /** Surfaces that the first side shows, and what the second shows, where there is one. */
  private first: readonly string[] | null = null;
  private second: SecondSide | null = null;
  /** CSS pixels of the canvas. */
  private buffer = { width: 1, height: 1 };
  private waitingFit: [number, number, number, number, boolean] | null = null;
  readonly drawn = { calls: 0, scriptMilliseconds: 0 };
  onDrawn: () => void = () => {};

  /** Throws Error where WebGL is not to be had. */
  constructor(private readonly canvas: HTMLCanvasElement) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true });
    this.renderer.setPixelRatio(window.devicePixelRatio);
    this.frames = new Frames(this.renderer.getContext() as WebGL2RenderingContext, () => this.drawNow());
    // Asking whether a shader compiled makes the page wait for it.
    this.renderer.debug.checkShaderErrors = false;
    this.scene.add(this.root);
    this.plan.up.set(0, 1, 0);
    this.space.up.set(0, 0, 1);
    this.pane = canvas.parentElement!;
    this.orbit = new OrbitControls(this.space, this.pane);
    this.orbit.enabled = false;
    this.orbit.addEventListener('change', () => this.draw());
    // Drawn once, while there is nothing else: a program's first use asks for what it is, and waits for all before it.
    this.warm = warmObjects();
    this.warm.traverse((o) => (o.frustumCulled = false));
    this.ready = this.renderer.compileAsync(this.warm, this.plan).then(() => {
      this.renderer.render(this.warm, this.plan);
      this.frames.afterPaint();
    });
    this.recolour();
  }

  /** Resolves once every way of drawing is compiled; layers that come before make the page wait. */
  readonly ready: Promise<void>;

  recolour(): void {
    this.renderer.setClearColor(colour('leaf'), 1);
    this.frames.afterPaint();
  }

  resize(width: number, height: number): void {
    if (width < 1 || height < 1) return;
    // What is opened below covers the lower edge; the rest stays where it was.
    if (this.whole.height > 1) this.centre.y += ((this.whole.height - height) / 2) * this.metresPerPixel;
    this.whole = { width, height };
    this.size = { width: this.sides[0].width, height };
    const waiting = this.waitingFit;
    this.waitingFit = null;
    if (waiting) this.fit(...waiting);
    this.makeRoom();
    this.space.aspect = this.size.width / height;
    this.space.updateProjectionMatrix();
    this.draw();
  }

  /** Parts the drawing in two that move together, or makes it one again. */
  setSides(first: readonly string[], second: SecondSide | null): void {
    const parts = (this.second === null) !== (second === null);
    this.first = first;
    this.second = second;
    if (parts && this.whole.width > 1) {
      // What was in view from side to side still is.
      const before = this.size.width;
      this.resize(this.whole.width, this.whole.height);
      this.metresPerPixel *= before / this.size.width;
    }
    this.frames.afterPaint();
  }

  get sides(): Side[] {
    return sidesOf(this.whole.width, this.second !== null);
  }

  /** A pixel of the canvas as if it were on the first side. */
  onFirst = (px: number): number => onFirst(this.sides, px);

  /**
   * The canvas has the size of the window and grows with it alone: another size of it makes the page wait for all that is
   * being drawn, so that a sheet that is made wider draws into another part of it instead.
   */
  private makeRoom(): void {
    const ratio = window.devicePixelRatio;
    const width = Math.max(this.whole.width, this.buffer.width, window.innerWidth);
    const height = Math.max(this.whole.height, this.buffer.height, window.innerHeight);
    if (width === this.buffer.width && height === this.buffer.height && ratio === this.renderer.getPixelRatio()) return;
    this.buffer = { width, height };
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(width, height);
  }

  /** Puts an object in the place of the one that had this name; null takes it away. */
  setLayer(name: string, object: THREE.Object3D | null, order: number): void {
    const before = this.layers.get(name);
    if (!before && !object) return;
    if (before) {
      this.root.remove(before);
      before.traverse((o) => {
        if ('geometry' in o) (o.geometry as THREE.BufferGeometry).dispose();
        if ('material' in o) (o.material as THREE.Material).dispose();
      });
      this.layers.delete(name);
    }
    if (object) {
      object.traverse((o) => {
        o.renderOrder = order;
        o.frustumCulled = false;
        // Nothing is culled and the order is given: how far hundreds of thousands of vertices reach is not asked.
        if ('geometry' in o) (o.geometry as THREE.BufferGeometry).boundingSphere ??= new THREE.Sphere();
      });
      this.layers.set(name, object);
      this.root.add(object);
    }
    this.frames.afterPaint();
  }

  /** Puts a layer above or below others. */
  setLayerOrder(name: string, order: number): void {
    this.layers.get(name)?.traverse((o) => (o.renderOrder = order));
    this.frames.afterPaint();
  }

  layer = (name: string): THREE.Object3D | undefined => this.layers.get(name);

  showLayer(name: string, visible: boolean): void {
    if (visible !== this.hidden.has(name)) return;
    if (visible) this.hidden.delete(name);
    else this.hidden.add(name);
    this.frames.afterPaint();
  }

  setSpatial(spatial: boolean): void {
    if (spatial === this.spatial) return;
    this.spatial = spatial;
    this.orbit.enabled = spatial;
    if (spatial) this.lookFromSouth();
    this.frames.afterPaint();
  }

  get isSpatial(): boolean {
    return this.spatial;
  }

  /** The 3D view begins over what the plan showed, from the south and above. */
  private lookFromSouth(): void {
    const reach = this.metresPerPixel * Math.min(this.size.width, this.size.height);
    const z = this.meanElevation * this.groundLook.stretch;
    this.orbit.target.set(this.centre.x, this.centre.y, z);
    this.space.position.set(this.centre.x - 0.22 * reach, this.centre.y - 1.35 * reach, z + 0.75 * reach);
    this.space.near = Math.max(0.1, reach / 1000);
    this.space.far = reach * 100;
    this.space.updateProjectionMatrix();
    this.orbit.update();
  }

  get viewed(): SheetViewed {
    const o = this.origin;
    if (!this.spatial)
      return { kind: 'plan', x: o.x + this.centre.x, y: o.y + this.centre.y, scale: this.metresPerPixel };
    // Heights without the stretch, which whoever opens the address chooses for himself.
    const [from, at] = [this.space.position, this.orbit.target].map(({ x, y, z }): [number, number, number] => [o.x + x, o.y + y, o.z + z / this.stretch]); // prettier-ignore
    return { kind: '3d', from, at };
  }

  /** Shows what was shown before, plan or 3D. */
  look(view: SheetViewed): void {
    const o = this.origin;
    this.waitingFit = null;
    if (view.kind === 'plan') {
      this.setSpatial(false);
      this.centre = { x: view.x - o.x, y: view.y - o.y };
      this.metresPerPixel = view.scale;
    } else {
      this.setSpatial(true);
      const [from, at] = [view.from, view.at].map(([x, y, z]) => new THREE.Vector3(x - o.x, y - o.y, (z - o.z) * this.stretch)); // prettier-ignore
      const reach = Math.max(from.distanceTo(at), 0.5);
      this.space.position.copy(from);
      this.orbit.target.copy(at);
      this.space.near = Math.max(0.1, reach / 1000);
      this.space.far = reach * 100;
      this.space.updateProjectionMatrix();
      this.orbit.update();
    }
    this.frames.afterPaint();
  }

  meanElevation = 0;
  /** Elevations from which to which tints run now, m. */
  tintRange: { lowest: number; highest: number } | null = null;
  private groundLook: GroundLook = FIRST_LOOK;

  /** How surfaces are tinted and lit, and how high they are drawn in 3D. */
  setGroundLook(look: GroundLook): void {
    const times = look.stretch / this.groundLook.stretch;
    this.groundLook = look;
    if (this.spatial && times !== 1) {
      // What is looked at stays in the middle.
      const up = this.orbit.target.z * (times - 1);
      this.orbit.target.z += up;
      this.space.position.z += up;
      this.orbit.update();
    }
    this.frames.afterPaint();
  }

  /** How many times as high as it is everything is drawn now. */
  private get stretch(): number {
    return this.spatial ? this.groundLook.stretch : 1;
  }

  /** Shows an extent (project coordinates) whole, beside the card where there will be one. */
  fit(minX: number, minY: number, maxX: number, maxY: number, beside = false): void {
    // Before the canvas has a size there is nothing to fit into.
    if (this.size.width <= 1) {
      this.waitingFit = [minX, minY, maxX, maxY, beside];
      return;
    }
    const width = Math.max(maxX - minX, 0.5);
    const height = Math.max(maxY - minY, 0.5);
    const taken = beside ? takenByCard(this.size) : 0;
    this.metresPerPixel =
      Math.max(width / (this.size.width - taken), height / Math.max(40, this.size.height - 40)) * FIT_MARGIN;
    this.centre = {
      x: (minX + maxX) / 2 - this.origin.x + (taken / 2) * this.metresPerPixel,
      y: (minY + maxY) / 2 - this.origin.y,
    };
    if (this.spatial) this.lookFromSouth();
    this.frames.afterPaint();
  }

  /** Brings a place into view, clear of its card, keeping a scale at which it can be read. */
  show(x: number, y: number): void {
    const at = this.toScreen({ x, y, z: this.origin.z + this.meanElevation });
    if (isInTheClear(at, this.size) && this.metresPerPixel < 0.3) return;
    this.metresPerPixel = Math.min(this.metresPerPixel, 0.12);
    const to = whereToShow(at, this.size);
    this.centre = {
      x: x - this.origin.x + (this.size.width / 2 - to.x) * this.metresPerPixel,
      y: y - this.origin.y - (this.size.height / 2 - to.y) * this.metresPerPixel,
    };
    if (this.spatial) {
      this.orbit.target.set(x - this.origin.x, y - this.origin.y, this.meanElevation * this.stretch);
      this.orbit.update();
    }
    this.frames.afterPaint();
  }

  pan(dx: number, dy: number): void {
    this.centre.x -= dx * this.metresPerPixel;
    this.centre.y += dy * this.metresPerPixel;
    this.draw();
  }

  /** Zooms in plan by a factor about a place on the canvas. */
  zoom(factor: number, px: number, py: number): void {
    const before = this.toPlan(px, py);
    this.metresPerPixel = Math.min(1e5, Math.max(0.0005, this.metresPerPixel * factor));
    const after = this.toPlan(px, py);
    this.centre.x += before.x - after.x;
    this.centre.y += before.y - after.y;
    this.draw();
  }

  get scale(): number {
    return this.metresPerPixel;
  }

  /** The project's place under a canvas pixel, in plan. */
  toPlan(px: number, py: number): { x: number; y: number } {
    return {
      x: this.origin.x + this.centre.x + (this.onFirst(px) - this.size.width / 2) * this.metresPerPixel,
      y: this.origin.y + this.centre.y - (py - this.size.height / 2) * this.metresPerPixel,
    };
  }

  /** How far one pixel of the screen goes at a place, m: in plan, and upwards as it is drawn in 3D. */
  metresAt(p: Place): { plan: number; up: number } {
    if (!this.spatial) return { plan: this.metresPerPixel, up: this.metresPerPixel };
    const [low, high] = [this.toScreen(p), this.toScreen({ ...p, z: p.z + 1 })];
    return { plan: this.metresPerPixel, up: 1 / Math.max(1e-3, Math.hypot(high.x - low.x, high.y - low.y)) };
  }

  private readonly scratch = new THREE.Vector3();

  /** Where a project's place stands on the canvas, CSS pixels. */
  toScreen(p: Place): { x: number; y: number; behind: boolean } {
    if (!this.spatial)
      return {
        x: (p.x - this.origin.x - this.centre.x) / this.metresPerPixel + this.size.width / 2,
        y: this.size.height / 2 - (p.y - this.origin.y - this.centre.y) / this.metresPerPixel,
        behind: false,
      };
    const v = this.scratch
      .set(p.x - this.origin.x, p.y - this.origin.y, (p.z - this.origin.z) * this.stretch)
      .project(this.space);
    return { x: ((v.x + 1) / 2) * this.size.width, y: ((1 - v.y) / 2) * this.size.height, behind: v.z > 1 };
  }

  /** Plan extent that is in view, project coordinates. */
  view(): [number, number, number, number] {
    const a = this.toPlan(0, this.size.height);
    const b = this.toPlan(this.size.width, 0);
    return [a.x, a.y, b.x, b.y];
  }

  /** With the page's next frame: a hand moves the drawing. */
  draw = (): void => this.frames.next();

  private drawNow(): void {
    const start = performance.now();
    this.render();
    this.onDrawn();
    this.drawn.calls = this.renderer.info.render.calls;
    this.drawn.scriptMilliseconds = performance.now() - start;
    // For measuring from outside.
    this.canvas.dataset.calls = String(this.drawn.calls);
    this.canvas.dataset.script = this.drawn.scriptMilliseconds.toFixed(2);
  }

  private render(): void {
    const { width, height } = this.size;
    const m = this.metresPerPixel;
    this.plan.left = (-width / 2) * m;
    this.plan.right = (width / 2) * m;
    this.plan.top = (height / 2) * m;
    this.plan.bottom = (-height / 2) * m;
    this.plan.position.set(this.centre.x, this.centre.y, 1000);
    this.plan.updateProjectionMatrix();
    this.root.scale.z = this.stretch;
    this.renderer.setScissorTest(true);
    this.sides.forEach((side, i) => this.renderSide(side, i === 1 ? this.second : null));
  }

  private renderSide({ left, width }: Side, second: SecondSide | null): void {
    const { height } = this.size;
    const m = this.metresPerPixel;
    const bottom = this.buffer.height - height;
    this.renderer.setViewport(left, bottom, width, height);
    this.renderer.setScissor(left, bottom, width, height);
    for (const [name, layer] of this.layers) {
      const finest = layer.userData.finest as number | undefined;
      layer.visible = !this.hidden.has(name) && (finest === undefined || this.spatial || finest > FEWEST_PIXELS * m);
      showSurfaces(layer, second ? [second.surface] : this.first);
    }
    const camera = this.spatial ? this.space : this.plan;
    const inView = this.takenInBy(camera);
    this.root.traverse((o) => {
      if (o instanceof Tiled) o.showIn(inView);
      if (!('material' in o)) return;
      const material = o.material as THREE.Material & {
        resolution?: THREE.Vector2;
        dashScale?: number;
        uniforms?: Record<string, THREE.IUniform>;
      };
      // In plan the order of drawing decides, not elevation.
      material.depthTest = this.spatial;
      if (material.resolution) material.resolution.set(width, height);
      if (material.uniforms?.ratio) material.uniforms.ratio.value = window.devicePixelRatio;
      if (material.uniforms?.tintedBy) this.tint(material.uniforms, second?.look ?? this.groundLook);
      if (material.dashScale !== undefined) material.dashScale = 1 / (this.spatial ? 0.15 : m);
    });
    this.renderer.render(this.scene, camera);
  }

  /** What of the layers a camera takes in, in their own coordinates. */
  private takenInBy(camera: THREE.Camera): THREE.Frustum {
    camera.updateMatrixWorld();
    this.root.updateMatrixWorld();
    const seen = new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
    return new THREE.Frustum().setFromProjectionMatrix(seen.multiply(this.root.matrixWorld));
  }

  private tint(uniforms: Record<string, THREE.IUniform>, { tintedBy, shaded, sun }: GroundLook): void {
    uniforms.shade.value = this.spatial || shaded ? 1 : 0;
    uniforms.tintedBy.value = TINTED_BY.indexOf(tintedBy);
    uniforms.stretch.value = this.stretch;
    (uniforms.sun.value as THREE.Vector3).set(...towardsSun(sun));
  }

  get element(): HTMLElement {
    return this.pane;
  }

  dispose(): void {
    this.frames.stop();
    this.orbit.dispose();
    for (const name of [...this.layers.keys()]) this.setLayer(name, null, 0);
    this.renderer.dispose();
  }
}
