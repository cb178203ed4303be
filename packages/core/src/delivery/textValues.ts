/** Values in texts of games by their path: read, and set with everything around them as it stands. */
import { rgbOfHex } from '../colour/hex.ts';
import { LANGUAGES } from '../languages/index.ts';
import { lineCounter, type FoundValue } from '../languages/kind.ts';
import type { Language } from '../livery/spec.ts';

/** A value that stands in a text. */
export interface TextValue extends Omit<FoundValue, 'at'> {
  /** From 1. */
  line: number;
}

const MOST_VALUES = 2000;

/** The values of a text that can be set by their path, in the order in which they stand. @throws InputError when it is not its language */
export function valuesIn(text: string, language: Language): TextValue[] {
  const found: TextValue[] = [];
  const lineOf = lineCounter(text);
  for (const { path, value, at } of LANGUAGES[language].values?.(text) ?? []) {
    if (found.length === MOST_VALUES) break;
    found.push({ path, value, line: lineOf(at) });
  }
  return found;
}

/**
 * A text with another value at a path; null when nothing stands there.
 * @param value as its language writes it
 * @example
 * import { withValue } from './delivery/textValues.ts';
 * withValue('[skin]\nfile = a.dds ; old', 'ini', 'skin.file', 'b.dds'); // '[skin]\nfile = b.dds ; old'
 * withValue('<fleet><craft id="a"/></fleet>', 'xml', 'fleet/craft/@id', 'b'); // '<fleet><craft id="b"/></fleet>'
 */
export function withValue(text: string, language: Language, path: string, value: string): string | null {
  const { valueAt, withValue } = LANGUAGES[language];
  if (withValue) return withValue(text, path, value);
  const at = valueAt(text, path);
  return at && text.slice(0, at[0]) + value + text.slice(at[1]);
}

/** How a colour is put into a value. */
export interface ColourValue {
  readonly as: 'linear' | 'bytes' | 'hex';
  readonly channel?: 'red' | 'green' | 'blue';
}

const CHANNEL = { red: 0, green: 1, blue: 2 };

/**
 * A text with a colour at a path: the numbers that stand there take its channels, with what is between them and an alpha after them left as they
 * are. A number that already stands for the very channel, to 8 bits of sRGB, stays as somebody typed it: 0.0025 stays 0.0025.
 * @param hex `#rrggbb`, sRGB; null: nothing stands at the path, or no colour
 */
export function withColour(
  text: string,
  language: Language,
  path: string,
  hex: string,
  { as, channel }: ColourValue,
): string | null {
  const rgb = rgbOfHex(hex);
  const span = LANGUAGES[language].valueAt(text, path);
  if (!span) return null;
  const before = text.slice(...span);
  const numbers = [...before.matchAll(/-?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/g)];
  const replaced = (after: string) => text.slice(0, span[0]) + after + text.slice(span[1]);
  if (as === 'hex') {
    const found = /[0-9a-fA-F]{6}/.exec(before);
    if (!found) return null;
    const upper = found[0] === found[0].toUpperCase() && /[A-F]/.test(found[0]);
    const digits = upper ? hex.slice(1).toUpperCase() : hex.slice(1);
    if (digits.toLowerCase() === found[0].toLowerCase()) return text;
    return replaced(before.slice(0, found.index) + digits + before.slice(found.index + 6));
  }
  const wanted = channel ? [rgb[CHANNEL[channel]]] : rgb;
  if (numbers.length < wanted.length) return null;
  let after = before;
  // From the last, so that places stay.
  for (let i = wanted.length - 1; i >= 0; i--) {
    const { 0: typed, index } = numbers[i];
    const same = as === 'bytes' ? Number(typed) === wanted[i] : byteOfLinear(Number(typed)) === wanted[i];
    if (!same) after = after.slice(0, index) + writtenAs(as, wanted[i]) + after.slice(index + typed.length);
  }
  return replaced(after);
}

const writtenAs = (as: 'linear' | 'bytes', byte: number): string =>
  as === 'bytes' ? String(byte) : String(Number(linearOfByte(byte).toFixed(6)));

/** The linear value 0..1 of an sRGB byte (IEC 61966-2-1). */
function linearOfByte(byte: number): number {
  const v = byte / 255;
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
}

/** The sRGB byte that a linear number 0..1 rounds to (IEC 61966-2-1). */
export function byteOfLinear(value: number): number {
  const v = Math.min(1, Math.max(0, value));
  return Math.round((v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055) * 255);
}
