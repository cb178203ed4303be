import { z } from 'zod';
import { HEX } from '../colour/hex.ts';
import { InputError } from '../errors.ts';
import { FINISH_CHANNELS, FINISH_KINDS } from './finish.ts';
import { SpecPlates } from './specPlates.ts';
import { WRITTEN } from '../texture/formats/index.ts';

const pattern = z.string().min(1).max(400);
/** A pattern of a path inside a folder: what of it is plain text must not lead out of there. */
const pathPattern = z
  .string()
  .max(400)
  .refine(
    (path) => !/(^|\/)\.\.?(\/|$)|^\/|\\|^[a-zA-Z]:|[\p{Cc}\u202a-\u202e\u2066-\u2069]/u.test(path),
    'a path inside its folder, without . or .. in it',
  );
const namePattern = pathPattern.min(1);
const CHANNELS = ['red', 'green', 'blue', 'alpha'] as const;
export type Channel = (typeof CHANNELS)[number];

/** Where one channel of a packed file comes from: a channel of a map of the same sheet, a value of the finishes, or one value all over (0 to 255). */
const PackedChannel = z.union([
  z.strictObject({ map: z.string().max(40), channel: z.enum(CHANNELS) }),
  z.strictObject({ finish: z.enum(FINISH_CHANNELS) }),
  z.strictObject({ value: z.number().int().min(0).max(255) }),
]);
export type PackedChannel = z.infer<typeof PackedChannel>;

/** What of an original's file a delivery can follow, beside the texels and blocks that nobody painted. */
export const FOLLOWED = [
  /** DDS: kind of header, with its flags and reserved fields. */
  'header',
  /** DDS: how many levels. */
  'mips',
  /** What the header or descriptor says of alpha, and whether colour is stored times it. */
  'alpha',
  /** TGA: run lengths or none. */
  'runs',
  /** TGA and PNG: bits of a texel or sample, kind of colour, palette. */
  'bits',
  /** TGA: order of rows and columns. */
  'rows',
  /** TGA: identification, footer and what lies between. PNG and JPEG: profile, gamma and all other chunks. */
  'extras',
  /** JPEG and WebP: quality, and how colour is sampled. */
  'quality',
] as const;
export type Followed = (typeof FOLLOWED)[number];

/** Which of them each kind of file has. */
export const FOLLOWED_IN: Readonly<Record<'dds' | 'tga' | 'png' | 'jpg' | 'webp', readonly Followed[]>> = {
  dds: ['header', 'mips', 'alpha'],
  tga: ['runs', 'bits', 'rows', 'alpha', 'extras'],
  png: ['bits', 'extras'],
  jpg: ['quality', 'extras'],
  webp: ['quality'],
};

