/** Zips of ours with JSON and stored bytes inside: bundles, kits, template packages. */
import { strFromU8, strToU8, unzipSync, zipSync, type Zippable } from 'fflate';
import type { z } from 'zod';
import { InputError } from '../errors.ts';
import { Sha256 } from '../livery/ids.ts';
import { readJson } from './json.ts';
import { sha256 } from './sha256.ts';
import { couldHold } from './zip.ts';

/** Fixed time stamp of entries, so that the same content has the same bytes. */
export const ZIP_TIME = new Date(1980, 0, 1);

export const jsonEntry = (value: unknown): Uint8Array => strToU8(JSON.stringify(value, null, 1));

export const writeArchive = (files: Zippable): Uint8Array => zipSync(files, { mtime: ZIP_TIME, level: 6 });

/** Bytes named by their hash, as entries. */
export const blobEntries = (blobs: ReadonlyMap<string, Uint8Array>, folder = 'blobs'): Zippable =>
  Object.fromEntries([...blobs].sort().map(([hash, bytes]) => [`${folder}/${hash}`, bytes]));

export interface ArchiveKind {
  /** "livery bundle", and the last word of it alone. */
  name: string;
  word: string;
  /** Entries that are read; all others are left alone. */
  wanted: RegExp;
  /** GiB that the wanted entries may unpack to. */
  limit: number;
}

const MOST_ENTRIES = 50_000;

/** The wanted entries of a zip. */
export class Archive {
  readonly entries: Readonly<Record<string, Uint8Array>>;

  /** @throws InputError in one sentence when it is no zip, cut off, or unpacks to too much */
  constructor(
    bytes: Uint8Array,
    private readonly kind: ArchiveKind,
  ) {
    const { name, word, wanted, limit } = kind;
    let [total, count] = [0, 0];
    try {
      this.entries = unzipSync(bytes, {
        filter: (file) => {
          if (!wanted.test(file.name)) return false;
          if (++count > MOST_ENTRIES) throw new InputError(`This ${word} holds more than ${MOST_ENTRIES} files.`);
          total += file.originalSize;
          if (!couldHold(file.size, file.originalSize))
            throw new InputError(`This ${word} is damaged: a file in it says that it is larger than it can be.`);
          if (total > limit * 1024 ** 3) throw new InputError(`This ${word} unpacks to more than ${limit * 1024} MiB.`);
          return true;
        },
      });
    } catch (error) {
      if (error instanceof InputError) throw error;
      throw new InputError(`This file is not a ${name}: it is not a zip, or it is cut off.`);
    }
  }

  /** @throws InputError when the entry is not there, or not what it should be */
  json<T>(name: string, schema: z.ZodType<T>): T {
    const { word } = this.kind;
    if (!this.entries[name]) throw new InputError(`This ${word} has no ${name}.`);
    const value = readJson(strFromU8(this.entries[name]), `The ${name} in this ${word}`);
    const parsed = schema.safeParse(value);
    if (parsed.success) return parsed.data;
    const issue = parsed.error.issues[0];
    throw new InputError(`The ${name} in this ${word}: ${issue.path.join('.')}: ${issue.message}.`);
  }

  /** Bytes that are named by their hash. @throws InputError when some are not what their name says */
  async blobs(folder = 'blobs'): Promise<Map<Sha256, Uint8Array>> {
    const found = new Map<Sha256, Uint8Array>();
    for (const [name, content] of Object.entries(this.entries)) {
      if (!name.startsWith(`${folder}/`)) continue;
      const hash = Sha256.parse(name.slice(folder.length + 1));
      if ((await sha256(content)) !== hash)
        throw new InputError(
          `A ${folder === 'blobs' ? 'decal' : 'file'} in this ${this.kind.word} is damaged (${hash.slice(0, 12)}).`,
        );
      found.set(hash, content);
    }
    return found;
  }
}
