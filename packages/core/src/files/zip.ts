/**
 * Zip containers of any ending, nested ones too: look inside, take an entry out, put another in its place and leave every other byte of
 * the other entries as it is. Layout: PKWARE APPNOTE 6.3.10, sections 4.3 and 4.4; deflate and CRC-32 through fflate.
 */
import { deflateSync, inflateSync } from 'fflate';
import { lastOf } from '../held.ts';
import { joined } from '../bytes.ts';
import { InputError } from '../errors.ts';
import { crc32 } from '../crc32.ts';

export interface ZipEntry {
  readonly name: string;
  /** Bytes when unpacked, as the archive declares. */
  readonly size: number;
  readonly folder: boolean;
}

export interface Zip {
  /** In the order of the archive's directory. */
  readonly entries: readonly ZipEntry[];
  /** Unpacks an entry; null when there is none of this name. @throws InputError when it is damaged */
  read(name: string): Uint8Array | null;
}

interface Place extends ZipEntry {
  method: number;
  flags: number;
  crc: number;
  packed: number;
  /** Where its local header begins. */
  at: number;
  /** Its record in the directory: first byte and length. */
  record: number;
  recordLength: number;
}

const LOCAL = 0x04034b50;
const DIRECTORY = 0x02014b50;
const END = 0x06054b50;
const MAX_ENTRIES = 50_000;
/** Largest single entry, and all that an archive may declare together. */
const MAX_ENTRY = 1024 * 1024 * 1024;
const MAX_TOTAL = 4 * 1024 * 1024 * 1024;

const damaged = (why: string) => new InputError(`This archive is damaged: ${why}.`);

export function isZip(bytes: Uint8Array): boolean {
  return bytes.length > 21 && bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
}

/** Reads an archive's directory; nothing is unpacked yet. @throws InputError in one sentence */
export function openZip(bytes: Uint8Array): Zip {
  const { places } = directoryOf(bytes);
  const byName = new Map(places.map((place) => [place.name, place]));
  return {
    entries: places,
    read: (name) => {
      const place = byName.get(name);
      return place ? unpack(bytes, place) : null;
    },
  };
}

interface Directory {
  readonly places: readonly Place[];
  /** Where it begins, and where its end record does. */
  readonly start: number;
  readonly end: number;
}

function directoryOf(bytes: Uint8Array): Directory {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let end = bytes.length - 22;
  const last = Math.max(0, bytes.length - 22 - 65535);
  while (end >= last && view.getUint32(end, true) !== END) end--;
  if (end < last || bytes.length < 22) throw new InputError('This file is not a zip archive, or it is cut off.');
  const count = view.getUint16(end + 10, true);
  const start = view.getUint32(end + 16, true);
  if (count === 0xffff || start === 0xffffffff)
    throw new InputError('This archive is in the zip format for sizes over 4 GiB, which cannot be opened here.');
  if (count > MAX_ENTRIES)
    throw new InputError(`This archive holds ${count} files; at most ${MAX_ENTRIES} can be opened.`);
  const places: Place[] = [];
  let total = 0;
  let at = start;
  for (let i = 0; i < count; i++) {
    if (at + 46 > end || view.getUint32(at, true) !== DIRECTORY) throw damaged('its directory is cut off');
    const nameLength = view.getUint16(at + 28, true);
    const recordLength = 46 + nameLength + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
    if (at + recordLength > end) throw damaged('its directory is cut off');
    const name = new TextDecoder().decode(bytes.subarray(at + 46, at + 46 + nameLength));
    const place: Place = {
      name,
      flags: view.getUint16(at + 8, true),
      method: view.getUint16(at + 10, true),
      crc: view.getUint32(at + 16, true),
      packed: view.getUint32(at + 20, true),
      size: view.getUint32(at + 24, true),
      at: view.getUint32(at + 42, true),
      folder: name.endsWith('/'),
      record: at,
      recordLength,
    };
    if (place.size > MAX_ENTRY) throw new InputError(`"${name}" in this archive unpacks to more than 1 GiB.`);
    total += place.size;
    if (total > MAX_TOTAL) throw new InputError('This archive unpacks to more than 4 GiB.');
    places.push(place);
    at += recordLength;
  }
  return { places, start, end };
}

