/** How much a store grows with a thousand steps and with a hundred deliveries. */
import pg from 'pg';
import { begun, type Open } from '../siege/painters.ts';
import { startServer, until } from '../packages/server/src/testing/server.ts';
import { calibration } from './calibration.ts';

const server = await startServer({ demo: true });
const client = new pg.Client({ connectionString: server.databaseUrl });
await client.connect();
const size = async () =>
  Number((await client.query<{ n: string }>('select pg_database_size(current_database()) as n')).rows[0].n);
const blobs = async () =>
  Number((await client.query<{ n: string }>('select coalesce(sum(bytes), 0) as n from blob')).rows[0].n);
const mib = (bytes: number) => `${(bytes / 2 ** 20).toFixed(1)} MiB`;

console.log(`calibrating loop ${calibration().toFixed(0)} ms`);
const lampkin = (await server.get<{ hash: string; key: string }[]>('/templates')).find(({ key }) => key === 'lampkin')!;
const { id, layer } = await begun(server.url, lampkin.hash, 'Growth');
let { revision } = await server.get<Open>(`/liveries/${id}`);
const step = async (value: number) => {
  const edit = { do: 'set-layer', layer, set: { opacity: value % 101 } };
  const entry = { id: crypto.randomUUID(), person: 'p', edit, undoes: null, redoes: null, label: 'Opacity' };
  const { body } = await server.post<{ revision: number }>(`/liveries/${id}/entries`, {
    base: revision,
    entries: [entry],
  });
  ({ revision } = body);
};
const before = await size();
for (let k = 0; k < 1000; k++) await step(k);
console.log(`1,000 steps: ${mib((await size()) - before)}`);

const held = [await size(), await blobs()];
for (let k = 0; k < 100; k++) {
  await step(k);
  const { body } = await server.post<{ id: string }>(`/liveries/${id}/deliveries`);
  await until(
    () => server.get<{ state: string }>(`/deliveries/${body.id}`),
    ({ state }) => state === 'done',
  );
}
console.log(
  `100 deliveries of the Lampkin, each with another colour: ${mib((await size()) - held[0])}, ${mib((await blobs()) - held[1])} of them files`,
);
await client.end();
await server.stop();
