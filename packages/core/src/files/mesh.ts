/** Models, through well-kept libraries: glTF 2.0 (GLB) and OBJ into plain triangles. */
import { WebIO, type Primitive } from '@gltf-transform/core';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { InputError } from '../errors.ts';
import { faceOf } from '../surface/islands.ts';
import type { MeshData, Subject } from '../livery/template.ts';

export interface ReadMesh {
  mesh: MeshData;
  /** Neighbouring triangles under one name, with the material that names their sheet. */
  groups: { name: string; material: string; first: number; count: number }[];
}

/** A read model as a subject whose sheets are its materials, square at a side of `side` texels. */
export function subjectOf({ mesh, groups }: ReadMesh, side = 2048): Subject {
  const materials = [...new Set(groups.map((group) => group.material))];
  return {
    mesh,
    sheets: materials.map((key) => ({ key, name: key, width: side, height: side, alpha: 'none', axis: null })),
    parts: groups.map(({ name, material, first, count }, i) => ({
      key: String(i),
      name,
      sheet: material,
      first,
      count,
      hex: null,
    })),
  };
}

const MAX_INDICES = 6_000_000;

/** Reads a GLB. @throws InputError when it is damaged or without UVs */
export async function readGlb(bytes: Uint8Array): Promise<ReadMesh> {
  let document;
  try {
    document = await new WebIO().readBinary(bytes);
  } catch {
    throw new InputError('This GLB file is damaged or not glTF 2.0.');
  }
  const build = new Builder();
  for (const mesh of document.getRoot().listMeshes()) {
    mesh
      .listPrimitives()
      .forEach((primitive) =>
        build.add(mesh.getName(), primitive.getMaterial()?.getName() ?? '', partsOf(primitive, mesh.getName())),
      );
  }
  return build.done();
}

function partsOf(primitive: Primitive, name: string) {
  const read = (semantic: string) => primitive.getAttribute(semantic)?.getArray() ?? null;
  const positions = read('POSITION');
  const uvs = read('TEXCOORD_0');
  if (!positions || !uvs) throw new InputError(`The mesh "${name}" has no ${positions ? 'UVs' : 'positions'}.`);
  return { positions, normals: read('NORMAL'), uvs, indices: primitive.getIndices()?.getArray() ?? null };
}

/** Only lines that say something of a mesh: the library tells the console of every other one, and a damaged file would flood a log. */
const meshLines = (text: string) =>
  text
    .replace(/\\\r?\n/g, '')
    .split(/\r?\n/)
    .filter((line) => /^\s*(v|vt|vn|f|o|g|usemtl|s)\s/.test(line))
    .join('\n');

/** Reads an OBJ; UVs are turned so that v points down, as in glTF. @throws InputError when there is nothing to paint */
export function readObj(text: string): ReadMesh {
  const build = new Builder();
  new OBJLoader().parse(meshLines(text)).traverse((node) => {
    if (!('isMesh' in node) || !node.isMesh) return;
    const { geometry, material } = node as unknown as {
      geometry: { attributes: Record<string, { array: ArrayLike<number> } | undefined> };
      material: { name: string } | { name: string }[];
    };
    const { position, normal, uv } = geometry.attributes;
    if (!position || !uv) throw new InputError(`The mesh "${node.name}" has no UVs.`);
    const uvs = Float32Array.from(uv.array, (value, i) => (i % 2 ? 1 - value : value));
    build.add(node.name, Array.isArray(material) ? material[0].name : material.name, {
      positions: position.array,
      normals: normal?.array ?? null,
      uvs,
      indices: null,
    });
  });
  return build.done();
}

class Builder {
  private readonly mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  private readonly groups: ReadMesh['groups'] = [];

  add(
    name: string,
    material: string,
    part: {
      positions: ArrayLike<number>;
      normals: ArrayLike<number> | null;
      uvs: ArrayLike<number>;
      indices: ArrayLike<number> | null;
    },
  ): void {
    const { mesh } = this;
    const vertices = part.positions.length / 3;
    const count = part.indices?.length ?? vertices;
    if (mesh.indices.length + count > MAX_INDICES)
      throw new InputError('This model has more than two million triangles.');
    const first = mesh.indices.length / 3;
    // Meshes of one file often share their vertices: only those that this one uses are taken.
    const taken = new Map<number, number>();
    const copy = (from: ArrayLike<number> | null, to: number[], at: number, values: number) => {
      for (let i = 0; i < values; i++) {
        const value = from ? from[at * values + i] : 0;
        if (!Number.isFinite(value))
          throw new InputError(`The mesh "${name}" holds a coordinate that is not a number.`);
        to.push(value);
      }
    };
    for (let i = 0; i < count - (count % 3); i++) {
      const index = part.indices ? part.indices[i] : i;
      if (index >= vertices)
        throw new InputError(`The mesh "${name}" points at vertex ${index}, but has only ${vertices}.`);
      let own = taken.get(index);
      if (own === undefined) {
        own = mesh.positions.length / 3;
        taken.set(index, own);
        copy(part.positions, mesh.positions, index, 3);
        copy(part.normals, mesh.normals, index, 3);
        copy(part.uvs, mesh.uvs, index, 2);
      }
      mesh.indices.push(own);
    }
    if (!part.normals) this.faceNormals(first);
    this.groups.push({ name, material, first, count: Math.floor(count / 3) });
  }

  /** Normals of triangles from `first` on, for meshes that come without: those of the faces around each vertex, by their size. */
  private faceNormals(first: number): void {
    const { mesh } = this;
    for (let t = first; t < mesh.indices.length / 3; t++) {
      const face = faceOf(mesh, t);
      for (let k = 0; k < 3; k++) for (let c = 0; c < 3; c++) mesh.normals[mesh.indices[t * 3 + k] * 3 + c] += face[c];
    }
    for (const v of new Set(mesh.indices.slice(first * 3))) {
      const n = mesh.normals.slice(v * 3, v * 3 + 3);
      const length = Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]) || 1;
      for (let c = 0; c < 3; c++) mesh.normals[v * 3 + c] = n[c] / length;
    }
  }

  done(): ReadMesh {
    if (this.groups.length === 0) throw new InputError('This model holds no mesh.');
    return { mesh: this.mesh, groups: this.groups };
  }
}
