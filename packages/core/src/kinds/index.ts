/** Every kind of file that can be read; nothing else knows how they are told apart. */
import { InputError } from '../errors.ts';
import { endingOf } from '../paths.ts';
import { dds } from './dds.ts';
import { glb } from './glb.ts';
import { gltf } from './gltf.ts';
import type { FileKindData } from './kind.ts';
import { mtl } from './mtl.ts';
import { obj } from './obj.ts';
import { ora } from './ora.ts';
import { picture } from './picture.ts';
import { psd } from './psd.ts';
import { svg } from './svg.ts';
import { tga } from './tga.ts';
import { zip } from './zip.ts';

/** In the order in which they are tried: OpenRaster is a zip archive too. */
const KINDS = { dds, tga, picture, psd, ora, svg, glb, gltf, obj, mtl, zip };
type Kinds = typeof KINDS;
type KnownKind = keyof Kinds;
type What = FileKindData['is'];

/** "other": none of them. */
export type FileKind = KnownKind | 'other';
/** The kinds that can become something. */
export type KindThatIs<W extends What> = { [K in KnownKind]: Kinds[K]['is'] extends W ? K : never }[KnownKind];
export type TextureKind = KindThatIs<'texture'>;
export type LayeredKind = KindThatIs<'layered'>;
export type ModelKind = KindThatIs<'model'>;

const all = Object.entries(KINDS) as [KnownKind, FileKindData][];

/**
 * What a file is: by its first bytes, and by its ending only where the bytes do not say.
 * @throws InputError when the ending promises what the bytes are not
 * @example
 * import { fileKind } from './kinds/index.ts';
 * fileKind(new TextEncoder().encode('glTF, and what follows'), 'boat.bin'); // 'glb'
 */
export function fileKind(bytes: Uint8Array, name: string): FileKind {
  const begun = all.find(([, kind]) => kind.begins?.(bytes));
  if (begun) return begun[0];
  const ending = endingOf(name);
  const named = all.find(([, kind]) => kind.endings.includes(ending));
  if (!named) return 'other';
  if (named[1].begins)
    throw new InputError(
      `This file does not hold what its ending says: it is not ${ending.toUpperCase()}, or it is cut off.`,
    );
  return named[0];
}

/** Whether a file of a kind can become something. */
export const canBe = <W extends What>(what: W, kind: FileKind): kind is KindThatIs<W> =>
  kind !== 'other' && KINDS[kind].is === what;

/** Which kind of model a file is; null: it is none, or nothing that can be told. */
export function modelKindOf(bytes: Uint8Array, name: string): ModelKind | null {
  try {
    const kind = fileKind(bytes, name);
    return canBe('model', kind) ? kind : null;
  } catch (error) {
    if (error instanceof InputError) return null;
    throw error;
  }
}

/** What a file of a kind can become. */
export const whatIs = (kind: FileKind): What | 'other' => (kind === 'other' ? 'other' : KINDS[kind].is);

const those = (wanted: readonly What[]) => wanted.flatMap((what) => all.filter(([, { is }]) => is === what));

/** Endings of the kinds that can become something, as a file field of a page takes them: ".png,.jpg". */
export const endingsOf = (...wanted: What[]): string =>
  those(wanted)
    .flatMap(([, { endings }]) => endings.map((ending) => `.${ending}`))
    .join(',');

/** Their names, parted by commas, for a sentence. */
export const namesOf = (...wanted: What[]): string =>
  [...new Set(those(wanted).map(([, { name }]) => name))].join(', ');
