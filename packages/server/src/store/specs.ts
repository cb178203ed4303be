import { own } from '../people/access.ts';
import { desc, eq, inArray } from 'drizzle-orm';
import { SHIPPED_SPECS } from '@wet-lacquer/core/games/index.ts';
import { specBy } from '@wet-lacquer/core/delivery/specs.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { deliveredBy, type Livery, type SpecPin } from '@wet-lacquer/core/livery/livery.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { NotFound } from '../host/errors.ts';
import type { Tx } from './db.ts';
import { spec } from './schema.ts';
import { ownSpecs } from './templates.ts';

/** The newest version of every spec that a painter made. */
export async function listSpecs(tx: Tx): Promise<DeliverySpec[]> {
  const rows = await tx
    .selectDistinctOn([spec.key], { document: spec.document })
    .from(spec)
    .orderBy(spec.key, desc(spec.version));
  return rows.map((row) => row.document);
}

/** Every version of the specs that liveries are pinned to, as far as painters made them: one question for all of them. */
export async function madeFor(tx: Tx, liveries: readonly Pick<Livery, 'pins' | 'alsoBy'>[]): Promise<DeliverySpec[]> {
  return madeByKeys(tx, new Set(liveries.flatMap(deliveredBy).map(({ key }) => key)));
}

/** Every version of painters' specs of these keys. */
export async function madeByKeys(tx: Tx, keys: ReadonlySet<string>): Promise<DeliverySpec[]> {
  if (keys.size === 0) return [];
  const rows = await tx
    .select({ document: spec.document })
    .from(spec)
    .where(inArray(spec.key, [...keys]));
  return rows.map((row) => row.document);
}

/** A spec by its key: made by a painter (its newest version), shipped, or brought by a template. @throws NotFound */
export async function getSpec(tx: Tx, key: string): Promise<DeliverySpec> {
  const [row] = await tx
    .select({ document: spec.document })
    .from(spec)
    .where(eq(spec.key, key))
    .orderBy(desc(spec.version))
    .limit(1);
  const found =
    row?.document ?? SHIPPED_SPECS[key] ?? (await ownSpecs(tx)).findLast(({ spec }) => spec.key === key)?.spec;
  if (!found) throw new NotFound(`There is no delivery spec "${key}".`);
  return found;
}

/** Keeps a new version of a spec. @throws InputError when its key is a shipped one's, or the version is not the next */
export async function putSpec(tx: Tx, document: DeliverySpec): Promise<void> {
  if (SHIPPED_SPECS[document.key])
    throw new InputError(`"${document.key}" came with Wet Lacquer and stays as it is; give the copy another key.`);
  const rows = await tx
    .insert(spec)
    .values({ key: document.key, version: document.version, document })
    .onConflictDoNothing()
    .returning({ key: spec.key });
  if (rows.length === 0)
    throw new InputError(`Version ${document.version} of "${document.key}" exists already; open the spec anew.`);
  if (document.version === 1) await own(tx, 'spec', document.key);
}

/** A spec that a livery is delivered by: its own unless another is said. @throws InputError when it is not here */
export async function specOf(
  tx: Tx,
  livery: Pick<Livery, 'pins'>,
  template: Pick<Template, 'ownSpec'>,
  pin: SpecPin = livery.pins.spec,
): Promise<DeliverySpec> {
  return specBy(pin, template, await madeFor(tx, [{ pins: { ...livery.pins, spec: pin } }]));
}
