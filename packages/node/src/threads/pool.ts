import { setMaxListeners } from 'node:events';
import os from 'node:os';
import { Piscina } from 'piscina';
import { joined } from '@wet-lacquer/core/bytes.ts';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { TILE } from '@wet-lacquer/core/raster/image.ts';
import type { Encoding } from '@wet-lacquer/core/texture/encoding.ts';
import { FORMATS, rowBytes, rowsOf, type FormatKey } from '@wet-lacquer/core/texture/formats/index.ts';
import { resampling } from '@wet-lacquer/core/texture/resample.ts';
import { emptyChain, type MipOptions } from '@wet-lacquer/core/texture/mips.ts';
import { psd } from '@wet-lacquer/core/kinds/psd.ts';
import { joinParts } from '@wet-lacquer/core/layered/joinParts.ts';
import { layersIn } from '@wet-lacquer/core/livery/livery.ts';
import { shines } from '@wet-lacquer/core/finish/night.ts';
import { strokesIn } from '@wet-lacquer/core/livery/strokes.ts';
import type { FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { Bake } from './bake.ts';
import type * as tasks from './tasks.ts';
import type { HeldFile, Over } from './over.ts';
import { withFields, type Scene } from './scene.ts';
import { readyKey, texturesOf, type ReadyTexture } from './readyTextures.ts';
import { sharedBytes, sharedCopy, sharedImage } from './shared.ts';
import type { Looked } from './looked.ts';

/** Seconds that a task may take once a thread has it; then it is ended, with its thread. */
const SECONDS = 120;
const SECONDS_OF: Partial<Record<keyof Tasks, number>> = {
  // What somebody brings, in one piece.
  importDecal: 20,
  importPicture: 30,
  lookAtBlob: 30,
  decalThumb: 20,
  openBundle: 60,
  openKit: 60,
  unpackEntry: 60,
  listContainer: 60,
  takeEntry: 60,
  putEntry: 60,
  copyEntry: 60,
  changeContainer: 60,
  putText: 60,
  textOfEntry: 60,
  usesOfEntry: 60,
  textsAmong: 60,
  // A large sheet's own work.
  makeTemplate: 300,
  readyTexture: 120,
  takeIn: 120,
  sheetBack: 180,
  bakeBand: 1800,
  check: 300,
  skinLook: 120,
  fitModels: 180,
  planMove: 300,
  takeBand: 300,
  overDds: 600,
  overPicture: 600,
};
/** How often running tasks are looked at. */
const LOOK_MS = 200;
/** Memory of the whole process, in parts of the machine's, above which the task that began last is ended. */
const MOST_MEMORY = 0.6;

/** A task took more than tasks may. */
export class TooMuch extends InputError {
  override name = 'TooMuch';
}

interface Running {
  name: string;
  /** Set by the thread that takes it. */
  taken: Int32Array;
  since: number | null;
  stop: AbortController;
}

/** How the threads are. */
export interface PoolHealth {
  threads: number;
  /** Tasks that a thread has, and that wait for one. */
  busy: number;
  waiting: number;
  /** Seconds that the longest has been under way. */
  longest: number;
  /** Tasks that were ended for taking too much, since the start. */
  ended: number;
}

type Tasks = typeof tasks;
type TaskOf<K extends keyof Tasks> = Parameters<Tasks[K]>[0];
type ResultOf<K extends keyof Tasks> = Awaited<ReturnType<Tasks[K]>>;

/** Threads for heavy work. A task that exceeds its time, or whose signal fires, is ended together with its thread. */
export class Pool {
  private readonly pool: Piscina;
  private readonly running = new Set<Running>();
  private readonly watch: ReturnType<typeof setInterval>;
  private ended = 0;

  /**
   * @param thread the built thread; it lies beside the bundle that this is part of
   * @param most seconds that any task may take, where that is less than its own limit
   */
  constructor(
    readonly threads: number,
    thread = new URL('./thread.js', import.meta.url),
    private readonly most = Infinity,
  ) {
    this.pool = new Piscina({ filename: thread.href, minThreads: 1, maxThreads: threads, idleTimeout: 600_000 });
    this.watch = setInterval(() => this.look(), LOOK_MS);
    this.watch.unref();
  }

  /** Ends what has taken too long, and the last to begin when memory runs out. */
  private look(): void {
    const now = performance.now();
    let last: Running | null = null;
    for (const one of this.running) {
      if (one.since === null && Atomics.load(one.taken, 0) === 1) one.since = now;
      if (one.since === null) continue;
      const limit = Math.min(this.most, SECONDS_OF[one.name as keyof Tasks] ?? SECONDS);
      if (now - one.since > limit * 1000) this.end(one, `This took more than ${limit} seconds, so it was given up.`);
      else if (!last || one.since > last.since!) last = one;
    }
    if (last && process.memoryUsage.rss() > os.totalmem() * MOST_MEMORY)
      this.end(last, 'This needs more memory than this machine has to give, so it was given up.');
  }

  private end(one: Running, why: string): void {
    this.ended++;
    one.stop.abort(new TooMuch(why));
  }

  health(): PoolHealth {
    const now = performance.now();
    const under = [...this.running].flatMap(({ since }) => (since === null ? [] : [(now - since) / 1000]));
    return {
      threads: this.threads,
      busy: under.length,
      waiting: this.running.size - under.length,
      longest: Math.max(0, ...under),
      ended: this.ended,
    };
  }

  async run<K extends keyof Tasks>(name: K, task: TaskOf<K>, signal?: AbortSignal): Promise<ResultOf<K>> {
    // One signal ends all the tasks of a delivery: many listeners are no leak here.
    if (signal) setMaxListeners(0, signal);
    const taken = new Int32Array(new SharedArrayBuffer(4));
    const one: Running = { name, taken, since: null, stop: new AbortController() };
    const either = signal ? AbortSignal.any([signal, one.stop.signal]) : one.stop.signal;
    this.running.add(one);
    try {
      const result = (await this.pool.run({ name, task, taken }, { signal: either })) as
        { value: ResultOf<K> } | { inputError: string };
      if ('inputError' in result) throw new InputError(result.inputError);
      return result.value;
    } catch (error) {
      // What was ended for itself says why; its thread is replaced.
      if (one.stop.signal.aborted) throw one.stop.signal.reason;
      if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new TooMuch('This needs more memory than one task may take, so it was given up.');
      throw error;
    } finally {
      this.running.delete(one);
    }
  }

  /** A whole map of a sheet at native size, its rows of tiles spread over the threads. */
  async flatten(
    scene: Scene,
    sheet: string,
    map: string,
    size: { width: number; height: number },
    signal?: AbortSignal,
  ): Promise<Image8> {
    const rows = Math.ceil(size.height / TILE);
    // Twice as many as there are threads: one that comes to simpler rows takes more of them.
    const bands = split(rows, this.threads * 2);
    const data = sharedBytes(size.width * size.height * 4);
    const own = sceneOfSheet(scene, sheet);
    await Promise.all(
      bands.map(([from, to]) => this.run('renderRows', { scene: own, sheet, map, from, to, into: data }, signal)),
    );
    return { ...size, data };
  }

  /**
   * A map over the file that it came from: its picture, with the file's own values where nobody painted, and which texels those are not.
   * @param sparse only what was painted is asked for, the rest of the picture may be anything
   */
  async over(
    scene: Scene,
    sheet: string,
    map: string,
    size: { width: number; height: number },
    held: HeldFile,
    sparse: boolean,
    signal?: AbortSignal,
  ): Promise<Over> {
    const { original } = held;
    const pixels = original.pixels!;
    const place = { livery: scene.livery, sheet, map, size, pixels };
    const same = original.stored.width === size.width && original.stored.height === size.height;
    const texels = !same
      ? await this.run('storedTexels', { bytes: heldIn(scene.blobs, pixels) }, signal)
      : original.stored.container === 'dds'
        ? null
        : await this.run('originalTexels', held, signal);
    const rows = Math.ceil(size.height / TILE);
    const image = { ...size, data: sharedBytes(size.width * size.height * 4) };
    const changed = { ...size, data: sharedBytes(size.width * size.height) };
    const own = sceneOfSheet(scene, sheet, pixels);
    const { livery } = own;
    // Where nothing but the original lies, nothing is drawn: small pieces, so that the others are shared evenly.
    const task = {
      scene: own,
      place: { ...place, livery },
      held,
      texels,
      into: image.data,
      changed: changed.data,
      sparse,
    };
    await Promise.all(split(rows, rows).map(([from, to]) => this.run('overRows', { ...task, from, to }, signal)));
    return { image, changed };
  }

  /** Encodes one image, its rows of blocks spread over the threads; the bytes do not depend on how many there are. */
  async encode(image: Image8, format: FormatKey, encoding: Encoding, signal?: AbortSignal): Promise<Uint8Array> {
    return (await this.encodeMeasured(image, format, encoding, signal)).bytes;
  }

  /** The same with the squared errors of r, g, b and alpha that the encoding makes. */
  async encodeMeasured(
    image: Image8,
    format: FormatKey,
    encoding: Encoding,
    signal?: AbortSignal,
    measure = false,
  ): Promise<{ bytes: Uint8Array; squares: number[] }> {
    const shared = sharedImage(image);
    const { blockBytes } = FORMATS[format];
    const rows = rowsOf(FORMATS[format], image.height);
    const bands = rows < 16 ? split(rows, 1) : split(rows, Math.max(this.threads * 4, rows >> 5));
    const bytes = sharedBytes(rows * rowBytes(FORMATS[format], image.width));
    const task = { image: shared, format, encoding, out: bytes, measure: measure && blockBytes > 0 };
    const parts = await Promise.all(bands.map(([from, to]) => this.run('encodeRows', { ...task, from, to }, signal)));
    return { bytes, squares: [0, 1, 2, 3].map((c) => parts.reduce((sum, part) => sum + part[c], 0)) };
  }

  /** The mip chain of an image, in shared memory. The large levels are filtered in bands, the rest from what those leave. */
  async mips(image: Image8, options: MipOptions, signal?: AbortSignal): Promise<Image8[]> {
    const levels = emptyChain(sharedImage(image), options, sharedBytes);
    const depth = Math.min(3, levels.length - 1);
    if (options.kind === 'ids' || image.height < 512 || levels.length < 5)
      return this.run('mips', { image: levels[0], options }, signal);
    const large = levels.slice(0, depth + 1);
    const { width, height } = large[depth];
    const last = { width, height, data: new Float32Array(new SharedArrayBuffer(width * height * 16)) };
    const bands = Array.from({ length: this.threads }, (_, band) => band);
    await Promise.all(
      bands.map((band) => this.run('mipBand', { levels: large, options, band, bands: this.threads, last }, signal)),
    );
    await this.run('mipRest', { levels, options, first: depth + 1, base: last }, signal);
    return levels;
  }

  /** An image at another size, its rows spread over the threads; see texture/resample.ts. */
  async resample(
    image: Image8,
    { width, height }: { width: number; height: number },
    kind: 'srgb' | 'linear',
    signal?: AbortSignal,
  ): Promise<Image8> {
    if (image.width === width && image.height === height) return image;
    const levels = [sharedImage(image), { width, height, data: sharedBytes(width * height * 4) }];
    const options = resampling(kind);
    const bands = Array.from({ length: this.threads }, (_, band) => band);
    await Promise.all(bands.map((band) => this.run('mipBand', { levels, options, band, bands: this.threads }, signal)));
    return levels[1];
  }

  /** Says what a file is. A PSD is read and composited by all threads. @param progress see understand */
  async understand(
    bytes: Uint8Array,
    name: string,
    progress?: SharedArrayBuffer,
    signal?: AbortSignal,
    beside?: ReadonlyMap<string, Uint8Array>,
  ): Promise<Looked> {
    if (!psd.begins(bytes)) return this.run('understand', { bytes, name, progress, beside }, signal);
    const of = this.threads;
    // Seen by all threads, not copied to each.
    const shared = sharedCopy(bytes);
    const parts = Array.from({ length: of }, (_, index) => ({ index, of }));
    const file = joinParts(
      await Promise.all(parts.map((part) => this.run('readPsdPart', { bytes: shared, part, progress }, signal))),
    );
    const { width, height } = file;
    const ours = { width, height, data: sharedBytes(width * height * 4) };
    await Promise.all(parts.map((part) => this.run('compositePart', { image: ours, file, part, progress }, signal)));
    return this.run('lookLayered', { file, ours }, signal);
  }

  /** A template of files, its textures read and packed by all threads. @throws InputError */
  async template(task: Omit<Parameters<Tasks['makeTemplate']>[0], 'ready'>, signal?: AbortSignal) {
    const ready = new Map<string, ReadyTexture>();
    const left = texturesOf(task.decisions).filter(({ name }) => task.files.has(name));
    const work = async () => {
      for (let one = left.shift(); one; one = left.shift()) {
        const key = readyKey(one.name, one.upsideDown);
        if (!ready.has(key))
          ready.set(key, await this.run('readyTexture', { ...one, bytes: heldIn(task.files, one.name) }, signal));
      }
    };
    await Promise.all(Array.from({ length: this.threads }, work));
    return this.run('makeTemplate', { ...task, ready }, signal);
  }

  /** Ambient occlusion of a sheet as stored pixels, its rows spread over the threads. @param report share of rows done, now and then */
  async occlusion(bake: Bake, report: (done: number) => void, signal?: AbortSignal) {
    const of = this.threads;
    const out = new Float32Array(new SharedArrayBuffer(bake.width * bake.height * 4));
    const done = new SharedArrayBuffer(4);
    const tell = setInterval(() => report(Atomics.load(new Int32Array(done), 0) / bake.height), 250);
    try {
      const parts = Array.from({ length: of }, (_, index) => ({ index, of }));
      await Promise.all(parts.map((part) => this.run('bakeBand', { bake, part, out, done }, signal)));
    } finally {
      clearInterval(tell);
    }
    return this.run('bakeFinish', { bake, open: out }, signal);
  }

  /**
   * A field of a template's model at its corners, shared among the threads; where all threads see it.
   * @param report share of corners done, now and then
   */
  async field(template: Template, name: FieldKey, report: (done: number) => void, signal?: AbortSignal) {
    const of = this.threads;
    const gauge = new SharedArrayBuffer(8);
    const [done, all] = [0, 1].map((k) => () => Atomics.load(new Int32Array(gauge), k));
    const tell = setInterval(() => report(all() > 0 ? done() / all() : 0), 250);
    try {
      const threads = Array.from({ length: of }, (_, index) => index);
      const parts = await Promise.all(
        threads.map((index) => this.run('fieldPart', { template, name, part: { index, of }, gauge }, signal)),
      );
      const pieces = Array.from(
        { length: parts.reduce((n, part) => n + part.length, 0) },
        (_, i) => parts[i % of][Math.floor(i / of)],
      );
      return sharedCopy(joined(pieces.map(({ buffer }) => new Uint8Array(buffer))));
    } finally {
      clearInterval(tell);
    }
  }

  /** A scene with all that is worked out of its model, so that no thread does it by itself. */
  withFields<S extends Scene>(scene: S, signal?: AbortSignal): Promise<S> {
    return withFields(scene, (name) => this.field(scene.template, name, () => {}, signal));
  }

  async close(): Promise<void> {
    clearInterval(this.watch);
    await this.pool.destroy();
  }
}

/** The scene with what one sheet is drawn from, and nothing else: all of it is copied to every thread. @param but pixels that come another way */
function sceneOfSheet(scene: Scene, key: string, but?: string): Scene {
  // What is lit on one sheet shines on the others.
  const all = shines(scene.livery);
  const sheets = scene.livery.sheets.filter((sheet) => all || sheet.key === key);
  const livery = { ...scene.livery, sheets };
  const used = new Set([...layersIn(livery), ...strokesIn(livery)].flatMap((one) => ('blob' in one ? [one.blob] : [])));
  const blobs = new Map([...scene.blobs].filter(([hash]) => used.has(hash as Sha256) && hash !== but));
  return { ...scene, livery, blobs };
}

function split(rows: number, pieces: number): [number, number][] {
  const count = Math.max(1, Math.min(rows, pieces));
  return Array.from({ length: count }, (_, i) => [
    Math.floor((i * rows) / count),
    Math.floor(((i + 1) * rows) / count),
  ]);
}
