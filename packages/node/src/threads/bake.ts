/** Ambient occlusion of a sheet in threads. */
import { packPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { buildBvh } from '@wet-lacquer/core/surface/bvh.ts';
import { bakeRows, finishBake, fieldsAt } from '@wet-lacquer/core/surface/occlusion.ts';

export interface Bake {
  template: Template;
  sheet: string;
  /** Size at which rays are cast. */
  width: number;
  height: number;
  rays: number;
  /** How far away something still darkens, in metres. */
  reach: number;
}

/** Every `of`-th row from the `index`-th on. @param out shared; see bakeRows @param done shared: how many rows are done, over all threads */
export function bakeBand(task: {
  bake: Bake;
  part: { index: number; of: number };
  out: Float32Array;
  done: SharedArrayBuffer;
}): void {
  const { bake, part, out } = task;
  const bvh = buildBvh(bake.template.mesh);
  const map = fieldsAt(bake.template, bake.sheet, bake.width, bake.height);
  const gauge = new Int32Array(task.done);
  for (let y = part.index; y < bake.height; y += part.of) {
    bakeRows(bake.template.mesh, map, bvh, bake, y, y + 1, out);
    Atomics.add(gauge, 0, 1);
  }
}

/** Brings a bake to its sheet's size. @returns stored pixels */
export function bakeFinish({ bake, open }: { bake: Bake; open: Float32Array }): {
  bytes: Uint8Array;
  width: number;
  height: number;
} {
  const map = fieldsAt(bake.template, bake.sheet, bake.width, bake.height);
  const image = finishBake(bake.template, bake.sheet, map, open);
  return { bytes: packPixels(image), width: image.width, height: image.height };
}
