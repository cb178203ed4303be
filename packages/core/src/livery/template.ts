import { z } from 'zod';

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
});
export type Template = z.infer<typeof Template>;
