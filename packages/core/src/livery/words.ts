import { z } from 'zod';

/** Half of a surrogate pair by itself: no Unicode text, and no store takes it (Unicode 16.0, 3.9, D75). */
const LONE = /\p{Surrogate}/u;

/** What is wrong with a text wherever it stands, or null. */
export const brokenText = (text: string): string | null =>
  text.includes('\0') ? 'holds a character 0' : LONE.test(text) ? 'holds half a character (a lone surrogate)' : null;

/** Text that people write. Lengths are in characters (Unicode code points), however many bytes each takes. */
export const words = (most: number, least = 0) =>
  z.string().superRefine((text, ctx) => {
    const broken = brokenText(text);
    const length = [...text].length;
    const message =
      broken ??
      (length > most
        ? `at most ${most} characters, not ${length}`
        : length < least
          ? `at least ${least} character${least === 1 ? '' : 's'}`
          : null);
    if (message) ctx.addIssue({ code: 'custom', message });
  });

/**
 * A text that is not longer than so many characters, cut at its end. Characters are counted as `words` counts them, so that none is cut in half.
 * @example
 * import { cutTo } from './livery/words.ts';
 * cutTo('Tern & Tide', 4); // 'Tern'
 */
export const cutTo = (text: string, most: number): string =>
  text.length <= most ? text : [...text].slice(0, most).join('');
