/** Models as they come, through the real server: with files beside them or inside, in any order (Debian: assimp-testmodels). */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { proposeSheets, type SettleFile } from '@wet-lacquer/core/intake/settle.ts';
import type { ModelFacts } from '@wet-lacquer/core/intake/understood.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

interface File extends SettleFile {
  state: string;
  error: string | null;
  preview: string | null;
}

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

const ROOT = '/usr/share/assimp/models';
const fromDisk = (name: string) => new Uint8Array(readFileSync(path.join(ROOT, name)));

async function opened(): Promise<string> {
  return (await server.post<{ id: string }>('/intakes', { name: 'yard' })).body.id;
}
const put = (id: string, name: string, bytes: Uint8Array) =>
  fetch(`${server.url}/api/intakes/${id}/files?${new URLSearchParams({ name })}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: bytes as BodyInit,
  });
const filesOf = async (id: string) =>
  (
    await until(
      () => server.get<{ files: File[] }>(`/intakes/${id}`),
      ({ files }) => files.length > 0 && files.every(({ state }) => state === 'read' || state === 'failed'),
    )
  ).files;
const modelIn = (files: readonly File[]) => {
  const file = files.find(({ understood }) => understood?.kind === 'model')!;
  return { name: file.name, facts: file.understood as ModelFacts, preview: file.preview };
};

test('a .gltf whose buffer and picture come after it: said until then, read when they are there, its picture on its sheet', async () => {
  const id = await opened();
  const folder = 'glTF2/BoxTextured-glTF/';
  await put(id, 'yard/model/box.gltf', fromDisk(`${folder}BoxTextured.gltf`));
  const [alone] = await filesOf(id);
  expect(alone.understood).toMatchObject({ kind: 'other', what: expect.stringMatching(/needs BoxTextured0\.bin/) });
  const picture = readdirSync(path.join(ROOT, folder)).find((one) => one.endsWith('.png'))!;
  await put(id, `yard/model/${picture}`, fromDisk(folder + picture));
  await put(id, 'yard/model/BoxTextured0.bin', fromDisk(`${folder}BoxTextured0.bin`));
  await until(
    () => server.get<{ files: File[] }>(`/intakes/${id}`),
    ({ files }) => files.some(({ understood }) => understood?.kind === 'model'),
  );
  const files = await filesOf(id);
  const { name, facts, preview } = modelIn(files);
  expect(facts).toMatchObject({ triangles: 12, needs: [], beside: ['yard/model/BoxTextured0.bin'] });
  expect(preview).not.toBeNull();
  const sheets = proposeSheets(files, { ...facts, name });
  expect(sheets).toMatchObject([{ colour: `yard/model/${picture}` }]);
  const made = await server.post<{ hash: string; error?: string }>(`/intakes/${id}/template`, {
    ...{ name: 'Crate', game: 'Yard', model: name, sheets },
    stance: { unit: 0.01 },
  });
  expect(made.body.error).toBeUndefined();
  const template = await server.get<Template>(`/templates/${made.body.hash}`);
  expect(template.mesh.indices.length).toBe(36);
  expect(Math.max(...template.mesh.positions)).toBeCloseTo(0.005, 6);
  // What the model was read with is part of it, not a file that was left over.
  expect(template.beside ?? []).toEqual([]);
});

test('pictures inside a .glb are files of their own, and go back beside it', async () => {
  const id = await opened();
  await put(id, 'crate.glb', fromDisk('glTF2/BoxTextured-glTF-Binary/BoxTextured.glb'));
  await until(
    () => server.get<{ files: File[] }>(`/intakes/${id}`),
    ({ files }) => files.length > 1,
  );
  const files = await filesOf(id);
  expect(files.map((file) => [file.name, file.understood?.kind])).toEqual([
    ['crate.glb', 'model'],
    ['crate.glb/picture 1.png', 'texture'],
  ]);
  const { name, facts } = modelIn(files);
  const sheets = proposeSheets(files, { ...facts, name });
  expect(sheets[0].colour).toBe('crate.glb/picture 1.png');
  const made = await server.post<{ hash: string }>(`/intakes/${id}/template`, {
    ...{ name: 'Crate', game: 'Yard', model: name, sheets },
  });
  const template = await server.get<Template>(`/templates/${made.body.hash}`);
  expect(Object.values(template.originals ?? {}).map((one) => one.name)).toEqual(['picture 1.png']);
});

test('an .obj finds its pictures by its .mtl, whichever comes first; what wears one picture is one sheet', async () => {
  const id = await opened();
  const pictures = ['wal67ar_small.jpg', 'SpiderTex.jpg', 'drkwood2.jpg', 'engineflare1.jpg'];
  for (const name of ['spider.obj', ...pictures, 'spider.mtl']) await put(id, `toy/${name}`, fromDisk(`OBJ/${name}`));
  const files = await until(
    () => server.get<{ files: File[] }>(`/intakes/${id}`),
    ({ files: now }) =>
      now.length === 6 && now.every(({ state }) => state === 'read') && modelIn(now).facts.textures!.length > 0,
  );
  const { name, facts } = modelIn(files.files);
  const sheets = proposeSheets(files.files, { ...facts, name });
  expect(sheets.map(({ colour }) => colour).toSorted()).toEqual(pictures.map((one) => `toy/${one}`).toSorted());
  const materials = new Set(facts.groups.map(({ material }) => material));
  expect(sheets.reduce((sum, { also }) => sum + 1 + also.length, 0)).toBeLessThanOrEqual(materials.size);
  const made = await server.post<{ hash: string; error?: string }>(`/intakes/${id}/template`, {
    ...{ name: 'Toy', game: 'Yard', model: name, sheets },
    stance: { up: 'z', mirrored: true },
  });
  expect(made.body.error).toBeUndefined();
  const template = await server.get<Template>(`/templates/${made.body.hash}`);
  const reach = (axis: number) => {
    const values = template.mesh.positions.filter((_, i) => i % 3 === axis);
    return Math.max(...values) - Math.min(...values);
  };
  expect([0, 1, 2].map((axis) => Math.round(reach(axis)))).toEqual([151, 193, 80]);
});

test('a model is looked at as it would stand; what cannot is refused in a sentence', async () => {
  const id = await opened();
  await put(id, 'box.obj', fromDisk('OBJ/spider.obj'));
  await filesOf(id);
  const view = (query: Record<string, string>) =>
    fetch(`${server.url}/api/intakes/${id}/model?${new URLSearchParams(query)}`);
  const pictures = await Promise.all(
    ['x', 'y', 'z'].map(async (up) => Buffer.from(await (await view({ name: 'box.obj', up })).arrayBuffer())),
  );
  for (const picture of pictures) expect((await sharp(picture).metadata()).width).toBe(320);
  expect(Buffer.compare(pictures[1], pictures[2])).not.toBe(0);
  expect((await view({ name: 'box.obj', up: 'w' })).status).toBe(400);
  expect((await view({ name: 'nothing.obj', up: 'y' })).status).toBe(400);
});
