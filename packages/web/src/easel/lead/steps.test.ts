import { expect, test } from 'vitest';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { layerOf, smallLivery } from '@wet-lacquer/core/testing/scenes.ts';
import { nextStep, STEPS } from './steps.ts';

const GREY = { hex: '#808080' };
const ground = layerOf('solid', { phase: 'Base', paint: GREY });
const stripe = layerOf('stripe', { phase: 'Pattern', paint: GREY, x: 1, y: 1, angle: 0, width: 4, softness: 0 });
const mark = layerOf('solid', { phase: 'Marks', paint: GREY });
const of = (layers: Layer[], rest: { proofed?: boolean; delivered?: boolean; seen?: boolean } = {}) =>
  nextStep({ livery: smallLivery(layers), proofed: false, delivered: false, seen: false, ...rest });

test('each step is named when what comes before it is there, and the last one ends it', () => {
  const painted = [ground, stripe, mark];
  const states = [
    of([]),
    of([ground]),
    of([ground, stripe]),
    of(painted),
    of(painted, { proofed: true }),
    of(painted, { proofed: true, delivered: true }),
    of(painted, { proofed: true, delivered: true, seen: true }),
  ];
  expect(states.map((state) => state?.step.key)).toEqual([...STEPS.map(({ key }) => key), undefined]);
  expect(states.map((state) => state?.done)).toEqual([0, 1, 2, 3, 4, 5, undefined]);
});

test('what was done out of turn counts, and what was taken back leads again', () => {
  expect(of([mark])).toMatchObject({ step: { key: 'ground' }, done: 1 });
  expect(of([ground, mark])).toMatchObject({ step: { key: 'stripe' }, done: 2 });
  expect(of([ground])).toMatchObject({ step: { key: 'stripe' }, done: 1 });
  // Who delivered without a proof is not sent back to it.
  expect(of([ground, stripe, mark], { delivered: true })).toMatchObject({ step: { key: 'game' }, done: 5 });
});
