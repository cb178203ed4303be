/** A livery taken onto another model in one go, by what ships. */
import { createHash } from 'node:crypto';
import { sceneOf } from '../compose/scene.ts';
import { renderAlone } from '../compose/renderSheet.ts';
import type { Sources } from '../compose/renderTile.ts';
import { packPixels } from '../files/pixels.ts';
import { Sha256 } from '../livery/ids.ts';
import type { Livery } from '../livery/livery.ts';
import { sheetNamed, type Template } from '../livery/template.ts';
import { TILE, type Image8 } from '../raster/image.ts';
import { Fitting, type Fit } from '../transfer/fit.ts';
import { planTransfer, type Drawn, type TransferPlan } from '../transfer/plan.ts';
import { Points } from '../transfer/points.ts';
import { canReach, joined, takenKey, takeRows, withTaken, type Taken } from '../transfer/take.ts';
import { padded, paddingOf } from '../transfer/sampling.ts';
import { Origin } from '../transfer/texels.ts';
import { NO_HASH } from './scenes.ts';

export interface Transferred {
  livery: Livery;
  plan: TransferPlan;
  fitting: Fitting;
  /** Stored pixels by hash. */
  blobs: Map<string, Uint8Array>;
}

export function transferred(livery: Livery, old: Template, now: Template, fit: Fit, sources: Sources): Transferred {
  const fitting = new Fitting(old, now, fit);
  const plan = planTransfer(livery, old, now, NO_HASH, 'Moved', new Points(fitting), sources);
  const paddings = new Map(old.sheets.map(({ key }) => [key, paddingOf(old, key)]));
  const drawn = new Map<string, Image8>();
  const draw = ({ sheet, map, layer }: Drawn): Image8 => {
    const key = `${sheet}/${map}/${layer}`;
    const known = drawn.get(key) ?? renderAlone(sceneOf(livery, sheet, map, sources), layer, sheetNamed(old, sheet));
    drawn.set(key, known);
    return known;
  };
  const taken = new Map<string, Taken>();
  const blobs = new Map<string, Uint8Array>();
  for (const { sheet, map, entries } of plan.sheets) {
    const size = sheetNamed(now, sheet);
    const origin = new Origin(fitting, sheet);
    for (const entry of entries) {
      if (!('taken' in entry)) continue;
      const picture = padded(draw(entry.taken), paddings.get(entry.taken.sheet)!);
      if (!picture || !canReach(fitting, sheet, entry.taken.sheet, picture)) continue;
      const pictures = old.sheets.map(({ key }) => (key === entry.taken.sheet ? picture : null));
      const found = joined(takeRows(origin, size, [pictures], 0, Math.ceil(size.height / TILE))[0]);
      if (!found) continue;
      const bytes = packPixels(found.image);
      const blob = Sha256.parse(createHash('sha256').update(bytes).digest('hex'));
      blobs.set(blob, bytes);
      const { left, top, image } = found;
      taken.set(takenKey(sheet, map, entry.taken), { blob, left, top, width: image.width, height: image.height });
    }
  }
  return { livery: withTaken(plan, taken), plan, fitting, blobs };
}
