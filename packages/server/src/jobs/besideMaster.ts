/** A follower beside its master: the originals of both, brought to a thread. */
import { MAIN_MAP, originalKey } from '@wet-lacquer/core/livery/template.ts';
import type { HeldFile } from '@wet-lacquer/node/threads/over.ts';
import type { BesideMasterAnswer } from '@wet-lacquer/sync/answers.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import type { Scene } from '@wet-lacquer/node/threads/scene.ts';
import { sharedCopy } from '@wet-lacquer/node/threads/shared.ts';
import { getBlob } from '../store/blobs.ts';
import type { Tx } from '../store/db.ts';

/** Side of each picture, in texels. */
const SIDE = 256;

/** @param painted whether the scene's livery is shown, or the template alone */
export async function besideMasterOf(
  tx: Tx,
  threads: Pool,
  scene: Scene,
  { sheet, follower, painted }: { sheet: string; follower: string; painted: boolean },
  signal?: AbortSignal,
): Promise<BesideMasterAnswer> {
  const held = async (key: string): Promise<HeldFile | null> => {
    const originals = scene.template.originals ?? {};
    const original = Object.hasOwn(originals, key) ? originals[key] : null;
    return original && { original, bytes: sharedCopy(await getBlob(tx, original.blob)) };
  };
  const files = {
    master: await held(originalKey(sheet)),
    copy: await held(originalKey(sheet, MAIN_MAP, follower)),
  };
  const made = await threads.run('besideMaster', { scene, sheet, follower, files, painted, side: SIDE }, signal);
  return { light: made.light, picture: `data:image/png;base64,${Buffer.from(made.picture).toString('base64')}` };
}
