/**
 * Coverage of a stroke, 16 bits a texel, in this memory. src/raster/cover.ts defines the function here in plain TypeScript; results are
 * equal to the bit.
 */
import { mul8 } from './compose';
import { getV, putI, putV } from './memory';

const ROW: i32 = 512;

/** 0 to 7, one in each lane. */
// @ts-ignore: decorator
@inline
function lanes(): v128 {
  let v = i16x8.splat(0);
  v = i16x8.replace_lane(v, 1, 1);
  v = i16x8.replace_lane(v, 2, 2);
  v = i16x8.replace_lane(v, 3, 3);
  v = i16x8.replace_lane(v, 4, 4);
  v = i16x8.replace_lane(v, 5, 5);
  v = i16x8.replace_lane(v, 6, 6);
  return i16x8.replace_lane(v, 7, 7);
}

/**
 * Rows of 256 texels take a stamp on, in the columns from x0 to before x1.
 * @param stamp address of the stamp's share for the first column of the first row; `stride` bytes on lies that of the next row
 * @param share of 65535 that one dab puts on
 * @param bounds address of four numbers of 32 bits: the columns, in eights, and the rows that changed; left, top, right, bottom
 */
export function cover(tile: i32, rows: i32, stamp: i32, stride: i32, x0: i32, x1: i32, share: i32, bounds: i32): void {
  const flow = i16x8.splat(<i16>share);
  const lane = lanes();
  const before = i16x8.splat(<i16>(x0 - 1));
  const after = i16x8.splat(<i16>x1);
  const first = x0 & -8;
  let left = 256;
  let top = rows;
  let right = 0;
  let bottom = 0;
  for (let y = 0; y < rows; y++) {
    const to = tile + y * ROW;
    const from = stamp + y * stride;
    for (let x = first; x < x1; x += 8) {
      const column = i16x8.add(lane, i16x8.splat(<i16>x));
      let by = v128.and(getV(from + x * 2), v128.and(i16x8.gt_s(column, before), i16x8.gt_s(after, column)));
      if (!v128.any_true(by)) continue;
      if (share != 65535) by = mul8(by, flow);
      const has = getV(to + x * 2);
      const now = i16x8.add(has, mul8(v128.not(has), by));
      if (!v128.any_true(v128.xor(now, has))) continue;
      putV(to + x * 2, now);
      if (x < left) left = x;
      if (x + 8 > right) right = x + 8;
      if (y < top) top = y;
      bottom = y + 1;
    }
  }
  putI(bounds, left);
  putI(bounds + 4, top);
  putI(bounds + 8, right);
  putI(bounds + 12, bottom);
}
