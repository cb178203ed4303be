/** Turns the way of a pointer into coverage, dab by dab, 16 bits a texel. */
import { pow } from '../colour/steady.ts';
import { TILE } from '../raster/image.ts';
import { mul16 } from '../raster/mul16.ts';
import { noiseAt } from '../raster/noise.ts';
import { turnOf } from '../raster/turn.ts';
import type { Brush } from './brush.ts';
import { cover, coverPlainly, type Stamp, type TexelBox } from '../raster/cover.ts';
import { tileNumber } from './strokes.ts';

/** One report of a pointer. */
export interface PointerPoint {
  /** Texels. */
  x: number;
  y: number;
  /** 0..1. */
  pressure: number;
  /** Degrees from upright, towards the right and towards the painter. */
  tiltX: number;
  tiltY: number;
  /** On a model: the third number of its place, in the same unit, and the triangle that it is on. */
  z?: number;
  triangle?: number;
  /** The hand is beside what it paints: the stroke goes on where it comes back. */
  lifted?: true;
}

/** What a stroke does beside following the hand. */
export interface StrokeRules {
  width: number;
  height: number;
  /** Where else each dab goes. */
  symmetry?:
    | { kind: 'axis'; /** The line, texels. */ at: number; across: 'x' | 'y' }
    | { kind: 'radial'; x: number; y: number; count: number }
    | null;
  /** An atlas cell that the brush leaves on one side and enters on the other. */
  wrap?: TexelBox | null;
  /** 16-bit shares of a tile that the selection lets through; null: none of it. Left out: everything. */
  limit?: (tile: number) => Uint16Array | null;
  seed: number;
}

const ONE = 65535;
/** Bytes of stamps that are kept for the next stroke. */
const KEPT_STAMPS = 24 * 1024 * 1024;

/** A dab's shares of 65535; the middle texel holds the brush's point. @param sx,sy where it lies in that texel, -0.5..0.5 */
function makeStamp(brush: Brush, radius: number, sx: number, sy: number, turn: number): Stamp {
  const reach = Math.ceil(radius + 1);
  const side = 2 * reach + 1;
  const values = new Uint16Array(side * side);
  const isRound = brush.tip === 'round' || brush.tip === 'chalk';
  const { cos, sin } = turnOf(isRound ? 0 : turn);
  const ratio = brush.tip === 'flat' ? 0.28 : 1;
  // A round tip is the same on both sides of its point, and above and below it.
  const mirrored = isRound && Number.isInteger(2 * sx) && Number.isInteger(2 * sy);
  for (let y = -reach; y <= reach; y++) {
    const row = (y + reach) * side;
    const like = 2 * sy - y;
    if (mirrored && like < y && like >= -reach) {
      values.copyWithin(row, (like + reach) * side, (like + reach + 1) * side);
      continue;
    }
    for (let x = -reach; x <= reach; x++) {
      const alike = 2 * sx - x;
      if (mirrored && alike < x && alike >= -reach) {
        values[row + x + reach] = values[row + alike + reach];
        continue;
      }
      const [dx, dy] = [x - sx, y - sy];
      const u = dx * cos + dy * sin;
      const v = (dy * cos - dx * sin) / ratio;
      const d = Math.sqrt(u * u + v * v);
      let share = brush.pixel
        ? x === 0 && y === 0
          ? 1
          : wholeAt(d, radius)
        : shareAt(d, radius, ratio, brush.hardness);
      if (share > 0 && brush.tip === 'bristle') {
        const n = noiseAt((u / radius) * 9 + 50, (v / radius) * 9 + 50, 5);
        share *= n < 0.45 ? 0 : n > 0.6 ? 1 : (n - 0.45) / 0.15;
      }
      values[row + x + reach] = Math.round(share * ONE);
    }
  }
  return { side, values };
}

const wholeAt = (d: number, radius: number): number => (d <= Math.max(radius, 0.5) - 0.01 ? 1 : 0);

