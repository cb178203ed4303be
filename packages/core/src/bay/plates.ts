/**
 * Plates as Longhaul reads them: `plates.json` lists each with its texture (BC3, legacy header, all mip levels), the window of it, and where it
 * stands: centimetres, x forward, y to port, z up; degrees, turned about z, then y, then x. A plate that is not turned stands upright, its
 * right forward, and looks to starboard.
 */
import { z } from 'zod';
import { difference, isNearMiss } from './names.ts';
import { notShown, readDds, shownSheet } from './dds.ts';
import type { BayModel, BayPlate, BayReport, BaySheet, GameFolder } from './report.ts';

/** No plate is larger, or farther away: centimetres. */
const FAR = 2000;
const MOST = 40;
const PIECES = 64;
/** How deep a plate may lie in the body, metres. */
const DEEPEST = 0.002;

const far = z.number().min(-FAR).max(FAR);
const share = z.number().min(0).max(1);
const File = z.strictObject({ plates: z.array(z.unknown()) });
const Plate = z.strictObject({
  name: z.string().min(1).max(100),
  group: z.string().max(100),
  partner_of: z.string().max(100),
  texture: z.string().min(1).max(200),
  window: z.tuple([share, share, share, share]),
  position: z.tuple([far, far, far]),
  turn: z.tuple([z.number().min(-360).max(360), z.number().min(-360).max(360), z.number().min(-360).max(360)]),
  scale: z.tuple([z.number().positive().max(FAR), z.number().positive().max(FAR)]),
  bend: z.strictObject({
    about: z.enum(['', 'up', 'across']),
    radius: z.number(),
    pieces: z.number().int().min(1).max(PIECES),
  }),
});
type Plate = z.infer<typeof Plate>;

type Three = readonly [number, number, number];

/** Reads the plates that a wagon names into its report. @param model the game's own, in whose body no plate may lie; null: it is not at hand */
export function readPlates(
  folder: GameFolder,
  root: string,
  names: readonly string[],
  model: BayModel | null,
  report: BayReport,
  used: Set<string>,
): void {
  const ignore = (why: string) => report.ignored.push({ file: 'plates.json', why });
  used.add('plates.json');
  const bytes = folder.get(`${root}plates.json`);
  if (!bytes) {
    const close = names.find((name) => isNearMiss('plates.json', name));
    const why = close ? `there is ${close}, but ${difference('plates.json', close)}` : 'it is not there';
    return void ignore(`wagon.xml → plates.json: ${why}; the wagon has no plates.`);
  }
  let listed: unknown[];
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    const read = File.safeParse(JSON.parse(text));
    if (!read.success) return void ignore('Ignored: it is no list of "plates".');
    listed = read.data.plates;
  } catch (error) {
    return void ignore(`Ignored: it is not JSON (${(error as Error).message.split('\n')[0]}).`);
  }
  report.loaded.push('plates.json');
  if (listed.length > MOST) ignore(`The wagon takes ${MOST} plates; of ${listed.length} the first ${MOST} are read.`);
  const plates: Plate[] = [];
  listed.slice(0, MOST).forEach((one, i) => {
    const read = Plate.safeParse(one);
    if (read.success) plates.push(read.data);
    else {
      const [issue] = read.error.issues;
      ignore(`Plate ${i + 1} is refused: ${issue.path.join('.') || 'it'}: ${issue.message}.`);
    }
  });
  const body = model && bodyOf(model);
  const textures = new Map<string, BaySheet>();
  const seen = new Set<string>();
  const every = new Set(plates.map(({ name }) => name));
  for (const plate of plates) {
    const texture = textures.get(plate.texture) ?? textureOf(folder, root, plate.texture, names);
    textures.set(plate.texture, texture);
    used.add(plate.texture);
    const mesh = meshOf(plate);
    const why = ((): string => {
      if (seen.has(plate.name)) return 'Refused: a plate before it has the same name.';
      if (texture.status !== 'shown') return texture.why;
      if (plate.window[0] === plate.window[2] || plate.window[1] === plate.window[3])
        return 'Refused: its window of the texture has no size.';
      if (plate.window[1] > plate.window[3]) return 'Refused: its window of the texture is upside down.';
      if (plate.partner_of !== '' && (plate.partner_of === plate.name || !every.has(plate.partner_of)))
        return `Refused: it is the partner of "${plate.partner_of}", which is not among the plates.`;
      const length = plate.bend.about === 'up' ? plate.scale[0] : plate.scale[1];
      if (plate.bend.about !== '' && length > Math.abs(plate.bend.radius) * 2 * Math.PI)
        return 'Refused: it is bent more than once round itself.';
      const deep = body ? deepest(mesh, body) : 0;
      if (deep > DEEPEST) return `Refused: it cuts ${Math.round(deep * 1000)} mm into the body.`;
      return '';
    })();
    seen.add(plate.name);
    report.plates.push({
      ...{ name: plate.name, file: plate.texture, mesh, why },
      status: why === '' ? 'shown' : 'refused',
    });
  }
  report.plateTextures.push(...textures.values());
  report.loaded.push(...[...textures.values()].filter(({ status }) => status === 'shown').map(({ file }) => file));
  const shown = report.plates.filter(({ status }) => status === 'shown').length;
  report.facts.push({ label: 'plates', value: `${shown} of ${listed.length}` });
}

