/** glTF 2.0 (Khronos Group, 2021): what its document says of places, instances, scenes and UVs; and what it must not do. */
import { Document, WebIO, type Node as GltfNode } from '@gltf-transform/core';
import { EXTMeshGPUInstancing, KHRTextureTransform } from '@gltf-transform/extensions';
import { describe, expect, test } from 'vitest';
import { InputError } from '../errors.ts';
import { fileBeside } from './beside.ts';
import { readGltf } from './gltf.ts';
import { picturesIn } from './gltfPictures.ts';
import { sizeOfMesh } from './upAxis.ts';

const io = new WebIO().registerExtensions([EXTMeshGPUInstancing, KHRTextureTransform]);

/** A tetrahedron with its corners at the origin and at one along each axis; outside is outside. */
const CORNERS = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1);
const FACES = Uint16Array.of(0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3);

function world() {
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC2' | 'VEC3' | 'VEC4' | 'SCALAR', array: Float32Array | Uint16Array) =>
    document.createAccessor().setType(type).setArray(array.slice()).setBuffer(buffer);
  const uvs = (u: number) => accessor('VEC2', Float32Array.of(u, 0, u + 0.5, 0, u, 0.5, u + 0.25, 0.75));
  const mesh = (name: string, options: { sets?: number[]; bare?: boolean; material?: string } = {}) => {
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', accessor('VEC3', CORNERS))
      .setIndices(accessor('SCALAR', FACES));
    if (!options.bare) (options.sets ?? [0]).forEach((u, i) => primitive.setAttribute(`TEXCOORD_${i}`, uvs(u)));
    if (options.material) primitive.setMaterial(document.createMaterial(options.material));
    return document.createMesh(name).addPrimitive(primitive);
  };
  const scene = (name: string, ...nodes: GltfNode[]) =>
    nodes.reduce((made, node) => made.addChild(node), document.createScene(name));
  return { document, accessor, mesh, scene, node: (name: string) => document.createNode(name) };
}

const volume = ({ mesh: { positions, indices } }: Awaited<ReturnType<typeof readGltf>>) => {
  let sum = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => positions.slice(indices[i + k] * 3, indices[i + k] * 3 + 3));
    sum += a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
  }
  return sum / 6;
};

describe('where things stand', () => {
  test('two nodes with one mesh are two things, each in its place, called as their nodes', async () => {
    const { document, mesh, node, scene } = world();
    const fin = mesh('fin');
    scene(
      'all',
      node('port').setMesh(fin).setTranslation([-10, 0, 0]),
      node('starboard').setMesh(fin).setTranslation([10, 0, 0]),
    );
    const read = await readGltf(await io.writeBinary(document));
    expect(read.groups.map(({ name, count }) => [name, count])).toEqual([
      ['port', 4],
      ['starboard', 4],
    ]);
    expect(sizeOfMesh(read.mesh.positions)).toEqual([21, 1, 1]);
  });

  test('places of parents add up: turned, scaled, then moved (3.5.3)', async () => {
    const { document, mesh, node, scene } = world();
    const half = Math.SQRT1_2;
    const child = node('arm').setMesh(mesh('arm')).setTranslation([1, 0, 0]);
    // A quarter turn about z, twice as large, five up.
    scene(
      'all',
      node('body').setTranslation([0, 5, 0]).setRotation([0, 0, half, half]).setScale([2, 2, 2]).addChild(child),
    );
    const { mesh: got } = await readGltf(await io.writeBinary(document));
    // (x, y, z) -> (-2y, 2(x+1)+5, 2z)
    const at = (v: number) => got.positions.slice(v * 3, v * 3 + 3).map((value) => Math.round(value * 1e5) / 1e5 + 0);
    expect([...new Set(got.indices)].map(at).sort()).toEqual(
      [
        [0, 7, 0],
        [0, 9, 0],
        [-2, 7, 0],
        [0, 7, 2],
      ].sort(),
    );
  });

  test('what is mirrored by its scale is not turned inside out, its normals neither', async () => {
    const { document, mesh, node, scene } = world();
    scene('all', node('mirrored').setMesh(mesh('part')).setScale([-1, 2, 1]));
    const read = await readGltf(await io.writeBinary(document));
    expect(volume(read)).toBeCloseTo(2 / 6, 5);
    for (let i = 0; i < read.mesh.normals.length; i += 3)
      expect(Math.hypot(...read.mesh.normals.slice(i, i + 3))).toBeCloseTo(1, 4);
  });

  test('instances of one node (EXT_mesh_gpu_instancing)', async () => {
    const { document, mesh, node, scene, accessor } = world();
    const instancing = document.createExtension(EXTMeshGPUInstancing);
    const places = instancing
      .createInstancedMesh()
      .setAttribute('TRANSLATION', accessor('VEC3', Float32Array.of(0, 0, 0, 0, 4, 0, 0, 8, 0)));
    scene('all', node('rivet').setMesh(mesh('rivet')).setExtension('EXT_mesh_gpu_instancing', places));
    const read = await readGltf(await io.writeBinary(document));
    expect(read.mesh.indices.length / 3).toBe(12);
    expect(sizeOfMesh(read.mesh.positions)).toEqual([1, 9, 1]);
  });

  test('one of several scenes: the default one unless another is asked for, all of them named', async () => {
    const { document, mesh, node, scene } = world();
    scene('stripped', node('hull').setMesh(mesh('hull')));
    const whole = scene('whole', node('hull').setMesh(mesh('hull')), node('mast').setMesh(mesh('mast')));
    document.getRoot().setDefaultScene(whole);
    const bytes = await io.writeBinary(document);
    const usual = await readGltf(bytes);
    expect([usual.scenes, usual.scene, usual.groups.length]).toEqual([['stripped', 'whole'], 1, 2]);
    expect((await readGltf(bytes, new Map(), { scene: 0 })).groups.map(({ name }) => name)).toEqual(['hull']);
  });
});

