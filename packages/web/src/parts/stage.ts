/** The model on its turntable: three.js, drawn only when something changed. Colours are shown as they are: no tone mapping. */
import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  CircleGeometry,
  Color,
  DoubleSide,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  Matrix4,
  MOUSE,
  NoToneMapping,
  OrthographicCamera,
  PerspectiveCamera,
  Plane,
  Raycaster,
  RingGeometry,
  Scene,
  SRGBColorSpace,
  Vector2,
  Vector3,
  WebGLRenderer,
  type Camera,
  type Intersection,
  type Material,
  type Texture,
} from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { PlateMesh } from '@wet-lacquer/core/plates/panel.ts';
import type { ModelLook } from '@wet-lacquer/core/surface/seenRegion.ts';
import { planeCut } from '@wet-lacquer/core/surface/symmetryPlane.ts';
import { seeEvenly } from './evenly.ts';
import { carriedByPointer, Lamps, type LightPreset } from './lamps.ts';
import { litMaterial, PLAIN_SURFACE, RIGS, type SurfaceTextures } from './lit.ts';
import { bySoftware, dimming } from './stageTextures.ts';
import { GUIDE_TONES } from './guideShapes.ts';
import { context2d } from './context2d.ts';
import { ART } from '../theme.ts';

export interface ModelSpot {
  sheet: string | null;
  /** Share of the sheet, 0..1, v down. */
  u: number;
  v: number;
  part: string;
  partKey: string;
  /** Metres of the model, and out of its surface at length 1. */
  position: [number, number, number];
  normal: [number, number, number];
  /** Of the mesh. */
  triangle: number;
}

/** A plate on the model: v down, in the model's metres. */
export interface StagePlate {
  id: string;
  mesh: Pick<PlateMesh, 'positions' | 'normals' | 'uvs' | 'indices'>;
  /** Key of a sheet, or a texture of its own. */
  wears: string | Texture;
}

const GROUND = '#808080';
/** What it stands on. */
const FLOOR = '#5c5c5c';
/** What is behind the model at night. */
const NIGHT = '#26282c';
/** What is left of what gives no light, of linear light. */
const IN_THE_DARK = 0.05;
const SPIN_DEGREES_A_SECOND = 14;
/** Where a model is looked at from at first, radians. */
const HOME = { heading: 0.75, elevation: 0.32 };
/** A turn to another view. */
const TURN_MS = 140;
/** Side of the pieces of a large picture, pixels. */
const PIECE = 2048;
/** Still for so long, it is at rest. */
const REST_MS = 220;

export class Stage {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(32, 1, 0.05, 200);
  private readonly even = new OrthographicCamera();
  /** Without perspective. */
  private parallel = false;
  /** The camera of a photo that it is looked through, and how wide that is by its height. */
  private through: { camera: PerspectiveCamera; fov: number; ratio: number } | null = null;
  /** What is before it is cut away. */
  private section: Plane | null = null;
  private readonly controls: OrbitControls;
  private readonly meshes: { mesh: Mesh; part: Template['parts'][number]; texture: Texture | null }[] = [];
  /** What stands on the model. */
  private stood: Mesh[] = [];
  /** What lies under tape, dimmed. */
  private dimmed: { mesh: Mesh; part: string }[] = [];
  private readonly marker: Mesh;
  /** How far the brush reaches. */
  private readonly ringed: Mesh;
  private readonly ray = new Raycaster();
  private seam: LineSegments | null = null;
  private readonly lamps = new Lamps();
  private lit: ReadonlySet<string> | null = null;
  private readonly floor = new MeshBasicMaterial({ color: FLOOR });
  private preset: LightPreset = 'Overcast';
  /** Whether a pointer with Alt carries the lamps round. */
  private lampsByHand = true;
  private readonly unheard: () => void;
  /** What is known of the sheets' surfaces; null: they are shown as plain paint. */
  private surfaces: ReadonlyMap<string, SurfaceTextures> | null = null;
  private drawing = 0;
  private spinning = 0;
  private turning = 0;
  private resting: ReturnType<typeof setTimeout> | undefined;
  private coarse = false;
  private back: string = ART.stage;
  private size = { width: 0, height: 0 };
  private room: ResizeObserver | null = null;
  private readonly centre: Vector3;
  /** Of the ball about the model, metres. */
  readonly radius: number;
  /** Metres. */
  private readonly tall: number;
  private readonly watchers = new Set<() => void>();

