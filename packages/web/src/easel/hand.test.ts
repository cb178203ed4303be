import { describe, expect, test, vi } from 'vitest';

vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => {} });
const { emptyHand, paintIn, useHand } = await import('./hand.ts');

const scheme = (...ids: string[]) => ({ scheme: ids.map((id) => ({ id, name: id, hex: '#112233' })) }) as never;

describe('what is painted with', () => {
  test('what was chosen, as long as the livery has it', () => {
    expect(paintIn(scheme('ground', 'main'), { scheme: 'ground' as never })).toEqual({ scheme: 'ground' });
    expect(paintIn(scheme('ground', 'main'), { hex: '#abcdef' })).toEqual({ hex: '#abcdef' });
    // A colour of a livery that was open before.
    expect(paintIn(scheme('ground', 'main'), { scheme: 'elsewhere' as never })).toEqual({ scheme: 'main' });
  });

  test('to begin with a colour that is not the ground, where there is one', () => {
    expect(paintIn(scheme('ground', 'main', 'line'), null)).toEqual({ scheme: 'main' });
    expect(paintIn(scheme('only'), null)).toEqual({ scheme: 'only' });
    expect(paintIn(scheme(), null)).toEqual({ hex: '#808080' });
  });
});

test('another livery: what lay on the one before is let go, the brush stays in hand', () => {
  useHand.setState({
    hand: 'clone',
    onMask: true,
    cloneFrom: { sheet: 'hull', x: 1, y: 2 },
    cloneOffset: { dx: 1, dy: 1 },
  });
  const { brush } = useHand.getState();
  emptyHand();
  expect(useHand.getState()).toMatchObject({ hand: 'clone', brush, onMask: false, cloneFrom: null, cloneOffset: null });
});
