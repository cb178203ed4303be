import { z } from 'zod';

/** One kind of file that a game wants of every sheet. */
export const SpecFile = z.strictObject({
  map: z.string(),
  /** Keys of the sheets that the file is made of; left out: every sheet. */
  sheets: z.array(z.string()).optional(),
  /** Pattern of the file's name; see names.ts. */
  name: z.string(),
  container: z.enum(['dds', 'tga', 'png', 'jpg']),
  format: z.enum(['bc1', 'bc1a', 'bc2', 'bc3', 'bc4', 'bc5', 'bc7', 'rgba8', 'bgra8', 'bgr8', 'rgb565']),
  header: z.enum(['legacy', 'dx10']),
  /** Normals are stored linear, and their mip levels are averaged as vectors. */
  colourSpace: z.enum(['srgb', 'linear', 'normal']),
  mips: z.enum(['full', 'none']),
  mipFilter: z.enum(['box', 'kaiser']),
  /** Size of the file where it is not the sheet's own. */
  size: z
    .strictObject({ width: z.number().int().min(1).max(16384), height: z.number().int().min(1).max(16384) })
    .optional(),
  /** Stored upside down. */
  flip: z.boolean(),
  /** Whether alpha goes along, or everything is delivered opaque. */
  alpha: z.enum(['keep', 'opaque']),
  /** Colour under alpha 0 may become anything: the game never looks under it. Only taken where a map's alpha is coverage. */
  freeClear: z.boolean(),
  /** Texels that art is carried past the islands. */
  padding: z.number().int().min(0).max(256),
});
export type SpecFile = z.infer<typeof SpecFile>;

/** The kind of file that a map of a sheet is delivered as; undefined when the game wants none. */
export const fileFor = (spec: Pick<DeliverySpec, 'files'>, sheet: string, map = 'colour'): SpecFile | undefined =>
  spec.files.find((file) => file.map === map && (!file.sheets || file.sheets.includes(sheet)));

/** All that a game wants of a delivery. */
export const DeliverySpec = z.strictObject({
  schema: z.literal(1),
  key: z.string(),
  version: z.number().int(),
  game: z.string(),
  gameName: z.string(),
  /** Folder of the livery's files, as a pattern, with a slash at the end. */
  folder: z.string(),
  files: z.array(SpecFile).min(1),
  sidecars: z.array(z.strictObject({ name: z.string(), kind: z.enum(['finish-toml']) })),
  /** The livery's key as the game's own names allow it. */
  liveryKey: z.strictObject({ allowed: z.string(), says: z.string(), maxLength: z.number().int() }),
  /** What the game asks of the files' own names, without their folders. */
  names: z
    .strictObject({ begins: z.string().max(60), ends: z.string().max(60), known: z.array(z.string()).max(5000) })
    .partial()
    .optional(),
  maxSide: z.number().int(),
  /** Under what uncovered texels lie when everything is delivered opaque. */
  ground: z.string(),
  /** What the game needs before it shows the livery. */
  after: z.string(),
});
export type DeliverySpec = z.infer<typeof DeliverySpec>;
