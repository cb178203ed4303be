import { heldIn } from '../held.ts';
import { rgbOfHex } from '../colour/hex.ts';
import { flipRows, wordsOf, type Image8 } from '../raster/image.ts';
import type { SheetSurface } from '../surface/surface.ts';
import { stampBoxes } from '../livery/boxes.ts';
import { isColoured, MAIN_MAP, type MapHolds, type ParameterBox, type TemplateSheet } from '../livery/template.ts';
import type { Effort, Encoding } from '../texture/encoding.ts';
import type { MipOptions } from '../texture/mips.ts';
import { bleedColour } from '../plates/picture.ts';
import { padEdges } from '../texture/padding.ts';
import { carriesAlpha, sourceOf, type Channel, type SpecFile } from '../livery/spec.ts';

/**
 * The picture as the game will hold it: padded, opaque where the spec says so, the way up that the spec says. Level 0.
 * @param surface null: of a sheet of plates, whose colour is carried into what is clear
 */
export function preparedSheet(
  flat: Image8,
  spec: SpecFile,
  holds: MapHolds,
  surface: SheetSurface | null,
  ground: string,
  boxes: readonly ParameterBox[] = [],
): Image8 {
  const image: Image8 = { ...flat, data: flat.data.slice() };
  if (spec.colourSpace === 'normal' && !spec.packed) straighten(image.data);
  if (!surface) bleedClear(image, spec);
  else if (carriesEdges(spec, holds)) padEdges(image, surface, spec.padding);
  if (!carriesAlpha(spec)) flatten(image, ground);
  const { width, height } = image;
  if (spec.map === MAIN_MAP) stampBoxes(image.data, { x: 0, y: 0, width, height, step: 1 }, boxes);
  return spec.flip ? flipRows(image) : image;
}

/** Carries colour into what is clear, where alpha says so and goes along. */
export function bleedClear(image: Image8, spec: SpecFile): void {
  if (spec.colourSpace === 'srgb' && !spec.packed && carriesAlpha(spec)) bleedColour(image);
}

/** Whether a file's edges are carried on: never of data or directions; of ids whole texels are. @param holds what its map holds */
export const carriesEdges = ({ padding, packed, colourSpace }: SpecFile, holds: MapHolds): boolean =>
  padding > 0 && !packed && colourSpace !== 'normal' && (isColoured(holds) || colourSpace === 'ids');

/** How far a normal's length may be from one before it is put right: what 8 bits make of a unit vector is within this (worked out: half a step on each axis, 0.0068). */
const LENGTH_SLACK = 0.007;

/** Normals of length one, in place: colours that a painter put on a normal map seldom are. Those that are already stay as they are. @param data RGBA8 */
export function straighten(data: Uint8Array): void {
  straightenAt(data, null);
}

/** The same where something changed; null: everywhere. @param changed one byte a texel */
export function straightenAt(data: Uint8Array, changed: Uint8Array | null): void {
  for (let i = 0; i < data.length; i += 4) {
    if (changed && !changed[i >> 2]) continue;
    const [x, y, z] = [data[i] / 127.5 - 1, data[i + 1] / 127.5 - 1, data[i + 2] / 127.5 - 1];
    const length = Math.sqrt(x * x + y * y + z * z);
    if (length > 1 - LENGTH_SLACK && length < 1 + LENGTH_SLACK) continue;
    // No direction at all is taken for the surface's own.
    const [nx, ny, nz] = length < 0.01 ? [0, 0, 1] : [x / length, y / length, z / length];
    data[i] = Math.floor((nx + 1) * 127.5 + 0.5);
    data[i + 1] = Math.floor((ny + 1) * 127.5 + 0.5);
    data[i + 2] = Math.floor((nz + 1) * 127.5 + 0.5);
  }
}

/** How its values are stored: normals and ids are plain values. */
export const spaceOf = (spec: SpecFile): 'srgb' | 'linear' => (spec.colourSpace === 'srgb' ? 'srgb' : 'linear');

/** What the alpha of a map is. */
type AlphaRole = TemplateSheet['alpha'];

/** Alpha at which the game cuts (common practice, no source). */
const CUT = 0.5;

/** How the mip levels of such a picture are made: cut-outs keep their coverage, alpha that is data neither weighs colour nor is weighed. */
export function mipOptions(spec: SpecFile, role: AlphaRole): MipOptions {
  const kept = carriesAlpha(spec);
  return {
    kind: spec.colourSpace,
    filter: spec.mipFilter,
    alpha: kept && role === 'data' ? 'data' : 'coverage',
    ...(kept && role === 'cutout' && { coverage: CUT }),
    ...(spec.mips !== 'full' && { count: spec.mips === 'none' ? 1 : spec.mips }),
  };
}

/** How its blocks are encoded. */
export function encodingOf(spec: SpecFile, role: AlphaRole, effort: Effort): Encoding {
  return { effort, freeClear: spec.freeClear && role === 'coverage' && carriesAlpha(spec) };
}

/** Straight alpha over a colour, in the sheet's own encoding. */
export function flatten(image: Image8, ground: string): void {
  flattenAt(image, ground, null);
}

/** The same where something changed; null: everywhere. @param changed one byte a texel */
export function flattenAt({ data }: Image8, ground: string, changed: Uint8Array | null): void {
  const under = rgbOfHex(ground);
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a === 255 || (changed && !changed[i >> 2])) continue;
    for (let c = 0; c < 3; c++) data[i + c] = Math.floor((data[i + c] * a + under[c] * (255 - a)) / 255 + 0.5);
    data[i + 3] = 255;
  }
}

const AT: Readonly<Record<Channel, number>> = { red: 0, green: 1, blue: 2, alpha: 3 };

/** One picture of channels that come from several maps of a sheet. @param maps straight RGBA8 of one size, by key */
export function packChannels(
  packed: NonNullable<SpecFile['packed']>,
  maps: ReadonlyMap<string, Image8>,
  size: { width: number; height: number },
): Image8 {
  const data = new Uint8Array(size.width * size.height * 4);
  for (const [channel, at] of Object.entries(AT)) {
    const source = packed[channel as Channel];
    const of = sourceOf(source);
    if ('value' in source) for (let i = at; i < data.length; i += 4) data[i] = source.value;
    else if (of) {
      const from = heldIn(maps, of.map).data;
      const shift = AT[of.channel] - at;
      for (let i = at; i < data.length; i += 4) data[i] = from[i + shift];
    }
  }
  return { ...size, data };
}

/** The view of zones in a game's own colours. @param colours by those of the view, `#rrggbb`; see finish/zones.ts @param image RGBA8, changed in place */
export function inZoneColours(image: Image8, colours: Readonly<Record<string, string>>): void {
  const word = (hex: string) => wordsOf(Uint8Array.from([...rgbOfHex(hex), 255]))[0];
  const to = new Map(Object.entries(colours).map(([from, hex]) => [word(from), word(hex)]));
  const texels = wordsOf(image.data);
  let [last, now] = [texels[0], to.get(texels[0]) ?? texels[0]];
  for (let i = 0; i < texels.length; i++) {
    if (texels[i] !== last) now = to.get((last = texels[i])) ?? last;
    texels[i] = now;
  }
}
