/**
 * Damaged and hostile layered files, archives, models and drawings: each is read or refused in one sentence, at once and without much
 * memory. `npm run fuzz` runs this for long.
 */
import fc from '../testing/property.ts';
import { strToU8, zipSync } from 'fflate';
import { beforeAll, describe, expect, test } from 'vitest';
import { InputError } from '../errors.ts';
import { compositeLayered } from '../layered/composite.ts';
import { nodesIn } from '../layered/layered.ts';
import { layersOf } from '../layered/layersOf.ts';
import { readOra } from '../layered/ora.ts';
import { readPsd } from '../layered/psd.ts';
import { proposeRoles } from '../intake/layerRoles.ts';
import { damage, damaged } from '../testing/damage.ts';
import { grey, pixels, readPng, writePsd } from '../testing/layeredFiles.ts';
import { layerOf, sourcesFor, smallLivery, smallTemplate } from '../testing/scenes.ts';
import { islandsOf } from '../surface/islands.ts';
import { examineLayout } from '../surface/layout.ts';
import { PNG } from 'pngjs';
import { readGltf } from '../models/gltf.ts';
import { subjectOf } from '../models/mesh.ts';
import { readObj } from '../models/obj.ts';
import { packKit } from '../kit/kit.ts';
import { readKit, writeKit } from './kit.ts';
import { sha256 } from './sha256.ts';
import { packPixels } from './pixels.ts';
import { readTemplatePackage, writeTemplatePackage } from './templatePackage.ts';
import { readSvg } from './svg.ts';
import { isZip, openZip, replaceEntry, searchZip } from './zip.ts';

const RUNS = Number(process.env.FUZZ_RUNS ?? 150);
/** What a file of a few kilobytes may cost at most. A layered one may declare a canvas of its own size. */
const [MEMORY, SECONDS] = [3 * 1024 * 1024 * 1024, 5];

const SIDE = 24;
const image = pixels(SIDE, SIDE, (x, y) => [x * 10, y * 10, 90, 40 + x * 8]);
const psd = () =>
  writePsd(
    [
      { name: 'ground', imageData: image },
      {
        name: 'group',
        blendMode: 'pass through',
        children: [
          {
            name: 'masked',
            imageData: image,
            left: 5,
            mask: { left: 0, top: 0, right: 8, bottom: 8, imageData: grey(8, 8, (x) => x * 30) },
          },
          { name: 'clipped', imageData: image, clipping: true, blendMode: 'multiply' },
        ],
      },
    ],
    SIDE,
    SIDE,
  );
const png = () => {
  const made = new PNG({ width: SIDE, height: SIDE });
  made.data = Buffer.from(image.data);
  return new Uint8Array(PNG.sync.write(made));
};
const stack = `<image w="${SIDE}" h="${SIDE}"><stack><stack name="g" isolation="auto"><layer name="a" src="data/a.png" x="3" opacity="0.5"/></stack><layer name="b" src="data/a.png" composite-op="svg:screen"/></stack></image>`;
const ora = () =>
  zipSync(
    {
      mimetype: strToU8('image/openraster'),
      'stack.xml': strToU8(stack),
      'data/a.png': png(),
      'mergedimage.png': png(),
    },
    { level: 0 },
  );
const obj = strToU8(
  'o board\nusemtl hull\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nvn 0 0 1\nf 1/1/1 2/2/1 3/3/1 4/4/1\n',
);

/** A small GLB of one triangle, written by hand (glTF 2.0, 4: binary buffer layout). */
function glb(): Uint8Array {
  const numbers = new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 1]);
  const json = JSON.stringify({
    asset: { version: '2.0' },
    buffers: [{ byteLength: 60 }],
    bufferViews: [
      { buffer: 0, byteOffset: 0, byteLength: 36 },
      { buffer: 0, byteOffset: 36, byteLength: 24 },
    ],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 0] },
      { bufferView: 1, componentType: 5126, count: 3, type: 'VEC2' },
    ],
    materials: [{ name: 'hull' }],
    meshes: [{ name: 'm', primitives: [{ attributes: { POSITION: 0, TEXCOORD_0: 1 }, material: 0 }] }],
    nodes: [{ mesh: 0 }],
    scenes: [{ nodes: [0] }],
  });
  const text = strToU8(json.padEnd(Math.ceil(json.length / 4) * 4));
  const out = new Uint8Array(12 + 8 + text.length + 8 + 60);
  const view = new DataView(out.buffer);
  [0x46546c67, 2, out.length, text.length, 0x4e4f534a].forEach((v, i) => view.setUint32(i * 4, v, true));
  out.set(text, 20);
  view.setUint32(20 + text.length, 60, true);
  view.setUint32(24 + text.length, 0x004e4942, true);
  out.set(new Uint8Array(numbers.buffer), 28 + text.length);
  return out;
}

