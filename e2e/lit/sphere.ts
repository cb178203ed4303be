/** A ball in the product's own light, for lit.spec.ts: bundled, and run in a page. */
import {
  Color,
  DataTexture,
  Mesh,
  NoColorSpace,
  NoToneMapping,
  PerspectiveCamera,
  PlaneGeometry,
  Scene,
  SphereGeometry,
  SRGBColorSpace,
  Vector3,
  WebGLRenderer,
} from 'three';
import {
  lampsFrom,
  litMaterial,
  PLAIN_SURFACE,
  type LightRig,
  type SurfaceTextures,
} from '../../packages/web/src/parts/lit.ts';

export interface Ball {
  rig: LightRig;
  color: string;
  /** Percent. */
  roughness: number;
  metal: number;
  coat: number;
  side: number;
  /** Seen from so far, looking at the middle. */
  from: [number, number, number];
  /** A flat square with this normal in its map (8-bit), in place of the ball. */
  bent?: [number, number, number];
  /** Its green grows towards the foot. */
  greenDown?: boolean;
  /** The lamps carried round by so much, radians counter-clockwise from above. */
  turned?: number;
}

const one = (rgba: number[]) => {
  const texture = new DataTexture(Uint8Array.from(rgba), 1, 1);
  texture.colorSpace = NoColorSpace;
  texture.needsUpdate = true;
  return texture;
};
const at = (channel: 0 | 1 | 2) => ({ channel, inverted: false });

/** RGBA8 of the picture, row 0 at the bottom. */
export function drawBall({ rig, color, roughness, metal, coat, side, from, bent, greenDown, turned }: Ball): number[] {
  const canvas = new OffscreenCanvas(side, side);
  const renderer = new WebGLRenderer({
    canvas: canvas as unknown as HTMLCanvasElement,
    antialias: false,
    preserveDrawingBuffer: true,
  });
  renderer.toneMapping = NoToneMapping;
  renderer.outputColorSpace = SRGBColorSpace;
  renderer.setSize(side, side, false);
  const scene = new Scene();
  scene.background = new Color('#000000');
  const byte = (percent: number) => Math.round(percent * 2.55);
  const surface: SurfaceTextures = {
    ...PLAIN_SURFACE,
    values: one([byte(roughness), byte(metal), byte(coat), 255]),
    reads: { roughness: at(0), metal: at(1), coat: at(2) },
    normal: bent ? one([...bent, 255]) : null,
    greenDown,
  };
  const shape = bent ? new PlaneGeometry(4, 4) : new SphereGeometry(1, 256, 128);
  const lamps = { value: lampsFrom(rig) };
  const material = litMaterial(rig, { map: null, color, alphaTest: 0 }, surface, lamps);
  // After the material was made: it has no lamps of its own.
  for (const lamp of lamps.value) lamp.applyAxisAngle(new Vector3(0, 1, 0), turned ?? 0);
  scene.add(new Mesh(shape, material));
  const camera = new PerspectiveCamera(40, 1, 0.1, 50);
  camera.position.set(...from);
  camera.lookAt(0, 0, 0);
  renderer.render(scene, camera);
  const gl = renderer.getContext();
  const out = new Uint8Array(side * side * 4);
  gl.readPixels(0, 0, side, side, gl.RGBA, gl.UNSIGNED_BYTE, out);
  renderer.dispose();
  return [...out];
}
