/** Plates as triangles: where they stand, how they are bent, and what of their sheet they show. */
import type { Livery } from '../livery/livery.ts';
import { tallOf, type Plate, type PlateForm } from '../livery/plate.ts';
import type { Subject } from '../livery/template.ts';
import { nearestInside } from '../raster/nearest.ts';
import { cross, mirroredDirection, mirroredPlace, plus, unit, upright, type Vec } from '../surface/vectors.ts';
import { surfaceUnder, treeOf } from '../surface/rays.ts';

type Three = [number, number, number];

/** A plate's own axes, of length 1 and at right angles: to the right as it is read, up, and out of the surface. */
export interface PlateAxes {
  right: Three;
  up: Three;
  out: Three;
}

/** A plate where it stands: a livery's own, or its partner on the other side. */
export interface StandingPlate {
  plate: Plate;
  partner: boolean;
  /** Its middle, lifted off the surface; metres. */
  at: Three;
  axes: PlateAxes;
  /** Metres along its surface. */
  across: number;
  tall: number;
  /** The picture runs to the left. */
  backwards: boolean;
}

/** A plate's triangles: metres of the model, v down, in the axes and metres of the model. */
export interface PlateMesh {
  /** Vertices along a row and down a column. */
  columns: number;
  rows: number;
  positions: number[];
  normals: number[];
  /** Of its sheet, 0..1. */
  uvs: number[];
  indices: number[];
}

/** Where a plate's middle is and how it looks. @param partner that of its partner, whose place is its own in the mirror */
export function standing(plate: Plate, partner = false): StandingPlate {
  let at: Vec = plate.at;
  let out: Vec = unit(plate.facing);
  let up: Vec = plate.up;
  const over = partner ? plate.partner : undefined;
  if (over) {
    const normal = unit(over.normal);
    at = mirroredPlace(at, normal, over.offset / Math.hypot(...over.normal));
    out = mirroredDirection(out, normal);
    up = mirroredDirection(up, normal);
  }
  const straight = upright(up, out);
  return {
    plate,
    partner,
    at: plus(at, out, plate.lift),
    axes: { right: cross(straight, out), up: straight, out: [...out] },
    across: plate.across,
    tall: tallOf(plate),
    backwards: over ? !over.readable : false,
  };
}

/** All that stand on the model, in the order of the livery, each partner after its own. */
export const standingPlates = ({ plates = [] }: Pick<Livery, 'plates'>): StandingPlate[] =>
  plates
    .filter(({ hidden }) => !hidden)
    .flatMap((plate) => [standing(plate), ...(plate.partner ? [standing(plate, true)] : [])]);

/**
 * A place of a bent plate from its middle: along its surface in metres, in its own axes.
 * @returns how far aside, how far out, and the turn there, radians
 */
function bent(along: number, radius: number): [aside: number, out: number, turn: number] {
  const turn = along / radius;
  return [radius * Math.sin(turn), radius * (Math.cos(turn) - 1), turn];
}

/** Of how many quads a plate is made, across and down. */
function piecesOf(form: PlateForm): { columns: number; rows: number } {
  switch (form.kind) {
    case 'flat':
      return { columns: 1, rows: 1 };
    case 'bent':
      return form.about === 'up' ? { columns: form.pieces, rows: 1 } : { columns: 1, rows: form.pieces };
    case 'laid':
      return { columns: form.columns, rows: form.rows };
  }
}

/** How far before the plate's plane the surface is looked for, of the plate's longer side. */
export const REACH = 0.5;

