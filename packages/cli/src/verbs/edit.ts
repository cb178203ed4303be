import path from 'node:path';
import { z } from 'zod';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { readBundle, writeBundle, type Bundle } from '@wet-lacquer/core/files/bundle.ts';
import { applyEdit, Edit } from '@wet-lacquer/core/livery/edit.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { layersIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { fontsOf } from '@wet-lacquer/node/fonts.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { importDecal, lookAtBlob } from '@wet-lacquer/node/threads/tasks.ts';
import { judge, type BlobFacts } from '@wet-lacquer/sync/judge.ts';
import { isSpec } from '@wet-lacquer/core/delivery/specs.ts';
import { fontHashes } from '@wet-lacquer/node/fonts.ts';
import { readBytes, readJson, writeWhole } from '../files.ts';
import type { Verb } from '../verb.ts';

/** A place in edits where a file's hash belongs: "file:logo.svg", beside the edits. */
const FILE = /^file:(.+)$/;

/** lacquer edit mine.livery edits.json next.livery */
export const edit: Verb = {
  name: 'edit',
  usage: 'LIVERY EDITS.json OUT.livery',
  what: 'a bundle with edits applied, each looked at as the server looks at it; docs/edits.md describes them',
  args: 3,
  async run([from, name, to]) {
    const bundle = await readBundle(await readBytes(from));
    const given = await readJson(name);
    const blobs = new Map(bundle.blobs);
    const filled = await withFiles(given, path.dirname(name), blobs);
    const parsed = z.union([z.array(Edit).max(10_000), Edit.transform((one) => [one])]).safeParse(filled);
    if (!parsed.success) {
      const issue = parsed.error.issues[0];
      throw new InputError(`${name}: ${issue.path.join('.') || 'the document'}: ${issue.message}.`);
    }
    let livery: Livery = bundle.livery;
    for (const [i, one] of parsed.data.entries()) {
      try {
        ({ livery } = applyEdit(livery, one));
      } catch (error) {
        if (error instanceof InputError) throw new InputError(`${name}, edit ${i + 1} (${one.do}): ${error.message}`);
        throw error;
      }
    }
    // A font that the bundle brings stays the one that it was painted with.
    const fonts = await fontsOf(livery);
    for (const key of fonts.keys()) fonts.set(key, bundle.fonts.get(key) ?? heldIn(fonts, key));
    const pins = {
      ...livery.pins,
      fonts: Object.fromEntries([...fonts].map(([key, bytes]) => [key, hashOf(bytes)])),
    };
    livery = { ...livery, pins };
    await judged(livery, { ...bundle, blobs, fonts });
    await writeWhole(to, writeBundle({ ...bundle, livery, blobs, fonts }));
    return {
      json: { edits: parsed.data.length, layers: layersIn(livery).length },
      text: `${to}: ${parsed.data.length} ${parsed.data.length === 1 ? 'edit' : 'edits'}, ${layersIn(livery).length} layers`,
    };
  },
};

/** The edits with hashes in the place of files, which join the blobs: decals as they are imported, strokes and stored pixels as they are. */
async function withFiles(value: unknown, folder: string, blobs: Map<Sha256, Uint8Array>): Promise<unknown> {
  if (Array.isArray(value)) return Promise.all(value.map((one) => withFiles(one, folder, blobs)));
  if (value && typeof value === 'object') {
    const entries = Object.entries(value).map(
      async ([key, part]) => [key, await withFiles(part, folder, blobs)] as const,
    );
    return Object.fromEntries(await Promise.all(entries));
  }
  const file = typeof value === 'string' ? FILE.exec(value)?.[1] : undefined;
  if (file === undefined) return value;
  const bytes = await readBytes(path.resolve(folder, file));
  const stored = /\.(png|jpe?g|webp|svg)$/i.test(file) ? (await importDecal({ bytes })).bytes : bytes;
  const hash = hashOf(stored);
  blobs.set(hash, stored);
  return hash;
}

/** Looks at a livery as the server looks at what would join its log. @throws InputError */
async function judged(livery: Livery, bundle: Bundle): Promise<void> {
  const facts = new Map<string, BlobFacts>();
  for (const bytes of [...bundle.blobs.values(), ...bundle.fonts.values()])
    facts.set(hashOf(bytes), (await lookAtBlob({ bytes })).facts);
  const shipped = await fontHashes();
  const made = bundle.spec ? [bundle.spec] : [];
  judge(null, livery, {
    blob: (hash) => facts.get(hash),
    template: (hash) => (hash === bundle.livery.pins.template ? bundle.template : undefined),
    spec: (pin) => isSpec(pin, bundle.template, made),
    font: (key) => shipped.get(key),
  });
}
