/** What a layer looks like in a plane of its own, drawn piece by piece as fine as it is looked at, and kept. */
import { newTile, scoped } from '../raster/arena.ts';
import type { Footprint } from '../projectors/projection.ts';
import type { Region } from './kind.ts';

/** Samples along a side of a piece, and of those squares within it of which it is known whether they are of one texel. */
const SIDE = 256;
const SQUARE = 32;
const SQUARES = SIDE / SQUARE;

/** Samples along either side of a texel's footprint that are looked at, at most. */
const MOST_LOOKS = 8;
/** Bytes of pieces that are kept, of all pictures: half a MiB each, an eighth where they are of one colour, nothing where of one texel. */
const BUDGET = 96 * 2 ** 20;
/** Squares that are looked at to find whether a box is of one texel. */
const MOST_SQUARES = 64;
/** The finest and the coarsest of them: units of the plane to a sample, as powers of two. */
const [FINEST, COARSEST] = [-8, 24];
/** Numbers of pieces run within this to either side. */
const REACH = 2 ** 20;

/** 16-bit premultiplied RGBA. */
type Texel = readonly [number, number, number, number];

interface Piece {
  /** SIDE x SIDE texels, or alphas alone where all is of one colour; null: it is `even` all over. */
  texels: Uint16Array | null;
  /** The colour of alphas: what one of 1 has of it, 0..1. */
  colour: readonly [number, number, number] | null;
  even: Texel;
  /** 1 for each square that is of one texel. */
  flat: Uint8Array;
}

/** Pieces of all pictures in the order in which they were made; the oldest go first. */
const kept: { pieces: Map<number, Piece>; key: number; bytes: number }[] = [];
let keptBytes = 0;

/** Draws a region of the plane into zeroed 16-bit premultiplied RGBA. */
export type DrawPlane = (region: Region, out: Uint16Array) => void;

export class PlanePicture {
  private readonly pieces = new Map<number, Piece>();
  private level = 0;
  private step = 1;
  private across = 1;
  private down = 1;
  /** The piece that was looked at last. */
  private piece: Piece | null = null;
  private pieceX = 0;
  private pieceY = 0;

  constructor(private readonly draw: DrawPlane) {}

  /** Within so much of an edge of the plane its other end may be seen, units. */
  get hair(): number {
    return this.step;
  }

  /** Begins with samples of about such a footprint: how fine to look, and how often. */
  look({ rightU, rightV, downU, downV }: Footprint): void {
    const right = Math.sqrt(rightU * rightU + rightV * rightV);
    const down = Math.sqrt(downU * downU + downV * downV);
    const longer = Math.max(right, down);
    const shorter = longer > 0 ? Math.abs(rightU * downV - rightV * downU) / longer : 0;
    const finest = Math.floor(Math.log2(Math.max(shorter / 1.5, 1e-9)));
    const coarsest = Math.ceil(Math.log2(Math.max(longer / MOST_LOOKS, 1e-9)));
    const level = Math.min(COARSEST, Math.max(FINEST, finest, coarsest));
    if (level !== this.level) this.piece = null;
    this.level = level;
    this.step = 2 ** level;
    this.across = Math.min(MOST_LOOKS, Math.max(1, Math.ceil(right / this.step - 0.01)));
    this.down = Math.min(MOST_LOOKS, Math.max(1, Math.ceil(down / this.step - 0.01)));
  }

