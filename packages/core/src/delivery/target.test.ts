import { zipSync } from 'fflate';
import { describe, expect, test } from 'vitest';
import { encodeImage } from '../texture/encode.ts';
import { readDdsLevel, writeDds } from '../texture/dds.ts';
import { mipChain } from '../texture/mips.ts';
import { picture } from '../testing/images.ts';
import { smallLivery, smallTemplate } from '../testing/scenes.ts';
import { cellsChanged, putCells } from './atlas.ts';
import { packChannels } from './preparedSheet.ts';
import { SHIPPED_SPECS } from '../games/index.ts';
import { lookAtTarget, nextFree } from './target.ts';

const text = (value: string) => new TextEncoder().encode(value);
const reader = (files: Record<string, Uint8Array>) => ({
  names: Object.keys(files),
  read: async (name: string) => files[name] ?? null,
  hash: async (bytes: Uint8Array) => new TextDecoder().decode(bytes),
});
const look = (
  game: string,
  files: Record<string, Uint8Array>,
  slot: number | null = null,
  held: [string, string][] = [],
  wish = '',
) => {
  const livery = smallLivery([]);
  const particulars = { ...livery.particulars, slot: wish, author: 'Ann' };
  const before = { slot, files: new Map(held) };
  return lookAtTarget(
    { ...livery, particulars },
    smallTemplate(),
    SHIPPED_SPECS[game],
    reader(files),
    before,
    [],
    [24],
  );
};

describe('numbers', () => {
  const slotOf = (n: number) => ({ [`liveries/launch-${n}/launch-${n}_bow.dds`]: text('x') });

  test('the next free one, past those in the folder and those of deliveries under way', async () => {
    expect((await look('harbour-watch', {})).slot).toBe(21);
    const target = await look('harbour-watch', { ...slotOf(21), ...slotOf(22), ...slotOf(23), ...slotOf(25) });
    expect(target.slot).toBe(26);
    expect(target.taken.get(22)).toBe('liveries/launch-22/launch-22_bow.dds');
    expect(target.taken.get(24)).toMatch(/under way/);
  });

  test('one’s own is kept, a wished one is taken, and none is left when all are taken', async () => {
    const own = slotOf(30);
    const held = Object.keys(own).map((name): [string, string] => [name, 'x']);
    expect((await look('harbour-watch', own, 30, held)).slot).toBe(30);
    expect((await look('harbour-watch', own, 30, held, '33')).slot).toBe(33);
    const all = Object.assign({}, ...Array.from({ length: 19 }, (_, i) => slotOf(21 + i))) as Record<
      string,
      Uint8Array
    >;
    const full = await look('harbour-watch', all);
    expect([full.slot, nextFree(SHIPPED_SPECS['harbour-watch'], full)]).toEqual([null, null]);
  });

  test('inside packages: what cannot be read takes none, and one’s own package is no clash', async () => {
    const bale = (archive: unknown) => zipSync({ 'bale.json': text(JSON.stringify({ archive })) });
    const target = await look('ferrywardens-oath', {
      'bales/90-a.over.bale': bale(16),
      'bales/90-b.over.bale': bale('17'),
      'bales/90-c.over.bale': text('no zip'),
      'bales/90-test.over.bale': bale(18),
    });
    expect([...target.taken.keys()].sort()).toEqual([16, 24]);
    expect(target.slot).toBe(17);
  });

  test('a name with fields between is matched whole', async () => {
    const skin = (name: string) => ({ [`skins/${name}.png`]: text('x') });
    const files = { ...skin('test+ann+0001'), ...skin('test+ann+00021'), ...skin('other+ann+0002') };
    expect((await look('pebblewick', files)).slot).toBe(2);
  });
});

test('what became of the last delivery: gone, changed, and as it was', async () => {
  const target = await look('harbour-watch', { a: text('1'), b: text('2') }, null, [
    ['a', '1'],
    ['b', 'other'],
    ['c', '3'],
  ]);
  expect([...target.changed].map(([name, bytes]) => [name, bytes && new TextDecoder().decode(bytes)])).toEqual([
    ['b', '2'],
    ['c', null],
  ]);
});

