/**
 * Brackwater Run's loader: it sees only its own folder. A livery is `wharf/<craft>/<key>/` with `finish.toml`, which claims sheets,
 * and `<key>_<sheet>.dds` for each: BC7 sRGB with DX10 header, the sheet's size, all mip levels.
 */
import { parse } from 'smol-toml';
import { ddsSheet, notShown } from '../../bay/dds.ts';
import { difference, isNearMiss, whyIgnored } from '../../bay/names.ts';
import {
  newReport,
  type BayGame,
  type BayReport,
  type BaySheet,
  type GameFolder,
  type Ignored,
} from '../../bay/report.ts';

/** The game's own craft: which sheets it asks for, and how large they are. */
export const CRAFT: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  turnstone: { hull: 2048, deck: 1024, fan: 512 },
};

/** The liveries that the game lists for a craft, and the folders that it passes over, with the reason. */
export function listLiveries(folder: GameFolder, craft: string): { keys: string[]; ignored: Ignored[] } {
  const keys = new Set<string>();
  const ignored: Ignored[] = [];
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
  const report = newReport(key);
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
    const expected = [...Object.keys(CRAFT[craft] ?? {}).map((sheet) => `${key}_${sheet}.dds`), 'finish.toml'];
    report.ignored.push({ file: name, why: whyIgnored(name, expected) });
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
  if (bytes) return ddsSheet(key, file, bytes, { format: 'BC7', header: 'DX10', width: side, height: side });
  if (!claimed)
    return notShown(key, file, 'own', 'finish.toml does not claim this sheet, so the game shows its own picture.');
  const close = names.find((name) => isNearMiss(file, name));
  const why = close ? `No ${file}: there is ${close}, but ${difference(file, close)}.` : `No ${file} in the folder.`;
  return notShown(key, file, 'missing', why);
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
  const claimed = new Set<string>();
  try {
    const toml = parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) as {
      livery?: { key?: unknown; name?: unknown };
      zone?: unknown;
    };
    if (toml.livery?.key !== report.livery)
      throw new Error(`livery.key is "${String(toml.livery?.key)}", but the folder is "${report.livery}"`);
    if (!Array.isArray(toml.zone)) throw new Error('it has no [[zone]]');
    for (const zone of toml.zone as Record<string, unknown>[]) {
      const { sheet, roughness, metal } = zone;
      if (typeof sheet !== 'string' || typeof roughness !== 'number' || typeof metal !== 'number')
        throw new Error('a [[zone]] lacks sheet, roughness or metal');
      claimed.add(sheet);
      report.facts.push({ label: sheet, value: `roughness ${roughness}, metal ${metal}` });
    }
    return claimed;
  } catch (error) {
    report.facts = [];
    report.ignored.push({ file: 'finish.toml', why: `Ignored: ${(error as Error).message.split('\n')[0]}.` });
    return null;
  }
}

export const loader: BayGame = {
  key: 'brackwater-run',
  name: 'Brackwater Run',
  view: { light: 'Low sun', distance: 1, texels: 'mips' },
  list: (folder) => listLiveries(folder, 'turnstone'),
  load: (folder, key) => loadLivery(folder, 'turnstone', key),
};