/** One kind of file that a game wants of every sheet. */
export const SpecFile = z.strictObject({
  map: z.string(),
  /** Keys of the sheets that the file is made of; left out: every sheet. */
  sheets: z.array(z.string()).optional(),
  /** Pattern of the file's name; see names.ts. */
  name: namePattern,
  /** Of a sheet of plates: name of the file of a plate whose picture goes out by itself; `{plate.key}` says which. */
  plateName: namePattern.optional(),
  container: z.enum(['dds', 'tga', 'png', 'jpg', 'webp']),
  format: z.enum(WRITTEN),
  header: z.enum(['legacy', 'dx10']),
  /** Normals are stored linear, and their mip levels are averaged as vectors; ids are never mixed: of a level's texels the most frequent stays. */
  colourSpace: z.enum(['srgb', 'linear', 'normal', 'ids']),
  /** All levels, only the picture itself, or so many. */
  mips: z.union([z.enum(['full', 'none']), z.number().int().min(1).max(15)]),
  mipFilter: z.enum(['box', 'kaiser']),
  /** Each mip level is a file of its own; the name says which with `{file.level}`. */
  levels: z.literal('files').optional(),
  /** Size of the file where it is not the sheet's own. */
  size: z
    .strictObject({ width: z.number().int().min(1).max(16384), height: z.number().int().min(1).max(16384) })
    .optional(),
  /** A copy at another size: so many times the sheet's own. */
  scale: z.union([z.literal(0.125), z.literal(0.25), z.literal(0.5), z.literal(2), z.literal(4)]).optional(),
  /** Stored upside down. */
  flip: z.boolean(),
  /** Alpha goes along; everything is delivered opaque; alpha must be there; there must be none. */
  alpha: z.enum(['keep', 'opaque', 'needed', 'forbidden']),
  /** Colour under alpha 0 may become anything: the game never looks under it. Only taken where a map's alpha is coverage. */
  freeClear: z.boolean(),
  /** Texels that art is carried past the islands; over an original only beside what was painted, and colour alone. */
  padding: z.number().int().min(0).max(256),
  /**
   * It goes over the file that the template keeps: texels that nobody painted keep their four values, blocks and files their bytes. `follow`:
   * what else is as in that file; for the rest the fields here count.
   */
  over: z.strictObject({ follow: z.array(z.enum(FOLLOWED)).max(FOLLOWED.length) }).optional(),
  /** How a TGA, JPEG or WebP is written where it follows no original. */
  way: z
    .strictObject({
      runs: z.boolean(),
      bottomUp: z.boolean(),
      /** Of 100. */
      quality: z.number().int().min(1).max(100),
      sampling: z.enum(['4:4:4', '4:2:2', '4:2:0']),
    })
    .partial()
    .optional(),
  /** Nobody painted this map: the file goes along as it came. Left out: it stays away. */
  untouched: z.literal('send').optional(),
  /** The channels of the file, each from a map of its own. Then `map` only says whose layers decide whether it is delivered. */
  packed: z
    .strictObject({ red: PackedChannel, green: PackedChannel, blue: PackedChannel, alpha: PackedChannel })
    .optional(),
  /** The file is there already: only the cells of the atlas that were painted are put into it, all other blocks stay as they are. */
  inPlace: z.literal(true).optional(),
});
export type SpecFile = z.infer<typeof SpecFile>;

/** Whether the file carries the sheet's alpha. */
export const carriesAlpha = (file: Pick<SpecFile, 'alpha'>): boolean =>
  file.alpha === 'keep' || file.alpha === 'needed';

/** The map that shows finishes as flat colours, and the maps that hold one of their values in every channel: every sheet has them, and nobody paints them. */
export const ZONE_MAP = 'zones';
export const finishMap = (value: (typeof FINISH_CHANNELS)[number]): string => `finish:${value}`;

/** The map, and the channel of it, that a packed channel comes from; null: one value all over. */
export const sourceOf = (of: PackedChannel): { map: string; channel: Channel } | null =>
  'map' in of ? of : 'finish' in of ? { map: finishMap(of.finish), channel: 'red' } : null;

/** Maps that the channels of a packed file come from. */
export const packedMaps = (packed: SpecFile['packed']): Set<string> =>
  new Set(Object.values(packed ?? {}).flatMap((source) => sourceOf(source)?.map ?? []));

/** The kind of file that a map of a sheet is delivered as; undefined when the game wants none. */
export const fileFor = (spec: Pick<DeliverySpec, 'files'>, sheet: string, map = 'colour'): SpecFile | undefined =>
  spec.files.find((file) => file.map === map && (!file.sheets || file.sheets.includes(sheet)));

