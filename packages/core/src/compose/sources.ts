import { InputError } from '../errors.ts';
import { holdLatest } from '../held.ts';
import { derivesOn } from '../finish/derived.ts';
import type { Derives } from '../finish/derives.ts';
import { knockOut } from '../filters/knockOut.ts';
import { rasterSide } from '../layers/decal/draw.ts';
import { boxesOf } from '../livery/boxes.ts';
import type { FieldKey } from '../livery/fields.ts';
import type { LayerOf } from '../livery/layer.ts';
import { colourOf, layersIn, type Livery } from '../livery/livery.ts';
import { holdsIn, type Subject, type Template } from '../livery/template.ts';
import { hexOfRgb } from '../colour/hex.ts';
import { pictureOf, type Picture } from '../raster/picture.ts';
import type { Image8 } from '../raster/image.ts';
import { readFont, type LetterFont } from '../shapes/font.ts';
import { bakeField, fineSubject } from '../surface/baked/index.ts';
import { boxOfPlaces, SheetSurface } from '../surface/surface.ts';
import { unpackStroke, type StrokePatches } from '../paint/strokes.ts';
import { strokesIn } from '../livery/strokes.ts';
import { fieldsOfLivery, fieldsOfLayer, withoutWaiting } from './liveryFields.ts';
import type { Sources } from './renderTile.ts';

/** Where bytes come from: a database, a bundle, or the server through HTTP. */
export interface Fetcher {
  /** Raw pixels of an imported picture, as packPixels made them, or the text of a drawing. */
  blob(hash: string): Promise<Uint8Array>;
  /** Many strokes in one go, in order; left out: they come one by one. */
  strokes?(hashes: readonly string[]): Promise<Uint8Array[]>;
  /** @param hash of the file that a livery is pinned to; undefined: the present one */
  font(key: string, hash?: string): Promise<Uint8Array>;
  /** Rasterises a drawing so that its longest side has `side` pixels: straight RGBA8. */
  drawSvg(svg: string, side: number): Promise<Image8>;
  unpackPixels(bytes: Uint8Array): Image8;
  /** A field of the model at its corners, where somebody else works it out; left out: it is worked out here. */
  field?(name: FieldKey, template: string): Promise<Float32Array>;
}

/** Strokes that are kept before all are let go; those of the livery at hand are fetched again. */
const MAX_STROKES = 40_000;
/** Bytes of pictures, without their halvings, that are kept beside those of the livery at hand. */
const PICTURE_BUDGET = 256 * 1024 * 1024;
/** Fields of the model that are kept before those that nothing uses are let go. */
const MOST_FIELDS = 12;
/** Sheets, at so many texels a sample, whose surface is kept: up to 24 MiB each. */
const MOST_SURFACES = 16;
/** Bytes of unpacked strokes that are kept. */
const PATCH_BUDGET = 64 * 1024 * 1024;

/** Loads and keeps what a livery draws with. `load` must have been awaited for a livery before it is drawn. */
export class SourceStore {
  private readonly pictures = new Map<string, Picture>();
  private readonly images = new Map<string, Image8>();
  /** Strokes as they are stored: small; unpacked when they are drawn. */
  private readonly strokes = new Map<string, Uint8Array>();
  private readonly patches = new Map<string, StrokePatches>();
  private patchBytes = 0;
  private readonly fonts = new Map<string, LetterFont>();
  private readonly underWay = new Map<string, Promise<void>>();
  private readonly surfaces = new Map<string, SheetSurface>();
  private readonly boxes = new Map<string, ReturnType<typeof boxOfPlaces>>();
  private readonly fields = new Map<FieldKey, Float32Array>();
  private readonly derived = new Map<string, Derives | null>();

  constructor(
    private readonly template: Template,
    private readonly fetcher: Fetcher,
  ) {}

  /** Fetches and decodes everything that the livery's layers use and that is not here yet. @param but pictures that come another way */
  async load(livery: Livery, but: ReadonlySet<string> = new Set()): Promise<void> {
    await Promise.all([this.loadLight(livery, but), this.loadFields(livery)]);
  }