/** How much of a texel a tip covers, 0..1. @param d how far it lies from the point @param ratio of a flat tip's sides */
export function shareAt(d: number, radius: number, ratio: number, hardness: number): number {
  // The edge is antialiased over one texel; within it the profile is full up to the hardness, then smooth.
  const edge = (radius - d) * (ratio < 1 ? 0.5 + ratio : 1) + 0.5;
  if (edge <= 0) return 0;
  const hard = hardness / 100;
  const inner = radius * hard;
  const t = d <= inner || hard >= 1 ? 0 : (d - inner) / (radius - inner);
  const profile = t >= 1 ? (hard >= 0.99 ? 1 : 0) : (1 - t) * (1 - t) * (1 + 2 * t);
  return Math.min(profile, edge >= 1 ? 1 : edge);
}

const stamps = new Map<string, Stamp>();
let stampBytes = 0;

/** A stamp made for an earlier dab, also of another stroke, or a new one. */
function stampOf(brush: Brush, radius: number, sx: number, sy: number, turn: number): Stamp {
  const key = [brush.tip, brush.hardness, brush.pixel, radius, sx, sy, turn].join();
  const known = stamps.get(key);
  if (known) return known;
  const made = makeStamp(brush, radius, sx, sy, turn);
  if (stampBytes + made.values.byteLength > KEPT_STAMPS) {
    stamps.clear();
    stampBytes = 0;
  }
  stamps.set(key, made);
  stampBytes += made.values.byteLength;
  return made;
}

/** The texel that a place is in, and where in it, -0.5 to before 0.5, in so many parts of a texel. */
function cut(place: number, parts: number): [texel: number, part: number] {
  const whole = Math.floor(place);
  const part = Math.round((place - whole) * parts) / parts;
  // At its far edge it is at the near edge of the next.
  return part === 1 ? [whole + 1, -0.5] : [whole, part - 0.5];
}

export class StrokeMaker {
  /** What is covered so far, by tile number: what the selection lets through. */
  readonly tiles = new Map<number, Uint16Array>();
  /** The same before the selection; the same map when there is none. */
  protected readonly raw: Map<number, Uint16Array>;
  private last: PointerPoint | null = null;
  private smooth: PointerPoint | null = null;
  /** Way since the last dab, texels. */
  private gone = 0;
  private dabs = 0;
  protected dirty: TexelBox[] = [];

  constructor(
    protected readonly brush: Brush,
    protected readonly rules: StrokeRules,
  ) {
    this.raw = rules.limit ? new Map() : this.tiles;
  }

  /** Goes on to a point. */
  to(point: PointerPoint): void {
    if (point.lifted) {
      this.smooth = null;
      this.last = null;
      return;
    }
    const lag = this.brush.smoothing / 100;
    const keep = lag * 0.85;
    const from = this.smooth;
    const next = from
      ? {
          ...point,
          x: from.x * keep + point.x * (1 - keep),
          y: from.y * keep + point.y * (1 - keep),
          ...(point.z !== undefined && { z: (from.z ?? point.z) * keep + point.z * (1 - keep) }),
          pressure: from.pressure * 0.5 + point.pressure * 0.5,
        }
      : point;
    this.smooth = next;
    this.lineTo(next);
  }

  /** Ends where the hand is, not where the smoothed line got to. */
  end(point: PointerPoint | null): void {
    if (point && !point.lifted && this.smooth) this.lineTo(point);
  }

  /** A straight line to a point, whatever the smoothing. */
  straightTo(point: PointerPoint): void {
    this.smooth = point;
    this.lineTo(point);
  }

  /** The boxes that changed since this was asked last, in texels of the sheet. */
  changed(): TexelBox[] {
    const boxes = this.dirty;
    this.dirty = [];
    if (this.rules.limit) for (const box of boxes) this.limitTo(box);
    return boxes;
  }

