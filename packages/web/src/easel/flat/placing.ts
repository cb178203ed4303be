/** How handles change layers: pure geometry in texels, degrees clockwise. */
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';

/** A placed layer's box: its middle, its sides before turning, and its turn. */
export interface Frame {
  x: number;
  y: number;
  width: number;
  height: number;
  turn: number;
}
export interface Point {
  x: number;
  y: number;
}
type Settings = Record<string, number>;

const RAD = Math.PI / 180;
const round = (value: number, digits = 1) => Number(value.toFixed(digits));

/** From a frame's own axes to the sheet's. */
export function outward(frame: Pick<Frame, 'x' | 'y' | 'turn'>, along: number, across: number): Point {
  const [cos, sin] = [Math.cos(frame.turn * RAD), Math.sin(frame.turn * RAD)];
  return { x: frame.x + along * cos - across * sin, y: frame.y + along * sin + across * cos };
}

/** From the sheet's axes to a frame's own. */
export function inward(origin: Point, turn: number, p: Point): { along: number; across: number } {
  const [cos, sin] = [Math.cos(turn * RAD), Math.sin(turn * RAD)];
  const [dx, dy] = [p.x - origin.x, p.y - origin.y];
  return { along: dx * cos + dy * sin, across: dy * cos - dx * sin };
}

/** The box of a layer that has one; lettering needs its width for a size of 1. */
export function frameOf(layer: Layer, letteringWidth: number | null): Frame | null {
  switch (layer.kind) {
    case 'decal':
    case 'hazard':
      return { x: layer.x, y: layer.y, width: layer.width, height: layer.height, turn: layer.turn };
    case 'lettering':
      return letteringWidth === null
        ? null
        : {
            x: layer.x,
            y: layer.y,
            width: Math.max(letteringWidth, 0.1) * layer.size,
            height: layer.size,
            turn: layer.turn,
          };
    case 'chequer':
      return {
        x: layer.x,
        y: layer.y,
        width: layer.columns * layer.cell,
        height: layer.rows * layer.cell,
        turn: layer.angle,
      };
    default:
      return null;
  }
}

export const holds = (frame: Frame, p: Point): boolean => {
  const { along, across } = inward(frame, frame.turn, p);
  return Math.abs(along) <= frame.width / 2 && Math.abs(across) <= frame.height / 2;
};

export const moved = (layer: Layer, from: Point, to: Point): Settings =>
  'x' in layer ? { x: round(layer.x + to.x - from.x), y: round(layer.y + to.y - from.y) } : {};

/**
 * Scales from a corner; the opposite corner stays where it is.
 * @param corner which one is held: -1 or 1 along and across
 */
export function scaled(layer: Layer, frame: Frame, corner: Point, to: Point): Settings {
  const anchor = outward(frame, (-corner.x * frame.width) / 2, (-corner.y * frame.height) / 2);
  const { along, across } = inward(anchor, frame.turn, to);
  let width = Math.max(2, along * corner.x);
  let height = Math.max(2, across * corner.y);
  if (layer.kind !== 'hazard' && (layer.kind !== 'decal' || layer.keepRatio)) {
    const factor = Math.max(width / frame.width, height / frame.height);
    width = frame.width * factor;
    height = frame.height * factor;
  }
  const middle = outward({ ...anchor, turn: frame.turn }, (corner.x * width) / 2, (corner.y * height) / 2);
  const place = { x: round(middle.x), y: round(middle.y) };
  if (layer.kind === 'decal')
    return { ...place, width: round(width), height: round(layer.keepRatio ? width / layer.ratio : height, 3) };
  if (layer.kind === 'hazard') return { ...place, width: round(width), height: round(height) };
  if (layer.kind === 'lettering') return { ...place, size: round(height) };
  if (layer.kind === 'chequer') return { ...place, cell: round(width / layer.columns) };
  return {};
}

/** Turns so that the handle above the box points to `to`. @param snap to steps of 15 degrees */
export function turned(layer: Layer, centre: Point, to: Point, snap: boolean): Settings {
  const degrees = Math.atan2(to.y - centre.y, to.x - centre.x) / RAD + 90;
  const wrapped = ((degrees + 540) % 360) - 180;
  const turn = round(snap ? Math.round(wrapped / 15) * 15 : wrapped);
  return layer.kind === 'chequer' ? { angle: turn } : { turn };
}

/** The direction from a line's own point to where its end is held. */
export function aimed(from: Point, to: Point, snap: boolean): { angle: number; length: number } {
  const degrees = Math.atan2(to.y - from.y, to.x - from.x) / RAD;
  return {
    angle: round(snap ? Math.round(degrees / 15) * 15 : degrees),
    length: round(Math.max(1, Math.hypot(to.x - from.x, to.y - from.y))),
  };
}

/** Distance of a point from a stripe's middle line. */
export const fromLine = (line: Point & { angle: number }, to: Point): number =>
  Math.abs(inward(line, line.angle, to).across);
