/** Layers on their way to another sheet or livery: what they are, and what they lean on. */
import { movedBy } from './arrange.ts';
import { z } from 'zod';
import { InputError } from '../errors.ts';
import type { SingleEdit } from './edit.ts';
import { finishesOf, LiveryFinish } from './finish.ts';
import { LayerId, newColourId, newFinishId, newLayerId, Sha256, type FinishId } from './ids.ts';
import { Layer, paintsOf, type Paint } from './layer.ts';
import { layersOf, SchemeColour, type Livery } from './livery.ts';
import { MOST } from './limits.ts';
import { strokesOf } from './strokes.ts';
import type { TemplateSheet } from './template.ts';
import { withInside } from './tree.ts';
import { withPaints } from './wear.ts';

/** How far off and how large a part can lie on a sheet, and how small, texels. */
const [FAR, LEAST] = [1_000_000, 0.01];
const SHARE = z.number().min(-1.001).max(1.001);

/** A part of a template as it lies on its sheet, seen from outside and upright: where marks lie on it can be said of any other. */
export const Face = z.strictObject({
  key: z.string().max(120),
  name: z.string().max(200),
  sheet: z.string().max(40),
  /** Its middle, texels of its sheet. */
  x: z.number().min(-FAR).max(FAR),
  y: z.number().min(-FAR).max(FAR),
  /** How wide and high it is when it stands upright, texels. */
  width: z.number().min(LEAST).max(FAR),
  height: z.number().min(LEAST).max(FAR),
  /** Degrees clockwise that turn the sheet so that it stands upright. */
  turn: z.number().min(-360).max(360),
  /** -1: laid out as a mirror would show it. */
  hand: z.union([z.literal(1), z.literal(-1)]),
  /** Which way it looks on the model, a direction of length 1; nowhere: zeros. */
  looks: z.tuple([SHARE, SHARE, SHARE]),
});
export type Face = z.infer<typeof Face>;

/** Of a kit: a part, and the marks that lay on it. */
export const KitPart = z.strictObject({ face: Face, layers: z.array(LayerId).max(500) });
export type KitPart = z.infer<typeof KitPart>;

export const Parcel = z.strictObject({
  parcel: z.literal('wet-lacquer'),
  version: z.literal(1),
  /** Where the layers lay, and how large that sheet is in texels. */
  from: z.strictObject({
    template: Sha256,
    sheet: z.string().max(40),
    width: z.number().int().min(1).max(16384),
    height: z.number().int().min(1).max(16384),
  }),
  /** The colours that they wear; of a kit, the whole scheme. */
  scheme: z.array(SchemeColour).max(64),
  /** The finishes that they wear; parcels from before there were any have none. */
  finishes: z.array(LiveryFinish).max(MOST.finishes).optional(),
  fonts: z.record(z.string(), Sha256),
  /** First on first; those of groups before the group. */
  layers: z.array(Layer).max(500),
  /** Of a kit: where its marks lay, part by part. Kits from before there were any have none. */
  parts: z.array(KitPart).max(500).optional(),
});
export type Parcel = z.infer<typeof Parcel>;

/** The scheme's colours that some layers wear. */
function coloursOf(livery: Pick<Livery, 'scheme'>, layers: readonly Layer[]): SchemeColour[] {
  const worn = new Set(layers.flatMap((layer) => paintsOf(layer).flatMap((p) => ('scheme' in p ? [p.scheme] : []))));
  return livery.scheme.filter(({ id }) => worn.has(id));
}

/** Some layers as a parcel. @param scheme the colours that come along */
export function parcelOf(livery: Livery, sheet: TemplateSheet, layers: Layer[], scheme: SchemeColour[]): Parcel {
  const keys = new Set(layers.flatMap((layer) => (layer.kind === 'lettering' ? [layer.font] : [])));
  const fonts = Object.fromEntries(Object.entries(livery.pins.fonts).filter(([key]) => keys.has(key)));
  const from = { template: livery.pins.template, sheet: sheet.key, width: sheet.width, height: sheet.height };
  const worn = new Set<string>(layers.flatMap(({ finish }) => (finish ? [finish] : [])));
  const finishes = finishesOf(livery).filter(({ id }) => worn.has(id));
  return {
    ...{ parcel: 'wet-lacquer', version: 1, from, scheme, fonts, layers },
    ...(finishes.length > 0 && { finishes }),
  };
}

/** Layers of one map of a sheet, with everything in their groups. */
export function packLayers(livery: Livery, sheet: TemplateSheet, map: string, ids: readonly string[]): Parcel {
  const layers = layersOf(livery, sheet.key, map);
  const wanted = new Set(
    layers.filter(({ id }) => ids.includes(id)).flatMap((layer) => withInside(layers, layer).map(({ id }) => id)),
  );
  const packed = layers.filter(({ id }) => wanted.has(id));
  return parcelOf(livery, sheet, packed, coloursOf(livery, packed));
}

/** Everything that a parcel's layers have stored elsewhere, with the layer's name. */
export const blobsIn = ({ layers }: Pick<Parcel, 'layers'>): { name: string; blob: Sha256 }[] =>
  layers.flatMap((layer) => [
    ...('blob' in layer ? [{ name: layer.name, blob: layer.blob }] : []),
    ...strokesOf(layer).map(({ blob }) => ({ name: layer.name, blob })),
  ]);

