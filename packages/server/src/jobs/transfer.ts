/** Takes a livery onto another model: a new livery, or nothing at all. */
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { TILE } from '@wet-lacquer/core/raster/image.ts';
import type { Fit } from '@wet-lacquer/core/transfer/fit.ts';
import type { CarriedNote, Drawn, TransferPlan } from '@wet-lacquer/core/transfer/plan.ts';
import { takenKey, withTaken, type Taken } from '@wet-lacquer/core/transfer/take.ts';
import type { OldPicture } from '@wet-lacquer/core/transfer/sampling.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import type { Pairing } from '@wet-lacquer/node/threads/transfer.ts';
import { putBlob } from '../store/blobs.ts';
import { transact, type Db } from '../store/db.ts';
import { createLivery } from '../store/liveries.ts';
import { getTemplate } from '../store/templates.ts';
import { readyScene } from './fields.ts';

/** Bytes of layers whose pixels are taken in one pass over a sheet; what comes of them is about as much. */
const AT_ONCE = 256 * 2 ** 20;
/** Bytes of layers that were drawn and are kept for the sheets that still need them. */
const KEPT = 384 * 2 ** 20;
/** Two templates of which places can correspond. @throws InputError when one of them came without a model */
export async function modelsOf(db: Db, from: Sha256, to: Sha256): Promise<Pick<Pairing, 'old' | 'now'>> {
  const [old, now] = [await getTemplate(db, from), await getTemplate(db, to)];
  for (const { boards, name } of [old, now])
    if (boards) throw new InputError(`${name} came without a model: nothing says which places correspond.`);
  return { old, now };
}

export const pairingOf = (models: Pick<Pairing, 'old' | 'now'>, fit: Fit, hashes: readonly Sha256[]): Pairing => ({
  ...models,
  fit,
  key: `${hashes.join()} ${JSON.stringify(fit)}`,
});

/**
 * @param report how much is done, 0..1, now and then
 * @returns the new livery's id, and what became of each layer
 */
export async function transferLivery(
  db: Db,
  threads: Pool,
  livery: Livery,
  to: Sha256,
  fit: Fit,
  name: string,
  report: (done: number) => void,
  signal: AbortSignal,
): Promise<{ id: string; notes: CarriedNote[] }> {
  const { template: from } = livery.pins;
  const models = await modelsOf(db, from, to);
  const { old, now } = models;
  const pairing = pairingOf(models, fit, [from, to]);
  const scene = await readyScene(db, threads, livery, signal);
  const plan = await threads.run('planMove', { scene, pairing, hash: to, name }, signal);
  report(0.02);
  const works = worksOf(plan, now);
  const all = works.reduce((sum, { drawn }) => sum + drawn.length, 0) + works.reduce((sum, { rows }) => sum + rows, 0);
  let done = 0;
  const more = (by: number) => report(0.02 + (0.95 * (done += by)) / (all || 1));
  const pieces = new Map<string, Uint8Array>();
  const taken = new Map<string, Taken>();
  const layers = new DrawnLayers((drawn) => threads.run('drawOld', { scene, pairing, drawn }, signal));
  for (const { sheet, drawn, rows } of works) {
    let ready: Ready[] = [];
    // As many in one pass as there is memory for: where texels come from is worked out once for all of them.
    const take = async () => {
      const batch = ready;
      ready = [];
      if (batch.length === 0) return;
      const pictures = batch.map(({ drawn: { sheet: of }, picture }) =>
        old.sheets.map(({ key }) => (key === of ? picture : null)),
      );
      const bands = Array.from({ length: rows }, (_, row) =>
        threads.run('takeBand', { pairing, sheet, pictures, from: row, to: row + 1 }, signal),
      );
      for (const band of bands)
        void band.then(
          () => more(batch.length / drawn.length),
          () => undefined,
        );
      const tiles = await Promise.all(bands);
      const packed = batch.map(async ({ map, drawn: own }, n) => {
        const found = await threads.run(
          'packTaken',
          tiles.flatMap((of) => of[n]),
          signal,
        );
        if (!found) return;
        const { bytes, ...place } = found;
        const blob = hashOf(bytes);
        pieces.set(blob, bytes);
        taken.set(takenKey(sheet, map, own), { blob, ...place });
      });
      await Promise.all(packed);
    };
    for (let first = 0; first < drawn.length; first += threads.threads) {
      const some = drawn.slice(first, first + threads.threads);
      const pictures = await Promise.all(some.map((one) => layers.get(one.drawn)));
      more(some.length);
      for (const [n, picture] of pictures.entries())
        if (picture?.reaches.includes(sheet)) ready.push({ ...some[n], picture });
      if (ready.reduce((sum, { picture }) => sum + picture.image.data.length, 0) > AT_ONCE) await take();
    }
    await take();
  }
  const made = Livery.parse(withTaken(plan, taken));
  signal.throwIfAborted();
  const id = await transact(db, async (tx) => {
    for (const bytes of pieces.values()) await putBlob(tx, bytes);
    return createLivery(tx, made);
  });
  return { id, notes: plan.notes };
}

/** What is taken for each of the new sheets. */
const worksOf = ({ sheets, livery }: TransferPlan, now: Template) =>
  livery.sheets.flatMap(({ key: sheet }) => {
    const drawn = sheets
      .filter((one) => one.sheet === sheet)
      .flatMap(({ map, entries }) =>
        entries.flatMap((entry) => ('taken' in entry ? [{ map, drawn: entry.taken }] : [])),
      );
    return drawn.length > 0 ? [{ sheet, drawn, rows: Math.ceil(sheetNamed(now, sheet).height / TILE) }] : [];
  });

/** A layer that was drawn and is to be taken. */
interface Ready {
  map: string;
  drawn: Drawn;
  picture: OldPicture;
}

type Drawing = (OldPicture & { reaches: string[] }) | null;

/** Layers drawn by themselves; those that were not used for longest are let go. */
class DrawnLayers {
  private readonly held = new Map<string, Drawing>();

  constructor(private readonly draw: (drawn: Drawn) => Promise<Drawing>) {}

  async get(drawn: Drawn): Promise<Drawing> {
    const key = `${drawn.sheet}/${drawn.map}/${drawn.layer}`;
    const known = this.held.get(key);
    const found = known === undefined ? await this.draw(drawn) : known;
    this.held.delete(key);
    this.held.set(key, found);
    let bytes = 0;
    for (const picture of this.held.values()) bytes += picture?.image.data.length ?? 0;
    for (const [oldest, picture] of this.held) {
      if (bytes <= KEPT || oldest === key) break;
      this.held.delete(oldest);
      bytes -= picture?.image.data.length ?? 0;
    }
    return found;
  }
}