describe('UVs', () => {
  test('of several sets the one that the colour wears; another when asked for', async () => {
    const { document, mesh, node, scene } = world();
    const part = mesh('hood', { sets: [0, 0.5], material: 'paint' });
    const [primitive] = part.listPrimitives();
    primitive
      .getMaterial()!
      .setBaseColorTexture(
        document.createTexture('hood.png').setURI('hood.png').setImage(new Uint8Array(4)).setMimeType('image/png'),
      )
      .getBaseColorTextureInfo()!
      .setTexCoord(1);
    scene('all', node('hood').setMesh(part));
    const { json, resources } = await io.writeJSON(document);
    const beside = new Map(Object.entries(resources));
    const bytes = new TextEncoder().encode(JSON.stringify(json));
    const usual = await readGltf(bytes, beside);
    expect(usual.uvSets).toEqual({ paint: { sets: 2, taken: 1 } });
    expect(Math.min(...usual.mesh.uvs.filter((_, i) => i % 2 === 0))).toBe(0.5);
    const other = await readGltf(bytes, beside, { uvSets: { paint: 0 } });
    expect(Math.min(...other.mesh.uvs.filter((_, i) => i % 2 === 0))).toBe(0);
    expect(usual.textures).toEqual([{ material: 'paint', map: 'colour', file: 'hood.png' }]);
  });

  test('the transform of a texture is in them (KHR_texture_transform: offset, then turn, then scale)', async () => {
    const { document, mesh, node, scene } = world();
    const part = mesh('hood', { material: 'paint' });
    const transform = document
      .createExtension(KHRTextureTransform)
      .createTransform()
      .setOffset([0.1, 0.2])
      .setRotation(Math.PI / 2)
      .setScale([0.5, 2]);
    part
      .listPrimitives()[0]
      .getMaterial()!
      .setBaseColorTexture(document.createTexture('a').setImage(new Uint8Array(4)).setMimeType('image/png'))
      .getBaseColorTextureInfo()!
      .setExtension('KHR_texture_transform', transform);
    scene('all', node('hood').setMesh(part));
    const { mesh: got } = await readGltf(await io.writeBinary(document));
    // The extension's own matrices, translation x rotation x scale: (u, v) -> (v*2 + 0.1, -u*0.5 + 0.2) at a quarter turn.
    const wanted = [
      [0, 0],
      [0.5, 0],
      [0, 0.5],
      [0.25, 0.75],
    ].map(([u, v]) => [v * 2 + 0.1, -u * 0.5 + 0.2]);
    const pairs = Array.from({ length: got.uvs.length / 2 }, (_, i) => got.uvs.slice(i * 2, i * 2 + 2));
    for (const [u, v] of wanted)
      expect(pairs.some(([a, b]) => Math.abs(a - u) < 1e-5 && Math.abs(b - v) < 1e-5)).toBe(true);
  });

  test('a mesh without them is shown, in no sheet, and named; points and lines are named', async () => {
    const { document, mesh, node, scene } = world();
    const dust = mesh('dust');
    dust.listPrimitives()[0].setMode(0);
    scene(
      'all',
      node('hull').setMesh(mesh('hull')),
      node('glass').setMesh(mesh('glass', { bare: true })),
      node('dust').setMesh(dust),
    );
    const read = await readGltf(await io.writeBinary(document));
    expect(read.groups.map(({ name, bare }) => [name, bare ?? false])).toEqual([
      ['hull', false],
      ['glass', true],
    ]);
    expect(read.said.join(' ')).toMatch(/points of "dust".*"glass" has no UVs/);
  });
});