  private lineTo(point: PointerPoint): void {
    const from = this.last;
    if (!from) {
      this.last = point;
      this.dab(point);
      return;
    }
    const [dx, dy, dz] = [point.x - from.x, point.y - from.y, (point.z ?? 0) - (from.z ?? 0)];
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    if (!(length > 0)) return;
    let at = 0;
    for (;;) {
      const spacing = this.spacingAt(from, point, at / length);
      const need = spacing - this.gone;
      if (at + need > length) break;
      at += need;
      this.gone = 0;
      const t = at / length;
      this.dab({
        ...point,
        ...(point.z !== undefined && { z: (from.z ?? 0) + dz * t }),
        x: from.x + dx * t,
        y: from.y + dy * t,
        pressure: from.pressure + (point.pressure - from.pressure) * t,
      });
    }
    this.gone += length - at;
    this.last = point;
  }

  private pressed(pressure: number): number {
    const p = pressure <= 0 ? 0 : pressure >= 1 ? 1 : pressure;
    return this.brush.curve === 1 ? p : pow(p, this.brush.curve);
  }

  private sizeAt(pressure: number): number {
    const { size, pressureSize } = this.brush;
    return Math.max(1, size * (1 - (pressureSize / 100) * (1 - this.pressed(pressure))));
  }

  private spacingAt(from: PointerPoint, to: PointerPoint, t: number): number {
    if (this.brush.pixel) return 0.5;
    const size = this.sizeAt(from.pressure + (to.pressure - from.pressure) * t);
    return Math.max(0.5, (size * this.brush.spacing) / 100);
  }

  private dab(point: PointerPoint): void {
    const { brush, rules } = this;
    const n = this.dabs++;
    const astray = (k: number) => (noiseAt(n * 1.7 + 0.5, k * 3.1 + 0.5, rules.seed) - 0.5) * 2 * (brush.jitter / 100);
    const size = this.sizeAt(point.pressure) * (1 + astray(3) * 0.5);
    const flow = (brush.flow / 100) * (1 - (brush.pressureFlow / 100) * (1 - this.pressed(point.pressure)));
    const turn = brush.angle + (brush.tip === 'flat' ? point.tiltX - point.tiltY : 0);
    const at = { x: point.x + astray(1) * size, y: point.y + astray(2) * size };
    this.press({ ...point, ...at }, size / 2, turn, flow);
  }

  /** Puts a dab where it goes, and its likenesses. @param radius texels */
  protected press(point: PointerPoint, radius: number, turn: number, flow: number): void {
    for (const place of this.places(point.x, point.y, turn)) this.put(place.x, place.y, radius, place.turn, flow);
  }

  /** Where a dab goes: its place and its likenesses. */
  private places(x: number, y: number, turn: number): { x: number; y: number; turn: number }[] {
    const { symmetry, wrap } = this.rules;
    let all = [{ x, y, turn }];
    if (symmetry?.kind === 'axis') {
      const mirrored =
        symmetry.across === 'x'
          ? { x: 2 * symmetry.at - x, y, turn: -turn }
          : { x, y: 2 * symmetry.at - y, turn: -turn };
      all = [...all, mirrored];
    } else if (symmetry?.kind === 'radial') {
      all = Array.from({ length: symmetry.count }, (_, k) => {
        const angle = (360 * k) / symmetry.count;
        const { cos, sin } = turnOf(angle);
        const [dx, dy] = [x - symmetry.x, y - symmetry.y];
        return { x: symmetry.x + dx * cos - dy * sin, y: symmetry.y + dx * sin + dy * cos, turn: turn + angle };
      });
    }
    if (wrap) {
      const [w, h] = [wrap.right - wrap.left, wrap.bottom - wrap.top];
      all = all.flatMap((p) =>
        [-w, 0, w].flatMap((dx) => [-h, 0, h].map((dy) => ({ ...p, x: p.x + dx, y: p.y + dy }))),
      );
    }
    return all;
  }

