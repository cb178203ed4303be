import { createHash } from 'node:crypto';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';

export const hashOf = (bytes: Uint8Array | string): Sha256 =>
  Sha256.parse(createHash('sha256').update(bytes).digest('hex'));
