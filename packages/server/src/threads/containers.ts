/** Containers that are opened, searched and changed; runs in threads. */
import { mentionsOf, ownCopy, type Mention } from '@wet-lacquer/core/files/references.ts';
import { openZip, readNested, replaceNested, searchZip } from '@wet-lacquer/core/files/zip.ts';

export interface ContainerEntry {
  /** Names that lead to it, outermost archive first. */
  way: string[];
  /** Bytes. */
  size: number;
}

/** Files in a container and in those inside it whose names hold a text, the first `most` of them. @throws InputError */
export function listContainer(task: { bytes: Uint8Array; text: string; most: number }): {
  entries: ContainerEntry[];
  found: number;
} {
  const wanted = task.text.trim().toLowerCase();
  const ways = searchZip(task.bytes, (name) => name.toLowerCase().includes(wanted));
  const sizes = new Map<string, Map<string, number>>();
  const sizeOf = (way: readonly string[]) => {
    const outer = way.slice(0, -1);
    const key = outer.join('\n');
    let known = sizes.get(key);
    if (!known) {
      const archive = outer.length === 0 ? task.bytes : readNested(task.bytes, outer);
      known = new Map(openZip(archive).entries.map(({ name, size }) => [name, size]));
      sizes.set(key, known);
    }
    return known.get(way.at(-1)!) ?? 0;
  };
  const entries = ways.slice(0, task.most).map((way) => ({ way, size: sizeOf(way) }));
  return { entries, found: ways.length };
}

export const takeEntry = (task: { bytes: Uint8Array; way: string[] }): Uint8Array => readNested(task.bytes, task.way);

export const putEntry = (task: { bytes: Uint8Array; way: string[]; content: Uint8Array }): Uint8Array =>
  replaceNested(task.bytes, task.way, task.content);

export const usesOfEntry = (task: { bytes: Uint8Array; name: string }): Mention[] => mentionsOf(task.bytes, task.name);

export const copyEntry = (task: { bytes: Uint8Array; way: string[]; name: string; users: string[][] }): Uint8Array =>
  ownCopy(task.bytes, task.way, task.name, task.users);
