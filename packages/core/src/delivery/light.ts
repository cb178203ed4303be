/**
 * Copies of a sheet in another light (wet, dusk, night, soiled): how the tones of the copy follow from those of its master, told from the pair
 * of originals, and paint put through the same change. The relation is looked for among a few plain ones, the simplest that fits best.
 */
import { LINEAR_OF_SRGB8, LINEAR_ONE, srgb8OfLinear } from '../colour/srgb.ts';
import type { Image8 } from '../raster/image.ts';
import { resample } from '../texture/resample.ts';

export interface LightRelation {
  /** The same picture, the same in another light, or neither. */
  kind: 'same' | 'light' | 'unlike';
  /** Mean difference between the copy and what the relation makes of its master, of 255. */
  error: number;
  /** Share of what varies in the copy that the relation explains, 0..1. */
  explained: number;
  /** What becomes of a straight sRGB colour, 0..255 each, at a place of the sheet (0..1 each). Not rounded. */
  map(r: number, g: number, b: number, u: number, v: number, out: Float64Array): void;
}

/** Samples that are looked at. */
const SAMPLES = 12_000;
/** A mean difference that rounding to 8 bits makes by itself, with a little beside it. */
const ROUNDING = 0.6;
/** A mean difference under this is the same picture; above that a relation does not hold. */
const [SAME, HOLDS] = [1.2, 9];
/** Least share of the copy's variation that a relation explains. */
const EXPLAINED = 0.55;
/** Cells a side in which the relation may differ from place to place. */
const GRID = 12;
/** A relation with more to it is taken only when it is better by so much, of 255: one formula than another, and a table or a place than a formula. */
const [PLAINER, BETTER] = [0.04, 0.25];

type Tones = (r: number, g: number, b: number, out: Float64Array) => void;

interface Samples {
  n: number;
  master: Uint8Array;
  copy: Uint8Array | Float32Array;
  u: Float32Array;
  v: Float32Array;
}

/**
 * @param master the original of the sheet @param copy the original of its follower, turned as the master is; of any size
 * Colour under alpha 0 does not count. Both straight RGBA8, sRGB.
 */
export function lightRelation(master: Image8, copy: Image8): LightRelation {
  const other =
    copy.width === master.width && copy.height === master.height
      ? copy
      : resample(copy, master.width, master.height, 'srgb');
  const samples = samplesOf(master, other);
  const asIs: Tones = (r, g, b, out) => {
    out[0] = r;
    out[1] = g;
    out[2] = b;
  };
  const same = { tones: asIs, error: errorOf(samples, asIs) };
  if (samples.n < 16 || same.error < SAME) return relation(samples, { ...same, field: null }, 'same');
  const plain = tonesFor(samples, true);
  const even: Fit = { ...plain, field: null };
  // Where the copy's light is not the same all over, tones and places are told from one another in turns.
  let best = even;
  for (const fieldOf of [slopes, cells]) {
    if (best.error < ROUNDING) break;
    let tones = asIs;
    for (let turn = 0; turn < 5; turn++) {
      const field = fieldOf(samples, tones);
      tones = tonesFor({ ...samples, copy: freed(samples, field) }, false).tones;
      const error = errorOf(samples, tones, field);
      if (error < best.error * 0.75 && error < best.error - BETTER) best = { tones, error, field };
    }
  }
  return relation(samples, best);
}

/** How a relation differs from place to place: what its tones are multiplied with. */
type Field = (u: number, v: number, c: number) => number;

interface Fit {
  tones: Tones;
  error: number;
  field: Field | null;
}

/** The plainest relation of tones that fits best. @param all curves of any kind, too */
function tonesFor(samples: Samples, all: boolean): Pick<Fit, 'tones' | 'error'> {
  let best: Pick<Fit, 'tones' | 'error'> | null = null;
  const take = (tones: Tones | null, more: number) => {
    if (!tones) return;
    const error = errorOf(samples, tones);
    if (!best || error < best.error - more) best = { tones, error };
  };
  take(powers(samples, 'gain'), 0);
  take(inLinear(samples, false), 0);
  take(powers(samples, 'line'), PLAINER);
  take(inLinear(samples, true), PLAINER);
  take(powers(samples, 'power'), PLAINER);
  if (all) {
    take(matrix(samples, false), PLAINER);
    take(matrix(samples, true), PLAINER);
    take(tables(samples, best!.tones), BETTER);
  }
  return best!;
}

