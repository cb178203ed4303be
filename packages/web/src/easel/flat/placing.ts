/** How handles change layers: pure geometry in texels, degrees clockwise. */
import { round, type Frame } from '@wet-lacquer/core/layers/data.ts';
import { dataOf, type Layer } from '@wet-lacquer/core/livery/layer.ts';

export type { Frame } from '@wet-lacquer/core/layers/data.ts';

export interface Point {
  x: number;
  y: number;
}
type Settings = Record<string, number>;

const RAD = Math.PI / 180;

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

/** The box on the sheet of a layer that has one; lettering needs its width for a size of 1. */
export const frameOf = (layer: Layer, letteringWidth: number | null): Frame | null =>
  layer.on ? null : dataOf(layer).frame(layer, letteringWidth);

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
  if (dataOf(layer).sides(layer) !== 'apart') {
    const factor = Math.max(width / frame.width, height / frame.height);
    width = frame.width * factor;
    height = frame.height * factor;
  }
  const middle = outward({ ...anchor, turn: frame.turn }, (corner.x * width) / 2, (corner.y * height) / 2);
  return { x: round(middle.x), y: round(middle.y), ...dataOf(layer).sized(layer, width, height) };
}

/** Turns so that the handle above the box points to `to`. @param snap to steps of 15 degrees */
export function turned(layer: Layer, centre: Point, to: Point, snap: boolean): Settings {
  const degrees = Math.atan2(to.y - centre.y, to.x - centre.x) / RAD + 90;
  const wrapped = ((degrees + 540) % 360) - 180;
  const turn = round(snap ? Math.round(wrapped / 15) * 15 : wrapped);
  return { [dataOf(layer).turns ?? 'turn']: turn };
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
