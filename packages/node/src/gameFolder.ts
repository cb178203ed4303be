/** The stand-in games' folders on the host that owns them. */
import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';

/** What files are called while they are being written. */
export const TEMPORARY = /^\.lacquer-[0-9a-f-]{36}-/;

/** Folder of a stand-in game. */
export const gameFolder = (data: string, game: string): string => path.join(data, 'games', game);

/** Names of the files in a folder; leftovers of unfinished publishing are not part of it. */
export async function namesIn(root: string): Promise<string[]> {
  const entries = await readdir(root, { recursive: true, withFileTypes: true }).catch(() => []);
  return entries
    .filter((entry) => entry.isFile() && !TEMPORARY.test(entry.name))
    .map((entry) => path.relative(root, path.join(entry.parentPath, entry.name)).split(path.sep).join('/'))
    .sort();
}

/** All files of a game's folder, path inside it to bytes. Leftovers of unfinished publishing are not part of it. */
export async function readGameFolder(root: string): Promise<Map<string, Uint8Array>> {
  const files = new Map<string, Uint8Array>();
  for (const name of await namesIn(root)) files.set(name, new Uint8Array(await readFile(path.join(root, name))));
  return files;
}
