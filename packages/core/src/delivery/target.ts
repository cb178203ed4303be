/** What lies in a game's folder before a delivery: taken numbers, files that are continued, and what else is there. */
import { openZip } from '../files/zip.ts';
import type { Sha256 } from '../livery/ids.ts';
import type { Livery } from '../livery/livery.ts';
import type { DeliverySpec, SpecSidecar } from '../livery/spec.ts';
import type { Template, TemplateSheet } from '../livery/template.ts';
import { expand, nameFacts } from './names.ts';

/** Where something borrowed comes from. */
export interface Credit {
  name: string;
  origin: string;
  licence: string;
}

/** A file that a delivery continues or changes in place. */
export interface Base {
  /** SHA-256 of its bytes. */
  hash: string;
  bytes: Uint8Array;
}

export interface Target {
  /** Paths in the game's folder; null: nobody looked. */
  names: readonly string[] | null;
  bases: ReadonlyMap<string, Base>;
  /** The number that the livery gets; null: the game hands none out, or none is left. */
  slot: number | null;
  /** Numbers that others have, and by which file that is seen. */
  taken: ReadonlyMap<number, string>;
  /** Files that this livery delivered last, by path. */
  delivered: readonly string[];
  /** Those of them that are not as they were delivered, with what is there now; null: nothing. */
  changed: ReadonlyMap<string, Uint8Array | null>;
  /** Files that other liveries delivered, or are about to, where this one would write: whose they are, by path. */
  owners: ReadonlyMap<string, string>;
  credits: readonly Credit[];
  /** Files that the template keeps beside its sheets and that sidecars change, by their names there. */
  kept: ReadonlyMap<string, Uint8Array>;
  /** Why nothing can be written there, in a sentence; null: it can be. */
  closed: string | null;
}

export const NO_TARGET: Target = {
  names: null,
  bases: new Map(),
  slot: null,
  taken: new Map(),
  delivered: [],
  changed: new Map(),
  owners: new Map(),
  credits: [],
  kept: new Map(),
  closed: null,
};

/** A game's folder, as far as it is asked for. */
export interface GameReader {
  names: readonly string[];
  read(name: string): Promise<Uint8Array | null>;
  hash(bytes: Uint8Array): Promise<string>;
}

/** What a livery delivered before, as far as its next delivery cares. */
export interface Before {
  slot: number | null;
  /** SHA-256 by path in the game's folder. */
  files: ReadonlyMap<string, string>;
}

/** What names are made of, of a livery and of a template: of a finished skin that is all there is. */
type Named = Pick<Livery, 'particulars'>;
type Sheeted = Pick<Template, 'key'> & { readonly sheets: readonly Pick<TemplateSheet, 'key' | 'width' | 'height'>[] };

/** A number as its game writes it; null when there is none. */
export const slotText = (spec: Pick<DeliverySpec, 'slot'>, slot: number | null): string | null =>
  spec.slot ? (slot === null ? '-'.repeat(spec.slot.digits) : String(slot).padStart(spec.slot.digits, '0')) : null;

/** What a game's name patterns can refer to, but for one file's own. */
export const gameFacts = (
  livery: Named,
  template: Pick<Template, 'key'>,
  spec: Pick<DeliverySpec, 'slot'>,
  slot: number | null,
) => nameFacts(livery, template, slotText(spec, slot));

/** The number that the painter asks for in the livery's particulars; null: the next free one. */
export const wantedSlot = (livery: Named): number | null =>
  /^\d{1,7}$/.test(livery.particulars.slot ?? '') ? Number(livery.particulars.slot) : null;

/** Looks through a game's folder. @param busy numbers of deliveries that are under way and not in the folder yet */
export async function lookAtTarget(
  livery: Named,
  template: Sheeted,
  spec: DeliverySpec,
  reader: GameReader,
  before: Before,
  credits: readonly Credit[] = [],
  busy: readonly number[] = [],
  kept: Target['kept'] = new Map(),
): Promise<Target> {
  const taken = spec.slot ? await takenSlots(livery, template, spec, reader, before) : new Map<number, string>();
  for (const slot of busy) if (!taken.has(slot)) taken.set(slot, 'a delivery that is under way');
  const slot = spec.slot ? chooseSlot(spec.slot, taken, wantedSlot(livery) ?? before.slot) : null;
  const bases = new Map<string, Base>();
  for (const name of baseNames(livery, template, spec, slot)) {
    const bytes = await reader.read(name);
    if (bytes) bases.set(name, { bytes, hash: await reader.hash(bytes) });
  }
  const changed = new Map<string, Uint8Array | null>();
  for (const [name, hash] of before.files) {
    const bytes = await reader.read(name);
    if (!bytes || (await reader.hash(bytes)) !== hash) changed.set(name, bytes);
  }
  const delivered = [...before.files.keys()];
  return { ...NO_TARGET, names: reader.names, bases, slot, taken, delivered, changed, credits, kept };
}

