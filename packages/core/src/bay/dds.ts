/**
 * The stand-in games' own reader of DDS textures, apart from the product's, from the published descriptions: "Programming Guide for
 * DDS" and "Block Compression (Direct3D 10)" of Microsoft's documentation. BC7 is in bc7Reader.ts.
 */
import { readBc7 } from './bc7Reader.ts';
import { missingPattern } from './pattern.ts';
import type { BayPicture, BaySheet } from './report.ts';

export interface Wanted {
  /** BGRA8: not compressed, 32 bits with alpha in the upper eight. */
  format: 'BC1' | 'BC3' | 'BC7' | 'BGRA8';
  header: 'legacy' | 'DX10';
  /** Left out: any. */
  width?: number;
  height?: number;
  /** The game turns pictures over after reading them. */
  upsideDown?: boolean;
}

const CODE = { BC1: 'DXT1', BC3: 'DXT5', BC7: 'DX10', BGRA8: 'none' } as const;
const NAMES: Readonly<Record<string, string>> = { DXT1: 'BC1', DXT3: 'BC2', DXT5: 'BC3' };
const BLOCK = { BC1: 8, BC3: 16, BC7: 16, BGRA8: 0 } as const;
/** Bits of red, green, blue and alpha in each texel's word, from byte 92 of the file on. */
const MASKS = [0xff0000, 0xff00, 0xff, 0xff000000];

const LARGEST = 16384;

export interface Read {
  levels: BayPicture[];
}

/** All levels of a texture that is just as the game wants it; otherwise why it is refused. */
export function readDds(bytes: Uint8Array, want: Wanted): Read | string {
  const headerBytes = want.header === 'DX10' ? 148 : 128;
  if (bytes.length < 128) return 'The file ends inside its header.';
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const word = (at: number) => view.getUint32(at, true);
  const text = (at: number) => String.fromCharCode(bytes[at], bytes[at + 1], bytes[at + 2], bytes[at + 3]);
  if (text(0) !== 'DDS ' || word(4) !== 124 || word(76) !== 32) return 'The file is not a DDS texture.';
  const code = (word(80) & 4) !== 0 ? text(84) : 'none';
  if (want.header === 'DX10') {
    if (code !== 'DX10') return 'The file has the legacy header; the game reads only the DX10 header.';
    if (bytes.length < 148) return 'The file ends inside its header.';
    const dxgi = word(128);
    if (dxgi === 98) return 'The file is BC7 linear, and the game wants BC7 sRGB: it would look washed out.';
    if (dxgi !== 99) return `The file is not BC7 sRGB (its DXGI format is ${dxgi}, not 99).`;
  } else if (code === 'DX10') return 'The file has the DX10 header; the game reads only the legacy one.';
  else if (want.format === 'BGRA8') {
    if (code !== 'none')
      return `The file is ${NAMES[code] ?? `of the kind "${code}"`}, and the game wants plain texels.`;
    if (word(88) !== 32) return `The file has ${word(88)} bits a texel; the game wants 32.`;
    if (MASKS.some((mask, i) => word(92 + i * 4) !== mask))
      return 'The file’s channels are not in the order blue, green, red, alpha.';
  } else if (code === 'none') return `The file is not compressed, and the game wants ${want.format}.`;
  else if (code !== CODE[want.format])
    return `The file is ${NAMES[code] ?? `of the kind "${code}"`}, and the game wants ${want.format}.`;
  const [height, width] = [word(12), word(16)];
  if (width === 0 || height === 0 || width > LARGEST || height > LARGEST)
    return `The file is ${width} x ${height}; no texture is.`;
  if (width !== (want.width ?? width) || height !== (want.height ?? height))
    return `The file is ${width} x ${height}; this sheet is ${want.width} x ${want.height}.`;
  const count = Math.floor(Math.log2(Math.max(width, height))) + 1;
  const said = Math.max(1, word(28));
  if (said !== count) return `The file has ${said} mip levels; ${count} are needed, or the sheet shimmers far away.`;
  const sizes = Array.from({ length: count }, (_, l) => [Math.max(1, width >> l), Math.max(1, height >> l)] as const);
  const plain = want.format === 'BGRA8';
  const bytesOf = ([w, h]: readonly [number, number]) =>
    plain ? w * h * 4 : Math.ceil(w / 4) * Math.ceil(h / 4) * BLOCK[want.format];
  const needed = headerBytes + sizes.reduce((n, size) => n + bytesOf(size), 0);
  if (bytes.length !== needed) return `The file has ${bytes.length} bytes where its header asks for ${needed}.`;
  let at = headerBytes;
  const levels = sizes.map(([w, h]) => {
    const part = bytes.subarray(at, at + bytesOf([w, h]));
    at += part.length;
    const pixels = plain
      ? swapped(part)
      : want.format === 'BC7'
        ? readBc7(part, w, h)
        : readBlocks(part, w, h, want.format === 'BC3');
    return { width: w, height: h, pixels: want.upsideDown ? turnedOver(pixels, w, h) : pixels };
  });
  return { levels };
}

