/** Names that files and folders can have on every system that a delivery may end on, and that stay where they belong. */

/** Names of devices, with any ending (Microsoft, "Naming Files, Paths, and Namespaces"). */
const DEVICE = /^(con|prn|aux|nul|conin\$|conout\$|(com|lpt)[0-9¹²³])(\..*)?$/i;
/** Characters that Windows keeps for itself, from the same page; a backslash is a separator there. */
const KEPT = /[<>:"|?*\\]/;
/** Control characters, and those that change the direction of what follows (Unicode Bidirectional Algorithm, UAX #9, 2). */
const UNSEEN = /[\p{Cc}\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff\u2028\u2029]/u;
/** Bytes of UTF-8 that one name may have on common file systems. */
const LONGEST = 255;

/**
 * Why a path inside a folder must not be made there; null: it may.
 * @param path with slashes; one at its end is passed over
 * @example
 * import { whyNoPath } from './delivery/safePath.ts';
 * whyNoPath('liveries/tern/hull.dds'); // null
 * typeof whyNoPath('liveries/../../hull.dds'); // 'string'
 */
export function whyNoPath(path: string): string | null {
  if (path.startsWith('/')) return 'begins at the root of the disk';
  const parts = path.replace(/\/$/, '').split('/');
  for (const part of parts) {
    const why = whyNoName(part);
    if (why) return why;
  }
  return null;
}

function whyNoName(name: string): string | null {
  if (name === '') return 'has a folder without a name';
  if (name === '.' || name === '..') return 'leaves its folder';
  if (UNSEEN.test(name)) return 'has a character that is not seen';
  const kept = KEPT.exec(name);
  if (kept) return `has the character ${kept[0]}, which systems keep for themselves`;
  if (/[. ]$/.test(name)) return `has a name that ends with a ${name.endsWith('.') ? 'dot' : 'space'}`;
  if (DEVICE.test(name)) return `has the name of a device, ${name}`;
  if (new TextEncoder().encode(name).length > LONGEST) return `has a name of more than ${LONGEST} bytes`;
  return null;
}