function relation(samples: Samples, { tones, error, field }: Fit, kind?: 'same'): LightRelation {
  const explained = explainedBy(samples, tones, field);
  return {
    kind: kind ?? (error <= HOLDS && explained >= EXPLAINED ? 'light' : 'unlike'),
    error,
    explained,
    map(r, g, b, u, v, out) {
      tones(r, g, b, out);
      if (field) for (let c = 0; c < 3; c++) out[c] *= field(u, v, c);
    },
  };
}

function samplesOf(master: Image8, copy: Image8): Samples {
  const { width, height } = master;
  const step = Math.max(1, Math.floor(Math.sqrt((width * height) / SAMPLES)));
  const most = Math.ceil(width / step) * Math.ceil(height / step);
  const out: Samples = {
    n: 0,
    master: new Uint8Array(most * 3),
    copy: new Uint8Array(most * 3),
    u: new Float32Array(most),
    v: new Float32Array(most),
  };
  for (let y = 0; y < height; y += step)
    for (let x = 0; x < width; x += step) {
      const i = (y * width + x) * 4;
      if (master.data[i + 3] === 0 || copy.data[i + 3] === 0) continue;
      out.master.set(master.data.subarray(i, i + 3), out.n * 3);
      out.copy.set(copy.data.subarray(i, i + 3), out.n * 3);
      out.u[out.n] = (x + 0.5) / width;
      out.v[out.n] = (y + 0.5) / height;
      out.n++;
    }
  return out;
}

const clamp = (v: number) => (v < 0 ? 0 : v > 255 ? 255 : v);

function errorOf({ n, master, copy, u, v }: Samples, tones: Tones, field: Field | null = null): number {
  const made = new Float64Array(3);
  let sum = 0;
  for (let i = 0; i < n; i++) {
    tones(master[i * 3], master[i * 3 + 1], master[i * 3 + 2], made);
    if (field) for (let c = 0; c < 3; c++) made[c] *= field(u[i], v[i], c);
    for (let c = 0; c < 3; c++) sum += Math.abs(clamp(made[c]) - copy[i * 3 + c]);
  }
  return n > 0 ? sum / (n * 3) : 0;
}

function explainedBy({ n, master, copy, u, v }: Samples, tones: Tones, field: Field | null): number {
  const made = new Float64Array(3);
  const mean = [0, 0, 0];
  for (let i = 0; i < n * 3; i++) mean[i % 3] += copy[i] / n;
  let [left, all] = [0, 0];
  for (let i = 0; i < n; i++) {
    tones(master[i * 3], master[i * 3 + 1], master[i * 3 + 2], made);
    if (field) for (let c = 0; c < 3; c++) made[c] *= field(u[i], v[i], c);
    for (let c = 0; c < 3; c++) {
      left += (clamp(made[c]) - copy[i * 3 + c]) ** 2;
      all += (copy[i * 3 + c] - mean[c]) ** 2;
    }
  }
  // A copy of one colour all over is explained by anything: half a step of rounding is no variation.
  return all < n * 3 * 0.5 ? 1 : 1 - left / all;
}

/** Of one channel: how often each value comes, and what it becomes on the average. */
function binsOf({ n, master, copy }: Samples, c: number) {
  const count = new Float64Array(256);
  const sum = new Float64Array(256);
  for (let i = c; i < n * 3; i += 3) {
    count[master[i]]++;
    sum[master[i]] += copy[i];
  }
  return { count, mean: sum.map((s, k) => (count[k] > 0 ? s / count[k] : 0)) };
}

/** Values at which nothing was cut off. */
const isWhole = (mean: number) => mean > 0.75 && mean < 254.25;

