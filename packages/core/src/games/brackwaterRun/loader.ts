/**
 * Brackwater Run's loader: it sees only its own folder. A livery is `wharf/<craft>/<key>/` with `finish.toml`, which claims sheets,
 * and `<key>_<sheet>.dds` for each: BC7 sRGB with DX10 header, the sheet's size, all mip levels. `<key>_<sheet>_coatmap.dds` says by colour
 * which of the game's zones a texel belongs to: plain 32 bits, legacy header, all levels, exact colours; finish.toml has the values of each
 * zone that is used. Older packages give each sheet one finish.
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

/** The game's zones: their colours in coat maps, and the kinds of finish that it takes there. */
const PAINTS = ['gloss', 'satin', 'matt', 'metallic', 'pearl', 'own'];
export const ZONES: Readonly<Record<string, { colour: string; kinds: readonly string[] }>> = {
  shell: { colour: '#d02020', kinds: PAINTS },
  band: { colour: '#20a020', kinds: PAINTS },
  trim: { colour: '#2040d0', kinds: [...PAINTS, 'chrome', 'brushed'] },
  bright: { colour: '#e0e0e0', kinds: ['chrome', 'brushed', 'metallic'] },
  grip: { colour: '#202020', kinds: ['rubber', 'fabric', 'matt'] },
  weave: { colour: '#a06010', kinds: ['carbon', 'fabric'] },
  panes: { colour: '#20c0c0', kinds: ['glass', 'gloss'] },
  safety: { colour: '#f0e020', kinds: ['reflective'] },
};

/** What finish.toml says: the sheets that it claims, and the zones that it gives values. */
interface Finish {
  sheets: Set<string>;
  zones: Set<string>;
}

/** Loads one livery as the game would. Never throws: what cannot be loaded is said in the report. */
export function loadLivery(folder: GameFolder, craft: string, key: string): BayReport {
  const root = `wharf/${craft}/${key}/`;
  const names = [...folder.keys()].filter((path) => path.startsWith(root)).map((path) => path.slice(root.length));
  const report = newReport(key);
  const used = new Set<string>();
  const finish = readFinish(folder.get(`${root}finish.toml`), report);
  if (finish) {
    used.add('finish.toml');
    report.loaded.push('finish.toml');
  }
  const expected = ['finish.toml'];
  for (const [sheet, side] of Object.entries(CRAFT[craft] ?? {})) {
    const file = `${key}_${sheet}.dds`;
    const bytes = folder.get(root + file);
    if (bytes) used.add(file);
    report.sheets.push(loadSheet(sheet, side, file, bytes, names, finish?.sheets.has(sheet) ?? true));
    if (report.sheets.at(-1)!.status === 'shown') report.loaded.push(file);
    const coat = `${key}_${sheet}_coatmap.dds`;
    const map = folder.get(root + coat);
    expected.push(file, coat);
    if (!map) continue;
    used.add(coat);
    report.sheets.push(loadCoat(sheet, side, coat, map, finish));
    if (report.sheets.at(-1)!.status === 'shown') report.loaded.push(coat);
  }
  for (const name of names) if (!used.has(name)) report.ignored.push({ file: name, why: whyIgnored(name, expected) });
  return report;
}

