import { expect, test } from 'vitest';
import { layerOf } from '../testing/scenes.ts';
import { shadingOnTop, withShadingLast } from './shading.ts';

const layer = (name: string, blend = 'normal') => layerOf('solid', { name, blend, paint: { hex: '#000000' } });

test.each([
  [['paint', 'Shading'], 1],
  [['paint', 'lines', 'AO', 'highlights'], 2],
  [['paint', { name: 'x', blend: 'multiply' }], 1],
  [['Shadow', 'paint'], 0],
  [['paint', 'Fittings', 'logo'], 0],
  [['lightning bolt', 'aorta', 'glossary of marks'], 0],
  [['multiply everything', { name: 'a', blend: 'screen' }, { name: 'b', blend: 'overlay' }], 2],
  // All of it shades: then none is told from the paint.
  [['shading', 'shadow'], 0],
  [[], 0],
] as [(string | { name: string; blend: string })[], number][])('%j', (names, count) => {
  const layers = names.map((one) => (typeof one === 'string' ? layer(one) : layer(one.name, one.blend)));
  expect(shadingOnTop(layers)).toBe(count);
  const phases = withShadingLast(layers).map(({ phase }) => phase);
  expect(phases).toEqual(layers.map((_, i) => (i >= layers.length - count ? 'Retouch' : 'Base')));
});
