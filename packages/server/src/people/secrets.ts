/** Passwords and tokens. Nothing of them is kept as it is: tokens as their SHA-256, passwords by Argon2id (RFC 9106). */
import { createHash, randomBytes } from 'node:crypto';
import { hash, parseOptions, verify } from '@node-rs/argon2';

/** Argon2id is what the package does unless told otherwise. Memory in KiB, passes and lanes: OWASP Password Storage Cheat Sheet, Argon2id, the configuration with 19 MiB. */
const COST = { memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

/** 256 random bits, base64url. */
export const newToken = (): string => randomBytes(32).toString('base64url');

/** What is kept of a token. */
export const digestOf = (token: string): string => createHash('sha256').update(token).digest('base64url');

/** The password as it is compared: the same keys give the same characters on every keyboard (NIST SP 800-63B, 5.1.1.2: NFKC). */
const plain = (password: string): string => password.normalize('NFKC');

export const hashPassword = (password: string): Promise<string> => hash(plain(password), COST);

/** Of nobody's password: who is not known takes as long to be refused. */
const nobodys = hashPassword(newToken());

/** Whether a password is the one of a hash; against no hash it takes as long and is not. */
export async function isPassword(kept: string | null, password: string): Promise<boolean> {
  const is = await verify(kept ?? (await nobodys), plain(password));
  return kept !== null && is;
}

/** Whether a hash was made more cheaply than they are now. */
export function isCheap(kept: string): boolean {
  const { memoryCost, timeCost } = parseOptions(kept);
  return memoryCost < COST.memoryCost || timeCost < COST.timeCost;
}

/** Characters of a password. */
export const PASSWORD_LEAST = 12;
export const PASSWORD_MOST = 200;
/** Fewer different ones are no secret. */
const DIFFERENT = 5;
/** Parts that are tried first (from memory, no source). */
const COMMON = ['password', 'passwort', 'qwerty', '123456', 'letmein', 'iloveyou', 'welcome', 'wetlacquer', 'admin'];

/** What is wrong with a new password; null: nothing. @param name of its painter */
export function badPassword(password: string, name: string): string | null {
  const text = plain(password).toLowerCase();
  const length = [...text].length;
  if (length < PASSWORD_LEAST)
    return `A password has at least ${PASSWORD_LEAST} characters; a few words make a good one.`;
  if (length > PASSWORD_MOST) return `A password has at most ${PASSWORD_MOST} characters.`;
  // What is left when everything that is guessed first is taken out.
  const guessed = [...COMMON, name.normalize('NFKC').toLowerCase()].filter((one) => one.length > 2);
  const rest = guessed.reduce((left, one) => left.replaceAll(one, ''), text.replaceAll(' ', ''));
  if (new Set(rest).size < DIFFERENT)
    return 'This password is guessed at once; take a few words that do not belong together.';
  return null;
}

/** Without letters that are taken for others (Crockford's base 32). */
const LETTERS = '0123456789abcdefghjkmnpqrstvwxyz';

/** A code to write down: 80 random bits in four groups of four. */
export const newCode = (): string =>
  [...randomBytes(16)]
    .map((byte) => LETTERS[byte & 31])
    .join('')
    .replace(/(.{4})(?=.)/g, '$1-');

/** A code as it is compared, however it was typed. */
export const codeOf = (typed: string): string =>
  typed
    .toLowerCase()
    .replaceAll('o', '0')
    .replace(/[il]/g, '1')
    .replace(/[^0-9a-z]/g, '');
