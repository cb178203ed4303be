/** Short words for writing demo liveries down. Ids are counted, so that the same script makes the same livery. */
import { Plate } from '../packages/core/src/livery/plate.ts';
import { fitPlate } from '../packages/core/src/plates/fit.ts';
import { WEAR_LOOKS, type WearHow } from '../packages/core/src/layers/wear/data.ts';
import { createHash } from 'node:crypto';
import { PLAIN_FINISH, type LiveryFinish } from '../packages/core/src/livery/finish.ts';
import { ColourId, FinishId, LayerId, Sha256 } from '../packages/core/src/livery/ids.ts';
import { Layer, type Paint, type Phase } from '../packages/core/src/livery/layer.ts';
import type { Livery, SchemeColour } from '../packages/core/src/livery/livery.ts';
import { FIRST_NIGHT, type Lit } from '../packages/core/src/livery/night.ts';
import { newMask, type Filter, type Mask } from '../packages/core/src/livery/paint.ts';
import { beginningOf, lightMapsOf, mapsOf, type Template } from '../packages/core/src/livery/template.ts';
import { MARKS, markBytes } from './marks.ts';

export const hashOf = (bytes: Uint8Array | string) => Sha256.parse(createHash('sha256').update(bytes).digest('hex'));

type Common = {
  parts?: string[];
  opacity?: number;
  blend?: string;
  hidden?: boolean;
  locked?: boolean;
  phase?: Phase;
  clipped?: boolean;
  /** The id of one of the livery's finishes. */
  finish?: string;
  /** Layers of several sheets that say the same here are one. */
  across?: string;
  /** How it lies on the model. */
  on?: Record<string, unknown>;
  mask?: Mask;
  filters?: Filter[];
  /** It gives light at night. */
  lit?: Lit;
};

export class Painter {
  readonly scheme: SchemeColour[];
  private readonly sheets = new Map<string, Layer[]>();
  private readonly plates: Plate[] = [];
  private count = 0;

  constructor(
    private readonly key: string,
    colours: Record<string, string>,
  ) {
    this.scheme = Object.entries(colours).map(([name, hex], i) => ({
      id: ColourId.parse(`${key}-colour-${i + 1}`),
      name,
      hex,
    }));
  }

  paint(name: string): Paint {
    const found = this.scheme.find((colour) => colour.name === name);
    if (!found) throw new Error(`No colour ${name}`);
    return { scheme: found.id };
  }

  /** @param sheet its key, or `sheet/map` */
  private add(sheet: string, phase: Phase, name: string, common: Common, rest: Record<string, unknown>): void {
    const layer = Layer.parse({
      id: LayerId.parse(`${this.key}-layer-${++this.count}`),
      name,
      phase,
      hidden: false,
      locked: false,
      opacity: 100,
      blend: 'normal',
      parts: [],
      ...rest,
      ...common,
    });
    this.sheets.set(sheet, [...(this.sheets.get(sheet) ?? []), layer]);
  }

  solid(sheet: string, name: string, colour: string, common: Common = {}) {
    this.add(sheet, 'Base', name, common, { kind: 'solid', paint: this.paint(colour) });
  }

  fade(
    sheet: string,
    name: string,
    at: { x: number; y: number; length: number; angle: number; shape?: string },
    stops: [number, string, number][],
    common: Common = {},
  ) {
    this.add(sheet, 'Base', name, common, {
      kind: 'fade',
      shape: 'linear',
      ...at,
      stops: stops.map(([at, colour, opacity]) => ({ at, paint: this.paint(colour), opacity })),
    });
  }

  stripe(
    sheet: string,
    name: string,
    colour: string,
    at: { x: number; y: number; angle: number; width: number; softness?: number },
    common: Common = {},
  ) {
    this.add(sheet, 'Pattern', name, common, { kind: 'stripe', paint: this.paint(colour), softness: 0, ...at });
  }

  stripes(
    sheet: string,
    name: string,
    colours: string[],
    at: { x: number; y: number; angle: number; width: number; gap: number; count: number; softness?: number },
    common: Common = {},
  ) {
    this.add(sheet, 'Pattern', name, common, {
      kind: 'stripe-set',
      paints: colours.map((c) => this.paint(c)),
      softness: 0,
      ...at,
    });
  }

  chequer(
    sheet: string,
    name: string,
    colours: [string, string | null],
    at: { x: number; y: number; angle: number; cell: number; columns: number; rows: number },
    common: Common = {},
  ) {
    this.add(sheet, 'Pattern', name, common, {
      kind: 'chequer',
      paint: this.paint(colours[0]),
      other: colours[1] ? this.paint(colours[1]) : null,
      ...at,
    });
  }

  mark(
    sheet: string,
    file: string,
    at: { x: number; y: number; height: number; turn?: number; mirrored?: boolean },
    recolour: [from: string, to: string][] = [],
    common: Common = {},
  ) {
    const mark = MARKS.find((m) => m.file === file)!;
    this.add(sheet, 'Marks', mark.name, common, {
      kind: 'decal',
      source: 'svg',
      blob: hashOf(markBytes(file)),
      ratio: mark.ratio,
      keepRatio: true,
      turn: 0,
      mirrored: false,
      ...at,
      width: at.height * mark.ratio,
      recolour: recolour.map(([from, to]) => ({ from, to: this.paint(to) })),
    });
  }

  /** One layer that lies on the model, on each of its sheets. */
  private across(sheets: string[], phase: Phase, name: string, common: Common, rest: Record<string, unknown>): void {
    const across = `${this.key}-across-${this.count}`;
    for (const sheet of sheets) this.add(sheet, phase, name, { across, ...common }, rest);
  }

