import { z } from 'zod';
import { InputError } from '../errors.ts';
import { DeliverySpec } from './spec.ts';
import { Sha256 } from './ids.ts';
import { CHANNELS, Layer } from './layer.ts';

const key = z.string().regex(/^[a-z][a-z0-9-]{0,39}$/, 'keys are lower-case letters, digits and hyphens');
const side = z.number().int().min(1).max(16384);
const texel = z.number().int().min(-65536).max(65536);

/** `#rrggbb` with two digits of alpha. */
export const HEX8 = /^#[0-9a-f]{8}$/;

/** A box of pixels that a game reads as a setting: a colour whose alpha says how much of it there is. */
export const ParameterBox = z.strictObject({
  key,
  name: z.string().trim().min(1).max(60),
  /** What it does in the game. */
  means: z.string().max(200),
  left: z.number().int().min(0).max(16383),
  top: z.number().int().min(0).max(16383),
  width: side,
  height: side,
  /** What it is when nobody sets it, `#rrggbbaa`. */
  hex: z.string().regex(HEX8),
});
export type ParameterBox = z.infer<typeof ParameterBox>;

/** A file that must carry the same art as a sheet: another size, a mirrored copy, a wet or worn version. */
export const Follower = z.strictObject({
  key,
  name: z.string().trim().min(1).max(60),
  width: side,
  height: side,
  /** `across`: left and right change places; `down`: top and bottom do. */
  mirror: z.enum(['none', 'across', 'down']),
  /** Its file's name without the ending, where it does not follow the spec's pattern. */
  stem: z.string().max(200).nullable(),
  /** It shows the master's art in another light, as its original does: the strength of that change, 0 to 100; left out: it carries the same art. */
  light: z.number().min(0).max(100).optional(),
  /** Its original is neither the master's picture nor that in another light. */
  unlike: z.literal(true).optional(),
});
export type Follower = z.infer<typeof Follower>;

/** How a file that came is stored, as far as a delivery can be unlike it. */
export const StoredAs = z.strictObject({
  container: z.enum(['dds', 'tga', 'png', 'jpg', 'webp']),
  width: side,
  height: side,
  /** Key of the texture format, "masks" for other uncompressed ones, or what its texels are in words. */
  format: z.string().max(40),
  alpha: z.enum(['none', 'cutout', 'soft']),
  /** DDS: kind of header, levels, and whether colour is stored times alpha. */
  header: z.enum(['legacy', 'dx10']).optional(),
  mips: z.number().int().min(1).max(15).optional(),
  premultiplied: z.boolean().optional(),
  /** TGA: run lengths, bits of a texel and of its alpha, order of rows and columns, colour map. */
  runs: z.boolean().optional(),
  bits: z.number().int().optional(),
  alphaBits: z.number().int().optional(),
  bottomUp: z.boolean().optional(),
  rightToLeft: z.boolean().optional(),
  mapped: z.boolean().optional(),
  /** PNG: kind of colour, bits of a sample. */
  colours: z.string().max(40).optional(),
  depth: z.number().int().optional(),
  interlaced: z.boolean().optional(),
  /** PNG and JPEG: name of a colour profile, gamma as stored (times 100,000). */
  profile: z.string().max(200).optional(),
  gamma: z.number().optional(),
  /** JPEG: nearest quality, how colour is sampled, kind of scan; EXIF turn (1 to 8), which games do not look at. */
  quality: z.number().int().min(0).max(100).optional(),
  sampling: z.string().max(10).optional(),
  progressive: z.boolean().optional(),
  turned: z.number().int().min(1).max(8).optional(),
  /** WebP. */
  lossless: z.boolean().optional(),
});
export type StoredAs = z.infer<typeof StoredAs>;

/** A file of the game's own, kept as it came. */
export const OriginalFile = z.strictObject({
  /** The path under which it came, below the folder that was brought. */
  name: z.string().min(1).max(400),
  /** Its bytes. */
  blob: Sha256,
  bytes: z.number().int().min(1),
  /** Stored pixels of the layer that shows it; of a follower null. */
  pixels: Sha256.nullable(),
  /** Stored bottom row first for what the template calls upright. */
  upsideDown: z.boolean(),
  stored: StoredAs,
});
export type OriginalFile = z.infer<typeof OriginalFile>;

