/** What there is to know of a language in which games write their texts. Places are half-open ranges of characters. */
export type Span = [from: number, to: number];

/** A value that stands in a text, and where. */
export interface FoundValue {
  path: string;
  value: string;
  at: number;
}

export interface TextLanguage {
  /** As a text is said to be it: "it would not be JSON". */
  name: string;
  /** What is said of a file that is taken for it; empty: nothing more than that it is a text. */
  called: string;
  /** Of files' names, without the dot. */
  endings: readonly string[];
  /** Whether a text is of this language by how it begins, whatever its file is called. @param text without a mark and spaces before it */
  begins?(text: string): boolean;
  /** Whether a text is likely of this language where its file's name says nothing. */
  likely?(text: string): boolean;
  /** A value as it is written so that it can never become more than a value. */
  escape(value: unknown): string;
  /** What keeps a text from being of this language, without a full stop; null when nothing does. */
  flaw?(text: string): string | null;
  /** Spans of what stands in a text beside others of its kind. */
  entries?(text: string): Span[];
  /** What parts an entry from the next, where that is more than a line end. */
  comma?: true;
  /** Entries are lines, and lines that follow one another are one entry. */
  lines?: true;
  /** The values that can be set by their path, in the order in which they stand. @throws InputError when it is not this language */
  values?(text: string): Iterable<FoundValue>;
  /** Where the value at a path stands; null when nothing does. */
  valueAt(text: string, path: string): Readonly<Span> | null;
  /** A text with another value at a path, where that is more than other characters; null when nothing stands there. */
  withValue?(text: string, path: string, value: string): string | null;
}

const plain = (value: unknown) => String(value ?? '');

/** One line without control characters, and without spaces at its ends. */
export const asLine = (value: unknown): string =>
  plain(value)
    .replace(/\p{Cc}+/gu, ' ')
    .trim();

/** A string in quotes with the escapes that JSON and TOML share (RFC 8259, section 7; TOML 1.0, "String"); numbers as they are. */
export const asQuoted = (value: unknown): string =>
  typeof value === 'number' ? String(value) : JSON.stringify(plain(value));

/** What a reader says of a text that it cannot read, as {@link TextLanguage.flaw} does: the first line of its error. */
export const flawOf =
  (read: (text: string) => unknown) =>
  (text: string): string | null => {
    try {
      read(text);
      return null;
    } catch (error) {
      return (error as Error).message.split('\n')[0].replace(/\.$/, '');
    }
  };

/** Which line of a text a character stands in, from 1. */
export function lineCounter(text: string): (at: number) => number {
  const starts = [0];
  for (let i = text.indexOf('\n'); i >= 0; i = text.indexOf('\n', i + 1)) starts.push(i + 1);
  return (at) => {
    let [low, high] = [0, starts.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (starts[middle] <= at) low = middle;
      else high = middle - 1;
    }
    return low + 1;
  };
}

/** The line about a character, with its end. */
export function lineAround(text: string, at: number): Span {
  const end = text.indexOf('\n', at);
  return [text.lastIndexOf('\n', at - 1) + 1, end < 0 ? text.length : end + 1];
}