  /** What is put on within `put` lies on the model: one layer on each of its sheets, its numbers in units of a centimetre. */
  lying(sheets: string[], on: Record<string, unknown>, put: (sheet: string, common: Common) => void): void {
    const across = `${this.key}-across-${this.count}`;
    for (const sheet of sheets) put(sheet, { across, on: { scale: 0.01, ...on } });
  }

  /** One band round the model, over several sheets. */
  belt(
    sheets: string[],
    name: string,
    colour: string,
    at: { along: 'height' | 'length' | 'width'; from: number; to: number; soft?: number },
    common: Common = {},
  ) {
    this.across(sheets, 'Pattern', name, common, { kind: 'belt', paint: this.paint(colour), soft: 0, ...at });
  }

  hazard(
    sheet: string,
    name: string,
    colours: [string, string | null],
    at: { x: number; y: number; width: number; height: number; bar: number; slant?: number; turn?: number },
    common: Common = {},
  ) {
    this.add(sheet, 'Pattern', name, common, {
      kind: 'hazard',
      paint: this.paint(colours[0]),
      other: colours[1] ? this.paint(colours[1]) : null,
      slant: 30,
      turn: 0,
      ...at,
    });
  }

  /** A filled outline through texels. @param smooth without corners */
  shape(sheet: string, name: string, colour: string, points: [number, number][], common: Common = {}, smooth = false) {
    this.shapes(sheet, name, colour, [points], common, smooth);
  }

  shapes(sheet: string, name: string, colour: string, all: [number, number][][], common: Common = {}, smooth = false) {
    this.add(sheet, 'Pattern', name, common, {
      kind: 'shape',
      paint: this.paint(colour),
      x: 0,
      y: 0,
      line: null,
      paths: all.map((points) => ({ closed: true, how: 'add', knots: points.map(([x, y]) => ({ x, y, smooth })) })),
    });
  }

  /** Dust, chips and the like: a colour where the model's own shape holds it. */
  wear(
    sheet: string,
    name: string,
    colour: string,
    by: { field: 'height' | 'hollows' | 'edges'; from: number; to: number },
    common: Common = {},
  ) {
    const mask = newMask({ kind: 'field', ...by });
    this.add(sheet, 'Wear', name, { mask, ...common }, { kind: 'solid', paint: this.paint(colour) });
  }

  /** Wear by the model, the same over its sheets. */
  worn(
    sheets: string[],
    name: string,
    colour: string,
    set: { how: WearHow; amount: number; size: number; soft: number; seed: number; reach?: number },
    common: Common = {},
  ) {
    const way = WEAR_LOOKS[set.how].direction ?? { heading: 0, rise: 90 };
    this.across(sheets, 'Wear', name, common, {
      ...{ kind: 'wear', paint: this.paint(colour), reach: 1, ahead: 0, height: 0, starboard: 0 },
      ...{ heading: way.heading, rise: way.rise, ...set },
    });
  }

  letter(
    sheet: string,
    name: string,
    text: string,
    colour: string,
    font: string,
    at: {
      x: number;
      y: number;
      size: number;
      turn?: number;
      spacing?: number;
      slant?: number;
      outline?: [string, number];
      mirrored?: boolean;
    },
    common: Common = {},
  ) {
    const { outline, ...rest } = at;
    this.add(sheet, 'Marks', name, common, {
      kind: 'lettering',
      text,
      font,
      paint: this.paint(colour),
      turn: 0,
      spacing: 4,
      slant: 0,
      mirrored: false,
      ...rest,
      outline: outline ? { paint: this.paint(outline[0]), width: outline[1] } : null,
    });
  }

  /** A plate with its picture on the subject's sheet of plates, put against the surface at a place and fitted to it. */
  plate(
    name: string,
    [left, top, width, height]: readonly [number, number, number, number],
    stands: Pick<Plate, 'at' | 'facing' | 'across'> & Partial<Plate>,
  ) {
    const id = `${this.key}-plate-${this.plates.length + 1}`;
    const place = { up: [0, 1, 0], lift: 0, form: { kind: 'flat' } };
    this.plates.push(Plate.parse({ id, name, sheet: 'plates', left, top, width, height, ...place, ...stands }));
  }

  livery(
    template: Template,
    particulars: Record<string, string>,
    finish: Record<string, string>,
    boxes: Record<string, Record<string, string>> = {},
    finishes?: LiveryFinish[],
  ): Livery {
    return {
      schema: 1,
      particulars,
      scheme: this.scheme,
      ...(finishes && { finishes }),
      ...(template.sheets.some((sheet) => lightMapsOf(sheet).length > 0) && {
        night: FIRST_NIGHT,
      }),
      sheets: template.sheets.map((sheet) => ({
        key: sheet.key,
        finish: FinishId.parse(finish[sheet.key] ?? PLAIN_FINISH),
        ready: true,
        kept: false,
        maps: mapsOf(sheet).map(({ key, alpha }) => ({
          key,
          alpha,
          layers: [
            ...beginningOf(template, sheet.key, key).map((layer, i) => ({
              ...layer,
              id: LayerId.parse(`${this.key}-original-${sheet.key}-${key}-${i + 1}`),
            })),
            ...(this.sheets.get(key === 'colour' ? sheet.key : `${sheet.key}/${key}`) ?? []),
          ],
        })),
        ...(boxes[sheet.key] && { boxes: boxes[sheet.key] }),
      })),
      ...(this.plates.length > 0 && { plates: this.plates.map((one) => ({ ...one, ...fitPlate(one, template) })) }),
      pins: { template: hashOf(JSON.stringify(template)), spec: template.spec, renderer: 1, fonts: {} },
    };
  }
}