/** a + b v^g for each channel, in the sheet's own encoding: a gain alone, with an offset, with a power. */
function powers(samples: Samples, kind: 'gain' | 'line' | 'power'): Tones | null {
  const fits = [0, 1, 2].map((c) => {
    const { count, mean } = binsOf(samples, c);
    const used = [...count.keys()].filter((k) => count[k] > 0 && isWhole(mean[k]));
    const few = used.length < 3 ? [...count.keys()].filter((k) => count[k] > 0) : used;
    if (few.length === 0) return null;
    const fit = (g: number) => {
      let [w, sx, sy, sxx, sxy] = [0, 0, 0, 0, 0];
      for (const k of few) {
        const x = (k / 255) ** g;
        w += count[k];
        sx += count[k] * x;
        sy += count[k] * mean[k];
        sxx += count[k] * x * x;
        sxy += count[k] * x * mean[k];
      }
      const det = w * sxx - sx * sx;
      const gain = sxx > 0 ? sxy / sxx : 1;
      const b = kind === 'gain' ? gain : det > 1e-9 ? (w * sxy - sx * sy) / det : 0;
      const a = kind === 'gain' ? 0 : (sy - b * sx) / w;
      let error = 0;
      for (const k of few) error += count[k] * (a + b * (k / 255) ** g - mean[k]) ** 2;
      return { a, b, g, error };
    };
    // One value alone says only a gain.
    if (few.length < 2) return { a: 0, b: few[0] > 0 ? (mean[few[0]] * 255) / few[0] : 1, g: 1, error: 0 };
    let best = fit(1);
    if (kind !== 'power') return best;
    for (let g = 0.2; g <= 4; g += 0.1) {
      const made = fit(g);
      if (made.error < best.error) best = made;
    }
    for (let step = 0.05; step > 0.0005; step /= 2)
      for (const g of [best.g - step, best.g + step]) {
        const made = fit(Math.max(0.05, g));
        if (made.error < best.error) best = made;
      }
    return best;
  });
  if (fits.some((fit) => fit === null)) return null;
  return (r, g, b, out) => {
    [r, g, b].forEach((value, c) => {
      const fit = fits[c]!;
      out[c] = fit.a + fit.b * (value / 255) ** fit.g;
    });
  };
}

const linearOf = (v: number): number => {
  const low = Math.max(0, Math.min(254, Math.floor(v)));
  const part = Math.max(0, Math.min(1, v - low));
  return (LINEAR_OF_SRGB8[low] * (1 - part) + LINEAR_OF_SRGB8[low + 1] * part) / LINEAR_ONE;
};

/** Back to 0..255, between the 8-bit steps too. */
function encodedOf(linear: number): number {
  if (linear <= 0) return 0;
  if (linear >= 1) return 255;
  let low = srgb8OfLinear(Math.round(linear * LINEAR_ONE));
  while (low > 0 && LINEAR_OF_SRGB8[low] / LINEAR_ONE > linear) low--;
  while (low < 254 && LINEAR_OF_SRGB8[low + 1] / LINEAR_ONE <= linear) low++;
  if (low >= 255) return 255;
  const [a, b] = [LINEAR_OF_SRGB8[low] / LINEAR_ONE, LINEAR_OF_SRGB8[low + 1] / LINEAR_ONE];
  return low + (linear - a) / (b - a);
}

/** a + b v for each channel in linear light: light of another strength and colour, and haze before it. */
function inLinear(samples: Samples, haze: boolean): Tones | null {
  const fits = [0, 1, 2].map((c) => {
    const { count, mean } = binsOf(samples, c);
    const used = [...count.keys()].filter((k) => count[k] > 0 && isWhole(mean[k]));
    if (used.length < 2) return null;
    let [w, sx, sy, sxx, sxy] = [0, 0, 0, 0, 0];
    for (const k of used) {
      const [x, y] = [linearOf(k), linearOf(mean[k])];
      // An error in the dark shows more than one in the light.
      const weight = count[k] / (0.02 + y);
      w += weight;
      sx += weight * x;
      sy += weight * y;
      sxx += weight * x * x;
      sxy += weight * x * y;
    }
    if (!haze) return { a: 0, b: sxx > 0 ? sxy / sxx : 1 };
    const det = w * sxx - sx * sx;
    if (det < 1e-12) return null;
    const b = (w * sxy - sx * sy) / det;
    return { a: (sy - b * sx) / w, b };
  });
  if (fits.some((fit) => fit === null)) return null;
  return (r, g, b, out) => {
    [r, g, b].forEach((value, c) => (out[c] = encodedOf(fits[c]!.a + fits[c]!.b * linearOf(value))));
  };
}

