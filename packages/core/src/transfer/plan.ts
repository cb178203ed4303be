/** What becomes of each layer of a livery on another model. */
import { envOf } from '../compose/scene.ts';
import type { Sources } from '../compose/renderTile.ts';
import { kindOf, type DrawnLayer } from '../layers/index.ts';
import { canStand, stoodUp } from '../layers/stand.ts';
import type { LayerEnv } from '../layers/kind.ts';
import { newLayerId, type LayerId, type Sha256 } from '../livery/ids.ts';
import { dataOf, type Layer, type LayerOf } from '../livery/layer.ts';
import { layersOf, type Livery, type LiverySheet } from '../livery/livery.ts';
import { MOST } from '../livery/limits.ts';
import { newLivery } from '../livery/newLivery.ts';
import { slugOf } from '../livery/slug.ts';
import { beginningOf, holdsIn, MAIN_MAP, mapsOf, type Template, type TemplateSheet } from '../livery/template.ts';
import type { Plate } from '../livery/plate.ts';
import { fitPlate } from '../plates/fit.ts';
import { fromPlane } from '../projectors/place.ts';
import { spotOfTexel, surfaceOf } from '../surface/locate.ts';
import { handOf } from '../surface/islands.ts';
import type { SheetSurface } from '../surface/surface.ts';
import { triangleOnSheet } from '../surface/triangles.ts';
import type { Vec } from '../surface/vectors.ts';
import { scoped } from '../raster/arena.ts';
import { onNewModel, projectorOn } from './onModel.ts';
import { laidLike, similarityOf, type Step } from './onSheet.ts';
import { Points, type NewPlace } from './points.ts';
import { letFall } from './standing.ts';

export const CARRIED = ['as it was', 'on its sheet', 'on the model', 'as pixels', 'left behind'] as const;

/** What became of a layer. */
export interface CarriedNote {
  layer: string;
  /** Where it was. */
  sheet: string;
  map: string;
  how: (typeof CARRIED)[number];
  why: string;
}

/** A layer that goes as pixels: drawn alone where it was, and taken from there texel by texel. */
export interface Drawn {
  layer: LayerId;
  sheet: string;
  map: string;
}

/** A place in the build-up of a new sheet: a layer, or one whose picture is still to be taken. */
export type Entry = (
  { layer: Layer } | { taken: Drawn; layer: Omit<LayerOf<'picture'>, 'blob' | 'left' | 'top' | 'width' | 'height'> }
) & {
  /** It is what the old template began with. */
  original?: boolean;
};

export interface TransferPlan {
  /** All but what is still to be taken. */
  livery: Livery;
  sheets: { sheet: string; map: string; entries: Entry[] }[];
  notes: CarriedNote[];
}

/** Samples along the longer side of what a layer covers. */
const SAMPLES = 48;
/** Coverage that counts, of 65535. */
const COVERED = 512;
/** Of how large something is: how far off it may come to lie and still be the same. */
const EXACT = 0.01;
const MARK = 0.2;
/** Texels that nobody sees. */
const HAIR = 0.75;

/** Makers whose middle says where they are, and that stay as they are where the surface is bent otherwise. */
const isMark = (layer: Layer): boolean => layer.kind === 'lettering' || layer.kind === 'decal';

interface From {
  sheet: TemplateSheet;
  surface: SheetSurface;
  env: LayerEnv;
}

/** Plans how a livery goes onto another template. @param name of the new livery */
export function planTransfer(
  livery: Livery,
  old: Template,
  now: Template,
  hash: Sha256,
  name: string,
  points: Points,
  sources: Sources,
): TransferPlan {
  return new Planner(livery, old, now, points, sources).plan(hash, name);
}

