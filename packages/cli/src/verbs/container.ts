import path from 'node:path';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { mentionsOf } from '@wet-lacquer/core/files/references.ts';
import { readNested, replaceNested, searchZip } from '@wet-lacquer/core/files/zip.ts';
import { readBytes, writeWhole } from '../files.ts';
import type { Verb } from '../verb.ts';

/** Names that lead to a file in a container; those of containers inside it are parted by "!/" from what lies in them. */
const wayOf = (text: string) => text.split('!/');
const written = (way: readonly string[]) => way.join('!/');

/** lacquer search hair.bale coat, lacquer search hair.bale coat.tga --uses */
export const search: Verb = {
  name: 'search',
  usage: 'CONTAINER TEXT [--uses]',
  what: 'files in a zip-based container whose names hold a text, or texts in it that mention a file',
  args: 2,
  options: { uses: { type: 'boolean' } },
  async run([from, text], values) {
    const bytes = await readBytes(from);
    if (values.uses) {
      const uses = mentionsOf(bytes, text).map(({ way, ...rest }) => ({ file: written(way), ...rest }));
      const lines = uses.map(({ file, times, line }) => `${file} (${times}): ${line}`);
      return { json: { uses }, text: lines.join('\n') || `No text in ${from} mentions ${text}.` };
    }
    const wanted = text.toLowerCase();
    const files = searchZip(bytes, (name) => name.toLowerCase().includes(wanted)).map(written);
    return { json: { files }, text: files.join('\n') || `Nothing in ${from} is called "${text}".` };
  },
};

/** lacquer take hair.bale "inner.crate!/hair/plain.tga" plain.tga */
export const take: Verb = {
  name: 'take',
  usage: 'CONTAINER FILE OUT',
  what: 'takes a file out of a container; "inner!/file" leads into one inside it',
  args: 3,
  async run([from, file, to]) {
    const content = readNested(await readBytes(from), wayOf(file));
    await writeWhole(to, content);
    return { json: { file, bytes: content.length }, text: `${to}: ${content.length} bytes` };
  },
};

/** lacquer put hair.bale "hair/plain.tga" mine.tga new.bale */
export const put: Verb = {
  name: 'put',
  usage: 'CONTAINER FILE IN OUT',
  what: 'a container with one file replaced and all others left byte for byte',
  args: 4,
  async run([from, file, replacement, to]) {
    if (path.resolve(from) === path.resolve(to))
      throw new InputError('The container itself is not written over: give the new one another name.');
    const made = replaceNested(await readBytes(from), wayOf(file), await readBytes(replacement));
    await writeWhole(to, made);
    return { json: { file, bytes: made.length }, text: `${to}: ${file} replaced` };
  },
};
