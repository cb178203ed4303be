/** Textures of each kind as games have them, made from seeds. */
import { newImage, type Image8 } from '../raster/image.ts';
import { randomFrom } from './images.ts';

type At = (u: number, v: number) => readonly number[];

function made(width: number, height: number, at: At): Image8 {
  const image = newImage(width, height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4)
      image.data.set(
        at((x + 0.5) / width, (y + 0.5) / height).map((v) => Math.max(0, Math.min(255, Math.round(v)))),
        i,
      );
  return image;
}

/** Smooth value noise, about 0..1. */
function hills(seed: number, cells: number) {
  const random = randomFrom(seed);
  const grid = Array.from({ length: (cells + 1) * (cells + 1) }, random);
  return (u: number, v: number) => {
    const [x, y] = [Math.min(0.9999, Math.max(0, u)) * cells, Math.min(0.9999, Math.max(0, v)) * cells];
    const [i, j] = [Math.floor(x), Math.floor(y)];
    const s = (t: number) => t * t * (3 - 2 * t);
    const [fx, fy] = [s(x - i), s(y - j)];
    const g = (a: number, b: number) => grid[b * (cells + 1) + a];
    return (g(i, j) * (1 - fx) + g(i + 1, j) * fx) * (1 - fy) + (g(i, j + 1) * (1 - fx) + g(i + 1, j + 1) * fx) * fy;
  };
}

/** Panels, stripes and a little dirt in a scheme of the seed's own. */
export function colourSheet(seed: number, width = 128, height = width, alpha = 255): Image8 {
  const random = randomFrom(seed);
  const scheme = Array.from({ length: 4 }, () => [random() * 255, random() * 255, random() * 255]);
  const dirt = hills(seed + 1, 9);
  const turn = random() * 2;
  const stripes = 3 + Math.floor(random() * 5);
  return made(width, height, (u, v) => {
    const stripe = Math.floor((u * Math.cos(turn) + v * Math.sin(turn) + 2) * stripes) % 3;
    const panel = (u > 0.5 ? 1 : 0) ^ (v > 0.35 ? 1 : 0);
    const base = stripe === 0 ? scheme[2 + panel] : scheme[panel];
    const shade = 0.75 + 0.25 * dirt(u, v);
    return [...base.map((c) => c * shade), alpha];
  });
}

export function heightSheet(seed: number, width = 128): Image8 {
  const [a, b] = [hills(seed, 6), hills(seed + 9, 24)];
  return made(width, width, (u, v) => {
    const h = 70 + 90 * a(u, v) + 30 * b(u, v);
    return [h, h, h, 255];
  });
}

/** Unit vectors of a height field; blue on top, as tangent-space normal maps are. @param kind "two": only x and y, as BC5 decodes */
export function normalSheet(seed: number, width = 128, kind: 'three' | 'two' = 'three'): Image8 {
  const h = hills(seed, 14);
  const e = 1 / width;
  return made(width, width, (u, v) => {
    const dx = (h(u + e, v) - h(u - e, v)) * 3;
    const dy = (h(u, v + e) - h(u, v - e)) * 3;
    const l = Math.sqrt(dx * dx + dy * dy + 1);
    return [127.5 - (127.5 * dx) / l, 127.5 - (127.5 * dy) / l, kind === 'two' ? 0 : 127.5 + 127.5 / l, 255];
  });
}

/** Occlusion, roughness and metal in red, green and blue. */
export function packedSheet(seed: number, width = 128): Image8 {
  const [ao, rough, cells] = [hills(seed, 5), hills(seed + 3, 11), hills(seed + 7, 4)];
  return made(width, width, (u, v) => [
    255 - 90 * ao(u, v) ** 2,
    60 + 150 * rough(u, v),
    cells(u, v) > 0.62 ? 255 : 0,
    255,
  ]);
}

export function greySheet(seed: number, low: number, high: number, width = 128): Image8 {
  const h = hills(seed, 9);
  return made(width, width, (u, v) => {
    const g = low + (high - low) * h(u, v);
    return [g, g, g, 255];
  });
}

export function maskSheet(seed: number, width = 128): Image8 {
  const h = hills(seed, 5);
  return made(width, width, (u, v) => (h(u, v) > 0.55 ? [255, 255, 255, 255] : [0, 0, 0, 255]));
}

/** Flat areas of pure colours that tell zones apart. */
export function zoneSheet(seed: number, width = 128): Image8 {
  const h = hills(seed, 4);
  const pure = [
    [255, 0, 0],
    [0, 255, 0],
    [0, 0, 255],
    [255, 255, 0],
    [0, 0, 0],
  ];
  return made(width, width, (u, v) => [...pure[Math.floor(h(u, v) * 4.99)], 255]);
}

/** Lit windows on black. */
export function nightSheet(seed: number, width = 128): Image8 {
  const random = randomFrom(seed);
  const lamps = Array.from({ length: 14 }, () => [random(), random(), 0.015 + random() * 0.03]);
  return made(width, width, (u, v) => {
    let glow = 0;
    for (const [x, y, r] of lamps) glow = Math.max(glow, 1 - Math.hypot(u - x, v - y) / r);
    return [255 * glow, 200 * glow, 90 * glow, 255].map((c) => Math.max(0, c));
  });
}

export function glassSheet(seed: number, width = 128): Image8 {
  const h = hills(seed, 6);
  return made(width, width, (u, v) => [60 + 20 * h(u, v), 80 + 20 * h(u, v), 85 + 25 * h(u, v), 70 + 60 * h(u, v)]);
}

/** The same picture at another size, by averaging. */
export function resized(image: Image8, width: number): Image8 {
  const height = Math.max(1, Math.round((image.height * width) / image.width));
  const out = newImage(width, height);
  const [sx, sy] = [image.width / width, image.height / height];
  for (let y = 0, o = 0; y < height; y++) {
    for (let x = 0; x < width; x++, o += 4) {
      const sum = [0, 0, 0, 0];
      let n = 0;
      for (let row = Math.floor(y * sy); row < Math.max(Math.floor(y * sy) + 1, Math.floor((y + 1) * sy)); row++)
        for (
          let column = Math.floor(x * sx);
          column < Math.max(Math.floor(x * sx) + 1, Math.floor((x + 1) * sx));
          column++, n++
        )
          for (let c = 0; c < 4; c++) sum[c] += image.data[(row * image.width + column) * 4 + c];
      for (let c = 0; c < 4; c++) out.data[o + c] = Math.round(sum[c] / n);
    }
  }
  return out;
}

/** A darker copy, with lamps. */
export function darkened(image: Image8, seed: number): Image8 {
  const lit = nightSheet(seed, image.width);
  const data = image.data.map((v, i) => ((i & 3) === 3 ? v : Math.max(v * 0.14, lit.data[i])));
  return { ...image, data: Uint8Array.from(data) };
}

export function mirrored(image: Image8): Image8 {
  const out = newImage(image.width, image.height);
  for (let y = 0; y < image.height; y++)
    for (let x = 0; x < image.width; x++) {
      const from = (y * image.width + image.width - 1 - x) * 4;
      out.data.set(image.data.subarray(from, from + 4), (y * image.width + x) * 4);
    }
  return out;
}
