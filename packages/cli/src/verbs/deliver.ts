import { createHash } from 'node:crypto';
import os from 'node:os';
import path from 'node:path';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import { describe, encodePlanned, zipOf } from '@wet-lacquer/server/jobs/encode.ts';
import { Pool } from '@wet-lacquer/server/threads/pool.ts';
import { writeWhole } from '../files.ts';
import { openLivery, specFor } from '../livery.ts';
import { UsageError, wholeOf, type Verb } from '../verb.ts';

/** lacquer deliver tern-tide.livery --out game/ --zip tern-tide.zip */
export const deliver: Verb = {
  name: 'deliver',
  usage: 'LIVERY [--spec SPEC] --out DIR [--zip FILE] [--threads N]',
  what: "the game's files, in the game's own tree below DIR",
  args: 1,
  options: { spec: { type: 'string' }, out: { type: 'string' }, zip: { type: 'string' }, threads: { type: 'string' } },
  async run([name], values) {
    if (typeof values.out !== 'string') throw new UsageError('--out DIR says where the files go.');
    const scene = await openLivery(name);
    const spec = specFor(scene, values.spec as string | undefined);
    const pool = new Pool(wholeOf(values, 'threads', 1, 256) ?? os.availableParallelism());
    try {
      const { findings } = await pool.run('check', { scene, spec });
      const stop = findings.find((finding) => finding.level === 'stop');
      if (stop) throw new InputError(`Preflight stops this delivery: ${stop.title}. ${stop.detail}`);
      const plan = planDelivery(scene.livery, scene.template, spec);
      const files: { name: string; what: string; content: Uint8Array }[] = [];
      for (const file of plan.files) {
        if (file.kind === 'sidecar')
          files.push({ name: file.name, what: 'sidecar', content: new TextEncoder().encode(file.text) });
        else if (!file.leftOut)
          files.push({
            name: file.name,
            what: describe(file),
            content: await encodePlanned(pool, scene, spec, file, async () => {}),
          });
      }
      for (const file of files) await writeWhole(path.join(values.out, plan.folder, file.name), file.content);
      if (typeof values.zip === 'string') await writeWhole(values.zip, zipOf(plan.folder, files));
      const list = files.map((file) => ({
        name: file.name,
        what: file.what,
        bytes: file.content.length,
        sha256: createHash('sha256').update(file.content).digest('hex'),
      }));
      return {
        json: { folder: plan.folder, files: list },
        text: [path.join(values.out, plan.folder), ...list.map((f) => `  ${f.name}  ${f.what}, ${f.bytes} bytes`)].join(
          '\n',
        ),
      };
    } finally {
      await pool.close();
    }
  },
};
