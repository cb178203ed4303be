/**
 * The kernels' plain TypeScript twin: their own source, run without WebAssembly. Vector instructions are replaced by loops over lanes
 * as the WebAssembly specification (2.0, "Vector Instructions") defines them, float32 by Math.fround, memory by an ArrayBuffer.
 */
import { build } from 'esbuild';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { KERNEL_BYTES, writeTables, type Kernel } from '../kernels/kernel.ts';

const SOURCE = path.resolve(import.meta.dirname, '../../kernels');

/** A vector of 128 bits, seen as its lanes. */
class V {
  readonly i32: Int32Array;
  constructor(readonly buffer = new ArrayBuffer(16)) {
    this.i32 = new Int32Array(buffer);
  }
  get f32() {
    return new Float32Array(this.buffer);
  }
  get f64() {
    return new Float64Array(this.buffer);
  }
  get i16() {
    return new Int16Array(this.buffer);
  }
  get u16() {
    return new Uint16Array(this.buffer);
  }
  get i8() {
    return new Int8Array(this.buffer);
  }
  get u8() {
    return new Uint8Array(this.buffer);
  }
}

type Lanes = 'i32' | 'f32' | 'f64' | 'i16' | 'u16' | 'i8' | 'u8';
type Unary = (a: number) => number;
type Binary = (a: number, b: number) => number;

const COUNT: Record<Lanes, number> = { i32: 4, f32: 4, f64: 2, i16: 8, u16: 8, i8: 16, u8: 16 };
const make = (kind: Lanes, lane: (i: number) => number): V => {
  const out = new V();
  const lanes = out[kind];
  for (let i = 0; i < COUNT[kind]; i++) lanes[i] = lane(i);
  return out;
};
const one = (kind: Lanes, f: Unary) => (a: V) => {
  const x = a[kind];
  return make(kind, (i) => f(x[i]));
};
const two = (kind: Lanes, f: Binary) => (a: V, b: V) => {
  const [x, y] = [a[kind], b[kind]];
  return make(kind, (i) => f(x[i], y[i]));
};
/** Comparisons give all ones or zeros. */
const mask = (kind: Lanes, f: (a: number, b: number) => boolean) => (a: V, b: V) => {
  const [x, y] = [a[kind], b[kind]];
  const into = kind === 'f32' ? 'i32' : kind === 'u8' ? 'i8' : kind === 'u16' ? 'i16' : kind;
  return make(into, (i) => (f(x[i], y[i]) ? -1 : 0));
};
const shift = (kind: Lanes, f: Binary) => (a: V, by: number) => one(kind, (x) => f(x, by))(a);
const shuffle =
  (kind: Lanes) =>
  (a: V, b: V, ...lanes: number[]) => {
    const [x, y] = [a[kind], b[kind]];
    const count = COUNT[kind];
    return make(kind, (i) => (lanes[i] < count ? x[lanes[i]] : y[lanes[i] - count]));
  };
const clamp = (low: number, high: number) => (v: number) => Math.max(low, Math.min(high, v));
const narrow = (from: Lanes, to: Lanes, fit: Unary) => (a: V, b: V) => {
  const [x, y] = [a[from], b[from]];
  const half = COUNT[from];
  return make(to, (i) => fit(i < half ? x[i] : y[i - half]));
};
const widen = (from: Lanes, to: Lanes, high: boolean, f: Unary) => (a: V) => {
  const x = a[from];
  return make(to, (i) => f(x[i + (high ? COUNT[to] : 0)]));
};
const same: Unary = (v) => v;
const common = (kind: Lanes) => ({
  splat: (v: number) => make(kind, () => v),
  shuffle: shuffle(kind),
  extract_lane: (a: V, lane: number) => a[kind][lane],
  replace_lane: (a: V, lane: number, v: number) => {
    const x = a[kind];
    return make(kind, (i) => (i === lane ? v : x[i]));
  },
});
/** Products of 16-bit values without sign, four from one half. */
const extmul = (from: number) => (a: V, b: V) => {
  const [x, y] = [a.i16, b.i16];
  return make('i32', (i) => Math.imul(x[from + i] & 0xffff, y[from + i] & 0xffff));
};
const bits = (kind: Lanes) => (a: V) => Array.from(a[kind]).reduce((n, v, i) => n | (v < 0 ? 1 << i : 0), 0);

