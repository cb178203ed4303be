/** A delivery from the wish to the queue: what it meets, whether preflight lets it go, and its place among others of its game. */
import { randomUUID } from 'node:crypto';
import { isShared } from '@wet-lacquer/core/delivery/folderCheck.ts';
import { pathsOf, planDelivery, written, type DeliveryPlan } from '@wet-lacquer/core/delivery/plan.ts';
import type { Target } from '@wet-lacquer/core/delivery/target.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { deliveredBy, fillIn } from '@wet-lacquer/core/livery/livery.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { describe } from '@wet-lacquer/node/makeFiles.ts';
import type { PlanAnswer } from '@wet-lacquer/sync/answers.ts';
import type { Scene } from '@wet-lacquer/node/threads/scene.ts';
import { NotFound } from '../host/errors.ts';
import type { Services } from '../host/services.ts';
import { putBlob } from '../store/blobs.ts';
import type { Tx } from '../store/db.ts';
import { aloneFor, createDelivery, type Delivery } from '../store/deliveries.ts';
import { getLivery, type StoredLivery } from '../store/liveries.ts';
import { specOf } from '../store/specs.ts';
import { checkWritable } from './publish.ts';
import { withFields } from './fields.ts';
import { sceneOf } from './scene.ts';
import { targetOf } from './target.ts';

export interface OpenDelivery {
  stored: StoredLivery;
  scene: Scene;
  spec: DeliverySpec;
  target: Target;
  plan: DeliveryPlan;
}

/** A livery with what its next delivery by one of its specs meets. @param key of the spec; left out: its own */
export async function openDelivery(
  { db, config }: Pick<Services, 'db' | 'config'>,
  id: string,
  key?: string,
  revision?: number,
  tx: Tx = db,
): Promise<OpenDelivery> {
  const stored = await getLivery(tx, id, revision);
  const scene = await sceneOf(tx, stored.livery);
  const pin = key ? deliveredBy(stored.livery).find((one) => one.key === key) : stored.livery.pins.spec;
  if (!pin) throw new NotFound(`This livery is not delivered by "${key}".`);
  const spec = await specOf(tx, stored.livery, scene.template, pin);
  const target = await targetOf(tx, config, id, stored.livery, scene.template, spec);
  return { stored, scene, spec, target, plan: planDelivery(stored.livery, scene.template, spec, target) };
}

/** The row of a delivery that begins, with what it continues kept as it is now. @param batch what was asked for in one go */
export async function beginDelivery(
  tx: Tx,
  config: Services['config'],
  id: string,
  { stored, spec, target, plan }: OpenDelivery,
  batch?: string,
): Promise<Delivery> {
  const bases: Record<string, string> = {};
  for (const [name, base] of target.bases) bases[name] = await putBlob(tx, base.bytes);
  return createDelivery(tx, {
    liveryId: id,
    revision: stored.revision,
    specKey: spec.key,
    specVersion: spec.version,
    host: config.hostId,
    game: spec.game,
    folder: plan.folder,
    package: plan.package,
    slot: target.slot,
    bases,
    credits: [...target.credits],
    ...(batch && { batch }),
  });
}

/** What a plan would write, by names alone. */
export const plannedBy = ({ key, gameName }: DeliverySpec, plan: DeliveryPlan): PlanAnswer => ({
  spec: { key, gameName },
  folder: plan.folder,
  package: plan.package,
  files: plan.files.map((file) => ({
    name: file.name,
    what: describe(file),
    leftOut: file.kind === 'sheet' ? file.leftOut : null,
  })),
});

export interface Wish {
  /** Keys of specs; left out: all that it is delivered by. */
  specs?: string[] | undefined;
  /** Left out: the newest step. */
  revision?: number | undefined;
  /** Names of findings that somebody who knows better lets go on. */
  overrule?: string[] | undefined;
}

/** A livery, and how it is to be delivered. */
export interface Ask {
  id: string;
  wish: Wish;
}

/** Puts a livery's deliveries into the queue, all of them or none. @throws InputError when preflight stops one */
export const askDelivery = (services: Asking, id: string, wish: Wish, signal?: AbortSignal): Promise<Delivery[]> =>
  askTogether(services, [{ id, wish }], signal);

type Asking = Pick<Services, 'db' | 'config' | 'threads' | 'queue'>;

/** The same for several liveries in one go. @throws InputError also when two of them would write one file */
export async function askTogether(services: Asking, asks: readonly Ask[], signal?: AbortSignal): Promise<Delivery[]> {
  const { db, config, queue } = services;
  const wanted: { id: string; key: string; wish: Wish }[] = [];
  for (const { id, wish } of asks) {
    const keys = wish.specs ?? deliveredBy((await getLivery(db, id, wish.revision)).livery).map(({ key }) => key);
    wanted.push(...keys.map((key) => ({ id, key, wish })));
  }
  // Which of them is stopped.
  const said = (open: OpenDelivery) =>
    `${asks.length > 1 ? ` of ${nameOf(open)}` : ''}${wanted.length > 1 ? ` to ${open.spec.gameName}` : ''}`;
  // Nothing begins before all of it can.
  const games: string[] = [];
  for (const { id, key, wish } of wanted) games.push(await lookAt(services, id, key, wish, said, signal));
  const batch = randomUUID();
  const made = await aloneFor(db, games, async (tx) => {
    const rows: Delivery[] = [];
    const written = new Map<string, OpenDelivery>();
    for (const { id, key, wish } of wanted) {
      // Numbers may have been taken while preflight ran.
      const open = await openDelivery(services, id, key, wish.revision, tx);
      for (const path of ownPathsOf(open)) {
        const other = written.get(path);
        if (other && other.stored.id !== id)
          throw new InputError(
            `${nameOf(other)} and ${nameOf(open)} would both write ${path}: give each a name, key or number of its own.`,
          );
        written.set(path, open);
      }
      rows.push(await beginDelivery(tx, config, id, open, batch));
    }
    return rows;
  });
  for (const { id: one } of made) await queue.send('deliver', one);
  return made;
}

const nameOf = ({ stored: { livery } }: OpenDelivery): string =>
  fillIn(livery.particulars.name ?? '', livery.particulars) || 'A livery';

/** Files that a delivery writes whole, in its game: what it only continues can be several's. */
const ownPathsOf = ({ plan, spec }: OpenDelivery): string[] =>
  written(plan)
    .filter((file) => !isShared(file))
    .map((file) => [spec.game, ...(plan.package ? [plan.package] : []), plan.folder + file.name].join(': '));

/** Preflight of one delivery. @returns its game @throws InputError when it stops it */
async function lookAt(
  services: Asking,
  id: string,
  key: string,
  { revision, overrule }: Wish,
  said: (open: OpenDelivery) => string,
  signal?: AbortSignal,
): Promise<string> {
  const { db, config, threads } = services;
  const open = await openDelivery(services, id, key, revision);
  const { scene, spec, target, plan } = open;
  const ready = await withFields(db, threads, scene, signal);
  const { findings } = await threads.run('check', { scene: ready, spec, target, overrule }, signal);
  const stop = findings.find((finding) => finding.level === 'stop');
  if (stop) throw new InputError(`Preflight stops this delivery${said(open)}: ${stop.title}.`);
  await checkWritable(config.data, spec.game, pathsOf(plan));
  return spec.game;
}
