/** Lines on a model as their pieces, each in its triangle's plane. */
import type { ProjectorOf } from '../../livery/projector.ts';
import type { Subject } from '../../livery/template.ts';
import { cutLines, lineThrough, type LinePiece, type SurfaceLine } from '../../surface/cutLine.ts';
import { faceNormal, neighboursOf } from '../../surface/edges.ts';
import { cross, dot, minus, unit, type Vec } from '../../surface/vectors.ts';
import { paintedOf } from '../projection.ts';

/** The tangent of half a bend, at most: sharper corners are cut off. */
const SHARPEST = 4;

/** A piece of a line with what is before and behind it. */
export interface Piece extends LinePiece {
  line: SurfaceLine;
  along: Vec;
  down: Vec;
  /** The bends at both ends, as tangents of half of them; above 0 where the line turns to the left. */
  before: number;
  behind: number;
  /** Whether the line begins or ends with it. */
  begins: boolean;
  ends: boolean;
}

/** The lines of a projector on a model. */
export function linesOf(projector: ProjectorOf<'along'>, subject: Subject): SurfaceLine[] {
  const triangles = paintedOf(subject, projector.not);
  const { line } = projector;
  if (line.by === 'places')
    return [lineThrough(subject, triangles, line.places, line.closed)].filter((one) => one.length > 0);
  return cutLines(subject, triangles, unit(line.normal), line.offset / Math.hypot(...line.normal));
}

/** A share of a piece that no strip has. */
const BEYOND = 1e9;

/** How far from a piece its strip ends on one side, inside a bend; Infinity: it does not. */
export function endsAt({ length, before, behind }: Piece, side: 1 | -1): number {
  const narrows = -(before + behind) * side;
  return narrows > 0 ? (length / narrows) * (1 - 2e-6) : Infinity;
}

/** How far along a piece a point belongs, as a share of it: the strips of two pieces meet in the middle of their bend. */
export function shareAt({ length, before, behind }: Piece, x: number, y: number): number {
  const from = -before * y;
  const wide = length + behind * y - from;
  // Inside a bend a strip ends where its two sides meet: what lies beyond is of others.
  if (wide <= length * 1e-6) return x < from ? -BEYOND : BEYOND;
  return (x - from) / wide;
}

/** The pieces of a line, each with its directions and the bends at its ends. */
export function piecesOf(mesh: Subject['mesh'], line: SurfaceLine, hand: 1 | -1): Piece[] {
  const made = line.pieces.flatMap((piece): Piece[] => {
    const face = faceNormal(mesh, piece.triangle);
    if (!face) return [];
    const along = unit(minus(piece.to, piece.from));
    const side = unit(cross(along, face));
    const down: Vec = hand < 0 ? [-side[0], -side[1], -side[2]] : side;
    return [{ ...piece, line, along, down, before: 0, behind: 0, begins: false, ends: false }];
  });
  const many = made.length;
  for (let i = 0; i < many; i++) {
    const next = i + 1 < many ? made[i + 1] : line.closed ? made[0] : null;
    if (!next) continue;
    const bend = Math.tan(bendBetween(mesh, made[i], next) / 2);
    const tangent = Math.max(-SHARPEST, Math.min(SHARPEST, bend));
    made[i].behind = tangent;
    next.before = tangent;
  }
  if (!line.closed && many > 0) {
    made[0].begins = true;
    made[many - 1].ends = true;
  }
  return made;
}

const angleTo = (a: Vec, b: Vec): number => Math.acos(Math.max(-1, Math.min(1, dot(a, b))));

/** By how much a line turns to the left between two pieces when their triangles are laid flat, radians. */
function bendBetween(mesh: Subject['mesh'], one: Piece, next: Piece): number {
  const { across } = neighboursOf(mesh);
  const k = [0, 1, 2].find((at) => across[one.triangle * 3 + at] === next.triangle);
  if (one.triangle === next.triangle || k === undefined)
    return Math.atan2(-dot(next.along, one.down), dot(next.along, one.along));
  const { indices, positions } = mesh;
  const [i, j] = [indices[one.triangle * 3 + k] * 3, indices[one.triangle * 3 + ((k + 1) % 3)] * 3];
  const edge = unit([
    positions[j] - positions[i],
    positions[j + 1] - positions[i + 1],
    positions[j + 2] - positions[i + 2],
  ]);
  // The edge to the right: the larger the angle from it, the more the line goes to the left.
  const right: Vec = dot(edge, one.down) < 0 ? [-edge[0], -edge[1], -edge[2]] : edge;
  return angleTo(right, next.along) - angleTo(right, one.along);
}
