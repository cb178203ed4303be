import { readdir, stat } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import type { z } from 'zod';
import { heldIn, lastOf } from '@wet-lacquer/core/held.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { isZip, openZip } from '@wet-lacquer/core/files/zip.ts';
import { blobsOf } from '@wet-lacquer/core/files/templatePackage.ts';
import { guessRoles, type FileGuess } from '@wet-lacquer/core/intake/fileRoles.ts';
import { proposeSheets } from '@wet-lacquer/core/intake/settle.ts';
import { Decisions, whatIs, type Understood } from '@wet-lacquer/core/intake/understood.ts';
import { asTexture, waysOf } from '@wet-lacquer/core/intake/ways.ts';
import { filesOf } from '@wet-lacquer/core/livery/template.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { picturesOf } from '@wet-lacquer/core/models/readModel.ts';
import { modelKindOf } from '@wet-lacquer/core/kinds/index.ts';
import { besideAmong } from '../beside.ts';
import { readBytes, readJson, writeWhole } from '../files.ts';
import { UsageError, wholeOf, type Verb } from '../verb.ts';

/** Files of one folder at most, and their bytes together. */
const MOST_FILES = 2000;
const MOST_BYTES = 2 * 1024 ** 3;

/** What is settled beforehand: any of a template's decisions; the others are as proposed. */
const Settled = Decisions.partial();

interface Brought {
  name: string;
  bytes: Uint8Array;
  blob: string;
  understood: Understood | null;
  error: string | null;
}

/** lacquer bring skin/ skin.template.zip --settle settled.json --json */
export const bring: Verb = {
  name: 'bring',
  usage: 'FOLDER|FILE... OUT.template.zip [--settle FILE] [--threads N]',
  what: 'a template of a folder or some files: proposals taken as they are, or as the file settles them',
  args: 2,
  more: true,
  options: { settle: { type: 'string' }, threads: { type: 'string' } },
  async run(args, values) {
    const out = lastOf(args);
    if (!out.endsWith('.template.zip')) throw new UsageError(`${out}: a template’s name ends with .template.zip.`);
    const read = (await filesIn(args.slice(0, -1))).flatMap(withPictures);
    const pool = new Pool(wholeOf(values, 'threads', 1, 256) ?? os.availableParallelism());
    try {
      const files = await Promise.all(
        read.map(async ({ name, bytes }): Promise<Brought> => {
          const blob = hashOf(bytes);
          try {
            const kind = modelKindOf(bytes, name);
            const beside = kind && besideAmong(read, name, bytes, kind);
            const { understood } = await pool.understand(bytes, name, undefined, undefined, beside?.bytes);
            if (beside && understood.kind === 'model') understood.beside = beside.names;
            return { name, bytes, blob, understood, error: null };
          } catch (error) {
            if (!(error instanceof InputError)) throw error;
            return { name, bytes, blob, understood: null, error: error.message };
          }
        }),
      );
      const guesses = guessRoles(files.flatMap(asTexture));
      const decisions = await decide(files, guesses, typeof values.settle === 'string' ? values.settle : null);
      const model = files.find(({ name }) => name === decisions.model)?.understood;
      const wanted = named(decisions);
      if (model?.kind === 'model') for (const name of model.beside ?? []) wanted.add(name);
      const made = await pool.template({
        decisions,
        files: new Map(files.filter(({ name }) => wanted.has(name)).map(({ name, bytes }) => [name, bytes])),
        brought: files.map(({ name, blob, bytes, understood, error }) => ({
          name,
          blob,
          bytes: bytes.length,
          what: whatIs(understood, error),
        })),
      });
      const { document, remarks } = made;
      const kept = new Set<string>(filesOf(document));
      const blobs = new Map([
        ...blobsOf(document).map((hash) => [hash, heldIn(made.blobs, hash)] as const),
        ...files.filter(({ blob }) => kept.has(blob)).map(({ blob, bytes }) => [blob, bytes] as const),
      ]);
      const template = await pool.run('packTemplate', { template: document, blobs });
      await writeWhole(out, template);
      const list = files.map((file) => placeOf(file, decisions, guesses.get(file.name) ?? null));
      return {
        json: { template: document.key, sheets: document.sheets.map(({ key }) => key), files: list, remarks },
        text: [
          `${out}: ${document.sheets.length} ${document.sheets.length === 1 ? 'sheet' : 'sheets'}`,
          ...list.map(
            ({ file, sheet, role, reason }) => `  ${file}  ${sheet ? `${sheet}, ${role}` : 'in no sheet'}: ${reason}`,
          ),
          ...remarks.map((remark) => `  ${remark}`),
        ].join('\n'),
      };
    } finally {
      await pool.close();
    }
  },
};

