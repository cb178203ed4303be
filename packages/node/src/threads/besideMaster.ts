/** A follower beside its master, small: both as they are, and what goes out; runs in threads. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import { renderCoarse } from '@wet-lacquer/core/compose/renderSheet.ts';
import { lightRelation, paintInLight, type LightRelation } from '@wet-lacquer/core/delivery/light.ts';
import { MAIN_MAP, sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { newImage, wordsOf, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { mirrorImage } from '@wet-lacquer/core/raster/mirror.ts';
import { resample } from '@wet-lacquer/core/texture/resample.ts';
import { asItCame } from './asItCame.ts';
import { originalTexels, overlay, type HeldFile } from './over.ts';
import { png } from './pictures.ts';
import { sourcesOf, type Scene } from './scene.ts';

export interface BesideMaster {
  /** How the follower's light follows from the master's; null: the paint goes on it as it is. */
  light: (Pick<LightRelation, 'kind' | 'error' | 'explained'> & { strength: number }) | null;
  /** PNG of three pictures side by side: the master, the follower as it came, and as it goes out. */
  picture: Uint8Array;
}

/** Texels of grey between two pictures. */
const GAP = 4;

/**
 * @param files the originals of the sheet and of its follower; null where one came without
 * @param painted whether the scene's livery is what goes out; otherwise the whole master is put into the follower's light
 * @param side of each picture at most, in texels
 */
export async function besideMaster(task: {
  scene: Scene;
  sheet: string;
  follower: string;
  files: { master: HeldFile | null; copy: HeldFile | null };
  painted: boolean;
  side: number;
}): Promise<BesideMaster> {
  const { scene, files, painted, side } = task;
  const sheet = sheetNamed(scene.template, task.sheet);
  const follower = sheet.followers?.find(({ key }) => key === task.follower);
  if (!follower) throw new InputError(`${sheet.name} has no follower "${task.follower}".`);
  const step = Math.max(1, Math.ceil(Math.max(sheet.width, sheet.height) / side));
  const drawn = async (one: Scene) =>
    mirrorImage(renderCoarse(one.livery, sheet.key, MAIN_MAP, sheet, step, await sourcesOf(one)), follower.mirror);
  const now = await drawn(scene);
  const before = await drawn(asItCame(scene, sheet.key));
  const small = (image: Image8) => resample(image, now.width, now.height, 'srgb');
  const copy = files.copy && (await originalTexels(files.copy));
  const came = copy ? small(copy) : before;
  const out: Image8 = { ...came, data: came.data.slice() };
  let light: BesideMaster['light'] = null;
  const changed = changedIn(now, before);
  if (copy && files.master && follower.light !== undefined) {
    const master = mirrorImage(await originalTexels(files.master), follower.mirror);
    // As a delivery tells it: at the follower's own size.
    const relation = lightRelation(resample(master, follower.width, follower.height, 'srgb'), copy);
    const strength = follower.light / 100;
    light = { kind: relation.kind, error: relation.error, explained: relation.explained, strength };
    if (painted) paintInLight(out, now, before, changed, relation, strength);
    else wholeInLight(out, before, relation, strength);
  } else if (!copy) out.data.set(now.data);
  else if (painted) overlay(out, now, changed);
  return { light, picture: await png(sideBySide([painted ? now : before, came, out])) };
}

function changedIn(now: Image8, before: Image8): Uint8Array {
  const [a, b] = [wordsOf(now.data), wordsOf(before.data)];
  return Uint8Array.from(a, (value, i) => (value === b[i] ? 0 : 1));
}

/** The master as its follower's light would show it, in place. */
function wholeInLight(into: Image8, master: Image8, relation: LightRelation, strength: number): void {
  const { width, height } = into;
  const lit = new Float64Array(3);
  for (let i = 0; i < width * height; i++) {
    const at = i * 4;
    const [r, g, b] = master.data.subarray(at, at + 3);
    relation.map(r, g, b, ((i % width) + 0.5) / width, (Math.floor(i / width) + 0.5) / height, lit);
    for (let c = 0; c < 3; c++) {
      const value = lit[c] * strength + master.data[at + c] * (1 - strength);
      into.data[at + c] = Math.max(0, Math.min(255, Math.floor(value + 0.5)));
    }
    into.data[at + 3] = master.data[at + 3];
  }
}

/** Pictures of one height in a row, neutral grey between them. */
export function sideBySide(pictures: readonly Image8[]): Image8 {
  const { height } = pictures[0];
  const width = pictures.reduce((sum, picture) => sum + picture.width, GAP * (pictures.length - 1));
  const row = newImage(width, height);
  row.data.fill(119);
  let left = 0;
  for (const picture of pictures) {
    for (let y = 0; y < height; y++)
      row.data.set(picture.data.subarray(y * picture.width * 4, (y + 1) * picture.width * 4), (y * width + left) * 4);
    left += picture.width + GAP;
  }
  return row;
}
