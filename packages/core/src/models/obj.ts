/** Wavefront OBJ and MTL, through three.js's reader. */
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { InputError } from '../errors.ts';
import { MeshBuilder, type NamedTexture, type ReadMesh } from './mesh.ts';

/** Text of any of the encodings that programs write: UTF-8, UTF-16 with a mark or without, else Latin-1. */
export function textOf(bytes: Uint8Array): string {
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (a === 0xfe && b === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  const head = bytes.subarray(0, 64);
  const zeros = [0, 1].map((odd) => head.filter((value, i) => i % 2 === odd && value === 0).length);
  if (zeros[1] > head.length / 4) return new TextDecoder('utf-16le').decode(bytes);
  if (zeros[0] > head.length / 4) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('latin1').decode(bytes);
  }
}

/** Lines with their continuations joined, of any line end. */
const linesOf = (text: string): string[] => text.replace(/\\[ \t]*(\r\n|\n|\r)/g, ' ').split(/\r\n|\n|\r/);

/**
 * Only lines that say something of a mesh, faces only where their vertices are there: the library tells the console of every other one,
 * and makes triangles of what is not there.
 */
function checked(text: string): { text: string; said: string[] } {
  const counts = { v: 0, vt: 0, vn: 0 };
  const out: string[] = [];
  let [lost, points] = [0, 0];
  /** Where faces go to; null: none came yet. */
  let [group, material] = ['', ''];
  let withUvs: boolean | null = null;
  for (const raw of linesOf(text)) {
    const line = raw.trim();
    const space = line.search(/\s/);
    const key = space < 0 ? line : line.slice(0, space);
    const rest = space < 0 ? '' : line.slice(space).trim();
    switch (key) {
      case 'v':
      case 'vt':
      case 'vn':
        counts[key]++;
        // The library splits at single blanks; a texture coordinate may have one value only.
        out.push(`${key} ${numbersOf(rest, key === 'vt' ? 2 : 3)}`);
        break;
      case 'f':
      case 'fo': {
        const corners = rest.split(/\s+/).map((corner) => cornerOf(corner, counts));
        if (corners.length < 3 || corners.some((corner) => corner === null)) lost++;
        else {
          // All corners with UVs and normals, or none: a face is one or the other.
          const all = (k: number) => corners.every((corner) => corner![k] > 0);
          const [uv, normal] = [all(1), all(2)];
          // A mesh has UVs, or it has none: the library would give one point of the sheet to those without.
          if (withUvs !== null && withUvs !== uv) out.push(`g ${group}`, ...(material ? [`usemtl ${material}`] : []));
          withUvs = uv;
          out.push(
            `f ${corners.map((c) => (normal ? `${c![0]}/${uv ? c![1] : ''}/${c![2]}` : uv ? `${c![0]}/${c![1]}` : c![0])).join(' ')}`,
          );
        }
        break;
      }
      case 'p':
      case 'l':
        points++;
        break;
      case 'o':
      case 'g':
        group = rest;
        withUvs = null;
        out.push(`${key} ${rest}`);
        break;
      case 'usemtl':
        material = rest;
        out.push(`${key} ${rest}`);
        break;
      default:
    }
  }
  const said: string[] = [];
  if (lost > 0) said.push(`${lost} ${lost === 1 ? 'face points' : 'faces point'} at vertices that are not there.`);
  if (points > 0) said.push('Points and lines are left out: they carry no paint.');
  return { text: out.join('\n'), said };
}

function numbersOf(text: string, count: number): string {
  const values = text.split(/\s+/).slice(0, count);
  while (values.length < count) values.push('0');
  return values.join(' ');
}

/** The three indices of a corner, from 1; 0 where it has none, null where it points at nothing. Negative ones count from the last. */
function cornerOf(corner: string, counts: { v: number; vt: number; vn: number }): [number, number, number] | null {
  const parts = corner.split('/');
  const one = (text: string | undefined, count: number): number => {
    if (!text) return 0;
    const value = Number(text);
    if (!Number.isInteger(value)) return NaN;
    const index = value < 0 ? count + 1 + value : value;
    return index >= 1 && index <= count ? index : NaN;
  };
  const v = one(parts[0], counts.v);
  // A UV or a normal that is not there is none.
  const [vt, vn] = [one(parts[1], counts.vt) || 0, one(parts[2], counts.vn) || 0];
  return v >= 1 ? [v, vt, vn] : null;
}

/** Files of materials that an OBJ names, as it writes them. */
export const librariesOf = (bytes: Uint8Array): string[] =>
  linesOf(textOf(bytes)).flatMap((line) => {
    const found = /^\s*mtllib\s+(.+?)\s*$/.exec(line);
    return found ? [found[1].replaceAll('\\', '/')] : [];
  });