/** Whether so many packed bytes can unpack to so many: deflate makes at most about 1032 of one. A larger claim is a lie, and no memory is taken for it. */
export const couldHold = (packed: number, size: number): boolean => size <= packed * 1100 + 1024;

/** First byte of an entry's packed content. */
function contentAt(bytes: Uint8Array, { at, name, packed }: Place): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (at + 30 > bytes.length || view.getUint32(at, true) !== LOCAL)
    throw damaged(`"${name}" is not where it should be`);
  const from = at + 30 + view.getUint16(at + 26, true) + view.getUint16(at + 28, true);
  if (from + packed > bytes.length) throw damaged(`"${name}" is cut off`);
  return from;
}

function unpack(bytes: Uint8Array, place: Place): Uint8Array {
  const { name, flags, method, size, packed, crc } = place;
  if (flags & 1) throw new InputError(`"${name}" in this archive is locked with a password.`);
  const from = contentAt(bytes, place);
  const content = bytes.subarray(from, from + packed);
  let out: Uint8Array;
  if (method === 0) out = content.slice();
  else if (method === 8) {
    if (!couldHold(packed, size)) throw damaged(`"${name}" says it is larger than it can be`);
    try {
      out = inflateSync(content, { out: new Uint8Array(size) });
    } catch {
      throw damaged(`"${name}" cannot be unpacked`);
    }
  } else throw new InputError(`"${name}" is packed in a way (${method}) that cannot be opened; plain zip can.`);
  if (out.length !== size || crc32(out) !== crc) throw damaged(`"${name}" is not what it should be`);
  return out;
}

/** Where an entry's local part ends: before the next one. It holds its content and, where there is one, its data descriptor. */
const endOf = ({ places, start }: Directory, place: Place): number =>
  Math.min(start, ...places.map((p) => p.at).filter((at) => at > place.at));

/** The archive with one entry's local part and record exchanged for others; without them when they are empty. */
function spliced(
  bytes: Uint8Array,
  directory: Directory,
  place: Place,
  local: Uint8Array[],
  record: Uint8Array,
): Uint8Array {
  const { places, start, end } = directory;
  const next = endOf(directory, place);
  const grown = local.reduce((sum, piece) => sum + piece.length, 0) - (next - place.at);
  const records = places.map((other) => {
    const own = other === place ? record : bytes.slice(other.record, other.record + other.recordLength);
    if (other.at > place.at) new DataView(own.buffer).setUint32(42, other.at + grown, true);
    return own;
  });
  const last = lastOf(places);
  // What stands between the directory and its end: a signature, where there is one.
  const rest = bytes.subarray(last.record + last.recordLength, end);
  const tail = bytes.slice(end);
  const view = new DataView(tail.buffer);
  const count = places.length - (record.length === 0 ? 1 : 0);
  view.setUint16(8, count, true);
  view.setUint16(10, count, true);
  view.setUint32(12, records.reduce((sum, one) => sum + one.length, 0) + rest.length, true);
  view.setUint32(16, start + grown, true);
  return joined([bytes.subarray(0, place.at), ...local, bytes.subarray(next, start), ...records, rest, tail]);
}

function placeOf({ places }: Directory, name: string): Place {
  const place = places.find((p) => p.name === name);
  if (!place) throw new InputError(`There is no "${name}" in this archive.`);
  return place;
}

/**
 * The archive with one entry's content replaced. Every other entry keeps its bytes, packed as they were, its time stamp, its comment
 * and its place in the order.
 * @throws InputError when there is no such entry
 */
