/** Every skin of the demo world into its game: the first time to the bit as it was delivered, then again beside it, and the game's own loader sees both. */
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, test } from 'vitest';
import { cellsApart } from '@wet-lacquer/core/delivery/atlas.ts';
import { planDelivery, written } from '@wet-lacquer/core/delivery/plan.ts';
import { specFor } from '@wet-lacquer/core/delivery/specs.ts';
import { expand, nameFacts } from '@wet-lacquer/core/delivery/names.ts';
import { keptTexts, lookAtTarget, NO_TARGET, slotText, type GameReader } from '@wet-lacquer/core/delivery/target.ts';
import { planPutIn, type PutPlan } from '@wet-lacquer/core/exchange/putIn.ts';
import { readSkin, type Skin } from '@wet-lacquer/core/exchange/skin.ts';
import { skinOf } from '@wet-lacquer/core/exchange/skinOf.ts';
import { readBundle } from '@wet-lacquer/core/files/bundle.ts';
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import { crc32 } from '@wet-lacquer/core/crc32.ts';
import { heldIn } from '@wet-lacquer/core/held.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { uvLines } from '@wet-lacquer/core/surface/guides.ts';
import { headerBytes, readDdsFacts, readDdsLevel } from '@wet-lacquer/core/texture/dds.ts';
import { encodeImage } from '@wet-lacquer/core/texture/encode.ts';
import type { FormatKey } from '@wet-lacquer/core/texture/formats/index.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';

import { skinLook } from './threads/skin.ts';

const demo = path.resolve(import.meta.dirname, '../../../demo/out');
const read = (name: string) => new Uint8Array(readFileSync(path.join(demo, name)));
const sha = (bytes: Uint8Array) => Sha256.parse(createHash('sha256').update(bytes).digest('hex'));

type Files = Map<string, Uint8Array>;

/** A game's folder in memory. */
const reader = (files: Files): GameReader => ({
  names: [...files.keys()],
  read: async (name) => files.get(name) ?? null,
  hash: async (bytes) => sha(bytes),
});

/** The game's folder as it comes. */
function shipped(game: string): Files {
  const name = `${game}.game.zip`;
  return new Map(existsSync(path.join(demo, name)) ? Object.entries(unzipSync(read(name))) : []);
}

interface Kept {
  folder: string;
  slot: number | null;
  zip: string | null;
  files: { name: string; blob: string; bytes: number; what: string; base?: string | null }[];
}

/** A livery of the demo world as a skin, with the bytes of its files. */
async function skinFrom(name: string): Promise<{ skin: Skin; blobs: Files; kept: Kept }> {
  const bundle = await readBundle(read(`${name}.livery`));
  const { livery, template } = bundle;
  const zip = unzipSync(read(`${name}.delivered.zip`));
  const kept = JSON.parse(strFromU8(zip['delivery.json'])) as Kept;
  const blobs: Files = new Map(
    Object.entries(zip).map(([file, bytes]) => [file.replace('blobs/', ''), bytes] as const),
  );
  const spec = bundle.spec ?? specFor(livery, template);
  const folder = shipped(spec.game);
  const texts = await keptTexts(template, spec, async (hash) => bundle.files.get(hash)!);
  const before = { slot: kept.slot, files: new Map<string, string>() };
  const target = await lookAtTarget(livery, template, spec, reader(folder), before, bundle.borrowed, [], texts);
  const plan = planDelivery(livery, template, spec, { ...NO_TARGET, ...target, slot: kept.slot });
  expect(written(plan).map((file) => file.name)).toEqual(kept.files.map((file) => file.name));
  const atlas = template.sheets.find(({ cells }) => cells)?.cells;
  const files = kept.files.map((file) => {
    const own = folder.get(kept.folder + file.name);
    const inPlace = plan.files.some((one) => one.name === file.name && one.kind === 'sheet' && one.spec.inPlace);
    const changed = inPlace && own && atlas ? cellsApart(own, heldIn(blobs, file.blob), atlas) : undefined;
    return {
      name: file.name,
      sha256: Sha256.parse(file.blob),
      bytes: file.bytes,
      what: file.what,
      ...(changed && { changed }),
    };
  });
  const said = {
    name,
    by: 'Somebody',
    crew: '',
    about: '',
    news: '',
    licence: { terms: 'For playing.', adapt: false },
  };
  const more = {
    number: kept.slot,
    credits: bundle.borrowed.map(({ blob: _blob, ...credit }) => credit),
    pictures: [],
    bundle: null,
  };
  const skin = skinOf(said, { livery, template, hash: livery.pins.template, spec, plan, files, ...more });
  return { skin, blobs, kept };
}

