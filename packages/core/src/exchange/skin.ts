/** A finished skin as it is handed on: its files, what they are for, and what is needed to put them into a game where other skins are already. */
import { z } from 'zod';
import { HEX } from '../colour/hex.ts';
import { whyNoPath } from '../delivery/safePath.ts';
import { InputError } from '../errors.ts';
import { checkPlain } from '../files/json.ts';
import { Sha256 } from '../livery/ids.ts';
import { DeliverySpec } from '../livery/spec.ts';

/** What one skin may bring. */
export const MOST = {
  files: 400,
  bytes: 512 * 2 ** 20,
  pictures: 6,
  pictureBytes: 4 * 2 ** 20,
  documentBytes: 4 * 2 ** 20,
};

const words = (most: number) => z.string().trim().max(most);
const named = (most: number) => words(most).min(1);
const key = z.string().min(1).max(60);
const facts = z.record(z.string().max(60), z.string().max(400));
const inside = z
  .string()
  .min(1)
  .max(400)
  .refine((name) => whyNoPath(name) === null, 'a path inside its folder, as every system can have it');

const Held = z.strictObject({ sha256: Sha256, bytes: z.number().int().min(0).max(MOST.bytes) });

export const SkinFile = Held.extend({
  /** Inside the skin's folder, as it was delivered. */
  name: inside,
  /** What it is, in words: "BC7, 12 mip levels". */
  what: words(200),
  /** Its name as the spec makes it, and what of it is the file's own; see `expand`. */
  pattern: z.string().min(1).max(400),
  naming: facts,
  /** The sheet and the map that it holds; left out: it is no picture of a sheet. */
  sheet: z.strictObject({ key, map: z.string().min(1).max(40) }).optional(),
  /** A text: it is written anew where it is put, from the spec's sidecar of this number and what that can say. */
  text: z
    .strictObject({ sidecar: z.number().int().min(0).max(39), view: z.record(z.string().max(60), z.json()) })
    .optional(),
  /** An atlas of the game's own: only these cells of it are the skin's. */
  cells: z
    .strictObject({
      columns: z.number().int().min(1).max(64),
      rows: z.number().int().min(1).max(64),
      changed: z.array(z.number().int().min(0).max(4095)).max(4096),
    })
    .optional(),
});
export type SkinFile = z.infer<typeof SkinFile>;

/** The document of a skin. Its files lie beside it, by their SHA-256. */
export const Skin = z.strictObject({
  schema: z.literal(1),
  name: named(80),
  /** Who made it, as they are called. */
  by: named(60),
  crew: words(60),
  about: words(4000),
  /** What is new in this version. */
  news: words(400),
  /** What it is for. `template`: SHA-256 of the template that it was painted on, where others have the same one. */
  subject: z.strictObject({ key: z.string().max(60), name: named(80), template: Sha256 }),
  /** How it was delivered: names, numbers and texts are made by it again where it is put. */
  spec: DeliverySpec,
  particulars: facts,
  sheets: z
    .array(
      z.strictObject({ key, width: z.number().int().min(1).max(16384), height: z.number().int().min(1).max(16384) }),
    )
    .min(1)
    .max(200),
  /** The number that it had where it was delivered. */
  number: z.number().int().min(0).max(9_999_999).nullable(),
  /** Under which terms others may use it, and whether they may go on from it with a livery of their own. */
  licence: z.strictObject({ terms: named(400), adapt: z.boolean() }),
  /** What in it was borrowed from others. */
  credits: z.array(z.strictObject({ name: words(200), origin: words(400), licence: words(400) })).max(200),
  /** Its scheme's colours. */
  colours: z.array(z.string().regex(HEX)).max(24),
  /** The skin that its livery was begun from. */
  after: z.strictObject({ name: named(80), by: named(60), licence: words(400) }).nullable(),
  files: z.array(SkinFile).min(1).max(MOST.files),
  /** Pictures of the model with the skin on it, PNG. */
  pictures: z.array(Held.extend({ shows: named(60) })).max(MOST.pictures),
  /** The livery itself as a bundle, for whoever may go on from it. */
  livery: Held.nullable(),
});
export type Skin = z.infer<typeof Skin>;

/**
 * A skin's document that came from outside.
 * @throws InputError with the first thing that is wrong in it
 */
export function readSkin(value: unknown): Skin {
  checkPlain(value, 'This skin');
  const parsed = Skin.safeParse(value);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new InputError(
      `This is not the document of a skin: ${issue.path.join('.') || 'the document'}: ${issue.message}.`,
    );
  }
  const skin = parsed.data;
  const names = skin.files.map(({ name }) => name.toLowerCase());
  const twice = names.find((name, i) => names.indexOf(name) !== i);
  if (twice) throw new InputError(`Two files of this skin are called “${twice}”.`);
  const bytes = everyBlob(skin).reduce((sum, one) => sum + one.bytes, 0);
  if (bytes > MOST.bytes) throw new InputError(`This skin has ${bytes} bytes; ${MOST.bytes} are the most.`);
  if (skin.licence.adapt !== (skin.livery !== null))
    throw new InputError('A livery comes with the skins that others may go on from, and with no others.');
  for (const { name, text } of skin.files)
    if (text && !skin.spec.sidecars[text.sidecar])
      throw new InputError(`“${name}” is made by a text that this skin’s spec does not have.`);
  return skin;
}

/** All that lies beside a skin's document: its files, its pictures, its livery. */
export const everyBlob = ({ files, pictures, livery }: Skin): { sha256: Sha256; bytes: number }[] => [
  ...files,
  ...pictures,
  ...(livery ? [livery] : []),
];
