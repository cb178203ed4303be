import { unzipSync, zipSync } from 'fflate';
import { expect, test } from 'vitest';
import { packKit } from '../kit/kit.ts';
import { packTiles } from '../paint/strokes.ts';
import { layerOf, smallLivery, smallTemplate } from '../testing/scenes.ts';
import { readKit, writeKit } from './kit.ts';
import { sha256 } from './sha256.ts';

const drawing = new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg" width="4" height="4"/>');
const dab = packTiles(new Map([[0, new Uint16Array(256 * 256).fill(40000)]]), 1)!;

async function kit() {
  const [blob, painted] = [await sha256(drawing), await sha256(dab.bytes)];
  const stroke = { id: 's', how: 'erase' as const, opacity: 100, blob: painted, tiles: dab.tiles };
  const mask = {
    from: { kind: 'all' as const },
    strokes: [stroke],
    inverted: false,
    feather: 0,
    off: false,
    linked: null,
  };
  const livery = smallLivery([
    layerOf('solid', { id: 'a', paint: { scheme: 'red' } }),
    layerOf('decal', {
      id: 'b',
      name: 'Heron',
      blob,
      source: 'svg',
      ...place,
      width: 40,
      ratio: 1,
      keepRatio: true,
      height: 40,
      recolour: [],
      mask,
    }),
    layerOf('lettering', {
      id: 'c',
      font: 'russo-one',
      text: '7',
      size: 20,
      ...place,
      paint: { scheme: 'red' },
      outline: null,
      spacing: 0,
      slant: 0,
    }),
  ]);
  const parcel = packKit(livery, smallTemplate());
  const blobs = new Map([
    [blob, drawing],
    [painted, dab.bytes],
  ]);
  return { parcel, blobs, borrowed: [{ blob, name: 'Heron', origin: 'drawn here', licence: 'CC0' }] };
}
const place = { x: 30, y: 40, turn: 0, mirrored: false };
/** The file with one entry changed, or taken away. */
const changed = (bytes: Uint8Array, name: string, content: Uint8Array | null) => {
  const { [name]: _old, ...rest } = unzipSync(bytes);
  return zipSync(content ? { ...rest, [name]: content } : rest);
};

test('holds the scheme, the marks and all that they lean on, and comes back as it was, byte for byte', async () => {
  const made = await kit();
  const bytes = writeKit(made);
  const back = await readKit(bytes);
  expect(back.parcel).toEqual(JSON.parse(JSON.stringify(made.parcel)));
  expect(back.parcel.layers.map(({ kind }) => kind)).toEqual(['decal', 'lettering']);
  expect(back.borrowed).toEqual(made.borrowed);
  for (const [hash, content] of made.blobs) expect([...back.blobs.get(hash)!]).toEqual([...content]);
  expect(Buffer.compare(writeKit(back), bytes)).toBe(0);
  expect(Object.keys(unzipSync(bytes)).filter((name) => !name.startsWith('blobs/'))).toEqual([
    'kit.json',
    'credits.json',
  ]);
});

test('a damaged one is refused in a sentence that says what is wrong', async () => {
  const bytes = writeKit(await kit());
  const [heron] = [...(await kit()).blobs.keys()];
  const text = new TextDecoder().decode(unzipSync(bytes)['kit.json']);
  const refused = (file: Uint8Array) => expect(readKit(file)).rejects;
  await refused(bytes.subarray(0, bytes.length - 40)).toThrow(
    'This file is not a kit: it is not a zip, or it is cut off.',
  );
  await refused(new TextEncoder().encode('{"parcel":1}')).toThrow('This file is not a kit');
  await refused(changed(bytes, 'kit.json', null)).toThrow('This kit has no kit.json.');
  await refused(changed(bytes, 'kit.json', new TextEncoder().encode(text.slice(0, 200)))).toThrow(
    'The kit.json in this kit is not JSON.',
  );
  await refused(changed(bytes, `blobs/${heron}`, null)).toThrow('The picture of "Heron" is missing from this kit.');
  await refused(changed(bytes, `blobs/${heron}`, new Uint8Array(9))).toThrow(/^A decal in this kit is damaged/);
  await refused(changed(bytes, 'kit.json', new TextEncoder().encode(text.replace('russo-one', 'unheard-of')))).toThrow(
    'is in a font that is not here: unheard-of.',
  );
});
