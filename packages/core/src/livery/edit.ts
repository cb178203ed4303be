/** One change of a livery: plain data. What there is to each kind is in edits/. */
import { z } from 'zod';
import { EDITS } from './edits/index.ts';
import type { Aim, EditKind } from './edits/kind.ts';
import type { Livery } from './livery.ts';
import { cutTo } from './words.ts';

export { TargetGone, type Aim } from './edits/kind.ts';

type EditOf<K> = K extends EditKind<infer T> ? T : never;
export type SingleEdit = EditOf<(typeof EDITS)[keyof typeof EDITS]>;

// Inferred from the kinds above: what Zod would infer again from their schemas is the same, and much longer.
type Schemas = [z.core.$ZodTypeDiscriminable, ...z.core.$ZodTypeDiscriminable[]];
const SCHEMAS = Object.values(EDITS).map(({ schema }) => schema) as unknown as Schemas;
const SingleEdit = z.discriminatedUnion('do', SCHEMAS) as unknown as z.ZodType<SingleEdit>;

/** Several changes that are one step to the person who made them. */
const Together = z.strictObject({ do: z.literal('together'), edits: z.array(SingleEdit).min(1).max(600) });

export type Edit = SingleEdit | z.infer<typeof Together>;
export const Edit = z.discriminatedUnion('do', [...SCHEMAS, Together]) as unknown as z.ZodType<Edit>;

const kindOf = (edit: SingleEdit) => EDITS[edit.do] as unknown as EditKind<SingleEdit>;

/** The changes that an edit is made of. */
export const singlesOf = (edit: Edit): readonly SingleEdit[] => (edit.do === 'together' ? edit.edits : [edit]);

/**
 * Applies one edit. Pure: the given livery is not changed, and unchanged branches are shared with the result.
 * @returns the new livery, and the edit that takes this one back
 * @throws TargetGone when its target is not there; InputError when the result would not be a livery
 */
export function applyEdit(livery: Livery, edit: Edit): { livery: Livery; inverse: Edit } {
  if (edit.do !== 'together') return kindOf(edit).apply(livery, edit);
  let current = livery;
  const inverses: SingleEdit[] = [];
  for (const single of edit.edits) {
    const result = kindOf(single).apply(current, single);
    current = result.livery;
    inverses.unshift(result.inverse);
  }
  return { livery: current, inverse: { do: 'together', edits: inverses } };
}

/** The edit, with what it does to the other sheets of a layer that runs over several. */
export function expandAcross(livery: Livery, edit: Edit): Edit {
  const all = singlesOf(edit).flatMap((single) => [single, ...kindOf(single).spread(livery, single)]);
  return all.length === singlesOf(edit).length ? edit : { do: 'together', edits: all };
}

/** The blobs of everything stored tile by tile that an edit brings in. */
export const storedIn = (edit: Edit): string[] => singlesOf(edit).flatMap((single) => kindOf(single).stored(single));

/** A step whose target is gone, made to mean what is chosen; null when something in it cannot be. */
export function reaim(livery: Livery, edit: Edit, aim: Aim): Edit | null {
  const edits = singlesOf(edit).map((single) => kindOf(single).reaim(livery, single, aim));
  if (edits.some((one) => one === null)) return null;
  return edit.do === 'together' ? { do: 'together', edits: edits as SingleEdit[] } : edits[0];
}

/** An edit as a step reads, within 120 characters. @param livery before it */
export function wordsOf(livery: Livery, edit: Edit): string {
  const [first, ...rest] = singlesOf(edit);
  const words = kindOf(first).reads(livery, first);
  return cutTo(rest.length > 0 ? `${words}, and ${rest.length} more` : words, 120);
}
