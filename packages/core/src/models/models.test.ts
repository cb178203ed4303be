/**
 * Models of the assimp project's test files (Debian: assimp-testmodels), and of the glTF project's samples among them, against what the
 * assimp command line (Debian: assimp-utils) makes of them: all triangles where they stand in the scene, as STL.
 */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { format } from 'prettier';
import { afterAll, describe, expect, test } from 'vitest';
import { InputError } from '../errors.ts';
import type { ModelKind } from '../kinds/index.ts';
import { namedBeside, picturesOf, readModel } from './readModel.ts';
import type { MeshChoices, ReadMesh } from './mesh.ts';
import { sizeOfMesh } from './upAxis.ts';

const ROOT = '/usr/share/assimp/models';
const scratch = mkdtempSync(path.join(os.tmpdir(), 'models-'));
afterAll(() => rmSync(scratch, { recursive: true }));

const kindOf = (file: string) => path.extname(file).slice(1).toLowerCase() as ModelKind;

/** A model from disk, with the files beside it that are there. */
async function fromDisk(file: string, choices?: MeshChoices): Promise<ReadMesh> {
  const bytes = new Uint8Array(readFileSync(file));
  return readModel(bytes, kindOf(file), besideOnDisk(file, bytes), choices);
}

function besideOnDisk(file: string, bytes: Uint8Array): Map<string, Uint8Array> {
  const found = namedBeside(bytes, kindOf(file)).map((named) => [named, path.join(path.dirname(file), named)]);
  return new Map(
    found.flatMap(([named, at]) => (existsSync(at) ? [[named, new Uint8Array(readFileSync(at))] as const] : [])),
  );
}

/** Corners of all triangles as assimp puts them, nine numbers each; null: it reads none. */
function byAssimp(file: string): number[] | null {
  const out = path.join(scratch, 'out.stl');
  rmSync(out, { force: true });
  spawnSync('assimp', ['export', file, out, '-fstlb'], { timeout: 60_000 });
  if (!existsSync(out)) return null;
  const bytes = readFileSync(out);
  if (bytes.length < 84 || bytes.length < 84 + bytes.readUInt32LE(80) * 50) return null;
  const count = bytes.readUInt32LE(80);
  const corners: number[] = [];
  for (let i = 0; i < count; i++) for (let k = 3; k < 12; k++) corners.push(bytes.readFloatLE(84 + i * 50 + k * 4));
  return count > 0 ? corners : null;
}

const cornersOf = ({ mesh }: ReadMesh): number[] => mesh.indices.flatMap((v) => mesh.positions.slice(v * 3, v * 3 + 3));

/** Six times the volume that triangles enclose; turned inside out it is negative. */
function volume(corners: readonly number[]): number {
  let sum = 0;
  for (let i = 0; i < corners.length; i += 9) {
    const [ax, ay, az, bx, by, bz, cx, cy, cz] = corners.slice(i, i + 9);
    sum += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  }
  return sum;
}

const models = readdirSync(ROOT, { recursive: true, encoding: 'utf8' })
  .filter((file) => /\.(obj|gltf|glb)$/i.test(file) && !file.startsWith('glTF/'))
  .sort();

describe('each of the test models', () => {
  test.each(models)('%s', async (name) => {
    const file = path.join(ROOT, name);
    let read: ReadMesh;
    try {
      read = await fromDisk(file);
    } catch (error) {
      expect(error).toBeInstanceOf(InputError);
      // What cannot be shown has nothing to show: the reference finds no triangle either, or not within the file's own bounds.
      expect([name, byAssimp(file)?.length ?? 0]).toEqual([
        name,
        NONE_HERE.some((one) => one.test(name)) ? expect.anything() : 0,
      ]);
      return;
    }
    for (const value of [...read.mesh.positions, ...read.mesh.normals, ...read.mesh.uvs])
      if (!Number.isFinite(value)) throw new Error('a number that is none');
    const theirs = OTHERWISE.some((one) => one.test(name)) ? null : byAssimp(file);
    if (theirs === null) return;
    const ours = cornersOf(read);
    expect(ours.length / 9).toBe(theirs.length / 9);
    const size = sizeOfMesh(theirs);
    const longest = Math.max(...size);
    sizeOfMesh(ours).forEach((side, c) => expect(Math.abs(side - size[c])).toBeLessThan(longest * 1e-4));
    expect(Math.abs(volume(ours) - volume(theirs))).toBeLessThan(longest ** 3 * 1e-3);
  });
});

