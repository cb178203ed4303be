/** Liveries that go onto another model, through the real server: found, taken over, cancelled, refused; and nothing is left of what was not made. */
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { writeTemplatePackage } from '@wet-lacquer/core/files/templatePackage.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { compareImages } from '@wet-lacquer/core/texture/compare.ts';
import { repacked } from '@wet-lacquer/core/testing/sisters.ts';
import { readWithPillow } from '@wet-lacquer/core/testing/independent.ts';
import type { FitAnswer, TransferNews } from '@wet-lacquer/sync/answers.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

let server: TestServer;
let livery: { id: string; template: string };
let template: Template;
let sister: string;

/** Brings in a template as a package. @returns its hash */
async function bring(of: Template): Promise<string> {
  const pack = await writeTemplatePackage(of, new Map(), () => Promise.resolve(new Uint8Array()));
  const headers = { 'Content-Type': 'application/octet-stream' };
  const answer = await fetch(`${server.url}/api/templates/packages`, {
    method: 'POST',
    headers,
    body: pack as BodyInit,
  });
  return ((await answer.json()) as { hash: string }).hash;
}

beforeAll(async () => {
  server = await startServer({ demo: true });
  const all = await server.get<{ id: string; template: string }[]>('/liveries');
  const { id } = all.find(({ template }) => template === 'Lampkin')!;
  const open = await server.get<{ livery: Livery }>(`/liveries/${id}`);
  livery = { id, template: open.livery.pins.template };
  template = await server.get<Template>(`/templates/${livery.template}`);
  sister = await bring(repacked(template, 256, 1));
});
afterAll(() => server.stop());

const fitOf = async (from: string, to: string, more: object = {}) =>
  server.post<FitAnswer & { error?: string }>('/transfers/fit', { from, to, ...more });

/** All that is told of one way over. */
async function transfer(
  body: object,
  signal?: AbortSignal,
): Promise<{ status: number; news: TransferNews[]; error?: string }> {
  const answer = await fetch(`${server.url}/api/transfers`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
    signal,
  });
  const text = await answer.text();
  if (answer.status !== 200)
    return { status: answer.status, news: [], error: (JSON.parse(text) as { error: string }).error };
  const lines = text.trim().split('\n');
  return { status: 200, news: lines.map((line) => JSON.parse(line) as TransferNews) };
}

const counts = async () => {
  const client = new pg.Client({ connectionString: server.databaseUrl });
  await client.connect();
  const { rows } = await client.query<{ blobs: string; liveries: string }>(
    'select (select count(*) from blob) as blobs, (select count(*) from livery) as liveries',
  );
  await client.end();
  return rows[0];
};

describe('a livery goes onto another model', () => {
  test('how it fits is found; it is taken over, says what became of each layer, and the first one is as it was', async () => {
    const { status, body } = await fitOf(livery.template, sister);
    expect(status).toBe(200);
    expect(body.fit).toMatchObject({ turn: [0, 0, 0], scale: 1, shift: [0, 0, 0] });
    for (const part of body.parts) expect([part.part, part.missing, part.far]).toEqual([part.part, 0, 0]);
    expect(body.pictures.every(({ png }) => png.startsWith('data:image/png;base64,'))).toBe(true);
    const before = await server.get<{ revision: number; livery: Livery }>(`/liveries/${livery.id}`);
    const { news } = await transfer({ livery: livery.id, to: sister, fit: body.fit, name: 'Ember, elsewhere' });
    const last = news.at(-1)!;
    expect('made' in last).toBe(true);
    if (!('made' in last)) return;
    expect(last.made.notes.length).toBeGreaterThan(10);
    const made = await server.get<{ livery: Livery }>(`/liveries/${last.made.id}`);
    expect(made.livery.particulars).toMatchObject({ name: 'Ember, elsewhere', key: 'ember-elsewhere' });
    expect(made.livery.pins.template).toBe(sister);
    expect(await server.get(`/liveries/${livery.id}`)).toEqual(before);
    // It is drawn on its model as the first one is on its own.
    const picture = async (id: string) =>
      new Uint8Array(await (await fetch(`${server.url}/api/liveries/${id}/picture/0`)).arrayBuffer());
    const [one, other] = [await picture(livery.id), await picture(last.made.id)].map((png) =>
      readWithPillow(png, 'png'),
    );
    expect(compareImages(one, other).psnrRgb).toBeGreaterThan(28);
  });

  test('pairs are found anew for a model that was laid otherwise, and what is paired with nothing has no counterpart', async () => {
    const { body } = await fitOf(livery.template, sister);
    const again = await fitOf(livery.template, sister, { fit: { ...body.fit, pairs: {} }, pairAgain: true });
    expect(again.body.fit.pairs).toEqual(body.fit.pairs);
    const bare = await fitOf(livery.template, sister, { fit: { ...body.fit, pairs: {} } });
    for (const { missing } of bare.body.parts) expect(missing).toBe(1);
  });

  test('who leaves in the middle ends it, and nothing is left of it', async () => {
    const { body } = await fitOf(livery.template, sister);
    // Its background goes as pixels: there is something to do.
    const before = await counts();
    const stop = new AbortController();
    const going = transfer({ livery: livery.id, to: sister, fit: body.fit, name: 'Never' }, stop.signal);
    setTimeout(() => stop.abort(), 30);
    await expect(going).rejects.toThrow();
    await until(
      () => server.get<{ busy: number; waiting: number }>('/health/threads'),
      ({ busy, waiting }) => busy + waiting === 0,
    );
    expect(await counts()).toEqual(before);
  });

  test.each<[string, (fit: FitAnswer['fit']) => object, RegExp]>([
    ['a size of nothing', (fit) => ({ fit: { ...fit, scale: 0 } }), /fit\.scale/],
    ['a turn without an end', (fit) => ({ fit: { ...fit, turn: [1e9, 0, 0] } }), /fit\.turn/],
    ['a setting that there is not', (fit) => ({ fit: { ...fit, more: 1 } }), /fit/],
    ['no name', (fit) => ({ fit, name: ' ' }), /name/],
    ['no livery of that id', (fit) => ({ fit, livery: '00000000-0000-4000-8000-000000000000' }), /no such livery/],
    ['no template of that hash', (fit) => ({ fit, to: '0'.repeat(64) }), /template/i],
  ])('%s is refused in a sentence, and makes nothing', async (_name, change, why) => {
    const { body } = await fitOf(livery.template, sister);
    const before = await counts();
    const { status, news, error } = await transfer({
      livery: livery.id,
      to: sister,
      name: 'Never',
      ...change(body.fit),
    });
    const last = news.at(-1);
    expect(error ?? (last && 'why' in last ? last.why : '')).toMatch(why);
    expect(status === 200 || status === 404 || status === 422 || status === 400).toBe(true);
    expect(await counts()).toEqual(before);
  });

  test('a template without a model is refused by name', async () => {
    const { status, body } = await fitOf(livery.template, await bring({ ...template, name: 'Flat one', boards: true }));
    expect(status).toBe(400);
    expect(body.error).toMatch(/Flat one came without a model/);
  });

  test('a model without a surface is refused in a sentence', async () => {
    const mesh = { ...template.mesh, positions: template.mesh.positions.map(() => 0) };
    const { status, body } = await fitOf(livery.template, await bring({ ...template, name: 'Nothing', mesh }));
    expect(status).toBe(400);
    expect(body.error).toMatch(/no surface/);
  });
});
