/** A livery bundle: one zip with open formats inside, everything that another person needs to open the livery. */
import type { Zippable } from 'fflate';
import { z } from 'zod';
import { InputError } from '../errors.ts';
import { Sha256 } from '../livery/ids.ts';
import { Archive, blobEntries, jsonEntry, writeArchive } from './archive.ts';
import { layersIn, type Livery } from '../livery/livery.ts';
import { readLivery } from '../livery/migrate.ts';
import { strokesIn } from '../livery/strokes.ts';
import { DeliverySpec } from '../livery/spec.ts';
import { filesOf, Template } from '../livery/template.ts';

export const Borrowed = z.strictObject({ blob: Sha256, name: z.string(), origin: z.string(), licence: z.string() });
export type Borrowed = z.infer<typeof Borrowed>;

export interface Bundle {
  livery: Livery;
  template: Template;
  /** Decals by hash: drawings as SVG text, pictures as stored pixels. */
  blobs: Map<Sha256, Uint8Array>;
  fonts: Map<string, Uint8Array>;
  /** Files of the game's own that the livery lies over, by hash; empty: they were left out. */
  files: Map<Sha256, Uint8Array>;
  /** Where each decal comes from. */
  borrowed: Borrowed[];
  /** The delivery spec that the livery is pinned to, where a painter made it. */
  spec?: DeliverySpec;
}

const KIND = {
  name: 'livery bundle',
  word: 'bundle',
  wanted: /^(livery|template|credits|spec)\.json$|^(blobs|files)\/[0-9a-f]{64}$|^fonts\/[a-z0-9-]+\.woff$/,
  limit: 1,
};

export function writeBundle(bundle: Bundle): Uint8Array {
  const files: Zippable = {
    'livery.json': jsonEntry(bundle.livery),
    'template.json': jsonEntry(bundle.template),
    'credits.json': jsonEntry(bundle.borrowed),
  };
  if (bundle.spec) files['spec.json'] = jsonEntry(bundle.spec);
  Object.assign(files, blobEntries(bundle.blobs));
  Object.assign(files, blobEntries(bundle.files, 'files'));
  for (const [key, bytes] of [...bundle.fonts].sort()) files[`fonts/${key}.woff`] = bytes;
  return writeArchive(files);
}

/** Also one of an earlier version. */
function liveryIn(archive: Archive): Livery {
  const document = archive.json('livery.json', z.unknown());
  try {
    return readLivery(document);
  } catch (error) {
    throw new InputError(`The livery.json in this bundle: ${(error as Error).message}`);
  }
}

/** Opens a bundle. @throws InputError in one sentence; nothing is taken from a damaged one */
export async function readBundle(bytes: Uint8Array): Promise<Bundle> {
  const archive = new Archive(bytes, KIND);
  const bundle: Bundle = {
    livery: liveryIn(archive),
    template: archive.json('template.json', Template),
    borrowed: archive.json('credits.json', z.array(Borrowed)),
    blobs: await archive.blobs(),
    files: await archive.blobs('files'),
    fonts: new Map(),
    ...(archive.entries['spec.json'] && { spec: archive.json('spec.json', DeliverySpec) }),
  };
  for (const [name, content] of Object.entries(archive.entries))
    if (name.startsWith('fonts/')) bundle.fonts.set(name.slice(6, -5), content);
  const kept = new Set<string>(filesOf(bundle.template));
  for (const hash of bundle.files.keys())
    if (!kept.has(hash)) throw new InputError('This bundle holds a file that its template does not name.');
  for (const layer of layersIn(bundle.livery)) {
    if ('blob' in layer && !bundle.blobs.has(layer.blob))
      throw new InputError(`The picture of "${layer.name}" is missing from this bundle.`);
    if (layer.kind === 'lettering' && !bundle.fonts.has(layer.font))
      throw new InputError(`The font "${layer.font}" is missing from this bundle.`);
  }
  if (strokesIn(bundle.livery).some(({ blob }) => !bundle.blobs.has(blob)))
    throw new InputError('Brushwork is missing from this bundle.');
  for (const { name, blob } of bundle.livery.references ?? [])
    if (!bundle.blobs.has(blob)) throw new InputError(`The pinned picture "${name}" is missing from this bundle.`);
  return bundle;
}
