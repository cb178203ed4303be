import { shippedFont } from '@wet-lacquer/node/fonts.ts';
import { getBlobs } from '../store/blobs.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import type { Tx } from '../store/db.ts';
import { getTemplate } from '../store/templates.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { strokesIn } from '@wet-lacquer/core/livery/strokes.ts';
import { layersIn } from '@wet-lacquer/core/livery/livery.ts';
import { beginningOf } from '@wet-lacquer/core/livery/template.ts';
import type { Scene } from '@wet-lacquer/node/threads/scene.ts';

/** A livery with its template and the bytes of its decals, ready for a thread. */
export async function sceneOf(tx: Tx, livery: Livery): Promise<Scene> {
  const hashes = [...layersIn(livery), ...(livery.references ?? []), ...strokesIn(livery)].flatMap((one) =>
    'blob' in one ? [one.blob] : [],
  );
  const template = await getTemplate(tx, livery.pins.template);
  // What an atlas began with says which of its cells were painted.
  const atlases = template.sheets.filter((sheet) => sheet.cells);
  const began = atlases.flatMap(({ key }) =>
    beginningOf(template, key).flatMap((one) => ('blob' in one ? [one.blob] : [])),
  );
  // So do the originals that came at another size than their sheets'.
  const originals = Object.values(template.originals ?? {}).flatMap(({ pixels }) => pixels ?? []);
  const blobs = await getBlobs(tx, [...new Set([...hashes, ...began, ...originals])]);
  return { livery, template, blobs, fonts: await fontsOf(livery, tx) };
}

/**
 * Bytes of the fonts that a livery letters with, by key: the files that it is pinned to.
 * @param tx where those are kept that did not come with the product; left out: there are none
 */
export async function fontsOf(livery: Livery, tx?: Tx): Promise<Map<string, Uint8Array>> {
  const keys = new Set(layersIn(livery).flatMap((layer) => (layer.kind === 'lettering' ? [layer.font] : [])));
  const fonts = new Map<string, Uint8Array>();
  for (const key of keys) {
    const present = await shippedFont(key);
    const pin = Object.hasOwn(livery.pins.fonts, key) ? livery.pins.fonts[key] : undefined;
    const other = pin && tx && hashOf(present) !== pin ? (await getBlobs(tx, [pin])).get(pin) : undefined;
    fonts.set(key, other ?? present);
  }
  return fonts;
}