/** A file of the folder that is no sheet, map or follower: kept, so that it can go along or be taken in later. */
export const BesideFile = z.strictObject({
  name: z.string().min(1).max(400),
  blob: Sha256,
  bytes: z.number().int().min(0),
  /** What it is, or why it is in no sheet. */
  why: z.string().max(300),
});
export type BesideFile = z.infer<typeof BesideFile>;

/** What a map holds: colours in daylight, light of its own, directions, a value in each channel, identities, or other values. */
export const MAP_HOLDS = ['colour', 'emissive', 'normal', 'packed', 'ids', 'data'] as const;
export type MapHolds = (typeof MAP_HOLDS)[number];

/** A map of a sheet beside its colour: normal, packed, night ... */
export const TemplateMap = z.strictObject({
  key,
  name: z.string().trim().min(1).max(60),
  alpha: z.enum(['none', 'coverage', 'cutout', 'data']),
  /** Left out: what a map of that key holds by custom; see holdsOf. */
  holds: z.enum(MAP_HOLDS).optional(),
  /** What the channels of a packed map mean: roughness, metal, occlusion ... */
  channels: z.partialRecord(z.enum(CHANNELS), z.string().trim().min(1).max(40)).optional(),
  /** Of directions: whether green grows towards the sheet's foot. Left out: towards its head, as glTF 2.0 has it (3.9.3). */
  green: z.literal('down').optional(),
});
export type TemplateMap = z.infer<typeof TemplateMap>;

/** The map that every sheet has, and that its followers, boxes and file names are of. */
export const MAIN_MAP = 'colour';

/** What maps hold whose template does not say it: it was told by their keys before. */
const BY_CUSTOM: Readonly<Record<string, MapHolds>> = {
  [MAIN_MAP]: 'colour',
  night: 'emissive',
  normal: 'normal',
  packed: 'packed',
};
export const holdsOf = ({ key: of, holds }: Pick<TemplateMap, 'key' | 'holds'>): MapHolds =>
  holds ?? (Object.hasOwn(BY_CUSTOM, of) ? BY_CUSTOM[of] : 'data');

/** Whether colours are mixed, carried on and stored as such there. */
export const isColoured = (holds: MapHolds): boolean => holds === 'colour' || holds === 'emissive';

