import { and, eq, inArray, lt, sql } from 'drizzle-orm';
import type { FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { BAKED } from '@wet-lacquer/core/surface/baked/index.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { sharedCopy } from '@wet-lacquer/node/threads/shared.ts';
import { getBlobs, putBlob } from './blobs.ts';
import { transact, type Tx } from './db.ts';
import { bakedField } from './schema.ts';

const DAY = sql`now() - interval '1 day'`;
const subjects = new WeakMap<Template, string>();

/** What fields of a template are kept under: those of another with the same model are the same. */
export function subjectOf(template: Template): string {
  const known = subjects.get(template) ?? hashOf(JSON.stringify([BAKED, template.mesh, template.parts]));
  subjects.set(template, known);
  return known;
}

/** Those of some fields that are worked out already, as 32-bit numbers where all threads see them. */
export async function keptFields(
  tx: Tx,
  template: Template,
  names: readonly FieldKey[],
): Promise<Map<FieldKey, Uint8Array>> {
  if (names.length === 0) return new Map();
  const these = and(eq(bakedField.subject, subjectOf(template)), inArray(bakedField.name, [...names]));
  const rows = await tx.select().from(bakedField).where(these);
  if (rows.length === 0) return new Map();
  await tx
    .update(bakedField)
    .set({ usedAt: sql`now()` })
    .where(and(these, lt(bakedField.usedAt, DAY)));
  const blobs = await getBlobs(
    tx,
    rows.map(({ blob }) => blob),
  );
  return new Map(
    rows.flatMap(({ name, blob }) => (blobs.has(blob) ? [[name as FieldKey, sharedCopy(blobs.get(blob)!)]] : [])),
  );
}

export async function keepField(tx: Tx, template: Template, name: FieldKey, values: Uint8Array): Promise<void> {
  await transact(tx, async (inner) => {
    const blob = await putBlob(inner, values);
    await inner
      .insert(bakedField)
      .values({ subject: subjectOf(template), name, blob })
      .onConflictDoUpdate({ target: [bakedField.subject, bakedField.name], set: { blob, usedAt: sql`now()` } });
  });
}
