import { check as checkScene } from '@wet-lacquer/server/threads/tasks.ts';
import { openLivery, specFor } from '../livery.ts';
import type { Verb } from '../verb.ts';

/** lacquer check tern-tide.livery */
export const check: Verb = {
  name: 'check',
  usage: 'LIVERY [--spec SPEC]',
  what: 'preflight; exit code 1 when something stops the delivery. LIVERY is a bundle file or an id',
  args: 1,
  options: { spec: { type: 'string' } },
  async run([name], values) {
    const scene = await openLivery(name);
    const result = await checkScene({ scene, spec: specFor(scene, values.spec as string | undefined) });
    const stops = result.findings.filter((finding) => finding.level === 'stop').length;
    const lines = result.findings.map((f) => `${f.level === 'stop' ? 'stop  ' : 'advice'}  ${f.title}. ${f.detail}`);
    const end = `${result.checks} checks: ${stops} stop the delivery, ${result.findings.length - stops} are advice`;
    return { json: result, text: [...lines, end].join('\n'), code: stops > 0 ? 1 : 0 };
  },
};
