/** Notes on a livery: said, answered, ticked off, told to whoever listens; what cannot be said, and whose they are. */
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { LiveryCard } from '@wet-lacquer/sync/answers.ts';
import type { Notes } from '@wet-lacquer/sync/people.ts';
import { Client, peopleOf } from '../testing/client.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

const NOBODY = '00000000-0000-4000-8000-000000000000';

describe('alone on one machine', () => {
  let server: TestServer;
  let client: Client;
  let [id, other, sheet] = ['', '', ''];
  beforeAll(async () => {
    server = await startServer({ demo: true });
    client = new Client(server);
    const cards = await server.get<LiveryCard[]>('/liveries');
    [id, other] = cards.map((card) => card.id);
    sheet = cards[0].sheets[0].key;
  });
  afterAll(() => server.stop());

  const place = (x = 10, y = 20) => ({ sheet, x, y, point: null });
  const say = async (text: string, at: object = place(), person = 'ann') =>
    client.ask<{ id: string; error?: string }>('POST', `/liveries/${id}/notes`, { person, text, place: at });
  const all = async (of = id) => (await client.ask<Notes>('GET', `/liveries/${of}/notes`)).body.notes;

  test('said, answered by another, ticked off, opened again, deleted', async () => {
    const point = [1.25, -0.5, 2] as const;
    const { status, body } = await say('  Two lines\nof it  ', { ...place(3.5, 7.25), point });
    expect(status).toBe(201);
    const at = `/liveries/${id}/notes/${body.id}`;
    expect((await client.ask('POST', `${at}/answers`, { person: 'bo', text: 'Seen' })).status).toBe(201);
    expect((await client.ask('POST', at, { person: 'bo', done: true })).status).toBe(204);
    // Ticked off twice, it is whoever did it first.
    await client.ask('POST', at, { person: 'cy', done: true });
    const [one] = await all();
    expect(one).toMatchObject({
      ...{ number: 1, person: 'ann', text: 'Two lines\nof it', place: { ...place(3.5, 7.25), point } },
      answers: [{ person: 'bo', text: 'Seen' }],
      done: { person: 'bo' },
    });
    await client.ask('POST', at, { person: 'ann', done: false });
    expect((await all())[0].done).toBeNull();
    expect((await client.ask('DELETE', at)).status).toBe(204);
    expect(await all()).toEqual([]);
    for (const [method, where, what] of [
      ['POST', `${at}/answers`, { text: 'late' }],
      ['POST', at, { done: true }],
      ['DELETE', at, undefined],
    ] as const)
      expect([where, (await client.ask(method, where, what)).status]).toEqual([where, 404]);
  });

  test('what cannot be said is refused in a sentence, and leaves nothing', async () => {
    const long = 'ä'.repeat(2000);
    expect((await say(long)).status).toBe(201);
    for (const [text, at] of [
      ['', place()],
      [' \n ', place()],
      [`${long}.`, place()],
      ['\u{d800}', place()],
      ['off the sheet', place(-1)],
      ['nowhere', place(Number.NaN)],
      ['too far', place(1e9)],
      ['no such sheet', { ...place(), sheet: 'nothing' }],
      ['no sheet', { x: 1, y: 1, point: null }],
      ['half a place', { ...place(), point: [1, 2] }],
      ['beyond', { ...place(), point: [1, 2, 1e300] }],
      ['more than a place', { ...place(), colour: 'red' }],
    ] as const) {
      const { status, body } = await say(text, at);
      expect([text, status, typeof body.error]).toEqual([text, 400, 'string']);
    }
    expect((await client.ask('POST', `/liveries/${NOBODY}/notes`, { text: 'a', place: place() })).status).toBe(404);
    expect((await client.ask('GET', `/liveries/${NOBODY}/notes`)).status).toBe(404);
    const notes = await all();
    expect(notes.map(({ text }) => text)).toEqual([long]);
    // Of another livery it is not there.
    for (const [method, what] of [
      ['POST', { done: true }],
      ['DELETE', undefined],
    ] as const)
      expect((await client.ask(method, `/liveries/${other}/notes/${notes[0].id}`, what)).status).toBe(404);
    expect(await all()).toHaveLength(1);
    await client.ask('DELETE', `/liveries/${id}/notes/${notes[0].id}`);
  });

  test('many at once have a number each; there are no more than 500, and 100 answers', async () => {
    const answers = await Promise.all(Array.from({ length: 30 }, (_, i) => say(`At once ${i}`)));
    expect(answers.every(({ status }) => status === 201)).toBe(true);
    expect((await all()).map(({ number }) => number)).toEqual(Array.from({ length: 30 }, (_, i) => i + 1));
    for (let k = 30; k < 500; k += 47)
      await Promise.all(Array.from({ length: Math.min(47, 500 - k) }, (_, i) => say(`More ${k + i}`)));
    expect(await say('one too many')).toMatchObject({
      status: 400,
      body: { error: expect.stringMatching(/500 notes/) },
    });
    const [first] = await all();
    const answer = () => client.ask('POST', `/liveries/${id}/notes/${first.id}/answers`, { text: 'so' });
    for (let k = 0; k < 100; k += 20) await Promise.all(Array.from({ length: 20 }, answer));
    expect((await answer()).status).toBe(400);
    expect((await all())[0].answers).toHaveLength(100);
  });

  test('it is no step: the livery stays at its revision, and goes without its notes', async () => {
    const { body } = await client.ask<{ revision: number }>('GET', `/liveries/${other}`);
    await client.ask('POST', `/liveries/${other}/notes`, {
      text: 'here',
      place: { ...place(), sheet: (await server.get<LiveryCard[]>('/liveries'))[1].sheets[0].key },
    });
    expect((await client.ask<{ revision: number }>('GET', `/liveries/${other}`)).body.revision).toBe(body.revision);
    expect(await all(other)).toHaveLength(1);
    await client.ask('DELETE', `/liveries/${other}`);
    await client.ask('DELETE', `/liveries/${other}?now=yes`);
    expect((await client.ask('GET', `/liveries/${other}/notes`)).status).toBe(404);
  });
});

