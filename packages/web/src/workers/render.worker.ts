/** Draws tiles and small pictures away from the main thread, with the same core that draws deliveries. */
import {
  drawAlone,
  envOf,
  finished,
  layerAt,
  maskAlone,
  renderFinished,
  sceneOf,
  type Sources,
} from '@wet-lacquer/core/compose/renderTile.ts';
import { changedSpot, spotRegion } from '@wet-lacquer/core/compose/changedSpot.ts';
import { renderCoarse } from '@wet-lacquer/core/compose/renderSheet.ts';
import type { SourceStore } from '@wet-lacquer/core/compose/sources.ts';
import { TileCache } from '@wet-lacquer/core/compose/tileCache.ts';
import { outlineCover } from '@wet-lacquer/core/delivery/outlineCover.ts';
import { isDrawn, boundsOf } from '@wet-lacquer/core/layers/index.ts';
import { letteringBox } from '@wet-lacquer/core/layers/lettering/draw.ts';
import { applyEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { mapsOf, sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import { kernelOf } from '@wet-lacquer/core/raster/arena.ts';
import { boxColour } from '@wet-lacquer/core/raster/box.ts';
import { TILE } from '@wet-lacquer/core/raster/image.ts';
import { toStraight8 } from '@wet-lacquer/core/raster/tile16.ts';
import { browserStore } from './browserStore.ts';
import { DRAFT, PAINTED, type ThumbAnswer, type TileAnswer, type TileAsk, type WorkerAsks } from './messages.ts';
import { colourUnder, Painting } from './painting.ts';
import { regionOf, Selecting, storedRegion } from './selecting.ts';
import { applyChange } from './sharing.ts';
import { zoneShares } from './zoneShares.ts';
import { tonesOf } from './tones.ts';
import { serve } from './workerClient.ts';

let cache: TileCache;
/** What the page has said so far; it may not be loaded yet. */
let said: Livery | null = null;
let taken = 0;
let shown = 0;
let template: Template | null = null;
let store: SourceStore | null = null;
let livery: Livery | null = null;
let hot: string | undefined;
let sources: Sources | null = null;
/** The stroke that is being painted, on each of its sheets. */
let painting: readonly Painting[] = [];
const selecting = new Selecting();
/** The livery whose pictures and fonts are all here. */
let loaded: Promise<void> = Promise.resolve();

/** What drawings come from, once the template is here. */
function started(): SourceStore {
  if (!store) throw new Error('The template has not been said yet.');
  return store;
}

/** What is drawn, once all of it is here. */
function now(): { template: Template; livery: Livery; sources: Sources } {
  if (!template || !livery || !sources) throw new Error('Nothing has been loaded yet.');
  return { template, livery, sources };
}

serve<WorkerAsks>({
  template(ask) {
    template = ask.template;
    store = browserStore(template);
    cache = new TileCache(ask.budget);
    // The kernels are made ready while the livery is on its way.
    kernelOf();
    return null;
  },
  change: (ask) => take(applyChange(said, ask.change) as Livery, ask.hot),
  async arrived() {
    if (said) await started().loadFields(said);
    return null;
  },
  async tile(ask) {
    await loaded;
    const began = performance.now();
    const { key, pixels } = await tileOf(ask);
    return { key, pixels, took: performance.now() - began };
  },
  async warm({ sheet, map, level, tx, ty }) {
    await loaded;
    if (painting.length === 0) cache.draft(now().livery, sheet, map, level, tx, ty, now().sources, { hot, live: true });
    return null;
  },
  async layerAt({ sheet, map, x, y }) {
    await loaded;
    return layerAt(now().livery, sheet, map, x, y, now().sources)?.id ?? null;
  },
  async letteringWidth({ layer: id }) {
    await loaded;
    const place = findLayer(now().livery, id as LayerId);
    if (place?.layer.kind !== 'lettering') return null;
    return letteringBox(place.layer, envOf(now().livery, now().sources, place.sheet)).width / place.layer.size;
  },
  async decalBox({ layer: id }) {
    await loaded;
    const layer = findLayer(now().livery, id as LayerId)?.layer;
    if (layer?.kind !== 'decal' || layer.source !== 'pixels') return null;
    const colour = boxColour(now().sources.picture(layer));
    return colour && hexOfRgb(colour);
  },
  async layerThumb({ layer: id, width, height }) {
    await everything();
    const place = findLayer(now().livery, id as LayerId);
    if (!place) return null;
    const env = envOf(now().livery, now().sources, place.sheet);
    const size = sizeOf(place.sheet);
    const whole = { left: 0, top: 0, right: size.width, bottom: size.height };
    const box = (isDrawn(place.layer) && boundsOf(place.layer, env)) || whole;
    const step = Math.max(1, Math.ceil(Math.max((box.right - box.left) / width, (box.bottom - box.top) / height)));
    const region = {
      x: Math.floor((box.left + box.right) / 2 - (width * step) / 2),
      y: Math.floor((box.top + box.bottom) / 2 - (height * step) / 2),
      width,
      height,
      step,
    };
    const drawn = drawAlone(sceneOf(now().livery, place.sheet, place.map, now().sources), id, region, 'bare');
    return drawn && { width, height, pixels: clamped(toStraight8(drawn, width, height, 0, 0)) };
  },
  async paintBegin(asks) {
    await loaded;
    const limits = asks.map(({ sheet }) => selecting.limitOf(sheet));
    // What is taped off on one sheet of a surface keeps the stroke to that sheet.
    const elsewhere = limits.some((limit) => limit !== null) ? () => null : null;
    painting = asks.map(
      (ask, i) =>
        new Painting(ask, {
          livery: now().livery,
          sources: now().sources,
          cache,
          size: sizeOf(ask.sheet),
          sizeOf,
          limit: limits[i] ?? elsewhere,
        }),
    );
    return null;
  },
  async paintMove(ask) {
    await loaded;
    return painting.flatMap((one) => one.move(ask));
  },
  async paintEnd({ keep, last, also }) {
    await loaded;
    const mine = painting;
    painting = [];
    const done = keep
      ? (
          await Promise.all(
            mine.map((one) =>
              one.end(
                last,
                also.filter((map) => hasMap(one.ask.sheet, map)),
              ),
            ),
          )
        ).flat()
      : [];
    for (const { stroke, bytes } of done) started().addStroke(stroke.blob, bytes.slice());
    return done;
  },
  stroke({ blob, bytes }) {
    started().addStroke(blob, bytes);
    return null;
  },
  async select({ sheet, map, what }) {
    await everything();
    return selecting.select(sheet, what, { livery: now().livery, map, sources: now().sources, size: sizeOf(sheet) });
  },
  async patch({ sheet, map, x, y, tolerance, without }) {
    await loaded;
    const size = sizeOf(sheet);
    if (x < 0 || y < 0 || x >= size.width || y >= size.height) return null;
    const bare = applyEdit(now().livery, { do: 'set-layer', layer: without as LayerId, set: { filters: null } }).livery;
    const what = { kind: 'colour', how: 'new', x, y, tolerance, connected: true } as const;
    return storedRegion(regionOf(sheet, what, { livery: bare, map, sources: now().sources, size }));
  },
  async selectSeen({ sheets, ...ask }) {
    await everything();
    const all = sheets.map((sheet) => ({ sheet, size: sizeOf(sheet) }));
    return selecting.selectSeen(ask, all, (sheet) => now().sources.surface(sheet));
  },
  selection: ({ sheet }) => selecting.stored(sheet),
  async tones({ layer: id }) {
    await everything();
    const place = findLayer(now().livery, id as LayerId);
    if (!place) return null;
    const size = sizeOf(place.sheet);
    const step = Math.max(1, Math.ceil(Math.max(size.width, size.height) / 512));
    const region = { x: 0, y: 0, width: Math.ceil(size.width / step), height: Math.ceil(size.height / step), step };
    return tonesOf(sceneOf(now().livery, place.sheet, place.map, now().sources), id, region);
  },
  async colourAt({ sheet, map, x, y }) {
    await loaded;
    return { rgb: colourUnder(now().livery, sheet, map, x, y, now().sources, cache) };
  },
  async zoneShares({ sheet }) {
    await everything();
    return zoneShares(now().livery, sheet, sizeOf(sheet), now().sources);
  },
  async outlines({ sheet }) {
    await loaded;
    return outlineCover(now().livery, now().template, sheet, now().sources);
  },
  async sheetOf({ livery: state, sheet, map, side }): Promise<ThumbAnswer> {
    await started().load(state);
    return smallSheet(state, sheet, map, side, started().sources(state));
  },
  async stepThumb({ after, before: change, width, height }) {
    const before = applyChange(after, change) as Livery;
    await Promise.all([started().load(before), started().load(after)]);
    const from = started().sources(after);
    const spot = changedSpot(before, after, { before: started().sources(before), after: from });
    if (!spot) return null;
    const region = spotRegion(spot, sizeOf(spot.sheet), width, height);
    return { width, height, pixels: clamped(renderFinished(after, spot.sheet, spot.map, region, from)) };
  },
  async sheetThumb({ sheet, side }): Promise<ThumbAnswer> {
    await loaded;
    return smallSheet(now().livery, sheet, 'colour', side, now().sources);
  },
});

async function tileOf(ask: TileAsk): Promise<Omit<TileAnswer, 'took'>> {
  const { sheet, map, level, tx, ty, draft, known, live, maskOf } = ask;
  if (maskOf) return maskTile(maskOf, sheet, map, level, tx, ty);
  // A tile that comes while a stroke is painted has the stroke on it, and is asked for again when the stroke is over.
  const painted = painting.find(({ ask: on }) => on.sheet === sheet && on.map === map);
  if (painted) return { key: PAINTED, pixels: clamped(painted.tile(level, tx, ty)) };
  const exactKey = cache.keyOf(now().livery, sheet, map, level, tx, ty, now().sources);
  const key = (draft && level > 0) || live ? exactKey + DRAFT : exactKey;
  // An exact tile is as good as a draft of the same.
  if (known === key || known === exactKey) return { key: known, pixels: null };
  const from = now().sources;
  const tile = draft
    ? cache.draft(now().livery, sheet, map, level, tx, ty, from, { hot, live })
    : await patiently(
        cache.exactly(now().livery, sheet, map, sizeOf(sheet), level, tx, ty, from, level === 0 ? { hot, live } : {}),
      );
  if (!tile) return { key: null, pixels: null };
  const step = 1 << level;
  const region = { x: tx * TILE * step, y: ty * TILE * step, width: TILE, height: TILE, step };
  return { key, pixels: clamped(finished(tile, sheet, map, region, from)) };
}

/** How long one piece of work may keep what is asked meanwhile from being answered. */
const PIECE_MS = 12;
const pause = new MessageChannel();
const paused: (() => void)[] = [];
pause.port1.onmessage = () => paused.shift()!();
const afterOthers = () =>
  new Promise<void>((resolve) => {
    paused.push(resolve);
    pause.port2.postMessage(null);
  });

/** Draws piece by piece and lets other questions in between; null when the livery has changed meanwhile. */
async function patiently(steps: Generator<undefined, Uint16Array>): Promise<Uint16Array | null> {
  const of = taken;
  let since = performance.now();
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
    if (performance.now() - since < PIECE_MS) continue;
    await afterOthers();
    if (taken !== of) return null;
    since = performance.now();
  }
}

/** Takes a livery; what is asked from here on is drawn of it, as far as its model is worked out. @returns what of it is not */
function take(next: Livery, hotOne: string | null): Promise<readonly FieldKey[]> {
  said = next;
  hot = hotOne ?? undefined;
  const n = ++taken;
  const from = started();
  const loading = from.loadLight(next).then(() => {
    // A later one may have been quicker.
    if (n >= shown) show(next, n);
  });
  loaded = loading;
  return loading.then(() => from.awaited(next));
}

function show(next: Livery, n: number): void {
  const from = started();
  shown = n;
  livery = from.drawable(next);
  sources = from.sources(livery);
}

/** All of the livery is here, what goes by its model too. */
async function everything(): Promise<void> {
  await loaded;
  if (!said || started().awaited(said).length === 0) return;
  await started().loadFields(said);
  show(said, taken);
}

/** A whole map, its longer side at most so many samples. */
function smallSheet(state: Livery, sheet: string, map: string, side: number, from: Sources): ThumbAnswer {
  const size = sizeOf(sheet);
  const step = Math.ceil(Math.max(size.width, size.height) / side);
  const { width, height, data } = renderCoarse(state, sheet, map, size, step, from);
  return { width, height, pixels: clamped(data) };
}

/** What a layer's mask lets through, as opaque grey. */
function maskTile(id: string, sheet: string, map: string, level: number, tx: number, ty: number) {
  const step = 1 << level;
  const region = { x: tx * TILE * step, y: ty * TILE * step, width: TILE, height: TILE, step };
  const shares = maskAlone(sceneOf(now().livery, sheet, map, now().sources), id, region);
  const pixels = new Uint8ClampedArray(TILE * TILE * 4).fill(255);
  if (shares) for (let i = 0; i < shares.length; i++) pixels.fill(shares[i] >> 8, i * 4, i * 4 + 3);
  return { key: '', pixels };
}

/** Whether a sheet has a map. */
const hasMap = (sheet: string, map: string) => mapsOf(sizeOf(sheet)).some(({ key }) => key === map);

function sizeOf(key: string) {
  return sheetNamed(now().template, key);
}

const clamped = (bytes: Uint8Array) =>
  new Uint8ClampedArray(bytes.buffer as ArrayBuffer, bytes.byteOffset, bytes.length);