/** Blue and red change places. */
function swapped(bytes: Uint8Array): Uint8Array {
  const out = bytes.slice();
  for (let i = 0; i < out.length; i += 4) {
    out[i] = bytes[i + 2];
    out[i + 2] = bytes[i];
  }
  return out;
}

function turnedOver(pixels: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(pixels.length);
  for (let y = 0; y < height; y++)
    out.set(pixels.subarray(y * width * 4, (y + 1) * width * 4), (height - 1 - y) * width * 4);
  return out;
}

/** BC1, or BC3 whose colours always have four steps and whose alpha lies before them. */
function readBlocks(bytes: Uint8Array, width: number, height: number, bc3: boolean): Uint8Array {
  const out = new Uint8Array(width * height * 4);
  const texels = new Uint32Array(out.buffer);
  const across = Math.ceil(width / 4);
  const size = bc3 ? 16 : 8;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const colours = new Uint8Array(16);
  const words = new Uint32Array(colours.buffer);
  const alphas = new Uint8Array(8);
  for (let block = 0, start = 0; start < bytes.length; block++, start += size) {
    const colourAt = start + (bc3 ? 8 : 0);
    const c0 = bytes[colourAt] | (bytes[colourAt + 1] << 8);
    const c1 = bytes[colourAt + 2] | (bytes[colourAt + 3] << 8);
    palette(colours, c0, c1, bc3 || c0 > c1);
    if (bc3) steps(alphas, bytes[start], bytes[start + 1]);
    let bits = view.getUint32(colourAt + 4, true);
    const left = (block % across) * 4;
    const top = Math.floor(block / across) * 4;
    for (let y = 0; y < 4; y++) {
      const row = (top + y) * width + left;
      // Sixteen numbers of three bits, eight to each half; twelve bits a row.
      const at = start + 2 + (y >> 1) * 3;
      const half = bc3 ? bytes[at] | (bytes[at + 1] << 8) | (bytes[at + 2] << 16) : 0;
      for (let x = 0; x < 4; x++, bits >>>= 2) {
        if (left + x >= width || top + y >= height) continue;
        const colour = words[bits & 3];
        const alpha = alphas[(half >> ((y & 1) * 12 + x * 3)) & 7];
        texels[row + x] = bc3 ? ((colour & 0xffffff) | (alpha << 24)) >>> 0 : colour;
      }
    }
  }
  return out;
}

function palette(out: Uint8Array, c0: number, c1: number, four: boolean): void {
  ends(out, 0, c0);
  ends(out, 4, c1);
  for (let c = 0; c < 3; c++) {
    const [a, b] = [out[c], out[4 + c]];
    out[8 + c] = four ? Math.round((2 * a + b) / 3) : Math.round((a + b) / 2);
    out[12 + c] = four ? Math.round((a + 2 * b) / 3) : 0;
  }
  out[3] = out[7] = out[11] = 255;
  out[15] = four ? 255 : 0;
}

/** Five and six bits brought to eight by repeating the upper ones: the nearest of the 256 values, or its neighbour. */
function ends(out: Uint8Array, at: number, colour: number): void {
  const r = colour >> 11;
  const g = (colour >> 5) & 63;
  const b = colour & 31;
  out[at] = (r << 3) | (r >> 2);
  out[at + 1] = (g << 2) | (g >> 4);
  out[at + 2] = (b << 3) | (b >> 2);
}

function steps(out: Uint8Array, a0: number, a1: number): void {
  [out[0], out[1]] = [a0, a1];
  const between = a0 > a1 ? 6 : 4;
  for (let k = 1; k <= between; k++) out[1 + k] = Math.round(((between + 1 - k) * a0 + k * a1) / (between + 1));
  if (between === 4) [out[6], out[7]] = [0, 255];
}

/** A sheet that is not shown, and what is shown in its place. */
export const notShown = (key: string, file: string, status: 'own' | 'missing' | 'refused', why: string): BaySheet => ({
  key,
  file,
  status,
  why,
  levels: [],
  ...missingPattern(),
});

export function shownSheet(key: string, file: string, [first, ...levels]: readonly BayPicture[], why = ''): BaySheet {
  return { key, file, status: 'shown', why, levels, ...first };
}

/** A sheet from its file, or why it is not shown. */
export function ddsSheet(key: string, file: string, bytes: Uint8Array, want: Wanted): BaySheet {
  const read = readDds(bytes, want);
  return typeof read === 'string' ? notShown(key, file, 'refused', read) : shownSheet(key, file, read.levels);
}
