/**
 * Brackwater Run's loader: it sees only its own folder. A livery is `wharf/<craft>/<key>/` with `finish.toml`, which claims sheets,
 * and `<key>_<sheet>.dds` for each: BC7 sRGB with DX10 header, the sheet's size, all mip levels.
 */
import { parse } from 'smol-toml';
import { readBc7 } from './bc7Reader.ts';
import { missingPattern } from './pattern.ts';
import type { BayReport, BaySheet, GameFolder } from './report.ts';

/** The game's own craft: which sheets it asks for, and how large they are. */
export const CRAFT: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  turnstone: { hull: 2048, deck: 1024, fan: 512 },
};

/** The liveries that the game lists for a craft, and the folders that it passes over, with the reason. */
export function listLiveries(
  folder: GameFolder,
  craft: string,
): { keys: string[]; ignored: { file: string; why: string }[] } {
  const keys = new Set<string>();
  const ignored: { file: string; why: string }[] = [];
  const root = `wharf/${craft}/`;
  for (const path of folder.keys()) {
    const key =
      path.startsWith(root) && path.includes('/', root.length)
        ? path.slice(root.length, path.indexOf('/', root.length))
        : null;
    if (key === null) {
      if (path.toLowerCase().startsWith(root))
        ignored.push({ file: path, why: 'Ignored: the folders wharf and the craft’s must be in lower case.' });
      continue;
    }
    const bad = [...key].findIndex((ch) => !/[a-z0-9-]/.test(ch));
    if (bad < 0 && key.length <= 32) keys.add(key);
    else if (!ignored.some((i) => i.file === root + key)) {
      ignored.push({
        file: root + key,
        why:
          bad < 0
            ? `Ignored: the folder's name has ${key.length} characters; 32 are read.`
            : `Ignored: character ${bad + 1} of the folder's name, "${[...key][bad]}", is not a lower-case letter, digit or hyphen.`,
      });
    }
  }
  return { keys: [...keys].sort(), ignored };
}

/** Loads one livery as the game would. Never throws: what cannot be loaded is said in the report. */
export function loadLivery(folder: GameFolder, craft: string, key: string): BayReport {
  const root = `wharf/${craft}/${key}/`;
  const names = [...folder.keys()].filter((path) => path.startsWith(root)).map((path) => path.slice(root.length));
  const report: BayReport = { craft, livery: key, sheets: [], loaded: [], ignored: [], finish: {} };
  const used = new Set<string>();
  const claims = readFinish(folder.get(`${root}finish.toml`), report);
  if (claims) {
    used.add('finish.toml');
    report.loaded.push('finish.toml');
  }
  for (const [sheet, side] of Object.entries(CRAFT[craft] ?? {})) {
    const file = `${key}_${sheet}.dds`;
    const bytes = folder.get(root + file);
    if (bytes) used.add(file);
    report.sheets.push(loadSheet(sheet, side, file, bytes, names, claims?.has(sheet) ?? true));
    if (report.sheets.at(-1)!.status === 'shown') report.loaded.push(file);
  }
  for (const name of names) {
    if (used.has(name)) continue;
    const meant = [...Object.keys(CRAFT[craft] ?? {}).map((sheet) => `${key}_${sheet}.dds`), 'finish.toml'].find(
      (expected) => near(expected, name),
    );
    report.ignored.push({
      file: name,
      why: meant
        ? `Ignored: the game looks for ${meant}; ${difference(meant, name)}.`
        : 'Ignored: the game has no use for it.',
    });
  }
  return report;
}

