/** Which triangles of a model lie over others, seen along a direction. */
import type { Subject } from '../../livery/template.ts';
import { paintedOf } from '../projection.ts';

/** Corners of a mesh as they are seen: across, down, and how near they are. */
export interface Seen {
  us: Float64Array;
  vs: Float64Array;
  ds: Float64Array;
}

/** Triangles of a mesh by the cells of a grid that they are seen in. */
export class Cover {
  private readonly indices: readonly number[];
  private readonly cells: Int32Array;
  private readonly begins: Int32Array;
  private readonly side: number;
  private readonly low: readonly [number, number];
  private readonly cell: readonly [number, number];
  private readonly known = new Map<number, Int32Array | null>();
  private readonly stamp: Int32Array;
  private stamped = 0;

  /** @param hair how much nearer than another something must be to hide it, in the units of `ds` */
  constructor(
    subject: Subject,
    not: readonly string[] | undefined,
    private readonly seen: Seen,
    private readonly hair: number,
  ) {
    this.indices = subject.mesh.indices;
    const own = paintedOf(subject, not);
    const { us, vs } = seen;
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const t of own)
      for (let k = t * 3; k < t * 3 + 3; k++) {
        const i = this.indices[k];
        if (us[i] < left) left = us[i];
        if (us[i] > right) right = us[i];
        if (vs[i] < top) top = vs[i];
        if (vs[i] > bottom) bottom = vs[i];
      }
    this.low = [left, top];
    this.side = Math.min(512, Math.max(1, Math.ceil(Math.sqrt(own.length))));
    this.cell = [Math.max((right - left) / this.side, 1e-12), Math.max((bottom - top) / this.side, 1e-12)];
    this.begins = new Int32Array(this.side * this.side + 1);
    const count = (cell: number) => void this.begins[cell + 1]++;
    for (const t of own) this.eachCell(t, count);
    for (let i = 0; i < this.side * this.side; i++) this.begins[i + 1] += this.begins[i];
    this.cells = new Int32Array(this.begins[this.side * this.side]);
    const next = this.begins.slice();
    let at = 0;
    const enter = (cell: number) => void (this.cells[next[cell]++] = at);
    for (const t of own) {
      at = t;
      this.eachCell(t, enter);
    }
    this.stamp = new Int32Array(this.indices.length / 3);
  }

  /** Triangles that may hide some of one; null: none does. */
  over(t: number): Int32Array | null {
    let found = this.known.get(t);
    if (found === undefined) this.known.set(t, (found = this.look(t)));
    return found;
  }

  /** Whether one of some triangles hides a point. */
  hides(over: Int32Array, u: number, v: number, d: number): boolean {
    const { us, vs, ds } = this.seen;
    for (const t of over) {
      const a = this.indices[t * 3];
      const b = this.indices[t * 3 + 1];
      const c = this.indices[t * 3 + 2];
      const bx = us[b] - us[a];
      const by = vs[b] - vs[a];
      const cx = us[c] - us[a];
      const cy = vs[c] - vs[a];
      const area = bx * cy - by * cx;
      if (area === 0) continue;
      const px = u - us[a];
      const py = v - vs[a];
      const p = (px * cy - py * cx) / area;
      const q = (bx * py - by * px) / area;
      if (p < 0 || q < 0 || p + q > 1) continue;
      if (ds[a] + (ds[b] - ds[a]) * p + (ds[c] - ds[a]) * q > d + this.hair) return true;
    }
    return false;
  }

  private look(t: number): Int32Array | null {
    const { us, vs, ds } = this.seen;
    const [a, b, c] = [this.indices[t * 3], this.indices[t * 3 + 1], this.indices[t * 3 + 2]];
    const least = Math.min(ds[a], ds[b], ds[c]) + this.hair;
    const [left, right] = [Math.min(us[a], us[b], us[c]), Math.max(us[a], us[b], us[c])];
    const [top, bottom] = [Math.min(vs[a], vs[b], vs[c]), Math.max(vs[a], vs[b], vs[c])];
    const [bx, by, cx, cy] = [us[b] - us[a], vs[b] - vs[a], us[c] - us[a], vs[c] - vs[a]];
    const area = bx * cy - by * cx;
    const before = (i: number) => {
      const px = us[i] - us[a];
      const py = vs[i] - vs[a];
      const p = (px * cy - py * cx) / area;
      const q = (bx * py - by * px) / area;
      return ds[i] > ds[a] + (ds[b] - ds[a]) * p + (ds[c] - ds[a]) * q + this.hair;
    };
    const found: number[] = [];
    const mark = ++this.stamped;
    this.stamp[t] = mark;
    this.eachCell(t, (cell) => {
      for (let k = this.begins[cell]; k < this.begins[cell + 1]; k++) {
        const other = this.cells[k];
        if (this.stamp[other] === mark) continue;
        this.stamp[other] = mark;
        const i = this.indices[other * 3];
        const j = this.indices[other * 3 + 1];
        const e = this.indices[other * 3 + 2];
        if (Math.max(ds[i], ds[j], ds[e]) <= least) continue;
        if (Math.max(us[i], us[j], us[e]) <= left || Math.min(us[i], us[j], us[e]) >= right) continue;
        if (Math.max(vs[i], vs[j], vs[e]) <= top || Math.min(vs[i], vs[j], vs[e]) >= bottom) continue;
        // It lies nowhere before the plane of the triangle.
        if (area !== 0 && !before(i) && !before(j) && !before(e)) continue;
        found.push(other);
      }
    });
    return found.length > 0 ? Int32Array.from(found) : null;
  }

  private eachCell(t: number, visit: (cell: number) => void): void {
    const { us, vs } = this.seen;
    const a = this.indices[t * 3];
    const b = this.indices[t * 3 + 1];
    const c = this.indices[t * 3 + 2];
    const last = this.side - 1;
    const [lowU, lowV] = this.low;
    const [cellU, cellV] = this.cell;
    const left = Math.max(0, Math.floor((Math.min(us[a], us[b], us[c]) - lowU) / cellU));
    const right = Math.min(last, Math.floor((Math.max(us[a], us[b], us[c]) - lowU) / cellU));
    const top = Math.max(0, Math.floor((Math.min(vs[a], vs[b], vs[c]) - lowV) / cellV));
    const bottom = Math.min(last, Math.floor((Math.max(vs[a], vs[b], vs[c]) - lowV) / cellV));
    for (let y = top; y <= bottom; y++) for (let x = left; x <= right; x++) visit(y * this.side + x);
  }
}