/** Parts that show the texels of another part of their sheet, by their keys: copies and mirrored halves. */
function shownBy(template: Template): Map<string, string> {
  const out = new Map<string, string>();
  for (const part of template.parts) {
    if (part.sheet === null) continue;
    const surface = surfaceOf(template, part.sheet);
    const { width, height } = surface;
    const owners = new Map<string, number>();
    for (let t = part.first; t < part.first + part.count; t++) {
      const [ax, ay, bx, by, cx, cy] = triangleOnSheet(template.mesh, t, width, height);
      const rank = surface.rankUnder((ax + bx + cx) / 3, (ay + by + cy) / 3);
      if (rank < 0) continue;
      const { key } = surface.parts[surface.laid.part[rank]];
      owners.set(key, (owners.get(key) ?? 0) + 1);
    }
    for (const [key, many] of owners) if (key !== part.key && many > part.count / 2) out.set(part.key, key);
  }
  return out;
}

class Planner {
  private readonly oldShows: Map<string, string>;
  private readonly nowShows: Map<string, string>;
  private readonly notes: CarriedNote[] = [];
  /** Runs over sheets, by what they were. */
  private readonly runs = new Map<string, string>();
  private readonly marks = new Map<string, ReturnType<Planner['place']>>();

  constructor(
    private readonly livery: Livery,
    private readonly old: Template,
    private readonly now: Template,
    private readonly points: Points,
    private readonly sources: Sources,
  ) {
    this.oldShows = shownBy(old);
    this.nowShows = shownBy(now);
  }

  plan(hash: Sha256, name: string): TransferPlan {
    const { livery, now } = this;
    const begun = newLivery(now, hash, name, livery.particulars.team);
    const particulars = { ...livery.particulars, name, key: slugOf(name).slice(0, 32).replace(/-+$/, '') };
    const sheets: TransferPlan['sheets'] = [];
    for (const sheet of now.sheets)
      for (const { key: map } of mapsOf(sheet)) {
        const own = layersOf(begun, sheet.key, map).filter((layer) => layer.kind === 'picture' && layer.locked);
        const entries = this.entriesOf(sheet, map, own.length > 0);
        // Where alpha is of the art, what shines through from below would change it.
        const alone =
          mapsOf(sheet).find(({ key }) => key === map)?.alpha !== 'none' && entries.some(({ original }) => original);
        const first = alone ? [] : own.map((layer) => ({ layer }));
        sheets.push({ sheet: sheet.key, map, entries: [...first, ...entries].slice(0, MOST.layers) });
      }
    this.tellOfMaps();
    const plates = this.platesOn();
    return {
      livery: {
        ...begun,
        particulars,
        scheme: livery.scheme,
        ...(livery.finishes && { finishes: livery.finishes }),
        ...(livery.night && begun.night && { night: livery.night }),
        sheets: begun.sheets.map((sheet) => this.sheetOf(sheet)),
        ...(plates.length > 0 && { plates }),
        pins: { ...begun.pins, fonts: livery.pins.fonts },
      },
      ...{ sheets, notes: this.notes },
    };
  }

  /** What a sheet of the new template has of the sheet that most of it comes from. */
  private sheetOf(sheet: LiverySheet): LiverySheet {
    const from = this.livery.sheets.find(({ key }) => key === this.sourcesOf(sheet.key)[0]?.key);
    const boxes = this.now.sheets.find(({ key }) => key === sheet.key)?.boxes ?? [];
    const kept = Object.entries(from?.boxes ?? {}).filter(([key]) => boxes.some((box) => box.key === key));
    return {
      ...sheet,
      ...(from && { finish: from.finish }),
      ...(kept.length > 0 && { boxes: Object.fromEntries(kept) }),
    };
  }

  /** The old sheets that a new one comes from, in their order; the one that most parts come from first where `sort`. */
  private sourcesOf(sheet: string): TemplateSheet[] {
    const count = (key: string) =>
      this.points.fitting.pairs.filter(({ part, from }) => part.sheet === sheet && from?.sheet === key).length;
    return this.old.sheets.filter(({ key }) => count(key) > 0).sort((a, b) => count(b.key) - count(a.key));
  }

