/**
 * Palettes as files and out of pictures. Read: lists of hex values, one a line, and the Design Tokens Format Module of the W3C
 * Design Tokens Community Group (2025.10; https://www.designtokens.org/tr/2025.10/format/, colours:
 * https://www.designtokens.org/tr/2025.10/color/). Written: both.
 */
import { InputError } from '../errors.ts';
import { hexOfRgb } from './hex.ts';
import { distanceSquared, encode, oklabInto, rgbOfOklab, type Oklab } from './oklab.ts';

export interface PaletteColour {
  name: string;
  /** `#rrggbb`, sRGB. */
  hex: string;
}

const NAME = 60;
const tidy = (name: string, hex: string) => name.replace(/\s+/g, ' ').trim().slice(0, NAME) || hex;

/** Reads a palette. @throws InputError when it holds no colour, or a token that cannot be read */
export function readPalette(text: string): PaletteColour[] {
  const found = /^\s*[{[]/.test(text) ? ofTokens(text) : ofLines(text);
  if (found.length === 0) throw new InputError('There is no colour in this file.');
  return found;
}

/** A hex value somewhere in the line; the rest of it is the name. */
function ofLines(text: string): PaletteColour[] {
  return text.split(/\r\n|[\r\n]/).flatMap((line) => {
    // Without the sign it takes six digits, one of them 0 to 9: "facade" is a word.
    const match =
      /#([0-9a-f]{8}|[0-9a-f]{6}|[0-9a-f]{3})(?!\w)/i.exec(line) ??
      /(?<!\w)((?=[a-f]*\d)[0-9a-f]{6})(?!\w)/i.exec(line);
    if (!match) return [];
    const digits = match[1].length === 3 ? match[1].replace(/./g, '$&$&') : match[1].slice(0, 6);
    const hex = `#${digits.toLowerCase()}`;
    const rest = (line.slice(0, match.index) + ' ' + line.slice(match.index + match[0].length))
      .replace(/^[\s;,/*:=\-"']+|[\s;,/*:=\-"']+$/g, '')
      .replace(/["']/g, '');
    return [{ name: tidy(rest, hex), hex }];
  });
}

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

function ofTokens(text: string): PaletteColour[] {
  let root: unknown;
  try {
    root = JSON.parse(text);
  } catch {
    throw new InputError('This palette is not JSON: it is damaged or cut off.');
  }
  if (Array.isArray(root)) return ofLines(root.filter((one) => typeof one === 'string').join('\n'));
  const all: PaletteColour[] = [];
  const walk = (node: Json, path: string[], type: unknown, depth: number) => {
    if (depth > 32) throw new InputError('This palette nests its groups more than 32 deep.');
    const own = node.$type ?? type;
    if ('$value' in node) {
      if (own === 'color') {
        const hex = valueOf(node.$value, root as Json, path.join('.'), 0);
        all.push({ name: tidy(path.join(' '), hex), hex });
      }
      return;
    }
    for (const [key, child] of Object.entries(node))
      if (!key.startsWith('$') && isObject(child)) walk(child, [...path, key], own, depth + 1);
  };
  if (isObject(root)) walk(root, [], undefined, 0);
  return all;
}

/** The hex value of a token, through references to others. */
function valueOf(value: unknown, root: Json, path: string, hops: number): string {
  if (hops > 16) throw new InputError(`${path}: its references go round in a circle.`);
  if (typeof value === 'string') {
    const reference = /^\{(.+)\}$/.exec(value);
    if (reference) {
      let node: unknown = root;
      for (const key of reference[1].split('.')) node = isObject(node) ? node[key] : undefined;
      if (!isObject(node) || !('$value' in node))
        throw new InputError(`${path} refers to ${reference[1]}, which is not there.`);
      return valueOf(node.$value, root, path, hops + 1);
    }
    // The form of the drafts before 2025: a hex value, with or without alpha.
    const hex = /^#([0-9a-f]{6})([0-9a-f]{2})?$/i.exec(value);
    if (hex) return `#${hex[1].toLowerCase()}`;
  }
  if (isObject(value)) {
    const hex = ofComponents(value) ?? (typeof value.hex === 'string' ? /^#[0-9a-f]{6}$/i.exec(value.hex)?.[0] : null);
    if (hex) return hex.toLowerCase();
  }
  throw new InputError(`${path}: its colour cannot be read.`);
}

/** Colour spaces of which we know the way to sRGB; null: another one. */
function ofComponents({ colorSpace, components }: Json): string | null {
  if (!Array.isArray(components) || components.length !== 3) return null;
  // A component can be "none", which counts as nothing.
  const [a, b, c] = components.map((v) => (typeof v === 'number' && Number.isFinite(v) ? v : 0));
  const hex = (rgb: readonly number[]) =>
    hexOfRgb(rgb.map((v) => Math.round(Math.min(1, Math.max(0, v)) * 255)) as [number, number, number]);
  const turn = (c * Math.PI) / 180;
  switch (colorSpace) {
    case 'srgb':
      return hex([a, b, c]);
    case 'srgb-linear':
      return hex([encode(a), encode(b), encode(c)]);
    case 'oklab':
      return hex(rgbOfOklab([a, b, c]));
    case 'oklch':
      return hex(rgbOfOklab([a, b * Math.cos(turn), b * Math.sin(turn)]));
    default:
      return null;
  }
}

/** One colour a line: value, then name. */
export const writeHexList = (colours: readonly PaletteColour[]): string =>
  colours.map(({ name, hex }) => `${hex} ${name}\n`).join('');

/** Design tokens, one group; names that a token cannot have are written with what it can. */
export function writeTokens(colours: readonly PaletteColour[]): string {
  const group: Record<string, unknown> = { $type: 'color' };
  for (const { name, hex } of colours) {
    // Names cannot begin with $, nor hold a dot or braces (Design Tokens Format Module, "Character restrictions").
    const plain = name.replace(/[{}.]/g, ' ').replace(/^\$+/, '').trim() || hex.slice(1);
    let key = plain;
    for (let n = 2; key in group; n++) key = `${plain} ${n}`;
    const components = [1, 3, 5].map((i) => Number((Number.parseInt(hex.slice(i, i + 2), 16) / 255).toFixed(6)));
    group[key] = { $value: { colorSpace: 'srgb', components, alpha: 1, hex } };
  }
  return `${JSON.stringify({ scheme: group }, null, 2)}\n`;
}

/** Straight RGBA8. */
interface Pixels {
  width: number;
  height: number;
  data: Uint8Array;
}

/** Texels that a picture's palette is taken from, at most. */
const SAMPLES = 40000;

/**
 * The colours that a picture is made of, the most common first: clusters in OKLab, where equal distances look about equal
 * (k-means after Lloyd, "Least squares quantization in PCM", 1982; first centres as far apart as can be).
 * @param count how many at most; fewer when the picture has fewer
 */
export function paletteOf(image: Pixels, count: number): { hex: string; share: number }[] {
  const stride = Math.max(1, Math.floor(Math.sqrt((image.width * image.height) / SAMPLES)));
  const points: Oklab[] = [];
  for (let y = stride >> 1; y < image.height; y += stride) {
    for (let x = stride >> 1; x < image.width; x += stride) {
      const i = (y * image.width + x) * 4;
      if (image.data[i + 3] < 128) continue;
      const lab: Oklab = [0, 0, 0];
      oklabInto(image.data[i] / 255, image.data[i + 1] / 255, image.data[i + 2] / 255, lab);
      points.push(lab);
    }
  }
  if (points.length === 0) return [];
  const mean = (of: readonly Oklab[]): Oklab =>
    of.reduce((sum, p) => [sum[0] + p[0], sum[1] + p[1], sum[2] + p[2]], [0, 0, 0]).map((v) => v / of.length) as Oklab;
  // Each next centre is the point that is furthest from those so far.
  const distance = points.map((p) => distanceSquared(p, mean(points)));
  const centres: Oklab[] = [];
  while (centres.length < count) {
    let next = 0;
    if (centres.length === 0) {
      for (let i = 0; i < points.length; i++) if (distance[i] < distance[next]) next = i;
      distance.fill(Infinity);
    } else for (let i = 0; i < points.length; i++) if (distance[i] > distance[next]) next = i;
    if (centres.length > 0 && distance[next] < 4e-4) break;
    centres.push(points[next]);
    for (let i = 0; i < points.length; i++)
      distance[i] = Math.min(distance[i], distanceSquared(points[i], points[next]));
  }
  const home = new Int32Array(points.length);
  for (let round = 0; round < 24; round++) {
    let moved = false;
    for (let i = 0; i < points.length; i++) {
      let best = 0;
      for (let k = 1; k < centres.length; k++)
        if (distanceSquared(points[i], centres[k]) < distanceSquared(points[i], centres[best])) best = k;
      if (home[i] !== best || round === 0) moved = true;
      home[i] = best;
    }
    if (!moved) break;
    for (let k = 0; k < centres.length; k++) {
      const own = points.filter((_, i) => home[i] === k);
      if (own.length > 0) centres[k] = mean(own);
    }
  }
  return centres
    .map((centre, k) => ({
      hex: hexOfRgb(rgbOfOklab(centre).map((v) => Math.round(v * 255)) as [number, number, number]),
      share: home.reduce((n, at) => n + (at === k ? 1 : 0), 0) / points.length,
    }))
    .filter(({ share }) => share > 0)
    .sort((a, b) => b.share - a.share);
}