/** Reads a parcel. @throws InputError when a text is none */
export function readParcel(text: string): Parcel {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new InputError('What was copied are no layers: it is not JSON.');
  }
  const parsed = Parcel.safeParse(value);
  if (parsed.success) return parsed.data;
  const { path, message } = parsed.error.issues[0];
  throw new InputError(`What was copied are no layers: ${path.join('.')}: ${message}.`);
}

/** Ids that every new livery once had: they do not say that two colours are one. */
const COMMON_ID = /^first-\d+$/;

/** The scheme colour of a livery that another livery's colour becomes: the same one, or one of the same name and value; null: none. */
function likeness(livery: Pick<Livery, 'scheme'>, colour: SchemeColour): SchemeColour | null {
  const same = COMMON_ID.test(colour.id) ? undefined : livery.scheme.find(({ id }) => id === colour.id);
  const named = livery.scheme.find(
    ({ name, hex }) => hex === colour.hex && name.toLowerCase() === colour.name.toLowerCase(),
  );
  return same ?? named ?? livery.scheme.find(({ hex }) => hex === colour.hex) ?? null;
}

/** The finish of a livery that another livery's becomes: of the same id and values, or of the same values; null: none. */
function sameFinish(livery: Livery, { id, name: _name, ...values }: LiveryFinish): LiveryFinish | null {
  const text = ({ id: _id, name: _of, ...rest }: LiveryFinish) => JSON.stringify(LiveryValues.parse(rest));
  const alike = finishesOf(livery).filter((one) => text(one) === JSON.stringify(LiveryValues.parse(values)));
  return alike.find((one) => one.id === id) ?? alike.at(0) ?? null;
}
const LiveryValues = LiveryFinish.omit({ id: true, name: true });

export interface Unpacked {
  edits: SingleEdit[];
  /** The layers that come, first on first, under their new names. */
  layers: Layer[];
}

/** What a livery has to take in before it can wear a parcel's layers, and how they look then. */
export interface Dressed {
  edits: SingleEdit[];
  /** A layer of the parcel under its new name, in the livery's own colours and finishes. @param home it comes back to its own sheet */
  worn(layer: Layer, home: boolean): Layer;
}

/** Colours and finishes that the livery lacks are added, or, when it is full, colours are worn as they are. */
export function dressFor(parcel: Parcel, livery: Livery): Dressed {
  const colours = new Map<string, Paint>();
  const edits: SingleEdit[] = [];
  let size = livery.scheme.length;
  for (const colour of parcel.scheme) {
    const own = likeness(livery, colour);
    if (own) colours.set(colour.id, { scheme: own.id });
    else if (size >= 64) colours.set(colour.id, { hex: colour.hex });
    else {
      const added = { ...colour, id: newColourId() };
      edits.push({ do: 'add-colour', colour: added, index: size++ });
      colours.set(colour.id, { scheme: added.id });
    }
  }
  const finishes = new Map<string, FinishId>();
  let many = finishesOf(livery).length;
  for (const finish of parcel.finishes ?? []) {
    const own = sameFinish(livery, finish);
    if (own) finishes.set(finish.id, own.id);
    else if (many < MOST.finishes) {
      const added = { ...finish, id: newFinishId() };
      edits.push({ do: 'add-finish', finish: added, index: many++ });
      finishes.set(finish.id, added.id);
    }
  }
  for (const [font, hash] of Object.entries(parcel.fonts))
    if (!livery.pins.fonts[font]) edits.push({ do: 'pin-font', font, hash });
  const ids = new Map<string, LayerId>(parcel.layers.map(({ id }) => [id, newLayerId()]));
  return {
    edits,
    worn(given, home) {
      const {
        across: _across,
        group,
        mask,
        finish,
        ...rest
      } = withPaints(given, (paint) => ('scheme' in paint ? (colours.get(paint.scheme) ?? paint) : paint));
      return Layer.parse({
        ...rest,
        id: ids.get(given.id),
        locked: false,
        parts: home ? given.parts : [],
        ...(finish && finishes.has(finish) && { finish: finishes.get(finish) }),
        ...(group && ids.has(group) && { group: ids.get(group) }),
        ...(mask && { mask: maskFor(mask, ids, home) }),
      });
    },
  };
}

/**
 * What puts a parcel's layers on a sheet, at `index` of its build-up. Parts stay only on the sheet that they belong to.
 * @param move texels that everything placed moves by
 */
export function unpackLayers(
  parcel: Parcel,
  livery: Livery,
  target: { sheet: TemplateSheet; map: string; index: number },
  move = { x: 0, y: 0 },
): Unpacked {
  const { edits, worn } = dressFor(parcel, livery);
  const home = parcel.from.template === livery.pins.template && parcel.from.sheet === target.sheet.key;
  const layers = parcel.layers.map((given) => moved(worn(given, home), move));
  const { sheet, map, index } = target;
  for (const [n, layer] of layers.entries())
    edits.push({ do: 'add-layer', sheet: sheet.key, map, layer, index: index + n });
  return { edits, layers };
}

function maskFor(mask: NonNullable<Layer['mask']>, ids: ReadonlyMap<string, LayerId>, home: boolean) {
  const { from } = mask;
  if (from.kind === 'layer') {
    const id = ids.get(from.layer);
    return { ...mask, from: id ? { ...from, layer: id } : { kind: 'all' as const } };
  }
  return from.kind === 'parts' && !home ? { ...mask, from: { kind: 'all' as const } } : mask;
}

/** What lies on the model lies there in metres: it stays. */
const moved = (layer: Layer, { x, y }: { x: number; y: number }): Layer => (layer.on ? layer : movedBy(layer, x, y));