/** Each channel from all three: light that also takes colour out, or tints. */
function matrix({ n, master, copy }: Samples, linear: boolean): Tones | null {
  const to = linear ? linearOf : (v: number) => v / 255;
  const ahead = Float64Array.from({ length: 256 }, (_, v) => to(v));
  const normal = Array.from({ length: 4 }, () => new Float64Array(4));
  const right = Array.from({ length: 3 }, () => new Float64Array(4));
  const row = new Float64Array(4);
  for (let i = 0; i < n; i++) {
    if ([0, 1, 2].some((c) => copy[i * 3 + c] === 0 || copy[i * 3 + c] === 255)) continue;
    for (let c = 0; c < 3; c++) row[c] = ahead[master[i * 3 + c]];
    row[3] = 1;
    for (let a = 0; a < 4; a++) {
      for (let b = 0; b < 4; b++) normal[a][b] += row[a] * row[b];
      for (let c = 0; c < 3; c++) right[c][a] += row[a] * ahead[copy[i * 3 + c]];
    }
  }
  const rows = right.map((b) => solved(normal, b));
  if (rows.some((found) => found === null)) return null;
  return (r, g, b, out) => {
    const [x, y, z] = [to(r), to(g), to(b)];
    rows.forEach((k, c) => {
      const value = k![0] * x + k![1] * y + k![2] * z + k![3];
      out[c] = linear ? encodedOf(value) : value * 255;
    });
  };
}

/** As many equations as unknowns by elimination; null when they do not tell. */
function solved(normal: readonly Float64Array[], right: Float64Array): number[] | null {
  const n = right.length;
  const m = normal.map((row, i) => [...row, right[i]]);
  const least = Math.max(...m.map((row, i) => Math.abs(row[i]))) * 1e-9;
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let i = column; i < n; i++) if (Math.abs(m[i][column]) > Math.abs(m[pivot][column])) pivot = i;
    if (Math.abs(m[pivot][column]) <= least) return null;
    [m[column], m[pivot]] = [m[pivot], m[column]];
    for (let i = 0; i < n; i++) {
      if (i === column) continue;
      const share = m[i][column] / m[column][column];
      for (let k = column; k <= n; k++) m[i][k] -= share * m[column][k];
    }
  }
  return m.map((row, i) => row[n] / row[i]);
}

/** A table for each channel: any curve, where the pair shows it; elsewhere what a plainer relation says, moved to meet it. */
function tables(samples: Samples, plain: Tones): Tones {
  const made = new Float64Array(3);
  const curves = [0, 1, 2].map((c) => {
    const { count, mean } = binsOf(samples, c);
    const enough = samples.n / 5000;
    const known = [...count.keys()].filter((k) => count[k] > enough);
    const grey = (k: number) => {
      plain(k, k, k, made);
      return made[c];
    };
    return Float64Array.from({ length: 256 }, (_, k) => {
      if (known.length === 0) return grey(k);
      const above = known.find((other) => other >= k);
      const below = known.findLast((other) => other <= k);
      if (above === k) return mean[k];
      if (above === undefined) return mean[below!] + grey(k) - grey(below!);
      if (below === undefined) return mean[above] + grey(k) - grey(above);
      const share = (k - below) / (above - below);
      return mean[below] * (1 - share) + mean[above] * share;
    });
  });
  return (r, g, b, out) => {
    [r, g, b].forEach((value, c) => {
      const low = Math.max(0, Math.min(254, Math.floor(value)));
      out[c] = curves[c][low] + (curves[c][low + 1] - curves[c][low]) * (value - low);
    });
  };
}

/** The copy without what its places add to its tones. */
function freed({ n, copy, u, v }: Samples, field: Field): Float32Array {
  const out = new Float32Array(copy.length);
  for (let i = 0; i < n; i++) for (let c = 0; c < 3; c++) out[i * 3 + c] = copy[i * 3 + c] / field(u[i], v[i], c);
  return out;
}

