/** One mip level in one encoding, worked out cell by cell, and again only where blocks change. */
import { DifferenceMeter } from '../../colour/differenceMeter.ts';
import { wordsOf, type Image8 } from '../../raster/image.ts';
import type { Encoding } from '../../texture/encoding.ts';
import { anyChanged, type Changed } from '../../texture/over/changed.ts';
import { psnrOf } from '../../texture/compare.ts';
import { decodeInto, encodeRows } from '../../texture/encode.ts';
import { FORMATS, rowBytes, rowsOf, type FormatKey } from '../../texture/formats/index.ts';

/** Side of a cell in texels: what is encoded, asked for and drawn at a time. */
export const CELL = 256;
/** Mean CIEDE2000 of a block from which its difference counts as visible side by side (common practice, no source: 1 is just noticeable). */
export const VISIBLE = 2;

/** What is known of a level so far. */
export interface LevelFacts {
  width: number;
  height: number;
  /** Cells done, of all. */
  done: number;
  of: number;
  /** dB over the channels that the format carries; Infinity when nothing is lost. */
  psnr: number;
  /** Share of blocks whose mean CIEDE2000 is VISIBLE or more. */
  visible: number;
  /** Size in a file. */
  bytes: number;
  /** Share of blocks that keep the original's bytes, 0..1; null: it lies over none. */
  kept: number | null;
}

export class EncodedLevel {
  readonly decoded: Image8;
  /** Per 4 x 4 block, row by row: mean CIEDE2000, and PSNR in dB over the channels carried (99 when equal). */
  readonly deltaE: Float32Array;
  readonly psnr: Float32Array;
  readonly columns: number;
  readonly rows: number;
  private readonly squares: Float64Array;
  private readonly snapshot: Uint32Array;
  private readonly fresh: Uint8Array;
  private readonly stale: Uint8Array;
  private readonly across: number;
  /** Per block: 1 when it was the original's when it was last done. */
  private readonly keeps: Uint8Array;

  /** @param changed over a file of this very format: blocks without a changed texel are that file's, which `painted` shows there */
  constructor(
    private painted: Image8,
    readonly format: FormatKey,
    readonly encoding: Encoding,
    private readonly meter: DifferenceMeter,
    private changed: Changed | null = null,
  ) {
    const { width, height } = painted;
    this.keeps = new Uint8Array(Math.ceil(width / 4) * Math.ceil(height / 4));
    this.decoded = { width, height, data: new Uint8Array(width * height * 4) };
    this.columns = Math.ceil(width / 4);
    this.rows = Math.ceil(height / 4);
    this.deltaE = new Float32Array(this.columns * this.rows);
    this.psnr = new Float32Array(this.columns * this.rows);
    this.squares = new Float64Array(this.columns * this.rows);
    this.snapshot = new Uint32Array(width * height);
    this.fresh = new Uint8Array(this.columns * this.rows);
    this.across = Math.ceil(width / CELL);
    this.stale = new Uint8Array(this.across * Math.ceil(height / CELL)).fill(1);
  }

  /** Cells that are yet to be done, in order of their distance to a point in texels. */
  waiting(x: number, y: number): { cx: number; cy: number }[] {
    const cells = [...this.stale.keys()].filter((i) => this.stale[i]);
    const far = (i: number) =>
      Math.hypot((i % this.across) * CELL + CELL / 2 - x, Math.floor(i / this.across) * CELL + CELL / 2 - y);
    return cells.sort((a, b) => far(a) - far(b)).map((i) => ({ cx: i % this.across, cy: Math.floor(i / this.across) }));
  }

  isDone(cx: number, cy: number): boolean {
    return this.stale[cy * this.across + cx] === 0;
  }

  /** Takes a new state of the painted level; cells are done again when they are asked for, and in them only blocks that differ. */
  repaint(painted: Image8, changed: Changed | null = null): void {
    this.painted = painted;
    this.changed = changed;
    this.stale.fill(1);
  }

  /** Encodes what has changed in a cell. @returns how many blocks that was */
  work(cx: number, cy: number): number {
    const cell = cy * this.across + cx;
    if (!this.stale[cell]) return 0;
    this.stale[cell] = 0;
    const size = CELL / 4;
    let changed = 0;
    for (let by = cy * size; by < Math.min(this.rows, (cy + 1) * size); by++) {
      const end = Math.min(this.columns, (cx + 1) * size);
      for (let bx = cx * size; bx < end;) {
        if (!this.differs(bx, by)) {
          bx++;
          continue;
        }
        let to = bx + 1;
        const own = this.isKept(bx, by);
        while (to < end && this.differs(to, by) && this.isKept(to, by) === own) to++;
        if (own) this.keepRun(by, bx, to);
        else {
          this.encodeRun(by, bx, to);
          changed += to - bx;
        }
        bx = to;
      }
    }
    return changed;
  }