/**
 * Reads an OBJ; UVs are turned so that v points down, as in glTF.
 * @param materials what its MTL files say, read by {@link readMtl}
 * @throws InputError when there is nothing to paint
 */
export function readObj(bytes: Uint8Array, materials: readonly NamedTexture[] = []): ReadMesh {
  const { text, said } = checked(textOf(bytes));
  const build = new MeshBuilder();
  build.said.push(...said);
  new OBJLoader().parse(text).traverse((node) => {
    if (!('isMesh' in node) || !node.isMesh) return;
    const { geometry, material } = node as unknown as {
      geometry: {
        attributes: Record<string, { array: Float32Array } | undefined>;
        groups: { start: number; count: number; materialIndex?: number }[];
      };
      material: { name: string } | { name: string }[];
    };
    const { position, normal, uv } = geometry.attributes;
    if (!position) return;
    const list = Array.isArray(material) ? material : [material];
    const runs =
      geometry.groups.length > 0 && list.length > 1
        ? geometry.groups
        : [{ start: 0, count: position.array.length / 3 }];
    for (const run of runs) {
      const slice = (array: Float32Array | undefined, values: number) =>
        array && array.subarray(run.start * values, (run.start + run.count) * values);
      const uvs = slice(uv?.array, 2);
      build.add(node.name, list['materialIndex' in run ? (run.materialIndex ?? 0) : 0].name, {
        positions: slice(position.array, 3)!,
        normals: slice(normal?.array, 3) ?? null,
        uvs: uvs && uvs.length > 0 ? uvs.map((value, i) => (i % 2 ? 1 - value : value)) : null,
        indices: null,
      });
    }
  });
  const read = build.done();
  const worn = new Set(read.groups.map(({ material }) => material));
  const textures = materials.filter(({ material }) => worn.has(material));
  const none = { needs: [], scenes: [], scene: 0, uvSets: {}, oriented: false };
  return { ...read, textures, said: build.said, ...none };
}

const MAPS: Record<string, NamedTexture['map']> = {
  map_kd: 'colour',
  map_bump: 'normal',
  bump: 'normal',
  norm: 'normal',
  map_kn: 'normal',
  map_ks: 'specular',
  map_ns: 'specular',
  map_ke: 'night',
  map_d: 'alpha',
  map_pr: 'packed',
  map_pm: 'packed',
  map_ao: 'occlusion',
  disp: 'height',
};
/** Options before a file's name, and how many values each takes. */
const OPTIONS: Record<string, number> = {
  ...{ '-blendu': 1, '-blendv': 1, '-boost': 1, '-mm': 2, '-o': 3, '-s': 3, '-t': 3, '-texres': 1, '-clamp': 1 },
  ...{ '-bm': 1, '-imfchan': 1, '-type': 1, '-cc': 1 },
};

/** Textures that an MTL file names, by material; paths as it writes them, with `/`. */
export function readMtl(bytes: Uint8Array): NamedTexture[] {
  const out: NamedTexture[] = [];
  let material: string | null = null;
  for (const line of linesOf(textOf(bytes))) {
    const [, key = '', rest = ''] = /^\s*(\S+)\s*(.*?)\s*$/.exec(line) ?? [];
    if (key.toLowerCase() === 'newmtl') material = rest;
    const map = MAPS[key.toLowerCase()];
    if (material === null || !map || !Object.hasOwn(MAPS, key.toLowerCase())) continue;
    const file = fileOf(rest);
    if (file && !out.some((one) => one.material === material && one.map === map)) out.push({ material, map, file });
  }
  return out;
}

/** The name at the end of a line of options; it may have blanks in it. */
function fileOf(text: string): string {
  let rest = text;
  for (;;) {
    const option = /^(-\S+)\s+/.exec(rest);
    if (!option || !Object.hasOwn(OPTIONS, option[1].toLowerCase())) break;
    rest = rest.slice(option[0].length);
    // -o, -s and -t take one to three numbers.
    const most = OPTIONS[option[1].toLowerCase()];
    for (let i = 0; i < most; i++) {
      const value = /^(\S+)\s+/.exec(rest);
      if (!value || (most === 3 && i > 0 && !/^[-+.\d]/.test(value[1]))) break;
      rest = rest.slice(value[0].length);
    }
  }
  return rest.replace(/^"(.*)"$/, '$1').replaceAll('\\', '/');
}

/** @throws InputError when it is no MTL */
export function checkMtl(bytes: Uint8Array): NamedTexture[] {
  const found = readMtl(bytes);
  if (found.length === 0 && !/^\s*newmtl\s/m.test(textOf(bytes)))
    throw new InputError('This MTL file names no material.');
  return found;
}