const vectors = {
  i8x16: {
    ...common('i8'),
    add: two('i8', (a, b) => a + b),
    sub: two('i8', (a, b) => a - b),
    sub_sat_u: two('u8', (a, b) => Math.max(0, a - b)),
    min_u: two('u8', Math.min),
    eq: mask('i8', (a, b) => a === b),
    lt_u: mask('u8', (a, b) => a < b),
    shl: shift('i8', (a, by) => a << by),
    bitmask: bits('i8'),
    swizzle: (a: V, by: V) => {
      const [x, place] = [a.u8, by.u8];
      return make('u8', (i) => (place[i] < 16 ? x[place[i]] : 0));
    },
    narrow_i16x8_u: narrow('i16', 'u8', clamp(0, 255)),
    narrow_i16x8_s: narrow('i16', 'i8', clamp(-128, 127)),
  },
  i16x8: {
    ...common('i16'),
    extract_lane_s: (a: V, lane: number) => a.i16[lane],
    add: two('i16', (a, b) => a + b),
    sub: two('i16', (a, b) => a - b),
    add_sat_u: two('u16', (a, b) => Math.min(65535, a + b)),
    sub_sat_u: two('u16', (a, b) => Math.max(0, a - b)),
    min_u: two('u16', Math.min),
    max_u: two('u16', Math.max),
    gt_u: mask('u16', (a, b) => a > b),
    mul: two('i16', (a, b) => a * b),
    min_s: two('i16', Math.min),
    max_s: two('i16', Math.max),
    eq: mask('i16', (a, b) => a === b),
    ne: mask('i16', (a, b) => a !== b),
    gt_s: mask('i16', (a, b) => a > b),
    shl: shift('i16', (a, by) => a << by),
    shr_s: shift('i16', (a, by) => a >> by),
    all_true: (a: V) => a.i16.every((v) => v !== 0),
    narrow_i32x4_s: narrow('i32', 'i16', clamp(-32768, 32767)),
    narrow_i32x4_u: narrow('i32', 'i16', clamp(0, 65535)),
    extend_low_i8x16_u: widen('u8', 'i16', false, same),
    extend_high_i8x16_u: widen('u8', 'i16', true, same),
    extend_low_i8x16_s: widen('i8', 'i16', false, same),
    extend_high_i8x16_s: widen('i8', 'i16', true, same),
  },
  i32x4: {
    ...common('i32'),
    add: two('i32', (a, b) => a + b),
    sub: two('i32', (a, b) => a - b),
    mul: two('i32', Math.imul),
    min_s: two('i32', Math.min),
    max_s: two('i32', Math.max),
    gt_s: mask('i32', (a, b) => a > b),
    shl: shift('i32', (a, by) => a << by),
    shr_s: shift('i32', (a, by) => a >> by),
    shr_u: shift('i32', (a, by) => a >>> by),
    bitmask: bits('i32'),
    dot_i16x8_s: (a: V, b: V) => {
      const [x, y] = [a.i16, b.i16];
      return make('i32', (i) => x[2 * i] * y[2 * i] + x[2 * i + 1] * y[2 * i + 1]);
    },
    extend_low_i16x8_s: widen('i16', 'i32', false, same),
    extend_high_i16x8_s: widen('i16', 'i32', true, same),
    extmul_low_i16x8_u: extmul(0),
    extmul_high_i16x8_u: extmul(4),
    extend_low_i16x8_u: widen('i16', 'i32', false, (v) => v & 0xffff),
    extend_high_i16x8_u: widen('i16', 'i32', true, (v) => v & 0xffff),
    trunc_sat_f64x2_s_zero: (a: V) => {
      const x = a.f64;
      return make('i32', (i) => (i > 1 || Number.isNaN(x[i]) ? 0 : clamp(-2147483648, 2147483647)(Math.trunc(x[i]))));
    },
    trunc_sat_f32x4_s: (a: V) => {
      const x = a.f32;
      return make('i32', (i) => (Number.isNaN(x[i]) ? 0 : clamp(-2147483648, 2147483647)(Math.trunc(x[i]))));
    },
  },
  f32x4: {
    ...common('f32'),
    add: two('f32', (a, b) => a + b),
    sub: two('f32', (a, b) => a - b),
    mul: two('f32', (a, b) => a * b),
    div: two('f32', (a, b) => a / b),
    min: two('f32', Math.min),
    max: two('f32', Math.max),
    abs: one('f32', Math.abs),
    sqrt: one('f32', Math.sqrt),
    lt: mask('f32', (a, b) => a < b),
    le: mask('f32', (a, b) => a <= b),
    ge: mask('f32', (a, b) => a >= b),
    gt: mask('f32', (a, b) => a > b),
    eq: mask('f32', (a, b) => a === b),
    convert_i32x4_s: (a: V) => {
      const x = a.i32;
      return make('f32', (i) => x[i]);
    },
  },
  f64x2: {
    ...common('f64'),
    add: two('f64', (a, b) => a + b),
    mul: two('f64', (a, b) => a * b),
    sqrt: one('f64', Math.sqrt),
  },
  v128: {
    and: two('i32', (a, b) => a & b),
    or: two('i32', (a, b) => a | b),
    xor: two('i32', (a, b) => a ^ b),
    not: one('i32', (a) => ~a),
    bitselect: (a: V, b: V, by: V) => make('i32', (i) => (a.i32[i] & by.i32[i]) | (b.i32[i] & ~by.i32[i])),
    any_true: (a: V) => a.i32.some((v) => v !== 0),
  },
};

