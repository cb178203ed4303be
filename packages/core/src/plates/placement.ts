/** Where plates stand, as a game writes it. */
import { slugOf } from '../livery/slug.ts';
import type { Livery } from '../livery/livery.ts';
import type { Plate } from '../livery/plate.ts';
import type { Axis, PlateTurn, SpecPlates } from '../livery/specPlates.ts';
import type { Template } from '../livery/template.ts';
import { partOfTriangle } from '../surface/locate.ts';
import { REACH, standingPlates, type StandingPlate } from './panel.ts';
import { surfaceUnder, treeOf } from '../surface/rays.ts';

/** Three columns of three numbers. */
type Matrix = readonly [readonly number[], readonly number[], readonly number[]];

const METRES = { m: 1, cm: 100, mm: 1000 } as const;

/** A place or direction in the game's axes. */
const inAxes = (axes: readonly Axis[], v: readonly number[]): number[] =>
  axes.map((axis) => v['xyz'.indexOf(axis.at(-1)!)] * (axis.length > 1 ? -1 : 1) || 0);

/** A plate's turn in the game's axes: what a plate that is not turned has to do. */
export function turnOf({ axes }: StandingPlate, to: readonly Axis[]): Matrix {
  // The columns in the game's axes, of a plate whose own axes are named as the game names the model's.
  const columns = [axes.right, axes.up, axes.out].map((column) => inAxes(to, column));
  const out: number[][] = [];
  for (const axis of to) {
    const from = columns['xyz'.indexOf(axis.at(-1)!)];
    out.push(from.map((v) => (axis.length > 1 ? -v : v)));
  }
  return out as unknown as Matrix;
}

/** A turn in the numbers that a game writes. @param m its columns are where x, y and z go; a turn, not a mirror */
export function turnNumbers(m: Matrix, turn: PlateTurn): number[] {
  const at = (row: number, column: number) => m[column][row];
  switch (turn.as) {
    case 'matrix': {
      const columns = m.flatMap((column) => [...column]);
      return turn.order === 'columns' ? columns : [0, 1, 2].flatMap((row) => m.map((column) => column[row]));
    }
    case 'quaternion': {
      const [x, y, z, w] = quaternion(m);
      return turn.order === 'xyzw' ? [x, y, z, w] : [w, x, y, z];
    }
    case 'angles': {
      // m is the turn about the first axis times that about the second times that about the third.
      const [i, j, k] = [...turn.order].map((axis) => 'xyz'.indexOf(axis));
      const sign = (j - i + 3) % 3 === 1 ? 1 : -1;
      const level = Math.hypot(at(i, i), at(i, j));
      const angles = [0, 0, 0];
      angles[j] = Math.atan2(sign * at(i, k), level);
      // Turned a quarter about the second axis, the first and the third are one.
      if (level > 1e-9) {
        angles[i] = Math.atan2(-sign * at(j, k), at(k, k));
        angles[k] = Math.atan2(-sign * at(i, j), at(i, i));
      } else angles[i] = Math.atan2(sign * at(k, j), at(j, j));
      return angles.map((v) => (turn.unit === 'degrees' ? (v * 180) / Math.PI : v));
    }
  }
}

/** Shepperd, "Quaternion from rotation matrix", 1978: by the largest of the four. */
export function quaternion(m: Matrix): [number, number, number, number] {
  const [[xx, yx, zx], [xy, yy, zy], [xz, yz, zz]] = m;
  const trace = xx + yy + zz;
  const most = Math.max(trace, xx, yy, zz);
  const q: [number, number, number, number] =
    most === trace
      ? [zy - yz, xz - zx, yx - xy, 1 + trace]
      : most === xx
        ? [1 + xx - yy - zz, xy + yx, xz + zx, zy - yz]
        : most === yy
          ? [xy + yx, 1 + yy - xx - zz, yz + zy, xz - zx]
          : [xz + zx, yz + zy, 1 + zz - xx - yy, yx - xy];
  const size = Math.hypot(...q) * (q[3] < 0 ? -1 : 1);
  return q.map((v) => v / size || 0) as [number, number, number, number];
}

