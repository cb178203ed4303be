import { isZip } from '../files/zip.ts';
import type { FileKindData } from './kind.ts';

/** Games call their archives whatever they like: only the bytes say it. */
export const zip = { name: 'zip archives', is: 'archive', endings: [], begins: isZip } as const satisfies FileKindData;