/** Every file below some folders and files, by paths that begin with the folder's own name; archives are opened. @throws InputError */
async function filesIn(names: readonly string[]): Promise<{ name: string; bytes: Uint8Array }[]> {
  const found: { name: string; bytes: Uint8Array }[] = [];
  let total = 0;
  const add = (name: string, bytes: Uint8Array) => {
    total += bytes.length;
    if (found.length >= MOST_FILES) throw new InputError(`At most ${MOST_FILES} files can be brought in at once.`);
    if (total > MOST_BYTES) throw new InputError('At most 2 GiB can be brought in at once.');
    found.push({ name, bytes });
    if (!isZip(bytes) || name.toLowerCase().endsWith('.ora')) return;
    const zip = openZip(bytes);
    for (const entry of zip.entries)
      if (!entry.folder && !isLitter(entry.name)) add(`${name}/${entry.name}`, zip.read(entry.name)!);
  };
  for (const name of names) {
    const facts = await stat(name).catch(() => null);
    if (!facts) throw new InputError(`${name} is not there.`);
    if (!facts.isDirectory()) {
      add(path.basename(name), await readBytes(name));
      continue;
    }
    const root = path.basename(path.resolve(name));
    const entries = await readdir(name, { recursive: true, withFileTypes: true });
    const inside = entries
      .filter((entry) => entry.isFile())
      .map((entry) => path.relative(name, path.join(entry.parentPath, entry.name)).split(path.sep).join('/'));
    for (const file of inside.toSorted())
      if (!isLitter(file)) add(`${root}/${file}`, await readBytes(path.join(name, file)));
  }
  if (found.length === 0) throw new InputError(`There is no file in ${names.join(', ')}.`);
  return found;
}

/** A file, and behind it the pictures that are inside it, when it is a model. */
function withPictures({ name, bytes }: { name: string; bytes: Uint8Array }): { name: string; bytes: Uint8Array }[] {
  const kind = modelKindOf(bytes, name);
  if (!kind) return [{ name, bytes }];
  try {
    const inside = picturesOf(bytes, kind, new Map());
    return [{ name, bytes }, ...inside.map((picture) => ({ ...picture, name: `${name}/${picture.name}` }))];
  } catch (error) {
    // What is wrong with it is said when it is looked at.
    if (error instanceof InputError) return [{ name, bytes }];
    throw error;
  }
}

/** What systems leave in folders. */
const isLitter = (name: string) => /(^|\/)(__MACOSX|\.[^./][^/]*|Thumbs\.db|desktop\.ini)(\/|$)/i.test(name);

async function decide(
  files: readonly Brought[],
  guesses: ReadonlyMap<string, FileGuess>,
  settle: string | null,
): Promise<Decisions> {
  const models = files.filter((file) => file.understood?.kind === 'model');
  const settled = settle === null ? null : Settled.safeParse(await readJson(settle));
  if (settled && !settled.success) {
    const [issue] = settled.error.issues;
    throw new InputError(`${settle}: ${issue.path.join('.') || 'the document'}: ${issue.message}.`);
  }
  const own: z.infer<typeof Settled> = settled?.data ?? {};
  const model = own.model === undefined ? (models[0]?.name ?? null) : own.model;
  const chosen = files.find(({ name }) => name === model)?.understood;
  const ways = waysOf(files);
  const proposed = proposeSheets(
    files.map((file) => ({ ...file, guess: guesses.get(file.name) ?? null, ways: ways.get(file.name) ?? {} })),
    chosen?.kind === 'model' ? { ...chosen, name: model! } : null,
  );
  if (proposed.length === 0 && !own.sheets)
    throw new InputError('None of these files is a texture, a layered file or a model that a sheet could be made of.');
  const first = files[0].name.split('/')[0].replace(/\.[^.]*$/, '');
  const up = chosen?.kind === 'model' ? chosen.up?.up : undefined;
  const stance = { ...(up && { up }), ...own.stance };
  const whole = { name: first || 'Subject', game: 'game', model, sheets: proposed, ...given(own), stance };
  const parsed = Decisions.safeParse(whole);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new InputError(`${settle ?? 'The proposal'}: ${issue.path.join('.')}: ${issue.message}.`);
}

/** Without what was not said. */
const given = <T extends object>(values: T): Partial<T> =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as Partial<T>;

/** Names of the files that decisions are about. */
const named = ({ model, sheets, companions }: Decisions): Set<string> =>
  new Set([
    ...(model ? [model] : []),
    ...sheets.flatMap(({ colour, layered, maps, followers }) => [
      ...(colour ? [colour] : []),
      ...(layered ? [layered] : []),
      ...maps.map(({ file }) => file),
      ...followers,
    ]),
    ...companions,
  ]);

/** Where a file went, and why. */
function placeOf(file: Brought, decisions: Decisions, guess: FileGuess | null) {
  const { name } = file;
  const reason = guess?.reason ?? whatIs(file.understood, file.error);
  const at = (sheet: string | null, role: string) => ({ file: name, sheet, role, reason });
  if (name === decisions.model) return at(null, 'model');
  for (const sheet of decisions.sheets) {
    if (sheet.colour === name) return at(sheet.name, 'colour');
    if (sheet.layered === name) return at(sheet.name, 'layered');
    const map = sheet.maps.find((one) => one.file === name);
    if (map) return at(sheet.name, map.map);
    if (sheet.followers.includes(name)) return at(sheet.name, 'follower');
  }
  if (decisions.companions.includes(name)) return at(null, 'companion');
  return {
    ...at(null, guess?.role ?? file.understood?.kind ?? 'unreadable'),
    reason: whatIs(file.understood, file.error),
  };
}
