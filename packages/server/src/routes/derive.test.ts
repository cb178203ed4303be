/** Specs that are taken from the files of a skin: what they make is what the skin was, in every format, name and folder. */
import { randomUUID } from 'node:crypto';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { layerOf } from '@wet-lacquer/core/testing/scenes.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer({ demo: true });
});
afterAll(() => server.stop());

interface Delivered {
  id: string;
  state: string;
  error: string | null;
  folder: string;
  files: { name: string; blob: string; what: string }[];
}

async function deliver(id: string): Promise<Delivered> {
  const made = await server.post<Delivered & { error: string }>(`/liveries/${id}/deliveries`);
  expect([made.status, made.body.error ?? null]).toEqual([201, null]);
  return until(
    () => server.get<Delivered>(`/deliveries/${made.body.id}`),
    ({ state }) => ['done', 'failed'].includes(state),
  );
}
const step = (id: string, base: number, edit: object) =>
  server.post(`/liveries/${id}/entries`, {
    base,
    entries: [{ id: randomUUID(), person: 'ann', edit, undoes: null, redoes: null, label: 'a step' }],
  });
const cardOf = async (key: string) =>
  (await server.get<{ key: string; hash: string }[]>('/templates')).find((card) => card.key === key)!;

/** A livery of a subject with some sheets that are painted all over. */
async function painted(subject: string, name: string, sheets: readonly string[], values: Record<string, string> = {}) {
  const { hash } = await cardOf(subject);
  const { id } = (await server.post<{ id: string }>('/liveries', { template: hash, name })).body;
  let base = 0;
  for (const key of sheets) {
    const layer = layerOf('solid', { id: randomUUID(), paint: { hex: '#204060' } });
    await step(id, base++, { do: 'add-layer', sheet: key, map: 'colour', index: 0, layer });
  }
  for (const [key, value] of Object.entries(values)) await step(id, base++, { do: 'set-particular', key, value });
  return { id, base, hash };
}

