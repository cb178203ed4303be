/** A finished skin into a game's folder where other skins are: names, numbers and places that nobody has, and texts that say them. */
import { moveCells } from '../delivery/atlas.ts';
import { expand, nameFacts } from '../delivery/names.ts';
import { whyNoPath } from '../delivery/safePath.ts';
import { makeSidecar } from '../delivery/sidecar.ts';
import { continuesGame, lookAtTarget, slotText, type GameReader, type Target } from '../delivery/target.ts';
import { InputError } from '../errors.ts';
import type { Sha256 } from '../livery/ids.ts';
import type { Skin, SkinFile } from './skin.ts';

/** What an earlier version of the skin was put in as: the next one takes its place. */
export interface PutBefore {
  key: string;
  number: number | null;
  /** SHA-256 by path in the game's folder. */
  files: ReadonlyMap<string, string>;
}

export interface PutFile {
  /** Inside the skin's folder. */
  name: string;
  bytes: Uint8Array;
  /** SHA-256 of the file that it continues or changes a place in; null: there was none. Left out: it is the skin's own. */
  base?: string | null;
}

export interface PutPlan {
  /** The key and the number that the skin gets in this game. */
  key: string;
  number: number | null;
  folder: string;
  files: PutFile[];
  /** The zip that all of it goes into; null: the files lie there by themselves. */
  package: string | null;
  /** What is not as it was handed out, a sentence each: others who have it see it under the names that it has there. */
  notes: string[];
}

/** Other keys that are tried where one is taken. */
const MOST_KEYS = 40;

/**
 * Where everything of a skin goes. Nothing is written.
 * @param file bytes of one of its files @param before left out: it is put in for the first time @param busy numbers that are about to be taken
 * @throws InputError when there is no place for it, or when the game lacks what it changes
 */
export async function planPutIn(
  skin: Skin,
  file: (hash: Sha256) => Promise<Uint8Array>,
  reader: GameReader,
  before?: PutBefore,
  busy: readonly number[] = [],
): Promise<PutPlan> {
  const own = skin.particulars.key ?? '';
  const taken: string[] = [];
  for (const key of before ? [before.key] : keysLike(own, skin.spec.liveryKey)) {
    const { plan, shared } = await planAs(skin, key, file, reader, before, busy);
    const paths = plan.package === null ? plan.files.map(({ name }) => plan.folder + name) : [plan.package];
    const there = new Set(reader.names);
    const clash = paths.find((path) => there.has(path) && !shared.has(path) && !before?.files.has(path));
    if (clash === undefined) return plan;
    // A key that changes no name helps nobody.
    if (taken.includes(clash)) break;
    taken.push(clash);
  }
  throw new InputError(
    `${taken[0] ?? 'A file of it'} is there already, and is another skin’s. Take that one out first.`,
  );
}

/** A key, and others like it that a game takes. */
function* keysLike(key: string, { allowed, maxLength }: Skin['spec']['liveryKey']): Generator<string> {
  yield key;
  for (let n = 2; n < MOST_KEYS; n++) {
    const ending = [`-${n}`, `_${n}`, String(n)].find((one) => [...one].every((sign) => allowed.includes(sign)));
    if (ending === undefined) return;
    yield [...key].slice(0, maxLength - ending.length).join('') + ending;
  }
}

async function planAs(
  skin: Skin,
  key: string,
  file: (hash: Sha256) => Promise<Uint8Array>,
  reader: GameReader,
  before: PutBefore | undefined,
  busy: readonly number[],
): Promise<{ plan: PutPlan; shared: ReadonlySet<string> }> {
  const { spec, subject } = skin;
  // Its number is wished for as it was; when that is taken, the next one does.
  const { slot: _wish, ...rest } = skin.particulars;
  const particulars = { ...rest, ...('key' in rest && { key }) };
  const livery = { particulars };
  const template = { key: subject.key, sheets: skin.sheets };
  const earlier = { slot: before?.number ?? null, files: before?.files ?? new Map<string, string>() };
  const looked = (slot: number | null) => lookAtTarget(livery, template, spec, reader, { ...earlier, slot }, [], busy);
  let target = await looked(earlier.slot ?? skin.number);
  if (target.slot !== null && target.taken.has(target.slot)) target = await looked(null);
  if (spec.slot && target.slot === null)
    throw new InputError(
      `Every ${spec.slot.called} from ${spec.slot.from} to ${spec.slot.to} is taken. Take another skin out first.`,
    );
  const slot = slotText(spec, target.slot);
  const facts = nameFacts(livery, template, slot);
  const folder = expand(spec.folder, facts);
  const names = new Map(skin.files.map((one) => [one.name, nameOf(one, skin, facts)]));
  const seen = { folder, slot, number: target.slot, key, names };
  const files: PutFile[] = [];
  const shared = new Set<string>();
  for (const one of skin.files) {
    const name = names.get(one.name)!;
    const why = whyNoPath(folder + name);
    if (why) throw new InputError(`“${folder + name}” ${why}.`);
    const base = target.bases.get(folder + name);
    const making = one.text && spec.sidecars[one.text.sidecar].making;
    if (one.cells || (making && continuesGame(making))) shared.add(folder + name);
    files.push({
      name,
      bytes: await bytesOf(one, name, skin, seen, facts, target, file),
      ...(shared.has(folder + name) && { base: base?.hash ?? null }),
    });
  }
  const packed = spec.package ? expand(spec.package.name, facts) : null;
  const whyNot = packed === null ? null : whyNoPath(packed);
  if (whyNot) throw new InputError(`“${packed}” ${whyNot}.`);
  return {
    plan: { key, number: target.slot, folder, files, package: packed, notes: notesOf(skin, seen) },
    shared,
  };
}

