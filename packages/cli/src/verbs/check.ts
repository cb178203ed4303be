import { check as checkScene } from '@wet-lacquer/node/threads/tasks.ts';
import { NO_TARGET } from '@wet-lacquer/core/delivery/target.ts';
import { keptIn, openLivery, specFor, targetIn } from '../livery.ts';
import type { Verb } from '../verb.ts';

/** lacquer check tern-tide.livery */
export const check: Verb = {
  name: 'check',
  usage: 'LIVERY [--spec SPEC] [--out DIR]',
  what: 'preflight; exit code 1 when something stops the delivery. LIVERY is a bundle file or an id. DIR is the game’s folder',
  args: 1,
  options: { spec: { type: 'string' }, out: { type: 'string' } },
  async run([name], values) {
    const scene = await openLivery(name);
    const spec = await specFor(scene, values.spec as string | undefined);
    const folder = values.out as string | undefined;
    const target = folder
      ? await targetIn(scene, spec, folder)
      : { ...NO_TARGET, slot: spec.slot?.from ?? null, kept: await keptIn(scene, spec) };
    const result = await checkScene({ scene, spec, target });
    const stops = result.findings.filter((finding) => finding.level === 'stop').length;
    const lines = result.findings.map((f) => `${f.level === 'stop' ? 'stop  ' : 'advice'}  ${f.title}. ${f.detail}`);
    const end = `${result.checks} checks: ${stops} stop the delivery, ${result.findings.length - stops} are advice`;
    return { json: result, text: [...lines, end].join('\n'), code: stops > 0 ? 1 : 0 };
  },
};
