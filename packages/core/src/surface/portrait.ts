import { LINEAR_OF_SRGB8, LINEAR_ONE, srgb8OfLinear } from '../colour/srgb.ts';
import { newImage, type Image8 } from '../raster/image.ts';
import type { Template } from '../livery/template.ts';
import { boxOfMesh } from './triangles.ts';
import { dot } from './vectors.ts';

export interface PortraitOptions {
  width: number;
  height: number;
  /** Degrees round the model (0: from the bow, 90: from starboard) and up. */
  heading: number;
  elevation: number;
}

type Vec = [number, number, number];

const SAMPLES = 2;

/**
 * A picture of the model on the turntable, drawn on the processor: for cards and thumbnails, where no graphics card can be counted on.
 * @param sheets flattened sheets by key, any size; sheets that are not there show the part's own colour; where alpha says what is there,
 *   clear texels of a sheet with paint on it are holes
 * @returns straight RGBA8 with a clear ground
 */
export function portrait(
  template: Pick<Template, 'mesh' | 'parts'> & Partial<Pick<Template, 'sheets'>>,
  sheets: ReadonlyMap<string, Image8>,
  options: PortraitOptions,
): Image8 {
  const [w, h] = [options.width * SAMPLES, options.height * SAMPLES];
  const { positions, normals, uvs, indices } = template.mesh;
  const radians = Math.PI / 180;
  const [sh, ch] = [Math.sin(options.heading * radians), Math.cos(options.heading * radians)];
  const [se, ce] = [Math.sin(options.elevation * radians), Math.cos(options.elevation * radians)];
  // The camera looks from `eye` to the middle of the model: right, up and towards the eye are its axes.
  const toEye: Vec = [ch * ce, se, sh * ce];
  const right: Vec = [sh, 0, -ch];
  const up: Vec = [-ch * se, ce, -sh * se];
  const { centre, radius } = sphereAround(positions);
  const distance = radius * 4.2;
  const view = new Float64Array(positions.length);
  let [left, wide, low, high] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < positions.length; i += 3) {
    const p: Vec = [positions[i] - centre[0], positions[i + 1] - centre[1], positions[i + 2] - centre[2]];
    const depth = distance - dot(p, toEye);
    view[i] = dot(p, right) / depth;
    view[i + 1] = dot(p, up) / depth;
    view[i + 2] = depth;
    left = Math.min(left, view[i]);
    wide = Math.max(wide, view[i]);
    low = Math.min(low, view[i + 1]);
    high = Math.max(high, view[i + 1]);
  }
  const scale = 0.92 * Math.min(w / (wide - left), h / (high - low));
  const [cx, cy] = [(left + wide) / 2, (low + high) / 2];
  const holed = new Set(
    (template.sheets ?? [])
      .filter(({ key, alpha }) => HOLES.includes(alpha) && hasPaint(sheets.get(key)))
      .map(({ key }) => key),
  );
  const depth = new Float64Array(w * h).fill(Infinity);
  const light = new Float32Array(w * h * 4);
  for (const part of template.parts) {
    const sheet = part.sheet ? sheets.get(part.sheet) : undefined;
    const plain = rgbOf(part.hex ?? '#808080');
    const holes = part.sheet !== null && holed.has(part.sheet);
    for (let t = part.first; t < part.first + part.count; t++) {
      const corner = [0, 1, 2].map((k) => {
        const v = indices[t * 3 + k];
        return {
          x: (view[v * 3] - cx) * scale + w / 2,
          y: h / 2 - (view[v * 3 + 1] - cy) * scale,
          inverse: 1 / view[v * 3 + 2],
          shade: shadeOf([normals[v * 3], normals[v * 3 + 1], normals[v * 3 + 2]], toEye),
          u: uvs[v * 2],
          v: uvs[v * 2 + 1],
        };
      });
      const [a, b, c] = corner;
      const area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
      if (area === 0) continue;
      const x1 = Math.min(w - 1, Math.ceil(Math.max(a.x, b.x, c.x)));
      const y1 = Math.min(h - 1, Math.ceil(Math.max(a.y, b.y, c.y)));
      for (let y = Math.max(0, Math.floor(Math.min(a.y, b.y, c.y))); y <= y1; y++) {
        for (let x = Math.max(0, Math.floor(Math.min(a.x, b.x, c.x))); x <= x1; x++) {
          const px = x + 0.5;
          const py = y + 0.5;
          const wb = ((px - a.x) * (c.y - a.y) - (py - a.y) * (c.x - a.x)) / area;
          const wc = ((b.x - a.x) * (py - a.y) - (b.y - a.y) * (px - a.x)) / area;
          const wa = 1 - wb - wc;
          if (wa < 0 || wb < 0 || wc < 0) continue;
          const inverse = wa * a.inverse + wb * b.inverse + wc * c.inverse;
          const z = 1 / inverse;
          const i = y * w + x;
          if (z >= depth[i]) continue;
          const shade = (wa * a.shade * a.inverse + wb * b.shade * b.inverse + wc * c.shade * c.inverse) * z;
          let red = plain[0];
          let green = plain[1];
          let blue = plain[2];
          if (sheet) {
            const u = (wa * a.u * a.inverse + wb * b.u * b.inverse + wc * c.u * c.inverse) * z;
            const v = (wa * a.v * a.inverse + wb * b.v * b.inverse + wc * c.v * c.inverse) * z;
            const at = texelAt(sheet, u, v);
            const { data } = sheet;
            if (holes && data[at + 3] < 128) continue;
            const alpha = data[at + 3] / 255;
            red = alpha === 1 ? data[at] : Math.round(data[at] * alpha + red * (1 - alpha));
            green = alpha === 1 ? data[at + 1] : Math.round(data[at + 1] * alpha + green * (1 - alpha));
            blue = alpha === 1 ? data[at + 2] : Math.round(data[at + 2] * alpha + blue * (1 - alpha));
          }
          depth[i] = z;
          light[i * 4] = (LINEAR_OF_SRGB8[red] / LINEAR_ONE) * shade;
          light[i * 4 + 1] = (LINEAR_OF_SRGB8[green] / LINEAR_ONE) * shade;
          light[i * 4 + 2] = (LINEAR_OF_SRGB8[blue] / LINEAR_ONE) * shade;
          light[i * 4 + 3] = 1;
        }
      }
    }
  }
  return shrink(light, w, options.width, options.height);
}

