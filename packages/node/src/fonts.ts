import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import path from 'node:path';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { SHIPPED_FONTS } from '@wet-lacquer/core/livery/fonts.ts';
import { layersIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { hashOf } from './hash.ts';

const require = createRequire(import.meta.url);

/** A shipped font's file. @throws InputError when there is none of that key */
export async function shippedFont(key: string): Promise<Uint8Array> {
  const font = SHIPPED_FONTS.find((f) => f.key === key);
  if (!font) throw new InputError(`There is no font "${key}".`);
  const folder = path.dirname(require.resolve(`@fontsource/${font.package}/package.json`));
  return new Uint8Array(await readFile(path.join(folder, 'files', `${font.package}-latin-${font.weight}-normal.woff`)));
}

let hashes: Promise<ReadonlyMap<string, Sha256>> | null = null;
/** SHA-256 of every shipped font's file, by its key. */
export const fontHashes = () =>
  (hashes ??= Promise.all(SHIPPED_FONTS.map(async ({ key }) => [key, hashOf(await shippedFont(key))] as const)).then(
    (all) => new Map(all),
  ));

/**
 * Bytes of the fonts that a livery letters with, by key: the files that it is pinned to.
 * @param kept those that did not come with the product, by their SHA-256; left out: there are none
 */
export async function fontsOf(
  livery: Livery,
  kept?: (hash: Sha256) => Promise<Uint8Array | undefined>,
): Promise<Map<string, Uint8Array>> {
  const keys = new Set(layersIn(livery).flatMap((layer) => (layer.kind === 'lettering' ? [layer.font] : [])));
  const fonts = new Map<string, Uint8Array>();
  for (const key of keys) {
    const present = await shippedFont(key);
    const pin = Object.hasOwn(livery.pins.fonts, key) ? livery.pins.fonts[key] : undefined;
    const other = pin && kept && hashOf(present) !== pin ? await kept(pin) : undefined;
    fonts.set(key, other ?? present);
  }
  return fonts;
}