/** How a sidecar's text comes about. Texts are Mustache templates; see sidecar.ts for what they can refer to. */
const SidecarMaking = z.discriminatedUnion('kind', [
  /** Written anew each time. */
  z.strictObject({ kind: z.literal('template'), text: z.string().max(100_000) }),
  /** The plates as a glTF document, in the model's own axes. */
  z.strictObject({ kind: z.literal('plates') }),
  /** A numbered section in a list that is there already: its own is renewed, else the next number is taken. */
  z.strictObject({
    kind: z.literal('section'),
    /** First line of a section, with `{n}` where its number stands. */
    begins: pattern,
    /** Last line of a section. */
    ends: pattern,
    /** A name pattern; the section that holds this text is the livery's own. */
    own: pattern,
    /** The section's lines between the first and the last. */
    text: z.string().max(20_000),
  }),
  /** Values in the original's own file, by path; everything else stays as it is. JSON (`a.b.0`), XML (`a/b[2]/@c`) and INI-like text (`section.key`). */
  z.strictObject({
    kind: z.literal('values'),
    set: z
      .array(z.strictObject({ path: pattern, value: z.string().max(400) }))
      .min(1)
      .max(200),
  }),
  /**
   * A text of the game's own with something changed in it, all else as it stands: the file of that name in the game's folder, else the one
   * that the template keeps.
   */
  z.strictObject({
    kind: z.literal('changed'),
    /** Name of the kept file; left out: only the game's folder is looked at. */
    of: z.string().min(1).max(400).optional(),
    /** `beside`: the words change in a copy of each entry that mentions them; left out: where they stand. */
    entries: z.literal('beside').optional(),
    /** Whole words and paths, all at once: none is found in what another became. */
    replace: z.array(z.strictObject({ word: z.string().min(1).max(200), by: z.string().max(400) })).max(200),
    /** Values by path: a text, or a colour of the scheme by the slug of its name. */
    set: z
      .array(
        z.strictObject({ path: pattern, value: z.string().max(400) }).or(
          z.strictObject({
            path: pattern,
            colour: z.string().min(1).max(60),
            /** How the game writes it: linear numbers 0 to 1, bytes, or hex digits. */
            as: z.enum(['linear', 'bytes', 'hex']),
            /** One channel alone; left out: all that stand there, alpha kept. */
            channel: z.enum(['red', 'green', 'blue']).optional(),
          }),
        ),
      )
      .max(200)
      .default([]),
  }),
  /** Whole words in the original's own file. */
  z.strictObject({
    kind: z.literal('words'),
    replace: z
      .array(z.strictObject({ word: z.string().min(1).max(200), by: z.string().max(400) }))
      .min(1)
      .max(200),
  }),
]);

const Language = z.enum(['json', 'xml', 'toml', 'ini', 'script', 'text']);
/** What a text of a game is written in; see languages/. */
export type Language = z.infer<typeof Language>;

export const SpecSidecar = z.strictObject({
  /** Pattern of its name. */
  name: namePattern,
  language: Language,
  /** One for each sheet whose colour is delivered; its name and text can speak of that `sheet`. */
  each: z.literal('sheet').optional(),
  /** It only goes along where plates do. */
  when: z.literal('plates').optional(),
  making: SidecarMaking,
  lineEnds: z.enum(['lf', 'crlf']).optional(),
  /** Byte order mark of UTF-8 at the beginning. */
  mark: z.literal(true).optional(),
});
export type SpecSidecar = z.infer<typeof SpecSidecar>;

/** Numbers that a game hands out to liveries. */
export const SpecSlot = z.strictObject({
  from: z.number().int().min(0).max(1_000_000),
  to: z.number().int().min(0).max(1_000_000),
  digits: z.number().int().min(1).max(8),
  /** What a number is called there: "slot", "archive number". */
  called: z.string().min(1).max(40),
  /** How it is seen that a number is taken. */
  taken: z.discriminatedUnion('by', [
    /** A file whose path begins so, with `{slot}` for the number. */
    z.strictObject({ by: z.literal('path'), begins: pattern }),
    /** A file inside packages of some ending says it, as JSON. */
    z.strictObject({ by: z.literal('package'), ending: pattern, file: pattern, value: pattern }),
  ]),
});
export type SpecSlot = z.infer<typeof SpecSlot>;

/** A zone of finish that a game knows: its colour in the zone map, and which finishes it takes there. */
export const SpecZone = z.strictObject({
  key: z
    .string()
    .regex(/^[a-z0-9][a-z0-9_-]*$/i, 'keys are letters, digits, hyphens and underscores')
    .max(40),
  name: z.string().trim().min(1).max(60),
  hex: z.string().regex(HEX),
  /** Left out: every kind. */
  kinds: z.array(z.enum(FINISH_KINDS)).min(1).max(FINISH_KINDS.length).optional(),
});
export type SpecZone = z.infer<typeof SpecZone>;

const distinct = (values: readonly string[]): boolean => new Set(values).size === values.length;

/** Something in a spec that was guessed from a skin's files, until somebody who knows the game confirms it. */
export const SpecGuess = z.strictObject({
  /** Where it stands, as `files.0.alpha`. */
  at: z.string().max(100),
  says: z.string().max(600),
});
export type SpecGuess = z.infer<typeof SpecGuess>;

