import { createHash } from 'node:crypto';
import os from 'node:os';
import path from 'node:path';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import { makeFiles, zipOf } from '@wet-lacquer/node/makeFiles.ts';
import { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { readJson, writeWhole } from '../files.ts';
import { liveryRevision, openLivery, specFor, targetIn, type OpenScene } from '../livery.ts';
import { readSpec } from '@wet-lacquer/core/livery/spec.ts';
import { allOf, UsageError, wholeOf, type Verb } from '../verb.ts';

const WATCH_MS = 500;

/** lacquer deliver tern-tide.livery --out game/ --zip tern-tide.zip */
export const deliver: Verb = {
  name: 'deliver',
  usage: 'LIVERY [--spec SPEC] --out DIR [--zip FILE] [--overrule NAME]... [--as PAIRS] [--threads N] [--watch]',
  what: "the game's files, in the game's own tree below DIR; with --watch again after each saved change",
  args: 1,
  options: {
    spec: { type: 'string' },
    out: { type: 'string' },
    zip: { type: 'string' },
    threads: { type: 'string' },
    watch: { type: 'boolean' },
    overrule: { type: 'string', multiple: true },
    as: { type: 'string' },
  },
  async run([name], values) {
    const { out, zip, spec: asked } = values as { out?: string; zip?: string; spec?: string };
    if (typeof out !== 'string') throw new UsageError('--out DIR says where the files go.');
    const pool = new Pool(wholeOf(values, 'threads', 1, 256) ?? os.availableParallelism());
    // Watching, only what changed is encoded again.
    const made: Made = new Map();
    const wanted = { asked, overrule: allOf(values, 'overrule'), as: typeof values.as === 'string' ? values.as : null };
    const once = async () => deliverTo(pool, await pool.withFields(await openLivery(name)), wanted, out, zip, made);
    try {
      if (values.watch) return await watch(name, once);
      return await once();
    } finally {
      await pool.close();
    }
  },
};

/** Bytes of files by their signature. */
type Made = Map<string, Uint8Array>;

async function deliverTo(
  pool: Pool,
  scene: OpenScene,
  { asked, overrule, as }: { asked: string | undefined; overrule: string[]; as: string | null },
  out: string,
  zip: string | undefined,
  made: Made,
) {
  const own = await specFor(scene, asked);
  const spec = as === null ? own : readSpec({ ...own, pairs: await pairsIn(as) }, as);
  const target = await targetIn(scene, spec, out);
  const { findings } = await pool.run('check', { scene, spec, target, overrule });
  const stop = findings.find((finding) => finding.level === 'stop');
  const way = stop?.overrule ? ` To deliver all the same: --overrule "${stop.overrule}"` : '';
  if (stop) throw new InputError(`Preflight stops this delivery: ${stop.title}. ${stop.detail}${way}`);
  const plan = planDelivery(scene.livery, scene.template, spec, target);
  const known = async (signature: string) => made.get(signature) ?? null;
  const kept = async (hash: string) => scene.files.get(hash) ?? missing(hash);
  const files = await makeFiles(pool, scene, spec, plan, target, async () => {}, undefined, known, kept);
  made.clear();
  for (const { signature, content } of files) made.set(signature, content);
  if (plan.package) await writeWhole(path.join(out, plan.package), await zipOf(pool, plan.folder, files));
  else for (const file of files) await writeWhole(path.join(out, plan.folder, file.name), file.content);
  if (typeof zip === 'string') await writeWhole(zip, await zipOf(pool, plan.folder, files));
  const list = files.map((file) => ({
    name: file.name,
    what: file.what,
    bytes: file.content.length,
    sha256: createHash('sha256').update(file.content).digest('hex'),
  }));
  return {
    json: { folder: plan.folder, package: plan.package, number: target.slot, files: list },
    text: [
      path.join(out, plan.package ?? plan.folder),
      ...list.map((f) => `  ${f.name}  ${f.what}, ${f.bytes} bytes`),
    ].join('\n'),
  };
}

/** Pairs of names, as `[{ "file": "a.dds", "as": "b.dds" }]` or `{ "a.dds": "b.dds" }`. */
async function pairsIn(file: string): Promise<unknown> {
  const value = await readJson(file);
  if (Array.isArray(value) || typeof value !== 'object' || value === null) return value;
  return Object.entries(value).map(([from, to]: [string, unknown]) => ({ file: from, as: to }));
}

function missing(hash: string): never {
  throw new InputError(`A file of the original is not in this bundle (${hash.slice(0, 12)}).`);
}

/** Delivers whenever the livery was saved, until it is interrupted. What stops one delivery is said, and the next change tried. */
async function watch(name: string, once: () => Promise<{ json: unknown; text: string }>) {
  let ended = false;
  const end = () => {
    ended = true;
  };
  process.once('SIGINT', end);
  process.once('SIGTERM', end);
  let seen: string | null = null;
  let times = 0;
  while (!ended) {
    const now = await liveryRevision(name);
    if (now !== seen) {
      seen = now;
      try {
        process.stderr.write(`${(await once()).text}\n`);
        times++;
      } catch (error) {
        if (!(error instanceof InputError)) throw error;
        process.stderr.write(`${error.message}\n`);
      }
    }
    await new Promise((resolve) => setTimeout(resolve, WATCH_MS));
  }
  process.off('SIGINT', end);
  process.off('SIGTERM', end);
  return { json: { deliveries: times }, text: `Delivered ${times} times.` };
}
