/**
 * The pictures that the texture bench encodes, 1024 x 1024 each: four photographs and paintings with a free licence (Debian's
 * lomiri-wallpapers-20.04, CC BY-SA 4.0 each) and fifteen livery sheets drawn here, the same on every machine.
 */
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import opentype from 'opentype.js';
import sharp from 'sharp';
import { drawSvg, startSvg } from '../../packages/core/src/files/svg.ts';
import type { Image8 } from '../../packages/core/src/raster/image.ts';
import { picture, randomFrom } from '../../packages/core/src/testing/images.ts';

export const SIDE = 1024;
const PHOTOGRAPHS = {
  bird: 'Kleiber_by_Lukas_Baubkus.jpg',
  fossa: 'Fossa_by_Jasper_Roks.jpg',
  sea: 'Infinite-Sea_by_Aury88.jpg',
  paint: 'Painting-Colors_by__herobrine7gamer.jpg',
};

export interface BenchPicture {
  name: string;
  image: Image8;
  /** Whether its alpha says anything. */
  alpha: boolean;
}

/** All the pictures; the photographs only when the package is installed. */
export async function benchPictures(): Promise<BenchPicture[]> {
  const all: BenchPicture[] = [];
  const add = (name: string, image: Image8, alpha = false) => all.push({ name, image, alpha });
  for (const [name, file] of Object.entries(PHOTOGRAPHS)) add(name, await photograph(`/usr/share/backgrounds/${file}`));
  const require = createRequire(import.meta.url);
  await startSvg(() => readFile(require.resolve('@resvg/resvg-wasm/index_bg.wasm')));
  const font = await barlow();
  add('stripes', svg(stripes()));
  add('lettering', svg(lettering(font)));
  add('fade', fade());
  add('dirt', dirt(svg(stripes())));
  add('strands', strands(), true);
  add('logos', svg(logos(font)), true);
  add('thinWhite', svg(thin(['#dc0a14', '#ffd400'], '#ffffff')));
  add('thinNavy', svg(thin(['#dc0a14', '#ffd400', '#ffffff'], '#0b1f3f')));
  add('thinClear', svg(thin(['#dc0a14', '#ffd400', '#ffffff'], null)), true);
  add('emblems', svg(emblems()), true);
  add('glows', svg(glows()), true);
  add('night', night());
  add('normal', normals());
  add('packed', packed());
  return all;
}

/** What liveries are made of, by class; see docs/texture.md. @param all the pictures of the bench, some of which are theirs */
export async function classPictures(all: readonly BenchPicture[]): Promise<(BenchPicture & { of: string })[]> {
  const font = await barlow();
  const known = (of: string, name: string) => ({ ...all.find((one) => one.name === name)!, of });
  const drawn = (of: string, name: string, text: string, alpha: boolean) => ({ of, name, image: svg(text), alpha });
  return [
    known('logos and emblems, soft over clear', 'logos'),
    known('logos and emblems, soft over clear', 'emblems'),
    drawn('logos and emblems, soft over clear', 'softLogos', sheet(blurred(1.2, marks(5, true)), null), true),
    known('coloured glows', 'glows'),
    drawn('coloured glows', 'haloes', sheet(blurred(7, marks(8, false)), null), true),
    known('lettering and strokes on white', 'thinWhite'),
    drawn('lettering and strokes on white', 'lettersWhite', letters(font, ['#dc0a14', '#ffd400'], '#ffffff'), false),
    known('lettering and strokes on navy', 'thinNavy'),
    drawn('lettering and strokes on navy', 'lettersNavy', letters(font, ['#dc0a14', '#ffd400'], '#0b1f3f'), false),
    known('lettering and strokes over clear', 'thinClear'),
    drawn('lettering and strokes over clear', 'lettersClear', letters(font, ['#dc0a14', '#ffd400'], null), true),
    drawn('decals with an outline', 'outlined', sheet(marks(3, true), null), true),
    drawn('decals with an outline', 'outlinedNavy', sheet(marks(9, true), '#0b1f3f'), false),
    known('hair', 'strands'),
    { of: 'hair', name: 'fringe', image: strands(57, [150, 112, 66]), alpha: true },
  ];
}

const barlow = async () => {
  const require = createRequire(import.meta.url);
  const file = require.resolve('@fontsource/barlow-condensed/files/barlow-condensed-latin-700-normal.woff');
  return opentype.parse(new Uint8Array(await readFile(file)).buffer);
};

