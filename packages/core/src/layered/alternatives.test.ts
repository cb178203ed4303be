import { describe, expect, test } from 'vitest';
import { proposeRoles } from '../intake/layerRoles.ts';
import { applyEdit } from '../livery/edit.ts';
import { chooseEdits, choicesIn, isAlternative, withChoice } from '../livery/choices.ts';
import { layersOf } from './layersOf.ts';
import { layerOf, NO_HASH, smallLivery } from '../testing/scenes.ts';
import { pixels, writePsd } from '../testing/layeredFiles.ts';
import { nodesIn } from './layered.ts';
import { readPsd } from './psd.ts';

const side = 64;
const flat = (rgba: [number, number, number, number], inside = (_x: number, _y: number) => true) =>
  pixels(side, side, (x, y) => (inside(x, y) ? rgba : [0, 0, 0, 0]));
const read = (children: unknown[]) => readPsd(writePsd(children as never, side, side));
const member = (name: string, hidden: boolean, colour: [number, number, number, number], left = 0) => ({
  name,
  hidden,
  imageData: flat(colour, (x) => x >= left && x < left + 20),
});

describe('a group of which one member is meant to be seen', () => {
  const group = (name: string, children: unknown[]) => ({ name, opened: true, children });

  test('is one choice: by its name, or because its members lie in one place and only one is seen', () => {
    const file = read([
      { name: 'ground', imageData: flat([90, 90, 90, 255]) },
      group('Pattern', [member('Bands', false, [255, 0, 0, 255]), member('Dots', true, [0, 0, 255, 255], 40)]),
      group('nose', [member('old', true, [0, 255, 0, 255]), member('new', false, [0, 90, 0, 255])]),
      // Two that are both seen, and two hidden ones in different places, are no choice.
      group('marks', [member('left', false, [1, 1, 1, 255]), member('right', false, [1, 1, 1, 255])]),
      group('parts', [member('a', true, [1, 1, 1, 255]), member('b', false, [1, 1, 1, 255], 40)]),
    ]);
    const layers = layersOf(file.nodes, file, () => true);
    expect(layers.flatMap(({ oneOf, name }) => (oneOf ? [[oneOf.of, oneOf.is, name]] : []))).toEqual([
      ['Pattern', 'Bands', 'Bands'],
      ['Pattern', 'Dots', 'Dots'],
      ['nose', 'old', 'old'],
      ['nose', 'new', 'new'],
    ]);
  });

  test('is chosen among in the livery by edits that go back; the hidden ones are no findings', () => {
    const picture = (is: string, hidden: boolean) =>
      layerOf('picture', {
        ...{ name: is, hidden, oneOf: { of: 'Pattern', is } },
        ...{ blob: NO_HASH, left: 0, top: 0, width: 4, height: 4 },
      });
    const layers = [picture('Bands', false), picture('Dots', true), picture('Dots', true)];
    expect(choicesIn(layers)).toEqual([{ name: 'Pattern', options: ['Bands', 'Dots'], shown: 'Bands' }]);
    const edits = chooseEdits(layers, 'Pattern', 'Dots');
    expect(edits).toHaveLength(3);
    const { livery, inverse } = applyEdit(smallLivery(layers), { do: 'together', edits });
    const now = livery.sheets[0].maps[0].layers;
    expect(choicesIn(now)[0].shown).toBe('Dots');
    expect(applyEdit(livery, inverse).livery).toEqual(smallLivery(layers));
    expect(isAlternative(now[0], now)).toBe(true);
    const none = withChoice(now, 'Pattern', null);
    expect(choicesIn(none)[0].shown).toBeNull();
    // With none shown, what is hidden is hidden like any other layer.
    expect(isAlternative(none[0], none)).toBe(false);
  });
});

describe('layers that are no art', () => {
  test('flat black and white is a mask; a plain backdrop under a frame is a guide, and a plain ground without one is art', () => {
    const islands = pixels(side, side, (x, y) => (x < 30 && y < 50 ? [255, 255, 255, 255] : [0, 0, 0, 255]));
    const frame = flat([0, 200, 255, 255], (x, y) => x < 2 || y < 2 || x > 61 || y > 61);
    const art = pixels(side, side, (x, y) => [x * 4, y * 4, 128, x < 40 ? 255 : 0]);
    const roles = (children: unknown[]) => {
      const file = read(children);
      const proposed = proposeRoles(file);
      return nodesIn(file.nodes).map(({ node }) => [node.name, proposed.get(node)!.role]);
    };
    const backdrop = { name: 'Background', imageData: flat([40, 60, 80, 255]) };
    expect(
      roles([
        backdrop,
        { name: 'skin', imageData: art },
        { name: 'island mask', imageData: islands },
        { name: 'Layer 4', hidden: true, imageData: islands },
        { name: 'safe frame', imageData: frame },
      ]),
    ).toEqual([
      ['Background', 'guide'],
      ['skin', 'art'],
      ['island mask', 'guide'],
      ['Layer 4', 'guide'],
      ['safe frame', 'guide'],
    ]);
    expect(roles([backdrop, { name: 'skin', imageData: art }])[0]).toEqual(['Background', 'art']);
    // A chequered ground that is seen is art.
    const chequer = pixels(side, side, (x, y) => (((x >> 3) + (y >> 3)) % 2 ? [0, 0, 0, 255] : [255, 255, 255, 255]));
    expect(roles([{ name: 'chequers', imageData: chequer }])).toEqual([['chequers', 'art']]);
  });
});