test('channels are packed from several maps and plain values', () => {
  const size = { width: 2, height: 1 };
  const map = (...data: number[]) => ({ ...size, data: Uint8Array.from(data) });
  const maps = new Map([
    ['rough', map(1, 2, 3, 4, 5, 6, 7, 8)],
    ['metal', map(9, 10, 11, 12, 13, 14, 15, 16)],
  ]);
  const packed = packChannels(
    {
      red: { value: 200 },
      green: { map: 'rough', channel: 'red' },
      blue: { map: 'metal', channel: 'alpha' },
      alpha: { map: 'rough', channel: 'blue' },
    },
    maps,
    size,
  );
  expect([...packed.data]).toEqual([200, 1, 12, 3, 200, 5, 16, 7]);
});

describe('a cell of an atlas', () => {
  const cells = { columns: 4, rows: 2 };
  const image = picture(64, 32, (x, y) => [x * 4, y * 8, (x * y) & 255, 255]);
  const mips = { kind: 'srgb', filter: 'box' } as const;
  const facts = { width: 64, height: 32, format: 'bc1', header: 'legacy', colourSpace: 'srgb' } as const;
  const whole = (from = image) =>
    writeDds(
      facts,
      mipChain(from, mips).map((level) => encodeImage(level, 'bc1', { effort: 'fast' })),
    );
  const painted = picture(64, 32, (x, y) =>
    x >= 32 && x < 48 && y < 16 ? [255, 0, 0, 255] : [x * 4, y * 8, (x * y) & 255, 255],
  );

  test('is found by what differs', () => {
    expect(cellsChanged(image, image, cells)).toEqual([]);
    expect(cellsChanged(image, painted, cells)).toEqual([2]);
    const last = { ...image, data: image.data.slice() };
    last.data[last.data.length - 2] ^= 1;
    expect(cellsChanged(image, last, cells)).toEqual([7]);
  });

  test('changes its own blocks in every level where it fills whole ones, and no other byte', () => {
    const base = whole();
    const out = putCells(base, painted, [2], cells, { format: 'bc1' }, mips, { effort: 'fast' });
    for (const [level, side] of [
      [0, 16],
      [1, 8],
      [2, 4],
    ]) {
      const { width, data } = readDdsLevel(out, level);
      const [before, own] = [readDdsLevel(base, level).data, [2 * side, 3 * side]];
      for (let i = 0; i < data.length; i += 4) {
        const [x, y] = [(i / 4) % width, Math.floor(i / 4 / width)];
        const inside = x >= own[0] && x < own[1] && y < side;
        expect([...data.subarray(i, i + 3)], `level ${level}, ${x} ${y}`).toEqual(
          inside ? [255, 0, 0] : [...before.subarray(i, i + 3)],
        );
      }
    }
    // Smaller levels share their blocks.
    expect(Buffer.from(out.subarray(-8)).equals(Buffer.from(base.subarray(-8)))).toBe(true);
  });

  test('is refused where the file is another kind or size, or cells are no whole blocks', () => {
    const put =
      (base: Uint8Array, of: Pick<typeof cells, 'columns' | 'rows'>, format: 'bc1' | 'bc3', from = painted) =>
      () =>
        putCells(base, from, [0], of, { format }, mips, { effort: 'fast' });
    expect(put(whole(), cells, 'bc3')).toThrow(/is BC1, and the spec says BC3/);
    expect(put(whole(), { columns: 32, rows: 2 }, 'bc1')).toThrow(/do not fill whole blocks/);
    expect(
      put(
        whole(),
        cells,
        'bc1',
        picture(32, 32, () => [0, 0, 0, 255]),
      ),
    ).toThrow(/64 x 32, and the sheet 32 x 32/);
    expect(put(new Uint8Array(50), cells, 'bc1')).toThrow(/ends inside its header/);
  });
});
