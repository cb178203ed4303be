import { z } from 'zod';
import { DeliverySpec } from './spec.ts';
import { Sha256 } from './ids.ts';
import { Layer } from './layer.ts';

/** A sheet of a subject: its key in names, and the size of the game's own texture. */
export const TemplateSheet = z.strictObject({
  key: z.string().regex(/^[a-z][a-z0-9-]*$/),
  name: z.string(),
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
  alpha: z.enum(['none', 'coverage', 'cutout', 'data']),
  /** Symmetry axis of the flat sheet, in texels; null when it has none. */
  axis: z.strictObject({ kind: z.enum(['horizontal', 'vertical']), at: z.number() }).nullable(),
});
export type TemplateSheet = z.infer<typeof TemplateSheet>;

/** A part: neighbouring triangles of the mesh, first triangle and how many. */
export const TemplatePart = z.strictObject({
  key: z.string(),
  name: z.string(),
  /** Null: shown on the model, never painted. */
  sheet: z.string().nullable(),
  first: z.number().int().min(0),
  count: z.number().int().min(1),
  /** Colour of an unpainted part. */
  hex: z.string().nullable(),
});
export type TemplatePart = z.infer<typeof TemplatePart>;

/** Indexed triangles in metres, y up; UVs 0..1 with v down, as glTF stores them. */
export const MeshData = z.strictObject({
  positions: z.array(z.number()),
  normals: z.array(z.number()),
  uvs: z.array(z.number()),
  indices: z.array(z.number().int().min(0)),
});
export type MeshData = z.infer<typeof MeshData>;

/** A picture drawn over a sheet and never delivered: a wire, a safe frame, notes. */
export const TemplateGuide = z.strictObject({
  key: z.string().max(60),
  name: z.string().max(120),
  sheet: z.string(),
  /** Stored pixels; see files/pixels.ts. */
  blob: Sha256,
  left: z.number().int(),
  top: z.number().int(),
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
});
export type TemplateGuide = z.infer<typeof TemplateGuide>;

/** A subject's model, sheets and parts, and the delivery spec of its game. */
export const Template = z.strictObject({
  schema: z.literal(1),
  key: z.string(),
  name: z.string(),
  game: z.string(),
  gameName: z.string(),
  spec: z.strictObject({ key: z.string(), version: z.number().int() }),
  sheets: z.array(TemplateSheet).min(1),
  parts: z.array(TemplatePart).min(1),
  mesh: MeshData,
  /** Guides that came with it as pictures. */
  guides: z.array(TemplateGuide).max(200).optional(),
  /** What a new livery begins with, by sheet: the original, or the layers of its layered file. */
  begin: z.record(z.string(), z.array(Layer).max(500)).optional(),
  /** A delivery spec of its own, taken from the original's files. */
  ownSpec: DeliverySpec.optional(),
});
export type Template = z.infer<typeof Template>;

/** What the analysis of a model's layout needs of a template. */
export type Subject = Pick<Template, 'sheets' | 'parts' | 'mesh'>;
