/** A livery bundle: one zip with open formats inside, everything that another person needs to open the livery. */
import { strFromU8, strToU8, unzipSync, zipSync, type Zippable } from 'fflate';
import { z } from 'zod';
import { InputError } from '../errors.ts';
import { Sha256 } from '../livery/ids.ts';
import { sha256 } from './sha256.ts';
import { layersIn, Livery } from '../livery/livery.ts';
import { strokesIn } from '../livery/strokes.ts';
import { DeliverySpec } from '../livery/spec.ts';
import { Template } from '../livery/template.ts';

const Borrowed = z.strictObject({ blob: Sha256, name: z.string(), origin: z.string(), licence: z.string() });
export type Borrowed = z.infer<typeof Borrowed>;

export interface Bundle {
  livery: Livery;
  template: Template;
  /** Decals by hash: drawings as SVG text, pictures as stored pixels. */
  blobs: Map<Sha256, Uint8Array>;
  fonts: Map<string, Uint8Array>;
  /** Where each decal comes from. */
  borrowed: Borrowed[];
  /** The delivery spec that the livery is pinned to, where a painter made it. */
  spec?: DeliverySpec;
}

/** Fixed time stamp of entries, so that the same bundle has the same bytes. */
export const ZIP_TIME = new Date(1980, 0, 1);
const LIMIT = 512 * 1024 * 1024;

export function writeBundle(bundle: Bundle): Uint8Array {
  const json = (value: unknown) => strToU8(JSON.stringify(value, null, 1));
  const files: Zippable = {
    'livery.json': json(bundle.livery),
    'template.json': json(bundle.template),
    'credits.json': json(bundle.borrowed),
  };
  if (bundle.spec) files['spec.json'] = json(bundle.spec);
  for (const [hash, bytes] of [...bundle.blobs].sort()) files[`blobs/${hash}`] = bytes;
  for (const [key, bytes] of [...bundle.fonts].sort()) files[`fonts/${key}.woff`] = bytes;
  return zipSync(files, { mtime: ZIP_TIME, level: 6 });
}

/** Opens a bundle. @throws InputError in one sentence; nothing is taken from a damaged one */
export async function readBundle(bytes: Uint8Array): Promise<Bundle> {
  let total = 0;
  let entries: Record<string, Uint8Array>;
  try {
    entries = unzipSync(bytes, {
      filter: (file) => {
        total += file.originalSize;
        if (total > LIMIT) throw new InputError('This bundle unpacks to more than 512 MiB.');
        return /^(livery|template|credits|spec)\.json$|^blobs\/[0-9a-f]{64}$|^fonts\/[a-z0-9-]+\.woff$/.test(file.name);
      },
    });
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError('This file is not a livery bundle: it is not a zip, or it is cut off.');
  }
  const read = <T>(name: string, schema: z.ZodType<T>): T => {
    if (!entries[name]) throw new InputError(`This bundle has no ${name}.`);
    let value: unknown;
    try {
      value = JSON.parse(strFromU8(entries[name]));
    } catch {
      throw new InputError(`${name} in this bundle is not JSON.`);
    }
    const parsed = schema.safeParse(value);
    if (!parsed.success) {
      const issue = parsed.error.issues[0];
      throw new InputError(`${name} in this bundle: ${issue.path.join('.')}: ${issue.message}.`);
    }
    return parsed.data;
  };
  const bundle: Bundle = {
    livery: read('livery.json', Livery),
    template: read('template.json', Template),
    borrowed: read('credits.json', z.array(Borrowed)),
    blobs: new Map(),
    fonts: new Map(),
    ...(entries['spec.json'] && { spec: read('spec.json', DeliverySpec) }),
  };
  for (const [name, content] of Object.entries(entries)) {
    if (name.startsWith('blobs/')) {
      const hash = name.slice(6) as Sha256;
      if ((await sha256(content)) !== hash)
        throw new InputError(`A decal in this bundle is damaged (${hash.slice(0, 12)}).`);
      bundle.blobs.set(hash, content);
    }
    if (name.startsWith('fonts/')) bundle.fonts.set(name.slice(6, -5), content);
  }
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
