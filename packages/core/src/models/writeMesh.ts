/** A subject's model as glTF 2.0 and OBJ: a node or group for each part, a material for each sheet. */
import { Document, NodeIO } from '@gltf-transform/core';
import { heldIn } from '../held.ts';
import type { Template } from '../livery/template.ts';

/** What writing a model needs of a template. */
type Wearing = Pick<Template, 'name' | 'sheets' | 'parts' | 'mesh'>;

/** Material of parts that wear no sheet. */
const UNPAINTED = 'unpainted';

/** Binary glTF 2.0; materials are called by the keys of their sheets. */
export async function writeGlb(subject: Wearing): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene(subject.name);
  const accessor = (type: 'VEC2' | 'VEC3' | 'SCALAR', array: Float32Array | Uint32Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const materials = new Map(
    [...subject.sheets.map((s) => s.key), UNPAINTED].map((key) => [key, document.createMaterial(key)]),
  );
  const { positions, normals, uvs, indices } = subject.mesh;
  const position = accessor('VEC3', Float32Array.from(positions));
  const normal = accessor('VEC3', Float32Array.from(normals));
  const uv = accessor('VEC2', Float32Array.from(uvs));
  for (const { name, sheet, first, count } of subject.parts) {
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', position)
      .setAttribute('NORMAL', normal)
      .setAttribute('TEXCOORD_0', uv)
      .setIndices(accessor('SCALAR', Uint32Array.from(indices.slice(first * 3, (first + count) * 3))))
      .setMaterial(heldIn(materials, sheet ?? UNPAINTED));
    scene.addChild(document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive)));
  }
  return new NodeIO().writeBinary(document);
}

/** Wavefront OBJ with v up, as it has it; `usemtl` names the sheet. */
export function writeObj(subject: Wearing): string {
  const { positions, normals, uvs, indices } = subject.mesh;
  const lines = [`# ${subject.name}, metres, y up`];
  for (let i = 0; i < positions.length; i += 3) lines.push(`v ${positions[i]} ${positions[i + 1]} ${positions[i + 2]}`);
  for (let i = 0; i < uvs.length; i += 2) lines.push(`vt ${uvs[i]} ${Number((1 - uvs[i + 1]).toFixed(6))}`);
  for (let i = 0; i < normals.length; i += 3) lines.push(`vn ${normals[i]} ${normals[i + 1]} ${normals[i + 2]}`);
  for (const part of subject.parts) {
    lines.push(`g ${part.key}`, `usemtl ${part.sheet ?? UNPAINTED}`);
    for (let k = part.first; k < part.first + part.count; k++) {
      const corners = [0, 1, 2].map((c) => indices[k * 3 + c] + 1);
      lines.push(`f ${corners.map((v) => `${v}/${v}/${v}`).join(' ')}`);
    }
  }
  return lines.join('\n') + '\n';
}