/** A wished number when it can be had or is wished in vain, else the next free one; null when all are taken. */
function chooseSlot(
  { from, to }: { from: number; to: number },
  taken: ReadonlyMap<number, string>,
  wanted: number | null,
): number | null {
  if (wanted !== null) return wanted;
  for (let slot = from; slot <= to; slot++) if (!taken.has(slot)) return slot;
  return null;
}

/** The next number that nobody has; null when none is left. */
export const nextFree = (spec: DeliverySpec, target: Target): number | null =>
  spec.slot ? chooseSlot(spec.slot, target.taken, null) : null;

async function takenSlots(
  livery: Named,
  template: Sheeted,
  spec: DeliverySpec,
  reader: GameReader,
  before: Before,
): Promise<Map<number, string>> {
  const found = new Map<number, string>();
  const { taken, digits } = spec.slot!;
  const facts = (slot: number) => gameFacts(livery, template, spec, slot);
  if (taken.by === 'path') {
    const [head, tail = ''] = taken.begins.split('{slot}').map((part) => expand(part, facts(0)));
    for (const name of reader.names) {
      if (!name.startsWith(head) || before.files.has(name)) continue;
      const digitsThere = /^\d+/.exec(name.slice(head.length))?.[0] ?? '';
      if (digitsThere.length === digits && name.startsWith(tail, head.length + digits))
        found.set(Number(digitsThere), name);
    }
    return found;
  }
  for (const name of reader.names) {
    if (!name.endsWith(taken.ending)) continue;
    const slot = await numberInside(await reader.read(name), taken.file, taken.value);
    if (slot === null) continue;
    const own = spec.package && expand(spec.package.name, facts(slot)) === name;
    if (!own) found.set(slot, name);
  }
  return found;
}

/** A number in a JSON file inside a zip; null when it is not there. */
async function numberInside(bytes: Uint8Array | null, file: string, value: string): Promise<number | null> {
  try {
    const inside = bytes && openZip(bytes).read(file);
    let at: unknown = inside && JSON.parse(new TextDecoder().decode(inside));
    for (const key of value.split('.')) at = (at as Record<string, unknown> | null)?.[key];
    return typeof at === 'number' ? at : null;
  } catch {
    // Somebody else's package that cannot be read: the game will not read it either.
    return null;
  }
}

/** Whether a sidecar goes on from what lies in the game's folder. */
export const continuesGame = (making: SpecSidecar['making']): boolean =>
  making.kind !== 'template' && !(making.kind === 'changed' && making.of && !making.entries);

/** The kept files that a spec's sidecars are made of. @param blob reads one by its SHA-256 */
export async function keptTexts(
  template: Pick<Template, 'beside'>,
  spec: Pick<DeliverySpec, 'sidecars'>,
  blob: (hash: Sha256) => Promise<Uint8Array>,
): Promise<Map<string, Uint8Array>> {
  const kept = new Map<string, Uint8Array>();
  for (const { making } of spec.sidecars) {
    const file = making.kind === 'changed' ? template.beside?.find(({ name }) => name === making.of) : undefined;
    if (file && !kept.has(file.name)) kept.set(file.name, await blob(file.blob));
  }
  return kept;
}

/** Paths of the files that a spec continues or changes in place. */
function baseNames(livery: Named, template: Sheeted, spec: DeliverySpec, slot: number | null): string[] {
  const facts = gameFacts(livery, template, spec, slot);
  const folder = expand(spec.folder, facts);
  const inPlace = spec.files.flatMap((file) => {
    if (!file.inPlace) return [];
    const sheets = template.sheets.filter(({ key }) => !file.sheets || file.sheets.includes(key));
    return sheets.map((sheet) => expand(file.name, nameFacts(livery, template, slotText(spec, slot), sheet)));
  });
  const continued = spec.sidecars.flatMap(({ name, making }) => (continuesGame(making) ? [expand(name, facts)] : []));
  return [...inPlace, ...continued].map((name) => folder + name);
}
