/** Documents of earlier versions, brought up to this one. What comes from a store or a file goes through here: it is looked at, never believed. */
import { InputError } from '../errors.ts';
import { Livery } from './livery.ts';

/** The version that this product writes. */
export const LIVERY_SCHEMA = 1;

/** From each earlier version to the next. A version is in here for ever; testing/frozen has documents of each. */
const STEPS: Readonly<Record<number, (document: Record<string, unknown>) => Record<string, unknown>>> = {};

/** The first documents of version 1 knew no checklist: nobody had called a sheet of theirs done. */
function withChecklist(document: Record<string, unknown>): Record<string, unknown> {
  const { sheets } = document;
  if (!Array.isArray(sheets)) return document;
  const lacks = (sheet: unknown) => typeof sheet === 'object' && sheet !== null && !('ready' in sheet);
  if (!sheets.some(lacks)) return document;
  return { ...document, sheets: sheets.map((sheet: object) => (lacks(sheet) ? { ready: false, ...sheet } : sheet)) };
}

/** @throws InputError in one sentence when it is no livery, or of a version that this product does not know */
export function readLivery(value: unknown): Livery {
  let document = value as Record<string, unknown>;
  const version = typeof value === 'object' && value !== null ? document.schema : undefined;
  if (!Number.isInteger(version)) throw new InputError('This is no livery: it does not say its version.');
  if ((version as number) > LIVERY_SCHEMA)
    throw new InputError(
      `This livery is of version ${version as number}; this Wet Lacquer knows up to ${LIVERY_SCHEMA}.`,
    );
  for (let at = version as number; at < LIVERY_SCHEMA; at++) {
    const step = STEPS[at];
    if (!step) throw new InputError(`There is no way from version ${at} of a livery to the present one.`);
    document = step(document);
  }
  const parsed = Livery.safeParse(withChecklist(document));
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new InputError(`${issue.path.join('.') || 'The livery'}: ${issue.message}.`);
}
