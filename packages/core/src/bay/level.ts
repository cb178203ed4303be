/** A stretch of a Pebblewick level as its players see it: from the side, in two dimensions, out of a skin's frames and its twelve settings. */
import type { BayPicture } from './report.ts';

/** Where the game looks for its things on the sheet of 1024 x 1024, texels. */
const FRAMES = {
  ledge: [32, 32, 448, 160],
  jetty: [32, 256, 448, 128],
  boulder: [560, 32, 288, 288],
  lamp: [560, 400, 120, 400],
  bollard: [760, 480, 160, 240],
  crate: [32, 448, 256, 256],
} as const;
type Thing = keyof typeof FRAMES;

/** The settings in the order of their boxes along the foot. */
const SETTINGS = {
  fog: 0,
  glow: 1,
  litter: 2,
  skyTop: 3,
  skyFoot: 4,
  shallow: 5,
  deep: 6,
  foam: 7,
  moss: 8,
  rain: 9,
  shadow: 10,
  tint: 11,
} as const;

/** The scene is laid out on a screen of this size. */
const [WIDE, HIGH] = [960, 540];
const [HORIZON, GROUND, WATER] = [268, 404, 470];
/** What stands where: its left and its foot, and how large a texel is. */
const STANDS: readonly [thing: Thing, left: number, foot: number, scale: number][] = [
  ['jetty', 560, GROUND + 74, 0.6],
  ['jetty', 780, GROUND + 74, 0.6],
  ['ledge', -20, HIGH + 20, 0.62],
  ['ledge', 236, HIGH + 20, 0.62],
  ['ledge', -110, GROUND + 92, 0.62],
  ['ledge', 146, GROUND + 92, 0.62],
  ['ledge', 402, GROUND + 92, 0.62],
  ['boulder', 40, GROUND + 14, 0.62],
  ['lamp', 262, GROUND + 6, 0.62],
  ['crate', 366, GROUND + 6, 0.44],
  ['crate', 452, GROUND + 6, 0.34],
  ['bollard', 610, GROUND + 4, 0.5],
  ['lamp', 800, GROUND + 4, 0.62],
  ['crate', 700, GROUND + 4, 0.36],
];
/** Where stones are and people stand: what lies in the shade of it takes moss, what stands on it throws a shadow. */
const STONE: ReadonlySet<Thing> = new Set<Thing>(['ledge', 'boulder']);

type Rgba = readonly [r: number, g: number, b: number, a: number];

/** Even noise of whole numbers, 0..1. */
function noise(x: number, y: number): number {
  let h = Math.imul(x, 374761393) + Math.imul(y, 668265263);
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
}

/** The n-th setting of a skin, 0 the first: the middle texel of its box, RGBA8. */
export const settingAt = (skin: BayPicture, n: number): Uint8Array => {
  const at = ((976 + 16) * skin.width + 16 + n * 40 + 16) * 4;
  return skin.pixels.subarray(at, at + 4);
};

/** The same colour, covering all. */
const whole = ([r, g, b]: Rgba): Rgba => [r, g, b, 1];