  /** The one texel that is all over a box of the plane, as fine as `look` said; null: it is not known that there is one. */
  over(left: number, top: number, right: number, bottom: number): Texel | null {
    const by = 1 / this.step;
    const x0 = Math.floor(left * by - 1);
    const y0 = Math.floor(top * by - 1);
    const x1 = Math.ceil(right * by);
    const y1 = Math.ceil(bottom * by);
    if (((x1 >> 5) - (x0 >> 5) + 1) * ((y1 >> 5) - (y0 >> 5) + 1) > MOST_SQUARES) return null;
    let found: Texel | null = null;
    for (let y = y0 >> 5; y <= y1 >> 5; y++)
      for (let x = x0 >> 5; x <= x1 >> 5; x++) {
        const piece = this.pieceAt(x >> 3, y >> 3);
        const square = (y & (SQUARES - 1)) * SQUARES + (x & (SQUARES - 1));
        let texel: Texel = piece.even;
        if (piece.texels) {
          if (!piece.flat[square]) return null;
          texel = texelAt(piece, piece.texels, (y & (SQUARES - 1)) * SQUARE * SIDE + (x & (SQUARES - 1)) * SQUARE);
        }
        if (!found) found = texel;
        else for (let c = 0; c < 4; c++) if (found[c] !== texel[c]) return null;
      }
    return found;
  }

  /** The mean over a footprint: premultiplied RGBA of 0..65535, into `out`. */
  mean(foot: Footprint, out: Float64Array): void {
    const { u, v, rightU, rightV, downU, downV, round } = foot;
    const by = 1 / this.step;
    const { across, down } = this;
    let r = 0;
    let g = 0;
    let b = 0;
    let a = 0;
    for (let j = 0; j < down; j++) {
      const q = (j + 0.5) / down - 0.5;
      for (let i = 0; i < across; i++) {
        const p = (i + 0.5) / across - 0.5;
        let pu = u + rightU * p + downU * q;
        if (round > 0) pu -= Math.floor(pu / round) * round;
        const x = pu * by - 0.5;
        const y = (v + rightV * p + downV * q) * by - 0.5;
        const x0 = Math.floor(x);
        const y0 = Math.floor(y);
        const fx = x - x0;
        const fy = y - y0;
        const lx = x0 & (SIDE - 1);
        const ly = y0 & (SIDE - 1);
        if (lx < SIDE - 1 && ly < SIDE - 1) {
          const piece = this.pieceAt(x0 >> 8, y0 >> 8);
          const { texels } = piece;
          if (!texels) {
            const { even } = piece;
            r += even[0];
            g += even[1];
            b += even[2];
            a += even[3];
            continue;
          }
          const w11 = fx * fy;
          const w10 = fx - w11;
          const w01 = fy - w11;
          const w00 = 1 - fx - w01;
          const { colour } = piece;
          if (colour) {
            const o = ly * SIDE + lx;
            const alpha = texels[o] * w00 + texels[o + 1] * w10 + texels[o + SIDE] * w01 + texels[o + SIDE + 1] * w11;
            r += alpha * colour[0];
            g += alpha * colour[1];
            b += alpha * colour[2];
            a += alpha;
            continue;
          }
          const o = (ly * SIDE + lx) * 4;
          const below = o + SIDE * 4;
          r += texels[o] * w00 + texels[o + 4] * w10 + texels[below] * w01 + texels[below + 4] * w11;
          g += texels[o + 1] * w00 + texels[o + 5] * w10 + texels[below + 1] * w01 + texels[below + 5] * w11;
          b += texels[o + 2] * w00 + texels[o + 6] * w10 + texels[below + 2] * w01 + texels[below + 6] * w11;
          a += texels[o + 3] * w00 + texels[o + 7] * w10 + texels[below + 3] * w01 + texels[below + 7] * w11;
          continue;
        }
        for (let k = 0; k < 4; k++) {
          const tx = x0 + (k & 1);
          const ty = y0 + (k >> 1);
          const w = (k & 1 ? fx : 1 - fx) * (k >> 1 ? fy : 1 - fy);
          const piece = this.pieceAt(tx >> 8, ty >> 8);
          const texel = piece.texels
            ? texelAt(piece, piece.texels, (ty & (SIDE - 1)) * SIDE + (tx & (SIDE - 1)))
            : piece.even;
          r += texel[0] * w;
          g += texel[1] * w;
          b += texel[2] * w;
          a += texel[3] * w;
        }
      }
    }
    const share = 1 / (across * down);
    out[0] = r * share;
    out[1] = g * share;
    out[2] = b * share;
    out[3] = a * share;
  }

