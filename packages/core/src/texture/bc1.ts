import { LineFit } from './block.ts';

/** BC1 colour blocks (Khronos Data Format Specification 1.3, section 18.1; Direct3D 11 functional specification, 19.5.3). */
const fit = new LineFit();
const palette = new Int32Array(16);
const weight = new Float64Array(16);
const indices = new Uint8Array(16);
const bestIndices = new Uint8Array(16);

const to565 = (r: number, g: number, b: number) => {
  const q = (v: number, top: number) =>
    Math.max(0, Math.min(top, Math.floor((Math.max(0, Math.min(255, v)) * top) / 255 + 0.5)));
  return (q(r, 31) << 11) | (q(g, 63) << 5) | q(b, 31);
};

function expand(colour: number, out: Int32Array, at: number): void {
  const [r, g, b] = [colour >> 11, (colour >> 5) & 63, colour & 31];
  out[at] = (r << 3) | (r >> 2);
  out[at + 1] = (g << 2) | (g >> 4);
  out[at + 2] = (b << 3) | (b >> 2);
  out[at + 3] = 255;
}

/** Fills the palette for two 565 colours. @param three whether colour 0 <= colour 1 means three colours and clear */
function fillPalette(c0: number, c1: number, three: boolean): void {
  expand(c0, palette, 0);
  expand(c1, palette, 4);
  const short = three && c0 <= c1;
  for (let c = 0; c < 3; c++) {
    const [a, b] = [palette[c], palette[4 + c]];
    palette[8 + c] = short ? (a + b) >> 1 : Math.floor((2 * a + b + 1) / 3);
    palette[12 + c] = short ? 0 : Math.floor((a + 2 * b + 1) / 3);
  }
  palette[11] = 255;
  palette[15] = short ? 0 : 255;
}

/** For each 8-bit value, the pair of 5-bit (or 6-bit) ends whose two-thirds mix comes nearest, the closer pair first. */
function flatTable(bits: 5 | 6): Uint8Array {
  const top = (1 << bits) - 1;
  const wide = (v: number) => (bits === 5 ? (v << 3) | (v >> 2) : (v << 2) | (v >> 4));
  const table = new Uint8Array(512);
  for (let value = 0; value < 256; value++) {
    let least = Infinity;
    for (let a = 0; a <= top; a++) {
      for (let b = 0; b <= top; b++) {
        const cost = Math.abs(Math.floor((2 * wide(a) + wide(b) + 1) / 3) - value) * 256 + Math.abs(a - b);
        if (cost < least) {
          least = cost;
          table[value * 2] = a;
          table[value * 2 + 1] = b;
        }
      }
    }
  }
  return table;
}
const FLAT_5 = flatTable(5);
const FLAT_6 = flatTable(6);

/**
 * Encodes RGB of 16 texels into 8 bytes at `out[at]`, always as four opaque colours.
 * @param rounds of least-squares refinement
 */
export function encodeBc1Block(block: Uint8Array, out: Uint8Array, at: number, rounds: number): void {
  let flat = true;
  for (let i = 4; i < 64; i++) if ((i & 3) !== 3 && block[i] !== block[i & 3]) flat = false;
  if (flat) {
    const [r, g, b] = [block[0] * 2, block[1] * 2, block[2] * 2];
    const c0 = (FLAT_5[r] << 11) | (FLAT_6[g] << 5) | FLAT_5[b];
    const c1 = (FLAT_5[r + 1] << 11) | (FLAT_6[g + 1] << 5) | FLAT_5[b + 1];
    // Index 2 is two thirds of colour 0; with the colours the other way round that mix is index 3.
    write(out, at, Math.max(c0, c1), Math.min(c0, c1), c0 === c1 ? 0 : c0 > c1 ? 0xaaaaaaaa : 0xffffffff);
    return;
  }
  fit.fit(block, 3, null, 0);
  let best = Infinity;
  let bestHigh = 0;
  let bestLow = 0;
  for (let round = 0; round <= rounds; round++) {
    let c0 = to565(fit.high[0], fit.high[1], fit.high[2]);
    let c1 = to565(fit.low[0], fit.low[1], fit.low[2]);
    if (c0 < c1) [c0, c1] = [c1, c0];
    if (c0 === c1) {
      if (c1 > 0) c1--;
      else c0++;
    }
    fillPalette(c0, c1, false);
    let error = 0;
    for (let i = 0; i < 16; i++) {
      let least = 1e9;
      for (let k = 0; k < 4; k++) {
        const dr = block[i * 4] - palette[k * 4];
        const dg = block[i * 4 + 1] - palette[k * 4 + 1];
        const db = block[i * 4 + 2] - palette[k * 4 + 2];
        const d = dr * dr + dg * dg + db * db;
        if (d < least) {
          least = d;
          indices[i] = k;
        }
      }
      error += least;
      weight[i] = indices[i] === 0 ? 1 : indices[i] === 1 ? 0 : indices[i] === 2 ? 2 / 3 : 1 / 3;
    }
    if (error >= best) break;
    best = error;
    bestHigh = c0;
    bestLow = c1;
    bestIndices.set(indices);
    if (error === 0 || !fit.solve(block, 3, null, 0, weight)) break;
  }
  let bits = 0;
  for (let i = 0; i < 16; i++) bits |= bestIndices[i] << (i * 2);
  write(out, at, bestHigh, bestLow, bits >>> 0);
}

function write(out: Uint8Array, at: number, c0: number, c1: number, bits: number): void {
  out[at] = c0;
  out[at + 1] = c0 >> 8;
  out[at + 2] = c1;
  out[at + 3] = c1 >> 8;
  for (let i = 0; i < 4; i++) out[at + 4 + i] = bits >>> (i * 8);
}

/** Decodes 8 bytes into RGBA8 of 16 texels. @param three false inside BC2 and BC3, where all blocks have four colours */
export function decodeBc1Block(source: Uint8Array, at: number, out: Uint8Array, three: boolean): void {
  fillPalette(source[at] | (source[at + 1] << 8), source[at + 2] | (source[at + 3] << 8), three);
  for (let i = 0; i < 16; i++) {
    const k = (source[at + 4 + (i >> 2)] >> ((i & 3) * 2)) & 3;
    for (let c = 0; c < 4; c++) out[i * 4 + c] = palette[k * 4 + c];
  }
}
