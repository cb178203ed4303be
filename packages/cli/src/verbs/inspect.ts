import { createHash } from 'node:crypto';
import { readdir, stat } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { openZip } from '@wet-lacquer/core/files/zip.ts';
import { guessRoles, type FolderTexture } from '@wet-lacquer/core/intake/fileRoles.ts';
import { lookOfFacts } from '@wet-lacquer/core/intake/lookOfFacts.ts';

import { readTgaFacts } from '@wet-lacquer/core/texture/tga.ts';
import {
  canBe,
  fileKind,
  namesOf,
  whatIs,
  type FileKind,
  type ModelKind,
  type TextureKind,
} from '@wet-lacquer/core/kinds/index.ts';
import { texture } from '@wet-lacquer/node/textures/index.ts';
import { filesBeside } from '../beside.ts';
import { readBytes } from '../files.ts';
import type { Verb } from '../verb.ts';

async function factsOf(file: string): Promise<Record<string, unknown>> {
  if ((await stat(file).catch(() => null))?.isDirectory()) return folderFacts(await filesOf(file));
  const bytes = await readBytes(file);
  const kind = fileKind(bytes, file);
  if (canBe('texture', kind)) return textureFacts(bytes, kind);
  if (canBe('model', kind)) return modelOf(file, bytes, kind);
  return FACTS[whatIs(kind) as Told](file, bytes, kind);
}

/** What files can be that {@link FACTS} tell of. */
type Told = Exclude<ReturnType<typeof whatIs>, 'texture' | 'model'>;
type Facts = (file: string, bytes: Uint8Array, kind: FileKind) => Promise<Record<string, unknown>>;

const FACTS: Readonly<Record<Told, Facts>> = {
  async archive(_file, bytes) {
    const zip = openZip(bytes);
    if (zip.entries.some((entry) => entry.name === 'livery.json')) return liveryFacts(bytes);
    const names = zip.entries.filter((entry) => !entry.folder).map((entry) => entry.name);
    return folderFacts(names.map((name) => ({ name, read: async () => zip.read(name)! })));
  },
  async drawing(_file, bytes, kind) {
    const { lookSvg } = await import('@wet-lacquer/node/threads/understand.ts');
    return { kind, ...(await lookSvg(bytes)) };
  },
  async materials(_file, bytes, kind) {
    const { checkMtl } = await import('@wet-lacquer/core/models/obj.ts');
    return { kind, textures: checkMtl(bytes) };
  },
  async layered(file, bytes) {
    const { Pool } = await import('@wet-lacquer/node/threads/pool.ts');
    const pool = new Pool(os.availableParallelism());
    const { understood } = await pool.understand(bytes, file).finally(() => pool.close());
    if (understood.kind !== 'layered') throw new InputError(`${file} cannot be read.`);
    const { kind: _kind, format, ...facts } = understood;
    return { kind: format, ...facts };
  },
  other: async (file) => {
    throw new InputError(
      `${file} is of no kind that can be read: ${namesOf('texture', 'layered', 'drawing', 'model', 'archive')}, folders and livery bundles are.`,
    );
  },
};

async function textureFacts(bytes: Uint8Array, kind: TextureKind): Promise<Record<string, unknown>> {
  const read = (await texture(bytes, kind)).facts;
  const { container, look: _look, detail: _detail, kind: _kind, compression, format, stored: as, ...facts } = read;
  const { container: _container, format: _format, ...stored } = { ...as, ...(kind === 'tga' && readTgaFacts(bytes)) };
  const origin = kind === 'dds' ? 'as stored' : as.bottomUp ? 'bottom' : 'top';
  return {
    kind: container,
    format: kind === 'dds' ? format : compression,
    compression,
    ...stored,
    ...facts,
    origin,
  };
}

async function modelOf(file: string, bytes: Uint8Array, kind: ModelKind): Promise<Record<string, unknown>> {
  const { readModel } = await import('@wet-lacquer/core/models/readModel.ts');
  const { modelFacts } = await import('@wet-lacquer/node/threads/model.ts');
  const { triangles, vertices, groups, notes, size, up, said, needs, textures, scenes } = modelFacts(
    await readModel(bytes, kind, await filesBeside(file, bytes, kind)),
  );
  return {
    kind,
    triangles,
    vertices,
    size,
    up,
    ...(scenes && { scenes }),
    materials: [...new Set(groups.map((g) => g.material))],
    parts: groups,
    textures,
    leftOut: said,
    missing: needs,
    notes: notes.map(({ kind: about, sheet, text, means }) => ({ about, sheet, text, means })),
  };
}

