import { z } from 'zod';
import { metres } from './values.ts';
import { HEX, rgbOfHex, type SrgbRgb } from '../colour/hex.ts';
import { LiveryFinish } from './finish.ts';
import { ColourId, FinishId, Sha256, type LayerId } from './ids.ts';
import { Layer, type Paint } from './layer.ts';
import { MOST } from './limits.ts';
import { NightLook } from './night.ts';
import { Stroke } from './paint.ts';
import { Plate } from './plate.ts';
import { words } from './words.ts';

export const SchemeColour = z.strictObject({
  id: ColourId,
  name: words(60, 1),
  hex: z.string().regex(HEX),
});
export type SchemeColour = z.infer<typeof SchemeColour>;

/** What the alpha of a map is: nothing, coverage of the art, a cut-out, or data of its own. */
export const AlphaRole = z.enum(['none', 'coverage', 'cutout', 'data']);

export const SheetMap = z.strictObject({
  key: z.string().max(40),
  alpha: AlphaRole,
  /** First on first. */
  layers: z.array(Layer).max(MOST.layers),
});

export const LiverySheet = z.strictObject({
  key: z.string().max(40),
  /** How it is finished where no layer says otherwise. */
  finish: FinishId,
  /** The painter calls it done. */
  ready: z.boolean(),
  /** Kept as the original on purpose: not delivered, and not a sheet left bare. */
  kept: z.boolean(),
  maps: z.array(SheetMap).min(1).max(MOST.maps),
  /** Colours of parameter boxes that differ from the template's, `#rrggbbaa`, by the box's key. */
  boxes: z.record(z.string().max(40), z.string().regex(/^#[0-9a-f]{8}$/)).optional(),
});
export type LiverySheet = z.infer<typeof LiverySheet>;

/** Letters, and no name that every object of the language has. */
const ParticularKey = z
  .string()
  .regex(/^[a-z][a-zA-Z]{0,29}$/)
  .refine((key) => !(key in Object.prototype), 'this name cannot be used');

/** The facts used in lettering, names and sidecars. `name` and `key` are always there. */
export const Particulars = z.record(ParticularKey, words(200));

/** A picture pinned beside a sheet to look at: never delivered. */
export const Reference = z.strictObject({
  id: z.string().min(1).max(60),
  name: words(80, 1),
  /** Stored pixels; see files/pixels.ts. */
  blob: Sha256,
  sheet: z.string().max(40),
  /** Where it lies, in texels of the sheet. */
  left: z.number().min(-65536).max(65536),
  top: z.number().min(-65536).max(65536),
  width: z.number().min(1).max(65536),
  height: z.number().min(1).max(65536),
  /**
   * It lies over the model in place of beside the sheet: places of the model, metres, and where it shows them, shares of its width and its
   * height. Its sides above are its own then, pixels.
   */
  pairs: z
    .array(
      z.strictObject({
        place: z.tuple([metres, metres, metres]),
        x: z.number().min(0).max(1),
        y: z.number().min(0).max(1),
      }),
    )
    .max(40)
    .optional(),
});
export type Reference = z.infer<typeof Reference>;

/** A region of a sheet that was given a name. */
export const Selection = z.strictObject({
  id: z.string().min(1).max(60),
  name: words(80, 1),
  sheet: z.string().max(40),
  /** Coverage of 8 bits by tiles; see paint/strokes.ts. */
  blob: Sha256,
  tiles: Stroke.shape.tiles,
});
export type Selection = z.infer<typeof Selection>;

/** A state that was given a name: what the livery was at a revision. */
export const Version = z.strictObject({
  id: z.string().min(1).max(60),
  name: z.string().trim().pipe(words(80, 1)),
  revision: z.number().int().min(0),
  /** When it got its name. */
  at: z.iso.datetime().optional(),
});
export type Version = z.infer<typeof Version>;

/** A delivery spec, for ever: a version never changes. */
export const SpecPin = z.strictObject({ key: z.string().max(60), version: z.number().int() });
export type SpecPin = z.infer<typeof SpecPin>;

export const Livery = z.strictObject({
  schema: z.literal(1),
  particulars: Particulars,
  scheme: z.array(SchemeColour).max(MOST.scheme),
  /** Left out: those that every livery begins with; see finish.ts. */
  finishes: z.array(LiveryFinish).min(1).max(MOST.finishes).optional(),
  /** What its maps that hold light make of the day; left out: nothing, they are painted by hand. */
  night: NightLook.optional(),
  sheets: z.array(LiverySheet).min(1).max(MOST.sheets),
  references: z.array(Reference).max(MOST.references).optional(),
  selections: z.array(Selection).max(MOST.selections).optional(),
  versions: z.array(Version).max(MOST.versions).optional(),
  /** What stands on the model beside its paint. */
  plates: z.array(Plate).max(MOST.plates).optional(),
  /** Specs that it is delivered by beside the one in its pins: another size, another game. */
  alsoBy: z.array(SpecPin).min(1).max(8).optional(),
  /** The skin of somebody else's that it was begun from, and under which terms. */
  after: z.strictObject({ name: words(80, 1), by: words(60, 1), licence: words(400) }).optional(),
  /** What the livery depends on, so that it looks the same for ever. */
  pins: z.strictObject({
    template: Sha256,
    spec: SpecPin,
    renderer: z.literal(1),
    fonts: z.record(z.string(), Sha256),
  }),
});
export type Livery = z.infer<typeof Livery>;

export interface LayerPlace {
  sheet: string;
  map: string;
  index: number;
  layer: Layer;
}

/** Where a layer is, or null when it is gone. */
export function findLayer(livery: Livery, id: LayerId): LayerPlace | null {
  for (const sheet of livery.sheets) {
    for (const map of sheet.maps) {
      const index = map.layers.findIndex((layer) => layer.id === id);
      if (index >= 0) return { sheet: sheet.key, map: map.key, index, layer: map.layers[index] };
    }
  }
  return null;
}

export function layersOf(livery: Livery, sheet: string, map = 'colour'): readonly Layer[] {
  return livery.sheets.find((s) => s.key === sheet)?.maps.find((m) => m.key === map)?.layers ?? [];
}

/** The livery with other layers on one map. */
export function withLayers(livery: Livery, sheet: string, map: string, layers: readonly Layer[]): Livery {
  const sheets = livery.sheets.map((one) =>
    one.key === sheet
      ? { ...one, maps: one.maps.map((own) => (own.key === map ? { ...own, layers: [...layers] } : own)) }
      : one,
  );
  return { ...livery, sheets };
}

/** The scheme's n-th colour, or its last, or a grey when it has none. */
export function schemePaint({ scheme }: Pick<Livery, 'scheme'>, n: number): Paint {
  const colour = scheme[Math.min(n, scheme.length - 1)];
  return colour ? { scheme: colour.id } : { hex: '#808080' };
}

/** The 8-bit sRGB colour that a paint stands for now; a reference to a colour that is gone is mid grey. */
export function colourOf(livery: Pick<Livery, 'scheme'>, paint: Paint): SrgbRgb {
  if ('hex' in paint) return rgbOfHex(paint.hex);
  const found = livery.scheme.find((colour) => colour.id === paint.scheme);
  return found ? rgbOfHex(found.hex) : [128, 128, 128];
}

/**
 * `{number}` and the like replaced by the livery's particulars; unknown names stay as they are.
 * @example
 * import { fillIn } from './livery/livery.ts';
 * fillIn('{team} {number} {else}', { team: 'Tern', number: '7' }); // 'Tern 7 {else}'
 */
export function fillIn(text: string, particulars: Record<string, string>): string {
  return text.replace(/\{([a-z][a-zA-Z]*)\}/g, (whole, key: string) =>
    Object.hasOwn(particulars, key) ? particulars[key] : whole,
  );
}

/** Every spec that a livery is delivered by, its own first. */
export const deliveredBy = ({ pins, alsoBy = [] }: Pick<Livery, 'pins' | 'alsoBy'>): SpecPin[] => [
  pins.spec,
  ...alsoBy.filter(({ key }) => key !== pins.spec.key),
];

/** Every layer of a livery, sheet by sheet. */
export const layersIn = (livery: Livery): Layer[] =>
  livery.sheets.flatMap((sheet) => sheet.maps.flatMap((map) => map.layers));