function loadSheet(
  key: string,
  side: number,
  file: string,
  bytes: Uint8Array | undefined,
  names: readonly string[],
  claimed: boolean,
): BaySheet {
  const none = (status: 'missing' | 'refused' | 'own', why: string): BaySheet => ({
    key,
    file,
    status,
    why,
    ...missingPattern(),
  });
  if (!bytes) {
    if (!claimed) return none('own', 'finish.toml does not claim this sheet, so the game shows its own picture.');
    const close = names.find((name) => near(file, name));
    return none(
      'missing',
      close ? `No ${file}: there is ${close}, but ${difference(file, close)}.` : `No ${file} in the folder.`,
    );
  }
  if (bytes.length < 148) return none('refused', 'The file ends inside its header.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const word = (at: number) => view.getUint32(at, true);
  const text = (at: number) => String.fromCharCode(bytes[at], bytes[at + 1], bytes[at + 2], bytes[at + 3]);
  if (text(0) !== 'DDS ' || word(4) !== 124) return none('refused', 'The file is not a DDS texture.');
  if (text(84) !== 'DX10')
    return none('refused', 'The file has the legacy header; the game reads only the DX10 header.');
  const dxgi = word(128);
  if (dxgi === 98)
    return none('refused', 'The file is BC7 linear, and the game wants BC7 sRGB: it would look washed out.');
  if (dxgi !== 99) return none('refused', `The file is not BC7 sRGB (its DXGI format is ${dxgi}, not 99).`);
  const [height, width] = [word(12), word(16)];
  if (width !== side || height !== side)
    return none('refused', `The file is ${width} x ${height}; this sheet is ${side} x ${side}.`);
  const levels = Math.log2(side) + 1;
  if (word(28) !== levels)
    return none(
      'refused',
      `The file has ${word(28)} mip levels; ${levels} are needed, or the sheet shimmers far away.`,
    );
  let needed = 148;
  for (let s = side, l = 0; l < levels; l++, s = Math.max(1, s >> 1)) needed += Math.ceil(s / 4) ** 2 * 16;
  if (bytes.length !== needed)
    return none('refused', `The file has ${bytes.length} bytes where its header asks for ${needed}.`);
  const pixels = readBc7(bytes.subarray(148, 148 + (side / 4) ** 2 * 16), side, side);
  return { key, file, status: 'shown', why: '', width, height, pixels };
}

/** The sheets that finish.toml claims; null when there is none that the game can read. */
function readFinish(bytes: Uint8Array | undefined, report: BayReport): Set<string> | null {
  if (!bytes) {
    report.ignored.push({
      file: 'finish.toml',
      why: 'Not there: the game asks for every sheet and paints all of them gloss.',
    });
    return null;
  }
  try {
    const toml = parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) as {
      livery?: { key?: unknown };
      zone?: unknown;
    };
    if (toml.livery?.key !== report.livery)
      throw new Error(`livery.key is "${String(toml.livery?.key)}", but the folder is "${report.livery}"`);
    if (!Array.isArray(toml.zone)) throw new Error('it has no [[zone]]');
    for (const zone of toml.zone as Record<string, unknown>[]) {
      const { sheet, roughness, metal } = zone;
      if (typeof sheet !== 'string' || typeof roughness !== 'number' || typeof metal !== 'number')
        throw new Error('a [[zone]] lacks sheet, roughness or metal');
      report.finish[sheet] = { roughness, metal };
    }
    return new Set(Object.keys(report.finish));
  } catch (error) {
    report.finish = {};
    report.ignored.push({ file: 'finish.toml', why: `Ignored: ${(error as Error).message.split('\n')[0]}.` });
    return null;
  }
}

/** Whether two names differ by case only, or by one character more, less or other. */
function near(expected: string, found: string): boolean {
  if (expected === found) return false;
  const [a, b] = [expected.toLowerCase(), found.toLowerCase()];
  if (a === b) return true;
  let start = 0;
  while (start < a.length && a[start] === b[start]) start++;
  let end = 0;
  while (end < Math.min(a.length, b.length) - start && a[a.length - 1 - end] === b[b.length - 1 - end]) end++;
  return Math.max(a.length, b.length) - start - end <= 1;
}

function difference(expected: string, found: string): string {
  const at = [...expected].findIndex((ch, i) => ch !== found[i]);
  const position = at < 0 ? expected.length : at;
  const [want, have] = [expected[position], found[position]];
  if (!want) return `it has "${have}" too many at the end`;
  if (!have) return `"${want}" is missing at the end`;
  return `character ${position + 1} is "${have}" and should be "${want}"`;
}