interface Held {
  name: string;
  read(): Promise<Uint8Array>;
}

async function filesOf(folder: string): Promise<Held[]> {
  const names = (await readdir(folder, { recursive: true, withFileTypes: true }))
    .filter((entry) => entry.isFile())
    .map((entry) => path.relative(folder, path.join(entry.parentPath, entry.name)))
    .sort();
  return names.map((name) => ({
    name: name.split(path.sep).join('/'),
    read: () => readBytes(path.join(folder, name)),
  }));
}

/** What each file of a folder or archive is taken for, and why. */
async function folderFacts(held: readonly Held[]): Promise<Record<string, unknown>> {
  const textures: FolderTexture[] = [];
  const files: { name: string; kind: string; role: string | null; reason: string }[] = [];
  for (const { name, read } of held) {
    const bytes = await read();
    let kind: string;
    let reason = '';
    try {
      const known = fileKind(bytes, name);
      kind = known;
      if (canBe('texture', known)) {
        const { facts } = await texture(bytes, known);
        const hash = createHash('sha256').update(bytes).digest('hex');
        textures.push({ name, width: facts.width, height: facts.height, hash, look: lookOfFacts(facts) });
      }
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      kind = 'unreadable';
      reason = error.message;
    }
    files.push({ name, kind, role: null, reason });
  }
  const guesses = guessRoles(textures);
  return {
    kind: 'folder',
    files: files.map((file) => {
      const guess = guesses.get(file.name);
      if (!guess) return file;
      const copy = guess.copy ? { copy: guess.copy.kind, copyOf: guess.copy.of } : {};
      return { ...file, role: guess.role, reason: guess.reason, ...copy };
    }),
  };
}

async function liveryFacts(bytes: Uint8Array): Promise<Record<string, unknown>> {
  const { livery, template } = await (await import('@wet-lacquer/core/files/bundle.ts')).readBundle(bytes);
  return {
    kind: 'livery',
    name: livery.particulars.name,
    template: template.name,
    game: template.gameName,
    sheets: template.sheets.map(({ key, width, height }) => ({ key, width, height })),
    layers: livery.sheets.flatMap((sheet) =>
      sheet.maps.flatMap((map) =>
        map.layers.map(({ name, kind, hidden }) => ({ sheet: sheet.key, map: map.key, name, kind, hidden })),
      ),
    ),
  };
}

/** lacquer inspect hull.dds --json */
export const inspect: Verb = {
  name: 'inspect',
  usage: 'FILE|FOLDER',
  what: 'facts of a texture, picture, layered file, model or livery bundle; what each file of a folder or archive is',
  args: 1,
  async run([file]) {
    const json = await factsOf(file);
    return {
      json,
      text: Object.entries(json)
        .map(([key, value]) => `${key.padEnd(14)}${inWords(value)}`)
        .join('\n'),
    };
  },
};

/** List entries that are written out for people; all of them are in the JSON. */
const MOST_LISTED = 8;

/** A fact as people read it. */
function inWords(value: unknown): string {
  if (Array.isArray(value)) {
    if (value.length === 0) return 'none';
    if (value.every((one) => typeof one === 'number') && value.length < 5)
      return value.map((one) => Number(one.toPrecision(4))).join(' x ');
    const some = value.slice(0, MOST_LISTED).map(inWords);
    const more = value.length > some.length ? [`and ${value.length - some.length} more`] : [];
    return `${value.length}\n${[...some, ...more].map((line) => `  ${line}`).join('\n')}`;
  }
  if (typeof value === 'object' && value !== null)
    return Object.entries(value)
      .filter(([, part]) => part !== null && part !== '' && typeof part !== 'object')
      .map(([key, part]) => (typeof part === 'string' ? part : `${inWords(part)} ${key}`))
      .join(', ');
  return typeof value === 'number' ? String(Number(value.toPrecision(6))) : String(value);
}
