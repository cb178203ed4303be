/** Fifty painters on one livery, and fifty on fifty: how long a step takes until it is acknowledged, and whether each is in the log once. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { randomFrom } from '@wet-lacquer/core/testing/images.ts';
import { startServer } from '../packages/server/src/testing/server.ts';
// The start scripts are plain JavaScript: they run before anything is installed.
import { startPostgres } from '../scripts/postgres.mjs';
import { calibration } from '../bench/calibration.ts';
import { begun, logOf, paint, percentile } from './painters.ts';

const PAINTERS = 50;

/** @param seconds of painting; each painter makes a step every one to three seconds */
export async function crowd(seconds: number): Promise<boolean> {
  // A cluster of its own: others' databases are no part of what is measured.
  const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-crowd-'));
  const postgres = await startPostgres(path.join(folder, 'pg'));
  const server = await startServer({ databaseUrl: await postgres.database('crowd'), demo: true });
  let fine = true;
  try {
    const [{ hash }] = await server.get<{ hash: string }[]>('/templates');
    for (const [what, many] of [
      ['fifty on one', 1],
      ['fifty on fifty', PAINTERS],
    ] as const) {
      const liveries = await Promise.all(Array.from({ length: many }, (_, i) => begun(server.url, hash, `Crowd ${i}`)));
      const loop = calibration();
      const end = Date.now() + seconds * 1000;
      const painters = Array.from({ length: PAINTERS }, (_, i) => {
        const { id, layer } = liveries[i % many];
        const going = () => Date.now() < end;
        return paint({
          url: () => server.url,
          livery: id,
          layer,
          random: randomFrom(i + 1),
          pause: [1000, 3000],
          going,
        });
      });
      const kept = await Promise.all(painters);
      const took = kept.flatMap((one) => one.took);
      const acknowledged = kept.flatMap((one) => one.acknowledged);
      const logs = (await Promise.all(liveries.map(({ id }) => logOf(server.url, id)))).flat();
      const times = new Map<string, number>();
      for (const { id } of logs) times.set(id, (times.get(id) ?? 0) + 1);
      const missing = acknowledged.filter((id) => times.get(id) !== 1).length;
      const sum = (key: 'refused' | 'lost') => kept.reduce((n, one) => n + one[key], 0);
      const [p50, p95, p99] = [0.5, 0.95, 0.99].map((share) => percentile(took, share).toFixed(0));
      console.log(
        `${what}: ${acknowledged.length} steps in ${seconds} s, acknowledged after ${p50} ms (median), ${p95} ms (95th), ${p99} ms (99th); ` +
          `${sum('refused')} refused, ${sum('lost')} without an answer, ${missing} missing or twice; calibrating loop ${loop.toFixed(0)} ms`,
      );
      fine &&= missing === 0 && sum('refused') === 0;
    }
  } finally {
    await server.stop();
    await postgres.stop();
    rmSync(folder, { recursive: true, force: true });
  }
  return fine;
}
