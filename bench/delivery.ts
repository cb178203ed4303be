/** Delivery of the Turnstone (hull 2048, deck 1024, fan 512; BC7, full mips) through the server, everything encoded anew each time. */
import { startServer, until } from '../packages/server/src/testing/server.ts';
import { spread } from './median.ts';

interface Delivered {
  id: string;
  state: string;
  seconds: number;
}

const server = await startServer({ demo: true });
const cards = await server.get<{ id: string; name: string; revision: number }[]>('/liveries');
const { id } = cards.find((card) => card.name.includes('Turnstone 7'))!;
const seconds: number[] = [];
for (let k = 0; k < 4; k++) {
  const { body } = await server.post<Delivered>(`/liveries/${id}/deliveries`);
  const done = await until(
    () => server.get<Delivered>(`/deliveries/${body.id}`),
    (d) => d.state === 'done',
  );
  if (k > 0) seconds.push(done.seconds);
  // Every layer that wears it changes: nothing can be taken from the delivery before.
  const colour = `#a${k}e8d4`;
  await server.post(`/liveries/${id}/entries`, {
    base: k,
    entries: [
      {
        id: crypto.randomUUID(),
        person: 'bench',
        edit: { do: 'set-colour', colour: 'tern-tide-colour-1', set: { hex: colour } },
        undoes: null,
        redoes: null,
        label: 'colour',
      },
    ],
  });
}
console.log(
  `delivery of the Turnstone, warm threads: median ${spread(seconds).median.toFixed(1)} s of ${seconds.map((s) => s.toFixed(1)).join(', ')}`,
);
const { body } = await server.post<Delivered>(
  `/deliveries/${(await server.get<Delivered[]>(`/liveries/${id}/deliveries`))[0].id}/repeat`,
);
console.log(
  `repeated from what was kept: ${(
    await until(
      () => server.get<Delivered>(`/deliveries/${body.id}`),
      (d) => d.state === 'done',
    )
  ).seconds.toFixed(1)} s`,
);
await server.stop();