test('docs/formats.md says of each what was read; MODELS_TABLE=write writes it anew', async () => {
  const rows = await Promise.all(
    models.map(async (name) => {
      try {
        const { mesh, groups, said, textures } = await fromDisk(path.join(ROOT, name));
        const bare = groups.filter((group) => group.bare).length;
        const left = said.filter((sentence) => !sentence.includes('has no UVs')).length;
        return [name, mesh.indices.length / 3, groups.length, bare, textures.length, left > 0 ? `${left} said` : ''];
      } catch (error) {
        return [name, 0, 0, 0, 0, (error as Error).message.replaceAll('|', '/')];
      }
    }),
  );
  const table = await format(
    [
      ['model', 'triangles', 'parts', 'without UVs', 'textures named', 'left out'],
      ['---', '---', '---', '---', '---', '---'],
      ...rows,
    ]
      .map((cells) => `| ${cells.join(' | ')} |`)
      .join('\n'),
    { parser: 'markdown', proseWrap: 'preserve' },
  );
  const file = path.resolve(import.meta.dirname, '../../../../docs/formats.md');
  const text = readFileSync(file, 'utf8');
  const [begin, end] = ['<!-- models -->\n\n', '\n<!-- end of models -->'];
  const at = text.indexOf(begin) + begin.length;
  if (process.env.MODELS_TABLE === 'write')
    writeFileSync(file, text.slice(0, at) + table + text.slice(text.indexOf(end)));
  else expect(text.slice(at, text.indexOf(end))).toBe(table);
});

/** Refused here for what the format says, though the reference shows something. */
const NONE_HERE = [/BoxWithInfinites/];
/** Read otherwise by the reference, for reasons of its own. */
const OTHERWISE = [/UTF16/];

test('UTF-16 is read as the same file in ASCII is', async () => {
  const [wide, plain] = await Promise.all(
    ['OBJ/box_UTF16BE.obj', 'OBJ/box.obj'].map((name) => fromDisk(path.join(ROOT, name))),
  );
  expect(cornersOf(wide)).toEqual(cornersOf(plain));
});

test('textures that models name, and the pictures inside them', async () => {
  const spider = await fromDisk(path.join(ROOT, 'OBJ/spider.obj'));
  expect(new Set(spider.textures.map(({ map }) => map))).toEqual(new Set(['colour']));
  expect(spider.textures.length).toBeGreaterThan(3);
  const file = path.join(ROOT, 'glTF2/BoxTextured-glTF-Binary/BoxTextured.glb');
  const box = await fromDisk(file);
  const inside = picturesOf(new Uint8Array(readFileSync(file)), 'glb', new Map());
  expect(inside.map(({ name }) => name)).toEqual(box.textures.map(({ file: named }) => named));
  expect(String.fromCharCode(...inside[0].bytes.subarray(1, 4))).toBe('PNG');
});

test('what another program packed: quantised, compressed by meshopt, instanced (gltfpack, Debian)', async () => {
  const from = path.join(ROOT, 'glTF2/ClearCoat-glTF/ClearCoatTest.gltf');
  const plain = await fromDisk(from);
  for (const options of [['-noq'], [], ['-c'], ['-cc', '-kn', '-km']]) {
    const out = path.join(scratch, 'packed.glb');
    expect(spawnSync('gltfpack', ['-i', from, '-o', out, ...options]).status).toBe(0);
    const packed = await fromDisk(out);
    expect(packed.mesh.indices.length).toBe(plain.mesh.indices.length);
    const [a, b] = [sizeOfMesh(plain.mesh.positions), sizeOfMesh(packed.mesh.positions)];
    b.forEach((side, c) => expect(Math.abs(side - a[c])).toBeLessThan(Math.max(...a) * 2e-3));
    // UVs are packed with a transform of their own (KHR_texture_transform).
    const range = (uvs: readonly number[]) => [Math.min(...uvs.slice(0, 60_000)), Math.max(...uvs.slice(0, 60_000))];
    if (!options.includes('-noq')) range(packed.mesh.uvs).forEach((value) => expect(value).toBeGreaterThan(-2));
  }
});

test('a skin stands as its joints hold it: as three.js puts it', async () => {
  const file = path.join(ROOT, 'glTF2/simple_skin/simple_skin.gltf');
  const { GLTFLoader } = await import('three/examples/jsm/loaders/GLTFLoader.js');
  const { Vector3 } = await import('three');
  // The loader tells of its progress by a class that only browsers have.
  Object.assign(globalThis, { ProgressEvent: Event });
  const bytes = readFileSync(file);
  const loaded = await new GLTFLoader().parseAsync(
    bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer,
    '',
  );
  loaded.scene.updateMatrixWorld(true);
  const theirs: number[] = [];
  loaded.scene.traverse((node) => {
    const mesh = node as unknown as import('three').SkinnedMesh;
    if (!mesh.isSkinnedMesh) return;
    const { index, attributes } = mesh.geometry;
    for (let i = 0; i < (index?.count ?? attributes.position.count); i++) {
      const point = mesh.getVertexPosition(index ? index.getX(i) : i, new Vector3());
      theirs.push(...mesh.localToWorld(point).toArray());
    }
  });
  const ours = cornersOf(await fromDisk(file));
  expect(ours.length).toBe(theirs.length);
  ours.forEach((value, i) => expect(value).toBeCloseTo(theirs[i], 5));
});