/** What a skin is where it is put. */
interface PutAs {
  folder: string;
  slot: string | null;
  number: number | null;
  key: string;
  /** Its files' names there, by those that they came with. */
  names: ReadonlyMap<string, string>;
}

function nameOf({ pattern, naming }: SkinFile, { spec }: Skin, facts: Readonly<Record<string, string>>): string {
  const name = expand(pattern, { ...facts, ...naming });
  const pair = spec.pairs?.find(({ file }) => expand(file, facts) === name);
  return pair ? expand(pair.as, facts) : name;
}

async function bytesOf(
  one: SkinFile,
  name: string,
  { spec }: Skin,
  seen: PutAs,
  facts: Readonly<Record<string, string>>,
  target: Target,
  file: (hash: Sha256) => Promise<Uint8Array>,
): Promise<Uint8Array> {
  const base = target.bases.get(seen.folder + name);
  if (one.cells) {
    if (!base) throw new InputError(`${seen.folder}${name} is the game’s own file, and it is not in its folder here.`);
    return moveCells(base.bytes, await file(one.sha256), one.cells);
  }
  const sidecar = one.text && spec.sidecars[one.text.sidecar];
  if (!one.text || !sidecar) return file(one.sha256);
  if (sidecar.making.kind === 'plates') return renamedUris(await file(one.sha256), seen.names);
  const naming = { ...facts, ...one.naming };
  const made = makeSidecar(sidecar, name, viewAs(one.text.view, seen), naming, base?.bytes);
  if (made.problems.length > 0) throw new InputError(made.problems[0]);
  return made.bytes;
}

/** What a text can say, with the names and the number that the skin has where it is put. */
function viewAs(view: Readonly<Record<string, unknown>>, { folder, slot, number, key, names }: PutAs): object {
  const named = (name: unknown) => (typeof name === 'string' ? (names.get(name) ?? name) : name);
  const each = (list: unknown, change: (item: Record<string, unknown>) => object) =>
    Array.isArray(list)
      ? list.map((item: unknown) =>
          typeof item === 'object' && item !== null ? change(item as Record<string, unknown>) : item,
        )
      : list;
  const filed = (item: Record<string, unknown>) => ('file' in item ? { ...item, file: named(item.file) } : item);
  const { particulars, livery, paths, sheet, sheets, plates, files } = view;
  const inside = (value: unknown): unknown =>
    typeof value === 'object' && value !== null
      ? Object.fromEntries(Object.entries(value).map(([at, inner]) => [at, inside(inner)]))
      : named(value);
  return {
    ...view,
    folder,
    slot: slot ?? '',
    slotNumber: number ?? 0,
    livery: { ...(livery as object), key },
    particulars: { ...(particulars as object), ...(isObject(particulars) && 'key' in particulars && { key }) },
    paths: inside(paths),
    sheets: each(sheets, filed),
    plates: each(plates, filed),
    files: each(files, (item) => ({ ...item, name: named(item.name), path: folder + String(named(item.name)) })),
    ...(isObject(sheet) && { sheet: filed(sheet) }),
  };
}

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

/** A glTF document whose pictures have other names (glTF 2.0, 5.18 Image: `uri`). */
function renamedUris(bytes: Uint8Array, names: ReadonlyMap<string, string>): Uint8Array {
  if ([...names].every(([from, to]) => from === to)) return bytes;
  const document = JSON.parse(new TextDecoder().decode(bytes)) as { images?: { uri?: string }[] };
  for (const image of document.images ?? []) image.uri = names.get(image.uri ?? '') ?? image.uri;
  return new TextEncoder().encode(`${JSON.stringify(document)}\n`);
}

function notesOf({ number, particulars, spec }: Skin, put: PutAs): string[] {
  const notes: string[] = [];
  if (put.number !== number)
    notes.push(
      `${spec.slot?.called ?? 'number'} ${put.number}: ${number} is taken here. Whoever has it as ${number} does not see yours as the same.`,
    );
  if (put.key !== (particulars.key ?? ''))
    notes.push(
      `It is called “${put.key}” here: another skin has the name “${particulars.key}”. Whoever has it under that name does not see yours as the same.`,
    );
  return notes;
}
