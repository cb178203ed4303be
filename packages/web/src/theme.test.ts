/** Both rooms: greys without a tint, and words, lines and rings that stand out as WCAG 2.2 asks. */
import { wcagContrast } from 'culori';
import { describe, expect, test } from 'vitest';
import { INK, ROOMS } from './theme.ts';

const GREYS = ['room', 'panel', 'deep', 'raised', 'line', 'edge', 'text', 'quiet', 'ring', 'marked'] as const;
const GROUNDS = ['room', 'panel', 'raised', 'deep'] as const;

describe.each(Object.entries(ROOMS))('the %s room', (_name, room) => {
  test('has greys alone about art: red, green and blue are equal', () => {
    for (const ink of GREYS) expect(room[ink], ink).toMatch(/^#([0-9a-f]{2})\1\1$/);
  });

  test('words stand out by 4.5 to 1 (WCAG 2.2, 1.4.3)', () => {
    for (const words of ['text', 'quiet', 'good', 'amber', 'red'] as const)
      for (const ground of GROUNDS)
        expect(wcagContrast(room[words], room[ground]), `${words} on ${ground}`).toBeGreaterThanOrEqual(4.5);
    expect(wcagContrast(room.onAccent, room.accent)).toBeGreaterThanOrEqual(4.5);
    expect(wcagContrast(room.text, room.accentDeep)).toBeGreaterThanOrEqual(4.5);
    expect(wcagContrast(room.text, room.redDeep)).toBeGreaterThanOrEqual(4.5);
    for (const words of ['word', 'number'] as const)
      expect(wcagContrast(room[words], room.deep), words).toBeGreaterThanOrEqual(4.5);
  });

  test('edges of controls, and what is chosen, stand out by 3 to 1 (WCAG 2.2, 1.4.11)', () => {
    for (const ground of ['panel', 'raised'] as const)
      expect(wcagContrast(room.edge, room[ground]), ground).toBeGreaterThanOrEqual(3);
    for (const ground of GROUNDS) expect(wcagContrast(room.accent, room[ground]), ground).toBeGreaterThanOrEqual(3);
    // The two lines about what has the focus: one of them is seen wherever it lies.
    expect(wcagContrast(room.accent, room.ring)).toBeGreaterThanOrEqual(3);
  });
});

test('style sheets name every ink that a room has', () => {
  expect(Object.keys(ROOMS.light)).toEqual(Object.keys(ROOMS.dark));
  expect(INK.panel).toBe('var(--panel)');
});
