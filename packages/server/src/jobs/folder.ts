/** Files into a game's folder, on the host that owns it: beside it first, under names of their own, then all of them by renaming. */
import { lstat, mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { whyNoPath } from '@wet-lacquer/core/delivery/safePath.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { getBlob } from '../store/blobs.ts';
import type { Tx } from '../store/db.ts';

/** Where a path lies on disk. @throws InputError when it would leave the game's folder, by its name or by a link on the way */
export async function placeOf(root: string, name: string): Promise<string> {
  const why = whyNoPath(name);
  if (why) throw new InputError(`"${name}" ${why}, so nothing is written there.`);
  let full = root;
  for (const part of name.split('/')) {
    full = path.join(full, part);
    const there = await lstat(full).catch(() => null);
    if (there?.isSymbolicLink())
      throw new InputError(`${full} is a link; what it leads to is not the game’s own, so nothing is written there.`);
  }
  return full;
}

/** What a file is called while it is written. @param id of whatever writes it */
export const temporaryOf = (full: string, id: string) =>
  path.join(path.dirname(full), `.lacquer-${id}-${path.basename(full)}`);

export const readIf = (full: string) => readFile(full).catch(() => null);

/** Puts stored files in place: all of them are written, in full and on disk, before the first is renamed. */
export async function putFiles(tx: Tx, root: string, id: string, files: ReadonlyMap<string, string>): Promise<void> {
  // Beside the file that it becomes, so that renaming never crosses a file system.
  for (const [name, blob] of files) {
    const full = await placeOf(root, name);
    await mkdir(path.dirname(full), { recursive: true });
    await writeFile(temporaryOf(full, id), await getBlob(tx, blob), { flush: true });
  }
  for (const name of files.keys()) {
    const full = await placeOf(root, name);
    await rename(temporaryOf(full, id), full);
  }
}
