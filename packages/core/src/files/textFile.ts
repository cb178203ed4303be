/** Text files of games: read and written in their own encoding, with their own line ends and byte order mark. */
import { diffArrays } from 'diff';
import { InputError } from '../errors.ts';

type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/** How a text is stored. */
export interface TextFacts {
  encoding: Encoding;
  /** Whether a byte order mark stands at the beginning. */
  mark: boolean;
  /** The line end that most lines have. */
  lineEnd: '\n' | '\r\n';
}

export const PLAIN_TEXT: TextFacts = { encoding: 'utf-8', mark: false, lineEnd: '\n' };

const MARKS: readonly [Encoding, readonly number[]][] = [
  ['utf-8', [0xef, 0xbb, 0xbf]],
  ['utf-16le', [0xff, 0xfe]],
  ['utf-16be', [0xfe, 0xff]],
];

/** The text in a file, its lines ended by `\n`, and how it is stored. What is no UTF-8 is taken for Windows-1252. */
export function readText(bytes: Uint8Array): { text: string; facts: TextFacts } {
  const { text, facts } = readExactly(bytes);
  const crlf = text.match(/\r\n/g)?.length ?? 0;
  const lines = text.match(/\n/g)?.length ?? 0;
  return { text: text.replaceAll('\r\n', '\n'), facts: { ...facts, lineEnd: crlf * 2 > lines ? '\r\n' : '\n' } };
}

/** The text in a file with its line ends as they are; written again with these facts it has the same bytes. */
export function readExactly(bytes: Uint8Array): { text: string; facts: TextFacts } {
  const marked = MARKS.find(([, mark]) => mark.every((byte, i) => bytes[i] === byte));
  const encoding = marked?.[0] ?? (isUtf8(bytes) ? 'utf-8' : 'windows-1252');
  const whole =
    encoding === 'windows-1252'
      ? Array.from(bytes, windowsCharacter).join('')
      : new TextDecoder(encoding).decode(bytes);
  return { text: whole, facts: { encoding, mark: !!marked, lineEnd: '\n' } };
}

/** The bytes of a text. @throws InputError when the encoding has no place for one of its characters */
export function writeText(text: string, { encoding, mark, lineEnd }: TextFacts): Uint8Array {
  const whole = (mark && encoding !== 'windows-1252' ? '\ufeff' : '') + text.replaceAll('\n', lineEnd);
  if (encoding === 'utf-8') return new TextEncoder().encode(whole);
  if (encoding === 'windows-1252') return Uint8Array.from(whole, windowsByte);
  const bytes = new Uint8Array(whole.length * 2);
  const view = new DataView(bytes.buffer);
  for (let i = 0; i < whole.length; i++) view.setUint16(i * 2, whole.charCodeAt(i), encoding === 'utf-16le');
  return bytes;
}

function isUtf8(bytes: Uint8Array): boolean {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
}

/** What bytes 0x80 to 0x9f stand for (WHATWG Encoding Standard, index windows-1252); engines' own decoders do not all agree. */
const UPPER = '€\x81‚ƒ„…†‡ˆ‰Š‹Œ\x8dŽ\x8f\x90‘’“”•–—˜™š›œ\x9džŸ';

const windowsCharacter = (byte: number): string =>
  byte >= 0x80 && byte < 0xa0 ? UPPER[byte - 0x80] : String.fromCharCode(byte);

function windowsByte(character: string): number {
  const upper = UPPER.indexOf(character);
  const byte = upper >= 0 ? 0x80 + upper : character.charCodeAt(0);
  if (byte > 0xff || character.length > 1 || windowsCharacter(byte) !== character)
    throw new InputError(`This file is stored in Windows-1252, which has no "${character}"; leave that character out.`);
  return byte;
}

/** Bytes that no text has: control characters but tab, line ends and form feed. */
const NO_TEXT = new Set([...Array(32).keys()].filter((byte) => ![9, 10, 12, 13, 26].includes(byte)).concat(127));

/** Whether a file is a text that can be read and changed, whatever it is called; told by its first 64 KiB. */
export function looksLikeText(bytes: Uint8Array): boolean {
  const head = bytes.subarray(0, 65536);
  if (MARKS.some(([encoding, mark]) => encoding !== 'utf-8' && mark.every((byte, i) => bytes[i] === byte)))
    return bytes.length % 2 === 0;
  return head.every((byte) => !NO_TEXT.has(byte));
}

/** A text that was edited with plain line ends, with those that it had: lines that stayed keep theirs, new ones take what most have. */
export function withLineEnds(before: string, after: string): string {
  const was = before.split(/(?<=\n)/);
  const usual = (before.match(/\r\n/g)?.length ?? 0) * 2 > (before.match(/\n/g)?.length ?? 0) ? '\r\n' : '\n';
  const plain = (lines: readonly string[]) => lines.map((line) => line.replace(/\r\n$/, '\n'));
  let at = 0;
  return diffArrays(plain(was), plain(after.split(/(?<=\n)/)))
    .map(({ added, removed, value }) => {
      if (added) return value.map((line) => line.replace(/\n$/, usual)).join('');
      const same = was.slice(at, at + value.length).join('');
      at += value.length;
      return removed ? '' : same;
    })
    .join('');
}