  /** The sheet of plates that another template has in the place of one: the first for the first, and so on. */
  private readonly plateSheets = (of: Template): TemplateSheet[] => of.sheets.filter(({ plates }) => plates);

  /** What is painted on a sheet of plates has no model under it: it goes as it is. */
  private onPlates(sheet: TemplateSheet, map: string): Entry[] {
    const from = this.plateSheets(this.old)[this.plateSheets(this.now).indexOf(sheet)];
    if (!from) return [];
    const layers = layersOf(this.livery, from.key, map);
    const ids = new Map<string, LayerId>(layers.map(({ id }) => [id, newLayerId()]));
    const now = (id: string): LayerId => ids.get(id) ?? newLayerId();
    return layers.map((layer): Entry => {
      this.notes.push({ layer: layer.name, sheet: from.key, map, how: 'as it was', why: '' });
      const { group, mask, across: _across, on: _on, ...rest } = layer;
      const leans =
        mask?.from.kind === 'layer' ? { ...mask, from: { ...mask.from, layer: now(mask.from.layer) } } : mask;
      return {
        layer: {
          ...rest,
          id: now(layer.id),
          ...(group && { group: now(group) }),
          ...(leans && { mask: leans }),
        } as Layer,
      };
    });
  }

  /** The plates in the corresponding places, each fitted to the surface there. */
  private platesOn(): Plate[] {
    return (this.livery.plates ?? []).flatMap((plate): Plate[] => {
      const tell = (how: CarriedNote['how'], why: string) =>
        this.notes.push({ layer: plate.name, sheet: plate.sheet, map: MAIN_MAP, how, why });
      const sheet = this.plateSheets(this.now)[this.plateSheets(this.old).findIndex(({ key }) => key === plate.sheet)];
      const { at, facing, up, partner } = plate;
      const on = projectorOn(
        { kind: 'flat', scale: 1, limit: 90, soft: 0, ...{ at, facing, up }, ...(partner && { partner }) },
        this.points,
      );
      const gone = on?.kind === 'flat' ? on : null;
      const why = !sheet
        ? 'the new template has no sheet of plates'
        : plate.left + plate.width > sheet.width || plate.top + plate.height > sheet.height
          ? 'its picture reaches beyond the new sheet of plates'
          : gone
            ? null
            : 'nothing of the new model comes from where it stands';
      if (why !== null || !sheet || !gone) return (tell('left behind', why ?? ''), []);
      tell('on the model', 'in the corresponding place');
      const { partner: _partner, ...rest } = plate;
      const put: Plate = {
        ...{ ...rest, sheet: sheet.key, at: gone.at, facing: gone.facing, up: gone.up },
        ...(gone.partner && { partner: gone.partner }),
        across: Number(Math.min(1000, Math.max(1e-3, plate.across * gone.scale)).toPrecision(6)),
      };
      const stays = [at, facing, up].join() === [gone.at, gone.facing, gone.up].join() && gone.scale === 1;
      return [stays ? put : { ...put, ...fitPlate(put, this.now) }];
    });
  }

  private entriesOf(sheet: TemplateSheet, map: string, own: boolean): Entry[] {
    if (sheet.plates) return this.onPlates(sheet, map);
    const from = new Set(this.sourcesOf(sheet.key).map(({ key }) => key));
    const seen = new Set<string>();
    return this.old.sheets
      .filter(({ key }) => from.has(key))
      .flatMap((one) => {
        const env = envOf(this.livery, this.sources, one.key);
        const origin: From = { sheet: one, surface: surfaceOf(this.old, one.key), env };
        const layers = layersOf(this.livery, one.key, map);
        const ids = new Map<string, LayerId>(layers.map(({ id }) => [id, newLayerId()]));
        const entries = layers.flatMap((layer): Entry[] => {
          const original = this.isOriginal(layer, one.key, map);
          // What a map holds that is no art is the game's own.
          if (original && own && map !== MAIN_MAP) {
            this.note(layer, origin, map, 'left behind', 'the new template has its own');
            return [];
          }
          // What lies on the model has one place on each sheet, however many it came from.
          if (dataOf(layer).onModel || layer.on) {
            const run = layer.across ?? layer.id;
            if (seen.has(run)) return [];
            seen.add(run);
          }
          return this.entryOf(layer, origin, sheet, map, ids).map((entry) =>
            original ? { ...entry, original } : entry,
          );
        });
        return this.standing(layers, entries, ids);
      });
  }

