/** The demo world in its games: published from what is kept, equal to what the engine makes now, and loaded by the games' own readers. */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { expect, test } from 'vitest';
import { BAY_GAMES } from '@wet-lacquer/core/games/index.ts';
import { DEMO_LIVERIES, demoBytes } from '@wet-lacquer/core/testing/scenes.ts';
import { gameFolder, readGameFolder } from '@wet-lacquer/node/gameFolder.ts';
import type { DeliveryCard, GameShown, LiveryCard } from '@wet-lacquer/sync/answers.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

const ended = ({ state }: DeliveryCard) => ['done', 'failed', 'cancelled'].includes(state);
const keyOf = async (server: TestServer, { id }: LiveryCard) =>
  (await server.get<{ livery: { particulars: { key: string } } }>(`/liveries/${id}`)).livery.particulars.key;

interface Kept {
  slot: number | null;
  files: { name: string; blob: string; signature: string }[];
}
const keptOf = (key: string) =>
  JSON.parse(strFromU8(unzipSync(demoBytes(`${key}.delivered.zip`))['delivery.json'])) as Kept;

test('every livery is in its game a moment after the start, and every game shows what it loaded', async () => {
  const server = await startServer({ demo: 'delivered' });
  const all = await until(
    () => server.get<LiveryCard[]>('/liveries'),
    (cards) => cards.every(({ lastDelivery }) => lastDelivery !== null),
    200_000,
  );
  expect(all).toHaveLength(DEMO_LIVERIES.length);
  for (const card of all) {
    const [delivery] = await server.get<DeliveryCard[]>(`/liveries/${card.id}/deliveries`);
    const key = await keyOf(server, card);
    expect([key, delivery.state, delivery.seconds]).toEqual([key, 'done', 0]);
    // Nothing has changed since: what was kept was made of this very livery.
    expect(card.sheets.filter(({ state }) => state === 'work')).toEqual([]);
  }
  for (const game of BAY_GAMES) {
    const folder = await readGameFolder(gameFolder(server.data, game.key));
    const { keys } = game.list(folder);
    const report = game.load(folder, keys.at(-1)!);
    expect([game.key, report.sheets.filter(({ status }) => status === 'refused' || status === 'missing')]).toEqual([
      game.key,
      [],
    ]);
    expect(report.sheets.some(({ status }) => status === 'shown')).toBe(true);
    const shown = await server.get<GameShown>(`/bay/${game.key}/shown`);
    expect(shown.livery).toBe(keys.at(-1));
    const picture = await fetch(`${server.url}/api/bay/${game.key}/picture`);
    expect(picture.headers.get('content-type')).toBe('image/png');
    // As the game ships it, it looks different.
    const own = await fetch(`${server.url}/api/bay/${game.key}/picture?own=yes`);
    expect(Buffer.from(await own.arrayBuffer()).equals(Buffer.from(await picture.arrayBuffer()))).toBe(false);
  }
  await server.stop();
});

test('what is kept is what the engine makes now, to the bit', async () => {
  const server = await startServer({ demo: true });
  for (const card of await server.get<LiveryCard[]>('/liveries')) {
    const key = await keyOf(server, card);
    if (!['ember', 'ebbline-sail', 'post-harbour', 'rescue-warden'].includes(key)) continue;
    const { body } = await server.post<DeliveryCard>(`/liveries/${card.id}/deliveries`);
    const done = await until(() => server.get<DeliveryCard>(`/deliveries/${body.id}`), ended);
    const names = ({ files }: Pick<Kept, 'files'>) => files.map(({ name, blob, signature }) => [name, blob, signature]);
    expect(names(done)).toEqual(names(keptOf(key)));
  }
  await server.stop();
});

/** Within the last block of the largest level of the shared sails, which no livery of the demo world reaches. */
const LAST_BLOCK = 128 + 1024 * 512 - 4;

test('a game whose folder is another already gets its livery as any other delivery: the next number that is free', async () => {
  const server = await startServer({ demo: true });
  const folder = gameFolder(server.data, 'harbour-watch');
  const slot = keptOf('rescue-launch').slot!;
  const taken = path.join(folder, `liveries/launch-${slot}`);
  mkdirSync(taken, { recursive: true });
  writeFileSync(path.join(taken, `launch-${slot}_bow.dds`), 'somebody was here');
  // A file that its livery continues is no longer as it came: its share is made for it as it is.
  const shared = path.join(gameFolder(server.data, 'tollbarge'), 'barges/sails.dds');
  const other = readFileSync(shared);
  other[LAST_BLOCK] ^= 0x55;
  writeFileSync(shared, other);
  await server.kill();
  // Anew, with that folder and an empty database.
  const again = await startServer({ demo: 'delivered', data: server.data });
  const named = (cards: LiveryCard[], begins: string) => cards.find(({ name }) => name.startsWith(begins));
  // The two whose place is not as it was; all others are put from what is kept.
  const cards = await until(
    () => again.get<LiveryCard[]>('/liveries'),
    (all) => ['Dunlin', 'Ebbline barge'].every((begins) => named(all, begins)?.lastDelivery),
    400_000,
  );
  const launch = named(cards, 'Dunlin')!;
  const [delivery] = await again.get<DeliveryCard[]>(`/liveries/${launch.id}/deliveries`);
  expect([delivery.state, delivery.slot]).toEqual(['done', slot + 1]);
  const sail = named(cards, 'Ebbline barge')!;
  const [made] = await again.get<DeliveryCard[]>(`/liveries/${sail.id}/deliveries`);
  const now = readFileSync(shared);
  expect([made.state, now[LAST_BLOCK]]).toEqual(['done', other[LAST_BLOCK]]);
  const wasSail = keptOf('ebbline-sail').files[0].blob;
  expect(made.files[0].blob).not.toBe(wasSail);
  expect(now.length).toBe(other.length);
  await again.stop();
}, 600_000);
