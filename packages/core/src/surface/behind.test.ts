/** What stands before a surface, on bodies that are known by formula. */
import { expect, test } from 'vitest';
import { marksBehind } from '../delivery/checks/marksBehind.ts';
import type { CheckInput, Finding } from '../delivery/finding.ts';
import type { Layer } from '../livery/layer.ts';
import type { Template } from '../livery/template.ts';
import { body } from '../testing/bodies.ts';
import { layerOf, smallLivery, sourcesFor } from '../testing/scenes.ts';
import { partBefore } from './behind.ts';
import type { Vec } from './vectors.ts';

const out: Vec = [0, 0, 1];
const pane = (
  x: number,
  y: number,
  z: number,
  width: number,
  height: number,
  box: [number, number, number, number],
) => ({
  ...{ sheet: 'face', box, columns: 2, rows: 2, normal: (): Vec => out },
  at: (u: number, v: number): Vec => [x + width * u, y - height * v, z],
});

/** A wall of two metres, and a bar of a fifth of its height before it, `off` metres. */
function wallWithBar(off: number): Template {
  const both = body(
    512,
    ['face'],
    [pane(-1, 1, 0, 2, 2, [0, 0, 1, 1]), pane(-1, 0.2, off, 2, 0.4, [0, 0, 0.01, 0.01])],
  );
  const [wall, bar] = both.parts;
  return {
    ...both,
    parts: [
      { ...wall, key: 'wall' },
      { ...bar, key: 'bar', name: 'grab rail', sheet: null, hex: '#333333' },
    ],
  };
}

test('a bar is before what lies behind it, and before nothing else', () => {
  const template = wallWithBar(0.08);
  expect(partBefore(template, [0.3, 0.1, 0], out, 'wall')).toBe('bar');
  expect(partBefore(template, [0.3, 0.21, 0], out, 'wall')).toBeNull();
  expect(partBefore(template, [0.3, -0.25, 0], out, 'wall')).toBeNull();
  // The bar is before itself as little as the wall is before it.
  expect(partBefore(template, [0.3, 0.1, 0.08], out, 'bar')).toBeNull();
  // Another part of the model, farther off, hides nothing.
  expect(partBefore(wallWithBar(1), [0.3, 0.1, 0], out, 'wall')).toBeNull();
});

async function found(template: Template, layers: Layer[]): Promise<Finding[]> {
  const livery = smallLivery(layers, template);
  return marksBehind.run({ livery, template, sources: await sourcesFor(livery, template) } as unknown as CheckInput);
}
const text = (rest: object) =>
  layerOf('lettering', {
    ...{ name: 'Name', text: 'HHHHHHHH', font: 'russo-one', x: 256, y: 256, turn: 0, paint: { hex: '#ffffff' } },
    ...{ outline: null, spacing: 0, slant: 0, mirrored: false, ...rest },
  });

test('a mark behind it is named with the share; one beside it is not, nor one that is hidden', async () => {
  const template = wallWithBar(0.08);
  // As high as the bar and on its height: all of it. Twice as high: about half.
  const whole = await found(template, [text({ size: 60 })]);
  expect(whole.map(({ title, level }) => [title, level])).toEqual([['100 % of “Name” is behind grab rail', 'advice']]);
  const [half] = await found(template, [text({ size: 280 })]);
  const share = Number(/^(\d+) %/.exec(half.title)![1]);
  // Capitals of this font are 0.72 of its size high (from memory), the bar is 102 texels.
  expect(Math.abs(share - (100 * 102.4) / (0.72 * 280))).toBeLessThan(8);
  expect(await found(template, [text({ size: 60, y: 100 })])).toEqual([]);
  expect(await found(template, [text({ size: 60, hidden: true })])).toEqual([]);
});

test('a mark that is put on the model is looked at where it lies', async () => {
  const template = wallWithBar(0.08);
  const on = (y: number) => ({
    ...{
      kind: 'flat',
      scale: 0.004,
      at: [0, y, 0],
      facing: [0, 0, 1],
      up: [0, 1, 0],
      limit: 70,
      soft: 10,
      through: true,
    },
  });
  expect(await found(template, [text({ size: 60, x: 0, y: 0, on: on(0) })])).toHaveLength(1);
  expect(await found(template, [text({ size: 60, x: 0, y: 0, on: on(-0.7) })])).toEqual([]);
});