  /** Of what comes to one new sheet, what does not lean on a layer that goes elsewhere. */
  private standing(layers: readonly Layer[], entries: readonly Entry[], ids: ReadonlyMap<string, LayerId>): Entry[] {
    const present = new Set<string>(entries.map(({ layer }) => layer.id));
    const now = (id: string | undefined) => (id === undefined ? undefined : ids.get(id));
    // What goes as pixels has its mask in them.
    const taken = new Set<string>(entries.flatMap((entry) => ('taken' in entry ? [entry.layer.id] : [])));
    const all = layers.map(({ id, kind, group, clipped, mask }) => ({
      ...{ id: ids.get(id)!, kind, group: now(group), clipped },
      ...(mask?.from.kind === 'layer' &&
        !taken.has(ids.get(id)!) && { mask: { from: { kind: 'layer', layer: now(mask.from.layer) } } }),
    }));
    letFall(all, present);
    return entries.filter(({ layer }) => present.has(layer.id));
  }

  /** Whether a layer is a picture that the old template began with. */
  private isOriginal(layer: Layer, sheet: string, map: string): boolean {
    const begins = beginningOf(this.old, sheet, map);
    return layer.kind === 'picture' && begins.some((one) => one.kind === 'picture' && one.blob === layer.blob);
  }

  private entryOf(
    layer: Layer,
    from: From,
    sheet: TemplateSheet,
    map: string,
    ids: ReadonlyMap<string, LayerId>,
  ): Entry[] {
    const done = this.carried(layer, from, sheet, map);
    if (!done) return [];
    const { group, mask, across: _across, ...rest } = done.layer;
    const run = this.runOf(layer, from.sheet.key, map);
    const own = {
      ...rest,
      id: ids.get(layer.id)!,
      ...(run && { across: run }),
      ...(group && ids.has(group) && { group: ids.get(group) }),
    };
    if ('taken' in done) return [{ taken: done.taken, layer: own as Extract<Entry, { taken: Drawn }>['layer'] }];
    const leans = mask?.from.kind === 'layer' ? ids.get(mask.from.layer) : undefined;
    const begins = mask && (mask.from.kind === 'layer' ? leans && { ...mask.from, layer: leans } : mask.from);
    return [{ layer: { ...own, ...(mask && begins && { mask: { ...mask, from: begins } }) } as Layer }];
  }

  /** Under which name what came from one layer runs over several sheets. */
  private runOf(layer: Layer, sheet: string, map: string): string | null {
    const pairs = this.points.fitting.pairs.filter(({ from }) => from?.sheet === sheet);
    if (!layer.across && new Set(pairs.map(({ part }) => part.sheet)).size < 2) return null;
    const name = layer.across ?? `${sheet}/${map}/${layer.id}`;
    const known = this.runs.get(name) ?? newLayerId();
    this.runs.set(name, known);
    return known;
  }

  private note(layer: Layer, from: From, map: string, how: CarriedNote['how'], why: string): void {
    const said = { layer: layer.name, sheet: from.sheet.key, map, how, why };
    const same = (one: CarriedNote) =>
      one.layer === said.layer && one.sheet === said.sheet && one.map === map && one.how === how;
    if (!this.notes.some(same)) this.notes.push(said);
  }