/** Soft light from above and the camera's left, so that form shows and colours stay themselves. */
function shadeOf(normal: Vec, toEye: Vec): number {
  // Thin parts are seen from both sides.
  const n: Vec = dot(normal, toEye) < 0 ? [-normal[0], -normal[1], -normal[2]] : normal;
  const key = Math.max(0, dot(n, [0.42, 0.81, 0.41]));
  return 0.42 + 0.2 * (n[1] * 0.5 + 0.5) + 0.42 * key + 0.08 * Math.max(0, dot(n, toEye));
}

/** Alpha that says where the thing is. */
const HOLES: readonly string[] = ['cutout', 'coverage'];

/** A sheet with no more than one texel of so many painted is bare: boxes of settings are no art. */
const BARE = 50;

function hasPaint(sheet: Image8 | undefined): boolean {
  if (!sheet) return false;
  let painted = 0;
  for (let i = 3; i < sheet.data.length; i += 4) if (sheet.data[i] >= 128) painted++;
  return painted > (sheet.width * sheet.height) / BARE;
}

/** Where a texel's bytes begin. */
function texelAt({ width, height }: Image8, u: number, v: number): number {
  const x = Math.max(0, Math.min(width - 1, Math.floor(u * width)));
  const y = Math.max(0, Math.min(height - 1, Math.floor(v * height)));
  return (y * width + x) * 4;
}

function shrink(light: Float32Array, w: number, width: number, height: number): Image8 {
  const out = newImage(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0, 0];
      for (let s = 0; s < SAMPLES * SAMPLES; s++) {
        const i = ((y * SAMPLES + Math.floor(s / SAMPLES)) * w + x * SAMPLES + (s % SAMPLES)) * 4;
        for (let k = 0; k < 4; k++) sum[k] += light[i + k];
      }
      const o = (y * width + x) * 4;
      if (sum[3] === 0) continue;
      for (let k = 0; k < 3; k++) out.data[o + k] = srgb8OfLinear(Math.round((sum[k] / sum[3]) * LINEAR_ONE));
      out.data[o + 3] = Math.round((sum[3] / (SAMPLES * SAMPLES)) * 255);
    }
  }
  return out;
}

function sphereAround(positions: readonly number[]): { centre: Vec; radius: number } {
  const { low, high } = boxOfMesh({ positions });
  const centre = low.map((value, k) => (value + high[k]) / 2) as Vec;
  return { centre, radius: Math.hypot(high[0] - centre[0], high[1] - centre[1], high[2] - centre[2]) };
}

const rgbOf = (hex: string) => [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16));
