/** How well a plate fits what it stands on, and the bend that suits it. */
import type { Plate, PlateForm } from '../livery/plate.ts';
import type { Subject } from '../livery/template.ts';
import { direction, place } from '../projectors/place.ts';
import { diagonalOf } from '../surface/triangles.ts';
import { cross, minus, plus, unit, upright, type Vec } from '../surface/vectors.ts';
import { meshOfPlate, REACH, standing, type StandingPlate } from './panel.ts';
import { firstHit, surfaceUnder, treeOf, type ModelTree } from '../surface/rays.ts';

export interface PlateFit {
  /** The farthest that it stands off what is behind it, metres. */
  gap: number;
  /** The deepest that it lies in the model, metres. */
  cut: number;
  /** Shares of it, 0..1: behind which there is nothing, and before which something stands. */
  hangs: number;
  hidden: number;
}

/** Places along a plate's longer side that are looked at, about. */
const LOOKS = 24;
/** A plate is as far off the surface as that at least, metres: what lies in it flickers (common practice, no source). */
export const HAIR = 0.002;

/**
 * Measures a plate against the model, straight out of each of its facets: where that leads out of the model first, the facet lies in it.
 * @param subject metres; its normals say what is outside
 */
export function measurePlate(stands: StandingPlate, subject: Subject): PlateFit {
  const tree = treeOf(subject);
  const { columns, rows, positions } = meshOfPlate(stands, subject);
  const reach = REACH * Math.max(stands.across, stands.tall);
  const far = diagonalOf(subject.mesh);
  const at = (column: number, row: number): Vec => {
    const k = (row * columns + column) * 3;
    return [positions[k], positions[k + 1], positions[k + 2]];
  };
  const [across, down] = [columns - 1, rows - 1].map((many) => Math.max(2, Math.ceil(LOOKS / many)));
  const fit: PlateFit = { gap: 0, cut: 0, hangs: 0, hidden: 0 };
  let looks = 0;
  for (let row = 0; row + 1 < rows; row++)
    for (let column = 0; column + 1 < columns; column++) {
      const a = at(column, row);
      const b = at(column + 1, row);
      const c = at(column, row + 1);
      const d = at(column + 1, row + 1);
      // A facet is two triangles: the one at its first corner, the one at its last.
      const facets = [
        { from: a, right: minus(b, a), under: minus(c, a) },
        { from: d, right: minus(c, d), under: minus(b, d) },
      ].map((one) => ({ ...one, out: unit(cross(one.under, one.right)) }));
      for (let j = 0; j <= down; j++)
        for (let i = 0; i <= across; i++) {
          const last = i / across + j / down > 1;
          const { from, right, under, out } = facets[last ? 1 : 0];
          const [s, t] = last ? [1 - i / across, 1 - j / down] : [i / across, j / down];
          look(tree, plus(plus(from, right, s), under, t), out, { reach, far }, fit);
          looks++;
        }
    }
  return { ...fit, hangs: fit.hangs / looks, hidden: fit.hidden / looks };
}

/** The worst of a plate and of its partner, and whether that lies deeper in the model. */
export function measureBoth(plate: Plate, subject: Subject): PlateFit & { partnerDeeper: boolean } {
  const own = measurePlate(standing(plate), subject);
  const other = plate.partner ? measurePlate(standing(plate, true), subject) : own;
  return {
    gap: Math.max(own.gap, other.gap),
    cut: Math.max(own.cut, other.cut),
    hangs: Math.max(own.hangs, other.hangs),
    hidden: Math.max(own.hidden, other.hidden),
    partnerDeeper: other.cut > own.cut,
  };
}

/** @param most how far the surface is looked for, and the way out of the model: metres */
function look(tree: ModelTree, from: Vec, out: Vec, most: { reach: number; far: number }, fit: PlateFit): void {
  const { reach, far } = most;
  const before = firstHit(tree, from, out, far);
  if (before && !before.front) {
    fit.cut = Math.max(fit.cut, before.far);
    return;
  }
  if (before && before.far > HAIR && before.far < reach) fit.hidden++;
  const behind = firstHit(tree, from, [-out[0], -out[1], -out[2]], reach);
  if (behind?.front) fit.gap = Math.max(fit.gap, behind.far);
  else fit.hangs++;
}

/** How far a bent plate's pieces may be from the arc, metres; and how many there are at most. */
const SAGITTA = 0.0005;
const MOST_PIECES = 32;
/** Bends that are tried about the one that the surface seems to have. */
const TRIED = Array.from({ length: 21 }, (_, i) => 1.6 ** ((i - 10) / 10));
/** A bend is worth having from here, metres. */
const WORTH = 0.0005;

/**
 * The plate where it stands, turned to the surface, with the bend that fits it best and as far off that nothing of it lies in the model.
 * @returns what of it changes
 */