  /** What a layer becomes on one of the new sheets; null: it is not there. */
  private carried(
    layer: Layer,
    from: From,
    sheet: TemplateSheet,
    map: string,
  ): { layer: Layer } | { taken: Drawn; layer: Layer } | null {
    const say = (how: CarriedNote['how'], why = '') => this.note(layer, from, map, how, why);
    const parts = this.partsOn(layer.parts, from, sheet);
    if (dataOf(layer).onModel || layer.on) {
      const gone = onNewModel(layer, this.points);
      if (!gone) return (say('left behind', 'nothing of the new model comes from where it lies'), null);
      say(layer.on ? 'on the model' : 'as it was', layer.on ? 'in the corresponding place' : '');
      const keeps = layer.parts.length === 0 ? [] : (parts ?? null);
      return keeps === null || (layer.parts.length > 0 && keeps.length === 0)
        ? null
        : { layer: { ...gone, parts: keeps } };
    }
    const simple = this.keepsMask(layer);
    if (layer.kind === 'group' || layer.kind === 'adjust') {
      if (parts?.length === 0 && layer.parts.length > 0) return null;
      const { mask, ...bare } = layer;
      if (!simple) say('as it was', 'without its mask, which was painted on the old sheet');
      else say('as it was');
      const kept = { ...(simple && mask ? layer : bare), parts: parts ?? [] } as Layer;
      return { layer: kept };
    }
    if (layer.kind === 'solid' && simple && parts) {
      if (layer.parts.length > 0 && parts.length === 0) return null;
      say('as it was', layer.parts.length > 0 ? 'on the parts that come from its own' : '');
      return { layer: { ...layer, parts } };
    }
    if (simple && parts && canStand(layer)) {
      const key = `${from.sheet.key}/${map}/${layer.id}`;
      const placed = this.marks.has(key) ? this.marks.get(key)! : this.place(layer as DrawnLayer, from);
      this.marks.set(key, placed);
      if (placed === 'nowhere') {
        say('left behind', 'it covers nothing of the model');
        return null;
      }
      if (placed) {
        if (placed.sheet !== null && placed.sheet !== sheet.key) return null;
        say(placed.sheet === null ? 'on the model' : 'on its sheet', placed.why);
        // Parts of one sheet say nothing to a layer that is on all of them.
        return { layer: { ...placed.layer, parts: layer.parts.length === 0 ? [] : parts } as Layer };
      }
    }
    const holds = holdsIn(sheet, map);
    if (holds === 'normal' || holds === 'ids') {
      say('left behind', `pixels of a ${holds === 'ids' ? 'zone' : 'normal'} map mean nothing elsewhere`);
      return null;
    }
    if (layer.parts.length > 0 && parts?.length === 0) return null;
    say('as pixels', this.whyPixels(layer, simple, parts));
    const { mask: _mask, filters: _filters, parts: _parts, ...rest } = layer;
    const { name, phase, hidden, opacity, blend, group, oneOf, clipped, finish, finishOnly, lit, channels } =
      rest as Layer;
    return {
      taken: { layer: layer.id, sheet: from.sheet.key, map },
      layer: {
        ...{ kind: 'picture', id: layer.id, name, phase, hidden, opacity, blend, locked: layer.locked, parts: [] },
        ...(group && { group }),
        ...(oneOf && { oneOf }),
        ...(clipped && { clipped }),
        ...(finish && { finish }),
        ...(finishOnly && { finishOnly }),
        ...(lit && { lit }),
        ...(channels && { channels }),
      } as unknown as Layer,
    };
  }

  private whyPixels(layer: Layer, simple: boolean, parts: string[] | null): string {
    if (layer.kind === 'brush' || layer.kind === 'picture') return 'taken from the corresponding places';
    if (!simple) return 'with its mask';
    if (!parts) return 'the parts that it keeps to have no one counterpart';
    return 'it runs over what lies otherwise on the new sheets, or shows on several parts that have texels of their own there';
  }

