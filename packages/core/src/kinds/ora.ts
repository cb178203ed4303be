import { InputError } from '../errors.ts';
import { isZip, openZip } from '../files/zip.ts';
import type { FileKindData } from './kind.ts';

/** An archive with the order of its layers in it (OpenRaster specification, "File layout"). */
function begins(bytes: Uint8Array): boolean {
  try {
    return isZip(bytes) && openZip(bytes).entries.some((entry) => entry.name === 'stack.xml');
  } catch (error) {
    if (error instanceof InputError) return false;
    throw error;
  }
}

export const ora = { name: 'OpenRaster', is: 'layered', endings: ['ora'], begins } as const satisfies FileKindData;