/** A coat map, of half the sheet's size: every texel of every level is the colour of a zone that finish.toml has. */
function loadCoat(sheet: string, side: number, file: string, bytes: Uint8Array, finish: Finish | null): BaySheet {
  const shown = ddsSheet(`${sheet}/zones`, file, bytes, {
    format: 'BGRA8',
    header: 'legacy',
    width: side / 2,
    height: side / 2,
  });
  if (shown.status !== 'shown') return shown;
  const refused = (why: string) => notShown(`${sheet}/zones`, file, 'refused', why);
  if (!finish) return refused('There is no finish.toml that could be read, so its zones have no values.');
  const zoneOf = new Map(Object.entries(ZONES).map(([key, { colour }]) => [parseInt(colour.slice(1), 16), key]));
  for (const [level, { width, pixels }] of [shown, ...shown.levels].entries()) {
    let known = -1;
    for (let i = 0; i < pixels.length; i += 4) {
      const colour = (pixels[i] << 16) | (pixels[i + 1] << 8) | pixels[i + 2];
      if (colour === known) continue;
      const [x, y] = [(i / 4) % width, Math.floor(i / 4 / width)];
      const zone = zoneOf.get(colour);
      const hex = `#${colour.toString(16).padStart(6, '0')}`;
      if (!zone) return refused(`At ${x}, ${y} of mip level ${level} it is ${hex}, which is none of the game’s zones.`);
      if (!finish.zones.has(zone))
        return refused(`At ${x}, ${y} it is ${hex}, the zone ${zone}, which finish.toml does not have.`);
      known = colour;
    }
  }
  return shown;
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

/** What finish.toml says; null when there is none that the game can read. */
function readFinish(bytes: Uint8Array | undefined, report: BayReport): Finish | null {
  if (!bytes) {
    report.ignored.push({
      file: 'finish.toml',
      why: 'Not there: the game asks for every sheet and paints all of them gloss.',
    });
    return null;
  }
  const read: Finish = { sheets: new Set(), zones: new Set() };
  try {
    const toml = parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) as {
      livery?: { key?: unknown; name?: unknown };
      sheet?: unknown;
      zone?: unknown;
    };
    if (toml.livery?.key !== report.livery)
      throw new Error(`livery.key is "${String(toml.livery?.key)}", but the folder is "${report.livery}"`);
    if (!Array.isArray(toml.zone)) throw new Error('it has no [[zone]]');
    if (toml.sheet === undefined) {
      for (const zone of toml.zone as Record<string, unknown>[]) {
        const { sheet, roughness, metal } = zone;
        if (typeof sheet !== 'string' || typeof roughness !== 'number' || typeof metal !== 'number')
          throw new Error('a [[zone]] lacks sheet, roughness or metal');
        read.sheets.add(sheet);
        report.facts.push({ label: sheet, value: `roughness ${roughness}, metal ${metal}` });
      }
      return read;
    }
    if (!Array.isArray(toml.sheet)) throw new Error('sheet is no list of [[sheet]]');
    for (const { key } of toml.sheet as Record<string, unknown>[]) {
      if (typeof key !== 'string') throw new Error('a [[sheet]] has no key');
      read.sheets.add(key);
    }
    for (const zone of toml.zone as Record<string, unknown>[]) readZone(zone, read, report);
    return read;
  } catch (error) {
    report.facts = [];
    report.ignored.push({ file: 'finish.toml', why: `Ignored: ${(error as Error).message.split('\n')[0]}.` });
    return null;
  }
}

/** One zone's values. @throws Error that says what is wrong with it */
function readZone(zone: Record<string, unknown>, read: Finish, report: BayReport): void {
  const { key, colour, kind } = zone;
  const known = typeof key === 'string' && Object.hasOwn(ZONES, key) ? ZONES[key] : null;
  if (!known) throw new Error(`the game has no zone "${String(key)}"`);
  if (read.zones.has(key as string)) throw new Error(`the zone ${key as string} is there twice`);
  if (colour !== known.colour)
    throw new Error(`the zone ${key as string} is ${known.colour} in the game, not ${String(colour)}`);
  if (typeof kind !== 'string' || !known.kinds.includes(kind))
    throw new Error(`the zone ${key as string} cannot be ${String(kind)}`);
  for (const value of ['roughness', 'metal', 'coat', 'coat_roughness', 'flake'])
    if (typeof zone[value] !== 'number' || zone[value] < 0 || zone[value] > 1)
      throw new Error(`${value} of the zone ${key as string} is not between 0 and 1`);
  if (typeof zone.flake_size !== 'number' || zone.flake_size < 0 || zone.flake_size > 10)
    throw new Error(`flake_size of the zone ${key as string} is not between 0 and 10 mm`);
  if (typeof zone.flake_tint !== 'string' || !/^#[0-9a-f]{6}$/.test(zone.flake_tint))
    throw new Error(`flake_tint of the zone ${key as string} is no colour`);
  read.zones.add(key as string);
  report.facts.push({
    label: key as string,
    value: `${kind}, roughness ${zone.roughness as number}, metal ${zone.metal as number}`,
    hex: colour,
  });
}

export const loader: BayGame = {
  key: 'brackwater-run',
  name: 'Brackwater Run',
  view: { light: 'Low sun', distance: 1, texels: 'mips' },
  list: (folder) => listLiveries(folder, 'turnstone'),
  load: (folder, key) => loadLivery(folder, 'turnstone', key),
};