/** What a game's folder is with a skin in it; of a package, with its files beside it. */
function withIt(folder: Files, plan: PutPlan): Files {
  return new Map([...folder, ...plan.files.map(({ name, bytes }) => [plan.folder + name, bytes] as const)]);
}

/** The name of a skin's package as it was delivered. */
const expandedPackage = ({ spec, particulars, subject, number }: Skin) =>
  expand(spec.package!.name, nameFacts({ particulars }, subject, slotText(spec, number)));

const NAMES = readdirSync(demo)
  .filter((file) => file.endsWith('.delivered.zip'))
  .map((file) => file.replace('.delivered.zip', ''));

describe.each(NAMES)('%s', (name) => {
  test('comes into an untouched game as it was delivered, and once more beside itself', async () => {
    const { skin, blobs, kept } = await skinFrom(name);
    // As it goes over the wire.
    const came = readSkin(JSON.parse(JSON.stringify(skin)));
    const file = async (hash: string) => heldIn(blobs, hash);
    const folder = shipped(skin.spec.game);
    const first = await planPutIn(came, file, reader(folder));
    expect(first.notes).toEqual([]);
    expect(first.folder).toBe(kept.folder);
    expect(first.number).toBe(kept.slot);
    expect(first.files.map((one) => [one.name, sha(one.bytes)])).toEqual(kept.files.map((one) => [one.name, one.blob]));

    const game = bayGame(skin.spec.game)!;
    if (first.package !== null) return;
    const once = withIt(folder, first);
    const { keys } = game.list(once);
    if (came.files.some(({ cells }) => cells)) {
      // A place in the game's own atlas is one place: the second one is the first.
      expect(await planPutIn(came, file, reader(once))).toMatchObject({ files: [{ name: first.files[0].name }] });
      return;
    }
    const second = await planPutIn(came, file, reader(once));
    expect(second.notes).toHaveLength(1);
    const twice = withIt(once, second);
    // Nothing of the first is another but what they share.
    for (const one of first.files)
      if (one.base === undefined) expect(sha(twice.get(first.folder + one.name)!)).toBe(sha(one.bytes));
    const both = game.list(twice).keys;
    expect(both).toHaveLength(keys.length + 1);
    for (const key of both) {
      const report = game.load(twice, key);
      expect(report.sheets.filter(({ status }) => status === 'missing' || status === 'refused')).toEqual([]);
      expect(report.ignored.filter(({ why }) => why.includes('refers'))).toEqual([]);
    }
    // Put in anew over what it was: the same names, the same number.
    const files = new Map(first.files.map((one) => [first.folder + one.name, sha(one.bytes)]));
    const again = await planPutIn(came, file, reader(twice), { key: first.key, number: first.number, files });
    expect(again.files.map((one) => one.name)).toEqual(first.files.map((one) => one.name));
  });
});