function access(view: DataView) {
  return {
    getV: (at: number) => new V(view.buffer.slice(at, at + 16) as ArrayBuffer),
    putV: (at: number, v: V) => new Uint8Array(view.buffer, at, 16).set(v.u8),
    getI: (at: number) => view.getInt32(at, true),
    putI: (at: number, v: number) => view.setInt32(at, v, true),
    getB: (at: number) => view.getUint8(at),
    putB: (at: number, v: number) => view.setUint8(at, v),
    getF: (at: number) => view.getFloat32(at, true),
    putF: (at: number, v: number) => view.setFloat32(at, v, true),
    splatPair: (at: number) => make('i32', () => view.getInt32(at, true)),
    splatF: (v: number) => make('f32', () => v),
    laneF: (v: V, lane: number) => v.f32[lane],
    laneI: (v: V, lane: number) => v.i32[lane],
    toI: (v: number) => Math.trunc(v) | 0,
    toF: (v: number) => v,
    splat8: (v: number) => make('i8', () => v),
    splat16: (v: number) => make('i16', () => v),
    zeroI: (at: number) => make('i32', (i) => (i === 0 ? view.getInt32(at, true) : 0)),
    texel16: (at: number) => make('i32', (i) => view.getUint16(at + i * 2, true)),
    half16: (at: number, v: V) => new Uint8Array(view.buffer, at, 8).set(v.u8.subarray(0, 8)),
    twice16: (at: number) => make('i16', (i) => view.getInt16(at + (i & 3) * 2, true)),
    getH: (at: number) => view.getUint16(at, true),
    putH: (at: number, v: number) => view.setUint16(at, v, true),
    lower: Math.min,
    higher: Math.max,
    pair16: (a: number, b: number) => make('i16', (i) => view.getInt16((i < 4 ? a : b) + (i & 3) * 2, true)),
    four: (x: number, y: number, z: number) => make('f32', (i) => (i === 3 ? 0 : view.getFloat32([x, y, z][i], true))),
  };
}

/** The kernels' source as JavaScript, with a memory of its own and the tables in place. */
export async function makeTwin(): Promise<Kernel> {
  const buffer = new ArrayBuffer(KERNEL_BYTES);
  const reach = access(new DataView(buffer));
  const result = await build({
    entryPoints: [path.join(SOURCE, 'index.ts')],
    bundle: true,
    write: false,
    format: 'esm',
    logLevel: 'error',
    plugins: [
      {
        name: 'twin',
        setup(step) {
          step.onLoad({ filter: /kernels[\\/]\w+\.ts$/ }, ({ path: file }) => {
            const text = readFileSync(file, 'utf8');
            if (!file.endsWith('memory.ts')) return { loader: 'ts', contents: text.replace(/^@inline$/gm, '') };
            const constants = text.match(/^export const .*$/gm)!.join('\n');
            const names = Object.keys(reach).join(', ');
            return { loader: 'ts', contents: `${constants}\nexport const { ${names} } = globalThis.twin;` };
          });
        },
      },
    ],
  });
  Object.assign(globalThis, vectors, { twin: reach });
  const code = Buffer.from(result.outputFiles[0].contents).toString('base64');
  const exports = (await import(/* @vite-ignore */ `data:text/javascript;base64,${code}`)) as Omit<Kernel, 'memory'>;
  writeTables(buffer);
  return { ...exports, memory: { buffer } as unknown as WebAssembly.Memory };
}
