/** Cameras found from what three.js's cameras show. */
import { PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import { randomFrom } from '../testing/images.ts';
import { matchCamera, type CameraPair } from './matchCamera.ts';
import { dot, long, minus, type Vec } from './vectors.ts';

const RATIO = 1.5;

/** A camera somewhere about a hull of about four metres. */
function cameraOf(next: () => number): PerspectiveCamera {
  const camera = new PerspectiveCamera(12 + next() * 55, RATIO, 0.01, 100);
  const [turn, rise, far] = [next() * 2 * Math.PI, (next() - 0.3) * 1.1, 5 + next() * 9];
  camera.position.set(
    Math.cos(turn) * Math.cos(rise) * far,
    Math.sin(rise) * far,
    Math.sin(turn) * Math.cos(rise) * far,
  );
  camera.lookAt((next() - 0.5) * 2, next() - 0.3, (next() - 0.5) * 1.5);
  // Nobody holds it quite level.
  camera.rotateZ((next() - 0.5) * 0.3);
  camera.updateMatrixWorld();
  camera.updateProjectionMatrix();
  return camera;
}

function shownBy(camera: PerspectiveCamera, place: Vec, noise = 0, next: () => number = () => 0.5): CameraPair {
  const at = new Vector3(...place).project(camera);
  return { place, x: (at.x + 1) / 2 + (next() - 0.5) * noise, y: (1 - at.y) / 2 + (next() - 0.5) * noise };
}

const somewhere = (next: () => number): Vec => [(next() - 0.5) * 4, next() * 1.6, (next() - 0.5) * 1.9];

/** How far a found camera shows a place from where the true one does, heights of the picture. */
function missBy(found: NonNullable<ReturnType<typeof matchCamera>>, truth: CameraPair): number {
  const at = minus(truth.place, found.eye);
  const deep = dot(at, found.ahead);
  const right: Vec = [
    found.ahead[1] * found.up[2] - found.ahead[2] * found.up[1],
    found.ahead[2] * found.up[0] - found.ahead[0] * found.up[2],
    found.ahead[0] * found.up[1] - found.ahead[1] * found.up[0],
  ];
  const focal = 0.5 / Math.tan((found.fov * Math.PI) / 360);
  const x = 0.5 + (focal * dot(at, right)) / deep / RATIO;
  const y = 0.5 - (focal * dot(at, found.up)) / deep;
  return Math.hypot((x - truth.x) * RATIO, y - truth.y);
}

describe('a camera', () => {
  test('is found from six places: where it stood, how long its lens is, and what it shows of all others', () => {
    const next = randomFrom(7);
    for (let k = 0; k < 12; k++) {
      const camera = cameraOf(next);
      const pairs = Array.from({ length: 6 }, () => shownBy(camera, somewhere(next)));
      const found = matchCamera(pairs, RATIO)!;
      const far = camera.position.length();
      expect([k, found.off < 1e-4]).toEqual([k, true]);
      expect(long(minus(found.eye, camera.position.toArray())) / far).toBeLessThan(0.02);
      expect(Math.abs(found.fov - camera.fov)).toBeLessThan(1);
      for (let i = 0; i < 10; i++) expect(missBy(found, shownBy(camera, somewhere(next)))).toBeLessThan(0.005);
    }
  });

  test('from four places shows those four where they are', () => {
    const next = randomFrom(11);
    let [near, all] = [0, 0];
    for (let k = 0; k < 12; k++) {
      const camera = cameraOf(next);
      const pairs = Array.from({ length: 4 }, () => shownBy(camera, somewhere(next)));
      const found = matchCamera(pairs, RATIO)!;
      expect([k, found.off < 0.004]).toEqual([k, true]);
      for (let i = 0; i < 5; i++, all++) if (missBy(found, shownBy(camera, somewhere(next))) < 0.05) near++;
    }
    // Four places have now and then a second camera that shows them so.
    expect(near / all).toBeGreaterThan(0.7);
  });

  test('pressed by a hand, off by some pixels, it is off by about as much', () => {
    const next = randomFrom(3);
    for (let k = 0; k < 8; k++) {
      const camera = cameraOf(next);
      const pairs = Array.from({ length: 8 }, () => shownBy(camera, somewhere(next), 0.004, next));
      const found = matchCamera(pairs, RATIO)!;
      expect(found.off).toBeLessThan(0.01);
      const misses = Array.from({ length: 10 }, () => missBy(found, shownBy(camera, somewhere(next))));
      expect(misses.reduce((a, b) => a + b) / 10).toBeLessThan(0.02);
    }
  });

  test('is none from three places, from one place four times, or from numbers that are none; nothing is thrown', () => {
    const next = randomFrom(5);
    const camera = cameraOf(next);
    const pairs = Array.from({ length: 4 }, () => shownBy(camera, somewhere(next)));
    expect(matchCamera(pairs.slice(0, 3), RATIO)).toBeNull();
    expect(matchCamera([pairs[0], pairs[0], pairs[0], pairs[0]], RATIO)).toBeNull();
    expect(matchCamera(pairs, 0)).toBeNull();
    expect(
      matchCamera(
        pairs.map((one) => ({ ...one, place: [NaN, 0, 0] as Vec })),
        RATIO,
      ),
    ).toBeNull();
    // Places that no camera shows so: what comes says how far off it is.
    const wild = pairs.map((one, k) => ({ ...one, x: [0, 1, 0, 1][k], y: [1, 1, 0, 0][k] }));
    const found = matchCamera(wild, RATIO);
    if (found) for (const v of [...found.eye, ...found.up, found.fov, found.off]) expect(Number.isFinite(v)).toBe(true);
  });
});