const layered = (file: Awaited<ReturnType<typeof readOra>>) => {
  // A changed header may declare a large canvas: what is drawn of it is not the question here.
  if (file.width * file.height > 1 << 20) return;
  proposeRoles(file);
  compositeLayered(file);
  layersOf(file.nodes, file, () => true);
  nodesIn(file.nodes);
};
const model = (read: Awaited<ReturnType<typeof readGltf>>) => {
  const subject = subjectOf(read, 64);
  examineLayout(subject, islandsOf(subject));
};
/** A package of one quad, with an original. */
async function pack(): Promise<Uint8Array> {
  const original = { width: SIDE, height: SIDE, data: new Uint8Array(image.data) };
  const packed = packPixels(original);
  const blob = await sha256(packed);
  const layer = layerOf('picture', { blob, left: 0, top: 0, width: SIDE, height: SIDE });
  const template = { ...smallTemplate(), begin: { face: [layer] } };
  const write = async () => png();
  return writeTemplatePackage(template, new Map([[blob, packed]]), write);
}
const packed = await pack();

const FILES: [string, Uint8Array, (bytes: Uint8Array) => unknown][] = [
  ['PSD', psd(), (bytes) => layered(readPsd(bytes))],
  ['OpenRaster', ora(), async (bytes) => layered(await readOra(bytes, (b) => readPng(b).catch(() => refuse())))],
  ['GLB', glb(), async (bytes) => model(await readGltf(bytes))],
  ['kit', writeKit({ parcel: packKit(smallLivery([]), smallTemplate()), blobs: new Map(), borrowed: [] }), readKit],
  ['template package', packed, (bytes) => readTemplatePackage(bytes, (b) => readPng(b).catch(() => refuse()))],
  ['OBJ', obj, (bytes) => model(readObj(bytes))],
  [
    'SVG',
    strToU8('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 8 8"><path d="M0 0h8v8z" fill="#f00"/></svg>'),
    (bytes) => readSvg(new TextDecoder().decode(bytes)),
  ],
  [
    'an archive in an archive',
    zipSync({ 'in.bale': zipSync({ 'coat.tga': new Uint8Array(90) }), 'read.me': strToU8('x'.repeat(300)) }),
    (bytes) => {
      isZip(bytes);
      searchZip(bytes, (name) => name.endsWith('.tga'));
      for (const { name, folder } of openZip(bytes).entries) if (!folder) replaceEntry(bytes, name, new Uint8Array(5));
    },
  ],
];
function refuse(): never {
  throw new InputError('The picture is damaged.');
}

beforeAll(async () => {
  // Starts the rasteriser of drawings.
  await sourcesFor(smallLivery([]), smallTemplate());
});

describe('damaged in up to four places', () => {
  test.each(FILES)('%s', async (_name, file, read) => {
    await read(file);
    await fc.assert(
      fc.asyncProperty(fc.array(damage, { minLength: 1, maxLength: 4 }), async (all) => {
        const bytes = damaged(file, all);
        const [before, began] = [process.memoryUsage().arrayBuffers, performance.now()];
        try {
          await read(bytes);
        } catch (error) {
          expect(error).toBeInstanceOf(InputError);
          expect((error as Error).message).toMatch(/^["A-Z0-9][^\n]*\.$/);
        }
        expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(MEMORY);
        expect(performance.now() - began).toBeLessThan(SECONDS * 1000);
      }),
      { numRuns: RUNS },
    );
  });
});

test.each(FILES)('%s, cut off anywhere', async (_name, file, read) => {
  for (let length = 0; length < file.length; length += Math.max(1, file.length >> 7)) {
    try {
      await read(file.subarray(0, length));
    } catch (error) {
      expect(error).toBeInstanceOf(InputError);
    }
  }
});

test.each([
  ['a vertex that is no number', 'v nan 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nf 1/1 2/1 3/1\n'],
  ['an index in the billions', 'v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nf 1/1 2/1 4000000000/1\n'],
  ['an index before the first', 'v 0 0 0\nvt 0 0\nf -9/1 1/1 1/1\n'],
])(
  'an OBJ with %s is read as far as it goes or refused, and never a mesh with numbers that are none',
  (_what, text) => {
    try {
      const { mesh } = readObj(strToU8(text));
      for (const value of [...mesh.positions, ...mesh.uvs, ...mesh.normals]) expect(Number.isFinite(value)).toBe(true);
      for (const index of mesh.indices) expect(index).toBeLessThan(mesh.positions.length / 3);
    } catch (error) {
      expect(error).toBeInstanceOf(InputError);
    }
  },
);