async function photograph(file: string): Promise<Image8> {
  const { data, info } = await sharp(file)
    .resize(SIDE, SIDE, { fit: 'cover', kernel: 'lanczos3' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}

const sheet = (body: string, ground: string | null) =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${SIDE} ${SIDE}" width="${SIDE}" height="${SIDE}">` +
  `${ground ? `<rect width="${SIDE}" height="${SIDE}" fill="${ground}"/>` : ''}${body}</svg>`;
const svg = (text: string) => drawSvg(text, SIDE);

function stripes(): string {
  const colours = ['#e9624c', '#f4e9d8', '#123a5c', '#2f9e8f', '#f2b23e', '#111417'];
  const bands = Array.from({ length: 42 }, (_, i) => {
    const x = i * 52 - 700;
    const wide = 8 + ((i * 37) % 40);
    return `<polygon fill="${colours[(i * 5) % 6]}" points="${x},0 ${x + wide},0 ${x + wide + 300 + i * 9},1024 ${x + 300 + i * 9},1024"/>`;
  });
  return sheet(bands.join(''), '#d9dee2');
}

function words(font: opentype.Font, rows: [string, number, number, number][], fill: (i: number) => string): string {
  return rows
    .map(([text, x, y, size], i) => `<path fill="${fill(i)}" d="${font.getPath(text, x, y, size).toPathData(2)}"/>`)
    .join('');
}

function lettering(font: opentype.Font): string {
  const rows: [string, number, number, number][] = [];
  const lines = ['TERN & TIDE POST 84', 'Ebbline charter No 7', 'DANGER ROTATING FAN', 'slipway only 0123456789'];
  for (let i = 0, y = 18; y < 1010; i++) {
    const size = [14, 20, 30, 54, 90][i % 5];
    for (let x = 6; x < 1000; x += size * 9.5) rows.push([lines[((i + x) % 4) | 0], x, y, size]);
    y += size * 1.05 + 4;
  }
  return sheet(
    words(font, rows, (i) => (i % 3 ? '#dc0a14' : '#0a24dc')),
    '#ffffff',
  );
}

function logos(font: opentype.Font): string {
  const marks = Array.from({ length: 36 }, (_, i) => {
    const [x, y] = [(i % 6) * 170 + 85, Math.floor(i / 6) * 170 + 85];
    const hue = ['#e9624c', '#2f9e8f', '#f2b23e', '#ffffff', '#123a5c', '#8a2a6a'][i % 6];
    return (
      `<circle cx="${x}" cy="${y}" r="${40 + (i % 4) * 8}" fill="${hue}"/>` +
      `<path d="M${x - 30} ${y + 20} L${x} ${y - 34} L${x + 30} ${y + 20} Z" fill="#0d1b26" fill-opacity="${1 - (i % 5) * 0.15}"/>`
    );
  });
  const names = Array.from(
    { length: 24 },
    (_, i) =>
      [`No ${i * 7} WL`, (i % 4) * 256 + 12, Math.floor(i / 4) * 170 + 168, 26] as [string, number, number, number],
  );
  return sheet(marks.join('') + words(font, names, () => '#f4e9d8'), null);
}

/** Strokes of one to four texels, straight and round. */
function thin(colours: string[], ground: string | null): string {
  const line = (i: number) => `stroke="${colours[i % colours.length]}" fill="none"`;
  const straight = Array.from({ length: 220 }, (_, i) => {
    const [angle, long] = [i * 0.37, 90 + i * 2];
    const to = `l${(Math.cos(angle) * long).toFixed(2)} ${(Math.sin(angle) * long).toFixed(2)}`;
    return `<path d="M${(i * 73) % SIDE} ${(i * 131) % SIDE}${to}" stroke-width="${1 + (i % 4)}" ${line(i)}/>`;
  });
  const round = Array.from(
    { length: 90 },
    (_, i) =>
      `<circle cx="${(i * 97) % SIDE}" cy="${(i * 61) % SIDE}" r="${6 + i}" stroke-width="${1 + (i % 3)}" ${line(i)}/>`,
  );
  return sheet([...straight, ...round].join(''), ground);
}

/** Decals with an outline, soft edges over clear, and a part that shows through. */
function emblems(): string {
  return sheet(
    Array.from({ length: 100 }, (_, i) => {
      const [x, y] = [(i % 10) * 102 + 52, Math.floor(i / 10) * 102 + 52];
      const fill = ['#e9624c', '#2f9e8f', '#f2b23e', '#ffffff', '#123a5c'][i % 5];
      return (
        `<circle cx="${x}" cy="${y}" r="${26 + (i % 4) * 5}" fill="${fill}" stroke="#ffffff" stroke-width="4"/>` +
        `<path d="M${x - 18} ${y + 12}L${x} ${y - 20}L${x + 18} ${y + 12}Z" fill="#0d1b26" fill-opacity="${1 - (i % 5) * 0.15}"/>`
      );
    }).join(''),
    null,
  );
}

/** Stars, shields and rings of two colours, with an outline or without. */
function marks(seed: number, outlined: boolean): string {
  const random = randomFrom(seed);
  const colours = ['#dc0a14', '#ffd400', '#1f6fd0', '#0c8a4a', '#ffffff', '#101820', '#e9624c'];
  const any = () => colours[Math.floor(random() * colours.length)];
  return Array.from({ length: 90 }, (_, i) => {
    const [x, y, r] = [(i % 10) * 102 + 52, Math.floor(i / 10) * 113 + 58, 20 + random() * 26];
    const edge = outlined ? ` stroke="${any()}" stroke-width="${(1.5 + random() * 4).toFixed(1)}"` : '';
    const points = Array.from({ length: 10 }, (_, k) => {
      const [turn, far] = [(k * Math.PI) / 5 - Math.PI / 2, k % 2 ? r * 0.45 : r];
      return `${(x + Math.cos(turn) * far).toFixed(2)},${(y + Math.sin(turn) * far).toFixed(2)}`;
    });
    const shield = `M${x - r} ${y - r}h${2 * r}v${r}q0 ${r} ${-r} ${r * 1.2}q${-r} ${-r * 0.2} ${-r} ${-r * 1.2}z`;
    return i % 3 === 0
      ? `<polygon points="${points.join(' ')}" fill="${any()}"${edge}/>`
      : i % 3 === 1
        ? `<path d="${shield}" fill="${any()}"${edge}/><circle cx="${x}" cy="${y}" r="${r / 2}" fill="${any()}"/>`
        : `<circle cx="${x}" cy="${y}" r="${r}" fill="${any()}" fill-opacity="${(0.6 + random() * 0.4).toFixed(2)}"${edge}/>`;
  }).join('');
}

const blurred = (by: number, body: string) =>
  `<filter id="b" x="0" y="0" width="1" height="1"><feGaussianBlur stdDeviation="${by}"/></filter><g filter="url(#b)">${body}</g>`;

/** Small lettering, whose strokes are one to four texels wide. */
function letters(font: opentype.Font, colours: string[], ground: string | null): string {
  const rows: [string, number, number, number][] = [];
  for (let i = 0, y = 14; y < 1020; i++) {
    const size = [9, 12, 16, 22, 28][i % 5];
    for (let x = 4 + i * 3; x < 1000; x += size * 9) rows.push([`Race ${i * 17} TERN & Tide`, x, y, size]);
    y += size * 1.1 + 2;
  }
  return sheet(
    words(font, rows, (i) => colours[i % colours.length]),
    ground,
  );
}

function glows(): string {
  const stops = ['#ff3020', '#20d0ff', '#ffe030'].map(
    (colour, i) =>
      `<radialGradient id="g${i}"><stop stop-color="${colour}"/><stop offset="1" stop-color="${colour}" stop-opacity="0"/></radialGradient>`,
  );
  const lights = Array.from(
    { length: 100 },
    (_, i) =>
      `<circle cx="${(i % 10) * 102 + 52}" cy="${Math.floor(i / 10) * 102 + 52}" r="${30 + (i % 3) * 10}" fill="url(#g${i % 3})"/>`,
  );
  return sheet(`<defs>${stops.join('')}</defs>${lights.join('')}`, null);
}

function fade(): Image8 {
  const random = randomFrom(3);
  return picture(SIDE, SIDE, (x, y) => {
    const t = (x + y * 0.6) / (SIDE * 1.6);
    const s = y / SIDE;
    const at = (a: number, b: number, u: number) => a + (b - a) * u + random() - 0.5;
    const c = [at(18, 233, t), at(58, 98, t), at(92, 76, t)];
    const shade = 0.75 + 0.25 * Math.cos(s * 9);
    return [...c.map((v) => Math.max(0, Math.min(255, Math.round(v * shade)))), 255];
  });
}

/** Smooth noise 0..1 from a lattice of random values. */
function noise(seed: number, cell: number): (x: number, y: number) => number {
  const random = randomFrom(seed);
  const side = Math.ceil(SIDE / cell) + 2;
  const lattice = Float64Array.from({ length: side * side }, random);
  const ease = (t: number) => t * t * (3 - 2 * t);
  return (x, y) => {
    const [u, v] = [x / cell, y / cell];
    const [i, j] = [Math.floor(u), Math.floor(v)];
    const [a, b] = [ease(u - i), ease(v - j)];
    const at = (di: number, dj: number) => lattice[(j + dj) * side + i + di];
    return (at(0, 0) * (1 - a) + at(1, 0) * a) * (1 - b) + (at(0, 1) * (1 - a) + at(1, 1) * a) * b;
  };
}

function dirt(under: Image8): Image8 {
  const [coarse, middle, fine] = [noise(5, 90), noise(6, 17), noise(7, 2.3)];
  return picture(SIDE, SIDE, (x, y) => {
    const i = (y * SIDE + x) * 4;
    const much = Math.max(0, coarse(x, y) * 1.3 - 0.35) * (0.35 + 0.65 * middle(x, y)) * (0.4 + 0.9 * fine(x, y));
    const mud = [74, 61, 48];
    return [...mud.map((m, c) => Math.round(under.data[i + c] * (1 - much) + m * much)), 255];
  });
}

function strands(seed = 11, colour = [70, 46, 30]): Image8 {
  const random = randomFrom(seed);
  const image = picture(SIDE, SIDE, () => [62, 40, 26, 0]);
  for (let n = 0; n < 900; n++) {
    let x = random() * SIDE;
    const drift = (random() - 0.5) * 0.6;
    const tone = 0.5 + random();
    const from = Math.floor(random() * 400);
    const long = 250 + random() * 500;
    for (let y = from; y < Math.min(SIDE, from + long); y++) {
      x += drift + Math.sin(y / 60 + n) * 0.3;
      const fadeOut = 1 - (y - from) / long;
      for (let d = -1; d <= 1; d++) {
        const px = Math.floor(x) + d;
        if (px < 0 || px >= SIDE) continue;
        const cover = Math.max(0, 1 - Math.abs(x - px - 0.5)) * fadeOut;
        const i = (y * SIDE + px) * 4;
        const a = image.data[i + 3] / 255;
        const out = cover + a * (1 - cover);
        if (out <= 0) continue;
        colour.forEach((v, c) => {
          image.data[i + c] = Math.min(255, Math.round((v * tone * cover + image.data[i + c] * a * (1 - cover)) / out));
        });
        image.data[i + 3] = Math.round(out * 255);
      }
    }
  }
  return image;
}

function night(): Image8 {
  const [coarse, fine] = [noise(21, 60), noise(22, 3)];
  return picture(SIDE, SIDE, (x, y) => {
    const v = 4 + coarse(x, y) * 18 + fine(x, y) * 5;
    const lamp = Math.max(0, 1 - Math.hypot((x % 256) - 128, (y % 256) - 128) / 34) ** 2;
    return [Math.round(v + lamp * 190), Math.round(v * 1.1 + lamp * 150), Math.round(v * 1.5 + lamp * 70), 255];
  });
}

function height(): (x: number, y: number) => number {
  const [coarse, fine] = [noise(31, 40), noise(32, 6)];
  return (x, y) => {
    const rivet = Math.hypot((x % 64) - 32, (y % 64) - 32);
    const seam = Math.min(x % 128, 128 - (x % 128));
    return coarse(x, y) * 6 + fine(x, y) * 1.2 + (rivet < 6 ? Math.sqrt(36 - rivet * rivet) : 0) - (seam < 2 ? 3 : 0);
  };
}

function normals(): Image8 {
  const h = height();
  return picture(SIDE, SIDE, (x, y) => {
    const [dx, dy] = [(h(x + 1, y) - h(Math.max(0, x - 1), y)) * 0.4, (h(x, y + 1) - h(x, Math.max(0, y - 1))) * 0.4];
    const length = Math.sqrt(dx * dx + dy * dy + 1);
    return [-dx / length, -dy / length, 1 / length].map((v) => Math.round(v * 127.5 + 127.5)).concat(255);
  });
}

function packed(): Image8 {
  const [rough, worn] = [noise(41, 25), noise(42, 5)];
  return picture(SIDE, SIDE, (x, y) => {
    const panel = ((x >> 7) * 5 + (y >> 7) * 3) % 4;
    const metal = worn(x, y) > 0.78 ? 230 : panel === 2 ? 200 : 0;
    const seam = Math.min(x % 128, y % 128);
    const occlusion = seam < 10 ? 120 + seam * 13 : 252;
    return [occlusion, Math.round(60 + panel * 36 + rough(x, y) * 60), metal, 255];
  });
}