  private pieceAt(x: number, y: number): Piece {
    if (this.piece !== null && x === this.pieceX && y === this.pieceY) return this.piece;
    const key = ((this.level - FINEST) * 2 * REACH + x + REACH) * 2 * REACH + y + REACH;
    let found = this.pieces.get(key);
    if (!found) {
      found = this.make(x, y);
      this.pieces.set(key, found);
      if (found.texels) {
        kept.push({ pieces: this.pieces, key, bytes: found.texels.byteLength });
        keptBytes += found.texels.byteLength;
        for (let first = kept[0]; keptBytes > BUDGET && kept.length > 1; first = kept[0]) {
          first.pieces.delete(first.key);
          keptBytes -= first.bytes;
          kept.shift();
        }
      }
    }
    this.pieceX = x;
    this.pieceY = y;
    return (this.piece = found);
  }

  private make(x: number, y: number): Piece {
    const { step } = this;
    return scoped(() => {
      const out = newTile(SIDE * SIDE * 4).fill(0);
      this.draw({ x: x * SIDE * step, y: y * SIDE * step, width: SIDE, height: SIDE, step }, out);
      const flat = new Uint8Array(SQUARES * SQUARES);
      let all = true;
      for (let k = 0; k < flat.length; k++) {
        flat[k] = isFlat(out, (k % SQUARES) * SQUARE, Math.floor(k / SQUARES) * SQUARE) ? 1 : 0;
        const o = (Math.floor(k / SQUARES) * SQUARE * SIDE + (k % SQUARES) * SQUARE) * 4;
        if (!flat[k] || [0, 1, 2, 3].some((c) => out[o + c] !== out[c])) all = false;
      }
      const even: Texel = [out[0], out[1], out[2], out[3]];
      if (all) return { texels: null, colour: null, even, flat };
      const colour = colourOf(out);
      if (!colour) return { texels: out.slice(), colour, even, flat };
      const alphas = new Uint16Array(SIDE * SIDE);
      for (let k = 0; k < alphas.length; k++) alphas[k] = out[k * 4 + 3];
      return { texels: alphas, colour, even, flat };
    });
  }
}

/** Texel k of a piece. */
function texelAt({ colour }: Piece, texels: Uint16Array, k: number): Texel {
  if (!colour) return [texels[k * 4], texels[k * 4 + 1], texels[k * 4 + 2], texels[k * 4 + 3]];
  const a = texels[k];
  return [a * colour[0], a * colour[1], a * colour[2], a];
}

/** The one straight colour, 0..1, of which premultiplied texels are to within their rounding; null: there are several. */
function colourOf(texels: Uint16Array): readonly [number, number, number] | null {
  let most = 3;
  for (let o = 3; o < texels.length; o += 4) if (texels[o] > texels[most]) most = o;
  const alpha = texels[most];
  if (alpha < 65535) return null;
  const colour = [texels[most - 3] / alpha, texels[most - 2] / alpha, texels[most - 1] / alpha] as const;
  for (let o = 0; o < texels.length; o += 4) {
    const a = texels[o + 3];
    for (let c = 0; c < 3; c++) if (Math.abs(texels[o + c] - a * colour[c]) > 1) return null;
  }
  return colour;
}

function isFlat(texels: Uint16Array, x0: number, y0: number): boolean {
  const first = (y0 * SIDE + x0) * 4;
  const [r, g, b, a] = [texels[first], texels[first + 1], texels[first + 2], texels[first + 3]];
  for (let y = 0; y < SQUARE; y++)
    for (let o = first + y * SIDE * 4, end = o + SQUARE * 4; o < end; o += 4)
      if (texels[o] !== r || texels[o + 1] !== g || texels[o + 2] !== b || texels[o + 3] !== a) return false;
  return true;
}
