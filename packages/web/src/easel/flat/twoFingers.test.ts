import { expect, test } from 'vitest';
import { between, heldView } from './twoFingers.ts';
import { toPaper, type View } from './view.ts';

const view: View = {
  zoom: 0.5,
  x: 1000,
  y: 800,
  width: 600,
  height: 400,
  turn: 0,
  mirrored: false,
  seen: { width: 600, height: 400 },
};
const middle = { x: 300, y: 200 };
const hold = (ax: number, ay: number, bx: number, by: number) =>
  between(
    [
      { id: 1, x: ax, y: ay },
      { id: 2, x: bx, y: by },
    ],
    middle,
  );
/** The texel under a place on the screen, from the middle of the view. */
const texel = (at: Pick<View, 'zoom' | 'x' | 'y' | 'turn'>, mirrored: boolean, x: number, y: number) => {
  const p = toPaper({ turn: at.turn, mirrored }, x, y);
  return [at.x + p.x / at.zoom, at.y + p.y / at.zoom];
};

test('fingers that go together move the sheet with them', () => {
  const moved = heldView(view, hold(100, 100, 200, 100), hold(140, 130, 240, 130));
  expect(moved).toEqual({ turn: 0, zoom: 0.5, x: 1000 - 80, y: 800 - 60 });
});

test.each([false, true])(
  'what lies between them stays there, however they go apart and turn (mirrored: %s)',
  (mirrored) => {
    const start = { ...view, mirrored, turn: 20 };
    const from = hold(150, 120, 260, 180);
    const to = hold(90, 250, 190, 60);
    const now = heldView(start, from, to);
    expect(now.zoom).toBeCloseTo((0.5 * Math.hypot(100, 190)) / Math.hypot(110, 60), 6);
    const before = texel(start, mirrored, from.x, from.y);
    const after = texel(now, mirrored, to.x, to.y);
    expect(after[0]).toBeCloseTo(before[0], 6);
    expect(after[1]).toBeCloseTo(before[1], 6);
    // All of their turn but what fingers do when they pinch.
    expect(Math.abs(now.turn - start.turn)).toBeCloseTo(Math.abs(to.turn - from.turn) - 8, 6);
  },
);

test('a pinch does not turn, and the zoom has its ends', () => {
  expect(heldView(view, hold(100, 100, 200, 100), hold(90, 96, 210, 104)).turn).toBe(0);
  expect(heldView(view, hold(100, 100, 101, 100), hold(0, 0, 900, 900)).zoom).toBe(64);
  expect(heldView(view, hold(0, 0, 900, 900), hold(100, 100, 101, 100)).zoom).toBe(1 / 32);
});