function textureOf(folder: GameFolder, root: string, file: string, names: readonly string[]): BaySheet {
  const bytes = folder.get(root + file);
  if (!bytes) {
    const close = names.find((name) => isNearMiss(file, name));
    const why = close ? `there is ${close}, but ${difference(file, close)}` : 'it is not there';
    return notShown(file, file, 'missing', `plates.json → ${file}: ${why}.`);
  }
  const read = readDds(bytes, { format: 'BC3', header: 'legacy' });
  if (typeof read === 'string') return notShown(file, file, 'refused', read);
  const [{ width, height }] = read.levels;
  if (width % 4 || height % 4)
    return notShown(file, file, 'refused', `The file is ${width} x ${height}; sides are multiples of four.`);
  return shownSheet(file, file, read.levels);
}

/** Corners of a plate in the model's own axes and metres: x forward, y up, z to starboard. */
function meshOf({ position, turn, scale, bend, window }: Plate): BayPlate['mesh'] {
  const [cx, cy, cz] = turn.map((degrees) => Math.cos((degrees * Math.PI) / 180));
  const [sx, sy, sz] = turn.map((degrees) => Math.sin((degrees * Math.PI) / 180));
  /** About x first, then y, then z: each about the axis where the game has it. */
  const turned = ([x, y, z]: Three): Three => {
    const [x1, y1, z1] = [x, y * cx - z * sx, y * sx + z * cx];
    const [x2, z2] = [x1 * cy + z1 * sy, -x1 * sy + z1 * cy];
    return [x2 * cz - y1 * sz, x2 * sz + y1 * cz, z2];
  };
  const toModel = ([x, y, z]: Three): Three => [x / 100, z / 100, -y / 100];
  const [wide, tall] = scale;
  const [columns, rows] = [bend.about === 'up' ? bend.pieces : 1, bend.about === 'across' ? bend.pieces : 1];
  const mesh: BayPlate['mesh'] = { positions: [], normals: [], uvs: [], indices: [] };
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) {
      const [u, v] = [i / columns, j / rows];
      const along = bend.about === 'up' ? (u - 0.5) * wide : (0.5 - v) * tall;
      const angle = bend.about === '' ? 0 : along / bend.radius;
      const [aside, out] =
        bend.about === '' ? [0, 0] : [bend.radius * Math.sin(angle), bend.radius * (Math.cos(angle) - 1)];
      const right = bend.about === 'up' ? aside : (u - 0.5) * wide;
      const up = bend.about === 'across' ? aside : (0.5 - v) * tall;
      // Its right is the game's x, its up z, and out is to starboard, against y.
      const place = turned([right, -out, up]);
      const [sine, cosine] = [Math.sin(angle), Math.cos(angle)];
      const normal = turned(
        bend.about === 'up' ? [sine, -cosine, 0] : bend.about === 'across' ? [0, -cosine, sine] : [0, -1, 0],
      );
      mesh.positions.push(...toModel([place[0] + position[0], place[1] + position[1], place[2] + position[2]]));
      mesh.normals.push(...toModel(normal).map((n) => n * 100));
      mesh.uvs.push(window[0] + (window[2] - window[0]) * u, window[1] + (window[3] - window[1]) * v);
    }
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const a = j * (columns + 1) + i;
      const under = a + columns + 1;
      mesh.indices.push(a, under, a + 1, a + 1, under, under + 1);
    }
  return mesh;
}

/** How many places along either side of a facet are looked at. */
const LOOKS = 4;

/** A model with the ball about each of its faces: four numbers a face. */
interface Body extends BayModel {
  balls: Float64Array;
}