  /** The same but for fields, which can take seconds to work out: see {@link drawable}. */
  async loadLight(livery: Livery, but: ReadonlySet<string> = new Set()): Promise<void> {
    const work: Promise<void>[] = [];
    for (const layer of layersIn(livery)) {
      if (layer.kind === 'lettering') {
        const key = fontKey(layer.font, livery);
        if (!this.fonts.has(key))
          work.push(
            this.once(`font ${key}`, async () => {
              this.fonts.set(key, readFont(await this.fetcher.font(layer.font, pinOf(layer.font, livery))));
            }),
          );
      }
      if (layer.kind === 'picture' && !this.images.has(layer.blob) && !but.has(layer.blob))
        work.push(
          this.once(`image ${layer.blob}`, async () => {
            this.images.set(layer.blob, this.fetcher.unpackPixels(await this.fetcher.blob(layer.blob)));
          }),
        );
      if (layer.kind === 'decal') {
        const key = pictureKey(layer, livery);
        if (!this.pictures.has(key)) work.push(this.once(`picture ${key}`, () => this.loadPicture(layer, livery, key)));
      }
    }
    if (this.strokes.size > MAX_STROKES) this.strokes.clear();
    const strokes = strokesIn(livery).filter(({ blob }) => !this.strokes.has(blob));
    if (strokes.length > 0) work.push(this.loadStrokes(strokes.map(({ blob }) => blob)));
    await Promise.all(work);
    this.letGo(livery);
  }

  /** Fetches, or works out, what of the model the livery is drawn by. */
  async loadFields(livery: Livery): Promise<void> {
    const work = this.awaited(livery).map((name) => this.once(`field ${name}`, () => this.loadField(name, livery)));
    await Promise.all(work);
  }

  /** Fields of the model that the livery is drawn by and that are not here yet. */
  awaited(livery: Livery): FieldKey[] {
    return fieldsOfLivery(livery).filter((name) => !this.fields.has(name));
  }

  /** The livery as far as it can be drawn already: layers whose fields are still to come are hidden. */
  drawable(livery: Livery): Livery {
    const missing = new Set(this.awaited(livery));
    return missing.size === 0 ? livery : withoutWaiting(livery, missing);
  }

  /** Many layers use the same font or picture: it is fetched once, however many ask for it meanwhile. */
  private once(what: string, load: () => Promise<void>): Promise<void> {
    const known = this.underWay.get(what);
    if (known) return known;
    const made = load().finally(() => this.underWay.delete(what));
    this.underWay.set(what, made);
    return made;
  }

  /** Bytes of the pictures that are held, without their halvings. */
  get bytes(): number {
    let bytes = 0;
    for (const { levels } of this.pictures.values()) bytes += levels[0].data.byteLength;
    for (const { data } of this.images.values()) bytes += data.byteLength;
    return bytes;
  }

  /** Forgets fields and pictures that this livery does not show when they weigh: those made while something was dragged, most of all. */
  private letGo(livery: Livery): void {
    const layers = layersIn(livery);
    if (this.fields.size > MOST_FIELDS) {
      const used = new Set(layers.flatMap(fieldsOfLayer));
      for (const key of this.fields.keys()) if (!used.has(key)) this.fields.delete(key);
    }
    if (this.bytes <= PICTURE_BUDGET) return;
    const shown = new Set(layers.flatMap((one) => (one.kind === 'decal' ? [pictureKey(one, livery)] : [])));
    for (const key of this.pictures.keys()) if (!shown.has(key)) this.pictures.delete(key);
    const lying = new Set<string>(layers.flatMap((one) => (one.kind === 'picture' ? [one.blob] : [])));
    for (const key of this.images.keys()) if (!lying.has(key)) this.images.delete(key);
  }

  /** Takes in a stroke that was made here. */
  addStroke(blob: string, bytes: Uint8Array): void {
    this.strokes.set(blob, bytes);
  }

  private async loadStrokes(blobs: readonly string[]): Promise<void> {
    const all = [...new Set(blobs)];
    if (this.fetcher.strokes) {
      const found = await this.fetcher.strokes(all);
      all.forEach((blob, i) => this.strokes.set(blob, found[i]));
      return;
    }
    // A few at a time: a livery can have thousands.
    const next = async (): Promise<void> => {
      for (let blob = all.pop(); blob !== undefined; blob = all.pop())
        this.strokes.set(blob, await this.fetcher.blob(blob));
    };
    await Promise.all(Array.from({ length: 12 }, next));
  }

  private patchesOf(blob: string, tiles: number): StrokePatches {
    const known = this.patches.get(blob);
    if (known) {
      this.patches.delete(blob);
      this.patches.set(blob, known);
      return known;
    }
    const made = unpackStroke(this.strokes.get(blob) ?? missing(blob), tiles);
    const bytesOf = (of: StrokePatches) => of.patches.reduce((sum, { values }) => sum + values.byteLength, 0);
    this.patches.set(blob, made);
    this.patchBytes += bytesOf(made);
    for (const [oldest, old] of this.patches) {
      if (this.patchBytes <= PATCH_BUDGET || oldest === blob) break;
      this.patches.delete(oldest);
      this.patchBytes -= bytesOf(old);
    }
    return made;
  }