/** @param skin 1024 x 1024, as the game read it. @returns opaque RGBA8 of the size that is asked for, 16:9 */
export function drawLevel(skin: BayPicture, width: number): BayPicture {
  const height = Math.round((width * HIGH) / WIDE);
  const unit = width / WIDE;
  const pixels = new Uint8Array(width * height * 4);
  const setting = (key: keyof typeof SETTINGS): Rgba => {
    const [r, g, b, a] = settingAt(skin, SETTINGS[key]);
    return [r, g, b, a / 255];
  };
  const over = (x: number, y: number, [r, g, b]: Rgba | readonly [number, number, number], alpha: number) => {
    if (x < 0 || y < 0 || x >= width || y >= height || alpha <= 0) return;
    const i = (y * width + x) * 4;
    pixels[i] += (r - pixels[i]) * alpha;
    pixels[i + 1] += (g - pixels[i + 1]) * alpha;
    pixels[i + 2] += (b - pixels[i + 2]) * alpha;
  };
  /** Over a box of the layout; `share` 0..1 says how much at a point of it. */
  const fill = (
    left: number,
    top: number,
    right: number,
    foot: number,
    colour: Rgba,
    share?: (x: number, y: number) => number,
  ) => {
    for (let y = Math.max(0, Math.round(top * unit)); y < Math.min(height, Math.round(foot * unit)); y++)
      for (let x = Math.max(0, Math.round(left * unit)); x < Math.min(width, Math.round(right * unit)); x++)
        over(x, y, colour, colour[3] * (share ? share(x / unit, y / unit) : 1));
  };

  const [skyTop, skyFoot] = [setting('skyTop'), setting('skyFoot')];
  fill(0, 0, WIDE, HORIZON, whole(skyTop));
  fill(0, 0, WIDE, HORIZON, whole(skyFoot), (_, y) => (y / HORIZON) ** 1.4);
  const [shallow, deep, foam] = [setting('shallow'), setting('deep'), setting('foam')];
  fill(0, HORIZON, WIDE, HIGH, whole(deep));
  fill(
    0,
    HORIZON,
    WIDE,
    HIGH,
    shallow,
    (x, y) => Math.max(0, (y - HORIZON) / (HIGH - HORIZON)) * (1 - 0.25 * (x / WIDE)),
  );
  const fog = setting('fog');
  fill(
    0,
    HORIZON - 90,
    WIDE,
    HORIZON + 120,
    fog,
    (_, y) => Math.max(0, 1 - (Math.abs(y - HORIZON - 8) / 100) ** 2) * 0.9,
  );
  for (let row = 0; row < 26; row++) {
    const y = HORIZON + 14 + row * row * 0.42;
    for (let k = 0; k < 9; k++) {
      const left = noise(row, k) * WIDE;
      fill(left, y, left + 20 + 60 * noise(k, row), y + 1.2, foam, () => 0.3);
    }
  }
  const shadow = setting('shadow');
  const moss = setting('moss');
  for (const [thing, left, foot, scale] of STANDS) {
    const [fx, fy, fw, fh] = FRAMES[thing];
    const [w, h] = [fw * scale, fh * scale];
    if (!STONE.has(thing) && thing !== 'jetty')
      fill(left - 8, foot - 14, left + w + 14, foot + 4, shadow, (x, y) =>
        Math.max(0, 1 - ((x - left - w / 2 - 4) / (w / 2 + 10)) ** 2 - ((y - foot + 5) / 8) ** 2),
      );
    for (let y = Math.floor((foot - h) * unit); y < foot * unit; y++)
      for (let x = Math.floor(left * unit); x < (left + w) * unit; x++) {
        const [tx, ty] = [Math.floor((x / unit - left) / scale), Math.floor((y / unit - foot + h) / scale)];
        if (tx < 0 || ty < 0 || tx >= fw || ty >= fh) continue;
        const i = ((fy + ty) * skin.width + fx + tx) * 4;
        const alpha = skin.pixels[i + 3] / 255;
        if (alpha === 0) continue;
        over(x, y, [skin.pixels[i], skin.pixels[i + 1], skin.pixels[i + 2]], alpha);
        if (!STONE.has(thing)) continue;
        // In the shade below, in patches of a few texels.
        const shade = Math.max(0, ty / fh - 0.45) / 0.55;
        if (noise(tx >> 3, ty >> 2) < shade) over(x, y, moss, moss[3] * 0.75 * alpha);
        over(x, y, shadow, shadow[3] * 0.5 * shade * alpha);
      }
  }
  const litter = setting('litter');
  for (let k = 0; k < 60; k++) {
    const [x, y] = [noise(k, 3) * 680, GROUND + 2 + noise(3, k) * 7];
    fill(x, y, x + 3 + 4 * noise(k, k), y + 2.5, litter);
  }
  fill(0, WATER + 8, WIDE, WATER + 10, foam, (x) => (x < 560 ? 0 : 0.7 * noise(Math.floor(x / 9), 1)));
  const glow = setting('glow');
  for (const [thing, left, foot, scale] of STANDS) {
    if (thing !== 'lamp') continue;
    const [cx, cy] = [left + 60 * scale, foot - 345 * scale];
    fill(
      cx - 130,
      cy - 130,
      cx + 130,
      cy + 130,
      glow,
      (x, y) => Math.max(0, 1 - Math.hypot(x - cx, y - cy) / 130) ** 2,
    );
  }
  fill(0, HORIZON, WIDE, HIGH, fog, (_, y) => 0.22 * (1 - (y - HORIZON) / (HIGH - HORIZON)));
  const rain = setting('rain');
  if (rain[3] > 0)
    for (let k = 0; k < 260; k++) {
      const [x, y] = [noise(k, 11) * (WIDE + 80), noise(11, k) * HIGH];
      for (let step = 0; step < 22; step++)
        over(Math.round((x - step * 0.35) * unit), Math.round((y + step) * unit), rain, rain[3] * 0.8);
    }
  const tint = setting('tint');
  fill(0, 0, WIDE, HIGH, tint, () => 0.6);
  for (let i = 3; i < pixels.length; i += 4) pixels[i] = 255;
  return { width, height, pixels };
}