  /** Whether a layer's mask means the same on another sheet. */
  private keepsMask({ mask }: Layer): boolean {
    if (!mask) return true;
    const { from, strokes } = mask;
    return (
      strokes.length === 0 &&
      mask.feather === 0 &&
      (from.kind === 'all' || from.kind === 'field' || from.kind === 'layer')
    );
  }

  /**
   * The parts of a new sheet for those that a layer of an old one keeps to; none, when it has no such; null: they have no one counterpart.
   * A layer of a whole sheet keeps to what came from it, unless that is all.
   */
  private partsOn(keys: readonly string[], from: From, sheet: TemplateSheet): string[] | null {
    const { pairs } = this.points.fitting;
    const here = pairs.filter(({ part }) => part.sheet === sheet.key);
    if (keys.length === 0) {
      const own = here.filter((pair) => pair.from?.sheet === from.sheet.key);
      return here.every((pair) => pair.from === null || pair.from.sheet === from.sheet.key)
        ? []
        : own.map(({ part }) => part.key);
    }
    // Cells of an atlas are named by their place.
    const cells = keys.filter((key) => !this.old.parts.some((part) => part.key === key));
    const same = JSON.stringify(from.sheet.cells) === JSON.stringify(sheet.cells);
    if (cells.length > 0 && !same) return null;
    const found = pairs.filter(
      ({ from: own }) => own && (keys.includes(own.key) || keys.includes(this.oldShows.get(own.key) ?? '')),
    );
    if (found.some(({ whole }) => !whole)) return null;
    return [...cells, ...found.filter(({ part }) => part.sheet === sheet.key).map(({ part }) => part.key)];
  }

  /** Where a layer that is drawn in a plane goes: on a sheet, or (sheet null) on the model; null: it can only go as pixels. */
  private place(layer: DrawnLayer, from: From): { sheet: string | null; layer: Layer; why: string } | 'nowhere' | null {
    const steps = this.stepsOf(layer, from);
    if (steps.length === 0) return 'nowhere';
    const middle = 'x' in layer ? this.stepAt(layer.x, layer.y, layer, from) : null;
    const mark = isMark(layer);
    const went = steps.filter((step): step is Step & { to: NewPlace } => step.to !== null);
    if (went.length === 0) return 'nowhere';
    if (this.isTorn(went)) return null;
    const [sheet] = mark && middle?.to ? [middle.to.sheet] : [went[0].to.sheet];
    if (went.every(({ to }) => to.sheet === sheet) && (mark || went.length === steps.length)) {
      const found = similarityOf(went, mark && middle?.to ? { ...middle, to: middle.to } : null);
      if (found && found.off <= Math.max(HAIR * found.scale, (mark ? MARK : EXACT) * found.size)) {
        const laid = laidLike(layer, found);
        if (laid) return { sheet, layer: laid, why: mark ? 'in the corresponding place, as large as fits' : '' };
      }
    }
    const at = middle?.to ? middle : went[Math.floor(went.length / 2)];
    const stood = stoodUp(layer, from.surface, at);
    const gone = stood && onNewModel(stood, this.points);
    if (!stood?.on || !gone?.on || stood.on.kind !== 'flat' || gone.on.kind !== 'flat') return null;
    if (!mark && !this.liesFlat(stood.on, gone.on, at, went)) return null;
    return {
      sheet: null,
      layer: gone,
      why: mark ? 'it runs over a seam of the new sheets' : 'it crosses islands of the new sheets',
    };
  }

  /** Whether what a layer covers shows on a second part of the old model that has texels of its own on the new one. */
  private isTorn(steps: readonly (Step & { to: NewPlace })[]): boolean {
    const parts = new Set(steps.map(({ to }) => to.pair.part.key));
    const covered = new Set(steps.map(({ to }) => to.pair.from?.key));
    return this.points.fitting.pairs.some(({ part, from }) => {
      const shows = from && this.oldShows.get(from.key);
      return shows && covered.has(shows) && !parts.has(this.nowShows.get(part.key) ?? '');
    });
  }