function bodyOf(model: BayModel): Body {
  const { positions, indices } = model;
  const balls = new Float64Array((indices.length / 3) * 4);
  for (let face = 0; face < indices.length / 3; face++) {
    const [p, q, o] = [indices[face * 3] * 3, indices[face * 3 + 1] * 3, indices[face * 3 + 2] * 3];
    let most = 0;
    for (let k = 0; k < 3; k++) balls[face * 4 + k] = (positions[p + k] + positions[q + k] + positions[o + k]) / 3;
    for (const c of [p, q, o]) {
      const [x, y, z] = [0, 1, 2].map((k) => positions[c + k] - balls[face * 4 + k]);
      most = Math.max(most, x * x + y * y + z * z);
    }
    balls[face * 4 + 3] = Math.sqrt(most);
  }
  return { ...model, balls };
}

/** How deep a plate lies in the body at its deepest, metres: where the way out of it leads through the inside of a face. */
function deepest(plate: BayPlate['mesh'], body: Body): number {
  const { positions, normals, indices } = body;
  const at = (from: readonly number[], i: number): Three => [from[i * 3], from[i * 3 + 1], from[i * 3 + 2]];
  let deep = 0;
  for (let t = 0; t < plate.indices.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => at(plate.positions, plate.indices[t + k]));
    const out = at(plate.normals, plate.indices[t]);
    const before = facesBefore([a, b, c], out, body);
    for (let j = 0; j <= LOOKS; j++)
      for (let i = 0; i + j <= LOOKS; i++) {
        const [s, r] = [i / LOOKS, j / LOOKS];
        const from = a.map((v, k) => v + (b[k] - v) * s + (c[k] - v) * r) as unknown as Three;
        let nearest = FAR / 100;
        let inside = false;
        for (const face of before) {
          const [p, q, o] = [indices[face], indices[face + 1], indices[face + 2]];
          const hit = through(from, out, at(positions, p), at(positions, q), at(positions, o));
          if (hit === null || hit >= nearest) continue;
          nearest = hit;
          const looks = [0, 1, 2].map((k) => normals[p * 3 + k] + normals[q * 3 + k] + normals[o * 3 + k]);
          inside = looks[0] * out[0] + looks[1] * out[1] + looks[2] * out[2] > 0;
        }
        if (inside) deep = Math.max(deep, nearest);
      }
  }
  return deep;
}

/** Faces that some ray from a facet along a direction can meet: those whose ball comes near its axis. Their first corners. */
function facesBefore(facet: readonly Three[], [ox, oy, oz]: Three, { balls }: Body): number[] {
  const [mx, my, mz] = [0, 1, 2].map((k) => (facet[0][k] + facet[1][k] + facet[2][k]) / 3);
  const aside2 = (x: number, y: number, z: number) => {
    const along = (x - mx) * ox + (y - my) * oy + (z - mz) * oz;
    return (x - mx) ** 2 + (y - my) ** 2 + (z - mz) ** 2 - along * along;
  };
  const reach = Math.sqrt(Math.max(0, ...facet.map(([x, y, z]) => aside2(x, y, z))));
  const found: number[] = [];
  for (let k = 0; k < balls.length; k += 4) {
    const [x, y, z, size] = [balls[k], balls[k + 1], balls[k + 2], balls[k + 3]];
    const ahead = (x - mx) * ox + (y - my) * oy + (z - mz) * oz;
    if (ahead >= -reach - size && aside2(x, y, z) <= (reach + size) ** 2) found.push((k / 4) * 3);
  }
  return found;
}

/** How far along a direction a triangle is met; null: not ahead. By the volumes that the three edges make with the direction. */
function through([fx, fy, fz]: Three, [wx, wy, wz]: Three, a: Three, b: Three, c: Three): number | null {
  const [ax, ay, az] = [a[0] - fx, a[1] - fy, a[2] - fz];
  const [bx, by, bz] = [b[0] - fx, b[1] - fy, b[2] - fz];
  const [cx, cy, cz] = [c[0] - fx, c[1] - fy, c[2] - fz];
  const u = wx * (by * cz - bz * cy) + wy * (bz * cx - bx * cz) + wz * (bx * cy - by * cx);
  const v = wx * (cy * az - cz * ay) + wy * (cz * ax - cx * az) + wz * (cx * ay - cy * ax);
  if (u < 0 !== v < 0) return null;
  const w = wx * (ay * bz - az * by) + wy * (az * bx - ax * bz) + wz * (ax * by - ay * bx);
  const all = u + v + w;
  if (all === 0 || u < 0 !== w < 0) return null;
  const ahead =
    (u * (ax * wx + ay * wy + az * wz) + v * (bx * wx + by * wy + bz * wz) + w * (cx * wx + cy * wy + cz * wz)) / all;
  return ahead > 0 ? ahead : null;
}
