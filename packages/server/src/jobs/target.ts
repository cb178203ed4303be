/** What lies in a game's folder, as the host that owns the folder sees it before a delivery. */
import { inArray } from 'drizzle-orm';
import { pathsOf, planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import { keptTexts, lookAtTarget, NO_TARGET, type Credit, type Target } from '@wet-lacquer/core/delivery/target.ts';
import { whyNoPath } from '@wet-lacquer/core/delivery/safePath.ts';
import { layersIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Config } from '../host/config.ts';
import { getBlob } from '../store/blobs.ts';
import type { Tx } from '../store/db.ts';
import { busySlots, lastBy, ownersIn, type Delivery } from '../store/deliveries.ts';
import { decal } from '../store/schema.ts';
import { folderReader, gameFolder, whyClosedFor } from '@wet-lacquer/node/gameFolder.ts';

/** Files of a delivery by their paths in the game's folder. */
export const pathsIn = (delivery: Delivery): Map<string, string> =>
  delivery.package
    ? new Map(delivery.zip ? [[delivery.package, delivery.zip]] : [])
    : new Map(delivery.files.map((file) => [delivery.folder + file.name, file.blob]));

/** What a livery's next delivery meets. */
export async function targetOf(
  tx: Tx,
  { data, hostId }: Pick<Config, 'data' | 'hostId'>,
  liveryId: string,
  livery: Livery,
  template: Template,
  spec: DeliverySpec,
): Promise<Target> {
  const last = await lastBy(tx, liveryId, spec);
  const target = await lookAtTarget(
    livery,
    template,
    spec,
    await folderReader(gameFolder(data, spec.game)),
    { slot: last?.slot ?? null, files: last ? pathsIn(last) : new Map() },
    await creditsOf(tx, livery),
    await busySlots(tx, spec.game, liveryId),
    await keptTexts(template, spec, (hash) => getBlob(tx, hash)),
  );
  const paths = pathsOf(planDelivery(livery, template, spec, target));
  const owners = await ownersIn(tx, spec.game, hostId, liveryId, new Set(paths), pathsIn);
  const closed = paths.some((name) => whyNoPath(name)) ? null : await whyClosedFor(gameFolder(data, spec.game), paths);
  return { ...target, owners, closed };
}

/** The target as a delivery's row holds it: enough to make the same files again, on any machine. */
export async function targetIn(
  tx: Tx,
  { slot, bases, credits }: Delivery,
  template: Template,
  spec: DeliverySpec,
): Promise<Target> {
  const held = Object.entries(bases).map(
    async ([name, hash]) => [name, { hash, bytes: await getBlob(tx, hash) }] as const,
  );
  const kept = await keptTexts(template, spec, (hash) => getBlob(tx, hash));
  return { ...NO_TARGET, slot, credits, kept, bases: new Map(await Promise.all(held)) };
}

/** Where the decals of a livery come from, and the skin that it was begun from. */
export async function creditsOf(tx: Tx, livery: Livery): Promise<Credit[]> {
  const { after } = livery;
  const begun = after ? [{ name: after.name, origin: `a skin by ${after.by}`, licence: after.licence }] : [];
  const blobs = [...new Set(layersIn(livery).flatMap((layer) => (layer.kind === 'decal' ? [layer.blob] : [])))];
  if (blobs.length === 0) return begun;
  const rows = await tx.select().from(decal).where(inArray(decal.blob, blobs)).orderBy(decal.name);
  return [...begun, ...rows.map(({ name, origin, licence }) => ({ name, origin, licence }))];
}
