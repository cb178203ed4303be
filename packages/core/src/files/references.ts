/** Which text files of a container mention a file, and giving some of them a copy of their own (what uses what). */
import { lastOf } from '../held.ts';
import { looksLikeText } from './textFile.ts';
import { InputError } from '../errors.ts';
import { baseOf, stemOf } from '../paths.ts';
import { addEntry, changeInside, eachInZip, openZip, readNested, replaceEntry } from './zip.ts';

/** Pictures name nothing. */
const isPicture = (name: string) => /\.(dds|tga|png|jpe?g|webp|psd|ora)$/i.test(name);
/** A larger text is data. */
const LARGEST = 16 * 1024 * 1024;

// One byte a character: bytes that are in no known encoding come through as they are.
const decode = (bytes: Uint8Array) => new TextDecoder('latin1').decode(bytes);
const encode = (text: string) => Uint8Array.from(text, (c) => BYTES.get(c) ?? c.charCodeAt(0));
/** The Encoding Standard's "latin1" is windows-1252: 27 bytes decode to other characters. */
const BYTES = new Map(
  Array.from({ length: 256 }, (_, byte) => [new TextDecoder('latin1').decode(Uint8Array.of(byte)), byte] as const),
);

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/**
 * Where a text names a file: by its name with the ending, or the name alone as a whole word. Names are told apart from longer ones that
 * hold them: "coat" is not in "coat_wet" or "overcoat".
 */
const mention = (name: string) => {
  const [base, stem] = [baseOf(name), stemOf(name)];
  const bytes = (text: string) => decode(new TextEncoder().encode(text));
  const ending = base.slice(stem.length);
  return new RegExp(`(?<![\\w-])${escaped(bytes(stem))}(${escaped(bytes(ending))})?(?![\\w-]|\\.\\w)`, 'gi');
};

export interface Mention {
  /** Names that lead to the text file, outermost archive first. */
  way: string[];
  times: number;
  /** The first line that names it. */
  line: string;
  /** It is no text: it is named and left alone. */
  binary?: true;
}

/** The lines of a text that name a file, from 1, without the spaces about them. */
export function linesNaming(text: string, name: string): { line: number; text: string }[] {
  const stem = new RegExp(`(?<![\\w-])${escaped(stemOf(name))}(?![\\w-])`, 'i');
  return text
    .split('\n')
    .flatMap((line, i) => (stem.test(line) ? [{ line: i + 1, text: line.trim().slice(0, 200) }] : []));
}

/** Files of a container, nested ones too, that mention a file, whatever they are called. */
export function mentionsOf(bytes: Uint8Array, name: string): Mention[] {
  const pattern = mention(name);
  const mentions: Mention[] = [];
  eachInZip(bytes, (way, { name: entry, size }, read) => {
    if (size > LARGEST || isPicture(entry)) return;
    const bytes = read();
    const text = decode(bytes);
    const found = [...text.matchAll(pattern)];
    if (found.length === 0) return;
    if (!looksLikeText(bytes)) {
      mentions.push({ way, times: found.length, line: '', binary: true });
      return;
    }
    const from = text.lastIndexOf('\n', found[0].index) + 1;
    const line = text.slice(from).split(/\r?\n/, 1)[0].trim().slice(0, 200);
    mentions.push({ way, times: found.length, line });
  });
  return mentions;
}

/**
 * A copy of a file under a new name in the same folder, named by those text files only that are given; every other byte of the container
 * stays. Line ends, encoding and byte order mark of the texts are kept.
 * @param wanted new name without folder; its ending has to be the same
 * @throws InputError
 */
export function ownCopy(
  bytes: Uint8Array,
  way: readonly string[],
  wanted: string,
  users: readonly (readonly string[])[],
): Uint8Array {
  const name = lastOf(way);
  const folder = name.slice(0, name.length - baseOf(name).length);
  const [ending, other] = [baseOf(name).slice(stemOf(name).length), wanted.slice(stemOf(wanted).length)];
  if (other.toLowerCase() !== ending.toLowerCase()) throw new InputError(`The copy has to end in "${ending}".`);
  if (users.length === 0) throw new InputError('Choose which files are to use the copy.');
  const content = readNested(bytes, way);
  let out = changeInside(bytes, way, (archive) => addEntry(archive, folder + wanted, content, name));
  const pattern = mention(name);
  for (const user of users) {
    let times = 0;
    out = changeInside(out, user, (archive, entry) => {
      const was = openZip(archive).read(entry) ?? new Uint8Array();
      if (!looksLikeText(was)) throw new InputError(`"${entry}" is no text: it is left alone.`);
      const text = decode(was);
      const stem = decode(new TextEncoder().encode(stemOf(wanted)));
      const next = text.replace(pattern, (_whole, end: string | undefined) => {
        times++;
        return stem + (end ?? '');
      });
      return replaceEntry(archive, entry, encode(next));
    });
    if (times === 0) throw new InputError(`"${lastOf(user)}" does not mention ${baseOf(name)}.`);
  }
  return out;
}
