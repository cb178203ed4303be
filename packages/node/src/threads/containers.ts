/** Containers that are opened, searched and changed; runs in threads. */
import { lastOf } from '@wet-lacquer/core/held.ts';
import { languageOf } from '@wet-lacquer/core/languages/index.ts';
import type { Language } from '@wet-lacquer/core/livery/spec.ts';
import { looksLikeText, readExactly, withLineEnds, writeText } from '@wet-lacquer/core/files/textFile.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { mentionsOf, ownCopy, type Mention } from '@wet-lacquer/core/files/references.ts';
import {
  addEntry,
  changeInside,
  eachInZip,
  readNested,
  removeEntry,
  renameEntry,
  replaceNested,
} from '@wet-lacquer/core/files/zip.ts';

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

/** One entry added, called otherwise, or left out; every other entry keeps its bytes. @throws InputError */
export function changeContainer(task: { bytes: Uint8Array; way: string[]; change: ContainerChange }): Uint8Array {
  const { bytes, way, change } = task;
  return changeInside(bytes, way, (archive, name) => {
    switch (change.do) {
      case 'add':
        return addEntry(archive, name, change.content);
      case 'rename':
        return renameEntry(archive, name, change.name);
      case 'remove':
        return removeEntry(archive, name);
    }
  });
}

export type ContainerChange =
  | { do: 'add'; content: Uint8Array }
  /** The name with its folders inside its archive. */
  | { do: 'rename'; name: string }
  | { do: 'remove' };

/** A text of a container with its line ends as they are. @throws InputError when it is none */
export function textOfEntry(task: { bytes: Uint8Array; way: string[] }): { text: string; language: Language } {
  const bytes = readNested(task.bytes, task.way);
  const name = lastOf(task.way);
  if (bytes.length > LARGEST_TEXT || !looksLikeText(bytes))
    throw new InputError(`"${name}" is no text that can be edited here.`);
  const { text } = readExactly(bytes);
  return { text, language: languageOf(name, text) };
}

/** A text of a container with other words in it, stored as it was. @throws InputError when its encoding lacks a character */
export function putText(task: { bytes: Uint8Array; way: string[]; text: string }): Uint8Array {
  const { text, facts } = readExactly(readNested(task.bytes, task.way));
  return replaceNested(task.bytes, task.way, writeText(withLineEnds(text, task.text), facts));
}

const LARGEST_TEXT = 2 * 1024 * 1024;

export const usesOfEntry = (task: { bytes: Uint8Array; name: string }): Mention[] => mentionsOf(task.bytes, task.name);

export const copyEntry = (task: { bytes: Uint8Array; way: string[]; name: string; users: string[][] }): Uint8Array =>
  ownCopy(task.bytes, task.way, task.name, task.users);
