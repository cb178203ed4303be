/** A delivery handed on through the exchange: looked at as its game would, with pictures of it, as a new version where there was one. */
import { eq } from 'drizzle-orm';
import { cellsApart } from '@wet-lacquer/core/delivery/atlas.ts';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import type { Skin } from '@wet-lacquer/core/exchange/skin.ts';
import { skinOf, type Delivered, type Said } from '@wet-lacquer/core/exchange/skinOf.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import type { SkinLook } from '@wet-lacquer/node/threads/skin.ts';
import type { Published } from '@wet-lacquer/sync/exchange.ts';
import type { Services } from '../host/services.ts';
import { painterNow } from '../people/who.ts';
import { getBlob, getBlobs, putBlob } from '../store/blobs.ts';
import { makeBundle } from '../store/bundles.ts';
import { transact } from '../store/db.ts';
import { getDelivery } from '../store/deliveries.ts';
import { addVersion, publishedFrom } from '../store/exchange.ts';
import { getLivery } from '../store/liveries.ts';
import { livery as liveryTable } from '../store/schema.ts';
import { specOf } from '../store/specs.ts';
import { findTemplate } from '../store/templates.ts';
import { targetIn } from './target.ts';

type Publishing = Pick<Services, 'db' | 'threads'>;

/** A skin's files as the game's folder would hold them, and as its own names are inside. @param blobs bytes by SHA-256 */
export function filesOfSkin(
  { files, spec }: Skin,
  blobs: ReadonlyMap<string, Uint8Array>,
  folder: string,
  zip: { name: string; bytes: Uint8Array } | null,
): { files: Map<string, Uint8Array>; folder: Map<string, Uint8Array> } {
  const own = new Map(files.map(({ name, sha256 }) => [name, heldIn(blobs, sha256)]));
  const there = new Map([...own].map(([name, bytes]) => [folder + name, bytes]));
  return { files: own, folder: spec.package && zip ? new Map([[zip.name, zip.bytes]]) : there };
}

/** What is wrong with a skin, as its game and its subject see it, and pictures of it where that is here. */
export async function lookAtSkin(
  { db, threads }: Publishing,
  skin: Skin,
  held: { files: Map<string, Uint8Array>; folder: Map<string, Uint8Array> },
  draw: boolean,
  signal?: AbortSignal,
): Promise<SkinLook> {
  const template = await findTemplate(db, skin.subject.template);
  return threads.run('skinLook', { skin, ...held, template, draw }, signal);
}

/** @throws InputError when the delivery is not done, or when it is found not to be what it is said to be */
export async function publishSkin(
  services: Publishing,
  deliveryId: string,
  said: Omit<Said, 'name'>,
  signal?: AbortSignal,
): Promise<Published> {
  const { db, threads } = services;
  const done = await getDelivery(db, deliveryId);
  if (done.state !== 'done') throw new InputError('Only a finished delivery can be published.');
  const { livery } = await getLivery(db, done.liveryId, done.revision);
  const template = await findTemplate(db, livery.pins.template);
  if (!template) throw new InputError('The template of this livery is not here any more.');
  const spec = await specOf(db, livery, template, { key: done.specKey, version: done.specVersion });
  const target = await targetIn(db, done, template, spec);
  const plan = planDelivery(livery, template, spec, target);
  const blobs = await getBlobs(
    db,
    done.files.map(({ blob }) => blob),
  );
  const files = done.files.map((file): Delivered => {
    const planned = plan.files.find(({ name }) => name === file.name);
    if (!planned) throw new InputError(`${file.name} is not part of this delivery’s plan any more; deliver anew.`);
    const cells = template.sheets.find(({ key }) => planned.kind === 'sheet' && key === planned.master.key)?.cells;
    const base = target.bases.get(plan.folder + file.name);
    const inPlace = planned.kind === 'sheet' && planned.spec.inPlace && cells && base;
    return {
      ...{ name: file.name, sha256: Sha256.parse(file.blob), bytes: file.bytes, what: file.what },
      ...(inPlace && { changed: cellsApart(base.bytes, heldIn(blobs, file.blob), cells) }),
    };
  });
  const name = fillIn(livery.particulars.name ?? '', livery.particulars).trim() || 'A skin';
  const handed = {
    ...{ livery, template, hash: livery.pins.template, spec, plan, files },
    ...{ number: done.slot, credits: done.credits, pictures: [] as Skin['pictures'], bundle: null as Skin['livery'] },
  };
  const first = { ...said, name: name.slice(0, 80), licence: { ...said.licence, adapt: false } };
  const zip = done.zip && done.package ? { name: done.package, bytes: await getBlob(db, done.zip) } : null;
  const draft = skinOf(first, handed);
  const held = filesOfSkin(draft, blobs, plan.folder, zip);
  const { findings, pictures } = await lookAtSkin(services, draft, held, true, signal);
  const stop = findings.find(({ level }) => level === 'stop');
  if (stop) throw new InputError(`This is not handed on: ${stop.says}`);
  const bundle = said.licence.adapt ? await makeBundle(db, threads, livery, true) : null;
  return transact(db, async (tx) => {
    const store = async (bytes: Uint8Array) => ({ sha256: await putBlob(tx, bytes), bytes: bytes.length });
    const shown: Skin['pictures'] = [];
    for (const { shows, png } of pictures) shown.push({ shows, ...(await store(png)) });
    // A game that has no stand-in: as it stands on the turntable.
    if (shown.length === 0) {
      const [row] = await tx
        .select({ picture: liveryTable.picture })
        .from(liveryTable)
        .where(eq(liveryTable.id, done.liveryId));
      if (row?.picture) shown.push({ shows: 'on the turntable', ...(await store(await getBlob(tx, row.picture))) });
    }
    const skin = skinOf(
      { ...first, licence: said.licence },
      { ...handed, pictures: shown, bundle: bundle && (await store(bundle)) },
    );
    const before = await publishedFrom(tx, done.liveryId, spec.key);
    const by = { subscriptionId: null, theirs: null, liveryId: done.liveryId, painterId: painterNow()?.id ?? null };
    return { ...(await addVersion(tx, before?.id ?? null, by, skin, findings)), findings };
  });
}