  /** Whether what a layer covers lies in its plane as it did on the sheet, on both models. */
  private liesFlat(
    before: Extract<NonNullable<Layer['on']>, { kind: 'flat' }>,
    after: Extract<NonNullable<Layer['on']>, { kind: 'flat' }>,
    at: { x: number; y: number },
    steps: readonly (Step & { to: NewPlace })[],
  ): boolean {
    let size = 0;
    let off = 0;
    for (const { x, y, place, to } of steps) {
      const reach = Math.hypot(x - at.x, y - at.y);
      const old = fromPlane(before, place);
      const now = fromPlane(after, to.place);
      size = Math.max(size, reach);
      off = Math.max(off, Math.abs(Math.hypot(old.x, old.y) - reach), Math.hypot(old.x - now.x, old.y - now.y));
    }
    return off <= Math.max(HAIR, 3 * EXACT * size);
  }

  /** Where places that a layer covers go. */
  private stepsOf(layer: DrawnLayer, from: From): Step[] {
    const { width: wide, height: high } = from.sheet;
    const kind = kindOf(layer);
    const box = kind.bounds(layer, from.env);
    const [left, top] = [Math.max(0, Math.floor(box?.left ?? 0)), Math.max(0, Math.floor(box?.top ?? 0))];
    const [right, bottom] = [
      Math.min(wide, Math.ceil(box?.right ?? wide)),
      Math.min(high, Math.ceil(box?.bottom ?? high)),
    ];
    if (left >= right || top >= bottom) return [];
    const step = Math.max(0.25, Math.max(right - left, bottom - top) / SAMPLES);
    const region = {
      ...{ x: left, y: top, step },
      width: Math.max(1, Math.ceil((right - left) / step)),
      height: Math.max(1, Math.ceil((bottom - top) / step)),
    };
    const covered = scoped(() => {
      const out = new Uint16Array(region.width * region.height * 4);
      kind.draw(layer, region, from.env, out);
      return out;
    });
    const steps: Step[] = [];
    for (let j = 0; j < region.height; j++)
      for (let i = 0; i < region.width; i++) {
        if (covered[(j * region.width + i) * 4 + 3] < COVERED) continue;
        const found = this.stepAt(left + (i + 0.5) * step, top + (j + 0.5) * step, layer, from);
        if (found) steps.push(found);
      }
    return steps;
  }

  /** Where a texel of an old sheet goes; null off the islands, and off the parts that a layer keeps to. */
  private stepAt(x: number, y: number, layer: Layer, { surface }: From): Step | null {
    const rank = surface.rankUnder(x, y);
    const spot = spotOfTexel(surface, x, y);
    if (!spot || (layer.parts.length > 0 && !layer.parts.includes(spot.part))) return null;
    const part = this.old.parts.find(({ key }) => key === spot.part);
    if (!part) return null;
    const place: Vec = spot.position;
    const hand = handOf(this.old.mesh, surface.laid.triangle[rank]);
    return { x, y, place, hand, to: this.points.place(place, spot.normal, part) };
  }

  /** Layers of maps that nothing of the new template has. */
  private tellOfMaps(): void {
    for (const { key, maps } of this.livery.sheets) {
      const sheet = this.old.sheets.find((one) => one.key === key);
      if (!sheet || (sheet.plates && this.now.sheets.some(({ plates }) => plates))) continue;
      const goes = this.points.fitting.pairs.filter(({ from }) => from?.sheet === key).map(({ part }) => part.sheet);
      for (const { key: map, layers } of maps) {
        const there = this.now.sheets.some((one) => goes.includes(one.key) && mapsOf(one).some((of) => of.key === map));
        const why =
          goes.length === 0 ? 'nothing of the new model comes from its sheet' : `none of its sheets has a ${map} map`;
        if (there) continue;
        for (const layer of layers) this.notes.push({ layer: layer.name, sheet: key, map, how: 'left behind', why });
      }
    }
  }
}
