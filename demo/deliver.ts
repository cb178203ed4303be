/** Delivers the demo world's liveries by the server itself and keeps what came out in demo/out/: `npm run demo`, after make.ts. */
import { rmSync, writeFileSync } from 'node:fs';
import { strToU8, zipSync } from 'fflate';
import { ZIP_TIME } from '../packages/core/src/files/archive.ts';
import { startServer, until } from '../packages/server/src/testing/server.ts';
import type { DeliveryCard, LiveryCard } from '../packages/sync/src/answers.ts';

const out = new URL('out/', import.meta.url);
const server = await startServer({ demo: true });
for (const { id, name } of await server.get<LiveryCard[]>('/liveries')) {
  const { livery } = await server.get<{ livery: { particulars: { key: string } } }>(`/liveries/${id}`);
  const { body } = await server.post<DeliveryCard>(`/liveries/${id}/deliveries`);
  const done = await until(
    () => server.get<DeliveryCard & { zip: string | null }>(`/deliveries/${body.id}`),
    ({ state }) => ['done', 'failed', 'cancelled'].includes(state),
  );
  if (done.state !== 'done') throw new Error(`${name}: ${done.error ?? done.state}`);
  const { specKey: spec, folder, slot, zip, files } = done;
  const blobs: Record<string, Uint8Array> = {};
  for (const hash of new Set([...files.map((file) => file.blob), ...(zip ? [zip] : [])])) {
    const response = await fetch(`${server.url}/api/blobs/${hash}`);
    blobs[`blobs/${hash}`] = new Uint8Array(await response.arrayBuffer());
  }
  const about = strToU8(`${JSON.stringify({ spec, folder, slot, zip, files }, null, 1)}\n`);
  const file = new URL(`${livery.particulars.key}.delivered.zip`, out);
  rmSync(file, { force: true });
  writeFileSync(file, zipSync({ 'delivery.json': about, ...blobs }, { level: 9, mtime: ZIP_TIME }));
  console.log(`${name}: ${files.length} files`);
}
await server.stop();
