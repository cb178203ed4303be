/** What was understood of a file that a painter brought, and what the painter decides to make of it. */
import { z } from 'zod';
import type { LayeredFile, Loss } from '../layered/layered.ts';
import type { LayoutNote } from '../surface/layout.ts';
import type { NamedTexture, ReadMesh } from '../models/mesh.ts';
import type { UpGuess } from '../models/upAxis.ts';
import { Sha256 } from '../livery/ids.ts';
import type { StoredAs } from '../livery/template.ts';
import type { LayerRole } from './layerRoles.ts';
import type { TextureLook } from './textureLook.ts';

export interface TextureFacts {
  kind: 'texture';
  container: 'dds' | 'tga' | 'png' | 'jpeg' | 'webp';
  width: number;
  height: number;
  /** Key of the format in the file, or what its texels are in words. */
  format: string;
  compression: string;
  header: 'legacy' | 'dx10' | null;
  colourSpace: string;
  mips: number;
  mipsExpected: number;
  /** Which filter made its levels, where they tell. */
  mipFilter?: 'box' | 'kaiser';
  /** How it is stored. */
  stored?: StoredAs;
  alpha: 'none' | 'cutout' | 'soft';
  look: Omit<TextureLook, 'small'> & { small: number[] };
  /** How much happens where; see wayUp.ts. */
  detail?: number[];
}

export interface LayerRow {
  name: string;
  /** Names of the groups around it. */
  path: string[];
  kind: 'layer' | 'group';
  content: string;
  hidden: boolean;
  /** 0..1. */
  opacity: number;
  blend: string;
  masked: boolean;
  clipped: boolean;
  role: LayerRole;
  map: string | null;
  reason: string;
  sure: boolean;
}

export interface LayeredFacts {
  kind: 'layered';
  format: LayeredFile['kind'];
  width: number;
  height: number;
  depth: number;
  /** In the order of nodesIn. */
  layers: LayerRow[];
  losses: Loss[];
  /** Our picture against the file's own: PSNR in dB over all channels (capped at 99) and the share of texels more than 2 of 255 apart; null: it has none. */
  agreement: { psnr: number; apart: number } | null;
}

export interface ModelFacts {
  kind: 'model';
  triangles: number;
  vertices: number;
  /** `bare`: without UVs, in no sheet. */
  groups: { name: string; material: string; triangles: number; bare?: true }[];
  /** What was left out, one sentence each. */
  said?: string[];
  /** Files beside it that it names and that are not here. */
  needs?: string[];
  /** Those that were read with it, by their names in the folder. */
  beside?: string[];
  textures?: NamedTexture[];
  /** Names of its scenes, where it has several, and which of them is meant. */
  scenes?: string[];
  scene?: number;
  uvSets?: ReadMesh['uvSets'];
  /** Along x, y and z of the file, in its units. */
  size?: [number, number, number];
  /** Which of its axes is likely up. */
  up?: UpGuess;
  /** The layout of its UVs for square sheets. */
  notes: LayoutNote[];
  /** For each material which cells of its sheet its islands cover, as 0 and 1; see wayUp.ts. */
  covers?: Record<string, string>;
}

export interface OtherFacts {
  kind: 'other';
  what: string;
  /** Files without which it cannot be read. */
  needs?: string[];
}

export type Understood = TextureFacts | LayeredFacts | ModelFacts | OtherFacts;

/** What a file of a folder is, in a few words, for the list of those that are in no sheet. @param error why it could not be read */
export function whatIs(
  understood:
    | Pick<TextureFacts, 'kind' | 'width' | 'height'>
    | Pick<LayeredFacts, 'kind' | 'width' | 'height'>
    | Pick<ModelFacts, 'kind'>
    | OtherFacts
    | null,
  error: string | null,
): string {
  if (error) return error;
  if (!understood) return 'not looked at yet';
  switch (understood.kind) {
    case 'texture':
      return `a texture of ${understood.width} x ${understood.height} that was put on no sheet`;
    case 'layered':
      return `a layered file of ${understood.width} x ${understood.height} that was put on no sheet`;
    case 'model':
      return 'a model that was not taken';
    case 'other':
      return understood.what;
  }
}

/** What the painter settled before a template is made. */
export const Decisions = z.strictObject({
  name: z.string().trim().min(1, 'give the subject a name').max(80),
  game: z.string().trim().min(1, 'say which game it is for').max(80),
  /** File of the model; null: the sheets stand as flat boards. */
  model: z.string().nullable(),
  /** How the model is taken. */
  stance: z
    .strictObject({
      /** The axis of the file that points up. */
      up: z.enum(['x', 'y', 'z']).default('y'),
      /** Metres that a unit of the file is. */
      unit: z.number().positive().min(1e-6).max(1e6).default(1),
      /** Left and right are exchanged. */
      mirrored: z.boolean().default(false),
      /** One that comes in hardly any parts is divided into its sides and wheels. */
      divide: z.boolean().default(true),
      scene: z.number().int().min(0).optional(),
      /** Which set of UVs, by material. */
      uvSets: z.record(z.string().max(200), z.number().int().min(0).max(15)).default({}),
    })
    .default({ up: 'y', unit: 1, mirrored: false, divide: true, uvSets: {} }),
  sheets: z
    .array(
      z.strictObject({
        /** The model's material, or a name of its own. */
        material: z.string().max(200),
        /** Other materials that wear the same sheet. */
        also: z.array(z.string().max(200)).max(200).default([]),
        name: z.string().trim().min(1).max(60),
        /** Its finished colour texture. */
        colour: z.string().nullable(),
        /** Its layered template. */
        layered: z.string().nullable(),
        /** Its other maps: key of the map, and the file. */
        maps: z
          .array(z.strictObject({ map: z.string().regex(/^[a-z][a-z0-9-]{0,39}$/), file: z.string() }))
          .max(7)
          .default([]),
        /** Files that carry the same art and follow it. */
        followers: z.array(z.string()).max(32).default([]),
        /** The game stores it bottom row first: it is turned upright here, and back in delivery. */
        upsideDown: z.boolean().default(false),
        /** Side of a sheet that has neither. */
        side: z.number().int().min(16).max(16384).default(2048),
      }),
    )
    .min(1, 'there must be at least one sheet')
    .max(64),
  /** Files that go along with every delivery as they came. */
  companions: z.array(z.string()).max(2000).default([]),
  /** The template that this one takes the place of: the game was patched. */
  replaces: Sha256.nullable().default(null),
  /** Roles that the painter gave to layers, by file and place in its list; the others are as proposed. */
  roles: z.record(z.string(), z.record(z.string(), z.enum(['art', 'guide', 'data', 'map']))).default({}),
});
export type Decisions = z.infer<typeof Decisions>;
