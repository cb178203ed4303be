/** A team's kit: one zip with its colours and marks as JSON, and the pictures that they lean on. */
import { z } from 'zod';
import { InputError } from '../errors.ts';
import { SHIPPED_FONTS } from '../livery/fonts.ts';
import type { Sha256 } from '../livery/ids.ts';
import { blobsIn, Parcel } from '../livery/parcel.ts';
import { Archive, blobEntries, jsonEntry, writeArchive } from './archive.ts';
import { Borrowed } from './bundle.ts';

export interface Kit {
  parcel: Parcel;
  /** Drawings as SVG text, pictures as stored pixels, strokes as they are stored. */
  blobs: Map<Sha256, Uint8Array>;
  /** Where each decal comes from. */
  borrowed: Borrowed[];
}

const KIND = {
  name: 'kit',
  word: 'kit',
  wanted: /^(kit|credits)\.json$|^blobs\/[0-9a-f]{64}$/,
  limit: 0.5,
};

export const writeKit = ({ parcel, blobs, borrowed }: Kit): Uint8Array =>
  writeArchive({
    'kit.json': jsonEntry(parcel),
    'credits.json': jsonEntry(borrowed),
    ...blobEntries(blobs),
  });

/** Opens a kit. @throws InputError in one sentence; nothing is taken from a damaged one */
export async function readKit(bytes: Uint8Array): Promise<Kit> {
  const archive = new Archive(bytes, KIND);
  const parcel = archive.json('kit.json', Parcel);
  const kit = { parcel, borrowed: archive.json('credits.json', z.array(Borrowed)), blobs: await archive.blobs() };
  for (const { name, blob } of blobsIn(parcel))
    if (!kit.blobs.has(blob)) throw new InputError(`The picture of "${name}" is missing from this kit.`);
  for (const layer of parcel.layers)
    if (layer.kind === 'lettering' && !SHIPPED_FONTS.some(({ key }) => key === layer.font))
      throw new InputError(`The lettering "${layer.name}" is in a font that is not here: ${layer.font}.`);
  return kit;
}