export function replaceEntry(bytes: Uint8Array, name: string, content: Uint8Array): Uint8Array {
  const directory = directoryOf(bytes);
  const place = placeOf(directory, name);
  const from = contentAt(bytes, place);
  const packed = place.method === 0 ? content : deflateSync(content, { level: 6, mem: 8 });
  const method = place.method === 0 ? 0 : 8;
  const header = bytes.slice(place.at, from);
  const record = bytes.slice(place.record, place.record + place.recordLength);
  // From the flags on the two are laid out alike (4.3.7 and 4.3.12); the sizes stand in them, not behind the content.
  for (const [view, at] of [
    [new DataView(header.buffer), 6],
    [new DataView(record.buffer), 8],
  ] as const) {
    view.setUint16(at, place.flags & ~8, true);
    view.setUint16(at + 2, method, true);
    view.setUint32(at + 8, crc32(content), true);
    view.setUint32(at + 12, packed.length, true);
    view.setUint32(at + 16, content.length, true);
  }
  return spliced(bytes, directory, place, [header, packed], record);
}

/** @throws InputError when a file in an archive cannot be called so */
function checkName({ places }: Directory, name: string): void {
  if (places.some((p) => p.name === name)) throw new InputError(`There is already a "${name}" in this archive.`);
  if (name === '' || name.endsWith('/') || /^\/|\\|(^|\/)\.\.?(\/|$)|^[a-zA-Z]:|\p{Cc}/u.test(name))
    throw new InputError(`"${name}" cannot be the name of a file in an archive.`);
}

/**
 * The archive with one entry under another name; its content and everything else keeps its bytes.
 * @throws InputError when there is no such entry, one of the new name, or the name climbs out of its folder
 */
export function renameEntry(bytes: Uint8Array, name: string, to: string): Uint8Array {
  const directory = directoryOf(bytes);
  const place = placeOf(directory, name);
  checkName(directory, to);
  contentAt(bytes, place);
  const path = new TextEncoder().encode(to);
  const named = (from: number, fixed: number, end: number, flagsAt: number, lengthAt: number): Uint8Array => {
    const view = new DataView(bytes.buffer, bytes.byteOffset + from);
    const old = view.getUint16(lengthAt, true);
    const piece = joined([bytes.subarray(from, from + fixed), path, bytes.subarray(from + fixed + old, end)]);
    const own = new DataView(piece.buffer);
    own.setUint16(lengthAt, path.length, true);
    // Names beyond ASCII are in UTF-8 (4.4.4, bit 11).
    if (path.length !== to.length) own.setUint16(flagsAt, own.getUint16(flagsAt, true) | 0x800, true);
    return piece;
  };
  const local = named(place.at, 30, endOf(directory, place), 6, 26);
  const record = named(place.record, 46, place.record + place.recordLength, 8, 28);
  return spliced(bytes, directory, place, [local], record);
}

/** The archive without one entry; everything else keeps its bytes. @throws InputError when there is no such entry */
export function removeEntry(bytes: Uint8Array, name: string): Uint8Array {
  const directory = directoryOf(bytes);
  const place = placeOf(directory, name);
  contentAt(bytes, place);
  return spliced(bytes, directory, place, [], new Uint8Array());
}

/**
 * The archive with one more entry at its end, deflated, under the time stamp of the entry it is `like`, or of the first one. Every other entry keeps its bytes.
 * @throws InputError when there is an entry of this name, or the name climbs out of its folder
 */
