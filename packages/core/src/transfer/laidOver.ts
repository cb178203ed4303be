/** Two models in one place, to look at; and how they lie over each other by places that somebody paired. */
import type { MeshData, Subject, Template, TemplatePart } from '../livery/template.ts';
import type { Vec } from '../surface/vectors.ts';
import { overlayOf, type Fit } from './fit.ts';
import { byValue, eigenOf } from '../surface/eigen.ts';
import { applied, degreesOf, turnOf, turnOfDegrees } from './linear.ts';
import { onNew } from './overlay.ts';

/** Both models as one, the old one first and where a fit lays it; in plain colours, `#rrggbb`; null leaves one out. */
export function laidOver(
  old: Subject,
  now: Subject,
  fit: Pick<Fit, 'turn' | 'scale' | 'shift'>,
  hexes: { old: string | null; now: string | null },
): Pick<Template, 'mesh' | 'parts'> {
  const mesh: MeshData = { positions: [], normals: [], uvs: [], indices: [] };
  const parts: TemplatePart[] = [];
  const add = (of: Subject, side: string, hex: string | null, at: (o: number) => Vec, facing: (o: number) => Vec) => {
    if (hex === null) return;
    const base = mesh.positions.length / 3;
    const first = mesh.indices.length / 3;
    for (let o = 0; o < of.mesh.positions.length; o += 3) {
      mesh.positions.push(...at(o));
      mesh.normals.push(...facing(o));
    }
    for (const value of of.mesh.uvs) mesh.uvs.push(value);
    for (const index of of.mesh.indices) mesh.indices.push(index + base);
    for (const part of of.parts)
      parts.push({ ...part, key: `${side}${part.key}`, sheet: null, hex, first: part.first + first });
  };
  const overlay = overlayOf(fit);
  const { positions, normals } = now.mesh;
  add(
    old,
    'old/',
    hexes.old,
    (o) => onNew(overlay, old.mesh.positions, o),
    (o) => applied(overlay.turn, old.mesh.normals, o),
  );
  add(
    now,
    'now/',
    hexes.now,
    (o) => [positions[o], positions[o + 1], positions[o + 2]],
    (o) => [normals[o], normals[o + 1], normals[o + 2]],
  );
  return { mesh, parts };
}

/** A place of the old model, in its own metres, and the one of the new model that it corresponds to. */
export interface PlacePair {
  old: Vec;
  now: Vec;
}

/**
 * The old model laid so that paired places lie on each other as well as they can: one moves it, two size it, three turn it
 * (Horn, "Closed-form solution of absolute orientation using unit quaternions", 1987).
 */
export function layByPairs(fit: Fit, pairs: readonly PlacePair[]): Fit {
  if (pairs.length === 0) return fit;
  const mean = (of: (pair: PlacePair) => Vec): Vec =>
    [0, 1, 2].map((c) => pairs.reduce((sum, pair) => sum + of(pair)[c], 0) / pairs.length) as unknown as Vec;
  const [from, to] = [mean(({ old }) => old), mean(({ now }) => now)];
  const apart = (p: Vec, q: Vec): Vec => [p[0] - q[0], p[1] - q[1], p[2] - q[2]];
  const spread = (of: (pair: PlacePair) => Vec, about: Vec) =>
    pairs.reduce((sum, pair) => sum + apart(of(pair), about).reduce((all, v) => all + v * v, 0), 0);
  const [wide, wider] = [spread(({ old }) => old, from), spread(({ now }) => now, to)];
  const scale = pairs.length > 1 && wide > 0 && wider > 0 ? Math.sqrt(wider / wide) : fit.scale;
  const turn = pairs.length > 2 ? (turnBetween(pairs, from, to) ?? turnOfDegrees(fit.turn)) : turnOfDegrees(fit.turn);
  const [x, y, z] = applied(turn, from);
  return { ...fit, turn: degreesOf(turn), scale, shift: [to[0] - x * scale, to[1] - y * scale, to[2] - z * scale] };
}

function turnBetween(pairs: readonly PlacePair[], from: Vec, to: Vec): number[] | null {
  const s = [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) => pairs.reduce((sum, { old, now }) => sum + (old[i] - from[i]) * (now[j] - to[j]), 0)),
  );
  const [[xx, xy, xz], [yx, yy, yz], [zx, zy, zz]] = s;
  const eigen = eigenOf([
    [xx + yy + zz, yz - zy, zx - xz, xy - yx],
    [yz - zy, xx - yy - zz, xy + yx, zx + xz],
    [zx - xz, xy + yx, yy - xx - zz, yz + zy],
    [xy - yx, zx + xz, yz + zy, zz - xx - yy],
  ]).sort(byValue);
  // Places on one line leave a turn about it open.
  return eigen[0].value - eigen[1].value > 1e-9 * Math.abs(eigen[0].value) ? turnOf(eigen[0].vector) : null;
}