describe('with people', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startServer({ signIn: true, demo: true });
  });
  afterAll(() => server.stop());

  test('whoever may copy a livery says something of it as themselves; only the writer and the owner delete it', async () => {
    const { keeper, ann, bo } = await peopleOf(server, 'ann', 'bo');
    const [card] = (await keeper.ask<LiveryCard[]>('GET', '/liveries')).body;
    const share = (name: string, role: string) => keeper.ask('POST', `/shares/livery/${card.id}`, { name, role });
    await share('ann', 'copy');
    await share('bo', 'look');
    const at = `/liveries/${card.id}/notes`;
    const place = { sheet: card.sheets[0].key, x: 1, y: 1, point: null };
    const heard: string[] = [];
    const news = await ann.fetch(`/liveries/${card.id}/news`);
    const lookers = await bo.fetch(`/liveries/${card.id}/news`);
    const quiet: string[] = [];
    const listen = async (response: Response, into: string[]) => {
      for await (const part of response.body!.pipeThrough(new TextDecoderStream())) into.push(part);
    };
    void listen(news, heard).catch(() => {});
    void listen(lookers, quiet).catch(() => {});
    expect((await bo.ask('POST', at, { text: 'I only look', place })).status).toBe(403);
    expect((await bo.ask('GET', at)).status).toBe(403);
    // Nobody writes in another's name.
    expect((await ann.ask('POST', at, { person: bo.id, text: 'as Bo', place })).status).toBe(403);
    const { id } = (await ann.ask<{ id: string }>('POST', at, { person: ann.id, text: 'Mine', place })).body;
    await until(
      () => Promise.resolve(heard.join('')),
      (text) => text.includes('event: notes'),
    );
    expect(quiet.join('')).not.toContain('event: notes');
    const { body } = await keeper.ask<Notes>('GET', at);
    expect([body.notes[0].person, body.people[ann.id]]).toEqual([ann.id, 'ann']);
    const theirs = (await keeper.ask<{ id: string }>('POST', at, { text: 'The keeper’s', place })).body.id;
    expect((await ann.ask('DELETE', `${at}/${theirs}`)).status).toBe(400);
    // Whose livery it is may delete what others wrote.
    expect((await keeper.ask('DELETE', `${at}/${id}`)).status).toBe(204);
    expect((await keeper.ask<Notes>('GET', at)).body.notes.map((one) => one.id)).toEqual([theirs]);
  });
});
