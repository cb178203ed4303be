/**
 * The stand-in games' own readers of TGA (Truevision TGA 2.0 specification), PNG (W3C, PNG Specification, Third Edition) and the
 * header of JPEG (ITU-T T.81), each only as far as its game goes.
 */
import { unzlibSync } from 'fflate';
import type { BayPicture } from './report.ts';

/** A true-colour TGA of so many bits; otherwise why it is refused. */
export function readTga(
  bytes: Uint8Array,
  want: { bits: 24 | 32; width: number; height: number },
): BayPicture | string {
  if (bytes.length < 18) return 'The file ends inside its header.';
  const kind = bytes[2];
  if (bytes[1] !== 0 || (kind !== 2 && kind !== 10)) return 'The file is not a true-colour TGA.';
  const [width, height] = [bytes[12] | (bytes[13] << 8), bytes[14] | (bytes[15] << 8)];
  if (bytes[16] !== want.bits)
    return want.bits === 32
      ? `The file has ${bytes[16]} bits a texel and no alpha: hair would be a solid block.`
      : `The file has ${bytes[16]} bits a texel; this sheet has ${want.bits}.`;
  if (width !== want.width || height !== want.height)
    return `The file is ${width} x ${height}; this sheet is ${want.width} x ${want.height}.`;
  const size = want.bits / 8;
  const pixels = new Uint8Array(width * height * 4);
  const fromTop = (bytes[17] & 0x20) !== 0;
  const put = (i: number, at: number) => {
    const row = Math.floor(i / width);
    const to = ((fromTop ? row : height - 1 - row) * width + (i % width)) * 4;
    pixels[to] = bytes[at + 2];
    pixels[to + 1] = bytes[at + 1];
    pixels[to + 2] = bytes[at];
    pixels[to + 3] = size === 4 ? bytes[at + 3] : 255;
  };
  let at = 18 + bytes[0];
  const all = width * height;
  for (let i = 0; i < all;) {
    const packet = kind === 10 ? bytes[at++] : 0x7f;
    const count = kind === 10 ? (packet & 127) + 1 : all;
    const same = kind === 10 && packet > 127;
    if (i + count > all || at + (same ? size : size * count) > bytes.length)
      return 'The file ends before its picture does.';
    for (let k = 0; k < count; k++) put(i + k, same ? at : at + k * size);
    at += same ? size : size * count;
    i += count;
  }
  return { width, height, pixels };
}

const PNG = [137, 80, 78, 71, 13, 10, 26, 10];

/** A PNG with eight bits a channel and alpha; otherwise why it is refused. */
export function readPng(bytes: Uint8Array, want: { width: number; height: number }): BayPicture | string {
  if (!PNG.every((byte, i) => bytes[i] === byte)) return 'The file is not a PNG.';
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const parts: Uint8Array[] = [];
  let header: { width: number; height: number; bits: number; kind: number; interlaced: number } | null = null;
  let ended = false;
  for (let at = 8; at + 12 <= bytes.length && !ended;) {
    const length = view.getUint32(at);
    const kind = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (at + 12 + length > bytes.length) break;
    const body = bytes.subarray(at + 8, at + 8 + length);
    if (kind === 'IHDR')
      header = {
        width: view.getUint32(at + 8),
        height: view.getUint32(at + 12),
        bits: body[8],
        kind: body[9],
        interlaced: body[12],
      };
    if (kind === 'IDAT') parts.push(body);
    ended = kind === 'IEND';
    at += 12 + length;
  }
  if (!header || !ended) return 'The file ends before its picture does.';
  const { width, height } = header;
  if (header.bits !== 8 || header.kind !== 6)
    return `The file has ${header.bits} bits a channel and ${header.kind === 6 ? '' : 'no '}alpha; the game wants eight with alpha.`;
  if (header.interlaced !== 0) return 'The file is interlaced, which the game does not read.';
  if (width !== want.width || height !== want.height)
    return `The file is ${width} x ${height}; this skin is ${want.width} x ${want.height}.`;
  const packed = new Uint8Array(parts.reduce((n, part) => n + part.length, 0));
  let to = 0;
  for (const part of parts) {
    packed.set(part, to);
    to += part.length;
  }
  const line = width * 4;
  let raw: Uint8Array;
  try {
    raw = unzlibSync(packed, { out: new Uint8Array((line + 1) * height) });
  } catch {
    return 'The file is damaged inside.';
  }
  return { width, height, pixels: unfiltered(raw, line, height) };
}

/** The five filters of PNG undone ("9 Filtering"). */
function unfiltered(raw: Uint8Array, line: number, height: number): Uint8Array {
  const out = new Uint8Array(line * height);
  for (let y = 0; y < height; y++) {
    const filter = raw[y * (line + 1)];
    for (let x = 0; x < line; x++) {
      const to = y * line + x;
      const left = x >= 4 ? out[to - 4] : 0;
      const up = y > 0 ? out[to - line] : 0;
      const corner = x >= 4 && y > 0 ? out[to - line - 4] : 0;
      const [a, b, c] = [Math.abs(up - corner), Math.abs(left - corner), Math.abs(left + up - 2 * corner)];
      const paeth = a <= b && a <= c ? left : b <= c ? up : corner;
      out[to] = raw[y * (line + 1) + 1 + x] + [0, left, up, (left + up) >> 1, paeth][filter];
    }
  }
  return out;
}

/** Width and height of a JPEG; null when it is none. */
export function jpegSize(bytes: Uint8Array): { width: number; height: number } | null {
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) return null;
  for (let at = 2; at + 9 < bytes.length;) {
    if (bytes[at] !== 0xff) return null;
    const marker = bytes[at + 1];
    // Start of a frame, but for the three markers of its range that are something else.
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      return { height: (bytes[at + 5] << 8) | bytes[at + 6], width: (bytes[at + 7] << 8) | bytes[at + 8] };
    at += 2 + ((bytes[at + 2] << 8) | bytes[at + 3]);
  }
  return null;
}