describe('files beside it', () => {
  test('are found where they are; what is missing is named', async () => {
    const { document, mesh, node, scene } = world();
    scene('all', node('hull').setMesh(mesh('hull')));
    const { json, resources } = await io.writeJSON(document);
    const bytes = new TextEncoder().encode(JSON.stringify(json));
    await expect(readGltf(bytes)).rejects.toThrow(/needs .*\.bin, which is not among the files; bring it too/);
    expect((await readGltf(bytes, new Map(Object.entries(resources)))).groups.length).toBe(1);
    const [[uri, bin]] = Object.entries(resources);
    json.buffers![0].uri = `data:application/octet-stream;base64,${Buffer.from(bin).toString('base64')}`;
    expect((await readGltf(new TextEncoder().encode(JSON.stringify(json)))).groups.length).toBe(1);
    expect(uri).toMatch(/\.bin$/);
  });

  test.each([
    ['tex/hull.png', ['a/m.gltf', 'a/tex/hull.png', 'hull.png'], 'a/tex/hull.png'],
    ['../tex/hull.png', ['a/m.gltf', 'tex/hull.png', 'b/hull.png'], 'tex/hull.png'],
    ['C:/work/Hull.PNG', ['a/m.gltf', 'a/hull.png'], 'a/hull.png'],
    ['hull.tga', ['a/m.gltf', 'a/hull.dds'], 'a/hull.dds'],
    ['hull.png', ['a/m.gltf', 'a/x/hull.png', 'a/y/hull.png'], null],
    ['picture 1.png', ['a/m.gltf', 'a/m.gltf/picture 1.png'], 'a/m.gltf/picture 1.png'],
  ])('%s', (path, names, found) => expect(fileBeside(names, 'a/m.gltf', path, true)).toBe(found));
});

describe('what means harm', () => {
  const json = (value: object) => new TextEncoder().encode(JSON.stringify({ asset: { version: '2.0' }, ...value }));
  const data = (bytes: Uint8Array) => `data:application/octet-stream;base64,${Buffer.from(bytes).toString('base64')}`;
  const triangle = {
    buffers: [{ uri: data(new Uint8Array(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0).buffer)), byteLength: 36 }],
    bufferViews: [{ buffer: 0, byteLength: 36 }],
    accessors: [{ bufferView: 0, componentType: 5126, count: 3, type: 'VEC3' }],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
    scenes: [{ nodes: [0] }],
  };
  const ring = Array.from({ length: 50 }, (_, i) => ({ mesh: 0, children: [(i + 1) % 50] }));
  const many = Array.from({ length: 400_000 }, () => ({}));
  const deep = Array.from({ length: 50_000 }, (_, i) => ({ mesh: 0, children: i < 49_999 ? [i + 1] : [] }));
  test.each<[string, object, RegExp | number]>([
    ['nodes in a ring', { ...triangle, nodes: ring }, 50],
    ['a chain of fifty thousand nodes', { ...triangle, nodes: deep }, 50_000],
    [
      'more nodes than there may be',
      { ...triangle, nodes: [{ children: many.map((_, i) => i + 1) }, ...many] },
      /more nodes/,
    ],
    ['a node that is not there', { ...triangle, nodes: [{ mesh: 0, children: [7] }] }, 1],
    ['a mesh that is not there', { ...triangle, nodes: [{ mesh: 9 }] }, /no mesh/],
    [
      'more vertices than there are',
      { ...triangle, accessors: [{ ...triangle.accessors[0], count: 4 }], nodes: [{ mesh: 0 }] },
      /no mesh/,
    ],
    [
      'a billion vertices of nothing',
      { ...triangle, accessors: [{ componentType: 5126, count: 1e9, type: 'VEC3' }], nodes: [{ mesh: 0 }] },
      /no mesh|two million/,
    ],
    [
      'sixty million vertices of nothing',
      { ...triangle, accessors: [{ componentType: 5126, count: 6e7, type: 'VEC3' }], nodes: [{ mesh: 0 }] },
      /two million/,
    ],
    ['a scale of nothing', { ...triangle, nodes: [{ mesh: 0, scale: [0, 0, 0] }] }, 1],
    ['a skin without joints', { ...triangle, skins: [{ joints: [] }], nodes: [{ mesh: 0, skin: 0 }] }, 1],
    [
      'materials and pictures that are none',
      {
        ...triangle,
        materials: [{ name: 7, normalTexture: 'x' }],
        images: [{}],
        textures: [{ source: 99 }],
        nodes: [{ mesh: 0 }],
      },
      1,
    ],
  ])('%s', async (_, value, expected) => {
    const began = performance.now();
    const read = readGltf(json(value));
    if (typeof expected === 'number') expect((await read).groups.length).toBe(expected);
    else {
      await expect(read).rejects.toThrow(expected);
      await expect(read).rejects.toBeInstanceOf(InputError);
    }
    expect(performance.now() - began).toBeLessThan(20_000);
  });

  test('pictures that lie on one another come only as far as there are bytes', () => {
    const images = Array.from({ length: 400 }, (_, i) => ({ bufferView: 0, mimeType: 'image/png', name: `p${i}` }));
    const bytes = json({
      buffers: [{ uri: data(new Uint8Array(100_000)), byteLength: 100_000 }],
      bufferViews: [{ buffer: 0, byteLength: 100_000 }],
      images,
    });
    const taken = picturesIn(bytes);
    expect(taken.reduce((sum, one) => sum + one.bytes.length, 0)).toBeLessThanOrEqual(bytes.length);
  });
});
