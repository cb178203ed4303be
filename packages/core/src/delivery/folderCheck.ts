/** What has become of a delivery in its folder: which files are gone, renamed or not as they were, and in what. */
import { openZip } from '../files/zip.ts';
import { baseOf, folderOf } from '../paths.ts';
import { readDdsFacts } from '../texture/dds.ts';
import { FORMATS } from '../texture/formats/index.ts';
import { carriesAlpha } from '../livery/spec.ts';
import { nearMiss } from './names.ts';
import { ddsBytes, written, type DeliveryPlan, type PlannedFile, type PlannedSheet } from './plan.ts';
import { readText } from '../files/textFile.ts';

export interface FolderFault {
  /** Path in the game's folder; behind an arrow, inside a package. */
  file: string;
  says: string;
  /** It lies there beside the delivery, and is not part of it. */
  leftover?: true;
}

/**
 * @param delivered paths that the last delivery wrote
 * @param changed those that are no longer as they were, with what is there now; null: nothing
 * @param names all paths in the game's folder
 */
export function folderFaults(
  plan: DeliveryPlan,
  delivered: readonly string[],
  changed: ReadonlyMap<string, Uint8Array | null>,
  names: readonly string[],
): FolderFault[] {
  const faults: FolderFault[] = [];
  const own = new Set(delivered);
  const strangers = names.filter((name) => !own.has(name));
  const explained = new Set<string>();
  for (const [path, bytes] of changed) {
    if (!bytes) {
      const beside = strangers.filter((name) => folderOf(name) === folderOf(path));
      const near = nearMiss(baseOf(path), beside.map(baseOf), 'found');
      if (near) explained.add(folderOf(path) + near.known);
      faults.push({ file: path, says: near ? `is gone; there is ${near.known}: ${near.says}` : 'is gone' });
    } else if (path === plan.package) faults.push(...insidePackage(plan, path, bytes));
    else {
      const file = plan.files.find((one) => plan.folder + one.name === path);
      const fault = file && faultOf(file, bytes);
      // What others share may change around what is the livery's own.
      if (fault || !file || !isShared(file)) faults.push({ file: path, says: fault ?? 'is not as it was delivered' });
    }
  }
  for (const name of strangers) {
    const like = delivered.find(
      (path) =>
        folderOf(path) === folderOf(name) &&
        (baseOf(name).startsWith(baseOf(path)) || nearMiss(baseOf(name), [baseOf(path)])),
    );
    if (like && !explained.has(name))
      faults.push({ file: name, says: `is not part of the delivery; it looks like ${baseOf(like)}`, leftover: true });
  }
  return faults;
}

/** Whether a file holds what others put into it as well: the delivery continues it, or changes a place in it. */
export const isShared = (file: PlannedFile) =>
  file.kind === 'sidecar' ? file.continues : file.kind === 'sheet' && !!file.spec.inPlace;

function insidePackage(plan: DeliveryPlan, path: string, bytes: Uint8Array): FolderFault[] {
  let inside: Map<string, Uint8Array>;
  try {
    const zip = openZip(bytes);
    inside = new Map(zip.entries.filter((entry) => !entry.folder).map((entry) => [entry.name, zip.read(entry.name)!]));
  } catch (error) {
    return [{ file: path, says: `cannot be opened: ${(error as Error).message}` }];
  }
  const faults: FolderFault[] = [];
  const expected = written(plan);
  const wanted = new Set(expected.map((file) => plan.folder + file.name));
  const strangers = [...inside.keys()].filter((name) => !wanted.has(name));
  const at = (name: string) => `${path} → ${name}`;
  for (const file of expected) {
    const name = plan.folder + file.name;
    const there = inside.get(name);
    if (there) {
      const fault = faultOf(file, there);
      if (fault) faults.push({ file: at(name), says: fault });
      continue;
    }
    const near = nearMiss(name, strangers, 'found');
    if (near) strangers.splice(strangers.indexOf(near.known), 1);
    faults.push({ file: at(name), says: near ? `is gone; there is ${near.known}: ${near.says}` : 'is gone' });
  }
  for (const name of strangers) faults.push({ file: at(name), says: 'is not part of the delivery', leftover: true });
  return faults.length > 0 ? faults : [{ file: path, says: 'is not as it was delivered' }];
}

/** In what a file is not what was planned, as far as its facts and texts say; null when they agree. */
function faultOf(file: PlannedFile, bytes: Uint8Array): string | null {
  if (file.kind === 'sidecar') return textFault(file.text, readText(bytes).text);
  if (file.kind === 'thumbnail' || file.kind === 'companion') return null;
  try {
    return file.spec.container === 'dds' ? ddsFault(file, bytes) : pictureFault(file, bytes);
  } catch (error) {
    return `cannot be read: ${(error as Error).message}`;
  }
}

function textFault(wanted: string, found: string): string | null {
  const [want, have] = [wanted.split('\n'), found.split('\n')];
  const line = want.findIndex((text, i) => text !== have[i]);
  if (line < 0) return want.length === have.length ? null : `has ${have.length - want.length} lines too many`;
  const [a, b] = [want[line], have[line]];
  if (b === undefined) return `ends before its line ${line + 1}`;
  const at = [...a].findIndex((character, i) => character !== [...b][i]);
  return `line ${line + 1}, character ${(at < 0 ? a.length : at) + 1}: it says "${b.trim()}" where "${a.trim()}" was delivered${b.trim() === a.trim() ? ', and spaces are not alike' : ''}`;
}

function ddsFault({ sheet, spec, mips }: PlannedSheet, bytes: Uint8Array): string | null {
  const facts = readDdsFacts(bytes);
  if (facts.width !== sheet.width || facts.height !== sheet.height)
    return `is ${facts.width} x ${facts.height} where ${sheet.width} x ${sheet.height} was delivered`;
  if (facts.format !== spec.format) return `is ${facts.compression} where ${FORMATS[spec.format].name} was delivered`;
  if (facts.header !== spec.header)
    return `has the ${facts.header === 'dx10' ? 'DX10' : 'legacy'} header where the other was delivered`;
  if (facts.mips !== mips) return `has ${facts.mips} mip levels where ${mips} were delivered`;
  const linear = spec.colourSpace === 'srgb' ? 'srgb' : 'linear';
  if (facts.header === 'dx10' && facts.colourSpace !== linear)
    return `is marked ${facts.colourSpace} where ${linear} was delivered`;
  const needed = ddsBytes(sheet, spec, mips);
  return bytes.length === needed ? null : `has ${bytes.length} bytes where ${needed} were delivered`;
}

/** TGA and PNG, by their headers. */
function pictureFault({ sheet, spec }: PlannedSheet, bytes: Uint8Array): string | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const ended = 'ends inside its header';
  let [width, height] = [sheet.width, sheet.height];
  if (spec.container === 'tga') {
    if (bytes.length < 18) return ended;
    [width, height] = [view.getUint16(12, true), view.getUint16(14, true)];
    const bits = carriesAlpha(spec) ? 32 : 24;
    if (bytes[16] !== bits) return `has ${bytes[16]} bits a texel where ${bits} were delivered`;
  } else if (spec.container === 'png') {
    if (bytes.length < 33 || view.getUint32(12) !== 0x49484452) return bytes.length < 33 ? ended : 'is not a PNG';
    [width, height] = [view.getUint32(16), view.getUint32(20)];
    if (bytes[25] !== 6) return 'has no alpha channel where one was delivered';
  }
  return width === sheet.width && height === sheet.height
    ? null
    : `is ${width} x ${height} where ${sheet.width} x ${sheet.height} was delivered`;
}
