/** Which texels of a picture somebody changed, and what that means for its blocks, its mip levels and its copies at other sizes. */
import { weightsFor, type FilterOptions } from '../mips.ts';

/** One byte a texel, row 0 at the top: 1 changed, 0 as it came. */
export interface Changed {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** Texels `left` to `right` and `top` to `bottom`, the latter two exclusive. */
export interface TexelSpan {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export const nothingChanged = (width: number, height: number): Changed => ({
  width,
  height,
  data: new Uint8Array(width * height),
});

/** Side of the cells by which changed places are gathered. */
const CELL = 64;

/** Boxes around the changed texels, in cells of 64 texels, no two of them touching; they lie within the picture. */
export function changedBoxes({ width, height, data }: Changed): TexelSpan[] {
  const [columns, rows] = [Math.ceil(width / CELL), Math.ceil(height / CELL)];
  const hit = new Uint8Array(columns * rows);
  for (let y = 0; y < height; y++) {
    const cells = Math.floor(y / CELL) * columns;
    const row = data.subarray(y * width, (y + 1) * width);
    for (let x = row.indexOf(1); x >= 0;) {
      const column = Math.floor(x / CELL);
      hit[cells + column] = 1;
      // The rest of this line of the cell says nothing more.
      x = row.indexOf(1, (column + 1) * CELL);
    }
  }
  const boxes: TexelSpan[] = [];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++)
      if (hit[row * columns + column]) boxes.push({ left: column, top: row, right: column + 1, bottom: row + 1 });
  return disjointSpans(boxes).map(({ left, top, right, bottom }) => ({
    left: left * CELL,
    top: top * CELL,
    right: Math.min(width, right * CELL),
    bottom: Math.min(height, bottom * CELL),
  }));
}

/** Whether a texel changed in a square of so many a side, which may lie over the edge. */
export function anyChanged({ data, width, height }: Changed, x: number, y: number, per: number): boolean {
  for (let row = y; row < Math.min(height, y + per); row++)
    for (let at = x; at < Math.min(width, x + per); at++) if (data[row * width + at]) return true;
  return false;
}

/** Boxes joined until no two of them touch. */
export function disjointSpans(boxes: readonly TexelSpan[]): TexelSpan[] {
  let all = [...boxes];
  for (let joined = true; joined;) {
    joined = false;
    const kept: TexelSpan[] = [];
    for (const box of all) {
      const other = kept.find(
        (k) => k.left <= box.right && k.right >= box.left && k.top <= box.bottom && k.bottom >= box.top,
      );
      if (!other) kept.push({ ...box });
      else {
        joined = true;
        other.left = Math.min(other.left, box.left);
        other.top = Math.min(other.top, box.top);
        other.right = Math.max(other.right, box.right);
        other.bottom = Math.max(other.bottom, box.bottom);
      }
    }
    all = kept;
  }
  return all;
}

/** For each texel of the larger side the first and the last of the smaller one that take something of it. */
function reachOf(from: number, to: number, filter: FilterOptions['filter']) {
  const low = new Int32Array(from).fill(to);
  const high = new Int32Array(from).fill(-1);
  weightsFor(from, to, filter).forEach(({ first, weights }, x) => {
    weights.forEach((weight, i) => {
      if (weight === 0) return;
      const at = Math.max(0, Math.min(from - 1, first + i));
      if (x < low[at]) low[at] = x;
      if (x > high[at]) high[at] = x;
    });
  });
  return { low, high };
}

/** The texels of a picture of another size that take something of a changed one, by the filter that makes it. */
export function changedAt(
  changed: Changed,
  width: number,
  height: number,
  filter: FilterOptions['filter'],
  boxes: readonly TexelSpan[] = changedBoxes(changed),
): Changed {
  if (width === changed.width && height === changed.height) return changed;
  const out = nothingChanged(width, height);
  const across = reachOf(changed.width, width, filter);
  const down = reachOf(changed.height, height, filter);
  const line = new Uint8Array(width);
  for (const { left, top, right, bottom } of boxes) {
    for (let y = top; y < bottom; y++) {
      if (down.high[y] < 0) continue;
      let [least, most] = [width, -1];
      for (let x = left, i = y * changed.width + left; x < right; x++, i++) {
        if (!changed.data[i]) continue;
        const start = x;
        while (x + 1 < right && changed.data[i + 1]) {
          x++;
          i++;
        }
        // What a run reaches hangs together as far as each of its texels is looked at.
        let [low, high] = [width, -1];
        for (let k = start; k <= x; k++) {
          if (across.low[k] < low) low = across.low[k];
          if (across.high[k] > high) high = across.high[k];
        }
        if (high < low) continue;
        line.fill(1, low, high + 1);
        if (low < least) least = low;
        if (high > most) most = high;
      }
      if (most < 0) continue;
      for (let row = down.low[y]; row <= down.high[y]; row++)
        for (let x = least; x <= most; x++) if (line[x]) out.data[row * width + x] = 1;
      line.fill(0, least, most + 1);
    }
  }
  return out;
}

/** Share of a picture's texels that changed, 0..1. */
export function changedShare({ data }: Changed): number {
  let n = 0;
  for (const value of data) n += value;
  return n / data.length;
}