  facts(): LevelFacts {
    const { width, height } = this.painted;
    const format = FORMATS[this.format];
    const pending = this.stale.reduce((n, s) => n + s, 0);
    let [squares, visible, blocks, kept] = [0, 0, 0, 0];
    for (let i = 0; i < this.squares.length; i++) {
      if (!this.fresh[i]) continue;
      blocks++;
      kept += this.keeps[i];
      squares += this.squares[i];
      if (this.deltaE[i] >= VISIBLE) visible++;
    }
    const share = blocks / this.squares.length;
    return {
      width,
      height,
      done: this.stale.length - pending,
      of: this.stale.length,
      psnr: psnrOf(squares, Math.max(1, width * height * share) * format.channels.length),
      visible: blocks ? visible / blocks : 0,
      bytes: rowsOf(format, height) * rowBytes(format, width),
      kept: this.changed && blocks ? kept / blocks : null,
    };
  }

  private differs(bx: number, by: number): boolean {
    const block = by * this.columns + bx;
    if (!this.fresh[block] || (this.keeps[block] === 1) !== this.isKept(bx, by)) return true;
    const { width, height, data } = this.painted;
    const texels = new Uint32Array(data.buffer, data.byteOffset, width * height);
    for (let y = by * 4; y < Math.min(height, by * 4 + 4); y++) {
      for (let i = y * width + bx * 4; i < y * width + Math.min(width, bx * 4 + 4); i++) {
        if (texels[i] !== this.snapshot[i]) return true;
      }
    }
    return false;
  }

  private isKept(bx: number, by: number): boolean {
    return !!this.changed && !anyChanged(this.changed, bx * 4, by * 4, 4);
  }

  /** Blocks `from` to `to` of a row of blocks, which are the original's: nothing is lost in them. */
  private keepRun(by: number, from: number, to: number): void {
    const { width, height } = this.painted;
    const [painted, decoded] = [wordsOf(this.painted.data), wordsOf(this.decoded.data)];
    for (let y = by * 4; y < Math.min(height, by * 4 + 4); y++) {
      const [first, last] = [y * width + from * 4, y * width + Math.min(width, to * 4)];
      decoded.set(painted.subarray(first, last), first);
      this.snapshot.set(painted.subarray(first, last), first);
    }
    for (let i = by * this.columns + from; i < by * this.columns + to; i++) {
      this.fresh[i] = 1;
      this.keeps[i] = 1;
      this.squares[i] = 0;
      this.deltaE[i] = 0;
      this.psnr[i] = 99;
    }
  }

  /** Blocks `from` to `to` of a row of blocks: encoded, decoded, measured. */
  private encodeRun(by: number, from: number, to: number): void {
    const { width, height, data } = this.painted;
    const texels = new Uint32Array(data.buffer, data.byteOffset, width * height);
    const decoded = new Uint32Array(this.decoded.data.buffer);
    const [left, top] = [from * 4, by * 4];
    const [across, down] = [Math.min(width, to * 4) - left, Math.min(4, height - top)];
    const inside = new Uint32Array(across * down);
    for (let y = 0; y < down; y++) {
      const row = texels.subarray((top + y) * width + left, (top + y) * width + left + across);
      inside.set(row, y * across);
      this.snapshot.set(row, (top + y) * width + left);
    }
    const crop: Image8 = { width: across, height: down, data: new Uint8Array(inside.buffer) };
    const format = FORMATS[this.format];
    const rows = rowsOf(format, down);
    const bytes = new Uint8Array(rows * rowBytes(format, across));
    encodeRows(this.format, crop, 0, rows, bytes, this.encoding);
    const back = new Uint32Array(across * down);
    decodeInto({ width: across, height: down, data: new Uint8Array(back.buffer) }, bytes, this.format);
    for (let y = 0; y < down; y++) {
      decoded.set(back.subarray(y * across, (y + 1) * across), (top + y) * width + left);
    }
    for (let bx = from; bx < to; bx++) this.measure(bx, by, inside, back, across, down, (bx - from) * 4);
  }

  private measure(
    bx: number,
    by: number,
    painted: Uint32Array,
    decoded: Uint32Array,
    width: number,
    height: number,
    x0: number,
  ): void {
    const channels = FORMATS[this.format].channels.length;
    let [squares, deltaE, n] = [0, 0, 0];
    for (let y = 0; y < height; y++) {
      for (let x = x0; x < Math.min(width, x0 + 4); x++, n++) {
        const [a, b] = [painted[y * width + x], decoded[y * width + x]];
        if (a === b) continue;
        for (let c = 0; c < channels; c++) {
          const d = ((a >>> (c * 8)) & 255) - ((b >>> (c * 8)) & 255);
          squares += d * d;
        }
        deltaE += this.meter.of(a, b);
      }
    }
    const i = by * this.columns + bx;
    this.fresh[i] = 1;
    this.keeps[i] = 0;
    this.squares[i] = squares;
    this.deltaE[i] = deltaE / n;
    this.psnr[i] = Math.min(99, psnrOf(squares, n * channels));
  }
}