/** A gain that goes evenly over the sheet: a polynomial of the second degree for each channel, by least squares weighted by the tones. */
function slopes({ n, master, copy, u, v }: Samples, tones: Tones): Field {
  const made = new Float64Array(3);
  const terms = new Float64Array(6);
  const termsAt = (x: number, y: number) => {
    terms[0] = 1;
    terms[1] = x;
    terms[2] = y;
    terms[3] = x * x;
    terms[4] = x * y;
    terms[5] = y * y;
    return terms;
  };
  const normal = [0, 1, 2].map(() => Array.from({ length: 6 }, () => new Float64Array(6)));
  const right = [0, 1, 2].map(() => new Float64Array(6));
  for (let i = 0; i < n; i++) {
    tones(master[i * 3], master[i * 3 + 1], master[i * 3 + 2], made);
    const t = termsAt(u[i], v[i]);
    for (let c = 0; c < 3; c++) {
      if (copy[i * 3 + c] <= 0 || copy[i * 3 + c] >= 255) continue;
      for (let a = 0; a < 6; a++) {
        right[c][a] += t[a] * made[c] * copy[i * 3 + c];
        for (let b = 0; b < 6; b++) normal[c][a][b] += t[a] * t[b] * made[c] * made[c];
      }
    }
  }
  const fits = normal.map((m, c) => solved(m, right[c]) ?? [1, 0, 0, 0, 0, 0]);
  return (x, y, c) => {
    const t = termsAt(x, y);
    let gain = 0;
    for (let k = 0; k < 6; k++) gain += fits[c][k] * t[k];
    return Math.max(0.02, gain);
  };
}

/** A gain for each cell and channel, even between the middles of the cells and going on beyond the outermost. */
function cells({ n, master, copy, u, v }: Samples, tones: Tones): Field {
  const wanted = new Float64Array(GRID * GRID * 3);
  const had = new Float64Array(GRID * GRID * 3);
  const made = new Float64Array(3);
  for (let i = 0; i < n; i++) {
    const cell = Math.min(GRID - 1, Math.floor(v[i] * GRID)) * GRID + Math.min(GRID - 1, Math.floor(u[i] * GRID));
    tones(master[i * 3], master[i * 3 + 1], master[i * 3 + 2], made);
    for (let c = 0; c < 3; c++) {
      wanted[cell * 3 + c] += copy[i * 3 + c];
      had[cell * 3 + c] += Math.max(0, clamp(made[c]));
    }
  }
  const gain = had.map((value, i) => (value > 0 ? Math.max(0.05, Math.min(20, wanted[i] / value)) : 1));
  return (x, y, c) => {
    const [gx, gy] = [x * GRID - 0.5, y * GRID - 0.5];
    const [x0, y0] = [Math.max(0, Math.min(GRID - 2, Math.floor(gx))), Math.max(0, Math.min(GRID - 2, Math.floor(gy)))];
    const [fx, fy] = [gx - x0, gy - y0];
    const at = (column: number, row: number) => gain[(row * GRID + column) * 3 + c];
    const top = at(x0, y0) * (1 - fx) + at(x0 + 1, y0) * fx;
    const bottom = at(x0, y0 + 1) * (1 - fx) + at(x0 + 1, y0 + 1) * fx;
    return Math.max(0.02, top * (1 - fy) + bottom * fy);
  };
}

/**
 * A copy with the master's paint in its own light, in place: where something was painted, the copy changes by as much as its light makes of
 * the change of the master. What the copy has beyond the relation (lamps, dirt, drops) stays to be seen.
 * @param painted the master with its paint, and `before` without, both turned as the copy is and of its size
 * @param copy the copy's original, straight RGBA8; changed where `changed`
 * @param strength 0: the paint as it is on the master; 1: in the copy's light
 */
export function paintInLight(
  copy: Image8,
  painted: Image8,
  before: Image8,
  changed: Uint8Array,
  relation: LightRelation,
  strength: number,
): void {
  const { width, height, data } = copy;
  const [lit, was] = [new Float64Array(3), new Float64Array(3)];
  for (let i = 0; i < changed.length; i++) {
    if (!changed[i]) continue;
    const o = i * 4;
    const [u, v] = [((i % width) + 0.5) / width, (Math.floor(i / width) + 0.5) / height];
    const [p, b] = [painted.data, before.data];
    relation.map(p[o], p[o + 1], p[o + 2], u, v, lit);
    relation.map(b[o], b[o + 1], b[o + 2], u, v, was);
    for (let c = 0; c < 3; c++) {
      const inLight = data[o + c] + clamp(lit[c]) - clamp(was[c]);
      data[o + c] = Math.floor(clamp(inLight * strength + p[o + c] * (1 - strength)) + 0.5);
    }
    data[o + 3] = clamp(data[o + 3] + p[o + 3] - b[o + 3]);
  }
}