/** The key of the partner of a plate. */
export const otherKey = (key: string): string => `${key}-other`;

/** Keys of plates: their names as files can have them, numbered where two are alike. */
export function plateKeys({ plates = [] }: Pick<Livery, 'plates'>): Map<Plate, string> {
  const keys = new Map<Plate, string>();
  const taken = new Set<string>();
  for (const plate of plates) {
    const own = slugOf(plate.name) || 'plate';
    let key = own;
    for (let n = 2; taken.has(key) || taken.has(otherKey(key)); n++) key = `${own}-${n}`;
    taken.add(key).add(otherKey(key));
    keys.set(plate, key);
  }
  return keys;
}

/** The part that the middle of a plate stands on; null: there is none behind it that can be painted. */
export function partUnder({ at, axes, across, tall }: StandingPlate, template: Template) {
  const found = surfaceUnder(treeOf(template), at, axes.out, REACH * Math.max(across, tall));
  return found && partOfTriangle(template, found.triangle);
}

/** The texture that a plate's picture is in, and whether it is the whole of it. */
export interface PlateFile {
  name: string;
  own: boolean;
}

/** Whether a plate goes out as a texture of its own. */
export const hasOwnTexture = ({ own }: Pick<Plate, 'own'>, { textures }: Pick<SpecPlates, 'textures'>): boolean =>
  textures === 'own' || (textures === 'either' && own === true);

/** As a text has it: a ten-thousandth of a millimetre or of a degree is nobody's. */
const rounded = (v: number): number => Number(v.toFixed(6)) || 0;

/**
 * What texts can say of the plates that stand on a model; see sidecarView.
 * @param files what each plate's picture is in; plates without one stay at home
 */
export function platesInText(
  livery: Livery,
  template: Template,
  spec: SpecPlates,
  files: ReadonlyMap<Plate, PlateFile>,
): object[] {
  const keys = plateKeys(livery);
  const by = METRES[spec.unit];
  return standingPlates(livery).flatMap((stands) => {
    const { plate, partner, at, across, tall, backwards } = stands;
    const file = files.get(plate);
    const sheet = template.sheets.find(({ key }) => key === plate.sheet);
    if (!file || !sheet) return [];
    const box = file.own
      ? { left: 0, top: 0, right: 1, bottom: 1 }
      : {
          left: plate.left / sheet.width,
          top: plate.top / sheet.height,
          right: (plate.left + plate.width) / sheet.width,
          bottom: (plate.top + plate.height) / sheet.height,
        };
    const [left, right] = backwards ? [box.right, box.left] : [box.left, box.right];
    const v = (down: number) => rounded(spec.fromBelow ? 1 - down : down);
    const [x, y, z] = inAxes(spec.axes, at).map((one) => rounded(one * by));
    const turn = turnNumbers(turnOf(stands, spec.axes), spec.turn).map(rounded);
    const key = keys.get(plate)!;
    const { form } = plate;
    return [
      {
        name: partner ? `${plate.name}, other side` : plate.name,
        key: partner ? otherKey(key) : key,
        partnerOf: partner ? key : '',
        group: plate.group ?? partUnder(stands, template)?.name ?? '',
        file: file.name,
        sheet: plate.sheet,
        ...{ left: rounded(left), right: rounded(right), top: v(box.top), bottom: v(box.bottom) },
        ...{ x, y, z, turn: turn.map((value, i) => ({ value, last: i === turn.length - 1 })) },
        ...{ across: rounded(across * by), tall: rounded(tall * by), lift: rounded(plate.lift * by) },
        form: form.kind,
        about: form.kind === 'bent' ? form.about : '',
        radius: form.kind === 'bent' ? rounded(form.radius * by) : 0,
        pieces: form.kind === 'bent' ? form.pieces : 1,
      },
    ];
  });
}
