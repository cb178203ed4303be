/** Encodes sheets as a delivery would, what is looked at first, and says what that does to them. */
import { TileCache } from '@wet-lacquer/core/compose/tileCache.ts';
import type { Sources } from '@wet-lacquer/core/compose/renderTile.ts';
import type { SourceStore } from '@wet-lacquer/core/compose/sources.ts';
import { DifferenceMeter } from '@wet-lacquer/core/colour/differenceMeter.ts';
import {
  bleedClear,
  carriesEdges,
  encodingOf,
  mipOptions,
  preparedSheet,
} from '@wet-lacquer/core/delivery/preparedSheet.ts';
import { CELL, EncodedLevel, type LevelFacts } from '@wet-lacquer/core/delivery/proof/encodedLevel.ts';
import { drawOver, finishOverSheet, proofBase, type ProofBase } from '@wet-lacquer/core/delivery/proof/overSheet.ts';
import { unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { ProofFinding } from '@wet-lacquer/core/delivery/proof/finding.ts';
import { proofFindings } from '@wet-lacquer/core/delivery/proof/findings.ts';
import { nudgeToGrid } from '@wet-lacquer/core/delivery/proof/nudge.ts';
import { specFor } from '@wet-lacquer/core/delivery/specs.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { fileFor } from '@wet-lacquer/core/livery/spec.ts';
import {
  holdsIn,
  originalKey,
  sheetNamed,
  type Template,
  type TemplateSheet,
} from '@wet-lacquer/core/livery/template.ts';
import { newImage, TILE, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { finished } from '@wet-lacquer/core/compose/renderTile.ts';
import { FORMATS, type FormatKey } from '@wet-lacquer/core/texture/formats/index.ts';
import { mipChain, mipSize } from '@wet-lacquer/core/texture/mips.ts';
import { nothingChanged, type Changed } from '@wet-lacquer/core/texture/over/changed.ts';
import { levelsOver } from '@wet-lacquer/core/texture/over/overDds.ts';
import { getBytes } from '../lib/api.ts';
import { browserStore } from './browserStore.ts';
import type { CellAnswer, Looking, ProofAsks, ProofNews, Trial } from './proofMessages.ts';
import { serve, sendNews } from './workerClient.ts';

const BUDGET = 256 * 1024 * 1024;
/** How long to work before others are let in, and how often to say how far it is. */
const SLICE_MS = 25;
const NEWS_MS = 200;

const cache = new TileCache(BUDGET);
const meter = new DifferenceMeter();
let template: Template;
let store: SourceStore;
let livery: Livery;
let sources: Sources;
let loaded: Promise<void> = new Promise(() => {});
let looking: Looking | null = null;

/** The sheet that is worked on: as flattened, as prepared for the file, with its levels. */
interface Painted {
  sheet: string;
  keys: string[];
  flat: Image8;
  /** Level 0 first; the others once they have been filtered. */
  levels: Image8[];
  filtered: boolean;
  /** What its blocks are put into; null: all of its file is encoded. */
  over: PaintedOver | null;
}

/** The file that a sheet's blocks are put into, and what changes in it. */
interface PaintedOver extends ProofBase {
  bytes: Uint8Array;
  texels: Image8;
  /** Upright, as drawn. */
  changed: Changed;
  /** By level, as the file has them. */
  levels: Changed[];
}
let painted: Painted | null = null;
const trials = new Map<string, EncodedLevel[]>();
let run = 0;
let version = 0;
let told = 0;
let painting: ProofNews['painting'] = null;
let findings: ProofFinding[] | null = null;
let problem: string | null = null;

serve<ProofAsks>({
  template(ask) {
    template = ask.template;
    store = browserStore(template);
    return null;
  },
  livery(ask) {
    loaded = store.load(ask.livery).then(() => {
      livery = ask.livery;
      sources = store.sources(livery);
      start();
    });
    return loaded.then(() => null);
  },
  async look(ask) {
    const again =
      looking?.sheet !== ask.sheet ||
      JSON.stringify(looking.trials) !== JSON.stringify(ask.trials) ||
      looking.level !== ask.level;
    looking = ask;
    if (again) {
      await loaded;
      start();
    }
    return null;
  },
  async cell({ trial, level, cx, cy }): Promise<CellAnswer | null> {
    const there = painted && painted.sheet === looking?.sheet && painted.levels[level];
    if (!there) return null;
    const encoded = levelsOf(trial)[level];
    if (!encoded) return null;
    encoded.work(cx, cy);
    say();
    return cut(there, encoded, cx, cy);
  },
  async nudge({ layer, format }) {
    await loaded;
    return nudgeToGrid(livery, layer as LayerId, format, sources);
  },
  async model({ trial }) {
    const encoded = levelsOf(trial);
    if (!painted?.filtered || encoded.length < painted.levels.length) return null;
    if (encoded.some((level) => level.facts().done < level.facts().of)) return null;
    return Object.fromEntries(encoded.map((level, i) => [i, level.decoded.data.slice()]));
  },
});

const trialKey = ({ format, effort }: Trial) => `${format} ${effort}`;
const formatOf = (trial: string) => trial.split(' ')[0] as FormatKey;

/** The levels of a trial as far as they are painted. */
function levelsOf(trial: Trial): EncodedLevel[] {
  const key = trialKey(trial);
  let levels = trials.get(key);
  if (!levels) trials.set(key, (levels = []));
  const count = painted ? (painted.filtered ? painted.levels.length : 1) : 0;
  while (levels.length < count) {
    const { levels: all } = painted!;
    const changed = changedIn(painted!, trial.format, levels.length);
    levels.push(new EncodedLevel(all[levels.length], trial.format, encodingFor(trial), meter, changed));
  }
  return levels;
}

/** What changes in a level where blocks of this format are put into the game's own file. */
const changedIn = ({ over }: Painted, format: FormatKey, level: number): Changed | null =>
  over && over.original.stored.format === format ? (over.levels[level] ?? null) : null;

const roleOf = (key: string) => sheetNamed(template, key).alpha;
const encodingFor = (trial: Trial) => encodingOf(fileOf().file, roleOf(painted!.sheet), trial.effort);
const fileOf = (sheet = painted!.sheet) => {
  const spec = specFor(livery, template);
  return { spec, file: fileFor(spec, sheet) ?? spec.files[0] };
};

/** What the sheet's blocks go into by the spec at hand, read once. */
async function overFor(size: TemplateSheet, was: PaintedOver | null): Promise<PaintedOver | null> {
  const base = proofBase(fileOf(size.key).file, template.originals?.[originalKey(size.key)], size);
  if (!base) return null;
  if (was?.original.blob === base.original.blob) return was;
  const [bytes, pixels] = await Promise.all(
    [base.original.blob, base.pixels].map((hash) => getBytes(`/blobs/${hash}`)),
  );
  const changed = nothingChanged(size.width, size.height);
  return { ...base, bytes, texels: unpackPixels(pixels), changed, levels: [] };
}

// One channel for good: ports that nothing else holds may be collected with their message in them.
const { port1, port2 } = new MessageChannel();
const paused: (() => void)[] = [];
port1.onmessage = () => paused.shift()?.();
/** Lets messages in. */
const pause = () =>
  new Promise<void>((resolve) => {
    paused.push(resolve);
    port2.postMessage(0);
  });

/** Works until everything is done or something else is wanted; what goes wrong is said. */
function start(): void {
  problem = null;
  work().catch((error: unknown) => {
    problem = error instanceof Error ? error.message : String(error);
    say(true);
  });
}

/** From the livery to all levels of all trials, begun again when something else is wanted. */
async function work(): Promise<void> {
  const mine = ++run;
  let began = performance.now();
  /** Lets others in now and then. @returns whether this run is still wanted */
  const mayGoOn = async () => {
    if (performance.now() - began > SLICE_MS) {
      say();
      await pause();
      began = performance.now();
    }
    return mine === run;
  };
  if (!looking) return;
  findings = null;
  if (!(await paint(looking.sheet, mayGoOn))) return;
  const encodeAll = async (level: number) => {
    for (const trial of looking!.trials) {
      const encoded = levelsOf(trial)[level];
      for (;;) {
        const next = encoded?.waiting(looking!.x / 2 ** level, looking!.y / 2 ** level)[0];
        if (!next) break;
        encoded.work(next.cx, next.cy);
        if (!(await mayGoOn())) return false;
      }
    }
    return true;
  };
  if (looking.level === 0 && !(await encodeAll(0))) return;
  filter();
  say(true);
  if (!(await encodeAll(looking.level))) return;
  for (let level = 0; level < painted!.levels.length; level++) if (!(await encodeAll(level))) return;
  await look(mayGoOn);
  if (mine === run) say(true);
}

/** Brings the flat sheet up to date, tile by tile. */
async function paint(key: string, mayGoOn: () => Promise<boolean>): Promise<boolean> {
  const size = sheetNamed(template, key);
  const [across, down] = [Math.ceil(size.width / TILE), Math.ceil(size.height / TILE)];
  const over = await overFor(size, painted?.sheet === key ? painted.over : null);
  if (!(await mayGoOn())) return false;
  if (painted?.sheet !== key || painted.over !== over) {
    const flat = newImage(size.width, size.height);
    painted = { sheet: key, keys: [], flat, levels: [], filtered: false, over };
    trials.clear();
  }
  const to = painted;
  let changed = to.levels.length === 0;
  for (let i = 0; i < across * down; i++) {
    const [tx, ty] = [i % across, Math.floor(i / across)];
    const tileKey = cache.keyOf(livery, key, 'colour', 0, tx, ty, sources);
    if (to.keys[i] !== tileKey) {
      if (over) drawTileOver(over, size, to.flat, tx, ty);
      else drawTile(size, to.flat, tx, ty);
      to.keys[i] = tileKey;
      changed = true;
    }
    painting = { done: i + 1, of: across * down };
    if (!(await mayGoOn())) return false;
  }
  painting = null;
  if (changed) {
    const { spec, file } = fileOf();
    const holds = holdsIn(size, file.map);
    if (over) {
      const surface = template.boards || !carriesEdges(file, holds) ? null : sources.surface(key);
      const drawn = { image: to.flat, changed: over.changed };
      const finished = finishOverSheet(drawn, file, surface, spec.ground, sources.boxes(key));
      to.levels = [finished.image];
      over.levels = [finished.changed];
    } else {
      const surface = size.plates ? null : sources.surface(key);
      to.levels = [preparedSheet(to.flat, file, holds, surface, spec.ground, sources.boxes(key))];
    }
    to.filtered = false;
    version++;
    for (const [trial, levels] of trials) levels[0]?.repaint(to.levels[0], changedIn(to, formatOf(trial), 0));
    say(true);
  }
  return true;
}

/** A tile of the sheet, all of it painted. */
function drawTile(size: TemplateSheet, flat: Image8, tx: number, ty: number): void {
  const region = { x: tx * TILE, y: ty * TILE, width: TILE, height: TILE, step: 1 };
  const composed = cache.exact(livery, size.key, 'colour', size, 0, tx, ty, sources);
  const tile = finished(composed, size.key, 'colour', region, sources);
  const width = Math.min(TILE, size.width - tx * TILE);
  for (let y = 0; y < Math.min(TILE, size.height - ty * TILE); y++) {
    const at = ((ty * TILE + y) * size.width + tx * TILE) * 4;
    flat.data.set(tile.subarray(y * TILE * 4, y * TILE * 4 + width * 4), at);
  }
}

/** A tile of the sheet, with the original's texels where nobody painted. */
function drawTileOver(over: PaintedOver, size: TemplateSheet, flat: Image8, tx: number, ty: number): void {
  const [x, y] = [tx * TILE, ty * TILE];
  const region = { x, y, width: Math.min(TILE, size.width - x), height: Math.min(TILE, size.height - y), step: 1 };
  const { width, height } = size;
  const place = { livery, sheet: size.key, map: 'colour', size: { width, height }, pixels: over.pixels };
  // The original may be shown by no layer any more.
  const all = { ...sources, image: (blob: string) => (blob === over.pixels ? over.texels : sources.image(blob)) };
  drawOver(place, region, all, over.texels, { image: flat, changed: over.changed });
}

/** Makes the mip levels of what was painted. */
function filter(): void {
  const to = painted!;
  if (to.filtered) return;
  const mips = mipOptions(fileOf().file, roleOf(to.sheet));
  if (to.over) {
    const made = levelsOver(to.over.bytes, to.levels[0], to.over.levels[0], mips);
    to.levels = made.map(({ image }) => image);
    to.over.levels = made.map(({ changed }) => changed);
  } else to.levels = mipChain(to.levels[0], mips);
  if (sheetNamed(template, to.sheet).plates) for (const level of to.levels) bleedClear(level, fileOf().file);
  to.filtered = true;
  for (const [trial, levels] of trials)
    to.levels.forEach((level, i) => i > 0 && levels[i]?.repaint(level, changedIn(to, formatOf(trial), i)));
  version++;
}

/** Findings on the first trial; for them the sheet is also tried in BC1. */
async function look(mayGoOn: () => Promise<boolean>): Promise<void> {
  const [first] = looking!.trials;
  const encoded = levelsOf(first)[0];
  const format = FORMATS[first.format];
  let small: EncodedLevel | null = null;
  if (format.blockBytes === 16 && format.channels.length > 2) {
    small = levelsOf({ format: 'bc1', effort: 'normal' })[0];
    for (const { cx, cy } of small.waiting(0, 0)) {
      small.work(cx, cy);
      if (!(await mayGoOn())) return;
    }
  }
  findings = proofFindings({
    livery,
    sheet: painted!.sheet,
    map: 'colour',
    sources,
    painted: painted!.levels[0],
    encoded,
    small,
  });
}

/** Says how far everything is. */
function say(at = false): void {
  if (!at && performance.now() - told < NEWS_MS) return;
  told = performance.now();
  const news: ProofNews = {
    version,
    sheet: painted?.sheet ?? null,
    painting,
    levels: expected(),
    trials: (looking?.trials ?? []).map((trial) => ({
      ...trial,
      levels: (trials.get(trialKey(trial)) ?? []).map((level): LevelFacts => level.facts()),
    })),
    findings,
    problem,
  };
  sendNews(news);
}

function expected(): { width: number; height: number }[] {
  if (!painted || painted.levels.length === 0) return [];
  const { width, height } = painted.levels[0];
  if (painted.filtered) return painted.levels.map((level) => ({ width: level.width, height: level.height }));
  return [mipSize(width, height, 0)];
}

/** The texels of a cell, painted and encoded, and its blocks' differences. */
function cut(there: Image8, encoded: EncodedLevel, cx: number, cy: number): CellAnswer {
  const [left, top] = [cx * CELL, cy * CELL];
  const [width, height] = [Math.min(CELL, there.width - left), Math.min(CELL, there.height - top)];
  const part = ({ data }: Image8) => {
    const out = new Uint8ClampedArray(width * height * 4);
    for (let y = 0; y < height; y++) {
      const at = ((top + y) * there.width + left) * 4;
      out.set(data.subarray(at, at + width * 4), y * width * 4);
    }
    return out;
  };
  const [columns, rows] = [Math.ceil(width / 4), Math.ceil(height / 4)];
  const blocks = (from: Float32Array) => {
    const out = new Float32Array(columns * rows);
    for (let y = 0; y < rows; y++) {
      const at = ((top >> 2) + y) * encoded.columns + (left >> 2);
      out.set(from.subarray(at, at + columns), y * columns);
    }
    return out;
  };
  return {
    version,
    width,
    height,
    painted: part(there),
    encoded: part(encoded.decoded),
    deltaE: blocks(encoded.deltaE),
    psnr: blocks(encoded.psnr),
  };
}
