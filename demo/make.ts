/** Makes the demo world's files in demo/out/ from the scripts beside this one: `npm run demo`. */
import { Document, NodeIO } from '@gltf-transform/core';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { writeBundle, type Borrowed } from '../packages/core/src/files/bundle.ts';
import { SHIPPED_FONTS } from '../packages/core/src/livery/fonts.ts';
import type { Sha256 } from '../packages/core/src/livery/ids.ts';
import type { Template } from '../packages/core/src/livery/template.ts';
import { ebbline, lanternfish, ternTide } from './liveries.ts';
import { MARKS, markBytes } from './marks.ts';
import { hashOf } from './paint.ts';
import { turnstone } from './turnstone.ts';

const out = new URL('out/', import.meta.url);
mkdirSync(out, { recursive: true });
const save = (name: string, data: string | Uint8Array) => writeFileSync(new URL(name, out), data);

const template = turnstone();
save('turnstone.template.json', JSON.stringify(template));
save('turnstone.glb', await glbOf(template));
save('turnstone.obj', objOf(template));
save(
  'marks.json',
  JSON.stringify(
    MARKS.map((mark) => ({ ...mark, origin: 'Drawn for the demo world of Wet Lacquer', licence: 'CC0-1.0' })),
    null,
    1,
  ) + '\n',
);

const require = createRequire(import.meta.url);
const fontBytes = (key: string) => {
  const font = SHIPPED_FONTS.find((f) => f.key === key)!;
  const folder = path.dirname(require.resolve(`@fontsource/${font.package}/package.json`));
  return new Uint8Array(readFileSync(path.join(folder, `files/${font.package}-latin-${font.weight}-normal.woff`)));
};

for (const make of [ternTide, ebbline, lanternfish]) {
  const { painter, particulars, finish } = make();
  const draft = painter.livery(template, particulars, finish, {});
  const layers = draft.sheets.flatMap((sheet) => sheet.maps.flatMap((map) => map.layers));
  const fonts = new Map<string, Uint8Array>();
  const blobs = new Map<Sha256, Uint8Array>();
  for (const layer of layers) {
    if (layer.kind === 'lettering') fonts.set(layer.font, fontBytes(layer.font));
    if (layer.kind === 'decal')
      blobs.set(
        layer.blob,
        MARKS.map((mark) => markBytes(mark.file)).find((bytes) => hashOf(bytes) === layer.blob)!,
      );
  }
  const pins = { ...draft.pins, fonts: Object.fromEntries([...fonts].map(([key, bytes]) => [key, hashOf(bytes)])) };
  const borrowed: Borrowed[] = MARKS.filter((mark) => blobs.has(hashOf(markBytes(mark.file)))).map((mark) => ({
    blob: hashOf(markBytes(mark.file)),
    name: mark.name,
    origin: 'Drawn for the demo world of Wet Lacquer',
    licence: 'CC0-1.0',
  }));
  save(`${particulars.key}.livery`, writeBundle({ livery: { ...draft, pins }, template, blobs, fonts, borrowed }));
  console.log(`${particulars.key}: ${layers.length} layers`);
}

async function glbOf(t: Template): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene(t.name);
  const accessor = (type: 'VEC2' | 'VEC3' | 'SCALAR', array: Float32Array | Uint32Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const materials = new Map(
    [...t.sheets.map((s) => s.key), 'unpainted'].map((key) => [key, document.createMaterial(key)]),
  );
  const position = accessor('VEC3', Float32Array.from(t.mesh.positions));
  const normal = accessor('VEC3', Float32Array.from(t.mesh.normals));
  const uv = accessor('VEC2', Float32Array.from(t.mesh.uvs));
  for (const part of t.parts) {
    const indices = accessor(
      'SCALAR',
      Uint32Array.from(t.mesh.indices.slice(part.first * 3, (part.first + part.count) * 3)),
    );
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', position)
      .setAttribute('NORMAL', normal)
      .setAttribute('TEXCOORD_0', uv)
      .setIndices(indices)
      .setMaterial(materials.get(part.sheet ?? 'unpainted')!);
    scene.addChild(document.createNode(part.name).setMesh(document.createMesh(part.name).addPrimitive(primitive)));
  }
  return new NodeIO().writeBinary(document);
}

function objOf(t: Template): string {
  const { positions, normals, uvs, indices } = t.mesh;
  const lines = [`# ${t.name}, metres, y up`];
  for (let i = 0; i < positions.length; i += 3) lines.push(`v ${positions[i]} ${positions[i + 1]} ${positions[i + 2]}`);
  for (let i = 0; i < uvs.length; i += 2) lines.push(`vt ${uvs[i]} ${Number((1 - uvs[i + 1]).toFixed(6))}`);
  for (let i = 0; i < normals.length; i += 3) lines.push(`vn ${normals[i]} ${normals[i + 1]} ${normals[i + 2]}`);
  for (const part of t.parts) {
    lines.push(`g ${part.key}`, `usemtl ${part.sheet ?? 'unpainted'}`);
    for (let k = part.first; k < part.first + part.count; k++) {
      lines.push(
        'f ' +
          [0, 1, 2]
            .map((c) => indices[k * 3 + c] + 1)
            .map((v) => `${v}/${v}/${v}`)
            .join(' '),
      );
    }
  }
  return lines.join('\n') + '\n';
}