  sources(livery: Livery): Sources {
    return {
      picture: (layer) => this.pictures.get(pictureKey(layer, livery)) ?? missing(layer.name),
      image: (blob) => this.images.get(blob) ?? missing(blob),
      font: (key) => this.fonts.get(fontKey(key, livery)) ?? missing(key),
      stroke: ({ blob, tiles }) => this.patchesOf(blob, tiles.length),
      surface: (sheet, step = 1) => this.surfaceOf(this.template, sheet, step, ''),
      field: (name, sheet, step) => ({
        surface: this.surfaceOf(fineSubject(this.template), sheet, step, 'fine'),
        corners: this.fields.get(name) ?? missing(name),
      }),
      placesBox: (sheet, parts) => {
        const key = `${sheet}/${parts.join()}`;
        const known = this.boxes.get(key);
        if (known) return known;
        const made = boxOfPlaces(this.template, sheet, parts);
        this.boxes.set(key, made);
        return made;
      },
      holds: (sheet, map) =>
        holdsIn(
          this.template.sheets.find(({ key }) => key === sheet),
          map,
        ),
      derives: (sheet, map) => this.derivesOn(sheet, map),
      boxes: (sheet) => boxesOf(livery, this.template, sheet),
    };
  }

  private derivesOn(sheet: string, map: string): Derives | null {
    const key = `${sheet}/${map}`;
    const known = this.derived.get(key);
    if (known !== undefined) return known;
    const made = derivesOn(this.template, sheet, map);
    this.derived.set(key, made);
    return made;
  }

  private surfaceOf(subject: Subject, sheet: string, step: number, how: string): SheetSurface {
    const key = `${sheet} ${step} ${how}`;
    const known = this.surfaces.get(key) ?? surfaceAt(subject, sheet, step);
    holdLatest(this.surfaces, key, known, MOST_SURFACES);
    return known;
  }

  private async loadField(name: FieldKey, { pins }: Livery): Promise<void> {
    this.fields.set(name, (await this.fetcher.field?.(name, pins.template)) ?? bakeField(this.template, name));
  }

  private async loadPicture(layer: LayerOf<'decal'>, livery: Livery, key: string): Promise<void> {
    const bytes = await this.fetcher.blob(layer.blob);
    const image =
      layer.source === 'pixels'
        ? knockedOut(this.fetcher.unpackPixels(bytes), layer)
        : await this.fetcher.drawSvg(recoloured(new TextDecoder().decode(bytes), layer, livery), rasterSide(layer));
    this.pictures.set(key, pictureOf(image));
  }
}

const pinOf = (font: string, { pins }: Pick<Livery, 'pins'>): string | undefined =>
  Object.hasOwn(pins.fonts, font) ? pins.fonts[font] : undefined;
/** Two liveries can have another file of one font. */
const fontKey = (font: string, livery: Pick<Livery, 'pins'>): string => `${font} ${pinOf(font, livery) ?? ''}`;

/** Samples of `step` texels: where a side is no multiple of them, the last one stands for less, and all are off by as much of it. */
function surfaceAt(subject: Subject, sheet: string, step: number): SheetSurface {
  const of = subject.sheets.find(({ key }) => key === sheet);
  if (step === 1 || !of) return new SheetSurface(subject, sheet);
  return new SheetSurface(subject, sheet, { width: Math.ceil(of.width / step), height: Math.ceil(of.height / step) });
}

function missing(what: string): never {
  throw new InputError(`"${what}" has not been loaded.`);
}

const knockedOut = (image: Image8, { knockOut: setting }: LayerOf<'decal'>): Image8 =>
  setting ? knockOut(image, setting) : image;

function swaps(layer: LayerOf<'decal'>, livery: Livery): [from: string, to: string][] {
  return layer.recolour.map((r) => [r.from, hexOfRgb(colourOf(livery, r.to))]);
}

function pictureKey(layer: LayerOf<'decal'>, livery: Livery): string {
  return layer.source === 'pixels'
    ? `${layer.blob}${layer.knockOut ? JSON.stringify(layer.knockOut) : ''}`
    : `${layer.blob}/${rasterSide(layer)}/${swaps(layer, livery).join(';')}`;
}

/** The drawing with its flat colours replaced. Drawings are kept with six-digit lower-case colours, see files/svg.ts. */
function recoloured(svg: string, layer: LayerOf<'decal'>, livery: Livery): string {
  const to = new Map(swaps(layer, livery));
  return svg.replace(/#[0-9a-f]{6}\b/g, (hex) => to.get(hex) ?? hex);
}
