/** Fields of models: worked out once, for everybody who asks meanwhile, and kept. */
import type { FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { withFields as filledIn, type Scene } from '@wet-lacquer/node/threads/scene.ts';
import type { Db } from '../store/db.ts';
import { keepField, keptFields, subjectOf } from '../store/fields.ts';
import { sceneOf } from './scene.ts';

interface Baking {
  name: FieldKey;
  /** Share of the corners. */
  done: number;
  values: Promise<Uint8Array>;
  /** How many wait for it; the last one to leave ends it. */
  waiting: number;
  stop: AbortController;
}

const under = new Map<string, Baking>();
const keyOf = (template: Template, name: FieldKey) => `${subjectOf(template)} ${name}`;

/** What is being worked out of a template's model, and how far that is. */
export const bakingOf = (template: Template): { name: FieldKey; done: number }[] =>
  [...under].flatMap(([key, { name, done }]) => (key.startsWith(subjectOf(template)) ? [{ name, done }] : []));

function begin(db: Db, threads: Pool, template: Template, name: FieldKey): Baking {
  const stop = new AbortController();
  const key = keyOf(template, name);
  const baking: Baking = {
    name,
    done: 0,
    waiting: 0,
    stop,
    values: threads
      .field(template, name, (done) => (baking.done = done), stop.signal)
      .then(async (values) => {
        await keepField(db, template, name, values);
        return values;
      }),
  };
  under.set(key, baking);
  const over = () => {
    if (under.get(key) === baking) under.delete(key);
  };
  baking.values.then(over, over);
  return baking;
}

/** A field of a template's model as 32-bit numbers. Nobody has to wait for it who leaves: with the last one it ends. */
export async function fieldOf(
  db: Db,
  threads: Pool,
  template: Template,
  name: FieldKey,
  leaves?: AbortSignal,
): Promise<Uint8Array> {
  const kept = (await keptFields(db, template, [name])).get(name);
  if (kept) return kept;
  leaves?.throwIfAborted();
  const key = keyOf(template, name);
  const baking = under.get(key) ?? begin(db, threads, template, name);
  baking.waiting++;
  const leave = () => {
    if (--baking.waiting > 0) return;
    under.delete(key);
    baking.stop.abort();
  };
  leaves?.addEventListener('abort', leave, { once: true });
  try {
    return await baking.values;
  } finally {
    leaves?.removeEventListener('abort', leave);
  }
}

/** A scene with all that is worked out of its model. */
export const withFields = <S extends Scene>(db: Db, threads: Pool, scene: S, leaves?: AbortSignal): Promise<S> =>
  filledIn(scene, (name) => fieldOf(db, threads, scene.template, name, leaves));

/** A livery with all that threads draw it from. */
export const readyScene = async (db: Db, threads: Pool, livery: Livery, leaves?: AbortSignal): Promise<Scene> =>
  withFields(db, threads, await sceneOf(db, livery), leaves);
