import { describe, expect, test } from 'vitest';
import { VISIBLE } from '@wet-lacquer/core/delivery/proof/encodedLevel.ts';
import { contrast } from '@wet-lacquer/core/colour/hex.ts';
import { heat, SCALE } from './heat.ts';
import { trialsOf } from './proofState.ts';

describe('the difference’s colours', () => {
  test('are grey while nobody sees a difference, and never beyond', () => {
    for (let v = 0; v < VISIBLE; v += 0.1) {
      const [r, g, b] = heat(v, 'deltaE');
      expect([g, b]).toEqual([r, r]);
    }
    for (let v = VISIBLE; v < 12; v += 0.5) {
      const [r, g, b] = heat(v, 'deltaE');
      expect(r).toBeGreaterThan(g);
      expect(g).toBeGreaterThan(b - 1);
    }
  });

  test('grow with the difference: lighter greys, then redder', () => {
    expect(heat(1, 'deltaE')[0]).toBeGreaterThan(heat(0.2, 'deltaE')[0]);
    expect(heat(6, 'deltaE')[1]).toBeLessThan(heat(3, 'deltaE')[1]);
    expect(heat(300, 'deltaE')).toEqual(heat(SCALE.deltaE.worst, 'deltaE'));
    expect(heat(99, 'psnr')).toEqual(heat(SCALE.psnr.visible + 16, 'psnr'));
    expect(heat(30, 'psnr')[1]).toBeLessThan(heat(36, 'psnr')[1]);
  });

  test('part at the visible step by a contrast of 1.5 at least (WCAG formula), so that they do without hue', () => {
    expect(contrast(heat(VISIBLE, 'deltaE'), heat(VISIBLE - 0.01, 'deltaE'))).toBeGreaterThan(1.5);
  });
});

test('a format beside itself is not tried twice', () => {
  expect(trialsOf({ format: 'bc1', effort: 'fast', beside: 'bc1' })).toEqual([{ format: 'bc1', effort: 'fast' }]);
  expect(trialsOf({ format: 'bc1', effort: 'best', beside: 'bc7' })).toHaveLength(2);
  expect(trialsOf({ format: 'bc7', effort: 'best', beside: null })).toHaveLength(1);
});
