import { unzipSync } from 'fflate';

/** What a package may hold unpacked, bytes and files: a zip says of each file how large it is before it is unpacked. */
const MOST_BYTES = 256 * 2 ** 20;
const MOST_FILES = 2000;

/** Files of a zip by their paths; else, to be put into a sentence, why it is not opened. */
export function unpack(zip: Uint8Array): Record<string, Uint8Array> | string {
  let bytes = 0;
  let files = 0;
  const fits = () => bytes <= MOST_BYTES && files <= MOST_FILES;
  try {
    return unzipSync(zip, {
      filter({ originalSize }) {
        bytes += originalSize;
        files++;
        if (!fits()) throw new RangeError('too much');
        return true;
      },
    });
  } catch {
    return fits() ? 'it is not a whole zip' : 'it unpacks to more than 256 MiB or 2000 files';
  }
}
