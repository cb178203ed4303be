/** The stand-in games' folders on the host that owns them. */
import { access, constants, readdir, readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import type { GameReader } from '@wet-lacquer/core/delivery/target.ts';
import { hashOf } from './hash.ts';

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

/** What changes when anything in a game's folder does, without reading its files: their names, sizes, times and places on disk. */
export async function stampOf(root: string): Promise<string> {
  const names = await namesIn(root);
  const stamps = await Promise.all(
    names.map(async (name) => {
      // One that goes meanwhile is another folder already.
      const found = await stat(path.join(root, name)).catch(() => null);
      return [name, found?.size, found?.mtimeMs, found?.ino];
    }),
  );
  return hashOf(JSON.stringify(stamps));
}

/** Reads a game's folder on this machine; each file once. */
export async function folderReader(root: string): Promise<GameReader> {
  const names = await namesIn(root);
  const known = new Set(names);
  const held = new Map<string, Promise<Uint8Array | null>>();
  return {
    names,
    read: (name) => {
      if (!known.has(name)) return Promise.resolve(null);
      const reading =
        held.get(name) ??
        readFile(path.join(root, name)).then(
          (bytes) => new Uint8Array(bytes),
          () => null,
        );
      held.set(name, reading);
      return reading;
    },
    hash: async (bytes) => hashOf(bytes),
  };
}

/** Why files cannot be written at some paths, in a sentence; null: they can. */
export async function whyClosedFor(root: string, paths: readonly string[]): Promise<string | null> {
  for (const folder of new Set(paths.map((name) => path.dirname(path.join(root, name))))) {
    const why = await whyClosed(folder);
    if (why) return why;
  }
  return null;
}

/** Why a folder, or the nearest one above it that is there, cannot be written; null: it can. */
async function whyClosed(folder: string): Promise<string | null> {
  const found = await stat(folder).catch(() => null);
  if (!found) return path.dirname(folder) === folder ? null : whyClosed(path.dirname(folder));
  if (!found.isDirectory()) return `${folder} is a file; a folder belongs there.`;
  return access(folder, constants.W_OK).then(
    () => null,
    () => `${folder} is not to be written by this program.`,
  );
}
