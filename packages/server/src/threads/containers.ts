/** Containers that are opened, searched and changed; runs in threads. */
import { mentionsOf, ownCopy, type Mention } from '@wet-lacquer/core/files/references.ts';
import { eachInZip, readNested, replaceNested } from '@wet-lacquer/core/files/zip.ts';

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
  const entries: ContainerEntry[] = [];
  let found = 0;
  eachInZip(task.bytes, (way, { name, size }) => {
    if (!name.toLowerCase().includes(wanted)) return;
    if (found++ < task.most) entries.push({ way, size });
  });
  return { entries, found };
}

export const takeEntry = (task: { bytes: Uint8Array; way: string[] }): Uint8Array => readNested(task.bytes, task.way);

export const putEntry = (task: { bytes: Uint8Array; way: string[]; content: Uint8Array }): Uint8Array =>
  replaceNested(task.bytes, task.way, task.content);

export const usesOfEntry = (task: { bytes: Uint8Array; name: string }): Mention[] => mentionsOf(task.bytes, task.name);

export const copyEntry = (task: { bytes: Uint8Array; way: string[]; name: string; users: string[][] }): Uint8Array =>
  ownCopy(task.bytes, task.way, task.name, task.users);