/** A sheet of a subject: its key in names, and the size of the game's own texture. */
export const TemplateSheet = z.strictObject({
  key: z.string().regex(/^[a-z][a-z0-9-]*$/),
  name: z.string(),
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
  alpha: z.enum(['none', 'coverage', 'cutout', 'data']),
  /** Symmetry axis of the flat sheet, in texels; null when it has none. */
  axis: z.strictObject({ kind: z.enum(['horizontal', 'vertical']), at: z.number() }).nullable(),
  /** Maps beside the colour map. */
  maps: z.array(TemplateMap).max(7).optional(),
  /** The cells of an atlas. */
  cells: z
    .strictObject({
      columns: z.number().int().min(1).max(64),
      rows: z.number().int().min(1).max(64),
      /** What some of them are called, by number: row by row from the top left, from 1. Cells of one name are one place. */
      names: z.record(z.string().regex(/^[1-9]\d{0,3}$/), z.string().trim().min(1).max(60)).optional(),
    })
    .optional(),
  boxes: z.array(ParameterBox).max(64).optional(),
  /** Nothing of the model wears it: what is painted here stands on the model as plates. */
  plates: z.literal(true).optional(),
  followers: z.array(Follower).max(32).optional(),
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
  /** Colour of an unpainted part; of a painted one, the colour it is shown in. */
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

/** An outline over a sheet: the frame that art keeps to, or what the game takes for the thing's shape. */
export const TemplateOutline = z.strictObject({
  key: z.string().max(60),
  name: z.string().trim().min(1).max(60),
  sheet: z.string(),
  role: z.enum(['frame', 'collider']),
  /** Closed rings in texels: x, y, x, y ... */
  rings: z
    .array(z.array(z.number().min(-65536).max(65536)).min(6).max(20000))
    .min(1)
    .max(500),
});
export type TemplateOutline = z.infer<typeof TemplateOutline>;

/** Sheets that lie next to each other as one long surface. */
export const TemplateRun = z.strictObject({
  key,
  name: z.string().trim().min(1).max(60),
  /** Where each sheet's top left corner lies on the surface, in texels. */
  pieces: z
    .array(z.strictObject({ sheet: z.string(), left: texel, top: texel }))
    .min(2)
    .max(16),
});
export type TemplateRun = z.infer<typeof TemplateRun>;

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
  /** The plane across which the model is alike: points of it have the offset along the normal, in metres. */
  plane: z.strictObject({ normal: z.tuple([z.number(), z.number(), z.number()]), offset: z.number() }).optional(),
  /** It came without a model: each sheet stands as a board, and there are no islands to speak of. */
  boards: z.literal(true).optional(),
  /** Guides that came with it as pictures. */
  guides: z.array(TemplateGuide).max(200).optional(),
  outlines: z.array(TemplateOutline).max(500).optional(),
  runs: z.array(TemplateRun).max(32).optional(),
  /** What a new livery begins with, by sheet (colour) or `sheet/map`: the original, or the layers of its layered file. */
  begin: z.record(z.string(), z.array(Layer).max(500)).optional(),
  /** The files of the game's own that it was made of, by the key of `originalKey`. */
  originals: z.record(z.string().max(90), OriginalFile).optional(),
  beside: z.array(BesideFile).max(2000).optional(),
  /** A delivery spec of its own, taken from the original's files. */
  ownSpec: DeliverySpec.optional(),
  /** The template that this one takes the place of: an earlier version of the same subject. */
  replaces: Sha256.optional(),
});
export type Template = z.infer<typeof Template>;

/** What the analysis of a model's layout needs of a template. */
export type Subject = Pick<Template, 'sheets' | 'parts' | 'mesh'>;

/** The sheet of a key. @throws InputError that names those there are */
export function sheetNamed({ sheets }: Pick<Template, 'sheets'>, key: string): TemplateSheet {
  const found = sheets.find((sheet) => sheet.key === key);
  if (!found)
    throw new InputError(`There is no sheet "${key}"; there are ${sheets.map((sheet) => sheet.key).join(', ')}.`);
  return found;
}

/** The maps of a sheet, colour first. */
export const mapsOf = (sheet: TemplateSheet): TemplateMap[] => [
  { key: MAIN_MAP, name: 'Colour', alpha: sheet.alpha },
  ...(sheet.maps ?? []),
];

/** Maps of a sheet that hold light: what can be seen of it at night. */
export const lightMapsOf = (sheet: TemplateSheet): TemplateMap[] =>
  mapsOf(sheet).filter((map) => holdsOf(map) === 'emissive');

/** What a map of a sheet holds. */
export const holdsIn = (sheet: TemplateSheet | undefined, map: string): MapHolds =>
  holdsOf(sheet?.maps?.find(({ key: of }) => of === map) ?? { key: map });

/** What a new livery begins with on a map. */
export const beginningOf = (template: Pick<Template, 'begin'>, sheet: string, map = MAIN_MAP): readonly Layer[] =>
  template.begin?.[map === MAIN_MAP ? sheet : `${sheet}/${map}`] ?? [];

/** Under which key a template keeps the file of a map, or of a sheet's follower. */
export const originalKey = (sheet: string, map = MAIN_MAP, follower: string | null = null): string =>
  follower === null ? `${sheet}/${map}` : `${sheet}>${follower}`;

/** Hashes of the files that a template keeps as they came. */
export const filesOf = (template: Pick<Template, 'originals' | 'beside'>): Sha256[] => [
  ...new Set([...Object.values(template.originals ?? {}), ...(template.beside ?? [])].map(({ blob }) => blob)),
];