describe('looked at before it is handed on', () => {
  const looked = async (change: (files: Files, skin: Skin) => Promise<void> | void) => {
    const { skin, blobs, kept } = await skinFrom('tern-tide');
    const { template } = await readBundle(read('tern-tide.livery'));
    const files: Files = new Map(skin.files.map((file) => [file.name, heldIn(blobs, file.sha256)]));
    await change(files, skin);
    const folder = new Map([...files].map(([name, bytes]) => [kept.folder + name, bytes]));
    return (await skinLook({ skin, files, folder, template, draw: false })).findings;
  };
  const deck = 'tern-tide_deck.dds';
  /** The file with another picture in its first level. */
  const drawn = (bytes: Uint8Array, draw: (image: Image8) => void) => {
    const image = readDdsLevel(bytes, 0);
    draw(image);
    const { format, header } = readDdsFacts(bytes);
    const out = bytes.slice();
    out.set(encodeImage(image, format as FormatKey, { effort: 'fast' }), headerBytes(header));
    return out;
  };

  test.each(NAMES)('as it was delivered nothing is said against it: %s', async (name) => {
    const { skin, blobs, kept } = await skinFrom(name);
    const { template } = await readBundle(read(`${name}.livery`));
    const files: Files = new Map(skin.files.map((file) => [file.name, heldIn(blobs, file.sha256)]));
    const inside = [...files].map(([file, bytes]) => [kept.folder + file, bytes] as const);
    const folder = kept.zip
      ? new Map([[expandedPackage(skin), heldIn(blobs, kept.zip)]])
      : new Map([...shipped(skin.spec.game), ...inside]);
    expect((await skinLook({ skin, files, folder, template, draw: false })).findings).toEqual([]);
  });

  test('a file that is gone, cut short or no texture stops it, by the game’s own words', async () => {
    const stops = async (change: (files: Files) => void) =>
      (await looked(change)).filter(({ level }) => level === 'stop').map(({ says }) => says);
    expect(await stops((files) => void files.delete(deck))).toHaveLength(1);
    expect((await stops((files) => void files.set(deck, files.get(deck)!.slice(0, 4000)))).join()).toContain(deck);
    expect((await stops((files) => void files.set(deck, new TextEncoder().encode('GIF89a')))).join()).toContain(deck);
  });

  test('textures that say they are larger than they are, or larger than anything is, stop it', async () => {
    const png = (width: number, height: number) => {
      // PNG, 11.2.2: the first chunk with a size that nothing follows; its checksum by Annex D.
      const bytes = Buffer.from('89504e470d0a1a0a0000000d494844520000000000000000080600000000000000', 'hex');
      bytes.writeUInt32BE(width, 16);
      bytes.writeUInt32BE(height, 20);
      bytes.writeUInt32BE(crc32(bytes.subarray(12, 29)), 29);
      return new Uint8Array(bytes);
    };
    const dds = (width: number, height: number) => (own: Uint8Array) => {
      const bytes = own.slice();
      // DDS_HEADER: dwHeight at 12, dwWidth at 16.
      new DataView(bytes.buffer).setUint32(12, height, true);
      new DataView(bytes.buffer).setUint32(16, width, true);
      return bytes;
    };
    for (const bytes of [
      png(60_000, 60_000),
      png(2 ** 31 - 1, 2 ** 31 - 1),
      png(0, 0),
      dds(65_536, 65_536),
      dds(2 ** 31, 4),
      dds(0, 0),
      new Uint8Array(0),
    ]) {
      const says = await looked(
        (files) => void files.set(deck, typeof bytes === 'function' ? bytes(files.get(deck)!) : bytes),
      );
      const stops = says.filter(({ level }) => level === 'stop').map((one) => one.says);
      expect(stops.join()).toContain(deck);
    }
  });

  test('sheets of another shape, or that its subject does not have, stop it', async () => {
    const says = await looked((_, skin) => {
      skin.sheets[0] = { ...skin.sheets[0], width: skin.sheets[0].width * 2 };
      skin.sheets.push({ key: 'rudder', width: 256, height: 256 });
    });
    expect(says.filter(({ says: one }) => one.startsWith('This is not for'))).toHaveLength(2);
  });

  test('the wire of its layout, left in a texture, stops it', async () => {
    const { template } = await readBundle(read('tern-tide.livery'));
    const { wire } = uvLines(template, 'deck');
    const says = await looked((files) => {
      const changed = drawn(files.get(deck)!, ({ width, height, data }) => {
        for (let i = 0; i < data.length; i += 4) data.set([90, 110, 120, 255], i);
        for (let at = 0; at < wire.length; at += 4) {
          const [x0, y0, x1, y1] = wire.subarray(at, at + 4);
          const steps = Math.ceil(Math.hypot(x1 - x0, y1 - y0)) * 2;
          for (let s = 0; s <= steps; s++) {
            const [x, y] = [Math.round(x0 + ((x1 - x0) * s) / steps), Math.round(y0 + ((y1 - y0) * s) / steps)];
            if (x < 0 || y < 0 || x >= width || y >= height) continue;
            data.set([255, 255, 255, 255], (y * width + x) * 4);
          }
        }
      });
      files.set(deck, changed);
    });
    expect(says.map(({ says: one }) => one).join()).toContain('the wire was left in it');
  });
});
