/** What a file is. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import { isZip, openZip } from '@wet-lacquer/core/files/zip.ts';
import { isModelKind, type ModelKind } from '@wet-lacquer/core/models/readModel.ts';
import { isPsd } from '@wet-lacquer/core/layered/isPsd.ts';

export type FileKind =
  'dds' | 'tga' | 'psd' | 'ora' | 'glb' | 'gltf' | 'obj' | 'mtl' | 'svg' | 'zip' | 'picture' | 'other';

/** What a file is, by its first bytes, and by its ending only where the bytes do not say. */
export function fileKind(bytes: Uint8Array, name: string): FileKind {
  const head = String.fromCharCode(...bytes.subarray(0, 4));
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  if (head === 'DDS ') return 'dds';
  if (head === 'glTF') return 'glb';
  if (isPsd(bytes)) return 'psd';
  if (isZip(bytes)) return isOra(bytes) ? 'ora' : 'zip';
  if (head.startsWith('\x89PNG') || head.startsWith('\xff\xd8\xff') || (head === 'RIFF' && ending === 'webp'))
    return 'picture';
  if (isSvg(bytes)) return 'svg';
  if (ending === 'tga' || ending === 'obj' || ending === 'gltf' || ending === 'mtl') return ending;
  if (['png', 'jpg', 'jpeg', 'webp', 'psd', 'psb', 'dds', 'glb', 'ora', 'svg'].includes(ending))
    throw new InputError(
      `This file does not hold what its ending says: it is not ${ending.toUpperCase()}, or it is cut off.`,
    );
  return 'other';
}

/** Which kind of model a file is; null: it is none, or nothing that can be told. */
export function modelKindOf(bytes: Uint8Array, name: string): ModelKind | null {
  try {
    const kind = fileKind(bytes, name);
    return isModelKind(kind) ? kind : null;
  } catch (error) {
    if (error instanceof InputError) return null;
    throw error;
  }
}

const isOra = (bytes: Uint8Array) => {
  try {
    const zip = openZip(bytes);
    return zip.entries.some((entry) => entry.name === 'stack.xml');
  } catch {
    return false;
  }
};

/** A drawing: its first element is `svg`, whatever stands before that. */
const isSvg = (bytes: Uint8Array) =>
  /^\ufeff?\s*(<\?xml[^>]*\?>\s*)?(<!--[\s\S]*?-->\s*|<!DOCTYPE[^>[]*(\[[^\]]*\])?[^>]*>\s*)*<svg[\s>]/i.test(
    new TextDecoder().decode(bytes.subarray(0, 4096)),
  );