export function addEntry(bytes: Uint8Array, name: string, content: Uint8Array, like?: string): Uint8Array {
  const directory = directoryOf(bytes);
  const { places, start, end } = directory;
  checkName(directory, name);
  const model = like === undefined ? places[0] : placeOf(directory, like);
  if (!model) throw new InputError('This archive is empty: nothing says how its files are stamped.');
  const stamp = bytes.subarray(model.record + 12, model.record + 16);
  const path = new TextEncoder().encode(name);
  const packed = deflateSync(content, { level: 6, mem: 8 });
  const crc = crc32(content);
  // What local header and directory record have in common (4.3.7 and 4.3.12): version, flags (names in UTF-8), method, time, sizes.
  const common = (view: DataView, at: number) => {
    view.setUint16(at, 20, true);
    view.setUint16(at + 2, 0x800, true);
    view.setUint16(at + 4, 8, true);
    new Uint8Array(view.buffer).set(stamp, at + 6);
    view.setUint32(at + 10, crc, true);
    view.setUint32(at + 14, packed.length, true);
    view.setUint32(at + 18, content.length, true);
    view.setUint16(at + 22, path.length, true);
  };
  const header = new Uint8Array(30 + path.length);
  const headerView = new DataView(header.buffer);
  headerView.setUint32(0, LOCAL, true);
  common(headerView, 4);
  header.set(path, 30);
  const record = new Uint8Array(46 + path.length);
  const recordView = new DataView(record.buffer);
  recordView.setUint32(0, DIRECTORY, true);
  recordView.setUint16(4, 20, true);
  common(recordView, 6);
  recordView.setUint32(42, start, true);
  record.set(path, 46);
  const tail = bytes.slice(end);
  const tailView = new DataView(tail.buffer);
  tailView.setUint16(8, places.length + 1, true);
  tailView.setUint16(10, places.length + 1, true);
  tailView.setUint32(12, end - start + record.length, true);
  tailView.setUint32(16, start + header.length + packed.length, true);
  const pieces = [bytes.subarray(0, start), header, packed, bytes.subarray(start, end), record, tail];
  return joined(pieces);
}

/** How deep archives in archives are searched. */
const MAX_DEPTH = 4;

/**
 * Visits the files of an archive and of the archives inside it, each archive opened once.
 * @param visit gets the names that lead to a file, outermost archive first, its entry, and its content when asked
 */
export function eachInZip(
  bytes: Uint8Array,
  visit: (way: string[], entry: ZipEntry, read: () => Uint8Array) => void,
  outer: readonly string[] = [],
  budget = { bytes: MAX_TOTAL },
): void {
  const zip = openZip(bytes);
  for (const entry of zip.entries) {
    const { name, folder, size } = entry;
    if (folder) continue;
    const way = [...outer, name];
    visit(way, entry, () => zip.read(name)!);
    if (way.length >= MAX_DEPTH || size < 22 || !looksNested(name)) continue;
    budget.bytes -= size;
    if (budget.bytes < 0) throw new InputError('The archives in this archive unpack to more than 4 GiB.');
    const inner = zip.read(name)!;
    if (isZip(inner)) eachInZip(inner, visit, way, budget);
  }
}

/** Files in an archive and in the archives inside it whose name passes. @returns for each the names that lead to it, outermost first */
export function searchZip(bytes: Uint8Array, passes: (name: string) => boolean): string[][] {
  const found: string[][] = [];
  eachInZip(bytes, (way, { name }) => passes(name) && found.push(way));
  return found;
}

/** Pictures and texts are never archives; everything else may be one, whatever its ending. */
const looksNested = (name: string) =>
  !/\.(png|jpe?g|webp|dds|tga|bmp|gif|txt|json|xml|ini|toml|svg|obj|mtl)$/i.test(name);

/** Takes a file out of an archive, or out of an archive inside it. @throws InputError */
export function readNested(bytes: Uint8Array, way: readonly string[]): Uint8Array {
  const content = openZip(bytes).read(way[0]);
  if (!content) throw new InputError(`There is no "${way[0]}" in this archive.`);
  return way.length === 1 ? content : readNested(content, way.slice(1));
}

/** The innermost archive of a way changed, and those around it repacked from the inside out. @throws InputError */
export function changeInside(
  bytes: Uint8Array,
  way: readonly string[],
  change: (archive: Uint8Array, name: string) => Uint8Array,
): Uint8Array {
  if (way.length === 1) return change(bytes, way[0]);
  const inner = changeInside(readNested(bytes, way.slice(0, 1)), way.slice(1), change);
  return replaceEntry(bytes, way[0], inner);
}

/** Replaces a file in an archive inside an archive, repacked from the inside out. @throws InputError */
export const replaceNested = (bytes: Uint8Array, way: readonly string[], content: Uint8Array): Uint8Array =>
  changeInside(bytes, way, (archive, name) => replaceEntry(archive, name, content));