export function fitPlate(plate: Plate, subject: Subject): Pick<Plate, 'at' | 'facing' | 'up' | 'form' | 'lift'> {
  let turned: Plate = { ...plate, lift: 0, form: { kind: 'flat' } };
  for (let k = 0; k < 2; k++) turned = facing(turned, subject);
  const { curve } = surfaceBehind(turned, subject) ?? { curve: null };
  const { across, tall } = standing(turned);
  const forms: PlateForm[] = [{ kind: 'flat' }];
  if (curve)
    for (const [about, bend, length] of [
      ['up', curve.right, across],
      ['across', curve.up, tall],
    ] as const)
      for (const times of TRIED) {
        const radius = (-1 / (2 * bend)) * times;
        // Nearly straight, or bent round itself.
        if (!(Math.abs(radius) < 200 * length && Math.abs(radius) > length / (2 * Math.PI * 0.45))) continue;
        forms.push({ kind: 'bent', about, radius: Number(radius.toFixed(4)), pieces: piecesFor(length, radius) });
      }
  const worst = forms.map((form) => {
    const { gap, cut } = measurePlate(standing({ ...turned, form }), subject);
    return { form, off: gap + cut, cut };
  });
  const best = worst.reduce((a, b) => (b.off < a.off - WORTH ? b : a));
  const { at, facing: looks, up } = turned;
  return { at, facing: looks, up, form: best.form, lift: clearLift({ ...turned, form: best.form }, subject) };
}

/** Times that a plate is lifted out of what it lies in: behind one thing there may be another. */
const LIFTS = 6;

/** As far off that nothing of a plate lies in the model, metres; or as far as it can be told. */
export function clearLift(plate: Plate, subject: Subject): number {
  let lift = plate.lift;
  for (let k = 0; k < LIFTS; k++) {
    const { cut } = measurePlate(standing({ ...plate, lift }), subject);
    if (cut === 0 && lift >= HAIR) break;
    lift = Math.min(10, Math.ceil((lift + cut + HAIR) * 1e4 - 1e-6) / 1e4);
  }
  return lift;
}

/** Pieces with which a strip of a length is as good as its arc. */
function piecesFor(length: number, radius: number): number {
  const r = Math.abs(radius);
  const turn = 2 * Math.acos(Math.max(0, 1 - SAGITTA / r));
  return Math.min(MOST_PIECES, Math.max(2, Math.ceil(length / r / Math.max(turn, 1e-3))));
}

/** The plate turned so that it lies as the surface behind it does. */
function facing(plate: Plate, subject: Subject): Plate {
  const found = surfaceBehind(plate, subject);
  if (!found) return plate;
  const { axes } = standing(plate);
  const { rise, tilt } = found;
  const out = unit(plus(plus(axes.out, axes.right, -tilt.right), axes.up, -tilt.up));
  const at = place(plus(plate.at, axes.out, rise));
  return { ...plate, at, facing: direction(out), up: direction(upright(axes.up, out)) };
}

/** Places along either side at which the surface is looked for. */
const GRID = 17;

interface Behind {
  /** How far the surface rises over the plate's middle, how it leans, and how it bends: metres, metres a metre, and per metre. */
  rise: number;
  tilt: { right: number; up: number };
  curve: { right: number; up: number };
}

/** The surface behind a plate as one quadratic function of its plane, by least squares; null: too little of it is there. */
function surfaceBehind(plate: Plate, subject: Subject): Behind | null {
  const tree = treeOf(subject);
  const { at, axes, across, tall } = standing({ ...plate, lift: 0 });
  const reach = REACH * Math.max(across, tall);
  const rows: number[][] = [];
  for (let j = 0; j < GRID; j++)
    for (let i = 0; i < GRID; i++) {
      const [u, v] = [(i / (GRID - 1) - 0.5) * across, (j / (GRID - 1) - 0.5) * tall];
      const found = surfaceUnder(tree, plus(plus(at, axes.right, u), axes.up, v), axes.out, reach);
      // In halves of its sides, so that the numbers are alike.
      const [x, y] = [(2 * u) / across, (2 * v) / tall];
      if (found) rows.push([1, x, y, x * x, y * y, x * y, found.rise]);
    }
  if (rows.length < GRID * GRID * 0.3) return null;
  const found = leastSquares(rows);
  if (!found) return null;
  const [rise, b, c, d, e] = found;
  return {
    rise,
    tilt: { right: (2 * b) / across, up: (2 * c) / tall },
    curve: { right: (4 * d) / across ** 2, up: (4 * e) / tall ** 2 },
  };
}

/** The factors with which the first numbers of each row come nearest to its last; null: they do not tell. */
function leastSquares(rows: readonly (readonly number[])[]): number[] | null {
  const n = rows[0].length - 1;
  const m = Array.from({ length: n }, (_, i) =>
    Array.from({ length: n + 1 }, (_, j) => rows.reduce((sum, row) => sum + row[i] * row[j], 0)),
  );
  for (let k = 0; k < n; k++) {
    let pivot = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(m[i][k]) > Math.abs(m[pivot][k])) pivot = i;
    if (Math.abs(m[pivot][k]) < 1e-9) return null;
    [m[k], m[pivot]] = [m[pivot], m[k]];
    for (let i = 0; i < n; i++) {
      if (i === k) continue;
      const by = m[i][k] / m[k][k];
      for (let j = k; j <= n; j++) m[i][j] -= by * m[k][j];
    }
  }
  return m.map((row, k) => row[n] / row[k]);
}