/** Brings files in as a skin, and takes the spec from them. */
async function derive(name: string, files: Map<string, Uint8Array>, template: string) {
  const { id } = (await server.post<{ id: string }>('/intakes', { name })).body;
  for (const [path_, bytes] of files)
    await fetch(`${server.url}/api/intakes/${id}/files?${new URLSearchParams({ name: path_ })}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: bytes as BodyInit,
    });
  await until(
    () => server.get<{ files: { state: string }[] }>(`/intakes/${id}`),
    (intake) => intake.files.length === files.size && intake.files.every((file) => file.state === 'read'),
  );
  const made = await server.post<{ key: string; remarks: string[]; error: string }>(`/intakes/${id}/spec`, {
    template,
  });
  const spec = made.status === 201 ? await server.get<DeliverySpec>(`/specs/${made.body.key}`) : null;
  return { ...made, spec: spec! };
}

/** What a delivery consists of, by path; of packages what is inside. */
async function filesOf({ id }: Delivered): Promise<Map<string, Uint8Array>> {
  const zip = await fetch(`${server.url}/api/deliveries/${id}/zip`);
  return new Map(Object.entries(unzipSync(new Uint8Array(await zip.arrayBuffer()))));
}

test('a delivered skin becomes a spec that delivers the same files, byte for byte, and another livery’s under its own names', async () => {
  const cards = await server.get<{ id: string; name: string; revision: number }[]>('/liveries');
  const tern = cards.find((card) => card.name.includes('Turnstone 7'))!;
  const before = await deliver(tern.id);
  const { hash } = await cardOf('turnstone');
  const { body, status, spec } = await derive('tern-tide', await filesOf(before), hash);
  expect([status, body.key]).toEqual([201, 'from-tern-tide']);
  // Zones follow from finishes: what the game makes of them no file says.
  const isCoat = (name: string) => name.endsWith('_coatmap.dds');
  expect(body.remarks).toHaveLength(before.files.filter(({ name }) => isCoat(name)).length);
  for (const remark of body.remarks) expect(remark).toMatch(/_coatmap\.dds was left out: zones follow from/);
  expect(spec).toMatchObject({
    folder: 'wharf/{craft.key}/{livery.key}/',
    game: 'brackwater-run',
    files: [{ name: '{livery.key}_{sheet.key}.dds', container: 'dds', format: 'bc7', header: 'dx10', mips: 'full' }],
    sidecars: [{ name: 'finish.toml', language: 'toml' }],
  });
  expect(spec.files[0].sheets).toBeUndefined();
  // Every guess says where it stands.
  expect(spec.guesses!.map(({ at }) => at)).toEqual([
    'folder',
    'files.0.name',
    'liveryKey',
    'files.0.mipFilter',
    'files.0.alpha',
    'sidecars.0.making',
  ]);
  const { livery } = await server.get<{ livery: { pins: { template: string } } }>(`/liveries/${tern.id}`);
  const pin = { key: spec.key, version: 1 };
  const take = { do: 'take-template', template: livery.pins.template, spec: pin, sheets: [] };
  expect((await step(tern.id, tern.revision, take)).status).toBe(200);
  const after = await deliver(tern.id);
  expect(after.folder).toBe(before.folder);
  const blobs = (of: Delivered) => of.files.filter(({ name }) => !isCoat(name)).map(({ name, blob }) => [name, blob]);
  expect(blobs(after)).toEqual(blobs(before));
  // Its preflight goes on saying that there are guesses.
  const { preflight } = await server.get<{ preflight: { findings: { check: string; title: string }[] } }>(
    `/liveries/${tern.id}/preflight`,
  );
  expect(preflight.findings.find(({ check }) => check === 'guesses')!.title).toBe('6 guesses in the spec wait');
  const ebbline = cards.find((card) => card.name.includes('Turnstone 22'))!;
  const trial = await server.post<{ folder: string; files: { name: string; text: string | null }[] }>('/specs/trial', {
    spec,
    livery: ebbline.id,
  });
  expect(trial.body.folder).toBe('wharf/turnstone/ebbline/');
  expect(trial.body.files.map(({ name }) => name)).toContain('ebbline_deck.dds');
  expect(trial.body.files.find(({ name }) => name === 'finish.toml')!.text).toMatch(/key = "ebbline"/);
});

test('of two sheets of five: the derived spec makes the names and kinds of all its textures again', async () => {
  const { id, base, hash } = await painted('whimbrel', 'Spring Tide', ['tail', 'floats'], { registration: 'NM-88' });
  const before = await deliver(id);
  const { body, spec } = await derive(before.folder.split('/').at(-2) ?? 'skin', await filesOf(before), hash);
  expect(body.remarks.filter((remark) => /\.(dds|tga|png)/.test(remark))).toEqual([]);
  const pin = { key: spec.key, version: 1 };
  await step(id, base, { do: 'take-template', template: hash, spec: pin, sheets: [] });
  const after = await deliver(id);
  const textures = ({ folder, files }: Delivered) =>
    files
      .filter((file) => /\.(dds|tga|png)$/.test(file.name))
      .map((file) => `${folder}${file.name} ${file.what.replace(/ (srgb|sRGB|linear|normal),/, ',')}`)
      .sort();
  expect(textures(after)).toEqual(textures(before));
});

test('files that are no skin of the subject are refused in a sentence', async () => {
  const { hash } = await cardOf('turnstone');
  const liveries = await server.get<{ id: string; name: string }[]>('/liveries');
  const { id } = liveries.find(({ name }) => name.startsWith('Turnstone'))!;
  const png = await fetch(`${server.url}/api/liveries/${id}/sheets/hull`);
  const bytes = new Uint8Array(await png.arrayBuffer());
  const { status, body } = await derive('odd', new Map([['odd/wheels.png', bytes]]), hash);
  expect([status, body.error]).toEqual([
    400,
    'None of these files is a texture of one of the subject’s sheets, as far as their names say.',
  ]);
});