/** The triangles of a plate where it stands. @param subject what one that is laid on the surface lies on */
export function meshOfPlate(stands: StandingPlate, subject: Subject): PlateMesh {
  const { plate, axes, across, tall, at, backwards } = stands;
  const { form } = plate;
  const { columns, rows } = piecesOf(form);
  const mesh: PlateMesh = { columns: columns + 1, rows: rows + 1, positions: [], normals: [], uvs: [], indices: [] };
  const sheet = subject.sheets.find(({ key }) => key === plate.sheet);
  const [width, height] = [sheet?.width ?? plate.width, sheet?.height ?? plate.height];
  const world = (x: number, y: number, z: number): Three =>
    plus(plus(plus(at, axes.right, x), axes.up, y), axes.out, z);
  for (let row = 0; row <= rows; row++)
    for (let column = 0; column <= columns; column++) {
      const [u, v] = [column / columns, row / rows];
      let [x, y, z] = [(u - 0.5) * across, (0.5 - v) * tall, 0];
      let normal: Vec = axes.out;
      if (form.kind === 'bent') {
        const [aside, out, turn] = bent(form.about === 'up' ? x : y, form.radius);
        if (form.about === 'up') x = aside;
        else y = aside;
        z = out;
        const way = form.about === 'up' ? axes.right : axes.up;
        normal = unit(plus(plus([0, 0, 0], axes.out, Math.cos(turn)), way, Math.sin(turn)));
      }
      mesh.positions.push(...world(x, y, z));
      mesh.normals.push(...normal);
      mesh.uvs.push(
        (plate.left + (backwards ? 1 - u : u) * plate.width) / width,
        (plate.top + v * plate.height) / height,
      );
    }
  if (form.kind === 'laid') lay(mesh, stands, subject);
  const wide = columns + 1;
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const a = row * wide + column;
      // Seen from outside the corners follow each other against the clock.
      mesh.indices.push(a, a + wide, a + 1, a + 1, a + wide, a + wide + 1);
    }
  return mesh;
}

/** Lets every corner down, or up, to the surface, its lift off it; one under which there is none lies as its neighbours do. */
function lay(mesh: PlateMesh, { plate, axes, across, tall }: StandingPlate, subject: Subject): void {
  const tree = treeOf(subject);
  const reach = REACH * Math.max(across, tall);
  const { columns, rows, positions } = mesh;
  const depth = new Float64Array(columns * rows).fill(NaN);
  for (let i = 0; i < depth.length; i++) {
    const found = surfaceUnder(tree, [positions[i * 3], positions[i * 3 + 1], positions[i * 3 + 2]], axes.out, reach);
    if (found) depth[i] = found.rise + plate.lift;
  }
  const nearest = nearestInside(
    Uint8Array.from(depth, (d) => (Number.isNaN(d) ? 0 : 1)),
    columns,
    rows,
  );
  for (let i = 0; i < depth.length; i++) {
    const by = nearest[i] < 0 ? 0 : depth[nearest[i]];
    for (let k = 0; k < 3; k++) positions[i * 3 + k] += axes.out[k] * by;
  }
  for (let i = 0; i < depth.length; i++) {
    const [c, r] = [i % columns, Math.floor(i / columns)];
    const corner = (column: number, row: number): Vec => {
      const k = (Math.min(rows - 1, Math.max(0, row)) * columns + Math.min(columns - 1, Math.max(0, column))) * 3;
      return [positions[k], positions[k + 1], positions[k + 2]];
    };
    const along = plus(corner(c + 1, r), corner(c - 1, r), -1);
    const down = plus(corner(c, r + 1), corner(c, r - 1), -1);
    mesh.normals.splice(i * 3, 3, ...unit(cross(down, along)));
  }
}

/** A model with the plates that stand on it as further parts of it, for who draws the one as the other. */
export const withPlates = <T extends Subject>(subject: T, livery: Pick<Livery, 'plates'>): T =>
  withMeshes(
    subject,
    standingPlates(livery).map((stands) => {
      const { id, name, sheet } = stands.plate;
      return { key: `plate ${id}`, name, sheet, mesh: meshOfPlate(stands, subject) };
    }),
  );

/** A model with more parts. */
export function withMeshes<T extends Pick<Subject, 'mesh' | 'parts'>>(
  subject: T,
  more: readonly {
    key: string;
    name: string;
    sheet: string;
    mesh: Pick<PlateMesh, 'positions' | 'normals' | 'uvs' | 'indices'>;
  }[],
): T {
  if (more.length === 0) return subject;
  const { positions, normals, uvs, indices } = subject.mesh;
  const all = { positions: [...positions], normals: [...normals], uvs: [...uvs], indices: [...indices] };
  const parts = [...subject.parts];
  for (const { mesh, ...part } of more) {
    const base = all.positions.length / 3;
    const first = all.indices.length / 3;
    all.positions.push(...mesh.positions);
    all.normals.push(...mesh.normals);
    all.uvs.push(...mesh.uvs);
    all.indices.push(...mesh.indices.map((i) => i + base));
    parts.push({ ...part, first, count: mesh.indices.length / 3, hex: null });
  }
  return { ...subject, mesh: all, parts };
}
