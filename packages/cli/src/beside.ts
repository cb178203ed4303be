import path from 'node:path';
import { readFile } from 'node:fs/promises';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { filesNamedBy } from '@wet-lacquer/core/models/beside.ts';
import type { ModelKind } from '@wet-lacquer/core/kinds/index.ts';
import { namedBeside } from '@wet-lacquer/core/models/readModel.ts';

/** Files beside a model on disk that it is read with, by the paths that it writes; those that are not there are left out. */
export async function filesBeside(file: string, bytes: Uint8Array, kind: ModelKind): Promise<Map<string, Uint8Array>> {
  const found = new Map<string, Uint8Array>();
  for (const named of namedBeside(bytes, kind)) {
    const content = await readFile(path.resolve(path.dirname(file), named)).catch(() => null);
    if (content) found.set(named, new Uint8Array(content));
  }
  return found;
}

/** The same among files that are at hand. */
export const besideAmong = (
  files: readonly { name: string; bytes: Uint8Array }[],
  model: string,
  bytes: Uint8Array,
  kind: ModelKind,
): { bytes: Map<string, Uint8Array>; names: string[] } => {
  const byName = new Map(files.map((file) => [file.name, file.bytes]));
  const found = filesNamedBy([...byName.keys()], model, namedBeside(bytes, kind));
  return {
    bytes: new Map(found.map(({ path: named, name }) => [named, heldIn(byName, name)])),
    names: found.map(({ name }) => name),
  };
};
