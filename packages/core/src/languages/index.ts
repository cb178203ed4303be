/** The languages in which texts of games are written, changed and checked. */
import type { Language } from '../livery/spec.ts';
import { endingOf } from '../paths.ts';
import { ini } from './ini.ts';
import { json } from './json.ts';
import type { TextLanguage } from './kind.ts';
import { script } from './script.ts';
import { text } from './text.ts';
import { toml } from './toml.ts';
import { xml } from './xml.ts';

/** In the order in which a text is tried. */
export const LANGUAGES: Readonly<Record<Language, TextLanguage>> = { xml, json, toml, ini, script, text };

const KEYS = Object.keys(LANGUAGES) as Language[];

/** The language of a file by the ending of its name; undefined: it says none. */
export function languageByName(name: string): Language | undefined {
  const ending = endingOf(name);
  return KEYS.find((key) => LANGUAGES[key].endings.includes(ending));
}

/**
 * The language of a text by how it begins, else by the ending of its name, else by what it looks like.
 * @example
 * import { languageOf } from './languages/index.ts';
 * languageOf('skin.txt', '<?xml version="1.0"?><skin/>'); // 'xml'
 */
export function languageOf(name: string, content: string): Language {
  const start = content.replace(/^\ufeff/, '').trimStart();
  const named = languageByName(name);
  return (
    KEYS.find((key) => LANGUAGES[key].begins?.(start)) ??
    (named !== 'text' ? named : undefined) ??
    KEYS.find((key) => LANGUAGES[key].likely?.(start)) ??
    'text'
  );
}
