import { expect, test } from 'vitest';
import { applyEntry, type AppliedEntry } from '@wet-lacquer/core/livery/history.ts';
import { newEditId } from '@wet-lacquer/core/livery/ids.ts';
import { layerOf, smallLivery } from '@wet-lacquer/core/testing/scenes.ts';
import { statesBack } from './statesBack.ts';

test('every state on the way back is the one that was there', () => {
  const layer = layerOf('solid', { paint: { scheme: 'red' } });
  const states = [smallLivery([layer])];
  const steps: AppliedEntry[] = [];
  for (let k = 0; k < 12; k++) {
    const edit =
      k % 3 === 2
        ? {
            do: 'add-layer' as const,
            sheet: 'face',
            map: 'colour',
            layer: layerOf('solid', { paint: { hex: '#102030' } }),
            index: 0,
          }
        : { do: 'set-layer' as const, layer: layer.id, set: { opacity: 90 - k * 3 } };
    const entry = { id: newEditId(), person: 'me', edit, undoes: null, redoes: null, label: `Step ${k}` };
    const { livery, applied } = applyEntry(states.at(-1)!, entry);
    states.push(livery);
    steps.push(applied);
  }
  const stateAt = statesBack(states.at(-1)!, steps);
  for (const back of [0, 5, 12, 3]) expect(stateAt(back)).toEqual(states[states.length - 1 - back]);
  expect(stateAt(13)).toBeNull();
});

test('a step whose way back no longer holds ends the way', () => {
  const gone = layerOf('solid', { paint: { scheme: 'red' } });
  const entry = { id: newEditId(), person: 'me', undoes: null, redoes: null, label: 'Set' };
  const edit = { do: 'set-layer' as const, layer: gone.id, set: { opacity: 10 } };
  const stateAt = statesBack(smallLivery([]), [{ ...entry, edit, inverse: edit }]);
  expect(stateAt(1)).toBeNull();
  expect(stateAt(2)).toBeNull();
});