  constructor(
    canvas: HTMLCanvasElement,
    private readonly template: Template,
    private readonly textures: ReadonlyMap<string, Texture>,
    surround: string = ART.stage,
    /** Sheets whose clear texels are holes. */
    private readonly cuts: ReadonlySet<string> = new Set(),
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: !bySoftware(), powerPreference: 'low-power' });
    this.renderer.toneMapping = NoToneMapping;
    this.renderer.outputColorSpace = SRGBColorSpace;
    this.renderer.localClippingEnabled = true;
    this.back = surround;
    this.scene.background = new Color(surround);
    const { positions, normals, uvs, indices } = template.mesh;
    const position = new BufferAttribute(Float32Array.from(positions), 3);
    const normal = new BufferAttribute(Float32Array.from(normals), 3);
    const uv = new BufferAttribute(Float32Array.from(uvs), 2);
    for (const part of template.parts) {
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', position);
      geometry.setAttribute('normal', normal);
      geometry.setAttribute('uv', uv);
      geometry.setIndex(indices.slice(part.first * 3, (part.first + part.count) * 3));
      const mesh = new Mesh(geometry);
      this.scene.add(mesh);
      this.meshes.push({ mesh, part, texture: part.sheet ? (textures.get(part.sheet) ?? null) : null });
    }
    const whole = new BufferGeometry().setAttribute('position', position);
    whole.computeBoundingSphere();
    this.centre = whole.boundingSphere!.center.clone();
    this.radius = whole.boundingSphere!.radius;
    // As large as the model is: some are in centimetres, some in kilometres.
    this.camera.near = this.radius * 0.02;
    this.camera.far = this.radius * 20;
    this.camera.updateProjectionMatrix();
    whole.computeBoundingBox();
    this.tall = whole.boundingBox!.max.y - whole.boundingBox!.min.y;
    const disc = new Mesh(new CircleGeometry(this.radius * 1.05, 64), this.floor);
    disc.rotation.x = -Math.PI / 2;
    disc.position.set(this.centre.x, whole.boundingBox!.min.y - 0.01, this.centre.z);
    this.scene.add(disc);
    this.marker = new Mesh(
      new RingGeometry(this.radius * 0.012, this.radius * 0.019, 32),
      new MeshBasicMaterial({ color: '#3fb3a3', side: DoubleSide, depthTest: false, transparent: true }),
    );
    this.marker.renderOrder = 10;
    this.marker.visible = false;
    this.scene.add(this.marker);
    this.ringed = new Mesh(
      new RingGeometry(0.97, 1.03, 64),
      new MeshBasicMaterial({ color: '#ffffff', side: DoubleSide, depthTest: false, transparent: true, opacity: 0.85 }),
    );
    this.ringed.renderOrder = 10;
    this.ringed.visible = false;
    this.scene.add(this.ringed);
    // Before the controls hear of it: they would turn the model by it.
    this.unheard = carriedByPointer(
      canvas,
      () => this.lampsByHand,
      (by) => this.turnLight(by),
    );
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.target.copy(this.centre);
    // The middle button turns it whatever is in hand.
    this.controls.mouseButtons = { LEFT: MOUSE.ROTATE, MIDDLE: MOUSE.ROTATE, RIGHT: MOUSE.PAN };
    this.controls.minDistance = this.radius * 0.06;
    this.controls.maxDistance = this.radius * 8;
    this.controls.addEventListener('change', () => {
      this.turned();
      for (const told of this.watchers) told();
    });
    this.home();
    this.light('Overcast');
  }

  /** Tells whenever the view has changed. @returns what ends that */
  onMoved(told: () => void): () => void {
    this.watchers.add(told);
    return () => this.watchers.delete(told);
  }

  /** Draws the line along which the model's two sides meet, or none. */
  middle(shown: boolean): void {
    if (shown && !this.seam && this.template.plane) {
      const cut = planeCut(this.template, this.template.plane, this.radius * 0.002);
      const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(Float32Array.from(cut), 3));
      this.seam = new LineSegments(geometry, new LineBasicMaterial({ color: GUIDE_TONES.axis }));
      this.scene.add(this.seam);
    }
    if (!this.seam) return;
    this.seam.visible = shown;
    this.draw();
  }

  /** Looks at the model from where another stage looks at its own, which is of the same size. */
  lookAs(other: Stage): void {
    this.camera.position.copy(other.camera.position);
    this.controls.target.copy(other.controls.target);
    this.camera.lookAt(this.controls.target);
    this.lamps.carry(other.lamps.at - this.lamps.at);
    this.draw();
  }

  /** What is behind the model. */
  behind(colour: string): void {
    this.back = colour;
    this.scene.background = new Color(colour);
    this.draw();
  }

  /** Looks at the model from its starboard bow. */
  home(): void {
    const { heading, elevation } = HOME;
    const far = this.radius * 3.3;
    this.controls.target.copy(this.centre);
    this.camera.position.set(
      this.centre.x + Math.cos(heading) * Math.cos(elevation) * far,
      this.centre.y + Math.sin(elevation) * far,
      this.centre.z + Math.sin(heading) * Math.cos(elevation) * far,
    );
    this.controls.update();
    this.draw();
  }

  /** From where it is looked at now, as near as all of it can be seen; of a canvas that has no size yet, when it has one. */
  showWhole(): void {
    const { width, height } = this.size;
    if (width === 0) {
      const stop = this.onMoved(() => {
        if (this.size.width === 0) return;
        stop();
        this.showWhole();
      });
      return;
    }
    const { tan, atan, sin, cos } = Math;
    const upright = atan(tan((16 * Math.PI) / 180) / Math.min(1, width / height));
    const across = atan(tan(upright) * (width / height));
    const high = (this.tall / 2) * cos(HOME.elevation) + this.radius * sin(HOME.elevation);
    const far = Math.max(this.radius / sin(across), high / sin(upright));
    const arm = this.camera.position.clone().sub(this.controls.target).setLength(far);
    this.camera.position.copy(this.controls.target).add(arm);
    this.controls.update();
    this.draw();
  }

  /** Shows the sheets with their gloss, metal and normals, or null: as plain paint. */
  finish(surfaces: ReadonlyMap<string, SurfaceTextures> | null): void {
    this.surfaces = surfaces;
    this.light(this.preset);
  }

  /** Shows it in the dark: of all but these sheets little can be seen. Null: by day. */
  dark(lit: ReadonlySet<string> | null): void {
    if (lit === this.lit) return;
    this.lit = lit;
    this.light(this.preset);
  }

  /** A colour as it is, or what is left of it in the dark. */
  private inLight(sheet: string | null, colour: string): string {
    if (!this.lit || this.lit.has(sheet ?? '')) return colour;
    return `#${new Color(colour).multiplyScalar(IN_THE_DARK).getHexString()}`;
  }

  light(preset: LightPreset): void {
    this.preset = preset;
    this.scene.background = new Color(preset === 'Night quay' || this.lit ? NIGHT : this.back);
    this.floor.color.set(this.inLight(null, FLOOR));
    this.scene.remove(...this.lamps.plain);
    this.lamps.shine(preset);
    this.scene.add(...this.lamps.plain);
    for (const { mesh, part, texture } of this.meshes) {
      (mesh.material as MeshBasicMaterial).dispose();
      const look = {
        map: texture,
        color: this.inLight(part.sheet, texture ? '#ffffff' : (part.hex ?? GROUND)),
        side: DoubleSide,
        alphaTest: texture && this.cuts.has(part.sheet ?? '') ? 0.5 : 0,
      };
      if (preset === 'Unlit') mesh.material = new MeshBasicMaterial(look);
      else if (!this.surfaces) mesh.material = new MeshLambertMaterial(look);
      else
        mesh.material = litMaterial(
          RIGS[preset],
          look,
          this.surfaces.get(part.sheet ?? '') ?? PLAIN_SURFACE,
          this.lamps.from,
        );
      this.open(mesh.material as Material);
    }
    this.dressPlates();
    this.draw();
  }

  /** Carries the lamps round the model. @param by degrees, clockwise as seen from above */
  turnLight(by: number): void {
    this.lamps.carry(by);
    this.draw();
    for (const told of this.watchers) told();
  }

  /** Whether a pointer with Alt carries the lamps round, or means something else. */
  lightByHand(on: boolean): void {
    this.lampsByHand = on;
  }

  /** Shows plates on the model in place of those before: triangles of each, and what it wears. */
  plates(plates: readonly StagePlate[]): void {
    for (const mesh of this.stood) {
      mesh.geometry.dispose();
      (mesh.material as MeshBasicMaterial).dispose();
    }
    this.scene.remove(...this.stood);
    this.stood = plates.map(({ mesh: { positions, normals, uvs, indices }, wears, id }) => {
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(Float32Array.from(positions), 3));
      geometry.setAttribute('normal', new BufferAttribute(Float32Array.from(normals), 3));
      geometry.setAttribute('uv', new BufferAttribute(Float32Array.from(uvs), 2));
      geometry.setIndex([...indices]);
      const mesh = new Mesh(geometry);
      mesh.userData = { wears, id };
      // What lies behind is there already; of two plates the one behind is drawn first.
      mesh.renderOrder = 1;
      return mesh;
    });
    if (this.stood.length > 0) this.scene.add(...this.stood);
    this.dressPlates();
    this.draw();
  }

  private open(material: Material): void {
    material.clippingPlanes = this.section && [this.section];
  }

  private dressPlates(): void {
    for (const mesh of this.stood) {
      const wears = mesh.userData.wears as string | Texture;
      const map = typeof wears === 'string' ? (this.textures.get(wears) ?? null) : wears;
      (mesh.material as MeshBasicMaterial).dispose();
      const look = {
        map,
        color: this.inLight(typeof wears === 'string' ? wears : null, map ? '#ffffff' : GROUND),
        transparent: true,
        depthWrite: false,
        visible: map !== null,
      };
      mesh.material = this.preset === 'Unlit' ? new MeshBasicMaterial(look) : new MeshLambertMaterial(look);
      this.open(mesh.material);
    }
  }

  /** The plate at a point of the canvas, -1..1 with y up, unless the model is before it; null: there is none. */
  plateAt(x: number, y: number): string | null {
    this.aim(x, y);
    const plate = this.ray.intersectObjects(this.stood, false).find(this.stands);
    if (!plate) return null;
    const model = this.hit();
    return model && model.distance < plate.distance ? null : (plate.object.userData.id as string);
  }

  spin(on: boolean): void {
    cancelAnimationFrame(this.spinning);
    this.spinning = 0;
    if (!on) return;
    let last = performance.now();
    const turn = (now: number) => {
      this.orbit((SPIN_DEGREES_A_SECOND * Math.min(now - last, 200)) / 1000, 0);
      last = now;
      this.spinning = requestAnimationFrame(turn);
    };
    this.spinning = requestAnimationFrame(turn);
  }

  /** Turns the model by degrees. */
  orbit(aside: number, up: number): void {
    const arm = this.camera.position.clone().sub(this.controls.target);
    arm.applyAxisAngle(new Vector3(0, 1, 0), (aside * Math.PI) / 180);
    const across = new Vector3(0, 1, 0).cross(arm).normalize();
    const lifted = arm.clone().applyAxisAngle(across, (-up * Math.PI) / 180);
    if (Math.abs(lifted.clone().normalize().y) < 0.98) arm.copy(lifted);
    this.camera.position.copy(this.controls.target).add(arm);
    this.controls.update();
    this.turned();
  }

  zoom(factor: number): void {
    const arm = this.camera.position.clone().sub(this.controls.target).multiplyScalar(factor);
    this.camera.position.copy(this.controls.target).add(arm);
    this.controls.update();
    this.draw();
  }

  resize(width: number, height: number): void {
    this.size = { width, height };
    this.coarse = false;
    this.renderer.setPixelRatio(Math.min(2, devicePixelRatio));
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    // A narrow view sees as much to the sides as a square one.
    this.camera.fov = (2 * Math.atan(Math.tan((16 * Math.PI) / 180) / Math.min(1, this.camera.aspect)) * 180) / Math.PI;
    this.camera.updateProjectionMatrix();
    this.draw();
    for (const told of this.watchers) told();
  }

  /** Is as large as what its canvas stands in, from now on. */
  fill(): void {
    this.room = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      if (width > 1 && height > 1) this.resize(width, height);
    });
    this.room.observe(this.renderer.domElement.parentElement!);
  }

  /** What is under a pointer. */
  spotUnder(pointer: { clientX: number; clientY: number }): ModelSpot | null {
    return this.spotAt(...this.under(pointer));
  }

  /** The plate under a pointer; see plateAt. */
  plateUnder(pointer: { clientX: number; clientY: number }): string | null {
    return this.plateAt(...this.under(pointer));
  }

  private under({ clientX, clientY }: { clientX: number; clientY: number }): [x: number, y: number] {
    const { left, top, width, height } = this.renderer.domElement.getBoundingClientRect();
    return [((clientX - left) / width) * 2 - 1, 1 - ((clientY - top) / height) * 2];
  }

  /** What is at a point of the canvas, -1..1 with y up. */
  spotAt(x: number, y: number): ModelSpot | null {
    this.aim(x, y);
    const hit = this.hit();
    if (!hit?.uv) return null;
    const { part } = this.meshes.find((m) => m.mesh === hit.object)!;
    const out = hit.normal ?? hit.face!.normal;
    return {
      ...{ sheet: part.sheet, u: hit.uv.x, v: hit.uv.y, part: part.name, partKey: part.key },
      ...{ position: hit.point.toArray(), normal: out.toArray(), triangle: part.first + (hit.faceIndex ?? 0) },
    };
  }

  private aim(x: number, y: number): void {
    this.ray.setFromCamera(new Vector2(x, y), this.seeing());
  }

  /** Whether something that a ray meets is not cut away. */
  private readonly stands = ({ point }: Intersection): boolean =>
    this.section === null || this.section.distanceToPoint(point) >= 0;

  /** What of the model a ray meets first, of what is shown of it. */
  private hit(): Intersection | undefined {
    const shown = this.meshes.flatMap(({ mesh }) => (mesh.visible ? [mesh] : []));
    return this.ray.intersectObjects(shown, false).find(this.stands);
  }

  /** What it is seen with. */
  private seeing(): PerspectiveCamera | OrthographicCamera {
    if (this.through) {
      const { camera, fov, ratio } = this.through;
      // The photo is as large as the canvas holds; the camera sees as much more as the canvas is larger.
      const { width, height } = this.size;
      const more = Math.max(1, (height * ratio) / Math.max(1, width));
      camera.aspect = width / Math.max(1, height);
      camera.fov = (Math.atan(Math.tan((fov * Math.PI) / 360) * more) * 360) / Math.PI;
      camera.updateProjectionMatrix();
      return camera;
    }
    this.camera.updateMatrixWorld();
    return this.parallel ? seeEvenly(this.even, this.camera, this.controls.target, this.radius * 20) : this.camera;
  }

  /** How much of the model a pixel of the page shows at a place, metres. */
  metresAPixel(place: readonly [number, number, number]): number {
    const seeing = this.seeing();
    const camera = seeing instanceof PerspectiveCamera ? seeing : this.camera;
    const away = seeing === camera ? new Vector3(...place) : this.controls.target;
    const deep = away.clone().sub(camera.position).dot(camera.getWorldDirection(new Vector3()));
    return (2 * deep * Math.tan((camera.fov * Math.PI) / 360)) / Math.max(1, this.size.height);
  }

  /** Looks at it as a photo's camera did, or as it is turned. @param seen the camera, and the photo's width by its height */
  seeThrough(
    seen: {
      eye: readonly [number, number, number];
      ahead: readonly [number, number, number];
      up: readonly [number, number, number];
      fov: number;
      ratio: number;
    } | null,
  ): void {
    if (!seen && !this.through) return;
    this.through = null;
    if (seen) {
      const camera = this.camera.clone();
      camera.position.set(...seen.eye);
      camera.up.set(...seen.up);
      camera.lookAt(camera.position.clone().add(new Vector3(...seen.ahead)));
      camera.updateMatrixWorld();
      this.through = { camera, fov: seen.fov, ratio: seen.ratio };
    }
    this.controls.enabled = !seen;
    this.changed();
  }

  /** Shows it with perspective or without. */
  evenly(parallel: boolean): void {
    this.parallel = parallel;
    this.changed();
  }

  /** Leaves parts away, by their keys; what is left away is not met by the pointer either. */
  leaveAway(parts: ReadonlySet<string>): void {
    for (const { mesh, part } of this.meshes) mesh.visible = !parts.has(part.key);
    for (const { mesh, part } of this.dimmed) mesh.visible = !parts.has(part);
    this.changed();
  }

  /**
   * Cuts the model open, or shows it whole.
   * @param section what is before the plane is cut away: out of it, and how far along that it lies from the origin, metres
   */
  cutOpen(section: { normal: readonly [number, number, number]; offset: number } | null): void {
    this.section = section && new Plane(new Vector3(...section.normal).negate(), section.offset);
    this.light(this.preset);
    for (const { mesh } of this.dimmed) this.open(mesh.material as Material);
    this.changed();
  }

  /** Brings parts near, by their keys, or the whole model. */
  frame(parts: ReadonlySet<string> | null): void {
    const box = new Box3();
    const at = new Vector3();
    for (const { mesh, part } of this.meshes) {
      if (parts && !parts.has(part.key)) continue;
      const { index, attributes } = mesh.geometry;
      for (let i = 0; i < index!.count; i++)
        box.expandByPoint(at.fromBufferAttribute(attributes.position as BufferAttribute, index!.getX(i)));
    }
    if (box.isEmpty()) return;
    const arm = this.camera.position.clone().sub(this.controls.target);
    const far = (box.getSize(at).length() / 2 / Math.sin((this.camera.fov * Math.PI) / 360)) * 1.05;
    box.getCenter(this.controls.target);
    this.camera.position.copy(this.controls.target).add(arm.setLength(Math.max(far, this.controls.minDistance)));
    this.controls.update();
    this.changed();
  }

  private changed(): void {
    this.draw();
    for (const told of this.watchers) told();
  }

  /** Keeps the pointer from turning the model. */
  hold(still: boolean): void {
    this.controls.enabled = !still && !this.through;
  }

  /** Where a place of the model is on the canvas, -1..1 with y up; null: behind the eye. */
  seenAt(place: readonly [number, number, number]): { x: number; y: number } | null {
    return seenBy(this.seeing(), place);
  }

  /** The place of a plane through a point that is at a point of the canvas; null: the plane is seen edge on. */
  onPlane(
    x: number,
    y: number,
    through: readonly [number, number, number],
    normal: readonly [number, number, number],
  ): [number, number, number] | null {
    this.aim(x, y);
    const plane = new Plane().setFromNormalAndCoplanarPoint(new Vector3(...normal), new Vector3(...through));
    const hit = this.ray.ray.intersectPlane(plane, new Vector3());
    return hit && hit.toArray();
  }

  /** The view as it is now. */
  look(): ModelLook {
    const camera = this.seeing();
    camera.updateMatrixWorld();
    const matrix = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
    const parallel = camera instanceof OrthographicCamera;
    const eye = parallel ? this.eye() : camera.position.toArray();
    return { matrix: matrix.toArray(), eye, parallel };
  }

  /** The direction from which it is looked at, of length 1. */
  eye(): [number, number, number] {
    if (this.through) return this.through.camera.getWorldDirection(new Vector3()).negate().toArray();
    return this.camera.position.clone().sub(this.controls.target).normalize().toArray();
  }

  /** Looks at the model from a direction, in a short turn where motion is wanted. */
  lookFrom(direction: readonly [number, number, number]): void {
    const far = this.camera.position.distanceTo(this.controls.target);
    const from = this.camera.position.clone().sub(this.controls.target).normalize();
    // Straight above there is no way up: it is looked at from a hair aft.
    const to = new Vector3(...direction).addScaledVector(
      new Vector3(-1, 0, 0),
      Math.abs(direction[1]) > 0.99 ? 1e-3 : 0,
    );
    to.normalize();
    const began = performance.now();
    const still = matchMedia('(prefers-reduced-motion: reduce)').matches;
    const step = (now: number) => {
      const share = still ? 1 : Math.min(1, (now - began) / TURN_MS);
      const between = from.clone().lerp(to, share * share * (3 - 2 * share));
      if (between.lengthSq() < 1e-4) between.set(from.z, 0.1, -from.x);
      this.camera.position.copy(this.controls.target).addScaledVector(between.normalize(), far);
      this.controls.update();
      if (share < 1) this.turning = requestAnimationFrame(step);
    };
    cancelAnimationFrame(this.turning);
    this.turning = requestAnimationFrame(step);
  }

  /**
   * Dims what lies under tape. @param open what is not, by sheet: shares of 255, samples row by row from the sheet's head; null: nothing is
   * taped off, and of a sheet that is not told all is
   */
  tape(open: ReadonlyMap<string, { width: number; height: number; alpha: Uint8Array }> | null): void {
    this.scene.remove(...this.dimmed.map(({ mesh }) => mesh));
    for (const { mesh } of this.dimmed) {
      const material = mesh.material as MeshBasicMaterial;
      material.map?.dispose();
      material.dispose();
    }
    this.dimmed = [];
    const pictures = new Map<string, Texture>();
    for (const { mesh, part } of open ? this.meshes : []) {
      if (part.sheet === null) continue;
      const found = open!.get(part.sheet);
      const map = pictures.get(part.sheet) ?? dimming(found ?? { width: 1, height: 1, alpha: new Uint8Array(1) });
      pictures.set(part.sheet, map);
      const look = { map, transparent: true, depthWrite: false, side: DoubleSide };
      const over = new Mesh(
        mesh.geometry,
        new MeshBasicMaterial({ ...look, polygonOffset: true, polygonOffsetFactor: -1 }),
      );
      over.visible = mesh.visible;
      this.open(over.material);
      this.dimmed.push({ mesh: over, part: part.key });
    }
    if (this.dimmed.length > 0) this.scene.add(...this.dimmed.map(({ mesh }) => mesh));
    this.draw();
  }

  /** Draws the brush on the surface, or none. @param radius metres */
  ring(spot: { position: [number, number, number]; normal: [number, number, number] } | null, radius = 0): void {
    if (!spot && !this.ringed.visible) return;
    this.ringed.visible = spot !== null;
    if (spot) lie(this.ringed, spot);
    this.ringed.scale.setScalar(Math.max(radius, 1e-9));
    this.draw();
  }

  /** Marks a spot of the surface, or none. */
  mark(spot: { position: [number, number, number]; normal: [number, number, number] } | null): void {
    if (!spot && !this.marker.visible) return;
    this.marker.visible = spot !== null;
    if (spot) lie(this.marker, spot);
    this.draw();
  }

  /**
   * What is seen, drawn as large as is asked, in pieces that every graphics card can hold.
   * @param width in pixels; as much is seen across as on the page
   * @param wide the picture is at least so much wider than high
   * @returns also where places of the model are in it, -1..1 with y up
   */
  picture(width: number, wide: number): { canvas: HTMLCanvasElement; seenAt: Stage['seenAt'] } {
    const { aspect, fov } = this.camera;
    const canvas = document.createElement('canvas');
    canvas.width = width;
    canvas.height = Math.round(width / Math.max(wide, aspect));
    const context = context2d(canvas);
    const { height } = canvas;
    const camera = this.camera.clone();
    camera.aspect = width / height;
    camera.fov = (2 * Math.atan((Math.tan((fov * Math.PI) / 360) * aspect) / camera.aspect) * 180) / Math.PI;
    const ratio = this.renderer.getPixelRatio();
    this.renderer.setPixelRatio(1);
    for (let y = 0; y < height; y += PIECE)
      for (let x = 0; x < width; x += PIECE) {
        const [across, down] = [Math.min(PIECE, width - x), Math.min(PIECE, height - y)];
        this.renderer.setSize(across, down, false);
        camera.setViewOffset(width, height, x, y, across, down);
        this.renderer.render(this.scene, camera);
        context.drawImage(this.renderer.domElement, x, y);
      }
    camera.clearViewOffset();
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(this.size.width, this.size.height, false);
    this.renderer.render(this.scene, this.seeing());
    return { canvas, seenAt: (place) => seenBy(camera, place) };
  }

  draw(): void {
    if (this.drawing) return;
    this.drawing = requestAnimationFrame(() => {
      this.drawing = 0;
      this.renderer.render(this.scene, this.seeing());
    });
  }

  /** While it is turned without a graphics card, light comes first: at a third of the texels across, all of them at rest. */
  private turned(): void {
    if (!this.surfaces || !bySoftware() || this.preset === 'Unlit') return this.draw();
    this.grain(true);
    clearTimeout(this.resting);
    this.resting = setTimeout(() => this.grain(false), REST_MS);
    this.draw();
  }

  private grain(coarse: boolean): void {
    if (this.coarse === coarse || this.size.width < 2) return;
    this.coarse = coarse;
    this.renderer.setPixelRatio(Math.min(2, devicePixelRatio) * (coarse ? 0.4 : 1));
    this.renderer.setSize(this.size.width, this.size.height, false);
    this.draw();
  }

  close(): void {
    this.tape(null);
    this.room?.disconnect();
    this.spin(false);
    clearTimeout(this.resting);
    cancelAnimationFrame(this.turning);
    cancelAnimationFrame(this.drawing);
    this.controls.dispose();
    this.unheard();
    for (const { mesh } of this.meshes) mesh.geometry.dispose();
    for (const mesh of this.stood) mesh.geometry.dispose();
    this.seam?.geometry.dispose();
    this.ringed.geometry.dispose();
    this.marker.geometry.dispose();
    this.renderer.dispose();
  }
}

/** Lays something flat on a spot of the surface. */
function lie(
  mesh: Mesh,
  { position, normal }: { position: [number, number, number]; normal: [number, number, number] },
) {
  mesh.position.fromArray(position);
  mesh.lookAt(mesh.position.clone().add(new Vector3().fromArray(normal)));
}

function seenBy(camera: Camera, place: readonly [number, number, number]) {
  camera.updateMatrixWorld();
  const at = new Vector3(...place).project(camera);
  return at.z < 1 ? { x: at.x, y: at.y } : null;
}