  private put(x: number, y: number, radius: number, turn: number, flow: number): void {
    const { brush, rules } = this;
    // Places and radii in quarters of a texel while they can be seen; large dabs in whole ones.
    const fine = brush.pixel ? 1 : radius < 24 ? 4 : radius < 100 ? 2 : 1;
    const r = brush.pixel ? radius : Math.round(radius * fine) / fine;
    const [px, sx] = brush.pixel ? [Math.floor(x), 0] : cut(x, fine);
    const [py, sy] = brush.pixel ? [Math.floor(y), 0] : cut(y, fine);
    const stamp = stampOf(brush, Math.max(0.5, r), sx, sy, Math.round(turn));
    const reach = (stamp.side - 1) / 2;
    const wrap = rules.wrap;
    const box = {
      left: Math.max(0, wrap?.left ?? 0, px - reach),
      top: Math.max(0, wrap?.top ?? 0, py - reach),
      right: Math.min(rules.width, wrap?.right ?? rules.width, px + reach + 1),
      bottom: Math.min(rules.height, wrap?.bottom ?? rules.height, py + reach + 1),
    };
    if (box.left >= box.right || box.top >= box.bottom) return;
    const share = Math.round(flow * ONE);
    for (let ty = Math.floor(box.top / TILE); ty * TILE < box.bottom; ty++)
      for (let tx = Math.floor(box.left / TILE); tx * TILE < box.right; tx++)
        this.putOn(tx, ty, box, stamp, px - reach, py - reach, share);
  }

  private putOn(tx: number, ty: number, box: TexelBox, stamp: Stamp, left: number, top: number, share: number): void {
    const number = tileNumber(tx, ty);
    let tile = this.raw.get(number);
    if (!tile) this.raw.set(number, (tile = new Uint16Array(TILE * TILE)));
    const [x0, y0] = [tx * TILE, ty * TILE];
    const within = {
      left: Math.max(box.left - x0, 0),
      top: Math.max(box.top - y0, 0),
      right: Math.min(box.right - x0, TILE),
      bottom: Math.min(box.bottom - y0, TILE),
    };
    // The grain belongs to the surface: it stays where it is, however often the brush passes.
    const grain = (by: number, x: number, y: number) => grainAt(by, x0 + x, y0 + y);
    // Where the brush has covered everything already, nothing changes and nothing need be drawn again.
    const changed =
      this.brush.tip === 'chalk'
        ? coverPlainly(tile, stamp, left - x0, top - y0, within, share, grain)
        : cover(tile, stamp, left - x0, top - y0, within, share);
    if (!changed) return;
    const { left: l, top: t, right, bottom } = changed;
    this.dirty.push({ left: x0 + l, top: y0 + t, right: x0 + right, bottom: y0 + bottom });
  }

  private limitTo(box: TexelBox): void {
    for (let ty = Math.floor(box.top / TILE); ty * TILE < box.bottom; ty++) {
      for (let tx = Math.floor(box.left / TILE); tx * TILE < box.right; tx++) {
        const number = tileNumber(tx, ty);
        const raw = this.raw.get(number);
        const shares = raw && this.rules.limit!(number);
        if (!raw || !shares) continue;
        let tile = this.tiles.get(number);
        if (!tile) this.tiles.set(number, (tile = new Uint16Array(TILE * TILE)));
        const [x0, x1] = [Math.max(0, box.left - tx * TILE), Math.min(TILE, box.right - tx * TILE)];
        const [y0, y1] = [Math.max(0, box.top - ty * TILE), Math.min(TILE, box.bottom - ty * TILE)];
        for (let y = y0; y < y1; y++)
          for (let i = y * TILE + x0; i < y * TILE + x1; i++) tile[i] = mul16(raw[i], shares[i]);
      }
    }
  }
}

/** What a surface's grain lets through of a share, at a texel of the sheet. */
export function grainAt(by: number, x: number, y: number): number {
  const n = noiseAt(x / 3, y / 3, 77) * 0.6 + noiseAt(x / 9, y / 9, 78) * 0.4;
  if (n < 0.42) return 0;
  return n > 0.55 ? by : Math.round((by * (n - 0.42)) / 0.13);
}
