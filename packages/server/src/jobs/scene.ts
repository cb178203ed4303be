import { fontsOf } from '@wet-lacquer/node/fonts.ts';
import { fieldsOfLivery } from '@wet-lacquer/core/compose/liveryFields.ts';
import { keptFields } from '../store/fields.ts';
import { getBlobs } from '../store/blobs.ts';
import type { Tx } from '../store/db.ts';
import { getTemplate } from '../store/templates.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { strokesIn } from '@wet-lacquer/core/livery/strokes.ts';
import { layersIn } from '@wet-lacquer/core/livery/livery.ts';
import { beginningOf } from '@wet-lacquer/core/livery/template.ts';
import type { Scene } from '@wet-lacquer/node/threads/scene.ts';

/** A livery with its template, the bytes of its decals and what was worked out of its model before. */
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
  return {
    livery,
    template,
    blobs,
    fonts: await fontsOf(livery, async (hash) => (await getBlobs(tx, [hash])).get(hash)),
    fields: await keptFields(tx, template, fieldsOfLivery(livery)),
  };
}
