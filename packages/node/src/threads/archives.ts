/** Zips of ours and of others, read and made in a thread. */
import { readBundle, writeBundle, type Bundle } from '@wet-lacquer/core/files/bundle.ts';
import { readKit, writeKit, type Kit } from '@wet-lacquer/core/files/kit.ts';
import { openZip } from '@wet-lacquer/core/files/zip.ts';

export const openBundle = ({ bytes }: { bytes: Uint8Array }): Promise<Bundle> => readBundle(bytes);
export const packBundle = (bundle: Bundle): Uint8Array => writeBundle(bundle);
export const openKit = ({ bytes }: { bytes: Uint8Array }): Promise<Kit> => readKit(bytes);
export const packKit = (kit: Kit): Uint8Array => writeKit(kit);

/** One entry's bytes. @param task.bytes the archive, seen by all threads */
export const unpackEntry = ({ bytes, name }: { bytes: Uint8Array; name: string }): Uint8Array =>
  openZip(bytes).read(name)!;