/** All that a game wants of a delivery. */
export const DeliverySpec = z.strictObject({
  schema: z.literal(1),
  key: z
    .string()
    .regex(/^[a-z][a-z0-9-]*$/, 'keys are lower-case letters, digits and hyphens')
    .max(60),
  version: z.number().int().min(1),
  game: z.string().regex(/^[a-z0-9][a-z0-9-]*$/, 'keys are lower-case letters, digits and hyphens'),
  gameName: z.string().min(1).max(80),
  /** Folder of the livery's files, as a pattern, with a slash at the end; empty: the game's own folder. */
  folder: pathPattern.regex(/^$|\/$/, 'the folder ends with a slash'),
  files: z.array(SpecFile).min(1).max(200),
  sidecars: z.array(SpecSidecar).max(40),
  /** The livery's key as the game's own names allow it. */
  liveryKey: z.strictObject({ allowed: z.string().min(1), says: z.string(), maxLength: z.number().int().min(1) }),
  /** Particulars that names or sidecars cannot do without. */
  needs: z.array(z.string().max(30)).max(20).optional(),
  /** What the game asks of the files' own names, without their folders. `known` may hold name patterns. */
  names: z
    .strictObject({ begins: z.string().max(60), ends: z.string().max(60), known: z.array(z.string()).max(5000) })
    .partial()
    .optional(),
  slot: SpecSlot.optional(),
  /** Its finish zones: the map `zones` of a sheet is drawn in their colours. */
  zones: z
    .array(SpecZone)
    .min(1)
    .max(64)
    .refine((zones) => distinct(zones.map(({ hex }) => hex)), 'two zones have one colour')
    .refine((zones) => distinct(zones.map(({ key }) => key)), 'two zones have one key')
    .optional(),
  /** How it takes plates; left out: not at all. */
  plates: SpecPlates.optional(),
  /** Everything in one zip of this name, in place of a folder. */
  package: z.strictObject({ name: namePattern }).optional(),
  /** A picture of the model with the livery on it. Degrees round the model (0: from the bow) and up. */
  thumbnail: z
    .strictObject({
      name: namePattern,
      container: z.enum(['png', 'jpg']),
      width: z.number().int().min(16).max(2048),
      height: z.number().int().min(16).max(2048),
      heading: z.number().min(-360).max(360),
      elevation: z.number().min(-90).max(90),
    })
    .optional(),
  /** Files that the template keeps beside its sheets and that go along as they came: their names there, and here. */
  companions: z
    .array(z.strictObject({ file: z.string().min(1).max(400), name: namePattern }))
    .max(2000)
    .optional(),
  /** Files that go out under other names: the name as it would be, and as it is. */
  pairs: z
    .array(z.strictObject({ file: pattern, as: namePattern }))
    .max(500)
    .optional(),
  /** A text with the origin and licence of all that was borrowed. */
  readme: z.strictObject({ name: namePattern }).optional(),
  /** Sheets that nobody painted are left out: the game goes on with its own pictures. */
  unpainted: z.literal('leave').optional(),
  /** Files that the game brings itself and that sidecars may refer to. */
  gameHas: z.array(pattern).max(500).optional(),
  /** What of the game's wishes is not made here, in a sentence. */
  lacks: z.string().max(300).optional(),
  guesses: z.array(SpecGuess).max(200).optional(),
  maxSide: z.number().int().min(1).max(16384),
  /** Under what uncovered texels lie when everything is delivered opaque. */
  ground: z.string().regex(/^#[0-9a-f]{6}$/, 'colours are written #rrggbb'),
  /** What the game needs before the files are put in place. */
  before: z.string().max(300).optional(),
  /** What the game needs before it shows the livery. */
  after: z.string().max(300),
});
export type DeliverySpec = z.infer<typeof DeliverySpec>;

/** A spec that came from outside. @param what it is, for the sentence @throws InputError with the first thing that is wrong in it */
export function readSpec(value: unknown, what: string): DeliverySpec {
  const parsed = DeliverySpec.safeParse(value);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new InputError(`${what} is not a delivery spec: ${issue.path.join('.') || 'the document'}: ${issue.message}.`);
}
